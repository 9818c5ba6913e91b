"""A real content platform, moved to other permalinks with eight faults: each is one cause, by its name."""

import http.client
import io
import json
import random
import struct
import zlib

from palinode.core import platforms
from palinode.core import rule as rules
from palinode.core.checks.content.check import CHECK as CONTENT
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.platform import CHECK as PLATFORM
from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import Script
from palinode.core.leftovers import wanted
from palinode.core.leftovers.replacement import Replacement
from palinode.core.platforms import permalinks
from palinode.core.platforms.inventory import Inventory
from palinode.core.platforms.platform import Field
from palinode.records.models import Comparison
from palinode.work import move_setup
from palinode.work.comparing import site_files
from palinode.work.importing import import_job
from tests.real.platform import PlatformPair
from tests.rows import pages, rows
from tests.site_files import export_of, gathered
from tests.words import WORDS
from tests.work.base import MoveTestCase

POSTS = 160
GONE = 8
PICTURES_OF_2017 = 8
FAULTS = 8


def picture(shade: int) -> bytes:
    """Return a PNG of eight by eight pixels of one shade."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    rows = (b"\0" + bytes([shade, shade // 2, 90]) * 8) * 8
    head = struct.pack(">IIBBBBB", 8, 8, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(rows)) + chunk(b"IEND", b"")


def content(number: int) -> str:
    """Return what a post says: three paragraphs, a picture in every fourth, a link to the one before in every third."""
    draw = random.Random(number)
    told = "".join(f"<p>{' '.join(draw.choices(WORDS, k=45)).capitalize()}.</p>" for _ in range(3))
    year, month = 2015 + number % 5, number % 12 + 1
    if number % 4 == 0:
        told += f'<p><img src="http://old.example/wp-content/uploads/{year}/{month:02}/p{number}.png" alt="Picture {number}"></p>'
    if number % 3 == 0 and number > 12:
        before = number - 12
        told += f'<p>See <a href="http://old.example/{2015 + before % 5}/{before % 12 + 1:02}/{name(before)}/">what was before</a>.</p>'
    return told


def name(number: int) -> str:
    """Return the name of a post."""
    draw = random.Random(number * 7)
    return "-".join([*draw.sample(WORDS, 2), str(number)])


class PlatformTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.pair = self.stack.enter_context(PlatformPair())
        self.allow(self.pair.old.allowed, self.pair.new.allowed)

    def seed(self) -> None:
        old = self.pair.old
        old.install("Quillhaven Tide Mill")
        posts = [
            {"type": "post", "title": " ".join(name(n).split("-")[:2]).title() + f" in {n}", "name": name(n), "content": content(n),
             "date": f"{2015 + n % 5}-{n % 12 + 1:02}-{n % 27 + 1:02} 10:00:00", "category": ("Journal", "Recipes", "People")[n % 3]}
            for n in range(POSTS)
        ]  # fmt: skip
        posts += [
            {"type": "page", "title": title, "name": title.lower(), "content": content(1000 + at), "date": "2015-01-01 09:00:00", "category": ""}
            for at, title in enumerate(("Visit", "Contact", "History", "Tides"))
        ]  # fmt: skip
        file = self.pair.folder / "seed.json"
        file.write_text(json.dumps({"posts": posts}))
        seed = (self.pair.folder / "seed.php", __file__.replace("test_platform.py", "seed.php"))
        with open(seed[1]) as script:
            said = old.php(f"define('SEED', '{file}');\n{script.read()}")
        self.assertEqual(said.split()[-1], str(POSTS))
        for n in range(0, POSTS, 4):
            folder = old.root / "wp-content" / "uploads" / str(2015 + n % 5) / f"{n % 12 + 1:02}"
            folder.mkdir(parents=True, exist_ok=True)
            (folder / f"p{n}.png").write_bytes(picture(n))

    def compared(self, *lines: str) -> Comparison:
        old, new = self.pair.old, self.pair.new
        move = move_setup.describe(
            "Mill",
            move_setup.typed_side("http://old.example/", f"127.0.0.1:{old.port}"),
            move_setup.typed_side("http://new.example/", f"127.0.0.1:{new.port}"),
            list(lines),
            self.user,
        )
        baseline = self.baseline(move)
        self.assertTrue(baseline.complete, baseline.judgement)
        return self.compare(move, self.capture(move, "destination"))

    def test_a_dump_counts_what_its_database_counts(self):
        self.seed()
        server, old = self.pair.database, self.pair.old
        old.sql("INSERT INTO wp_posts (post_title, post_content, post_excerpt, to_ping, pinged, post_content_filtered, post_type, "
                "post_status, post_name) VALUES ('it''s \\\\ \"odd\"', '', '', '', '', '', 'recipe', 'draft', NULL), "
                "('a', ';\n', '', '', '', '', 'revision', 'inherit', '12-revision-v1')".replace("NULL", "''"))  # fmt: skip
        inventory = Inventory(platforms.ALL)
        script = Script(io.BytesIO(server.dump(old.database)).read, Quoting.BACKSLASH)
        told = gathered(script.parts(), inventory.take)
        (found,) = inventory.installations(list(told.tables.values()))
        self.assertEqual((found.platform.name, found.prefix), ("WordPress", "wp_"))
        for table in told.tables.values():
            self.assertEqual([[str(table.rows)]], server.asked(f"SELECT count(*) FROM {table.name}", old.database))
        for items in found.items:
            columns = [one for one in items.table.columns if one is not Field.TEXT]
            names = ", ".join(items.table.columns[one] for one in columns)
            wanted = server.asked(f"SELECT {names} FROM wp_{items.table.name}", old.database)
            self.assertEqual(
                sorted(zip(*(items.column(one) for one in columns), strict=True)),
                sorted(tuple(value.replace("\\\\", "\\") for value in row) for row in wanted),
            )
        export = export_of(old.php("require_once ABSPATH . 'wp-admin/includes/export.php'; export_wp();").encode())
        self.assertEqual(export.ends_early, "")
        # An export holds no revisions, nothing of what was never saved, and no type that no extension declares.
        left_out = {"revision", "auto-draft", "wp_global_styles", "oembed_cache", "recipe"}
        names = (Field.IDENTITY, Field.TYPE, Field.STATUS, Field.TITLE, Field.SLUG, Field.PARENT)
        both = [
            {row for row in zip(*(items.column(one) for one in names), strict=True) if not left_out & {row[1], row[2]}}
            for items in (found.items[0], export.installation.items[0])
        ]
        self.assertEqual(*both)
        counts = {(one.noun, one.status): (one.number, one.folded) for one in found.counts()}
        self.assertEqual(counts["post", "published"], (POSTS, False))
        self.assertEqual(counts["recipe", "draft"], (1, False))
        self.assertEqual(counts["revision", ""][1], True)
        self.assertEqual(counts["category", ""], (4, False))
        self.assertEqual(counts["account", "administrator"], (1, False))
        self.permalinks_are_those_of_the_platform(found)

    def permalinks_are_those_of_the_platform(self, found):
        """Hold the addresses that follow from the database against those that the platform itself gives."""
        old = self.pair.old
        printed = old.php(
            "$all = [];"
            "foreach (get_posts(['post_type' => ['post', 'page'], 'post_status' => 'publish', 'numberposts' => -1]) as $one)"
            " $all[] = get_permalink($one);"
            "foreach (get_terms(['taxonomy' => ['category', 'post_tag'], 'hide_empty' => false]) as $one) $all[] = get_term_link($one);"
            "foreach (get_users(['has_published_posts' => true]) as $one) $all[] = get_author_posts_url($one->ID);"
            "echo json_encode($all);"
        )
        wanted = {one.removeprefix("http://old.example/") for one in json.loads(printed)}
        made = permalinks.of(found)
        self.assertEqual({one for some in made.of_items.values() for one in some if one is not None}, wanted)

    def test_what_stands_behind_both_sides(self):
        self.seed()
        old, new = self.pair.old, self.pair.new
        old.permalinks("/journal/%category%/%postname%/")
        self.pair.move()
        new.sql("DELETE FROM wp_posts WHERE post_type = 'post' ORDER BY ID LIMIT 3")
        new.php("wp_delete_term(get_term_by('name', 'Recipes', 'category')->term_id, 'category');")
        new.sql("UPDATE wp_options SET option_value = '0' WHERE option_name = 'blog_public'")
        move = self.described()
        server = self.pair.database
        export = "require_once ABSPATH . 'wp-admin/includes/export.php'; export_wp();"
        for which, one in (("source", old), ("destination", new)):
            for name, data in (("site.sql", server.dump(one.database)), ("site.xml", one.php(export).encode())):
                import_job.read(import_job.order(move, which, io.BytesIO(data), name, self.user))
            asked = import_job.order_api(move, which, self.user)
            import_job.read(asked)
            asked.refresh_from_db()
            self.assertEqual(asked.state, "done", asked.said)
        # Published posts are the same ones, by dump, export and API.
        items = {capture.kind: site_files.items([capture])[0] for capture in move.captures.filter(which="source")}
        posts = {
            kind: {
                row[:3]
                for row in zip(*(one.installations[0].items[0].column(what) for what in
                                 (Field.IDENTITY, Field.SLUG, Field.TITLE, Field.TYPE, Field.STATUS)), strict=True)
                if row[3] in ("post", "page") and row[4] == "publish"
            }
            for kind, one in items.items()
        }  # fmt: skip
        self.assertEqual(set(posts), {"dump", "export", "api"})
        self.assertEqual(posts["dump"], posts["export"])
        self.assertEqual(posts["dump"], posts["api"])
        self.permalinks_are_those_of_the_platform(items["dump"].installations[0])
        links = items["api"].installations[0].items[0].column(Field.LINK)
        self.assertLessEqual(
            {one.removeprefix("http://old.example/") for one in links},
            set(permalinks.of(items["dump"].installations[0]).all()),
        )
        sides = [
            Side((f"http://{one.name}/",), items=(site_files.items([dump])), database=site_files.database([dump]))
            for one, dump in zip((old, new), (move.captures.get(which=which, kind="dump") for which in ("source", "destination")), strict=True)
        ]  # fmt: skip
        rule = rules.read(move.rule)
        made = CONTENT.judge(Looked(*sides, rule, "Palinode"))
        found = dict(
            zip(
                made.rows.left_note,
                zip(made.rows.left, made.rows.right, made.rows.right_note, strict=True),
                strict=True,
            )
        )
        self.assertEqual(found["Posts, published"][:2], (str(POSTS), str(POSTS - 3)))
        self.assertIn("1 missing: “Recipes”", found["Categories"][2])
        words = [CONTENT.verdicts[int(one)].word for one in made.rows.verdict]
        odd = {name for name, word in zip(made.rows.left_note, words, strict=True) if word in ("missing", "different")}
        self.assertEqual({name for name in odd if "contradict" not in name}, {"Posts, published", "Categories"})
        settings = PLATFORM.judge(Looked(*sides, rule, "Palinode")).findings
        self.assertEqual({settings.kind_of(at).word for at in range(len(settings))}, {"search_shut"})

    def test_a_replaced_dump_loads_and_the_site_works_under_its_new_name(self):
        self.seed()
        old, new, server = self.pair.old, self.pair.new, self.pair.database
        old.php(
            "update_option('tide_clock', ['url' => 'http://old.example/shop/é', 'http://old.example/key' => 1,"
            " 'in' => serialize(['http://old.example/shop/x', (object) ['u' => '//old.example/a']])]);"
            "update_option('tide_json', json_encode(['u' => 'http://old.example/shop/y']));"
        )
        rule = rules.read(
            "http://old.example/shop -> http://new.example/store\nhttp://old.example/ -> http://new.example/"
        )
        looked_for = wanted.of_move(["http://old.example/"], ["http://new.example/"], rule)
        whole = server.dump(old.database)
        file, written, statements = io.BytesIO(whole), [], []
        replacement = Replacement(looked_for, rule, tell=statements.append)
        for _ in replacement.steps(file.read, Quoting.BACKSLASH, written.append):
            pass
        self.assertEqual(sum(one.damaged + one.unwritten for one in replacement.changes), 0)
        # Its files, and a database that the one written anew takes the place of.
        self.pair.move()
        server.load(b"".join(written), new.database)
        # The statements for a live database make the same of it.
        server.sql("CREATE DATABASE live CHARACTER SET utf8mb4")
        server.load(whole, "live")
        server.load(b"".join(statements), "live")
        same = [server.dump("--skip-comments", one) for one in ("live", new.database)]
        self.assertEqual(same[0], same[1])
        told = json.loads(
            new.php(
                "$one = get_option('tide_clock'); $one['in'] = unserialize($one['in']);"
                "echo json_encode([get_option('home'), get_option('siteurl'), $one, json_decode(get_option('tide_json'))]);"
            )
        )
        self.assertEqual(told[:2], ["http://new.example", "http://new.example"])
        self.assertEqual(
            told[2], {"url": "http://new.example/store/é", "http://old.example/key": 1,
                      "in": ["http://new.example/store/x", {"u": "//new.example/a"}]}
        )  # fmt: skip
        self.assertEqual(told[3], {"u": "http://new.example/store/y"})
        broken = new.php(
            "global $wpdb; $count = 0; foreach (['options' => 'option_value', 'postmeta' => 'meta_value', 'usermeta' => 'meta_value']"
            ' as $table => $column) foreach ($wpdb->get_col("SELECT $column FROM {$wpdb->prefix}$table") as $value)'
            " if (is_serialized($value) && @unserialize($value) === false && $value !== 'b:0;') $count++; echo $count;"
        )
        self.assertEqual(broken, "0")
        # What names the old host still: identifiers, and the key of an array.
        left = server.asked("SELECT count(*) FROM wp_posts WHERE post_content LIKE '%old.example%'", new.database)
        self.assertEqual(left, [["0"]])
        self.assertTrue(
            all("old.example" in one for (one,) in server.asked("SELECT guid FROM wp_posts LIMIT 5", new.database))
        )
        home = self.asked_of(new, "/")
        self.assertNotIn(b"old.example", home.read())
        entered = self.asked_of(
            new,
            "/wp-login.php",
            b"log=miller&pwd=tide-and-stone&wp-submit=Log+In&testcookie=1",
            "wordpress_test_cookie=WP%20Cookie%20check",
        )
        self.assertEqual((entered.status, entered.headers["Location"]), (302, "http://new.example/wp-admin/"))

    def asked_of(self, one, path: str, data: bytes | None = None, cookie: str = "") -> http.client.HTTPResponse:
        """Ask an installation, as a browser does that has its name."""
        connection = http.client.HTTPConnection("127.0.0.1", one.port, timeout=60)
        self.addCleanup(connection.close)
        fields = {"Host": one.name, "Cookie": cookie}
        if data is not None:
            fields["Content-Type"] = "application/x-www-form-urlencoded"
        connection.request("POST" if data is not None else "GET", path, data, fields)
        return connection.getresponse()

    def test_an_application_password_shows_what_visitors_do_not_see(self):
        self.seed()
        old = self.pair.old
        old.php(
            "wp_insert_post(['post_title' => 'Not yet', 'post_content' => 'x', 'post_status' => 'draft']);"
            "wp_insert_post(['post_title' => 'Later', 'post_content' => 'x', 'post_status' => 'private']);"
        )
        password = old.php(
            "[$said] = WP_Application_Passwords::create_new_application_password(1, ['name' => 'Palinode']); echo $said;"
        )
        move, server = self.described(), self.pair.database
        import_job.read(import_job.order(move, "source", io.BytesIO(server.dump(old.database)), "site.sql", self.user))
        counted = {"dump": self.counted(move.captures.get(kind="dump"))}
        for name, account in (("visitor", ()), ("keeper", ("miller", password))):
            asked = import_job.order_api(move, "source", self.user, *account)
            import_job.read(asked)
            asked.refresh_from_db()
            self.assertEqual(asked.state, "done", asked.said)
            counted[name] = self.counted(asked.capture)
        for what in (("post", "draft"), ("post", "private"), ("account", "administrator")):
            self.assertNotIn(what, counted["visitor"])
        for what in (("post", "published"), ("post", "draft"), ("post", "private"), ("page", "published")):
            self.assertEqual(counted["keeper"].get(what), counted["dump"].get(what), what)

    def counted(self, capture) -> dict[tuple[str, str], int]:
        (held,) = site_files.items([capture])
        return {(one.noun, one.status): one.number for one in held.installations[0].counts()}

    def described(self):
        """Describe the move of both installations."""
        old, new = self.pair.old, self.pair.new
        return move_setup.describe(
            "Mill",
            move_setup.typed_side("http://old.example/", f"127.0.0.1:{old.port}"),
            move_setup.typed_side("http://new.example/", f"127.0.0.1:{new.port}"),
            [],
            self.user,
        )

    def test_patterns_under_other_settings(self):
        self.seed()
        self.pair.move()
        move = self.described()
        self.baseline(move)
        for setting, pattern, said in (
            (
                "/%postname%/",
                "/{name}/",
                r"the line “/<number>/<number>/ -> /” would carry 1[5-9]\d over, and none wrongly",
            ),
            ("/archives/%post_id%", "/archives/{number}", "no one line would carry them over"),
        ):
            with self.subTest(setting):
                self.pair.new.permalinks(setting)
                made = self.compare(move, self.capture(move, "destination"))
                row = next(one for one in rows(made, "permalinks") if one["left"] == "/{year}/{month}/{name}/")
                self.assertEqual((row["right"], row["verdict"]), (pattern, "unplanned"))
                self.assertRegex(row["right_note"], said)

    def test_a_careful_move_shows_nothing_that_blocks(self):
        self.seed()
        self.pair.move()
        made = self.compared()
        told = [(one["kind"], one["title"]) for one in made.standing["causes"]]
        self.assertEqual(
            made.standing["sentence"], "Every page is where it is expected. Nothing seen blocks the switch."
        )
        self.assertEqual(told, [])
        patterns = {one["left"]: (one["right"], one["verdict"]) for one in rows(made, "permalinks")}
        self.assertEqual(patterns["/{year}/{month}/{name}/"], ("/{year}/{month}/{name}/", "same"))
        self.assertEqual({verdict for _, verdict in patterns.values()}, {"same"})

    def test_a_bad_move_has_as_many_causes_as_faults(self):
        self.seed()
        self.pair.move()
        new = self.pair.new
        # The date goes out of the address of every post, and some posts do not arrive.
        new.permalinks("/%postname%/")
        new.sql("DELETE FROM wp_posts WHERE post_type = 'post' AND post_status = 'publish' AND ID % 21 = 5 LIMIT 8")
        # Search engines are asked to stay away.
        new.php("update_option('blog_public', '0');")
        # Pictures of one year are not copied.
        for file in (new.root / "wp-content" / "uploads" / "2017").rglob("*.png"):
            file.unlink()
        # Some posts still name the old host.
        new.sql("UPDATE wp_posts SET post_content = REPLACE(post_content, 'http://new.example/20', 'http://old.example/20') "
                "WHERE ID % 2 = 0 AND post_content LIKE '%what was before%'")  # fmt: skip
        # An extension that drew galleries is missing.
        new.sql(
            "UPDATE wp_posts SET post_content = CONCAT('[mill_gallery id=\"7\"]', post_content) WHERE ID % 17 = 3 AND post_type = 'post'"
        )
        # Six old addresses are redirected to the wrong page.
        wrong = [f"Redirect 301 /{2015 + n % 5}/{n % 12 + 1:02}/{name(n)}/ /contact/" for n in (30, 31, 32, 33, 34, 36)]
        new.htaccess(*wrong)
        # A page was cut.
        new.sql("UPDATE wp_posts SET post_content = LEFT(post_content, 300) WHERE post_name IN ('history', 'tides')")
        made = self.compared()
        causes = made.standing["causes"]
        told = {one["kind"]: one["title"] for one in causes}
        self.assertEqual(
            made.standing["sentence"],
            "Not ready to switch. Search engines are shut out of the whole site; the date went out of the address of "
            f"every page: {POSTS - GONE} of {POSTS} pages arrived; {GONE} pages are gone; 6 redirects lead to wrong pages.",
        )
        self.assertEqual(told["files_missing"], f"{PICTURES_OF_2017} files of /wp-content/uploads/2017/ are missing")
        self.assertRegex(told["leads_back"], "^[0-9]+ pages lead back to the old host$")
        self.assertRegex(told["markers_shown"], "^Markers of an extension stand as text on [0-9]+ pages$")
        self.assertEqual(told["pages_cut"], "The text of 2 pages ends too early")
        # That robots.txt names no sitemap any more is what the platform does where search engines are shut out.
        self.assertLessEqual(len(causes), 1.5 * FAULTS, told)
        # The last page of a list that is shorter now is gone with them.
        lost = [row.left_address for row in pages(made) if row.fate == "lost" and "/page/" not in row.left_address]
        self.assertEqual(len(lost), GONE)
        moved = [row for row in pages(made) if row.fate == "moved"]
        self.assertEqual({row.right_address.rstrip("/").rpartition("/")[2] for row in moved},
                         {row.left_address.rstrip("/").rpartition("/")[2] for row in moved})  # fmt: skip

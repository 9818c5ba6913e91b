"""The check of the platform, and the values of PHP that its settings are read from."""

import unittest

from demo.wordpress_dump import WordPressDump
from palinode.core import php_values
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.checks.platform import CHECK
from palinode.core.php_values import PhpValueError
from palinode.core.rule import read
from tests.core.build import NEW, OLD
from tests.core.site_items import database, items

SITE = WordPressDump(
    options={
        "active_plugins": 'a:2:{i:0;s:13:"shop/shop.php";i:1;s:9:"hello.php";}',
        "wp_user_roles": 'a:2:{s:6:"editor";a:1:{s:4:"name";s:6:"Editor";}s:6:"keeper";a:0:{}}',
        "cron": 'a:2:{i:1700000000;a:1:{s:10:"send_tides";a:0:{}}s:7:"version";i:2;}',
    }
)
NEW_ONE = {"home": NEW, "siteurl": NEW}


def judged(left: WordPressDump | None, right: WordPressDump | None, lines: str = f"{OLD}/ -> {NEW}/") -> Outcome:
    sides = [
        Side((f"{host}/",), items=items(dump) if dump else None, database=database(dump) if dump else None)
        for host, dump in ((OLD, left), (NEW, right))
    ]
    return CHECK.judge(Looked(*sides, read(lines), "Palinode"))


def but(**options: str) -> WordPressDump:
    return SITE.but(options=SITE.options | NEW_ONE | options)


def rows(made: Outcome) -> dict[str, tuple[str, str, str, str]]:
    told = made.rows
    words = [CHECK.verdicts[number].word for number in told.verdict.tolist()]
    return dict(zip(told.left_note, zip(words, told.left, told.right, told.right_note, strict=True), strict=True))


def kinds(made: Outcome) -> dict[str, str]:
    found = made.findings
    return {found.kind_of(place).word: found.detail[place] for place in range(len(found))}


class PlatformTest(unittest.TestCase):
    def test_a_careful_move(self):
        made = judged(SITE, but())
        told = rows(made)
        self.assertEqual((kinds(made), made.unseen), ({}, ()))
        self.assertEqual(told["address of the site"], ("moved", OLD, NEW, ""))
        self.assertEqual(told["database server"][:3], ("same", "10.11.19", "10.11.19"))
        self.assertEqual(told["theme"], ("same", "mill, on twentytwentyone", "mill, on twentytwentyone", ""))
        self.assertEqual(told["extension hello"][:3], ("same", "on", "on"))
        self.assertEqual(told["scheduled task send_tides"][0], "same")

    def test_what_was_forgotten(self):
        made = judged(
            SITE,
            but(
                home=OLD,
                blog_public="0",
                permalink_structure="",
                stylesheet="twentytwentyone",
                active_plugins='a:1:{i:0;s:9:"hello.php";}',
                wp_user_roles='a:1:{s:6:"editor";a:0:{}}',
                cron="a:0:{}",
                blogname="Staging",
            ),
        )
        told = rows(made)
        self.assertEqual(told["address of the site"], ("old_host", OLD, OLD, f"{NEW} is expected"))
        self.assertEqual(told["extension shop"][:3], ("lost", "on", "off"))
        self.assertEqual(told["search engines"][:3], ("altered", "let in", "asked to stay away"))
        self.assertEqual(told["permalinks"][:3], ("altered", "/%year%/%monthnum%/%postname%/", "plain"))
        self.assertEqual(told["role keeper"][:3], ("lost", "known", "not known"))
        self.assertEqual(
            set(kinds(made)),
            {
                "address_old",
                "search_shut",
                "permalinks_other",
                "theme_other",
                "extension_off",
                "role_lost",
                "setting_other",
            },
        )
        self.assertEqual(kinds(made)["extension_off"], "extension shop is off")

    def test_versions_where_they_are_told(self):
        def checked(version: str) -> dict[str, str]:
            told = f'a:1:{{s:13:"shop/shop.php";s:{len(version)}:"{version}";}}'
            return {
                "_site_transient_update_plugins": f'O:8:"stdClass":2:{{s:12:"last_checked";i:1;s:7:"checked";{told}}}',
                "_site_transient_update_themes": 'O:8:"stdClass":1:{s:7:"checked";a:1:{s:4:"mill";s:3:"1.2";}}',
            }

        left = SITE.but(options=SITE.options | checked("8.1.0"))
        made = judged(left, but(**checked("9.0")))
        told = rows(made)
        self.assertEqual(told["version of extension shop"][:3], ("altered", "8.1.0", "9.0"))
        self.assertEqual(told["extension shop"][:3], ("same", "on", "on"))
        self.assertEqual(told["version of theme mill"][:3], ("same", "1.2", "1.2"))
        self.assertNotIn("version of extension hello", told)
        self.assertEqual(kinds(made), {"setting_other": "version of extension shop: 8.1.0 became 9.0"})
        # What one side does not tell is not compared.
        self.assertEqual(kinds(judged(left, but())), {})

    def test_a_copy_under_a_temporary_address(self):
        temporary = "http://stage.example/~mill"
        lines = f"{OLD}/ -> {NEW}/\n{NEW}/ at {temporary}/"
        told = rows(judged(SITE, but(home=temporary), lines))
        self.assertEqual(told["address of the site"][3], "its temporary address, to be changed with the switch")
        self.assertEqual(told["address of WordPress itself"][0], "moved")

    def test_what_is_new_and_what_one_side_alone_says(self):
        made = judged(
            SITE, but(active_plugins='a:3:{i:0;s:13:"shop/shop.php";i:1;s:9:"hello.php";i:2;s:9:"cache.php";}')
        )
        self.assertEqual((rows(made)["extension cache"][0], kinds(made)), ("new", {}))
        self.assertEqual(rows(judged(but(blog_public="0"), but()))["search engines"][0], "new")
        self.assertIn(
            "settings of the platform, which a dump or an export of the source shows", judged(SITE, None).unseen[0]
        )
        self.assertEqual((len(judged(None, None).rows), judged(None, None).unseen), (0, ()))


class PhpValueTest(unittest.TestCase):
    def test_values(self):
        for written, value in (
            ("N;", None), ("i:-3;", -3), ("b:1;", True), ("d:0.5;", 0.5), ('s:3:"ä\\";', "ä\\"), ('s:2:"";";', '";'),
            ('a:2:{i:0;s:1:"a";s:1:"k";a:0:{}}', {0: "a", "k": {}}), ('O:8:"stdClass":1:{s:1:"a";i:1;}', {"a": 1}),
        ):  # fmt: skip
            self.assertEqual(php_values.read(written), value)

    def test_damaged_ones(self):
        for written in ('s:4:"abc";', "i:1", "a:1:{i:0;}", 'a:1:{i:0;N;N;}', "x", "i:1;i:2;", "a:9999999999:{}", 's:-1:"";',
                        "a:1:{a:0:{}i:1;}", "a:1:{i:0;" * 99, 's:99999999999999:"', "i:x;"):  # fmt: skip
            with self.assertRaises(PhpValueError, msg=written):
                php_values.read(written)

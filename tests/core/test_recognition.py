"""Recognition: each kind in several shapes, and near misses that are ordinary pages."""

import unittest

from palinode.core import facts
from palinode.core.recognition.page_kind import PageKind
from tests.core.build import counts, html, ledger

AT = "http://mill.example/journal/flour"
MENU = "<nav>" + "".join(f"<a href='/{name}'>{name}</a> " for name in ("visit", "journal", "recipes", "people", "shop", "events")) + "</nav>"  # fmt: skip
ARTICLE = "<p>" + "The miller lifts the sluice at the turn of the tide, and the wheel begins to turn. " * 12 + "</p>"


def seen(body: str, at: str = AT) -> PageKind:
    return facts.read(at, {"content-type": "text/html"}, body.encode()).recognised.kind


def notice(title: str, text: str, more: str = "") -> str:
    return f"<!doctype html><html><head><title>{title}</title></head><body><h1>{title}</h1><p>{text}</p>{more}</body></html>"


def article(title: str, text: str = "", more: str = "") -> str:
    return f"<!doctype html><html><head><title>{title}</title></head><body>{MENU}<main><h1>{title}</h1><p>{text}</p>{ARTICLE}{more}</main></body></html>"


PASSWORD = "<form method=post><input name=user><input type=password name=secret><button>Go</button></form>"

KINDS: dict[PageKind, list[str]] = {
    PageKind.NEW_SERVER: [
        notice("Welcome to nginx!", "If you see this page, the nginx web server is successfully installed and working. Further configuration is required.", "<a href='http://nginx.example/'>docs</a>"),
        notice("Apache2 Debian Default Page: It works", "This is the default welcome page. The DocumentRoot is /var/www/html."),
        "<html><body><h1>It works!</h1></body></html>",
        notice("Default Web Site Page", "If you are the owner of this website, contact your hosting provider: the site is not configured on this web server."),
        notice("Standardseite", "Diese Domain ist auf diesem Webserver nicht eingerichtet."),
    ],
    PageKind.PARKED: [
        notice("mill.example", "This domain is for sale! mill.example", "<a href='http://sell.example/x'>Make an offer</a>"),
        notice("mill.example", "Diese Domain ist geparkt.", "<a href='http://ads.example/1'>Mehl</a><a href='http://ads.example/2'>Korn</a>"),
        notice("Oops", "mill.example est à vendre: ce nom de domaine est à vendre"),
        notice("Related", "The domain has expired. Related searches: flour, tide, mill", "<a href='http://ads.example/1'>flour</a>"),
    ],
    PageKind.CONSTRUCTION: [
        notice("Under construction", "Please come back later."),
        notice("Quillhaven", "Coming soon"),
        notice("Hier entsteht eine neue Webseite", "Bitte schauen Sie bald wieder vorbei."),
        notice("Próximamente", "Estamos trabajando."),
        notice("En construction", ""),
    ],
    PageKind.MAINTENANCE: [
        notice("Briefly unavailable", "We are performing scheduled maintenance. Check back in a minute."),
        notice("Wartungsarbeiten", "Wir sind in Kürze wieder für Sie da."),
        notice("Site en maintenance", "Nous serons de retour bientôt."),
        notice("En mantenimiento", "Volvemos pronto."),
        notice("Quillhaven", "The site is currently offline. <a href='mailto:a@b.example'>Write to us</a>"),
        notice("In manutenzione", "Torniamo presto."),
    ],
    PageKind.DATABASE: [
        "<html><head><title>Database Error</title></head><body><h1>Error establishing a database connection</h1></body></html>",
        "Could not connect to MySQL: Access denied for user 'mill'@'localhost' (using password: YES)",
        notice("Fehler", "Es konnte keine Verbindung zur Datenbank hergestellt werden."),
        notice("Erreur", "Erreur de connexion à la base de données."),
        "<p>SQLSTATE[HY000] [2002] Connection refused</p>",
        notice("Error", "Error al conectar con la base de datos"),
    ],
    PageKind.INSTALLER: [
        notice("Setup", "Below you should enter your database connection details.", "<form><input name=dbname><input name=uname><input name=pwd><input name=dbhost><input name=prefix></form>"),
        notice("Welcome: Installation", "Site title and owner", "<form><input name=weblog_title><input name=user_name><input type=password name=admin_password><input name=admin_email></form>"),
        notice("Konfiguration einrichten", "Datenbank", "<form><input name=db_name><input name=db_user><input name=db_pass></form>"),
    ],
    PageKind.SCRIPT_ERROR: [
        "<br />\n<b>Fatal error</b>:  Uncaught Error: Call to undefined function mysql_connect() in /var/www/html/inc/db.php:12 Stack trace: #0 {main} thrown in <b>/var/www/html/inc/db.php</b> on line <b>12</b><br />",
        article("Flour").replace("</main>", "<p><b>Fatal error</b>: Allowed memory size of 134217728 bytes exhausted (tried to allocate 20480 bytes) in <b>/srv/w/a.php</b> on line <b>9</b></p></main>"),
        "<b>Parse error</b>: syntax error, unexpected '}' in <b>/home/mill/public_html/index.php</b> on line <b>3</b>",
        notice("Error", "Traceback (most recent call last): File \"/srv/app.py\", line 8, in index"),
        notice("Quillhaven", "There has been a critical error on this website."),
        notice("Server Error in '/' Application.", "Object reference not set to an instance of an object."),
    ],
    PageKind.BLANK: ["", "<html><head></head><body></body></html>", "<html><head><title></title></head><body><div><br></div></body></html>", "   \n"],
    PageKind.LOGIN: [
        notice("Members only", "Please sign in.", PASSWORD),
        notice("Quillhaven", "", PASSWORD),
        notice("Geschützter Bereich", "Bitte geben Sie Ihr Kennwort ein.", PASSWORD),
    ],
    PageKind.CHALLENGE: [
        "<html><head><title>Just a moment...</title><meta http-equiv='refresh' content='15'></head><body><h1>mill.example</h1><p>Verifying you are human. This may take a few seconds.</p><script src='/c.js'></script></body></html>",
        notice("Attention Required!", "Please complete the security check to access mill.example", "<form><div data-sitekey=x></div></form><script></script>"),
        notice("Sicherheitsprüfung", "Ihr Browser wird geprüft.", "<script>var challenge = '/challenge'</script>"),
    ],
    PageKind.LISTING: [
        "<html><head><title>Index of /journal/</title></head><body><h1>Index of /journal/</h1><hr><pre><a href='../'>../</a>\n<a href='a.html'>a.html</a> 01-May 12:00 7\n</pre></body></html>",
        "<title>Directory listing for /journal/</title><ul><li><a href='x/'>x/</a><li><a href='y.txt'>y.txt</a></ul>",
        "<table><tr><td><a href='/'>Parent</a></td></tr><tr><td><a href='a.pdf'>a.pdf</a></td></tr><tr><td><a href='b.pdf'>b.pdf</a></td></tr><tr><td><a href='c.pdf'>c.pdf</a></td></tr></table>",
    ],
    PageKind.CONSENT: [
        notice("Before you continue", "We and our partners use cookies. Do you accept cookies and continue?", "<form><button name=yes>Accept</button></form>"),
        notice("Datenschutz", "Bitte stimmen Sie den Cookies zu, um weiter zu lesen. Cookies akzeptieren", "<script></script>"),
    ],
    PageKind.SCRIPTED: [
        "<html><head><title>Shop</title></head><body><div id=root></div><script src=/app.js></script></body></html>",
        "<html><body><noscript>You need to enable JavaScript to run this app.</noscript><div id='app'><!-- here --></div><script src=/app.js></script></body></html>",
        "<html><body><script>document.write('x')</script></body></html>",
    ],
    PageKind.TRUNCATED: [
        article("Flour")[:-40] + "<a href='/jour",
        "<!doctype html><title>Flour</title><body>" + MENU + ARTICLE + "<!-- the end is",
        "<!doctype html><title>Flour</title><body>" + MENU + ARTICLE + "<script>var tides = [1, 2",
    ],
}  # fmt: skip

NEAR_MISSES: dict[str, str] = {
    "an article on a server's default page": article("Welcome to nginx!", "What to do when you see the nginx web server's page.").replace("Welcome to nginx!</title>", "Diary</title>"),
    "an article on domains for sale": article("This domain is for sale", "How we sold mill.example", "<a href='http://a.example'>a</a>"),
    "news of a renovation": article("Under construction", "The new wheel house opens soon. Coming soon!"),
    "an article on maintenance of the wheel": article("Scheduled maintenance", "The wheel stands still for maintenance in March."),
    "a short page on maintenance with the site's menu": f"<title>Maintenance</title>{MENU}<main><h1>Scheduled maintenance of the wheel</h1><p>In March.</p></main>",
    "how to mend a database connection": article("Error establishing a database connection", "Check the database connection first."),
    "a contact form": notice("Write to us", "We answer within a week.", "<form><input name=name><input name=email><textarea name=text></textarea></form>"),
    "signing up for news with a site name": article("Join", "", "<form><input name=site_name><input name=email></form>"),
    "a quoted script error": article("Notes", "", "<pre>Fatal error: Uncaught Error in /var/www/x.php on line 3</pre>"),
    "an article that quotes an error in its middle": article("Notes", "We saw once: Fatal error: Call to undefined function in /var/www/x.php on line 3. It was a missing module, as the log told us later, and it went away."),
    "a page of one picture": "<title>Wheel</title><body><img src=/wheel.jpg alt=''></body>",
    "a page in a frame": "<title>Map</title><body><iframe src=/map></iframe></body>",
    "an article with a form to sign in": article("Flour", "", PASSWORD),
    "an article on challenges": article("Are you a robot?", "How a captcha works. Verify you are human."),
    "a contact form with a captcha": article("Write to us", "", "<form><div data-sitekey=x></div><input name=mail></form>"),
    "a page of links into its own section": "<title>Journal</title>" + MENU + "<main><h1>Journal</h1>" + "".join(f"<p><a href='/journal/{n}'>Number {n} of our journal</a>" for n in range(9)) + "</main>",
    "a page with a banner for cookies": article("Flour", "", "<div>We use cookies. <button>Accept</button></div>"),
    "a page on our cookies": article("Privacy", "We use cookies to remember your basket. You may reject them."),
    "a short page with a script": "<title>Hours</title><main><h1>Hours</h1><p>From nine to five, every day but Monday, and at the turn of the tide; groups of more than ten write to us a week before, please.</p></main><script src=/count.js></script>",
    "a page without end tags": "<title>Flour</title><body>" + MENU + "<main><h1>Flour</h1><p>Ends here",
    "a page with an arrow at its end": "<title>Flour</title><body>" + MENU + "<p>5 < 7 <b>x</b> and a < b",
    "a very short page": "<title>Ok</title><main><h1>Open</h1><p>Yes, today.</p></main>",
}  # fmt: skip


class RecognitionTest(unittest.TestCase):
    def test_each_kind_in_several_shapes(self):
        for kind, bodies in KINDS.items():
            for body in bodies:
                with self.subTest(kind.name, body=body[:80]):
                    at = AT.rpartition("/")[0] + "/" if kind == PageKind.LISTING else AT
                    self.assertEqual(seen(body, at).name, kind.name)

    def test_near_misses_are_ordinary_pages(self):
        for what, body in NEAR_MISSES.items():
            with self.subTest(what):
                self.assertEqual(seen(body).name, "NONE")

    def test_at_its_own_address_a_form_to_sign_in_is_that_page(self):
        body = notice("Sign in", "", PASSWORD)
        self.assertEqual(seen(body, "http://mill.example/login").name, "NONE")
        self.assertEqual(seen(body, "http://mill.example/account/").name, "NONE")
        self.assertEqual(seen(body).name, "LOGIN")

    def test_every_kind_is_tried_and_named(self):
        alone = {PageKind.NONE, PageKind.NOT_FOUND, PageKind.HOME, PageKind.OTHER}
        self.assertEqual(set(KINDS), set(PageKind) - alone)
        self.assertEqual(len({kind.label for kind in PageKind}), len(PageKind))

    def test_evidence_says_by_what(self):
        found = facts.read(AT, {"content-type": "text/html"}, KINDS[PageKind.MAINTENANCE][0].encode()).recognised
        self.assertIn("scheduled maintenance", found.evidence)
        self.assertIn("leads nowhere", found.evidence)

    def test_what_is_cut_by_us_is_not_called_broken_off(self):
        body = "<!doctype html><title>Long</title><body>" + MENU + "<p>flour <b>x</b>" * 400_000
        self.assertEqual(seen(body).name, "NONE")


class JudgedTest(unittest.TestCase):
    def test_what_is_recognised_is_not_trusted_and_never_lost(self):
        left = {"/": html("Home"), "/a": html("A"), "/b": html("B")}
        maintenance = (200, KINDS[PageKind.MAINTENANCE][0])
        found = ledger(left, {"/": html("Home"), "/a": maintenance, "/b": html("B")})
        self.assertEqual(counts(found)[0][:2], ("unknown", "/a"))
        self.assertEqual(found.detail[0], "not judged: a notice of maintenance instead")

    def test_the_same_kind_on_both_sides_is_compared(self):
        login = (200, KINDS[PageKind.LOGIN][0])
        found = ledger({"/a": login}, {"/a": login})
        self.assertEqual([fate for fate, _, _ in counts(found)], ["kept"])

    def test_recognised_at_the_source_alone_is_a_change(self):
        found = ledger({"/a": (200, KINDS[PageKind.MAINTENANCE][0])}, {"/a": html("A")})
        self.assertEqual([fate for fate, _, _ in counts(found)], ["altered"])

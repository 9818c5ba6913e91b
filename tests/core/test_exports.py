"""Exports: what WordPress's own format holds, over several parts, and what is said of one that breaks."""

import unittest

from palinode.core.exports.wxr import Export, ExportError, recognise
from palinode.core.platforms.platform import Field
from tests.site_files import export_of

HEAD = (
    '<?xml version="1.0" encoding="UTF-8" ?>\n<rss version="2.0" xmlns:excerpt="http://wordpress.org/export/1.2/excerpt/"\n'
    'xmlns:content="http://purl.org/rss/1.0/modules/content/" xmlns:dc="http://purl.org/dc/elements/1.1/"\n'
    'xmlns:wp="http://wordpress.org/export/1.2/">\n<channel><title>Mill</title>\n'
    "<wp:author><wp:author_id>1</wp:author_id><wp:author_login>miller</wp:author_login></wp:author>\n"
    "<wp:category><wp:term_id>2</wp:term_id><wp:category_nicename>news</wp:category_nicename></wp:category>\n"
    "<wp:tag><wp:term_id>3</wp:term_id><wp:tag_slug>x</wp:tag_slug></wp:tag>\n"
    "<wp:term><wp:term_id>4</wp:term_id><wp:term_taxonomy>nav_menu</wp:term_taxonomy></wp:term>\n"
)
END = "</channel></rss>\n"


def item(number: int, kind: str = "post", status: str = "publish", comments: str = "", text: str = "äb") -> str:
    """Return an item of an export."""
    return (
        f"<item><title><![CDATA[It's {number}]]></title><dc:creator>miller</dc:creator>"
        f"<content:encoded><![CDATA[{text}]]></content:encoded><excerpt:encoded>longer than that</excerpt:encoded>"
        f"<wp:post_id>{number}</wp:post_id><wp:post_date>2020-01-01 00:00:00</wp:post_date>"
        f"<wp:post_name>its-{number}</wp:post_name><wp:status>{status}</wp:status><wp:post_parent>0</wp:post_parent>"
        f'<wp:post_type>{kind}</wp:post_type><category domain="category" nicename="news">News</category>{comments}</item>\n'
    )


def read(*parts: str) -> Export:
    """Read the parts of an export, a few bytes at a time."""
    return export_of(*(part.encode() for part in parts), at_once=97)


class ExportTest(unittest.TestCase):
    def test_items_terms_comments_and_authors_of_two_parts(self):
        comment = (
            "<wp:comment><wp:comment_id>9</wp:comment_id><wp:comment_author>A</wp:comment_author>"
            "<wp:comment_content>Hello</wp:comment_content><wp:comment_approved>1</wp:comment_approved></wp:comment>"
        )
        export = read(
            HEAD + item(1, comments=comment) + item(2, "page") + END, HEAD + item(3, status="draft") + item(1) + END
        )
        self.assertEqual(export.ends_early, "")
        posts, terms, comments, accounts = export.installation.items
        self.assertEqual(list(zip(*(posts.column(one) for one in (Field.IDENTITY, Field.SLUG, Field.TITLE, Field.AUTHOR)), strict=True)),
                         [(str(n), f"its-{n}", f"It's {n}", "miller") for n in (1, 2, 3)])  # fmt: skip
        self.assertEqual(posts.sizes.tolist(), [3, 3, 3])
        self.assertEqual((comments.column(Field.AUTHOR), comments.sizes.tolist()), (["A"], [5]))
        self.assertEqual(terms.column(Field.TYPE), ["category", "post_tag", "nav_menu"])
        self.assertEqual(accounts.column(Field.SLUG), ["miller"])
        self.assertEqual(
            {(one.noun, one.status): one.number for one in export.installation.counts()},
            {("post", "published"): 1, ("page", "published"): 1, ("post", "draft"): 1, ("category", ""): 1, ("tag", ""): 1,
             ("menu", ""): 1, ("comment", "approved"): 1, ("account", ""): 1},
        )  # fmt: skip

    def test_many_items(self):
        posts = read(HEAD + "".join(item(number) for number in range(1, 2_502)) + END).installation.items[0]
        self.assertEqual(posts.count, 2_501)
        self.assertEqual(posts.column(Field.IDENTITY), [str(number) for number in range(1, 2_502)])

    def test_one_that_ends_too_early(self):
        export = read(HEAD + item(1) + item(2)[:200])
        self.assertIn("ends too early, in line 11", export.ends_early)
        self.assertEqual(export.installation.items[0].column(Field.IDENTITY), ["1"])

    def test_what_cannot_be_read(self):
        with self.assertRaisesRegex(ExportError, r"Line 10: it is not well-formed from character"):
            read(HEAD + "<item><title>a & b</title></item>" + END)
        bomb = '<!DOCTYPE rss [<!ENTITY a "aaaa">]>' + HEAD[HEAD.index("<rss") :]
        with self.assertRaisesRegex(ExportError, "entities"):
            read(bomb + item(1, text="&a;") + END)

    def test_recognition(self):
        self.assertTrue(recognise(HEAD.encode()))
        self.assertFalse(recognise(b'<rss version="2.0"><channel></channel></rss>'))

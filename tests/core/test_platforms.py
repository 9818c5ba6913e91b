"""Platforms: told by their tables, under any prefix; their items counted by type and status."""

import io
import unittest

from palinode.core import platforms
from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import Script
from palinode.core.platforms import packing, permalinks, traits
from palinode.core.platforms.inventory import Inventory
from palinode.core.platforms.items import Installation
from palinode.core.platforms.platform import Field
from tests.site_files import gathered

COLUMNS = {
    "posts": "ID post_author post_date post_content post_title post_status post_name post_parent post_type comment_count",
    "postmeta": "meta_id post_id meta_key meta_value",
    "options": "option_id option_name option_value",
    "terms": "term_id name slug",
    "term_taxonomy": "term_taxonomy_id term_id taxonomy parent count",
    "term_relationships": "object_id term_taxonomy_id",
    "comments": "comment_ID comment_author comment_date comment_content comment_approved comment_post_ID",
    "users": "ID user_nicename user_registered display_name",
    "usermeta": "umeta_id user_id meta_key meta_value",
}


def dump(prefix: str, rows: dict[str, str], leave_out: str = "") -> bytes:
    """Return a dump of an installation with some rows."""
    written = []
    for name, columns in COLUMNS.items():
        if name != leave_out:
            listed = ", ".join(f"`{one}` text" for one in columns.split())
            written.append(f"CREATE TABLE `{prefix}{name}` ({listed}) ENGINE=InnoDB;\n")
        if name in rows:
            written.append(f"INSERT INTO `{prefix}{name}` VALUES {rows[name]};\n")
    return "".join(written).encode()


def found(data: bytes) -> list[Installation]:
    """Return the platforms in a dump."""
    inventory = Inventory(platforms.ALL)
    told = gathered(Script(io.BytesIO(data).read, Quoting.BACKSLASH).parts(), inventory.take)
    return inventory.installations(list(told.tables.values()))


class PlatformTest(unittest.TestCase):
    def test_items_by_type_and_status(self):
        rows = {
            "posts": "(1,1,'2020','text','it\\'s','publish','its',0,'post',0),(2,1,'2020','','','inherit','x',1,'attachment',0),"
            "(3,1,'2020','','','inherit','1-revision-v1',1,'revision',0),(4,1,'2020','','','publish','about',0,'page',0),"
            "(5,1,'2020','','','publish','more',0,'post',0),(6,1,'2020','','','trash','gone',0,'post',0)",
            "comments": "(1,'A','2020','x','1',0),(2,'B','2020','x','spam',0)",
            "term_taxonomy": "(1,1,'category',0,2),(2,2,'post_tag',0,0),(3,3,'post_tag',0,0)",
        }
        (one,) = found(dump("mill_", rows))
        self.assertEqual((one.platform.name, one.prefix), ("WordPress", "mill_"))
        self.assertEqual(
            [(count.noun, count.status, count.number) for count in one.counts() if not count.folded],
            [("post", "published", 2), ("media file", "", 1), ("page", "published", 1), ("tag", "", 2), ("category", "", 1),
             ("comment", "approved", 1)],
        )  # fmt: skip
        self.assertEqual({(count.noun, count.status) for count in one.counts() if count.folded},
                         {("revision", ""), ("post", "in the trash"), ("comment", "spam")})  # fmt: skip
        posts = one.items[0]
        self.assertEqual((posts.column(Field.TITLE)[0], posts.column(Field.SLUG)[3]), ("it's", "about"))
        self.assertEqual(one.items[3].column(Field.TITLE), [])

    def test_what_other_tables_say_of_items(self):
        rows = {
            "posts": "(7,1,'2020','','Wheel','inherit','wheel',0,'attachment',0),(8,1,'2020','','','publish','x',0,'post',0)",
            "postmeta": "(1,7,'_wp_attached_file','2022/04/wheel.jpg'),(2,8,'_edit_last','1'),(3,8,'x','_wp_attached_file')",
            "term_taxonomy": "(2,12,'category',0,1)",
            "terms": "(11,'Other','other'),(12,'It\\'s','its')",
            "term_relationships": "(8,2),(7,2)",
            "users": "(1,'miller','2020','The miller')",
            "usermeta": "(1,1,'mill_capabilities','a:1:{s:6:\"editor\";b:1;}'),(2,1,'nickname','capabilities')",
            "options": "(1,'home','https://mill.example'),(2,'rewrite_rules','x'),(3,'mill_user_roles','a:0:{}')",
        }
        (one,) = found(dump("mill_", rows))
        posts, terms, _, accounts = one.items
        self.assertEqual(posts.column(Field.FILE), ["2022/04/wheel.jpg", ""])
        self.assertEqual((terms.column(Field.TITLE), terms.column(Field.SLUG)), (["It's"], ["its"]))
        self.assertEqual(accounts.column(Field.ROLES), ['a:1:{s:6:"editor";b:1;}'])
        self.assertEqual(one.settings, {"home": "https://mill.example", "mill_user_roles": "a:0:{}"})
        self.assertEqual((one.links[0].of.tolist(), one.links[0].to.tolist()), ([8, 7], [2, 2]))
        (same,) = packing.installations(packing.plain([one]), packing.arrays([one]))
        self.assertEqual(
            [[items.column(field) for field in Field] for items in same.items],
            [[items.column(field) for field in Field] for items in one.items],
        )
        self.assertEqual((same.settings, same.links[0].to.tolist()), (one.settings, [2, 2]))
        self.assertEqual([items.sizes.tolist() for items in same.items], [items.sizes.tolist() for items in one.items])

    def test_roles_under_the_keys_of_two_prefixes(self):
        rows = {
            "users": "(1,'miller','2020','The miller'),(2,'anna','2020','Anna')",
            "usermeta": "(1,1,'a_capabilities','a:1:{s:6:\"editor\";b:1;}'),(2,1,'b_capabilities','a:1:{s:6:\"keeper\";b:1;}'),"
            "(3,2,'b_capabilities','a:1:{s:6:\"author\";b:1;}')",
        }
        (one,) = found(dump("a_", rows))
        self.assertEqual((one.keys, one.items[3].statuses), (("a_capabilities", "b_capabilities"), ["editor", ""]))
        # Where its own has gone, whatever there is.
        (other,) = found(dump("c_", rows))
        self.assertEqual(other.items[3].statuses, ["keeper", "author"])
        (same,) = packing.installations(packing.plain([one]), packing.arrays([one]))
        self.assertEqual(same.keys, one.keys)

    def test_two_installations_in_one_database(self):
        rows = {"users": "(1,'miller','2020','The miller')"}
        told = found(dump("a_", rows) + dump("b_", {}))
        self.assertEqual([(one.prefix, one.items[3].count) for one in told], [("a_", 1), ("b_", 0)])

    def test_nodes_in_typed_tables(self):
        site = 'a:2:{s:4:"name";s:4:"Mill";s:4:"page";a:1:{s:5:"front";s:7:"/node/3";}}'
        modules = 'a:1:{s:6:"module";a:2:{s:4:"node";i:0;s:8:"standard";i:1000;}}'
        written = {
            "node_field_data": ("nid,type,status,title,created,uid",
                                "(1,'article',1,'Tide',1580000000,1),(2,'page',0,'Hidden',1580000000,1),(3,'page',1,'Home',1,1)"),
            "users_field_data": ("uid,status,name,created", "(1,1,'miller',1)"),
            "taxonomy_term_field_data": ("tid,vid,name,status", "(5,'tags','Rye',1)"),
            "comment_field_data": ("cid,status,subject,created,entity_id", "(1,1,'Well',2,1),(2,0,'Hm',2,1)"),
            "file_managed": ("fid,status,filename,uri", "(1,1,'wheel.jpg','public://2022/wheel.jpg')"),
            "path_alias": ("id,path,alias", "(1,'/node/1','/journal/tide'),(2,'/user/1','/people/miller')"),
            "config": ("name,data", f"('system.site','{site}'),('core.extension','{modules}')"),
            "key_value": ("name", "('x')"),
        }  # fmt: skip
        data = "".join(
            f"CREATE TABLE `{name}` ({', '.join(f'`{one}` text' for one in columns.split(','))});\n"
            f"INSERT INTO `{name}` VALUES {rows};\n" for name, (columns, rows) in written.items()
        ).encode()  # fmt: skip
        (one,) = found(data)
        self.assertEqual(one.platform.name, "Drupal")
        self.assertEqual(
            [(count.noun, count.status, count.number) for count in one.counts()],
            [("article", "published", 1), ("page", "unpublished", 1), ("page", "published", 1), ("tags", "", 1),
             ("comment", "approved", 1), ("comment", "waiting", 1), ("account", "active", 1), ("media file", "", 1)],
        )  # fmt: skip
        self.assertEqual(list(permalinks.of(one).all()), ["journal/tide", "", "taxonomy/term/5"])
        self.assertEqual(
            [(trait.name, trait.value) for trait in traits.of(one)],
            [("name of the site", "Mill"), ("front page", "/node/3"), ("extension node", "on")],
        )

    def test_another_database(self):
        self.assertEqual(len(found(dump("wp_", {}, leave_out="terms"))), 1)
        # Tables of another program may be called alike.
        self.assertEqual(found(b"CREATE TABLE `posts` (`ID` int);\nINSERT INTO `posts` VALUES (1);\n"), [])

"""Dumps of a WordPress database, as mariadb-dump writes them, for the demo's mill and for tests."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

HOME = "http://old.example"
COLUMNS: dict[str, str] = {
    "posts": "ID bigint(20) unsigned NOT NULL AUTO_INCREMENT, post_author bigint(20), post_date datetime, post_content longtext, "
    "post_title text, post_status varchar(20), post_name varchar(200), post_parent bigint(20), post_type varchar(20), "
    "comment_count bigint(20), guid varchar(255)",
    "postmeta": "meta_id bigint(20), post_id bigint(20), meta_key varchar(255), meta_value longtext",
    "options": "option_id bigint(20), option_name varchar(191), option_value longtext",
    "terms": "term_id bigint(20), name varchar(200), slug varchar(200)",
    "term_taxonomy": "term_taxonomy_id bigint(20), term_id bigint(20), taxonomy varchar(32), parent bigint(20), count bigint(20)",
    "term_relationships": "object_id bigint(20), term_taxonomy_id bigint(20)",
    "comments": "comment_ID bigint(20), comment_post_ID bigint(20), comment_author tinytext, comment_date datetime, "
    "comment_content text, comment_approved varchar(20)",
    "users": "ID bigint(20), user_nicename varchar(50), user_registered datetime, display_name varchar(250)",
    "usermeta": "umeta_id bigint(20), user_id bigint(20), meta_key varchar(255), meta_value longtext",
}
OPTIONS: dict[str, str] = {
    "siteurl": HOME,
    "home": HOME,
    "blogname": "Mill",
    "template": "twentytwentyone",
    "stylesheet": "mill",
    "active_plugins": 'a:1:{i:0;s:17:"shop/shop.php";}',
    "permalink_structure": "/%year%/%monthnum%/%postname%/",
    "blog_public": "1",
    "db_version": "53496",
    "show_on_front": "posts",
    "default_category": "1",
}
ROLES = 'a:1:{{s:{}:"{}";b:1;}}'


@dataclass(frozen=True)
class Post:
    """A row of posts."""

    number: int
    title: str
    kind: str = "post"
    status: str = "publish"
    slug: str = ""
    text: str = "Tides come and go."
    parent: int = 0
    author: int = 1
    date: str = "2020-03-04 05:06:07"
    comments: int = 0
    terms: tuple[int, ...] = ()
    file: str = ""
    """Of an attachment: its path from the folder of uploads."""

    def but(self, **changes: Any) -> "Post":
        """Return another one that differs in some things."""
        return replace(self, **changes)

    @property
    def name(self) -> str:
        """Its slug."""
        return self.slug or self.title.lower().replace(" ", "-")


@dataclass(frozen=True)
class WordPressDump:
    """A database, and how its dump is written."""

    posts: Sequence[Post] = ()
    terms: Sequence[tuple[int, str, str, int]] = ()
    """Number, taxonomy, name, counter."""
    comments: Sequence[tuple[int, int, str]] = ()
    """Number, post, status."""
    accounts: Sequence[tuple[int, str, str]] = ((1, "miller", "administrator"),)
    """Number, name, role."""
    options: dict[str, str] = field(default_factory=dict)
    more: dict[str, tuple[str, Sequence[Sequence[Any]]]] = field(default_factory=dict)
    """Further tables: name to columns and rows."""
    prefix: str = "wp_"
    engine: str = "InnoDB"
    charset: str = "utf8mb4"
    leave_out: frozenset[str] = frozenset()
    """Names of tables, with their prefix or without."""
    first_home: str = ""
    """Where the site stood when its posts were written, which their identifiers say for ever; empty for none."""
    keys: str = ""
    """Prefix of the keys within; empty for that of the tables."""

    def but(self, **changes: Any) -> "WordPressDump":
        """Return another one that differs in some things."""
        return replace(self, **changes)

    def rows(self) -> dict[str, Sequence[Sequence[Any]]]:
        """Return the rows of each table."""
        keys = self.keys or self.prefix
        options = OPTIONS | {f"{keys}user_roles": "a:0:{}"} | self.options
        return {
            "posts": [
                (
                    one.number,
                    one.author,
                    one.date,
                    one.text,
                    one.title,
                    one.status,
                    one.name,
                    one.parent,
                    one.kind,
                    one.comments,
                    f"{self.first_home}/?p={one.number}" if self.first_home else "",
                )
                for one in self.posts
            ],
            "postmeta": [
                (number, one.number, "_wp_attached_file", one.file)
                for number, one in enumerate(self.posts, 1)
                if one.file
            ],
            "options": [(number, *one) for number, one in enumerate(options.items(), 1)],
            "terms": [(number, name, name.lower()) for number, _, name, _ in self.terms],
            "term_taxonomy": [(number, number, kind, 0, counter) for number, kind, _, counter in self.terms],
            "term_relationships": [(one.number, term) for one in self.posts for term in one.terms],
            "comments": [
                (number, post, "A", "2020-01-01 00:00:00", "Well said.", status)
                for number, post, status in self.comments
            ],
            "users": [(number, name, "2019-01-01 00:00:00", name.capitalize()) for number, name, _ in self.accounts],
            "usermeta": [
                (number, number, f"{keys}capabilities", ROLES.format(len(role), role))
                for number, _, role in self.accounts
            ],
        }

    def sql(self) -> bytes:
        """Return the dump."""
        written = ["-- MariaDB dump 10.19\n-- Server version\t10.11.19\n"]
        held = self.rows()
        tables = {self.prefix + name: (columns, held.get(name, ())) for name, columns in COLUMNS.items()} | self.more
        for name, (columns, rows) in sorted(tables.items()):
            if {name, name.removeprefix(self.prefix)} & self.leave_out:
                continue
            written.append(
                f"CREATE TABLE `{name}` (\n  {columns}\n) ENGINE={self.engine} DEFAULT CHARSET={self.charset};\n"
            )
            if rows:
                values = ",\n".join(f"({','.join(map(_written, row))})" for row in rows)
                written.append(f"INSERT INTO `{name}` VALUES\n{values};\n")
        return ("".join(written) + "-- Dump completed on 2026-11-28\n").encode()


def _written(value: Any) -> str:
    if isinstance(value, int):
        return str(value)
    escaped = value.replace("\\", "\\\\").replace("'", "\\'").replace("\n", "\\n")
    return f"'{escaped}'"

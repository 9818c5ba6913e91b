"""WordPress: posts of all types in one table, terms in two, comments, accounts."""

from palinode.core.platforms.platform import Field, ItemTable, Platform

PLATFORM = Platform(
    name="WordPress",
    tables=("posts", "postmeta", "options", "terms", "term_taxonomy", "term_relationships", "comments", "users"),
    items=(
        ItemTable(
            noun="post",
            name="posts",
            columns={
                Field.IDENTITY: "ID",
                Field.TYPE: "post_type",
                Field.STATUS: "post_status",
                Field.TITLE: "post_title",
                Field.SLUG: "post_name",
                Field.DATE: "post_date_gmt",
                Field.AUTHOR: "post_author",
                Field.PARENT: "post_parent",
                Field.TEXT: "post_content",
            },
            nouns={"attachment": "media file", "nav_menu_item": "menu entry", "wp_block": "reusable block"},
            statuses={"publish": "published", "inherit": "", "future": "scheduled", "trash": "in the trash"},
            folded=frozenset(
                {
                    "revision",
                    "customize_changeset",
                    "oembed_cache",
                    "user_request",
                    "auto-draft",
                    "trash",
                    "wp_global_styles",
                }
            ),
        ),
        ItemTable(
            noun="term",
            name="term_taxonomy",
            columns={Field.IDENTITY: "term_taxonomy_id", Field.TYPE: "taxonomy", Field.PARENT: "parent"},
            nouns={"category": "category", "post_tag": "tag", "nav_menu": "menu"},
            folded=frozenset({"wp_theme", "link_category"}),
        ),
        ItemTable(
            noun="comment",
            name="comments",
            columns={
                Field.IDENTITY: "comment_ID",
                Field.STATUS: "comment_approved",
                Field.AUTHOR: "comment_author",
                Field.DATE: "comment_date_gmt",
                Field.PARENT: "comment_parent",
                Field.TEXT: "comment_content",
            },
            statuses={
                "1": "approved",
                "0": "waiting",
                "spam": "spam",
                "trash": "in the trash",
                "post-trashed": "in the trash",
            },
            folded=frozenset({"spam", "trash", "post-trashed"}),
        ),
        ItemTable(
            noun="account",
            name="users",
            columns={
                Field.IDENTITY: "ID",
                Field.TITLE: "display_name",
                Field.SLUG: "user_nicename",
                Field.DATE: "user_registered",
            },
        ),
    ),
)

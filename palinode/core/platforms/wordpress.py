"""WordPress: posts of all types in one table, terms in two, comments, accounts; settings in a table of options."""

from palinode.core.platforms.platform import Field, ItemTable, LinkTable, MoreTable, Platform, SettingTable
from palinode.core.platforms.wordpress_permalinks import permalinks
from palinode.core.platforms.wordpress_traits import traits

_POSTS = ItemTable(
    noun="post",
    name="posts",
    columns={
        Field.IDENTITY: "ID",
        Field.TYPE: "post_type",
        Field.STATUS: "post_status",
        Field.TITLE: "post_title",
        Field.SLUG: "post_name",
        Field.DATE: "post_date",
        Field.AUTHOR: "post_author",
        Field.PARENT: "post_parent",
        Field.COUNTER: "comment_count",
        Field.TEXT: "post_content",
    },
    nouns={
        "attachment": "media file",
        "nav_menu_item": "menu entry",
        "wp_block": "reusable block",
        "shop_order": "order",
        "shop_coupon": "coupon",
        "product_variation": "variation of a product",
    },
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
    shown=frozenset({"publish", "inherit"}),
    authors="users",
    counts="comments",
)
_TERMS = ItemTable(
    noun="term",
    name="term_taxonomy",
    columns={
        Field.IDENTITY: "term_taxonomy_id",
        Field.TYPE: "taxonomy",
        Field.PARENT: "parent",
        Field.KEY: "term_id",
        Field.COUNTER: "count",
    },
    nouns={"category": "category", "post_tag": "tag", "nav_menu": "menu", "product_cat": "product category"},
    folded=frozenset({"wp_theme", "link_category", "wp_template_part_area", "post_format"}),
    shown=frozenset({""}),
    counts="term_relationships",
)
_COMMENTS = ItemTable(
    noun="comment",
    name="comments",
    columns={
        Field.IDENTITY: "comment_ID",
        Field.STATUS: "comment_approved",
        Field.AUTHOR: "comment_author",
        Field.DATE: "comment_date",
        Field.PARENT: "comment_post_ID",
        Field.TEXT: "comment_content",
    },
    statuses={"1": "approved", "0": "waiting", "spam": "spam", "trash": "in the trash", "post-trashed": "in the trash"},
    folded=frozenset({"spam", "trash", "post-trashed"}),
    shown=frozenset({"1"}),
    parents="posts",
)
_ACCOUNTS = ItemTable(
    noun="account",
    name="users",
    columns={
        Field.IDENTITY: "ID",
        Field.TITLE: "display_name",
        Field.SLUG: "user_nicename",
        Field.DATE: "user_registered",
    },
    shown=frozenset({""}),
)

PLATFORM = Platform(
    name="WordPress",
    tables=("posts", "postmeta", "options", "terms", "term_taxonomy", "term_relationships", "comments", "users"),
    items=(_POSTS, _TERMS, _COMMENTS, _ACCOUNTS),
    more=(
        MoreTable("term_taxonomy", "terms", "term_id", Field.KEY, {Field.TITLE: "name", Field.SLUG: "slug"}),
        MoreTable(
            "posts",
            "postmeta",
            "post_id",
            Field.IDENTITY,
            {Field.FILE: "meta_value"},
            only=("meta_key", "_wp_attached_file"),
        ),
        MoreTable(
            "users",
            "usermeta",
            "user_id",
            Field.IDENTITY,
            {Field.ROLES: "meta_value"},
            only=("meta_key", "capabilities"),
        ),
    ),
    links=(LinkTable("term_relationships", "posts", "object_id", "term_taxonomy", "term_taxonomy_id"),),
    settings=SettingTable(
        name="options",
        key="option_name",
        value="option_value",
        names=frozenset(
            {
                "siteurl",
                "home",
                "blogname",
                "template",
                "stylesheet",
                "active_plugins",
                "permalink_structure",
                "category_base",
                "tag_base",
                "show_on_front",
                "page_on_front",
                "page_for_posts",
                "posts_per_page",
                "blog_public",
                "db_version",
                "WPLANG",
                "cron",
                "default_category",
                "timezone_string",
                "gmt_offset",
                "upload_path",
                "upload_url_path",
                "users_can_register",
                "default_comment_status",
            }
        ),
        endings=("user_roles",),
    ),
    permalinks=permalinks,
    traits=traits,
    passing=(
        "actionscheduler_actions",
        "actionscheduler_claims",
        "actionscheduler_logs",
        "sessions",
        "session",
        "cache",
        "caches",
        "log",
        "logs",
        "queue",
        "statistics",
        "statistics_visitor",
        "redirection_404",
        "redirection_logs",
        "woocommerce_sessions",
        "wfhits",
        "wflogins",
    ),
)

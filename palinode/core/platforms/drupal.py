"""Drupal: nodes of several types, each field in a table of its own; settings as serialised values in another."""

from palinode.core.platforms.drupal_settings import permalinks, traits
from palinode.core.platforms.platform import Field, ItemTable, MoreTable, Platform, SettingTable

_SHOWN = {"1": "published", "0": "unpublished"}

PLATFORM = Platform(
    name="Drupal",
    tables=("node_field_data", "users_field_data", "taxonomy_term_field_data", "config", "key_value", "router"),
    items=(
        ItemTable(
            noun="node",
            name="node_field_data",
            columns={
                Field.IDENTITY: "nid",
                Field.TYPE: "type",
                Field.STATUS: "status",
                Field.TITLE: "title",
                Field.DATE: "created",
                Field.AUTHOR: "uid",
            },
            statuses=_SHOWN,
            shown=frozenset({"1"}),
            authors="users_field_data",
        ),
        ItemTable(
            noun="term",
            name="taxonomy_term_field_data",
            columns={Field.IDENTITY: "tid", Field.TYPE: "vid", Field.TITLE: "name", Field.STATUS: "status"},
            statuses={"1": "", "0": "unpublished"},
            shown=frozenset({"1"}),
        ),
        ItemTable(
            noun="comment",
            name="comment_field_data",
            columns={
                Field.IDENTITY: "cid",
                Field.STATUS: "status",
                Field.TITLE: "subject",
                Field.DATE: "created",
                Field.PARENT: "entity_id",
            },
            statuses={"1": "approved", "0": "waiting"},
            shown=frozenset({"1"}),
            parents="node_field_data",
        ),
        ItemTable(
            noun="account",
            name="users_field_data",
            columns={Field.IDENTITY: "uid", Field.STATUS: "status", Field.TITLE: "name", Field.DATE: "created"},
            statuses={"1": "active", "0": "blocked"},
            shown=frozenset({"1"}),
        ),
        ItemTable(
            noun="media file",
            name="file_managed",
            columns={Field.IDENTITY: "fid", Field.STATUS: "status", Field.TITLE: "filename", Field.FILE: "uri"},
            statuses={"1": "", "0": "temporary"},
            folded=frozenset({"0"}),
            shown=frozenset({"1"}),
        ),
    ),
    more=(
        MoreTable("node_field_data", "path_alias", "path", Field.IDENTITY, {Field.SLUG: "alias"}, beginning="/node/"),
    ),
    settings=SettingTable(
        name="config",
        key="name",
        value="data",
        names=frozenset({"system.site", "system.theme", "core.extension", "system.date"}),
    ),
    permalinks=permalinks,
    traits=traits,
    passing=("sessions", "watchdog", "flood", "semaphore", "queue", "history", "batch", "cachetags", "cache_render"),
)

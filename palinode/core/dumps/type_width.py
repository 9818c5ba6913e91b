"""How much a column's type holds, so that one that holds less is known."""

import re

_SIZED = re.compile(r"(varchar|char|varbinary|binary|character varying|character|bit varying|bit)\s*\((\d+)\)")
_RANKS: tuple[tuple[str, ...], ...] = (
    ("tinyint", "smallint", "mediumint", "int", "bigint"),
    ("smallint", "integer", "bigint"),
    ("tinytext", "text", "mediumtext", "longtext"),
    ("tinyblob", "blob", "mediumblob", "longblob"),
    ("real", "double precision"),
    ("float", "double"),
)
"""Types by how much they hold, the least first."""
_TEXT_BYTES = {"tinytext": 255, "text": 65_535, "mediumtext": 16_777_215, "longtext": 4_294_967_295}
_SAME = {"integer": "int", "character varying": "varchar", "character": "char"}


def is_narrower(before: str, after: str) -> bool:
    """Whether a column of the type ``after`` holds less than one of ``before``; types as a dump writes them."""
    one, other = _SIZED.match(before), _SIZED.match(after)
    if one and other:
        return _SAME.get(one[1], one[1]) == _SAME.get(other[1], other[1]) and int(other[2]) < int(one[2])
    was, now = _bare(before), _bare(after)
    if other and was in _TEXT_BYTES:
        return int(other[2]) < _TEXT_BYTES[was]
    return any(now in ranks and was in ranks and ranks.index(now) < ranks.index(was) for ranks in _RANKS) or (
        was == now and "unsigned" in before and "unsigned" not in after
    )


def are_alike(before: str, after: str) -> bool:
    """Whether two types are the same but for how they are written: the width at which an integer is shown is none."""
    return _written(before) == _written(after)


def _bare(written: str) -> str:
    return re.sub(r"\s*\(.*?\)| unsigned| zerofill", "", written).strip()


def _written(written: str) -> str:
    bare = re.sub(r"^(tinyint|smallint|mediumint|int|bigint)\(\d+\)", r"\1", written)
    return re.sub(r"\s+", " ", _SAME.get(bare, bare))

"""The shapes of what a move keeps as JSON (JSON Schema 2020-12): what an archive may hold, and nothing else."""

from typing import Any

from palinode.core.causes.cause_kind import Certainty, Who
from palinode.core.checks import registry
from palinode.core.fates import Fate
from palinode.core.fields import Field
from palinode.core.findings import State
from palinode.core.weight import Weight

Shape = dict[str, Any]

_TRUTH: Shape = {"type": "boolean"}
_TEXT: Shape = {"type": "string", "maxLength": 24_000}
_COUNT: Shape = {"type": "integer", "minimum": 0, "maximum": 2**62}
_MEASURE: Shape = {"type": "number", "minimum": 0, "maximum": 2**62}


def _list(of: Shape, most: int = 1_000_000) -> Shape:
    return {"type": "array", "items": of, "maxItems": most}


def _row(*cells: Shape) -> Shape:
    """Return the shape of a list of just these cells."""
    return {"type": "array", "prefixItems": list(cells), "minItems": len(cells), "maxItems": len(cells)}


def _one_of(words: Any) -> Shape:
    return {"enum": list(words)}


def _record(optional: dict[str, Shape] | None = None, **needed: Shape) -> Shape:
    """Return the shape of an object with these members and no others."""
    return {
        "type": "object",
        "properties": {**needed, **(optional or {})},
        "required": list(needed),
        "additionalProperties": False,
    }


def _counts_by_word(most: int = 10_000) -> Shape:
    return {"type": "object", "additionalProperties": _COUNT, "maxProperties": most}


_FATE = _one_of(fate.word for fate in Fate)
_STATE = _one_of(state.word for state in State)
_WEIGHT = _one_of(weight.word for weight in Weight)
_KIND = _one_of(registry.KINDS)
_SIDE = _one_of(["source", "destination"])
_ADDRESS: Shape = {"type": "string", "pattern": "^https?://", "maxLength": 24_000}

TEXTS = _list(_TEXT, 1_000)
HOT_LINKS = _list(_row(_ADDRESS, _TEXT, _COUNT), 10_000)
HEADER_FIELDS = _list(_row(_TEXT, _TEXT), 100)

POLICY: Shape = {
    "type": "object",
    "additionalProperties": {"anyOf": [_TRUTH, _MEASURE, {"type": "string", "maxLength": 100}]},
    "maxProperties": 50,
}
"""As in work/capturing/policy.py, of whatever version: it is shown, and not gone by any more."""

ACCESS: Shape = {
    "anyOf": [
        _record(),
        _record(
            {
                "connect_to": _list(_TEXT, 10_000),
                "further": _list(_ADDRESS, 100),
                "honours_robots": _TRUTH,
                "any_certificate": _TRUTH,
            },
            base=_ADDRESS,
        ),
    ]
}
"""Nothing, where no site was asked: of a site file, but for what an API answered."""

AGAIN = _record({"what": _one_of(["all", "failed", "section", "list"]), "section": _TEXT, "listed": _COUNT})

_VARIANT = _record(
    method=_one_of(["GET", "HEAD"]), fields=_list(_row(_TEXT, _TEXT), 100), time={"type": "integer", "minimum": 1}
)
ASKING = _record({"head": {"type": "integer"}, "variants": _list(_VARIANT, 32_000)})

OPTIONS: Shape = {
    "type": "object",
    "additionalProperties": {"anyOf": [_TRUTH, {"type": "number"}, _TEXT, _list(_TEXT, 1_000)]},
    "maxProperties": 50,
}

_COLUMN = _record(
    name=_TEXT, type=_TEXT, nullable=_TRUTH, charset=_TEXT, collation=_TEXT, generated=_TRUTH, counts=_TRUTH
)
_DEFINITION = _record(
    database=_TEXT,
    name=_TEXT,
    columns=_list(_COLUMN, 10_000),
    engine=_TEXT,
    charset=_TEXT,
    collation=_TEXT,
    next_number={"anyOf": [{"type": "null"}, _COUNT]},
)
_TABLE = _record(
    database=_TEXT,
    name=_TEXT,
    definition={"anyOf": [{"type": "null"}, _DEFINITION]},
    columns=_list(_TEXT, 10_000),
    rows=_COUNT,
    size=_COUNT,
    largest=_COUNT,
    damaged={"type": "object", "additionalProperties": _COUNT, "maxProperties": 10},
    groups={
        "type": "object",
        "additionalProperties": {"type": "object", "additionalProperties": _COUNT, "maxProperties": 100},
        "maxProperties": 100,
    },
)
_PLATFORM = _record(
    {"keys": _list(_TEXT, 10_000)},
    name=_TEXT,
    database=_TEXT,
    prefix=_TEXT,
    counts=_list(_record(noun=_TEXT, status=_TEXT, number=_COUNT, folded=_TRUTH), 100_000),
    settings={"type": "object", "additionalProperties": _TEXT, "maxProperties": 1_000},
    items={
        "type": "object",
        "additionalProperties": _record(count=_COUNT, fields=_list(_TEXT, 100)),
        "maxProperties": 1_000,
    },
)
CONTENTS = _record(
    {
        "version": _COUNT,
        "arrays": _list(_TEXT, 100_000),
        "numbers": {"type": "object", "additionalProperties": _COUNT, "maxProperties": 1_000},
        "server": _TEXT,
        "tables": _list(_TABLE, 100_000),
        "beside": {"type": "object", "additionalProperties": _list(_TEXT, 100_000), "maxProperties": 10},
        "platforms": _list(_PLATFORM, 1_000),
        "grouping": _list(_TEXT, 10_000),
        "files": _COUNT,
        "size": {"anyOf": [{"type": "null"}, _COUNT]},
        "empty": _COUNT,
        "unread": _COUNT,
        "folders": _list(_record(name=_TEXT, files=_COUNT), 1_000),
    }
)
"""As in core/site_contents.py."""

IGNORED = _list(_record(name=_TEXT, addresses=_COUNT, pages=_COUNT), 10_000)

VOLATILE = _record(
    {
        "templates": _list(_TEXT, 1_000),
        "paths": _list(_TEXT, 1_000),
        "fields": _list(_one_of(field.name for field in Field), len(Field)),
        "examples": _list(_row(_TEXT, _TEXT, _TEXT), 100),
    }
)

SAMPLE: Shape = {
    "anyOf": [
        {"type": "null"},
        _record(),
        _record(
            {"certificate": _TEXT, "gone": _COUNT, "changed_examples": TEXTS, "older_examples": TEXTS},
            asked=_COUNT,
            changed=_COUNT,
            volatile=VOLATILE,
            older=_COUNT,
            age=_MEASURE,
            keeps=_MEASURE,
        ),
    ]
}

JUDGEMENT: Shape = {
    "anyOf": [
        {"type": "null"},
        _record(
            stands=_TRUTH,
            sentence=_TEXT,
            grounds=_list(_record(text=_TEXT, against=_TRUTH), 10_000),
            answers_impossible=_TRUTH,
            recognised=_counts_by_word(),
        ),
    ]
}

_VERDICT = _one_of(dict.fromkeys(one.word for check in registry.CHECKS for one in check.verdicts))
COUNTS = _list(_row(_VERDICT, _TEXT, _COUNT))
GROUPS = _list(_row(_TEXT, _COUNT))
KINDS = _list(_KIND, 1_000)
CROSSING = _list(_row(_TEXT, _TEXT, _FATE, _COUNT))
FINDINGS = _list(_row(_STATE, _WEIGHT, _KIND, _COUNT))

WEIGHTS = _list(_WEIGHT, 1_000)
NUMBERS = _list(_COUNT, 100_000)

_CAUSE = _record(
    {
        "show": {"type": "object", "additionalProperties": _TEXT, "maxProperties": 10},
        "number": _COUNT,
        "visits": _COUNT,
        "certainty": _one_of(one.word for one in Certainty),
        "who": _one_of(one.value for one in Who),
    },
    raised=_TRUTH,
    kind=_TEXT,
    weight=_WEIGHT,
    title=_TEXT,
    detail=_TEXT,
    remedy=_TEXT,
    findings=_COUNT,
    rows=_COUNT,
    line=_TEXT,
    instead=_TEXT,
    everywhere=_TRUTH,
)

CAUSES = _list(_CAUSE, 10_000)
ASIDE = _counts_by_word(100_000)
"""By the numbers of findings."""

BASIS: Shape = {
    "anyOf": [
        _record(),
        _record(counts=_record(**dict.fromkeys((fate.word for fate in Fate), _COUNT)), limits=TEXTS, unseen=TEXTS),
    ]
}

STANDING: Shape = {
    "anyOf": [
        {"type": "object", "maxProperties": 0},
        _record(
            {"since": {"anyOf": [{"type": "null"}, _counts_by_word(10)]}, "not_looked_at": TEXTS, "causes": CAUSES},
            sentence=_TEXT,
            summary=_TEXT,
            blocks=_TRUTH,
        ),
    ]
}

SCOPE: Shape = {
    "anyOf": [
        _record(address=_TEXT),
        _record(section=_TEXT),
        _record(left=_TEXT, right=_TEXT),
        _record(marks={"type": "string", "pattern": "^[A-Za-z0-9+/]*=*$", "maxLength": 1_000_000}),
        _record(side=_SIDE, what=_one_of(["certificate", "robots"])),
        _record(what=_one_of(["baseline"]), capture={"type": "string", "pattern": "^[0-9]{1,18}$"}),
        _record(what=_one_of(["weight"]), kind=_KIND, weight=_WEIGHT),
        {
            "type": "object",
            "properties": {"what": _one_of(["field", "words", "numbers", "region"])},
            "required": ["what"],
            "additionalProperties": {"anyOf": [_TEXT, _MEASURE, _TRUTH, {"type": "null"}]},
            "maxProperties": 20,
        },
    ]
}
"""What a decision is about; of an expectation, core/expected.py has the last word."""

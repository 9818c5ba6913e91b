"""Any listing in JSON, read by a mapping that a person makes: where its entries stand, and what is said of each."""

from collections.abc import Mapping
from dataclasses import dataclass, fields
from typing import Any

from palinode.core.options import option
from palinode.core.platforms.platform import Field

MOST_MAPPINGS = 20


@dataclass(frozen=True)
class JsonMapping:
    """Where the entries of one listing are. Places in an answer are names parted by points: ``data.items``."""

    noun: str = option("", "What an entry is", "As its row in Counts calls it: product, recipe.")
    address: str = option("", "Address", "Of the listing, below the home page: api/products?per_page=100.")
    items: str = option(
        "", "List", "Where the list stands in the answer: data.items. Empty where the answer is the list."
    )
    identity: str = option("id", "Number", "Where an entry's number or name stands in it, by which it is known.")
    title: str = option("title", "Title", "Where its title stands.")
    slug: str = option("", "Slug", "Where its name in addresses stands; empty for nowhere.")
    date: str = option("", "Date", "Where its date stands; empty for nowhere.")
    status: str = option("", "Status", "Where its status stands; empty for nowhere.")
    link: str = option("", "Link", "Where the address of its page stands; empty for nowhere.")
    next: str = option("", "Next page", "Where the address of the next page stands: links.next.")
    page: str = option("", "Page parameter", "Or the parameter that numbers pages, from 1 on: page.")


class MappingError(ValueError):
    """A mapping does not fit an answer; ``field`` is what is wrong in it, the message is for a person."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


_OF_FIELDS = {
    Field.IDENTITY: "identity",
    Field.TITLE: "title",
    Field.SLUG: "slug",
    Field.DATE: "date",
    Field.STATUS: "status",
    Field.LINK: "link",
}


def check(mapping: JsonMapping) -> None:
    """Raise MappingError for a mapping that lacks what none can lack."""
    for name in ("noun", "address", "identity"):
        if not getattr(mapping, name).strip():
            raise MappingError(name, "This is needed.")


def plain(mapping: JsonMapping) -> dict[str, str]:
    """Return it as it is kept."""
    return {one.name: getattr(mapping, one.name) for one in fields(mapping)}


def entries(mapping: JsonMapping, answer: Any) -> list[dict[str, str]]:
    """Return what an answer says of its entries, by the names of fields. Raises MappingError where it does not fit."""
    found = at(answer, mapping.items)
    if not isinstance(found, list):
        known = ", ".join(map(str, answer)) if isinstance(answer, Mapping) else type(answer).__name__
        raise MappingError(
            "items", f"There is no list at “{mapping.items or 'the top'}”. The answer has: {known[:200]}."
        )
    told = []
    for number, one in enumerate(found, 1):
        said = {
            field.value: text(at(one, getattr(mapping, name)))
            for field, name in _OF_FIELDS.items()
            if getattr(mapping, name)
        }
        if not said[Field.IDENTITY]:
            known = ", ".join(map(str, one)) if isinstance(one, Mapping) else type(one).__name__
            raise MappingError(
                "identity", f"Entry {number:,} has nothing at “{mapping.identity}”. It has: {known[:200]}."
            )
        told.append(said | {Field.TYPE.value: mapping.noun.strip()})
    return told


def at(value: Any, place: str) -> Any:
    """Return what stands at a place of a value; None for nothing."""
    for name in filter(None, place.split(".")):
        if isinstance(value, Mapping):
            value = value.get(name)
        elif isinstance(value, list) and name.isdigit() and int(name) < len(value):
            value = value[int(name)]
        else:
            return None
    return value


def text(value: Any) -> str:
    """Return a value as it is compared; what is neither text nor number is none."""
    if isinstance(value, bool) or not isinstance(value, str | int | float):
        return ""
    return str(value).replace("\0", "")

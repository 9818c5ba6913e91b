"""Options: a dataclass with a default for each, described for a person, read from what a person typed."""

from collections.abc import Mapping
from dataclasses import MISSING, asdict, dataclass, field, fields
from typing import Any

KINDS = ("truth", "number", "text", "lines")
MOST_LINES = 1_000
MOST_CHARACTERS = 1_000
"""Of a text, or of a line."""


class OptionError(ValueError):
    """A bad value for an option, which ``option`` names; the message is for a person."""

    def __init__(self, option: str, message: str) -> None:
        super().__init__(message)
        self.option = option


@dataclass(frozen=True)
class Described:
    """One option as it is shown."""

    name: str
    label: str
    help: str
    kind: str
    """``truth``, ``number``, ``text`` or ``lines``, by its default."""
    default: Any


def option(default: Any, label: str = "", help: str = "", least: float = 0, most: float = 1e9) -> Any:
    """Return a field of a dataclass of options, by its default: a bool, a number, a str, or a tuple of str (lines).

    A number is from ``least`` to ``most``.
    """
    return field(default=default, metadata={"label": label, "help": help, "least": least, "most": most})


def described(options: type) -> list[Described]:
    """Return options as their dataclass declares them."""
    return [
        Described(one.name, one.metadata["label"], one.metadata["help"], _kind(one.default), _plain(one.default))
        for one in fields(options)
        if one.default is not MISSING
    ]


def read(options: type, given: Mapping[str, Any]) -> Any:
    """Return options: what is given, and defaults for the rest. Raises OptionError for unknown names and bad values."""
    known = {one.name: one for one in fields(options)}
    if unknown := set(given) - set(known):
        raise OptionError(sorted(unknown)[0], "There is no such option.")
    return options(**{name: _read(known[name], value) for name, value in given.items()})


def kept(options: type, values: Mapping[str, Any]) -> Any:
    """Return options that were kept; what this version does not know any more is left out."""
    known = {one.name for one in fields(options)}
    return read(options, {name: value for name, value in values.items() if name in known})


def plain(options: Any) -> dict[str, Any]:
    """Return options as they are kept."""
    return {name: _plain(value) for name, value in asdict(options).items()}


def _kind(default: Any) -> str:
    if isinstance(default, bool):
        return "truth"
    if isinstance(default, int | float):
        return "number"
    return "lines" if isinstance(default, tuple) else "text"


def _plain(value: Any) -> Any:
    return list(value) if isinstance(value, tuple) else value


def _read(one: Any, value: Any) -> Any:
    kind, said = _kind(one.default), one.metadata
    if kind == "truth" and isinstance(value, bool):
        return value
    if kind == "number":
        if isinstance(value, bool) or not isinstance(value, int | float) or not said["least"] <= value <= said["most"]:
            raise OptionError(one.name, f"Give a number from {said['least']:,.15g} to {said['most']:,.15g}.")
        return type(one.default)(value)
    if kind == "text" and isinstance(value, str):
        return _text(one.name, value)
    if kind == "lines" and isinstance(value, list) and all(isinstance(line, str) for line in value):
        if len(value) > MOST_LINES:
            raise OptionError(one.name, f"{len(value):,} lines; {MOST_LINES:,} are the most.")
        lines = (_text(one.name, line) for line in value)
        return tuple(dict.fromkeys(line for line in lines if line))
    wanted = {"truth": "Say yes or no.", "text": "Give a text.", "lines": "Give lines."}
    raise OptionError(one.name, wanted[kind])


def _text(name: str, value: str) -> str:
    if len(value) > MOST_CHARACTERS:
        raise OptionError(name, f"A text of {len(value):,} characters; {MOST_CHARACTERS:,} are the most.")
    return value.strip()

"""A command for files that tell of a site from behind it: what a dump or an export holds, without a move."""

import argparse
import json
import sys
from collections import Counter
from contextlib import ExitStack
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any

from palinode.project.commands.installation import Refused

if TYPE_CHECKING:
    from palinode.core.dumps.contents import Contents, Table
    from palinode.core.platforms.items import Count, Installation
    from palinode.gather.told_files import Dump, ExportPart, FileList


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add this command to those of the command line."""
    contents = commands.add_parser(
        "contents", help="say what a dump of a database, an export or a list of files holds, and whether it is whole"
    )
    contents.add_argument(
        "files", metavar="FILE", nargs="+", help="a dump, plain or packed; or all parts of one WordPress export"
    )
    contents.add_argument("--entry", default="", help="the one in an archive that holds several")
    contents.add_argument("--json", action="store_true", help="all that was read, for a program")
    # It needs files alone: no installation has to run.
    contents.set_defaults(run=_contents, alone=True)


def _contents(options: argparse.Namespace) -> int:
    from palinode.core.dumps.script import DumpError
    from palinode.core.exports.wxr import ExportError
    from palinode.core.listings.listing import ListingError
    from palinode.gather import told_files
    from palinode.gather.packed import PackedError
    from palinode.gather.told_files import Dump, ExportPart

    name = ""
    try:
        with ExitStack() as stack:
            parts: list[ExportPart] = []
            for path in options.files:
                name = Path(path).name
                opened = told_files.opened(stack.enter_context(open(path, "rb")), name, options.entry)
                if isinstance(opened, ExportPart):
                    parts.append(opened)
                elif len(options.files) > 1:
                    raise Refused(f"{opened.said} Give it alone: only an export has parts.")
                elif isinstance(opened, Dump):
                    return _say(options.json, [opened.said], *_of_dump(opened))
                else:
                    return _say_listing(options.json, opened)
            return _say(options.json, [part.said for part in parts], *_of_export(parts))
    except (OSError, PackedError) as error:
        raise Refused(str(error)) from None
    except (DumpError, ExportError, ListingError) as error:
        raise Refused(f"{name}: {error}") from None


def _of_dump(opened: "Dump") -> "tuple[list[Installation], str, Contents | None]":
    from palinode.core import platforms
    from palinode.core.dumps import contents
    from palinode.core.platforms.inventory import Inventory

    inventory = Inventory(platforms.ALL)
    told = contents.gather(opened.script().parts(), inventory.take)
    return inventory.installations(list(told.tables.values())), told.ends_early, told


def _of_export(parts: "list[ExportPart]") -> "tuple[list[Installation], str, Contents | None]":
    from palinode.core.exports.wxr import Export

    export = Export()
    for part in parts:
        part.add_to(export)
    return [export.installation], export.ends_early, None


def _say(as_json: bool, said: list[str], found: "list[Installation]", ends_early: str, told: "Contents | None") -> int:
    if as_json:
        json.dump(_plain(said, found, ends_early, told), sys.stdout, indent=1)
        print()
    else:
        lines = [*said, *(_tables(told) if told else [])]
        for one in found:
            lines.append(f"{one.platform.name}{f', its tables beginning with {one.prefix}' if one.prefix else ''}:")
            lines += [f"{count.number:>12,}  {_words(count)}" for count in one.counts()]
        print("\n".join([*lines, ends_early or "It ends as it should."]))
    return 1 if ends_early else 0


def _say_listing(as_json: bool, opened: "FileList") -> int:
    from palinode.core.listings.listing import UNKNOWN
    from palinode.core.wording import number, sentence

    listed = opened.listing()
    sizes = listed.size[listed.size != UNKNOWN]
    folders = Counter(path.partition("/")[0] + "/" if "/" in path else "" for path in listed.paths)
    if as_json:
        told = {"what": [opened.said], "files": len(listed), "unread": listed.unread, "folders": folders}
        json.dump(told | ({"size": int(sizes.sum())} if len(sizes) else {}), sys.stdout, indent=1)
        print()
        return 0
    size = f", {_size(int(sizes.sum()))}, {int((sizes == 0).sum()):,} of them empty" if len(sizes) else ""
    print(opened.said)
    print(f"{sentence(number(len(listed), 'file'))}{size}.")
    for folder, files in folders.most_common():
        print(f"{files:>12,}  {folder or 'in no folder'}")
    if listed.unread:
        print(
            f"{sentence(number(listed.unread, 'line says', 'lines say'))} nothing of a file that could be understood."
        )
    return 0


def _tables(told: "Contents") -> list[str]:
    from palinode.core.wording import number

    tables = list(told.tables.values())
    beside = ", ".join(number(len(names), kind) for kind, names in told.beside.items())
    server = f"Server {told.server}: " if told.server else ""
    rows = number(sum(one.rows for one in tables), "row")
    lines = [f"{server}{number(len(tables), 'table')}, {rows}{f'; besides {beside}, not read' if beside else ''}."]
    if tables:
        lines.append(f"{'rows':>12} {'size':>10} {'largest row':>12}  table")
    return lines + [f"{one.rows:>12,} {_size(one.size):>10} {_size(one.largest):>12}  {_name(one)}" for one in tables]


def _words(count: "Count") -> str:
    return f"{count.noun}{f', {count.status}' if count.status else ''}{' (set aside)' if count.folded else ''}"


def _name(table: "Table") -> str:
    return f"{table.database}.{table.name}" if table.database else table.name


def _size(size: int) -> str:
    if size >= 1_000_000:
        return f"{size / 1_000_000:,.1f} MB"
    return f"{size / 1_000:,.1f} KB" if size >= 1_000 else f"{size} B"


def _plain(said: list[str], found: "list[Installation]", ends_early: str, told: "Contents | None") -> dict[str, Any]:
    plain: dict[str, Any] = {
        "what": said,
        "platforms": [
            {"name": one.platform.name, "prefix": one.prefix, "counts": [asdict(count) for count in one.counts()]}
            for one in found
        ],
        "ends_early": ends_early,
    }
    if told:
        plain["server"] = told.server
        plain["tables"] = [asdict(one) for one in told.tables.values()]
        plain["beside"] = {kind: sorted(names) for kind, names in told.beside.items()}
    return plain

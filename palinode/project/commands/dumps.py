"""Commands for dumps of databases: what a file holds, without a move."""

import argparse
import json
import sys
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any

from palinode.project.commands.installation import Refused

if TYPE_CHECKING:
    from palinode.core.dumps.contents import Contents, Table
    from palinode.core.platforms.inventory import Count, Installation
    from palinode.gather.dumps import OpenDump


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add these commands to those of the command line."""
    dump = commands.add_parser("dump", help="say what a dump of a database holds, and whether it ends as it should")
    dump.add_argument("file", help="as mariadb-dump, mysqldump or pg_dump writes it, plain or packed")
    dump.add_argument("--entry", default="", help="the dump in an archive that holds several")
    dump.add_argument("--json", action="store_true", help="all that was read, for a program")
    # It needs a file alone: no installation has to run.
    dump.set_defaults(run=_dump, alone=True)


def _dump(options: argparse.Namespace) -> int:
    from palinode.core import platforms
    from palinode.core.dumps import contents
    from palinode.core.dumps.script import DumpError
    from palinode.core.platforms.inventory import Inventory
    from palinode.gather.dumps import OpenDump
    from palinode.gather.packed import PackedError

    name = Path(options.file).name
    try:
        with open(options.file, "rb") as file:
            opened = OpenDump(file, name, options.entry)
            if not options.json:
                print(opened.said, flush=True)
            inventory = Inventory(platforms.ALL)
            told = contents.gather(opened.script().parts(), inventory.take)
            found = inventory.installations(list(told.tables.values()))
    except (OSError, PackedError) as error:
        raise Refused(str(error)) from None
    except DumpError as error:
        raise Refused(f"{name}: {error}") from None
    if options.json:
        json.dump(_plain(opened, told, found), sys.stdout, indent=1)
        print()
    else:
        for line in _lines(told, found):
            print(line)
    return 1 if told.ends_early else 0


def _lines(told: "Contents", found: "list[Installation]") -> list[str]:
    from palinode.core.wording import number

    tables = list(told.tables.values())
    beside = ", ".join(number(len(names), kind) for kind, names in told.beside.items())
    server = f"Server {told.server}. " if told.server else ""
    rows = number(sum(one.rows for one in tables), "row")
    lines = [f"{server}{number(len(tables), 'table')}, {rows}{f'; besides {beside}, not read' if beside else ''}."]
    if tables:
        lines.append(f"{'rows':>12} {'size':>10} {'largest row':>12}  table")
    lines += [f"{one.rows:>12,} {_size(one.size):>10} {_size(one.largest):>12}  {_name(one)}" for one in tables]
    for one in found:
        lines.append(f"{one.platform.name}{f', its tables beginning with {one.prefix}' if one.prefix else ''}:")
        lines += [f"{count.number:>12,}  {_words(count)}" for count in one.counts()]
    return [*lines, told.ends_early or "It ends as it should."]


def _words(count: "Count") -> str:
    return f"{count.noun}{f', {count.status}' if count.status else ''}{' (set aside)' if count.folded else ''}"


def _name(table: "Table") -> str:
    return f"{table.database}.{table.name}" if table.database else table.name


def _size(size: int) -> str:
    return (
        f"{size / 1_000_000:,.1f} MB"
        if size >= 1_000_000
        else f"{size / 1_000:,.1f} KB"
        if size >= 1_000
        else f"{size} B"
    )


def _plain(opened: "OpenDump", told: "Contents", found: "list[Installation]") -> dict[str, Any]:
    return {
        "what": opened.said,
        "server": told.server,
        "tables": [asdict(one) for one in told.tables.values()],
        "beside": {kind: sorted(names) for kind, names in told.beside.items()},
        "platforms": [
            {"name": one.platform.name, "prefix": one.prefix, "counts": [asdict(count) for count in one.counts()]}
            for one in found
        ],
        "ends_early": told.ends_early,
    }

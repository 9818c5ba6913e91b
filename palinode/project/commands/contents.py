"""A command for files that tell of a site from behind it: what a dump or an export holds, without a move."""

import argparse
import json
import sys
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path
from typing import TYPE_CHECKING

from palinode.project.commands.installation import Refused

if TYPE_CHECKING:
    from palinode.work.importing.told_contents import Told


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
    from palinode.gather import told_files
    from palinode.gather.told_files import ExportPart
    from palinode.work.importing import told_contents

    name = ""
    try:
        with ExitStack() as stack:
            files = []
            for path in options.files:
                name = Path(path).name
                files.append(told_files.opened(stack.enter_context(open(path, "rb")), name, options.entry))
                if len(options.files) > 1 and not isinstance(files[-1], ExportPart):
                    raise Refused(f"{files[-1].said} Give it alone: only an export has parts.")
            *_, told = told_contents.steps(files)
    except OSError as error:
        raise Refused(str(error)) from None
    except told_contents.ERRORS as error:
        said = str(error)
        raise Refused(said if said.startswith(name) else f"{name}: {said}") from None
    assert isinstance(told, dict), "it is the last step"
    if options.json:
        json.dump(told, sys.stdout, indent=1)
        print()
    else:
        print("\n".join([told["what"], told["summary"], *_lines(told)]))
    return 1 if told["ends_early"] else 0


def _lines(told: "Told") -> Iterator[str]:
    if tables := told.get("tables", []):
        yield f"{'rows':>12} {'size':>10} {'largest row':>12}  table"
    for one in tables:
        name = f"{one['database']}.{one['name']}" if one["database"] else one["name"]
        yield f"{one['rows']:>12,} {_size(one['size']):>10} {_size(one['largest']):>12}  {name}"
    for one in told.get("platforms", []):
        yield f"{one['name']}{', its tables beginning with ' + one['prefix'] if one['prefix'] else ''}:"
        for count in one["counts"]:
            status = f", {count['status']}" if count["status"] else ""
            yield f"{count['number']:>12,}  {count['noun']}{status}{' (set aside)' if count['folded'] else ''}"
    for one in told.get("folders", []):
        yield f"{one['files']:>12,}  {one['name'] or 'in no folder'}"
    if told.get("size") is not None:
        yield f"Together {_size(told['size'])}; {told['empty']:,} of them empty."
    if told.get("unread"):
        yield f"{told['unread']:,} lines say nothing of a file that could be understood."
    if "files" not in told:
        yield told["ends_early"] or "It ends as it should."


def _size(size: int) -> str:
    if size >= 1_000_000:
        return f"{size / 1_000_000:,.1f} MB"
    return f"{size / 1_000:,.1f} KB" if size >= 1_000 else f"{size} B"

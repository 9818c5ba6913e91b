"""A command for site files: what a dump, an export or a list of files holds, without a move."""

import argparse
import json
import sys
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path
from typing import TYPE_CHECKING

from palinode.core.wording import size
from palinode.project.commands.installation import Refused

if TYPE_CHECKING:
    from palinode.core.site_contents import SiteContents


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add this command to those of the command line."""
    contents = commands.add_parser(
        "contents", help="say what a dump of a database, an export or a list of files holds, and whether it is whole"
    )
    contents.add_argument(
        "files", metavar="FILE", nargs="+", help="a dump, plain or packed; or all parts of one WordPress export"
    )
    contents.add_argument("--entry", default="", help="the one in an archive that holds several")
    contents.add_argument(
        "--limit",
        metavar="NAME=NUMBER",
        action="append",
        default=[],
        help="of a new host, to say whether a dump fits: upload, memory, packet, disk (MB), seconds; may be repeated",
    )
    contents.add_argument("--json", action="store_true", help="all that was read, for a program")
    # It needs files alone: no installation has to run.
    contents.set_defaults(run=_contents, alone=True)


def _contents(options: argparse.Namespace) -> int:
    from palinode.core.site_contents import SiteContents
    from palinode.gather import site_files
    from palinode.gather.site_files import ExportPart
    from palinode.work.importing import site_file_reading

    name = ""
    try:
        with ExitStack() as stack:
            files = []
            for path in options.files:
                name = Path(path).name
                files.append(site_files.opened(stack.enter_context(open(path, "rb")), name, options.entry))
                if len(options.files) > 1 and not isinstance(files[-1], ExportPart):
                    raise Refused(f"{files[-1].said} Give it alone: only an export has parts.")
            *_, held = site_file_reading.steps(files)
    except OSError as error:
        raise Refused(str(error)) from None
    except site_file_reading.ERRORS as error:
        said = str(error)
        raise Refused(said if said.startswith(name) else f"{name}: {said}") from None
    assert isinstance(held, SiteContents), "it is the last step"
    what = " ".join(file.said for file in files)
    if options.json:
        in_words = {"what": what, "summary": held.summary, "ends_early": held.ends_early}
        json.dump(in_words | held.plain, sys.stdout, indent=1)
        print()
    else:
        print("\n".join([what, held.summary, *_lines(held), *_fits(held, options)]))
    return 1 if held.ends_early else 0


def _fits(held: "SiteContents", options: argparse.Namespace) -> Iterator[str]:
    """Say of a dump what fits the limits that were given, and what does not. Raises Refused for one that is none."""
    from palinode.core import fit
    from palinode.core import options as described
    from palinode.core.options import OptionError

    pairs = (one.partition("=") for one in options.limit)
    try:
        limits = described.read(fit.Limits, {name: float(number) for name, _, number in pairs})
    except (OptionError, ValueError) as error:
        raise Refused(f"--limit: {error} Say upload=64, say.") from None
    size_of_file = sum(Path(one).stat().st_size for one in options.files)
    for point in fit.points(held.plain, size_of_file, limits):
        yield f"{'' if point.fits else 'Does not fit: '}{point.said}"


def _lines(held: "SiteContents") -> Iterator[str]:
    plain = held.plain
    if plain.get("server"):
        yield f"Its server was {plain['server']}."
    if plain.get("tables"):
        yield f"{'rows':>12} {'size':>10} {'largest row':>12}  table"
    for one in plain.get("tables", []):
        name = f"{one['database']}.{one['name']}" if one["database"] else one["name"]
        yield f"{one['rows']:>12,} {size(one['size']):>10} {size(one['largest']):>12}  {name}"
    for one in plain.get("platforms", []):
        yield f"{one['name']}{', its tables beginning with ' + one['prefix'] if one['prefix'] else ''}:"
        for count in one["counts"]:
            status = f", {count['status']}" if count["status"] else ""
            yield f"{count['number']:>12,}  {count['noun']}{status}{' (set aside)' if count['folded'] else ''}"
    for what, count in plain.get("numbers", {}).items():
        yield f"{count:>12,}  {what}"
    for one in plain.get("folders", []):
        yield f"{one['files']:>12,}  {one['name'] or 'in no folder'}"
    if plain.get("size") is not None:
        yield f"Together {size(plain['size'])}; {plain['empty']:,} of them empty."
    if plain.get("unread"):
        yield f"{plain['unread']:,} lines say nothing of a file that could be understood."
    if "files" not in plain:
        yield held.ends_early or "It ends as it should."

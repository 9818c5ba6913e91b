"""Commands for what is kept: archives of moves, and their WARC files verified."""

import argparse
from pathlib import Path

from palinode.project.commands.installation import Refused, account, move_named


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add these commands to those of the command line."""
    archive = commands.add_parser("archive", help="export a move as one file, or import one")
    taken = archive.add_subparsers(required=True, metavar="ACTION")
    take = taken.add_parser("export", help="write the archive of a move")
    take.add_argument("move", help="its name or number")
    take.add_argument("file", help="where to write it")
    take.set_defaults(run=_take)
    back = taken.add_parser("import", help="make a move of an archive")
    back.add_argument("file")
    back.add_argument("--user", help="whose move it is; the first account without it")
    back.set_defaults(run=_import_archive)
    verify = commands.add_parser("verify", help="check the WARC files of a move against their digests")
    verify.add_argument("move", help="its name or number")
    verify.set_defaults(run=_verify)


def _take(options: argparse.Namespace) -> int:
    from palinode.work.importing import archives

    move = move_named(options.move)
    try:
        with open(options.file, "wb") as file:
            for part in archives.export_move(move):
                file.write(part)
    except OSError as error:
        raise Refused(str(error)) from None
    print(f"{move.name} is in {options.file}.")
    return 0


def _import_archive(options: argparse.Namespace) -> int:
    from palinode.work.importing import archives

    try:
        with open(options.file, "rb") as file:
            move = archives.import_move(file, Path(options.file).name, account(options.user))
    except (OSError, archives.ArchiveRefused) as error:
        raise Refused(str(error)) from None
    print(f"Move {move.pk}: {move.name}.")
    return 0


def _verify(options: argparse.Namespace) -> int:
    from palinode.records.models import CaptureFile, Segment
    from palinode.work import evidence_check

    move = move_named(options.move)
    faulty = evidence_check.verify_all(move)
    kept = Segment.objects.filter(capture__move=move, let_go_at=None)
    files = CaptureFile.objects.filter(capture__move=move).defer("contents")
    for one in (*kept.exclude(fault=""), *files.exclude(fault="")):
        print(f"{one.name}: {one.fault}")
    number = kept.count() + files.count()
    print(f"{number - faulty:,} of {number:,} files are as they were kept.")
    return 1 if faulty else 0

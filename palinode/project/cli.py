"""The command line for scripts, on the same code as the views.

Exit status: 0 done, 1 done and differences block the switch, 2 could not be done.
"""

import argparse
import sys

from palinode.project import commands
from palinode.project.commands.installation import Refused, set_up


def main() -> None:
    """Run one command."""
    options = _parser().parse_args()
    try:
        if not getattr(options, "alone", False):
            set_up()
        sys.exit(options.run(options))
    except Refused as refused:
        print(f"palinode: {refused}", file=sys.stderr)
        sys.exit(2)
    except KeyboardInterrupt:
        print("\npalinode: interrupted; a capture that runs goes on in the background.", file=sys.stderr)
        sys.exit(2)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="palinode", description=__doc__)
    added = parser.add_subparsers(required=True, metavar="COMMAND")
    for command in commands.ALL:
        command.add_to(added)
    return parser


if __name__ == "__main__":
    main()

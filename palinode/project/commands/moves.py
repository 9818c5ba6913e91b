"""Commands for moves: describe one, list all."""

import argparse
from dataclasses import replace

from palinode.project.commands.installation import Refused, account


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add these commands to those of the command line."""
    move = commands.add_parser("move", help="moves: add, list").add_subparsers(required=True, metavar="ACTION")
    add = move.add_parser("add", help="describe a move")
    add.add_argument("name")
    add.add_argument("source", help="address of the site as it was")
    add.add_argument("destination", help="address of the copy")
    add.add_argument("--connect-source", default="", metavar="HOST[:PORT]")
    add.add_argument("--connect-destination", default="", metavar="HOST[:PORT]")
    add.add_argument("--line", action="append", default=[], metavar="'OLD -> NEW'", help="a line of the address rule")
    add.add_argument(
        "--host",
        action="append",
        default=[],
        metavar="'OLD -> NEW'",
        help="a further host of the source, and the one that takes its place; either may be left out",
    )
    add.add_argument(
        "--connect-host",
        action="append",
        default=[],
        metavar="NAME=HOST[:PORT]",
        help="connect-to of a further host",
    )
    add.add_argument("--user", help="whose move it is; the first account without it")
    add.set_defaults(run=_add)
    move.add_parser("list", help="list the moves").set_defaults(run=_list)


def _add(options: argparse.Namespace) -> int:
    from palinode.core.address import AddressError
    from palinode.core.connect import ConnectError
    from palinode.core.rule import RuleError
    from palinode.work import move_setup

    user = account(options.user)
    try:
        old, new = move_setup.typed_hosts(options.host, options.connect_host)
        source = replace(move_setup.typed_side(options.source, options.connect_source), further=old)
        destination = replace(move_setup.typed_side(options.destination, options.connect_destination), further=new)
        move = move_setup.describe(options.name, source, destination, options.line, user)
    except (AddressError, ConnectError, RuleError) as error:
        raise Refused(str(error)) from None
    print(f"Move {move.pk}: {move.name}, {move.get_kind_display()}.")
    return 0


def _list(options: argparse.Namespace) -> int:
    from palinode.records.models import Move

    for move in Move.objects.all():
        print(f"{move.pk:>5}  {move.name}  ({move.get_kind_display()}, {move.stage})")
    return 0

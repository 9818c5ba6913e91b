"""The command that makes accounts, for an installation that nobody can reach from its own machine's browser."""

import argparse
import getpass
import sys

from palinode.project.commands.installation import Refused


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add these commands to those of the command line."""
    account = commands.add_parser("account", help="accounts: add").add_subparsers(required=True, metavar="ACTION")
    add = account.add_parser("add", help="make an account; the password is asked for, or read from standard input")
    add.add_argument("name")
    add.add_argument("--owner", action="store_true", help="who may make accounts for others; the first one always may")
    add.set_defaults(run=_add)


def _add(options: argparse.Namespace) -> int:
    from palinode.records import accounts

    try:
        accounts.check_name(options.name)
        user = accounts.add(options.name, _password(), options.owner or not accounts.any_there())
    except accounts.AccountError as error:
        raise Refused(str(error)) from None
    print(f"{user.get_username()} can sign in{' and owns this installation' if user.is_superuser else ''}.")
    return 0


def asked(what: str) -> str:
    """Return a secret that a person types, unseen; or the first line of what is piped in."""
    return getpass.getpass(f"{what}: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\r\n")


def _password() -> str:
    password = asked("Password")
    if sys.stdin.isatty() and getpass.getpass("Once more: ") != password:
        raise Refused("the two passwords differ.")
    return password

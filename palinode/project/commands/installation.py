"""The installation that a command speaks to, and who and what it names there."""

import os
from pathlib import Path
from typing import TYPE_CHECKING

import django

if TYPE_CHECKING:
    from django.contrib.auth.models import User

    from palinode.records.models import Move

CHECKOUT = Path(__file__).resolve().parent.parent.parent.parent


class Refused(Exception):
    """What was asked cannot be done; the message is for a person."""


def set_up() -> None:
    """Find the installation that runs: as the environment says, else the one of bin/serve, else the demo's."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "palinode.project.settings")
    if "PALINODE_DATABASE" not in os.environ:
        given = os.environ.get("PALINODE_DATA")
        folders = [Path(given)] if given else [CHECKOUT / "var" / "serve", CHECKOUT / "var" / "demo"]
        data = next((folder for folder in folders if (folder / "database").exists()), None)
        if data is None:
            raise Refused("no installation is here. Start bin/serve or bin/demo first.")
        os.environ["PALINODE_DATA"] = str(data)
        os.environ["PALINODE_DATABASE"] = (data / "database").read_text()
    django.setup()
    from django.db import OperationalError, connection

    try:
        connection.ensure_connection()
    except OperationalError:
        raise Refused("the database does not answer. Is bin/serve or bin/demo running?") from None


def move_named(named: str) -> "Move":
    """Return the move with a number or a name; Refused if there is not exactly one."""
    from palinode.records.models import Move

    found = Move.objects.filter(pk=int(named)) if named.isdigit() else Move.objects.filter(name=named)
    if len(found) != 1:
        said = "there is no move" if not found else "there are several moves"
        raise Refused(f"{said} {named!r}. List them with: palinode move list")
    return found[0]


def account(name: str | None) -> "User":
    """Return an account by its name, the first without one; Refused if there is none."""
    from django.contrib.auth.models import User

    user = User.objects.filter(username=name).first() if name else User.objects.order_by("pk").first()
    if user is None:
        raise Refused("there is no such account. Make one with: palinode account add NAME")
    return user


def owner(move: "Move") -> "User":
    """Return the account under whose name the command line acts."""
    return move.memberships.filter(role="owner")[0].user

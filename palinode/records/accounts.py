"""Accounts: who may sign in to this installation. The first one owns it."""

import re

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, connection, transaction

_NAME = re.compile(r"[\w.@+-]{1,150}")


class AccountError(ValueError):
    """An account cannot be made; ``field`` names what is wrong, the message is for a person."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


class OwnerThere(AccountError):
    """There is an owner already."""

    def __init__(self) -> None:
        super().__init__("username", "There is an owner already. Sign in, or ask the owner for an account.")


def any_there() -> bool:
    """Whether anybody has an account."""
    return User.objects.exists()


def check_name(name: str) -> None:
    """Raise AccountError for a name that cannot be."""
    if not _NAME.fullmatch(name):
        raise AccountError("username", "Use letters, digits and @ . + - _ only, 150 of them at most.")


def check_password(password: str, field: str = "password") -> None:
    """Raise AccountError for a weak password, saying why."""
    try:
        validate_password(password)
    except ValidationError as error:
        raise AccountError(field, " ".join(error.messages)) from None


def add(name: str, password: str, owner: bool = False) -> User:
    """Make an account; an owner's makes accounts for others. Raises AccountError."""
    check_name(name)
    check_password(password)
    make = User.objects.create_superuser if owner else User.objects.create_user
    try:
        with transaction.atomic():
            return make(name, password=password)
    except IntegrityError:
        raise AccountError("username", "There is an account of this name already.") from None


def add_first(name: str, password: str) -> User:
    """Make the owner's account, if nobody has one yet. Raises OwnerThere, and AccountError."""
    with transaction.atomic(), connection.cursor() as cursor:
        # Two first visits at once make one owner.
        cursor.execute("LOCK TABLE auth_user IN SHARE ROW EXCLUSIVE MODE")
        if any_there():
            raise OwnerThere
        return add(name, password, owner=True)

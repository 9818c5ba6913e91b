"""Signing in, the account, tokens."""

from collections.abc import Callable

from django.contrib.auth.models import User
from rest_framework import serializers

from palinode.records import accounts


class UserSerializer(serializers.ModelSerializer[User]):
    """A person."""

    owner = serializers.BooleanField(source="is_superuser", read_only=True)
    """Of the installation: makes accounts for others."""

    class Meta:
        model = User
        fields = ["id", "username", "owner"]


class SessionSerializer(serializers.Serializer[object]):
    """Who is signed in, and whether anybody has an account yet."""

    user = UserSerializer(allow_null=True)
    first_visit = serializers.BooleanField()
    needs_token = serializers.BooleanField()
    """The first account needs the setup token: who asks does not sit at the machine itself."""


class SignInSerializer(serializers.Serializer[object]):
    """Name and password."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=500, trim_whitespace=False)


def _checked(check: Callable[[str], None]) -> Callable[[str], None]:
    """Return a validator that turns an AccountError into a message beside its field."""

    def validate(value: str) -> None:
        try:
            check(value)
        except accounts.AccountError as error:
            raise serializers.ValidationError(str(error)) from None

    return validate


class NewAccountSerializer(serializers.Serializer[object]):
    """A new account."""

    username = serializers.CharField(max_length=150, validators=[_checked(accounts.check_name)])
    password = serializers.CharField(
        max_length=500, trim_whitespace=False, validators=[_checked(accounts.check_password)]
    )


class OwnerSerializer(NewAccountSerializer):
    """The first account."""

    setup_token = serializers.CharField(max_length=100, allow_blank=True, default="")


class PasswordSerializer(serializers.Serializer[object]):
    """A change of password."""

    old = serializers.CharField(max_length=500, trim_whitespace=False)
    new = serializers.CharField(max_length=500, trim_whitespace=False, validators=[_checked(accounts.check_password)])


class TokenSerializer(serializers.Serializer[object]):
    """A token; its text is told once, when it is made."""

    id = serializers.IntegerField(read_only=True)
    name = serializers.CharField(max_length=100)
    created_at = serializers.DateTimeField(read_only=True)
    text = serializers.CharField(read_only=True, required=False)

"""Signing in, the account, tokens."""

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError as DjangoValidationError
from rest_framework import serializers


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


class SignInSerializer(serializers.Serializer[object]):
    """Name and password."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=500, trim_whitespace=False)


class NewAccountSerializer(SignInSerializer):
    """A new account."""

    username = serializers.RegexField(
        r"^[\w.@+-]+$", max_length=150, error_messages={"invalid": "Use letters, digits and @ . + - _ only."}
    )

    def validate_password(self, value: str) -> str:
        """Refuse weak passwords, saying why."""
        try:
            validate_password(value)
        except DjangoValidationError as error:
            raise serializers.ValidationError(error.messages) from None
        return value


class PasswordSerializer(serializers.Serializer[object]):
    """A change of password."""

    old = serializers.CharField(max_length=500, trim_whitespace=False)
    new = serializers.CharField(max_length=500, trim_whitespace=False)

    validate_new = NewAccountSerializer.validate_password


class TokenSerializer(serializers.Serializer[object]):
    """A token; its text is told once, when it is made."""

    id = serializers.IntegerField(read_only=True)
    name = serializers.CharField(max_length=100)
    created_at = serializers.DateTimeField(read_only=True)
    text = serializers.CharField(read_only=True, required=False)

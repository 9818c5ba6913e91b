"""What drf-spectacular must be told."""

from drf_spectacular.extensions import OpenApiAuthenticationExtension


class TokenScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """Describes the token authentication."""

    target_class = "palinode.api.authentication.TokenAuthentication"
    name = "token"

    def get_security_definition(self, auto_schema: object) -> dict[str, str]:
        """Return the scheme."""
        return {"type": "http", "scheme": "bearer"}

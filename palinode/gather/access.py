"""How a side is reached: connect-to lines, credentials, certificate check."""

from dataclasses import dataclass, field

from palinode.core import address as addresses


@dataclass(frozen=True)
class ConnectTo:
    """Requests for ``host:port`` go to ``address:to_port``; Host, SNI and certificate name stay."""

    host: str
    port: int
    address: str
    to_port: int


@dataclass(frozen=True)
class Access:
    """How to reach one side."""

    base: str
    connect_to: tuple[ConnectTo, ...] = ()
    user_name: str = ""
    sign_in: str = "basic"
    """How user name and password are sent: ``basic`` (RFC 7617) or ``digest`` (RFC 7616)."""
    password: str = field(default="", repr=False)
    cookie: str = field(default="", repr=False)
    header_name: str = ""
    """A header field that is sent besides, say one that a protective proxy asks for."""
    header_value: str = field(default="", repr=False)
    authorities: str = ""
    """File of certificates of further authorities that this installation trusts, besides the system's."""
    any_certificate: bool = False
    """Go on although the certificate does not fit; a person decided so."""

    @property
    def secret_fields(self) -> dict[str, str]:
        """Header fields that only the side's own host is sent, but for what a challenge asks for."""
        fields = {"Cookie": self.cookie, self.header_name: self.header_value}
        return {name: value for name, value in fields.items() if name and value}

    def owns(self, address: str) -> bool:
        """Whether an address is on one of the side's hosts: its own name, bare or with www."""
        return addresses.bare_host(addresses.split(address).host) == addresses.bare_host(self.host)

    @property
    def host(self) -> str:
        """The side's host, with a port that is not the scheme's own."""
        return addresses.split(self.base).host

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
    secrets_to_www: bool = False
    """What lets us in is for the www name of the host, or its bare one, as well; a person said so."""
    any_certificate: bool = False
    """Go on although the certificate does not fit; a person decided so."""

    @property
    def secret_fields(self) -> dict[str, str]:
        """Header fields that only where the side is described to be is sent, but for what a challenge asks for."""
        fields = {"Cookie": self.cookie, self.header_name: self.header_value}
        return {name: value for name, value in fields.items() if name and value}

    def lets_in(self, address: str) -> bool:
        """Whether what lets us in is sent to an address: of the scheme, host and port that it was typed for.

        So it goes over plain HTTP for no side that is described as HTTPS, and to no twin name that nobody named.
        """
        to, ours = addresses.split(address), addresses.split(self.base)
        names = {ours.host} | ({addresses.twin_host(ours.host)} if self.secrets_to_www else set())
        return to.scheme == ours.scheme and to.host in names

    @property
    def host(self) -> str:
        """The side's host, with a port that is not the scheme's own."""
        return addresses.split(self.base).host

"""How a side is reached: its hosts, connect-to lines, credentials, certificate check."""

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
class Credentials:
    """What lets us in at one host, and where it is sent."""

    base: str
    """The address that it was typed for."""
    user_name: str = ""
    sign_in: str = "basic"
    """How user name and password are sent: ``basic`` (RFC 7617) or ``digest`` (RFC 7616)."""
    password: str = field(default="", repr=False)
    cookie: str = field(default="", repr=False)
    header_name: str = ""
    """A header field that is sent besides, say one that a protective proxy asks for."""
    header_value: str = field(default="", repr=False)
    to_www: bool = False
    """It is for the www name of the host, or its bare one, as well; a person said so."""

    @property
    def fields(self) -> dict[str, str]:
        """Header fields that are sent with every request, but for what a challenge asks for."""
        fields = {"Cookie": self.cookie, self.header_name: self.header_value}
        return {name: value for name, value in fields.items() if name and value}

    def let_in(self, address: str) -> bool:
        """Whether they are sent to an address: of the scheme, host and port that they were typed for.

        So they go over plain HTTP for no host that is described as HTTPS, and to no twin name that nobody named.
        """
        to, ours = addresses.split(address), addresses.split(self.base)
        names = {ours.host} | ({addresses.twin_host(ours.host)} if self.to_www else set())
        return to.scheme == ours.scheme and to.host in names


@dataclass(frozen=True)
class Access:
    """How to reach one side."""

    bases: tuple[str, ...]
    """Home page's address of each host, the main one first."""
    connect_to: tuple[ConnectTo, ...] = ()
    credentials: tuple[Credentials, ...] = ()
    authorities: str = ""
    """File of certificates of further authorities that this installation trusts, besides the system's."""
    any_certificate: bool = False
    """Go on although a certificate does not fit; a person decided so."""

    @property
    def base(self) -> str:
        """Home page's address of the main host."""
        return self.bases[0]

    def credentials_for(self, address: str) -> Credentials | None:
        """Return what lets us in at an address, if it is one that something was typed for."""
        return next((one for one in self.credentials if one.let_in(address)), None)

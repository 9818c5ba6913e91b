"""Why an address gave no answer: one list of reasons, and one table of how each is said."""

from enum import Enum


class Reason(Enum):
    """Why nothing was fetched; what follows from it is decided by this, and never by its words."""

    NONE = ""
    FORBIDDEN = "refused: {said}, which this installation does not allow"
    """By the outbound guard."""
    CERTIFICATE = "refused: the certificate does not fit ({said})"
    NO_ADDRESS = "refused: not an address that can be asked for"
    UNRESOLVED = "the host name does not resolve"
    NO_TLS = "no secure connection: the host does not speak TLS here"
    TIMED_OUT = "timed out {times}"
    NOBODY = "nothing listens there: the connection was refused by the host"
    NO_CONNECTION = "no connection: {said}"
    HUNG_UP = "the host hung up {times}"
    BROKE_OFF = "the body broke off {times}"
    NO_HTTP = "the answer is not HTTP {times}"
    SHUT_OUT = "shut out by robots rules"
    RULES_UNKNOWN = "robots.txt {said}"
    """The rules could not be had, so that nothing may be asked (RFC 9309 section 2.3.1.4)."""
    STOPPED = "stopped"

    def words(self, said: str = "", times: str = "") -> str:
        """Return it in words for a person."""
        return self.value.format(said=said, times=times)


FINAL = frozenset({Reason.FORBIDDEN, Reason.CERTIFICATE, Reason.NO_ADDRESS})
"""Asking again would change nothing."""
NOT_THE_HOST = FINAL | {Reason.SHUT_OUT, Reason.RULES_UNKNOWN, Reason.UNRESOLVED, Reason.STOPPED}
"""Nothing was asked of the host, or nobody was there to be burdened."""

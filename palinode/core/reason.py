"""Why an address gave no answer: one list of reasons, and one table of how each is said."""

from enum import IntEnum


class Reason(IntEnum):
    """Why nothing was fetched; what follows from it is decided by this, and never by its words.

    The numbers are kept with answers, so that none ever means something else.
    """

    NONE = 0
    FORBIDDEN = 1
    """By the outbound guard."""
    CERTIFICATE = 2
    NO_ADDRESS = 3
    UNRESOLVED = 4
    NO_TLS = 5
    TIMED_OUT = 6
    NOBODY = 7
    NO_CONNECTION = 8
    HUNG_UP = 9
    BROKE_OFF = 10
    NO_HTTP = 11
    SHUT_OUT = 12
    RULES_UNKNOWN = 13
    """The rules could not be had, so that nothing may be asked (RFC 9309 section 2.3.1.4)."""
    STOPPED = 14
    MUST_WAIT = 15
    """The host asks to wait (RFC 9110 section 10.2.3), for longer than a capture does."""

    def words(self, said: str = "", times: str = "") -> str:
        """Return it in words for a person."""
        return _WORDS[self].format(said=said, times=times)


_WORDS = {
    Reason.NONE: "",
    Reason.FORBIDDEN: "refused: {said}, which this installation does not allow",
    Reason.CERTIFICATE: "refused: the certificate does not fit ({said})",
    Reason.NO_ADDRESS: "refused: not an address that can be asked for",
    Reason.UNRESOLVED: "the host name does not resolve",
    Reason.NO_TLS: "no secure connection: the host does not speak TLS here",
    Reason.TIMED_OUT: "timed out {times}",
    Reason.NOBODY: "nothing listens there: the connection was refused by the host",
    Reason.NO_CONNECTION: "no connection: {said}",
    Reason.HUNG_UP: "the host hung up {times}",
    Reason.BROKE_OFF: "the body broke off {times}",
    Reason.NO_HTTP: "the answer is not HTTP {times}",
    Reason.SHUT_OUT: "shut out by robots rules",
    Reason.RULES_UNKNOWN: "robots.txt {said}",
    Reason.STOPPED: "stopped",
    Reason.MUST_WAIT: "the host asks to wait until {said}",
}

FINAL = frozenset({Reason.FORBIDDEN, Reason.CERTIFICATE, Reason.NO_ADDRESS})
"""Asking again would change nothing."""
NOT_THE_HOST = FINAL | {
    Reason.SHUT_OUT,
    Reason.RULES_UNKNOWN,
    Reason.UNRESOLVED,
    Reason.STOPPED,
    Reason.MUST_WAIT,
}
"""Nothing was asked of the host, or nobody was there to be burdened."""

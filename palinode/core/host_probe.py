"""Who answers for a side, and what two such answers beside each other say."""

from dataclasses import dataclass

_NAMED = 5


@dataclass(frozen=True)
class Hop:
    """One redirect on the way."""

    address: str
    status: int
    to: str


@dataclass(frozen=True)
class Certificate:
    """What the host's certificate says of itself."""

    names: tuple[str, ...]
    days_left: int
    fits: bool
    """The names cover the host, and it has not run out."""

    @property
    def sentence(self) -> str:
        """What it says, in words."""
        names = ", ".join(self.names[:_NAMED]) + (" and others" if len(self.names) > _NAMED else "")
        left = f"{self.days_left} days left" if self.days_left >= 0 else "run out"
        return f"{'fits' if self.fits else 'does not fit'}: for {names or 'no name'}; {left}"


@dataclass(frozen=True)
class Answers:
    """Who answers for one side."""

    address: str
    reached: str = ""
    """Address and port that was connected to."""
    took_ms: int = 0
    status: int | None = None
    hops: tuple[Hop, ...] = ()
    title: str = ""
    server: str = ""
    certificate: Certificate | None = None
    fault: str = ""
    """Why nothing answered, in words."""
    digest: str = ""
    """Of the body, to see that the same site answers on both sides."""
    examples: tuple[str, ...] = ()
    """A few addresses of the side that its first page links to."""


@dataclass(frozen=True)
class Remark:
    """What is to be seen when the answers of both sides stand beside each other."""

    text: str = ""
    same_site: bool = False
    """It looks as if one site answered for both."""


@dataclass(frozen=True)
class Scheme:
    """Which scheme an address that was typed without one is answered at."""

    address: str
    """The whole address; empty where nothing answers."""
    said: str
    """What answered, in words."""


def scheme(https: Answers, http: Answers | None) -> Scheme:
    """Say what to take an address for that was typed without a scheme; http is asked where https does not answer."""
    if https.status is not None:
        return Scheme(https.address, f"https answers with {https.status}, and was taken.")
    reason = https.fault.rstrip(".")
    if http is not None and http.status is not None:
        said = f"https does not answer ({reason}); http answers with {http.status}, and was taken."
        return Scheme(http.address, said)
    return Scheme("", f"Neither https nor http answers: {reason or 'nothing came back'}. Type the one that is meant.")


def beside(source: Answers, destination: Answers) -> Remark:
    """Say whether two sites answer, or the same one twice."""
    if source.status is None or destination.status is None:
        return Remark()
    if source.reached and source.reached == destination.reached:
        return Remark("The same host and port answers on both sides. Is there an address to connect to?", True)
    if source.digest and source.digest == destination.digest:
        return Remark("Two hosts, the very same page.")
    if source.title and source.title == destination.title:
        return Remark("Two hosts, same title.")
    return Remark("Two hosts, different titles.")

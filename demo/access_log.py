"""The access log of the mill's old host: who asked for which page in the last weeks, in the combined format."""

import calendar
import random
from collections.abc import Iterable, Iterator
from datetime import datetime, timedelta

_WEEKS = 8
_READERS = (
    "Mozilla/5.0 (X11; Linux x86_64) Tidewater/3.1",
    "Mozilla/5.0 (Linux; Android 14) Tidewater/3.1 Mobile",
    "Gleanerbot/2.0 (+http://gleaner.example/)",
)
"""Two people's browsers, and a program that says what it is."""
_MOST = 60
"""Requests of the most read page, but for the home page."""


_SHOWN = "/images/wheel.svg"
"""A picture that pages of another site show."""
_SHOWN_BY = "http://harbourwalks.example/mill"


def lines(paths: Iterable[str], until: datetime, seed: int = 7) -> Iterator[str]:
    """Yield a line for each request of some paths in the weeks before a moment, some read much, most read little."""
    draw = random.Random(seed)
    for path in sorted(paths):
        times = 180 if path == "/" else int(_MOST * draw.random() ** 6)
        for _ in range(times):
            when = until - timedelta(minutes=draw.randrange(_WEEKS * 7 * 24 * 60))
            day = f"{when:%d}/{calendar.month_abbr[when.month]}/{when:%Y:%H:%M:%S}"
            agent = draw.choices(_READERS, (6, 5, 1))[0]
            yield f'203.0.113.{draw.randrange(1, 255)} - - [{day} +0000] "GET {path} HTTP/1.1" 200 5120 "-" "{agent}"\n'
    day = f"{until:%d}/{calendar.month_abbr[until.month]}/{until:%Y:%H:%M:%S}"
    for number in range(24):
        said = f'"GET {_SHOWN} HTTP/1.1" 200 2210 "{_SHOWN_BY}" "{_READERS[0]}"'
        yield f"203.0.113.{number + 1} - - [{day} +0000] {said}\n"

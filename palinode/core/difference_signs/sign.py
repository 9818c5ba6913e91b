"""A sign of why the two pages of a pair differ."""

from enum import IntFlag


class Sign(IntFlag):
    """A sign; several may stand on one pair."""

    NONE = 0
    DAMAGED = 1
    """Characters of other scripts and accents came through as others."""
    CUT = 2
    """The text is the beginning of the other page's, and ends."""
    MARKERS = 4
    """Markers that something was to replace stand as text."""
    DATES = 8
    """Dates are written otherwise, and nothing else is."""
    LEADS_BACK = 16
    """Links, forms or files are asked for at the source's address."""
    FORM_GONE = 32
    """It had a form, and has none."""
    MESSAGES = 128
    """Messages of the server's scripts stand in it."""
    PART_GONE = 64
    """Parts of it are gone, and nothing came in their place."""

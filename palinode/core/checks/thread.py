"""The shapes in the gutter between two facing pages."""

from enum import StrEnum


class Thread(StrEnum):
    """A shape; what each is for stands with the verdicts and kinds that name it."""

    STRAIGHT = "straight"
    WAVY = "wavy"
    BENT = "bent"
    CUT = "cut"
    RING = "ring"
    DASHED = "dashed"
    DOTS = "dots"

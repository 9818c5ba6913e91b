"""Judges captures: whether one stands, in a sentence with its grounds."""

import numpy as np

from palinode.core import capture_quality
from palinode.core.recognition.page_kind import PageKind
from palinode.records import figures, sides
from palinode.records.models import Capture


def give_up(capture: Capture, error: Exception) -> None:
    """Say of a capture that it could not be judged, and why."""
    ground = {"text": f"judging it failed: {type(error).__name__}: {str(error)[:200]}", "against": True}
    capture.judgement = {
        "stands": False,
        "sentence": "It could not be judged. Read it again, or capture again.",
        "grounds": [ground],
        "answers_impossible": False,
        "recognised": {},
    }
    capture.save(update_fields=["judgement"])


def judge(capture: Capture) -> None:
    """Judge a closed capture, and keep the judgement with it."""
    impossible = figures.answers_impossible(capture)
    stand_ins: dict[PageKind, int] = {}
    if impossible:
        _, kinds = sides.stand_ins(capture)
        found, counts = np.unique(kinds, return_counts=True)
        stand_ins = {PageKind(kind): count for kind, count in zip(found.tolist(), counts.tolist(), strict=True)}
    held = figures.of(capture, stand_ins)
    capture.judgement = {
        **capture_quality.judge(held).plain(),
        "answers_impossible": impossible,
        "recognised": {kind.label: count for kind, count in held.recognised.items() if kind != PageKind.NONE},
    }
    capture.save(update_fields=["judgement"])

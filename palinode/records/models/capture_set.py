"""Which captures are held against the other side's together."""

from django.db import models

from palinode.records.models.capture import Capture
from palinode.records.models.comparison import Comparison


class SetMember(models.Model):
    """A capture that belongs to the set of a capture of pages, say a dump beside a crawl.

    The set of the baseline and that of each round can be added to; comparisons keep the one that they were made of.
    """

    head = models.ForeignKey(Capture, models.CASCADE, related_name="set_members")
    """The crawl or copy that the set is named by."""
    slot = models.CharField(max_length=80)
    """Kind and name of the capture: a set holds one for each."""
    capture = models.ForeignKey(Capture, models.CASCADE, related_name="in_sets")

    class Meta:
        ordering = ["slot"]
        constraints = [models.UniqueConstraint(fields=["head", "slot"], name="one_capture_a_slot")]


class ComparisonCapture(models.Model):
    """A capture that a comparison was made of besides the two of pages, as its sets were when it was ordered."""

    comparison = models.ForeignKey(Comparison, models.CASCADE, related_name="members")
    side = models.CharField(max_length=5, choices=[("left", "left"), ("right", "right")])
    capture = models.ForeignKey(Capture, models.CASCADE, related_name="+")

    class Meta:
        ordering = ["side", "id"]
        constraints = [models.UniqueConstraint(fields=["comparison", "side", "capture"], name="one_capture_a_side")]

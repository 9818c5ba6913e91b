"""Captures, their progress and their files."""

from typing import Any

from rest_framework import serializers

from palinode.core.wording import number
from palinode.records.models import Capture, CaptureFile, Segment
from palinode.work.capturing.recapture import What


class AgainSerializer(serializers.Serializer[object]):
    """What of an earlier capture of the side is asked again."""

    parent = serializers.IntegerField()
    what = serializers.ChoiceField(choices=[one.value for one in What])
    section = serializers.CharField(required=False, allow_blank=True, default="", help_text="A path, as /shop/.")
    addresses = serializers.CharField(required=False, allow_blank=True, default="", help_text="One a line.")


class NewCaptureSerializer(serializers.Serializer[object]):
    """Which side to capture, and how."""

    side = serializers.ChoiceField(choices=["source", "destination"])
    again = AgainSerializer(required=False)
    options = serializers.DictField(
        child=serializers.JSONField(), required=False, help_text="Name to value, as capture_options lists them."
    )


class SegmentSerializer(serializers.ModelSerializer[Segment]):
    """A WARC file."""

    class Meta:
        model = Segment
        fields = ["number", "bytes", "records", "sha256", "sealed_at"]


class PageNamingSerializer(serializers.Serializer[object]):
    """A page that names an address of some folders."""

    address = serializers.CharField()
    written = serializers.CharField()
    times = serializers.IntegerField()


class NamingSerializer(serializers.Serializer[object]):
    """The pages that name what is below some folders."""

    folders = serializers.ListField(child=serializers.CharField())
    pages = PageNamingSerializer(many=True)
    more = serializers.BooleanField()


class GroundSerializer(serializers.Serializer[object]):
    """One ground of a judgement."""

    text = serializers.CharField()
    against = serializers.BooleanField()


class JudgementSerializer(serializers.Serializer[object]):
    """Whether a closed capture stands, and why."""

    stands = serializers.BooleanField()
    sentence = serializers.CharField()
    grounds = GroundSerializer(many=True)
    recognised = serializers.DictField(child=serializers.IntegerField())


class VolatileSerializer(serializers.Serializer[object]):
    """What changes from one asking to the next."""

    templates = serializers.ListField(child=serializers.CharField())
    paths = serializers.ListField(child=serializers.CharField())
    fields = serializers.ListField(child=serializers.CharField())
    examples = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))


class SampleSerializer(serializers.Serializer[object]):
    """What asking some pages again at the end showed."""

    asked = serializers.IntegerField()
    gone = serializers.IntegerField()
    changed = serializers.IntegerField()
    changed_examples = serializers.ListField(child=serializers.CharField())
    volatile = VolatileSerializer()
    older = serializers.IntegerField()
    older_examples = serializers.ListField(child=serializers.CharField())
    age = serializers.IntegerField()
    keeps = serializers.IntegerField()


class PointSerializer(serializers.Serializer[object]):
    """The answers of one step of time."""

    at = serializers.FloatField()
    answers = serializers.IntegerField()
    median_ms = serializers.IntegerField()
    failed = serializers.IntegerField()
    passing = serializers.IntegerField(allow_null=True)


class NumberedSerializer(serializers.Serializer[object]):
    """What, and how often."""

    what = serializers.CharField()
    number = serializers.IntegerField()


class KnownSerializer(serializers.Serializer[object]):
    """A way in which addresses became known."""

    by = serializers.CharField()
    bit = serializers.IntegerField(help_text="By which its answers are listed.")
    known = serializers.IntegerField()
    answered = serializers.IntegerField()


class HeaderFieldSerializer(serializers.Serializer[object]):
    """A header field that answers carry."""

    name = serializers.CharField()
    answers = serializers.IntegerField()
    values = serializers.IntegerField(help_text="Different ones.")
    commonest = serializers.CharField(allow_blank=True)


class CourseSerializer(serializers.Serializer[object]):
    """The course of a capture so far."""

    step = serializers.FloatField()
    points = PointSerializer(many=True)
    answered = NumberedSerializer(many=True)
    known = KnownSerializer(many=True)
    unlinked = KnownSerializer()
    not_fetched = NumberedSerializer(many=True)
    left_out = NumberedSerializer(many=True)
    header_fields = HeaderFieldSerializer(many=True)


class TableSerializer(serializers.Serializer[object]):
    """A table of a dump."""

    database = serializers.CharField(allow_blank=True)
    name = serializers.CharField()
    rows = serializers.IntegerField()
    size = serializers.IntegerField(help_text="Bytes of its rows as they are written.")
    largest = serializers.IntegerField(help_text="Bytes of its largest row.")
    columns = serializers.ListField(child=serializers.CharField(), help_text="Names, in the order of its rows.")


class CountSerializer(serializers.Serializer[object]):
    """Items of a platform that are alike."""

    noun = serializers.CharField()
    status = serializers.CharField(allow_blank=True)
    number = serializers.IntegerField()
    folded = serializers.BooleanField(help_text="No visitor sees them, and nobody misses them.")


class PlatformSerializer(serializers.Serializer[object]):
    """A platform that was recognised."""

    name = serializers.CharField()
    database = serializers.CharField(allow_blank=True)
    prefix = serializers.CharField(allow_blank=True)
    counts = CountSerializer(many=True)


class FolderSerializer(serializers.Serializer[object]):
    """A folder of a list of files."""

    name = serializers.CharField(allow_blank=True)
    files = serializers.IntegerField()


class ContentsSerializer(serializers.Serializer[object]):
    """What a dump, an export or a list of files holds."""

    file = serializers.CharField()
    bytes = serializers.IntegerField()
    tables = TableSerializer(many=True, required=False)
    platforms = PlatformSerializer(many=True, required=False)
    folders = FolderSerializer(many=True, required=False)
    numbers = serializers.DictField(child=serializers.IntegerField(), required=False)


class LimitsSerializer(serializers.Serializer[object]):
    """What a new host allows."""

    limits = serializers.DictField(child=serializers.JSONField(), help_text="Name to value, as fit_limits lists them.")


class PointSaidSerializer(serializers.Serializer[object]):
    """One thing that was held against the limits of a host."""

    fits = serializers.BooleanField()
    said = serializers.CharField()


class SetMemberSerializer(serializers.Serializer[object]):
    """A capture that belongs to the set of a capture of pages."""

    id = serializers.IntegerField()
    kind = serializers.CharField()
    name = serializers.CharField(allow_blank=True)
    asked = serializers.IntegerField()
    started_at = serializers.DateTimeField()


class NewSetMemberSerializer(serializers.Serializer[object]):
    """Which capture is to belong to a set."""

    capture = serializers.IntegerField()


def members_plain(head: Capture) -> list[dict[str, Any]]:
    """Return what belongs to the set of a capture of pages, as it is shown."""
    names = ("kind", "name", "asked", "started_at")
    return [
        {"id": one.capture_id, **{name: getattr(one.capture, name) for name in names}} for one in head.set_members.all()
    ]


class CaptureSerializer(serializers.Serializer[Capture]):
    """A capture, running or closed."""

    id = serializers.IntegerField()
    side = serializers.CharField()
    round = serializers.IntegerField(allow_null=True)
    state = serializers.ChoiceField(choices=Capture.State.choices)
    complete = serializers.BooleanField()
    baseline = serializers.BooleanField()
    sentence = serializers.CharField()
    detail = serializers.CharField(allow_blank=True)
    known = serializers.IntegerField()
    asked = serializers.IntegerField()
    pages = serializers.IntegerField()
    files = serializers.IntegerField()
    redirects = serializers.IntegerField()
    not_fetched = serializers.IntegerField()
    parent = serializers.IntegerField(allow_null=True)
    again = serializers.CharField(allow_blank=True, help_text="What of the parent was asked again.")
    unchanged = serializers.IntegerField()
    taken_over = serializers.IntegerField()
    bytes = serializers.IntegerField()
    rate = serializers.FloatField()
    now = serializers.CharField(allow_blank=True)
    disk_free = serializers.IntegerField(allow_null=True)
    workers = serializers.IntegerField()
    limits = serializers.ListField(child=serializers.CharField())
    why = serializers.CharField(allow_blank=True)
    judgement = JudgementSerializer(allow_null=True)
    sample = SampleSerializer(allow_null=True)
    kind = serializers.CharField()
    name = serializers.CharField(allow_blank=True)
    members = SetMemberSerializer(many=True, help_text="What else belongs to its set.")
    options = serializers.DictField()
    started_at = serializers.DateTimeField()
    ended_at = serializers.DateTimeField(allow_null=True)
    seconds = serializers.FloatField()
    segments = SegmentSerializer(many=True)


def capture_plain(capture: Capture, baseline: int | None, shares: list[dict[str, Any]]) -> dict[str, Any]:
    """Return a capture as it is shown; ``shares`` is the progress of its living shares."""
    asked = capture.asked + sum(one.get("asked", 0) for one in shares)
    sentence, detail = _sentence(capture, asked)
    return {
        "id": capture.pk,
        "side": capture.which,
        "round": capture.round,
        "state": capture.state,
        "complete": capture.complete,
        "baseline": capture.pk == baseline,
        "sentence": sentence,
        "detail": detail,
        "known": max(capture.known, asked),
        "asked": asked,
        "pages": capture.pages,
        "files": capture.files,
        "redirects": capture.redirects,
        "not_fetched": capture.not_fetched,
        "parent": capture.parent_id,
        "again": capture.again.get("what", ""),
        "unchanged": capture.unchanged,
        "taken_over": capture.taken_over,
        "bytes": capture.stored_bytes + sum(one.get("bytes", 0) for one in shares),
        "rate": round(sum(one.get("rate", 0) for one in shares[:1]), 1),
        "now": shares[0].get("now", "") if shares else "",
        "disk_free": shares[0].get("disk_free") if shares else None,
        "workers": len(shares),
        "limits": capture.limits,
        "why": capture.why,
        "judgement": capture.judgement,
        "sample": capture.sample or None,
        "kind": capture.kind,
        "name": capture.name,
        "members": members_plain(capture),
        "options": capture.settings,
        "started_at": capture.started_at,
        "ended_at": capture.ended_at,
        "seconds": capture.seconds,
        "segments": [],
    }


def _again(capture: Capture) -> str:
    if capture.kind == Capture.Kind.ASKED:
        return " for the checks"
    return {
        What.ALL: " again",
        What.FAILED: " again, only what had failed",
        What.SECTION: f" again, only below {capture.again.get('section', '')}",
        What.LIST: " again, only a list",
    }.get(capture.again.get("what", ""), "")


def _file_sentence(file: CaptureFile) -> tuple[str, str]:
    detail = f"{file.what} {file.ends_early}".strip().removesuffix(".")
    return f"{'Cut short. ' if file.ends_early else ''}{file.summary}", detail


def _sentence(capture: Capture, asked: int) -> tuple[str, str]:
    pages = number(capture.pages, "page")
    if capture.state == Capture.State.RUNNING:
        return "Running.", f"{asked:,} of {max(capture.known, asked):,} known addresses asked so far"
    if capture.state == Capture.State.ENDING:
        return "Ending.", "What is under way is stored, then it closes"
    if capture.state == Capture.State.PAUSED:
        return "Paused.", capture.why or f"{asked:,} of {capture.known:,} known addresses asked"
    if capture.kind in Capture.SITE_FILES:
        return _file_sentence(capture.file)
    said = [f"{capture.asked - capture.taken_over:,} addresses asked{_again(capture)}"]
    if capture.unchanged:
        said.append(f"{capture.unchanged:,} of them unchanged")
    if capture.redirects:
        said.append(number(capture.redirects, "redirect"))
    if capture.files:
        said.append(number(capture.files, "file or image", "files and images"))
    said.append(f"{capture.not_fetched:,} not fetched" if capture.not_fetched else "none left unfetched")
    detail = ", ".join(said)
    if capture.kind == Capture.Kind.ASKED and capture.complete:
        return "Answered.", detail
    if capture.complete:
        return f"Complete. {pages}", detail
    cut = "; ".join([*capture.limits, *([capture.why] if capture.why else [])])
    return f"Cut short. {pages}", f"{cut}. {detail}" if cut else detail

"""Compares a seeded pair of sites whose truth is known, and prints what was found of it, as a table."""

import argparse
import sys
from collections import Counter, defaultdict
from typing import Any

from bench.common import database, say
from bench.seeded.changes import ALTERED, CAUSES, KINDS, LISTS, LOST, MOVED, SAME
from bench.seeded.collection import Collection, collection
from bench.seeded.page import NEW, OLD

HTML = {"content-type": "text/html"}


def store(made: Collection) -> Any:
    """Write both sides as captures; return the comparison that waits to be made."""
    from django.contrib.auth.models import User
    from django.db import transaction

    from palinode.core import address as addresses
    from palinode.core import facts as core_facts
    from palinode.core import page
    from palinode.core.resolver import Resolver
    from palinode.records import batch_commit, bulk_copy, captures, frontier, rows
    from palinode.records.models import Comparison
    from palinode.work import move_setup

    sides = [move_setup.typed_side(f"{host}/", "") for host in (OLD, NEW)]
    move = move_setup.describe("Bench", *sides, [], User.objects.create_user(f"bench-{User.objects.count()}"))
    known: dict[int, str] = {}
    facts_lines: dict[int, str] = {}

    def ident(address: str) -> int:
        found = addresses.ident(address)
        known[found] = address
        return found

    def answer(capture: Any, address: str, given: str | tuple[int, str], media: str = "text/html") -> str:
        status, target, body, key = 200, None, b"", None
        if isinstance(given, tuple):
            status, to = given
            target = ident(NEW + to) if to else None
        else:
            body = given.encode()
        digest = page.body_digest(body)
        is_page = status == 200 and media == "text/html"
        if is_page:
            key = core_facts.key(ident(address), HTML, digest)
            read = core_facts.read(address, HTML, body, Resolver())
            facts_lines[key] = rows.facts_line(move.pk, key, read)
            known.update({one.ident: one.address for one in read.references})
        values = (ident(address), None, status, None, is_page, media, target, len(body), digest, key)
        line = rows.answer_line(capture.pk, (*values, 1, 1, "2026-11-01T00:00:00Z", 3))
        return line + "\t\\N\t\\N\t0\t0\t\\N\n"

    taken = []
    for which, host, given in (("source", OLD, made.left), ("destination", NEW, made.right)):
        with transaction.atomic():
            capture = captures.begin(move, which, {}, {"base": f"{host}/"})
            lines = [answer(capture, host + path, one) for path, one in given.items()]
            if which == "destination":
                asked = [path for path in made.left if path not in given]
                lines += [answer(capture, host + path, (404, "")) for path in asked]
            side = 0 if which == "source" else 1
            lines += [answer(capture, host + path, both[side], "image/jpeg") for path, both in made.images.items()]
            frontier.alone(move.pk)
            frontier.add_addresses(move.pk, known.items())
            batch_commit.add_facts(move.pk, facts_lines)
            bulk_copy.copy_in("records_answer", batch_commit.ANSWER, lines)
            capture.state, capture.complete = "closed", True
            capture.save()
        taken.append(capture)
    return Comparison.objects.create(move=move, left=taken[0], right=taken[1], rule=move.rule)


def rows_of(comparison: Any) -> list[dict[str, Any]]:
    """Return the rows of a ledger with the parts of their pairs."""
    from palinode.records import outcome_rows, outcomes

    outcome = outcomes.of(comparison, "pages")
    assert outcome is not None
    rows = outcome_rows.page(outcome, "rank", [(0, outcome.rows)])
    numbers = outcome_rows.numbers_at(outcome.pk, ["certainty", "found_by"], 0, outcome.rows)
    return [
        {
            "fate": row.verdict,
            "left_address": row.left,
            "right_address": row.right,
            "detail": row.right_note,
            "certainty": certainty,
            "found_by": found_by,
        }
        for row, certainty, found_by in zip(rows, numbers["certainty"], numbers["found_by"], strict=True)
    ]


def check(made: Collection, rows: list[dict[str, Any]]) -> dict[str, float]:
    """Hold the rows against the truth, print the table, and return the shares that are asked for."""
    by_left = {row["left_address"].removeprefix(OLD): row for row in rows if row["left_address"]}
    tally: dict[str, Counter[str]] = defaultdict(Counter)
    bands: dict[int, list[bool]] = defaultdict(list)
    wrong: list[str] = []
    for path, (kind, to) in made.truth.items():
        row = by_left[path]
        at = (row["right_address"] or "").removeprefix(NEW) if row["fate"] not in ("lost", "unknown") else ""
        if kind in MOVED:
            right = row["fate"] == "moved" and at == to
        elif kind in LOST:
            right = row["fate"] == "lost"
        elif kind in LISTS:
            right = row["fate"] in ("kept", "altered") and at == to
        elif kind in ALTERED:
            right = row["fate"] == "altered"
        else:
            right = row["fate"] == "kept"
        tally[kind]["all"] += 1
        tally[kind]["right"] += right
        if row["found_by"] >= 4:
            bands[int(row["certainty"] * 10)].append(at == to)
        if not right:
            wrong.append(f"{kind}: {path} -> {to or 'nothing'}; said {row['fate']} {at} ({row['detail']})")
    new = {(row["right_address"] or "").removeprefix(NEW) for row in rows if row["fate"] == "new"}
    tally["new"].update(all=len(made.new), right=len(made.new & new))
    print(f"{'kind of change':<18}{'pages':>7}{'found':>7}")
    for kind, counts in sorted(tally.items()):
        print(f"{kind:<18}{counts['all']:>7,}{counts['right']:>7,}")
    print(f"\n{'certainty':<12}{'pairs':>7}{'right':>9}")
    for band, given in sorted(bands.items()):
        print(f"{band / 10:.1f} to {(band + 1) / 10:.1f}{len(given):>8,}{sum(given) / len(given):>9.1%}")
    for text in wrong[:40]:
        say(text)

    def share(kinds: set[str] | frozenset[str]) -> float:
        return sum(tally[kind]["right"] for kind in kinds) / max(1, sum(tally[kind]["all"] for kind in kinds))

    return {
        "lost and new": share(LOST | {"new"}),
        "altered": share(ALTERED),
        "moved": share(MOVED),
        "lists": share(LISTS),
        "false of unchanged": 1 - share(SAME),
    }


def check_causes(made: Collection, comparison: Any) -> float:
    """Print how many findings of each kind of change belong to its cause, and return the share of all."""
    from palinode.core.checks.pages import kinds
    from palinode.records import findings

    names = [cause["kind"] for cause in comparison.standing["causes"]]
    of_fields = {one.word for one in kinds.FIELD_OF}
    told = [one for batch in findings.stream(comparison) for one in batch]
    tally: dict[str, Counter[str]] = defaultdict(Counter)
    wrong: Counter[tuple[str, str]] = Counter()
    for address, cause, finding in ((one["left_address"], one["cause"], one["kind"]) for one in told):
        kind, _ = made.truth.get((address or "").removeprefix(OLD), ("", ""))
        # What was rewritten as a page moved was rewritten by a person, each page for itself.
        if kind not in CAUSES or (kind in MOVED and finding in of_fields):
            continue
        name = names[cause] if cause is not None else "no cause"
        tally[kind]["all"] += 1
        tally[kind]["right"] += name in CAUSES[kind]
        if name not in CAUSES[kind]:
            wrong[kind, name] += 1
    print(f"\n{'cause of':<18}{'findings':>10}{'right':>7}")
    for kind, counts in sorted(tally.items()):
        print(f"{kind:<18}{counts['all']:>10,}{counts['right']:>7,}")
    for (kind, name), count in wrong.most_common(20):
        say(f"{kind}: {count} belong to {name}")
    return sum(one["right"] for one in tally.values()) / sum(one["all"] for one in tally.values())


def main() -> None:
    """Make, compare, tell."""
    parser = argparse.ArgumentParser(prog="bench/truth", description=__doc__)
    parser.add_argument("--pages", type=int, default=3_000)
    parser.add_argument("--seed", type=int, default=5)
    parser.add_argument("--theme", action="store_true", help="the destination has a theme of plain boxes")
    options = parser.parse_args()
    with database():
        from palinode.work.comparing import comparison_job

        made = collection(options.pages, options.seed, options.theme)
        say(f"{len(made.left):,} source pages, {len(KINDS)} kinds of change")
        comparison = store(made)
        comparison_job.make(comparison)
        comparison.refresh_from_db()
        shares = check(made, rows_of(comparison))
        shares["right cause"] = check_causes(made, comparison)
        causes = len(comparison.standing["causes"])
        faults = len({kind for kind, _ in made.truth.values()} - SAME) + bool(made.new) + options.theme
        say(f"{causes} causes of {faults} kinds of change")
    print()
    for name, share in shares.items():
        print(f"{name}: {share:.2%}")
    kept = (
        shares["right cause"] >= 0.97
        and shares["lost and new"] >= 0.995
        and shares["altered"] >= 0.99
        and shares["moved"] >= 0.995
        and shares["lists"] == 1
        and shares["false of unchanged"] <= 0.001
        and causes <= 1.5 * faults
    )
    print(f"truth ratio={shares['moved']:.3f} min=0.995")
    sys.exit(0 if kept else 1)


if __name__ == "__main__":
    main()

"""The frontier, and batches committed to it: all of a batch, once, by the share that holds it."""

from concurrent.futures import ThreadPoolExecutor

from django.db import connection, connections, transaction
from django.test import TransactionTestCase, override_settings

from palinode.core import address as addresses
from palinode.core.discovery import Discovery
from palinode.records import batch_commit, captures, frontier
from palinode.records.models import Address, Answer, Capture, Frontier, Move, Segment, Side
from palinode.records.rows import AnswerRow, Batch, Found, answer_line


def found(path: str, depth: int = 1, known: Discovery = Discovery.LINK, written: str | None = None) -> Found:
    text = f"http://old.example{path}"
    return Found(addresses.ident(text), text, depth, int(known), 0, written)


def ident(path: str) -> int:
    return addresses.ident(f"http://old.example{path}")


class FrontierTestCase(TransactionTestCase):
    def setUp(self):
        self.of_move = Move.objects.create(name="Mill", kind="name", rule="x")
        for which in ("source", "destination"):
            Side.objects.create(move=self.of_move, which=which, base=f"http://{which}.example/")
        self.capture = self.of_move.captures.create(which="source")

    def add(self, *some: Found) -> int:
        with transaction.atomic():
            return len(frontier.add(self.capture, some))

    def died(self, share) -> None:
        with connection.cursor() as cursor:
            cursor.execute("UPDATE records_share SET seen_at = now() - interval '1 hour' WHERE id = %s", [share.pk])


class FrontierTest(FrontierTestCase):
    def test_an_address_is_known_once_and_by_every_way(self):
        self.assertEqual(self.add(found("/a"), found("/b")), 2)
        self.assertEqual(self.add(found("/a", known=Discovery.SITEMAP), found("/c")), 1)
        row = Frontier.objects.get(capture=self.capture, ident=ident("/a"))
        self.assertEqual(row.known, Discovery.LINK | Discovery.SITEMAP)
        self.capture.refresh_from_db()
        self.assertEqual((self.capture.known, Address.objects.count()), (3, 3))

    def test_as_it_was_written_first(self):
        self.add(found("/a", written="../a"))
        self.add(found("/a", written="HTTP://OLD.example/a"))
        (leased,) = frontier.lease(captures.join(self.capture), 5)
        self.assertEqual(leased.written, "../a")

    def test_the_shallowest_are_leased_first(self):
        self.add(found("/deep", 9), found("/", 0), found("/mid", 4))
        share = captures.join(self.capture)
        self.assertEqual([one.depth for one in frontier.lease(share, 2)], [0, 4])
        self.assertEqual([one.depth for one in frontier.lease(share, 2)], [9])
        self.assertEqual(frontier.lease(share, 2), [])
        self.assertTrue(frontier.waiting(self.capture), "leased is not asked")

    def test_who_was_late_does_not_get_what_it_holds_again(self):
        self.add(found("/a"), found("/b"))
        share = captures.join(self.capture)
        self.assertEqual(len(frontier.lease(share, 1)), 1)
        self.died(share)
        self.assertEqual([one.ident for one in frontier.lease(share, 5)], [max(ident("/a"), ident("/b"))])
        self.assertEqual(frontier.lease(share, 5), [])

    def test_many_lease_at_once_and_none_gets_what_another_has(self):
        self.add(*(found(f"/{n}", known=Discovery.LIST) for n in range(300)))
        shares = [captures.join(self.capture) for _ in range(4)]

        def take(share):
            try:
                return [one.ident for _ in range(20) for one in frontier.lease(share, 7)]
            finally:
                connections.close_all()

        with ThreadPoolExecutor(4) as threads:
            taken = [one for some in threads.map(take, shares) for one in some]
        self.assertEqual((len(taken), len(set(taken))), (300, 300))

    @override_settings(PALINODE_LEASE_SECONDS=60)
    def test_who_lives(self):
        one, other = captures.join(self.capture), captures.join(self.capture)
        self.assertEqual(frontier.living_shares(self.capture), [one.pk, other.pk])
        self.died(one)
        self.assertEqual(frontier.living_shares(self.capture), [other.pk])
        self.assertTrue(frontier.beat(one, {"asked": 3}), "it was only late")
        frontier.give_back(one)
        self.assertFalse(frontier.beat(one, {}), "it has ended")
        self.assertEqual(frontier.living_shares(self.capture), [other.pk])


class HarvestTest(FrontierTestCase):
    def setUp(self):
        super().setUp()
        self.add(found("/a"), found("/b"))
        self.share = captures.join(self.capture)
        self.leased = frontier.lease(self.share, 10)

    def answer(self, path: str, kind: str = "pages", offset: int | None = None) -> AnswerRow:
        values = (
            ident(path),
            None,
            200,
            None,
            kind == "pages",
            "text/html",
            None,
            5,
            None,
            None,
            1,
            0,
            "2026-05-04 12:00+00",
            3,
        )
        return AnswerRow(ident(path), answer_line(self.capture.pk, values), offset, None, 5, kind)

    def batch(self, *answers: AnswerRow, more: tuple[Found, ...] = (), limits: tuple[str, ...] = ()) -> Batch:
        return Batch(bytearray(b"x" * 40), 2, list(answers), found={one.ident: one for one in more}, limits=set(limits))

    def segment(self) -> Segment:
        return Segment(capture=self.capture, number=1, name="x", bytes=100, records=2, sha256="0" * 64)

    def test_answers_counters_and_what_they_made_known_together(self):
        batch = self.batch(self.answer("/a", offset=10), more=(found("/c", 2),), limits=("deep",))
        self.assertEqual(batch_commit.commit(self.share, batch, self.segment(), 60), 1)
        self.capture.refresh_from_db()
        self.assertEqual((self.capture.asked, self.capture.pages, self.capture.known), (1, 1, 3))
        self.assertEqual((self.capture.stored_bytes, self.capture.limits), (100, ["deep"]))
        answer = Answer.objects.get(capture=self.capture)
        self.assertEqual((answer.offset, answer.segment_id), (70, Segment.objects.get().pk))

    def test_what_another_share_took_over_is_left_out(self):
        self.died(self.share)
        other = captures.join(self.capture)
        self.assertEqual(len(frontier.lease(other, 10)), 2)
        self.assertEqual(batch_commit.commit(self.share, self.batch(self.answer("/a")), None, 0), 0)
        self.assertEqual(batch_commit.commit(other, self.batch(self.answer("/a")), None, 0), 1)
        self.assertEqual(batch_commit.commit(other, self.batch(self.answer("/a")), None, 0), 0, "once is enough")
        self.capture.refresh_from_db()
        self.assertEqual((self.capture.asked, Answer.objects.count()), (1, 1))

    def test_nothing_is_written_if_a_part_of_it_fails(self):
        broken = self.answer("/b")
        broken.line = broken.line.replace("text/html", "text\thtml")
        with self.assertRaises(Exception):  # noqa: B017
            batch_commit.commit(
                self.share, self.batch(self.answer("/a"), broken, more=(found("/c"),)), self.segment(), 0
            )
        self.capture.refresh_from_db()
        self.assertEqual((self.capture.asked, self.capture.known), (0, 2))
        for model in (Answer, Segment):
            self.assertEqual(model.objects.count(), 0)
        self.assertEqual(Frontier.objects.filter(state=Frontier.WAITING).count(), 2)

    def test_shares_that_mark_and_find_each_other_s_pages_do_not_deadlock(self):
        self.add(*(found(f"/{n}", known=Discovery.EXPECTED) for n in range(400)))
        shares = [captures.join(self.capture) for _ in range(2)]
        taken = [frontier.lease(share, 200) for share in shares]

        def work(own: int) -> int:
            other, written = taken[1 - own], 0
            try:
                for start in range(0, 200, 20):
                    asked = taken[own][start : start + 20]
                    answers = [self.answer(one.text.removeprefix("http://old.example")) for one in asked]
                    links = tuple(Found(one.ident, one.text, 1, int(Discovery.LINK), 0) for one in other)
                    more = (*links, *(found(f"/new-{start}-{n}") for n in range(50)))
                    written += batch_commit.commit(shares[own], self.batch(*answers, more=more), None, 0)
            finally:
                connections.close_all()
            return written

        with ThreadPoolExecutor(2) as threads:
            self.assertEqual(list(threads.map(work, (0, 1))), [200, 200])
        self.assertEqual(Frontier.objects.filter(known=Discovery.EXPECTED | Discovery.LINK).count(), 400)

    def test_limits_are_said_once(self):
        for path in ("/a", "/b"):
            batch_commit.commit(self.share, self.batch(self.answer(path), limits=("deep", "wide")), None, 0)
        self.assertEqual(Capture.objects.get().limits, ["deep", "wide"])


class ClosingTest(FrontierTestCase):
    def test_complete_only_if_all_was_asked_and_nothing_bit(self):
        self.add(found("/a"))
        for limits, why, limit, asked, complete in [
            ([], "", "", True, True),
            ([], "", "", False, False),
            (["deep"], "", "", True, False),
            ([], "stopped by miller", "", True, False),
            ([], "", "stopped at 5", True, False),
        ]:
            with self.subTest(limits=limits, why=why, limit=limit, asked=asked):
                Capture.objects.update(state="running", limits=limits, why="", complete=False)
                Frontier.objects.update(state=int(asked))
                if why or limit:
                    self.assertTrue(captures.end(self.capture, why, limit))
                    self.assertFalse(captures.end(self.capture, "again"), "it is ending already")
                self.assertTrue(captures.close(self.capture))
                self.capture.refresh_from_db()
                self.assertEqual(self.capture.complete, complete)
                self.assertEqual(self.capture.limits, [*limits, *([limit] if limit else [])])
                self.assertIsNotNone(self.capture.ended_at)
                self.assertFalse(captures.close(self.capture), "closed for good")
                self.assertFalse(captures.end(self.capture, "too late"))

    def test_states_follow_each_other(self):
        self.assertFalse(captures.resume(self.capture))
        self.assertTrue(captures.pause(self.capture, "Paused by miller."))
        self.assertFalse(captures.pause(self.capture, "again"))
        self.capture.refresh_from_db()
        self.assertEqual(self.capture.why, "Paused by miller.")
        self.assertTrue(captures.resume(self.capture))
        captures.close(self.capture)
        self.assertFalse(captures.resume(self.capture))
        self.assertFalse(captures.pause(self.capture, "x"))

    def test_rounds_are_counted_at_the_destination_alone(self):
        with transaction.atomic():
            made = [captures.begin(self.of_move, which, {}, {}) for which in ("destination", "source", "destination")]
        self.assertEqual([one.round for one in made], [1, None, 2])

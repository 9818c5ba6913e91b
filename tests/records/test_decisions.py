"""Decisions: superseded, withdrawn, past their end; what holds is read by comparisons."""

from datetime import timedelta

from django.contrib.auth.models import User
from django.test import TestCase
from django.utils import timezone

from palinode.core import address as addresses
from palinode.records import decisions
from palinode.records.models import Decision, Move

A = "http://old.example/a"


class DecisionsTest(TestCase):
    def setUp(self):
        self.user = User.objects.create_user("miller", password="tide-and-stone")
        self.of_move = Move.objects.create(name="Mill", kind="name", rule="x")

    def retire(self, scope=None, reason="over", **more) -> Decision:
        return decisions.decide(self.of_move, "retire", scope or {"address": A}, reason, self.user, **more)

    def test_decided_anew_supersedes_and_rewrites_nothing(self):
        first = self.retire()
        second = self.retire(reason="sold")
        self.assertEqual(second.supersedes, first)
        self.assertEqual([one.pk for one in decisions.holding(self.of_move)], [second.pk])
        first.refresh_from_db()
        self.assertEqual(first.reason, "over")

    def test_another_scope_or_kind_is_another_decision(self):
        self.retire()
        self.retire({"section": "/a"})
        decisions.decide(self.of_move, "override", {"side": "source", "what": "robots"}, "mine", self.user)
        self.assertEqual(decisions.holding(self.of_move).count(), 3)
        self.assertEqual(decisions.holding(self.of_move, "retire").count(), 2)

    def test_withdrawn_then_decided_again(self):
        first = self.retire()
        back = decisions.withdraw(first, self.user, "it came back")
        self.assertEqual((back.withdrawn, back.supersedes), (True, first))
        self.assertFalse(decisions.holding(self.of_move).exists())
        again = self.retire()
        self.assertEqual([one.pk for one in decisions.holding(self.of_move)], [again.pk])
        self.assertEqual(self.of_move.decisions.count(), 3)

    def test_past_its_end_it_holds_no_more(self):
        now = timezone.now()
        self.retire(ends_at=now - timedelta(seconds=1))
        self.assertFalse(decisions.holding(self.of_move).exists())
        self.retire(ends_at=now + timedelta(hours=1))
        self.assertEqual(decisions.holding(self.of_move).count(), 1)

    def test_read_for_a_comparison(self):
        self.retire()
        self.retire({"section": "/shop"})
        decisions.withdraw(self.retire({"section": "/b"}), self.user)
        found = decisions.retired(self.of_move)
        self.assertEqual((found.idents, found.sections), ({addresses.ident(A)}, {"/shop"}))

    def test_overrides_are_of_a_side(self):
        for what in ("robots", "certificate"):
            decisions.decide(self.of_move, "override", {"side": "source", "what": what}, "mine", self.user)
        self.assertEqual(decisions.overrides(self.of_move, "source"), {"robots", "certificate"})
        self.assertEqual(decisions.overrides(self.of_move, "destination"), set())
        other = Move.objects.create(name="Lane", kind="name", rule="x")
        self.assertEqual(decisions.overrides(other, "source"), set())

"""Functions called side by side, each with a connection of its own."""

import threading

from django.db import connection
from django.test import TransactionTestCase

from palinode.records.parallel_queries import at_once


def session() -> int:
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_backend_pid()")
        return cursor.fetchone()[0]


class AtOnceTest(TransactionTestCase):
    def test_in_order_on_connections_of_their_own_that_are_given_back(self):
        mine = session()
        found = at_once((session,), (session,), (lambda a, b: a - b, 7, 2))
        self.assertEqual((found[0], found[2]), (mine, 5))
        self.assertNotEqual(found[1], mine)
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM pg_stat_activity WHERE pid = %s AND state <> 'idle'", [found[1]])
            self.assertEqual(cursor.fetchone()[0], 0)
        self.assertEqual(session(), mine, "this thread's own connection stays")

    def test_they_run_at_the_same_time(self):
        meet = threading.Barrier(3, timeout=10)
        self.assertEqual(sorted(at_once((meet.wait,), (meet.wait,), (meet.wait,))), [0, 1, 2])

    def test_a_failure_is_raised(self):
        with self.assertRaisesRegex(ValueError, "invalid literal"):
            at_once((int, "1"), (int, "x"))
        with self.assertRaisesRegex(ValueError, "invalid literal"):
            at_once((int, "x"), (int, "1"))

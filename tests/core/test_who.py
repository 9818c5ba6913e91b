"""What two answers beside each other say."""

import unittest

from palinode.core.host_probe import Answers, beside


def answers(host: str, **more) -> Answers:
    return Answers(
        f"http://{host}/", **({"reached": f"{host}:80", "status": 200, "title": "Mill", "digest": host} | more)
    )


class BesideTest(unittest.TestCase):
    def test_the_right_site_on_the_right_side_or_one_twice(self):
        old = answers("old.example")
        for other, words, same in [
            (answers("new.example"), "Two hosts, same title.", False),
            (answers("new.example", title="Welcome"), "Two hosts, different titles.", False),
            (answers("new.example", title="", digest="x"), "Two hosts, different titles.", False),
            (answers("new.example", digest="old.example"), "Two hosts, the very same page.", False),
            (answers("new.example", reached="old.example:80"), "The same host and port answers", True),
        ]:
            with self.subTest(words):
                remark = beside(old, other)
                self.assertEqual((remark.text[: len(words)], remark.same_site), (words, same))

    def test_nothing_is_said_of_who_does_not_answer(self):
        silent = answers("new.example", status=None, reached="old.example:80", fault="Timed out.")
        self.assertEqual(beside(answers("old.example"), silent).text, "")
        self.assertEqual(beside(silent, answers("old.example")).text, "")

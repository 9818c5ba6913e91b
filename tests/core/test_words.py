"""Words as numbers, and shingles of many texts at once: the same as of each text by itself."""

import random
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from palinode.core.pairing import shingles, words

TEXT = st.text(st.sampled_from("aAbBäÄßx 0\n\t\0\x1f"), max_size=40)


class WordsTest(unittest.TestCase):
    @given(st.lists(TEXT, max_size=6))
    def test_texts_together_are_numbered_as_each_by_itself(self, texts):
        numbers, count = words.numbers(texts)
        alone = [words.numbers([text])[0].tolist() for text in texts]
        self.assertEqual(count.tolist(), [len(one) for one in alone])
        self.assertEqual(numbers.tolist(), [number for one in alone for number in one])

    @given(TEXT)
    def test_as_many_as_there_are_words_and_equal_where_they_are(self, text):
        plain = text.replace("\0", " ").lower().split()
        numbers = words.numbers([text])[0].tolist()
        self.assertEqual(len(numbers), len(plain))
        self.assertEqual(len(set(numbers)), len(set(plain)))

    def test_words_of_any_length(self):
        long = "ab" * 400
        numbers, _ = words.numbers([f"{long} {long}c {long}"])
        self.assertEqual(numbers[0], numbers[2])
        self.assertNotEqual(numbers[0], numbers[1])

    def test_nothing(self):
        for texts in ([], [""], ["", " \n"]):
            numbers, count = words.numbers(texts)
            self.assertEqual((len(numbers), count.tolist()), (0, [0] * len(texts)))


class ManyTest(unittest.TestCase):
    def test_shingles_of_many_texts_are_those_of_each(self):
        draw = random.Random(4)
        some = ["tide", "wheel", "stone", "Rye", "sack"]
        texts = [" ".join(draw.choices(some, k=draw.choice((0, 1, 2, 3, 9, 400)))) for _ in range(300)]
        texts += [" ".join(f"{draw.random()}" for _ in range(shingles.MOST + 500)), "stone"]
        together = shingles.of(texts)
        self.assertEqual(len(together.sizes), len(texts))
        for place, text in enumerate(texts):
            alone = shingles.of([text])
            self.assertEqual(alone.values.tolist(), together.part(place, place + 1).values.tolist())
            self.assertTrue((np.diff(alone.values) > 0).all(), "ascending, each once")

"""Where two pictures of a page differ."""

import unittest

import numpy as np

from needle.core.seeing.differing import Span, differences


def page(*parts: tuple[int, int]) -> np.ndarray:
    """A picture of stripes: (height, shade)."""
    return np.concatenate([np.full((high, 200, 3), shade, np.uint8) + np.arange(
        high, dtype=np.uint8).reshape(-1, 1, 1) % 9 * 13 for high, shade in parts])


class DifferingTest(unittest.TestCase):
    def test_the_same_picture_differs_nowhere(self) -> None:
        one = page((120, 10), (80, 40), (200, 90))
        self.assertEqual(differences(one, one.copy()), [])

    def test_a_word_that_changed_is_marked_where_it_stands(self) -> None:
        one = page((200, 10), (200, 60))
        other = one.copy()
        other[100:116, 40:90] = 255
        (found,) = differences(one, other)
        self.assertEqual(found.before, found.after)
        self.assertEqual((found.after.left, found.after.right), (40, 90))
        self.assertLessEqual(found.after.top, 100)
        self.assertGreaterEqual(found.after.bottom, 116)
        self.assertLess(found.after.bottom - found.after.top, 30)

    def test_a_section_that_came_in_moves_the_rest_and_marks_nothing_of_it(self) -> None:
        one = page((200, 10), (200, 60))
        other = page((200, 10), (120, 130), (200, 60))
        (found,) = differences(one, other)
        self.assertTrue(found.before.empty)
        self.assertEqual(found.after, Span(0, 200, 200, 320))
        (back,) = differences(other, one)
        self.assertTrue(back.after.empty)
        self.assertEqual(back.before, Span(0, 200, 200, 320))

    def test_what_came_in_may_have_any_height(self) -> None:
        one = page((200, 10), (400, 60))
        for high in (1, 7, 33, 121):
            other = page((200, 10), (high, 130), (400, 60))
            with self.subTest(high):
                (found,) = differences(one, other)
                self.assertTrue(found.before.empty)
                self.assertEqual(found.after, Span(0, 200, 200, 200 + high))

    def test_two_that_are_far_apart_are_two(self) -> None:
        one = page((400, 10))
        other = one.copy()
        other[20:28, 5:9] = 255
        other[300:308, 150:190] = 0
        found = differences(one, other)
        self.assertEqual(len(found), 2)
        self.assertLess(found[0].after.bottom, found[1].after.top)

    def test_what_no_eye_sees_is_no_difference(self) -> None:
        one = page((80, 24))
        other = one.copy()
        other[40, 10] = one[40, 10] // 12 * 12
        self.assertEqual(differences(one, other), [])

    def test_pictures_of_different_widths_are_refused(self) -> None:
        with self.assertRaises(ValueError):
            differences(page((8, 1)), page((8, 1))[:, :10])


if __name__ == "__main__":
    unittest.main()

"""Work beside the window: short, long, stopped, too long, and failed."""

import threading
import time
import unittest

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QPushButton

from needle.ui.waiting import Stopped, done_apart, one_apart
from tests.ui.desk import APP


class WaitingTest(unittest.TestCase):
    def test_short_work_gives_its_results_and_faults_in_order(self) -> None:
        def fails() -> int:
            raise OSError("odd")

        given = done_apart(None, "Working…", [lambda: 1, fails, lambda: 3])
        self.assertEqual((given[0], given[2]), (1, 3))
        self.assertIsInstance(given[1], OSError)
        with self.assertRaises(OSError):
            one_apart(None, "Working…", fails)

    def test_long_work_is_stopped_by_its_button_and_the_rest_left_out(self) -> None:
        hold = threading.Event()
        self.addCleanup(hold.set)
        begun = []

        def long() -> int:
            begun.append(1)
            hold.wait(60)
            return 1

        timer = QTimer(interval=30)

        def stop() -> None:
            for window in APP.topLevelWidgets():
                for button in window.findChildren(QPushButton):
                    if button.text() == "Stop" and button.isVisible():
                        button.click()

        timer.timeout.connect(stop)
        timer.start()
        given = done_apart(None, "Working…", [long, long])
        timer.stop()
        self.assertTrue(all(isinstance(one, Stopped) for one in given))
        self.assertEqual(len(begun), 1)

    def test_work_without_end_is_given_up(self) -> None:
        hold = threading.Event()
        self.addCleanup(hold.set)
        began = time.monotonic()
        (given,) = done_apart(None, "Working…", [lambda: hold.wait(60)], longest_s=0.5)
        self.assertIsInstance(given, Stopped)
        self.assertLess(time.monotonic() - began, 30)

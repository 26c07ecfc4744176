import unittest

from gates import plainwords
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import QLabel, QWidget

from needle.ui.words import MarkupLabel, Words, asked, plain_tip, set_tip
from tests.ui.desk import APP

HOSTILE = "Ann <img src='/dev/zero'> & <b>bold</b>"


class WordsTest(unittest.TestCase):
    def test_a_label_shows_markup_as_it_came(self) -> None:
        label = Words(HOSTILE)
        self.addCleanup(label.deleteLater)
        self.assertEqual(label.textFormat(), Qt.TextFormat.PlainText)
        self.assertEqual(label.text(), HOSTILE)

    def test_what_fills_a_pattern_is_escaped(self) -> None:
        label = MarkupLabel()
        self.addCleanup(label.deleteLater)
        label.fill("<b>{words}</b>", words=HOSTILE)
        self.assertNotIn("<img", label.text())

    def test_a_question_shows_markup_as_it_came(self) -> None:
        box = asked(None, "Erase", HOSTILE, "Erase", "Keep")
        self.addCleanup(box.deleteLater)
        self.assertEqual((box.text(), box.textFormat()), (HOSTILE, Qt.TextFormat.PlainText))

    def test_a_tooltip_shows_markup_as_it_came(self) -> None:
        widget = QWidget()
        self.addCleanup(widget.deleteLater)
        set_tip(widget, HOSTILE)
        widget.show()
        APP.sendEvent(widget, QHelpEvent(
            QEvent.Type.ToolTip, QPoint(2, 2), widget.mapToGlobal(QPoint(2, 2))))
        tips = [w for w in APP.topLevelWidgets()
                if isinstance(w, QLabel) and w.inherits("QTipLabel")]
        self.assertEqual(len(tips), 1)
        self.assertNotIn("<img", tips[0].text())
        self.assertEqual(widget.accessibleDescription(), HOSTILE)

    def test_common_words_stay_as_they_are(self) -> None:
        self.assertEqual(plain_tip("Two\nlines"), "Two\nlines")


class GateTest(unittest.TestCase):
    def test_nothing_in_the_window_takes_words_for_markup(self) -> None:
        self.assertEqual(plainwords.faults(), [])

    def test_it_finds_what_does(self) -> None:
        for line in ("QLabel('x')", "a.setToolTip(words)", "QMessageBox.warning(a, b, c)",
                     "w.setTextFormat(rich)", "return words if role == R.ToolTipRole else None",
                     "view.setHtml(words)", "item.setToolTip(2, words)"):
            with self.subTest(line):
                self.assertTrue(list(plainwords.faults_in(f"def f():\n    {line}")))

    def test_it_lets_words_of_ours_be(self) -> None:
        self.assertEqual(list(plainwords.faults_in(
            "a.setToolTip('Go there')\na.setToolTip(plain_tip(words))\nmime.setHtml(x)")), [])

"""Asking about one way in which orders reach people, and about one coupon."""

from typing import Any

from PyQt6.QtWidgets import QCheckBox, QDialog, QFormLayout, QWidget

from needle.core.values.shop import COUPON_KINDS, WAY_KINDS, Coupon, Way
from needle.ui.cards import button, foot
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr

__all__ = ["CouponDialog", "WayDialog"]


def _number(edit: WordsEdit) -> str:
    return edit.text().strip().replace(",", ".")


class WayDialog(QDialog):
    """One way in which an order reaches somebody."""

    def __init__(self, way: Way | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("How orders reach people"))
        self.name = WordsEdit(tr("Name"), way.name if way else "")
        self.name.setPlaceholderText(tr("By post, within the country"))
        self.kind = ChoiceEdit(tr("It"), {key: tr(words) for key, words in WAY_KINDS.items()},
                               inherit=False)
        self.kind.show_value(way.kind if way else "post")
        self.price = WordsEdit(tr("Costs"), way.price if way else "")
        self.free_from = WordsEdit(tr("Costs nothing from"), way.free_from if way else "")
        for edit, example in ((self.price, "3.90"), (self.free_from, "50")):
            edit.setPlaceholderText(example)
        form = QFormLayout(self)
        for row in (self.name, self.kind, self.price, self.free_from):
            form.addRow(row.accessibleName(), row)
        form.addRow(foot(button(tr("Cancel"), self.reject),
                         button(tr("Keep it") if way else tr("Add it"), self.accept, main=True)))
        self.resize(420, 10)

    def fields(self) -> dict[str, str]:
        """Return what was typed."""
        return {"name": self.name.text(), "kind": str(self.kind.currentData()),
                "price": _number(self.price),
                "free_from": _number(self.free_from)}


class CouponDialog(QDialog):
    """What is taken off for a code, and when."""

    def __init__(self, coupon: Coupon | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Coupon"))
        held = coupon or Coupon(id="new", code="CODE")
        self.code = WordsEdit(tr("Code"), coupon.code if coupon else "")
        self.kind = ChoiceEdit(tr("Takes off"), {
            key: tr(words) for key, words in COUPON_KINDS.items()}, inherit=False)
        self.kind.show_value(held.kind)
        self.value = WordsEdit(tr("How much"), held.value)
        self.from_sum = WordsEdit(tr("Holds from a sum of"), held.from_sum)
        self.starts = WordsEdit(tr("From the day"), held.starts)
        self.ends = WordsEdit(tr("To the day"), held.ends)
        self.most = WordsEdit(tr("How often in all"), str(held.most) if held.most else "")
        for edit, example in ((self.code, "SUMMER-10"), (self.value, "10"),
                              (self.from_sum, "50"), (self.starts, "2027-06-01"),
                              (self.ends, "2027-08-31"), (self.most, tr("no limit"))):
            edit.setPlaceholderText(example)
        self.once = QCheckBox(tr("Once for each e-mail address"))
        self.once.setChecked(held.once)
        form = QFormLayout(self)
        for row in (self.code, self.kind, self.value, self.from_sum, self.starts, self.ends,
                    self.most):
            form.addRow(row.accessibleName(), row)
        form.addRow("", self.once)
        form.addRow(foot(button(tr("Cancel"), self.reject),
                         button(tr("Keep it") if coupon else tr("Add it"), self.accept,
                                main=True)))
        self.kind.chosen.connect(lambda _: self._fit())
        self._fit()
        self.resize(420, 10)

    def _fit(self) -> None:
        self.value.setEnabled(self.kind.currentData() != "carriage")

    def fields(self) -> dict[str, Any]:
        """Return what was typed."""
        most = self.most.text().strip()
        return {"code": self.code.text(), "kind": str(self.kind.currentData()),
                "value": _number(self.value) if self.value.isEnabled() else "",
                "from_sum": _number(self.from_sum), "starts": self.starts.text().strip(),
                "ends": self.ends.text().strip(),
                # What is no number is refused with the rest, in words.
                "most": int(most) if most.isdecimal() else -1 if most else 0,
                "once": self.once.isChecked()}

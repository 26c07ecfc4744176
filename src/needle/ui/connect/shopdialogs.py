"""Asking about one way in which orders reach people or are paid, one country, one coupon."""

import re
from collections.abc import Mapping
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QDialog, QFormLayout, QPlainTextEdit, QWidget

from needle.core.edit.shop import steps_from
from needle.core.tables.cells import land_names
from needle.core.values.language import Language
from needle.core.values.shop import COUPON_KINDS, PAY_KINDS, WAY_KINDS, Coupon, Land, PayWay, Way
from needle.ui.cards import button, foot
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.words import set_tip

__all__ = ["CouponDialog", "LandDialog", "PayDialog", "WayDialog"]


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
        self.lands = WordsEdit(tr("To the countries"), ", ".join(way.lands) if way else "")
        self.steps = QPlainTextEdit("\n".join(
            f"{step.grams} = {step.price}" for step in way.steps) if way else "")
        self.steps.setAccessibleName(tr("By weight"))
        self.steps.setFixedHeight(64)
        self.steps.setTabChangesFocus(True)
        set_tip(self.steps, tr("Up to how many grams, and the price; a line each. What weighs more "
                               "does not go in this way. Weights are a column of the table."))
        for edit, example in ((self.price, "3.90"), (self.free_from, "50"),
                              (self.lands, tr("all; or GB, IE")), (self.steps, "500 = 3.90")):
            edit.setPlaceholderText(example)
        form = QFormLayout(self)
        for row in (self.name, self.kind, self.price, self.free_from, self.lands, self.steps):
            form.addRow(row.accessibleName(), row)
        form.addRow(foot(button(tr("Cancel"), self.reject),
                         button(tr("Keep it") if way else tr("Add it"), self.accept, main=True)))
        self.resize(420, 10)

    def fields(self) -> dict[str, Any]:
        """Return what was typed.

        Raises:
            EditError: A step of carriage is none.
        """
        return {"name": self.name.text(), "kind": str(self.kind.currentData()),
                "price": _number(self.price), "free_from": _number(self.free_from),
                "lands": tuple(filter(None, re.split(r"[\s,;]+", self.lands.text().upper()))),
                "steps": steps_from(self.steps.toPlainText())}


class PayDialog(QDialog):
    """One way in which an order is paid."""

    def __init__(self, pay: PayWay | None, services: Mapping[str, str], parent: QWidget) -> None:
        """Ask.

        Args:
            services: The payment services of the site, by id.
        """
        super().__init__(parent)
        self.setWindowTitle(tr("How orders are paid"))
        self.name = WordsEdit(tr("Name"), pay.name if pay else "")
        self.name.setPlaceholderText(tr("By bank transfer"))
        self.kind = ChoiceEdit(tr("It"), {key: tr(words) for key, words in PAY_KINDS.items()},
                               inherit=False)
        self.kind.show_value(pay.kind if pay else "later")
        self.service = ChoiceEdit(tr("Payment service"), {"": tr("not chosen yet"), **services},
                                  inherit=False)
        self.service.show_value(pay.service if pay else next(iter(services), ""))
        self.words = QPlainTextEdit(pay.words if pay else "")
        self.words.setAccessibleName(tr("What they are told"))
        self.words.setPlaceholderText(tr("Where to transfer it, until when; stands in the letter"))
        self.words.setFixedHeight(84)
        self.words.setTabChangesFocus(True)
        form = self._form = QFormLayout(self)
        for row in (self.name, self.kind, self.service, self.words):
            form.addRow(row.accessibleName(), row)
        form.addRow(foot(button(tr("Cancel"), self.reject),
                         button(tr("Keep it") if pay else tr("Add it"), self.accept, main=True)))
        self.kind.chosen.connect(lambda _: self._fit())
        self._fit()
        self.resize(440, 10)

    def _fit(self) -> None:
        self._form.setRowVisible(self.service, self.kind.currentData() == "service")

    def fields(self) -> dict[str, Any]:
        """Return what was typed."""
        kind = str(self.kind.currentData())
        return {"name": self.name.text(), "kind": kind, "words": self.words.toPlainText().strip(),
                "service": str(self.service.currentData() or "") if kind == "service" else ""}


class LandDialog(QDialog):
    """A country to which orders go, and its tax."""

    def __init__(self, land: Land | None, language: Language, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Country"))
        self.land = ChoiceEdit(tr("Country"), land_names(language), inherit=False)
        self.land.show_value(land.code if land else "GB")
        self.tax = WordsEdit(tr("Tax in percent"), land.tax if land else "")
        self.tax.setPlaceholderText(tr("none"))
        form = QFormLayout(self)
        for row in (self.land, self.tax):
            form.addRow(row.accessibleName(), row)
        form.addRow(foot(button(tr("Cancel"), self.reject),
                         button(tr("Keep it") if land else tr("Add it"), self.accept, main=True)))
        self.resize(380, 10)

    def fields(self) -> dict[str, str]:
        """Return what was chosen."""
        return {"code": str(self.land.currentData()), "tax": _number(self.tax)}


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
        self.only = WordsEdit(tr("For these things alone"), held.only)
        self.only.setPlaceholderText(tr("all; or a tag, a choice, a thing"))
        self.once = QCheckBox(tr("Once for each e-mail address"))
        self.once.setChecked(held.once)
        self.auto = QCheckBox(tr("By itself, without its code; of several that hold, the one that "
                                 "takes most off"))
        self.auto.setChecked(held.auto)
        form = QFormLayout(self)
        for row in (self.code, self.kind, self.value, self.only, self.from_sum, self.starts,
                    self.ends, self.most):
            form.addRow(row.accessibleName(), row)
        form.addRow("", self.once)
        form.addRow("", self.auto)
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
                "once": self.once.isChecked(), "auto": self.auto.isChecked(),
                "only": " ".join(self.only.text().split())}

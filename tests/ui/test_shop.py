"""The shop through the window: set up in Connect, its orders in Measure."""

from unittest import mock

import msgspec
from PyQt6.QtWidgets import QFileDialog, QLabel

from needle.core.edit.forms import change_form
from needle.core.edit.shop import change_shop
from needle.core.site.site import Site
from needle.core.values.form import FormField, Role
from needle.core.values.shop import NO_SHOP
from needle.store.results.erasing import erase_person
from needle.store.results.ordered import NewOrder, OrderLine
from needle.store.results.orders import list_orders
from needle.store.results.taking import ORDER, NewLead, take_lead
from needle.ui.connect.shop import ShopPart
from needle.ui.connect.shopdialogs import CouponDialog, LandDialog, PayDialog, WayDialog
from needle.ui.measure.orderdialogs import BackDialog, BilledDialog
from needle.ui.measure.orders import OrderBook
from needle.ui.measure.receipt import receipt_words
from tests.shops import WAYS, small_shop
from tests.sites import FORM, THANKS
from tests.ui.desk import DeskTest


class SettingTest(DeskTest):
    def site(self) -> Site:
        return change_shop(small_shop(), **{
            name: getattr(NO_SHOP, name) for name in NO_SHOP.__struct_fields__})

    def part(self) -> ShopPart:
        self.window.show_stage("Connect")
        connect = self.window.stages["Connect"]
        connect.show_part("Shop")
        return connect.shop

    def pick(self, edit, value: object) -> None:
        edit.show_value(value)
        edit.chosen.emit(value)

    def test_what_is_left_to_do_is_told_until_visitors_can_buy(self) -> None:
        part = self.part()
        part.refresh()
        self.assertIn("choose what is sold; choose the form", part.left.text())
        things = self.session.site.tables[0]
        self.pick(part.table, things.id)
        self.pick(part.form, FORM)
        self.pick(part.cart, THANKS)
        part.currency.setText("gbp")
        part.currency.editingFinished.emit()
        part.tax.setText("7,5")
        part.tax.editingFinished.emit()
        shop = self.session.site.shop
        self.assertEqual((shop.table, shop.form, shop.cart, shop.currency, shop.tax),
                         (things.id, FORM, THANKS, "GBP", "7.5"))
        self.assertIn("Visitors can buy.", part.left.text())
        self.session.undo()
        self.assertEqual(self.session.site.shop.tax, "")
        part.tip.setText("For the roof")
        part.tip.editingFinished.emit()
        self.assertEqual(self.session.site.shop.tip, "For the roof")

    def test_ways_to_pay_countries_and_an_offer(self) -> None:
        part, said = self.part(), list[str]()
        self.session.said.connect(lambda words, _: said.append(words))
        self.pick(part.table, self.session.site.tables[0].id)
        kinds = iter(("service", "later"))
        with mock.patch.object(PayDialog, "exec", lambda dialog: (
                dialog.name.setText("By transfer"), dialog.words.setPlainText("To 00"),
                dialog.kind.show_value(next(kinds)), 1)[-1]):
            part.pays.ask(fresh=True)
        self.assertIn("needs a payment service", said[-1])
        (pay,) = self.session.site.shop.pays
        self.assertEqual((pay.name, pay.kind, pay.words), ("By transfer", "later", "To 00"))
        for code, tax in (("GB", "20"), ("DE", "19")):
            with mock.patch.object(LandDialog, "exec", lambda dialog, c=code, t=tax: (
                    dialog.land.show_value(c), dialog.tax.setText(t), 1)[-1]):
                part.lands.ask(fresh=True)
        with mock.patch.object(WayDialog, "exec", lambda dialog: (
                dialog.name.setText("Abroad"), dialog.lands.setText("de"),
                dialog.steps.setPlainText("500 = 3,90\n2000: 7"), 1)[-1]):
            part.ways.ask(fresh=True)
        (way,) = self.session.site.shop.ways
        self.assertEqual((way.lands, [(step.grams, step.price) for step in way.steps]),
                         (("DE",), [(500, "3.90"), (2000, "7")]))
        part.lands.table.selectRow(1)
        part.lands.drop()
        self.assertIn("“Abroad” goes to that country alone", said[-1])
        part.extra.thing.show_value(part.extra.thing.itemData(1))
        part.extra.thing.chosen.emit(part.extra.thing.itemData(1))
        part.extra.percent.setText("a lot")
        part.extra.percent.editingFinished.emit()
        self.assertIn("share in percent", said[-1])
        part.extra.percent.setText("20")
        part.extra.percent.editingFinished.emit()
        extra = self.session.site.shop.extra
        assert extra is not None
        self.assertEqual((extra.row, extra.percent, extra.after),
                         (self.session.site.tables[0].rows[0].id, "20", True))

    def test_the_letter_to_whoever_left_a_cart(self) -> None:
        part = self.part()
        self.pick(part.form, FORM)
        card = part.abandoned
        self.assertIn("no field for consent", card._why.text())
        self.session.edit("tick", lambda site: change_form(site, FORM, lambda form: (
            msgspec.structs.replace(form, keep_unfinished=True, fields=(*form.fields, FormField(
                id="tick", role=Role.CONSENT, label="Write to me"))))))
        part.refresh()
        self.assertIn("written to once", card._why.text())
        self.pick(card.consent, "tick")
        self.assertTrue(card.subject.isVisible())
        card.subject.setText(" Your  cart ")
        card.hours.setText("3")
        card.keep.click()
        left = self.session.site.shop.left
        assert left is not None
        self.assertEqual((left.consent, left.service, left.subject, left.hours),
                         ("tick", "mailbox", "Your cart", 3))
        self.pick(card.consent, "")
        card.keep.click()
        self.assertIsNone(self.session.site.shop.left)

    def test_what_is_no_percent_is_refused_in_words(self) -> None:
        said: list[str] = []
        self.session.said.connect(lambda words, _: said.append(words))
        part = self.part()
        part.tax.setText("a lot")
        part.tax.editingFinished.emit()
        self.assertIn("a share in percent", said[-1])
        self.assertEqual((self.session.site.shop.tax, part.tax.text()), ("", ""))

    def test_ways_are_added_changed_and_taken_away(self) -> None:
        part = self.part()
        answers = iter((("", "x", ""), ("By post", "3,90", "50")))

        def answer(dialog: WayDialog) -> int:
            name, price, free = next(answers)
            for edit, words in ((dialog.name, name), (dialog.price, price),
                                (dialog.free_from, free)):
                edit.setText(words)
            return 1

        with mock.patch.object(WayDialog, "exec", answer):  # What does not fit asks again.
            part.ways.ask(fresh=True)
        (way,) = self.session.site.shop.ways
        self.assertEqual((way.name, way.price, way.free_from), ("By post", "3.90", "50"))
        part.ways.table.selectRow(0)
        with mock.patch.object(WayDialog, "exec", lambda dialog: (
                dialog.name.setText("By mail"), 1)[1]):
            part.ways.ask()
        self.assertEqual(self.session.site.shop.ways[0].name, "By mail")
        part.ways.table.selectRow(0)
        part.ways.drop()
        self.assertEqual(self.session.site.shop.ways, ())


    def test_a_coupon_is_added_and_what_does_not_fit_asks_again(self) -> None:
        part, said = self.part(), list[str]()
        self.session.said.connect(lambda words, _: said.append(words))
        answers = iter((("SUMMER", "200", ""), ("SUMMER", "10", "many"), ("summer 10", "10", "3")))

        def answer(dialog: CouponDialog) -> int:
            code, value, most = next(answers)
            for edit, words in ((dialog.code, code), (dialog.value, value), (dialog.most, most)):
                edit.setText(words)
            return 1

        with mock.patch.object(CouponDialog, "exec", answer):
            part.coupons.ask(fresh=True)
        self.assertIn("1 to 100 percent", said[0])
        (coupon,) = self.session.site.shop.coupons
        self.assertEqual((coupon.code, coupon.value, coupon.most), ("SUMMER10", "10", 3))
        self.assertEqual([part.coupons.table.item(0, n).text() for n in range(5)],
                         ["SUMMER10", "10 %", "any sum", "any day", "3 in all"])
        part.coupons.table.selectRow(0)
        part.coupons.drop()
        self.assertEqual(self.session.site.shop.coupons, ())


class OrderBookTest(DeskTest):
    def site(self) -> Site:
        return small_shop()

    def order(self, number: int, total: str = "24.00") -> None:
        torch = self.session.site.tables[0].rows[0].id
        take_lead(self.window.outcomes.engine, NewLead(
            key=f"k{number}", at_ms=1000 + number, visitor="v", form=FORM, form_name="F",
            page=THANKS, variant="A", email=f"n{number}@mail.example",
            answers=[("n", "Name", f"N{number}"), (ORDER, "Your order", "1 × Torch\nTo pay: x")],
            order=NewOrder(lines=[OrderLine(torch, "Torch <b>", "", 1, total, total, 3)],
                           way=WAYS[0].name, things=total, carriage="0.00", tax="4.00",
                           taxes=[("20", "20.00", "4.00")], total=total, currency="GBP")))

    def book(self) -> OrderBook:
        self.window.show_stage("Measure")
        measure = self.window.stages["Measure"]
        measure.show_part("Orders")
        measure.orders.refresh()
        return measure.orders

    def test_an_empty_book_says_where_to_begin(self) -> None:
        book = self.book()
        self.assertTrue(book._empty.isVisible())
        self.assertFalse(book._one.isVisible())

    def test_an_order_is_shown_and_becomes_what_it_may(self) -> None:
        for number in range(3):
            self.order(number)
        book = self.book()
        self.assertEqual(book.table.rowCount(), 3)
        self.assertIn("3 orders, £72", book._note.text())
        self.assertIn("Name: N2", book.about.text())
        cell = book.lines.item(0, 0)
        self.assertEqual(cell.text() if cell else "", "Torch <b>")
        self.until(lambda: [one.text() for one in book.sums.findChildren(QLabel)
                            if one.isVisible()] == [
                                "By post", "£0", "Total", "£24", "of which tax, 20 %", "£4"])
        shown = {state for state, made in book.becomes.items() if made.isVisible()}
        self.assertEqual(shown, {"paid", "sent", "cancelled"})
        book.becomes["paid"].click()
        book.becomes["cancelled"].click()
        self.assertIn("2 orders, £48", book._note.text())
        self.assertFalse(any(made.isVisible() for made in book.becomes.values()))
        book.state.show_value("cancelled")
        book.state.chosen.emit("cancelled")
        self.assertEqual(book.table.rowCount(), 1)

    def test_money_goes_back_and_never_more_than_was_paid(self) -> None:
        self.order(1)
        book = self.book()
        self.assertFalse(book.back.isVisible())
        book.becomes["paid"].click()
        said: list[str] = []
        self.session.said.connect(lambda words, _: said.append(words))
        amounts = iter(("25", "a lot", "4,50"))
        with mock.patch.object(BackDialog, "exec", lambda dialog: (
                dialog.edit.setText(next(amounts)), 1)[1]):
            book.ask_back()
        self.assertEqual(len(said), 2)
        self.assertIn("£24" if "£24" in said[0] else "24.00 GBP", said[0])
        self.assertIn("£4.50 · paid back", book.money.text())
        with mock.patch.object(BackDialog, "exec", lambda dialog: (
                said.append(dialog.edit.text()), 0)[1]):
            book.ask_back()
        self.assertEqual(said[-1], "19.50")

    def test_an_invoice_has_its_number_once_and_outlives_its_person(self) -> None:
        self.order(1)
        book = self.book()
        said: list[str] = []
        self.session.said.connect(lambda words, _: said.append(words))
        book.ask_invoice()
        self.assertIn("says who sells", said[-1])
        self.session.edit("seller", lambda site: change_shop(site, seller="Barn\nMoor Lane"))
        path = self.folder.parent / "invoice.pdf"
        with mock.patch.object(BilledDialog, "exec", return_value=1), mock.patch(
                "needle.ui.measure.orders.QFileDialog.getSaveFileName",
                return_value=(str(path), "")):
            book.ask_invoice()
            first = path.read_bytes()
            book.ask_invoice()
        self.assertTrue(first.startswith(b"%PDF-"))
        self.assertIn("Invoice 1", book.money.text())
        erased = erase_person(self.window.outcomes.engine, self.folder, "n1@mail.example")
        self.assertEqual(list(erased.invoices), [1])
        self.assertIn("books to be kept: 1", receipt_words("S", "n1@mail.example", erased, ()))
        (order,) = list_orders(self.window.outcomes.engine)
        assert order.invoice is not None
        self.assertEqual((order.email, order.invoice.number, order.invoice.to), ("", 1, "N1"))

    def test_orders_are_found_by_any_words(self) -> None:
        for number in range(3):
            self.order(number)
        book = self.book()
        book.line.setText("n1 torch")
        self.assertEqual([order.email for order in book.orders], ["n1@mail.example"])
        book.line.setText("nothing like it")
        self.assertEqual(book._empty.text(), "No order is like that.")

    def test_the_table_is_told_what_sells_in_one_step(self) -> None:
        for number in range(3):
            self.order(number)
        book = self.book()
        book.becomes["cancelled"].click()
        before = self.session.site
        book.tell_lists()
        table = self.session.site.tables[0]
        sold = table.meaning("sold")
        assert sold is not None
        self.assertEqual([table.cell(row, sold.id) for row in table.rows[:2]], ["2", "0"])
        self.assertIsNotNone(table.meaning("together"))
        self.session.undo()
        self.assertIs(self.session.site, before)

    def test_more_than_are_listed_are_summed_and_written_out(self) -> None:
        for number in range(3):
            self.order(number)
        path = self.folder.parent / "orders.csv"
        with mock.patch("needle.ui.measure.orders._LISTED", 2), mock.patch(
                "needle.ui.measure.orders.QFileDialog.getSaveFileName",
                return_value=(str(path), "")):
            book = self.book()
            book.ask_export()
        self.assertEqual(book.table.rowCount(), 2)
        self.assertEqual(book._note.text(), "3 orders, £72; the newest 2 are listed")
        self.assertEqual(len(path.read_text().splitlines()), 4)

    def test_orders_and_a_packing_list_are_written_out(self) -> None:
        self.order(1)
        book, out = self.book(), self.folder.parent / "out.csv"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(out), "")):
            book.ask_export()
        lines = out.read_text("utf-8-sig").splitlines()
        self.assertEqual(len(lines), 2)
        self.assertIn("n1@mail.example,Torch <b>,,1,24.00,24.00,,,0.00,By post,0.00,,4.00,24.00,"
                      "GBP", lines[1])
        pdf = self.folder.parent / "list.pdf"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(pdf), "")):
            book.ask_list()
        self.assertTrue(pdf.read_bytes().startswith(b"%PDF"))
        said: list[str] = []
        self.session.said.connect(lambda words, _: said.append(words))
        nowhere = str(self.folder / "site.json" / "x.pdf")
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(nowhere, "")):
            book.ask_list()
        self.assertEqual(len(said), 1)
        self.assertTrue(said[0].startswith("x.pdf: "), said)
        self.assertEqual(len(list_orders(self.window.outcomes.engine)), 1)

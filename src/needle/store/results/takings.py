"""What orders brought in: by the pages and variants on which their people were before they ordered,
and by the form with which they did."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from sqlalchemy import ColumnElement, Connection, Engine, and_, select

from needle.core.measure.period import SplitPeriod
from needle.core.values.ids import Id
from needle.store.results.rolling import roll_up
from needle.store.results.tables import arrived, leads, orders, refunds

__all__ = ["NOTHING", "Takings", "form_takings", "page_takings", "split_takings"]

_COUNT = ("new", "paid", "sent", "done")


@dataclass(frozen=True, slots=True)
class Takings:
    """What some orders come to, less what was paid back.

    Attributes:
        orders: How many; who ordered twice stands in it twice.
        sums: By currency.
    """

    orders: int = 0
    sums: Mapping[str, Decimal] = field(default_factory=dict)

    def plus(self, amount: Decimal, currency: str) -> "Takings":
        """Return it with an order more."""
        return Takings(self.orders + 1, {
            **self.sums, currency: self.sums.get(currency, Decimal(0)) + amount})


NOTHING = Takings()


def form_takings(engine: Engine) -> dict[Id, Takings]:
    """Return what came in with each form."""
    with engine.connect() as connection:
        return _summed(_orders(connection, select(
            leads.c.form.label("what"), *_WHOLE).select_from(orders).join(
                leads, leads.c.id == orders.c.lead), _paid_back(connection)))


def page_takings(engine: Engine) -> dict[tuple[Id, str], Takings]:
    """Return what those ordered who were on a page before, by page and variant. An order counts on
    each of the pages that its person was on."""
    roll_up(engine)
    with engine.connect() as connection:
        return _summed(_orders(connection, _by_arrival(and_(
            arrived.c.first <= orders.c.at, arrived.c.aside.is_(False))),
            _paid_back(connection)))


def split_takings(engine: Engine, test: SplitPeriod) -> dict[str, Takings]:
    """Return what the visitors of a test ordered in its time, by variant."""
    roll_up(engine)
    where = and_(arrived.c.page == test.page, arrived.c.first >= (test.began_ms or 0),
                 arrived.c.first <= orders.c.at, arrived.c.aside.is_(False),
                 arrived.c.variant.in_([key for key, _ in test.arms]))
    if test.closes_ms is not None:
        where = and_(where, orders.c.at < test.closes_ms)
    with engine.connect() as connection:
        found = _summed(_orders(connection, _by_arrival(where), _paid_back(connection)))
    return {variant: takings for (_, variant), takings in found.items()}


_WHOLE = (orders.c.id, orders.c.total, orders.c.currency)


def _by_arrival(where: ColumnElement[bool]) -> Any:
    return select(arrived.c.page, arrived.c.variant, *_WHOLE).select_from(arrived).join(
        leads, leads.c.visitor == arrived.c.visitor).join(
        orders, orders.c.lead == leads.c.id).where(where)


def _orders(connection: Connection, query: Any, back: Mapping[int, Decimal],
            ) -> Iterable[tuple[Any, Decimal, str]]:
    for row in connection.execute(query.where(orders.c.state.in_(_COUNT))):
        key = row.what if "what" in row._fields else (row.page, row.variant)
        yield key, Decimal(row.total) - back.get(row.id, Decimal(0)), row.currency


def _paid_back(connection: Connection) -> dict[int, Decimal]:
    found: dict[int, Decimal] = {}
    for row in connection.execute(select(refunds.c.order, refunds.c.amount).where(
            refunds.c.state != "failed", refunds.c.key.not_like("back-%"))):
        found[row.order] = found.get(row.order, Decimal(0)) + Decimal(row.amount)
    return found


def _summed(told: Iterable[tuple[Any, Decimal, str]]) -> dict[Any, Takings]:
    found: dict[Any, Takings] = {}
    for key, amount, currency in told:
        found[key] = found.get(key, NOTHING).plus(amount, currency)
    return found

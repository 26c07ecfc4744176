"""What is left of things that are counted, and how often coupons still hold: never below zero,
however many ask at once and over how many hosts."""

from collections.abc import Mapping, Sequence

from sqlalchemy import Connection, Engine, select, text, update
from sqlalchemy.dialects import postgresql, sqlite

from needle.store.refusing import StoreError
from needle.store.results.ordered import OrderLine, UsedCoupon
from needle.store.results.tables import leads, orders, stock

__all__ = ["GIVEN_BACK", "SoldOutError", "give_back", "left_of", "take_pieces", "take_turn",
           "use_coupon"]

# In these states of an order its pieces are in nobody's hands.
GIVEN_BACK = ("aside", "cancelled", "lapsed")
# What coupons are called among what is counted, and how often one without a limit holds.
_COUPON, _ANY = "%", 1_000_000_000
# Any number of our own.
_TURN = 7_246_033


class SoldOutError(StoreError):
    """Fewer pieces are left than an order takes; the message is for the visitor."""


def left_of(engine: Engine, written: Mapping[str, int]) -> dict[str, int]:
    """Return how many pieces are left.

    Args:
        written: What the marketer last wrote of each.
    """
    with engine.connect() as connection:
        held = {row.offer: row for row in connection.execute(
            select(stock).where(stock.c.offer.in_(list(written))))}
    return {offer: held[offer].left if offer in held and held[offer].written == count else count
            for offer, count in written.items()}


def take_turn(connection: Connection) -> None:
    """Wait until nobody else takes pieces, uses coupons or gives orders their numbers, and keep
    others waiting until the transaction ends.

    Several orders are stored in one transaction, and other hosts store theirs: without turns two
    of them could hold what the other waits for.
    """
    if connection.dialect.name == "postgresql":  # SQLite has one writer anyway.
        connection.execute(text("SELECT pg_advisory_xact_lock(:n)"), {"n": _TURN})


def take_pieces(connection: Connection, lines: Sequence[OrderLine]) -> None:
    """Take the pieces of an order, whose turn it is.

    Raises:
        SoldOutError: Fewer are left than it takes.
    """
    for line in lines:
        if line.counted is None:
            continue
        _write_anew(connection, line.key, line.counted)
        taken = connection.execute(update(stock).where(
            stock.c.offer == line.key, stock.c.left >= line.pieces).values(
                left=stock.c.left - line.pieces))
        if not taken.rowcount:
            left = connection.execute(select(stock.c.left).where(
                stock.c.offer == line.key)).scalar() or 0
            if left > 0:
                raise SoldOutError("cart-fewer", thing=line.thing, left=left, count=line.pieces)
            raise SoldOutError("cart-sold-out", thing=line.thing)


def use_coupon(connection: Connection, coupon: UsedCoupon | None, lead: int) -> None:
    """Have a coupon be used once more. It is counted as pieces are, so that it holds as often as it
    says and no more, however many ask at once.

    Raises:
        SoldOutError: It is used up, or its person has used it.
    """
    if coupon is None:
        return
    key, most = _COUPON + coupon.id, coupon.most or _ANY
    _write_anew(connection, key, most)
    used = connection.execute(update(stock).where(stock.c.offer == key, stock.c.left > 0).values(
        left=stock.c.left - 1))
    if not used.rowcount:
        raise SoldOutError("coupon-used-up", code=coupon.code)
    # Whoever is here holds the row of the coupon: nobody else looks at the same time.
    person = select(leads.c.person).where(leads.c.id == lead).scalar_subquery()
    if coupon.once and connection.execute(
            select(orders.c.id).join(leads, leads.c.id == orders.c.lead).where(
                leads.c.person == person, leads.c.person != "", orders.c.lead != lead,
                orders.c.coupon.startswith(f'["{coupon.id}"', autoescape=True),
                orders.c.state.not_in(GIVEN_BACK)).limit(1)).first():
        raise SoldOutError("coupon-once", code=coupon.code)


def _write_anew(connection: Connection, offer: str, written: int) -> None:
    """Have a number hold that the marketer wrote since."""
    made = (postgresql if connection.dialect.name == "postgresql" else sqlite).insert(stock)
    connection.execute(made.values(offer=offer, written=written, left=written)
                       .on_conflict_do_nothing(index_elements=["offer"]))
    connection.execute(update(stock).where(
        stock.c.offer == offer, stock.c.written != written).values(written=written, left=written))


def give_back(connection: Connection, lines: Sequence[OrderLine], coupon: UsedCoupon | None,
              ) -> None:
    """Give pieces and coupon of an order back, whose turn it is."""
    for line in lines:  # Unless the marketer has counted since.
        connection.execute(update(stock).where(
            stock.c.offer == line.key, stock.c.written == line.counted).values(
                left=stock.c.left + line.pieces))
    if coupon is not None:
        connection.execute(update(stock).where(
            stock.c.offer == _COUPON + coupon.id,
            stock.c.written == (coupon.most or _ANY)).values(left=stock.c.left + 1))

"""`python -m bench.shop [ORDERS]`: the shop against a plain model, a rush, and all that goes wrong.

20,000 random orders with coupons, taxes, carriage and money paid back are stored; each total, and
the sums of the order book, must equal the model's to the cent. A hundred buyers order one last
piece at once, on SQLite and over two hosts on PostgreSQL. Then ORDERS (300) are paid while the
payment service has each of its faults in turn and hosts are killed every few seconds: in the end
no payment is without its order, none is paid twice, and the stock is right.
"""

import os
import random
import re
import signal
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, contextmanager, suppress
from decimal import Decimal
from pathlib import Path

import httpx
import msgspec
from sqlalchemy import Engine, select
from tests.host.cluster import Cluster, programs
from tests.host.stall import BROWSER
from tests.shopmodel import PlainShop, random_cart, random_shop
from tests.shops import small_shop
from tests.sites import EMAIL, FORM, NAME, PAGE

from needle.core.shop.pricing import priced
from needle.core.site.site import Service, Site
from needle.core.tables.editing import set_cells
from needle.core.tables.expanding import expanded
from needle.core.values.shop import PayWay
from needle.practice.faults import set_fault
from needle.practice.payments import PAY_FAULTS
from needle.publish.live import send_pages
from needle.running.addresses import practice_folder, read_address
from needle.running.children import Child
from needle.running.stand import Stand
from needle.store.project import Project
from needle.store.results.ordered import Order, order_from
from needle.store.results.orders import list_orders, set_state
from needle.store.results.payments import ask_refund, refundable
from needle.store.results.place import remember_database
from needle.store.results.tables import open_results, payments, stock
from needle.store.results.taking import NewLead, take_leads
from needle.store.results.takings import form_takings

_MODEL, _BATCH = 20_000, 200
_RUSH, _BUYERS = 100, 10
_KILLED_EVERY_S, _FAULT_FOR_S = 3.0, 2.0
_SETTLED_WITHIN_S = 240
_PIECES = 10_000
_HELD = ("new", "paid", "sent", "done")


# The model

def _model() -> bool:
    """Store random orders, pay some of them back, and compare with the model."""
    dice, began = random.Random(2027), time.monotonic()
    wrong, owed, fresh = 0, 0, list[NewLead]()
    with tempfile.TemporaryDirectory() as held:
        engine = open_results(Path(held) / "results.db")
        for number in range(_MODEL):
            if number % 20 == 0:
                plain, sold = random_shop(dice)
            cart = random_cart(dice)
            while not cart.lines:
                cart = random_cart(dice)
            found = priced(cart, sold, {}, plain.shop, "2027-08-12")
            total, tax = plain.total(cart)
            wrong += (int(found.total * 100), int(found.tax * 100)) != (total, tax)
            owed += total
            fresh.append(_lead(number, order_from(found, plain.shop), plain))
            if len(fresh) == _BATCH or number == _MODEL - 1:
                take_leads(engine, fresh)
                fresh.clear()
        every = list_orders(engine)
        for order in every[::7]:
            set_state(engine, order.id, "paid", 2)
            cents = dice.randint(1, max(1, int(Decimal(order.total) * 100)))
            if refundable(engine, order.id) * 100 >= cents:
                ask_refund(engine, order.id, Decimal(cents) / 100, f"back{order.id}", 3)
                owed -= cents
        numbers = sorted(order.number for order in every)
        taken = form_takings(engine)[FORM]
        engine.dispose()
    right = not wrong and int(taken.sums["GBP"] * 100) == owed and (
        numbers == list(range(1, _MODEL + 1)) and taken.orders == _MODEL)
    print(f"{_MODEL} random orders: {wrong} totals or taxes differ; the order book comes to "
          f"{taken.sums['GBP']}, the model to {Decimal(owed) / 100}; numbers without a gap: "
          f"{numbers == list(range(1, _MODEL + 1))} ({time.monotonic() - began:.0f} s)")
    return right


def _lead(number: int, order: object, _: PlainShop) -> NewLead:
    return NewLead(key=f"k{number}", at_ms=1, visitor=f"v{number}", form=FORM, form_name="F",
                   page=PAGE, variant="A", email="", answers=(),
                   order=order)  # type: ignore[arg-type]


# Hosts

def _site() -> Site:
    site = small_shop(pays=(PayWay(id="card", name="At once", kind="service", service="paydesk"),
                            PayWay(id="bill", name="By transfer")))
    things = site.tables[0]
    places = {column.name: column.id for column in things.columns}
    site = set_cells(site, things.id, [(things.rows[1].id, places["Stock"], str(_PIECES))])
    site = msgspec.structs.replace(site, forms=tuple(
        msgspec.structs.replace(form, check_robots=False) for form in site.forms))
    return msgspec.structs.replace(site, services=(
        *site.services, Service(id="paydesk", name="Desk", does="pay", practice=True)))


def _end(child: Child) -> None:
    os.kill(child.pid, signal.SIGKILL)
    child.stop()


class _Shop:
    """A project with its hosts and the practice payment service."""

    def __init__(self, root: Path, database: str) -> None:
        self.folder, self.site = root / "project", _site()
        Project.create(self.folder, self.site).close()
        send_pages(self.site, self.folder, [page.id for page in expanded(self.site).pages])
        if database:
            remember_database(self.folder, database)
        self.engine: Engine = open_results(database or self.folder / "results.db")
        self.stand = Stand(self.folder, 0, ("list", "mail", "pay"))
        self.more = Child("needle.host", [str(self.folder), "--port", "0"]) if database else None
        self.ports = [self.stand.port, *([int(self.more.facts["port"])] if self.more else [])]
        self.keys = {row.cells[0]: row.id for row in self.site.tables[0].rows}

    def end(self) -> None:
        """End all of it."""
        self.stand.stop()
        if self.more is not None:
            self.more.stop()
        self.engine.dispose()
        remember_database(self.folder, "")

    def kill(self, number: int) -> None:
        """Kill a host as a power cut does, and begin it again on its port."""
        if number == 0:
            child = self.stand.child("host")
            assert child is not None
            _end(child)
            self.stand.start_host(self.ports[0])
        elif self.more is not None:
            _end(self.more)
            self.more = Child("needle.host", [str(self.folder), "--port", str(self.ports[1])])

    def buyer(self, number: int) -> httpx.Client:
        """Return somebody with a browser."""
        port = self.ports[number % len(self.ports)]
        return httpx.Client(base_url=f"http://127.0.0.1:{port}", trust_env=False, timeout=20,
                            headers={"Host": f"{self.site.address}.localhost:{port}"} | BROWSER)

    def fill(self, who: httpx.Client, thing: str, pay: str) -> None:
        """Put something into a cart."""
        who.post("/_needle/cart", data={"row": self.keys[thing]})
        who.post("/_needle/cart", data={"way": "fetch", "pay": pay})

    def order(self, who: httpx.Client, key: str) -> httpx.Response:
        """Order what is in a cart."""
        return who.post(f"/_needle/lead/{FORM}", headers={"Accept": "application/json"}, data={
            NAME: "Ro", EMAIL: f"{key}@mail.example", "src1": "", "_page": PAGE, "_variant": "A",
            "_key": key})

    def at_desk(self, what: str) -> list[dict[str, str]]:
        """Return what the payment service knows."""
        desk = read_address(practice_folder(self.folder, "pay"))
        assert desk is not None
        found: list[dict[str, str]] = httpx.get(
            f"{desk['url']}/{what}", trust_env=False, timeout=30,
            headers={"Authorization": f"Bearer {desk['key']}"}).json()
        return found

    def fault(self, fault: str) -> None:
        """Give the payment service a fault."""
        set_fault(practice_folder(self.folder, "pay"), fault)


@contextmanager
def _shop(postgres: bool) -> Iterator[_Shop]:
    with ExitStack() as held:
        root = Path(held.enter_context(tempfile.TemporaryDirectory(ignore_cleanup_errors=True)))
        database = ""
        if postgres:
            cluster = Cluster()
            held.callback(cluster.remove)
            database = cluster.address
        shop = _Shop(root, database)
        held.callback(shop.end)
        yield shop


# One last piece

def _rush(postgres: bool) -> bool:
    with _shop(postgres) as shop:
        buyers = [shop.buyer(number) for number in range(_RUSH)]
        for who in buyers:
            shop.fill(who, "Rare", "bill")
        ready = threading.Barrier(_RUSH)

        def buy(number: int) -> int:
            ready.wait()
            return shop.order(buyers[number], f"{number:032d}").status_code

        with ThreadPoolExecutor(_RUSH) as pool:
            told = Counter(pool.map(buy, range(_RUSH)))
        with shop.engine.connect() as connection:
            left = connection.execute(select(stock.c.left).where(
                stock.c.offer == shop.keys["Rare"])).scalar_one()
        sold = len(list_orders(shop.engine))
    print(f"one last piece, {_RUSH} at once, {'two hosts, PostgreSQL' if postgres else 'SQLite'}: "
          f"sold {sold} time(s), {left} left; answers {dict(told)}")
    return (sold, left, told) == (1, 0, Counter({200: 1, 409: _RUSH - 1}))


# Everything that goes wrong

class _Faults:
    """Buyers who pay while hosts are killed and the payment service misbehaves."""

    def __init__(self, shop: _Shop, orders: int) -> None:
        self.shop, self.orders = shop, orders
        self.stop = threading.Event()
        self.lock = threading.Lock()
        self.begun = self.kills = 0
        self.thanked: list[str] = []

    def run(self) -> list[str]:
        """Return what is wrong in the end."""
        sides = [threading.Thread(target=side) for side in (self._kill, self._misbehave)]
        for side in sides:
            side.start()
        with ThreadPoolExecutor(_BUYERS) as pool:
            for done in [pool.submit(self._buy) for _ in range(_BUYERS)]:
                done.result()
        self.stop.set()
        for side in sides:
            side.join()
        self.shop.fault("none")
        return self._judge()

    def _kill(self) -> None:
        while not self.stop.wait(_KILLED_EVERY_S):
            self.shop.kill(self.kills % len(self.shop.ports))
            self.kills += 1

    def _misbehave(self) -> None:
        faults = [fault for fault in PAY_FAULTS if fault != "slow"]
        for number in range(10 ** 6):
            self.shop.fault(faults[number % len(faults)])
            if self.stop.wait(_FAULT_FOR_S):
                return

    def _buy(self) -> None:
        while True:
            with self.lock:
                number, self.begun = self.begun, self.begun + 1
            if number >= self.orders:
                return
            self._one(number, random.Random(number))

    def _one(self, number: int, dice: random.Random) -> None:
        """Buy one thing, as somebody does who tries again until they are answered."""
        with self.shop.buyer(number) as who:
            self._again(lambda: self.shop.fill(who, "Chart", "card"))
            key = f"{number:032d}"
            answer = self._again(lambda: self.shop.order(who, key))
            if answer is None or answer.status_code != 200:
                return
            with self.lock:
                self.thanked.append(key)
            go = str(answer.json()["go"])
            for _ in range(dice.choice((0, 1, 2, 4))):
                self._pay(who, go, dice)

    def _pay(self, who: httpx.Client, go: str, dice: random.Random) -> None:
        page = self._again(lambda: who.get(go))
        onward = re.search(r'content="0;url=([^"]+)"', page.text) if page is not None else None
        if onward is None:
            return
        with suppress(httpx.HTTPError):
            httpx.post(onward[1], data={"do": dice.choice(("pay", "pay", "pay", "no")),
                                        "code": "123456"}, trust_env=False, timeout=20)
        if dice.random() < 0.5:  # Others close the page, and never come back.
            self._again(lambda: who.get(go.replace("/pay/", "/order/")))

    @staticmethod
    def _again(what):  # type: ignore[no-untyped-def]
        for _ in range(60):
            try:
                answer = what()
            except httpx.HTTPError:
                time.sleep(0.3)
                continue
            if answer is None or answer.status_code < 500:
                return answer
            time.sleep(0.3)
        return None

    def _judge(self) -> list[str]:
        end = time.monotonic() + _SETTLED_WITHIN_S
        wrong = self._wrong()
        while wrong and time.monotonic() < end:
            time.sleep(2)
            wrong = self._wrong()
        return wrong

    def _wrong(self) -> list[str]:
        orders = list_orders(self.shop.engine)
        with self.shop.engine.connect() as connection:
            rows = connection.execute(select(payments)).all()
            left = connection.execute(select(stock.c.left).where(
                stock.c.offer == self.shop.keys["Chart"])).scalar()
        there = {one["id"]: one for one in self.shop.at_desk("payments")}
        back: Counter[str] = Counter()
        for one in self.shop.at_desk("refunds"):
            back[one["payment"]] += int(Decimal(one["amount"]) * 100)
        found = []
        if {order.email.partition("@")[0] for order in orders} != set(self.thanked):
            found.append("what was thanked for is not what is stored")
        if sorted(order.number for order in orders) != list(range(1, len(orders) + 1)):
            found.append("numbers have gaps")
        if there.keys() - {row.reference for row in rows} and {
                one["key"] for one in there.values()} - {row.key for row in rows}:
            found.append("a payment has no order")
        for order in orders:
            found += self._wrong_with(order, [row for row in rows if row.order == order.id],
                                      there, back)
        held = sum(line.pieces for order in orders if order.state in _HELD
                   for line in order.lines)
        if left != _PIECES - held:
            found.append(f"{left} are left of {_PIECES}, and {held} are ordered")
        return found

    @staticmethod
    def _wrong_with(order: Order, rows: list, there: dict[str, dict[str, str]],  # type: ignore[type-arg]
                    back: Counter[str]) -> list[str]:
        kept = odd = 0
        for row in rows:
            one = next((one for one in there.values() if one["key"] == row.key), None)
            if one is None or one["state"] != "paid":
                continue
            paid = int(Decimal(one["paid"]) * 100)
            if paid != int(Decimal(row.amount) * 100):
                odd += paid  # Less than was asked: a person looks at it.
                continue
            kept += paid - back[one["id"]]
        due = int(Decimal(order.total) * 100) if order.state == "paid" else 0
        return [] if kept == due else [
            f"order {order.number} is {order.state}: {kept} cents were paid for it of {due}"]


def _faults(postgres: bool, orders: int) -> bool:
    began = time.monotonic()
    with _shop(postgres) as shop:
        run = _Faults(shop, orders)
        wrong = run.run()
        states = Counter(order.state for order in list_orders(shop.engine))
        begun = len(shop.at_desk("payments"))
    print(f"{len(run.thanked)} of {orders} orders over "
          f"{'two hosts, PostgreSQL' if postgres else 'SQLite'}, {run.kills} kills, "
          f"{len(PAY_FAULTS) - 2} faults: {dict(states)}, {begun} payments begun, "
          f"{len(wrong)} wrong ({time.monotonic() - began:.0f} s)")
    for words in wrong[:5]:
        print(f"    {words}")
    return not wrong


def run() -> int:
    """Run all of it."""
    orders = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as own:
        # Where a database is remembered, another run beside this one would find it.
        os.environ["NEEDLE_CONFIG"] = own
        return _all(orders)


def _all(orders: int) -> int:
    kinds = [False, *([True] if programs() is not None else [])]
    fine = [_model(), *(_rush(kind) for kind in kinds), *(_faults(kind, orders) for kind in kinds)]
    return 0 if all(fine) else 1


if __name__ == "__main__":
    sys.exit(run())

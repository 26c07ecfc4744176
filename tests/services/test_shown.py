"""What a machine shows over https, and what is said of it."""

import datetime
import socket
import ssl
import threading
import unittest

import trustme

from needle.core.domains.diagnosis import diagnose
from needle.core.domains.found import Found, Record, Server, Shown, Wanted
from needle.services.shown import Door, shown_for

_BARE, _WWW = "quillmoor.example", "www.quillmoor.example"
_HERE = "198.51.100.20"


def _answering(case: unittest.TestCase, context: ssl.SSLContext) -> int:
    """Answer TLS hand shakes until the test ends, and return the port."""
    listener = socket.create_server(("127.0.0.1", 0))
    case.addCleanup(listener.close)

    def serve() -> None:
        while True:
            try:
                plain, _ = listener.accept()
            except OSError:
                return
            try:
                context.wrap_socket(plain, server_side=True).close()
            except OSError:
                plain.close()

    thread = threading.Thread(target=serve, daemon=True)
    thread.start()
    case.addCleanup(listener.shutdown, socket.SHUT_RDWR)
    return int(listener.getsockname()[1])


class ShownTest(unittest.TestCase):
    def setUp(self) -> None:
        self.root = trustme.CA(organization_name="Rowan certifies")
        self.trusted = self.root.cert_pem.bytes().decode()

    def state(self, *names: str, until: datetime.datetime | None = None, root: trustme.CA | None
              = None, roots: str | None = None) -> Shown:
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        since = datetime.datetime(2020, 1, 1, tzinfo=datetime.UTC)
        (root or self.root).issue_cert(*names, not_before=since, not_after=until,
                                       ).configure_cert(context)
        port = _answering(self, context)
        (seen,) = shown_for([_WWW], Door(
            "127.0.0.1", port, self.trusted if roots is None else roots))
        return seen

    def test_each_state_of_a_certificate(self) -> None:
        now = datetime.datetime.now(datetime.UTC)
        good = self.state(_WWW, _BARE)
        self.assertEqual((good.state, good.issuer), ("ok", "Rowan certifies"))
        self.assertEqual(self.state(_WWW, until=now - datetime.timedelta(days=1)).state, "ended")
        soon = self.state(_WWW, until=now + datetime.timedelta(days=10))
        self.assertEqual((soon.state, soon.until[:4]), ("ending", f"{now.year}"))
        self.assertEqual(self.state(_BARE).state, "other")
        stranger = self.state(_WWW, root=trustme.CA(organization_name="A stranger"))
        self.assertEqual((stranger.state, stranger.issuer), ("untrusted", "A stranger"))
        self.assertEqual(self.state(_WWW, roots="").state, "untrusted")

    def test_no_certificate_and_nobody_there(self) -> None:
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        context.sni_callback = lambda *_: ssl.ALERT_DESCRIPTION_UNRECOGNIZED_NAME
        self.root.issue_cert("x.example").configure_cert(context)
        port = _answering(self, context)
        self.assertEqual(shown_for([_WWW], Door("127.0.0.1", port))[0].state, "none")
        with socket.create_server(("127.0.0.1", 0)) as gone:
            port = gone.getsockname()[1]
        self.assertEqual(shown_for([_WWW], Door("127.0.0.1", port))[0].state, "closed")


class SafeTest(unittest.TestCase):
    def report(self, *shown: Shown, address: str = _HERE) -> dict[str, tuple[str, list[str]]]:
        records = (Record(_BARE, "A", address, 300), Record(_WWW, "A", address, 300))
        told = diagnose(Found(_BARE, parent_ns=("ns1.x.example",), child_ns=("ns1.x.example",),
                              servers=(Server("ns1.x.example", "192.0.2.1", records=records),),
                              shown=shown), Wanted(addresses=(_HERE,)))
        self.assertEqual(told.leads, address == _HERE)
        return {step.id: (step.state, [fault.id for fault in step.faults])
                for step in told.steps} | {"done": (str(told.done), [])}

    def test_it_is_done_only_once_https_works_for_both_names(self) -> None:
        self.assertEqual(self.report()["safe"], ("waits", []))
        self.assertEqual(self.report()["done"], ("False", []))
        both = self.report(Shown(_BARE, "ok"), Shown(_WWW, "ok"))
        self.assertEqual((both["safe"], both["done"]), (("done", []), ("True", [])))
        for state in ("closed", "none", "other", "ended", "ending", "untrusted"):
            one = self.report(Shown(_BARE, "ok"), Shown(_WWW, state))  # type: ignore[arg-type]
            self.assertEqual(one["safe"], ("fault", [f"https-{state}"]))

    def test_it_waits_while_the_records_lead_elsewhere(self) -> None:
        self.assertEqual(self.report(Shown(_WWW, "other"), address="192.0.2.9")["safe"],
                         ("waits", []))

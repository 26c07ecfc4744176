"""A net of names for tests: a root, what is below "example", a domain, its host, and a resolver."""

import unittest

import dns.message

from needle.practice.zones import PracticeNet, Zone, free_ports
from needle.services.names import Net
from tests.apart import serve_apart

__all__ = ["HOST", "HOST_A", "HOST_AAAA", "NamesNet"]

HOST, HOST_A, HOST_AAAA = "pages.needle-practice.example", "198.51.100.20", "2001:db8::20"
_ROOT, _TLD, _NS1, _NS2, _OLD, _KNOWS = (f"127.0.0.{n}" for n in (10, 11, 12, 13, 14, 15))


class _Resolver(Zone):
    """Answers what the domain's zone answered when it was told last."""

    def __init__(self, of: Zone) -> None:
        super().__init__(".")
        self._of = of
        self.kept: dict[tuple[str, int], dns.message.Message] = {}

    def answer(self, query: dns.message.Message) -> dns.message.Message | None:
        asked = query.question[0]
        found = self.kept.get((str(asked.name), asked.rdtype))
        if found is None:
            return super().answer(query)
        reply = dns.message.make_response(query)
        reply.answer = list(found.answer)
        return reply

    def learn(self, *names: str) -> None:
        """Remember what the zone says of some names now."""
        for name in names:
            for kind in ("A", "AAAA"):
                query = dns.message.make_query(name, kind)
                answer = self._of.answer(query)
                self.kept[str(query.question[0].name), query.question[0].rdtype] = answer


class NamesNet:
    """Everything that a domain takes, right as it begins.

    Attributes:
        zone: That of quillmoor.example, at its two servers.
        second: What its second server holds, if that is another zone.
        old: What a server holds that nobody asks.
    """

    def __init__(self, case: unittest.TestCase, signed: bool = False, decides: bool = True,
                 ) -> None:
        """Start all of it; without those that decide, if they are another program's."""
        self._decides = decides
        addresses = (_ROOT, _TLD, _NS1, _NS2, _OLD, _KNOWS)
        self.port = free_ports(addresses)
        self.root, self.tld = Zone(".", signed), Zone("example", signed)
        self.zone = Zone("quillmoor.example", signed)
        self.hosting = Zone("needle-practice.example")
        self.hollin = Zone("hollin.example")
        self.second = self.zone
        self.old = Zone("quillmoor.example")
        self._fill(signed)
        self.resolver = _Resolver(self.zone)
        self._start(case)
        self.net = Net((_ROOT,), self.port, (self.root.ds(),) if signed else (),
                       ((_KNOWS, self.port),))
        self.learn()

    def _fill(self, signed: bool) -> None:
        self.root.put("example", "NS", "ns.nic.example.")
        self.root.put("ns.nic.example", "A", _TLD)
        self.tld.put("ns.nic", "A", _TLD)
        self.tld.put("@", "NS", "ns.nic")
        self.tld.put("quillmoor", "NS", "ns1.hollin.example.", "ns2.hollin.example.")
        for name in ("hollin", "needle-practice"):
            self.tld.put(name, "NS", f"ns.{name}.example.")
            self.tld.put(f"ns.{name}", "A", _NS1)
        for number, at in ((1, _NS1), (2, _NS2)):
            self.hollin.put(f"ns{number}", "A", at)
        self.hollin.put("old1", "A", _OLD)
        self.hosting.put("pages", "A", HOST_A)
        self.hosting.put("pages", "AAAA", HOST_AAAA)
        if signed:
            self.root.put("example", "DS", self.tld.ds())
            self.tld.put("quillmoor", "DS", self.zone.ds())
        self.zone.put("@", "NS", "ns1.hollin.example.", "ns2.hollin.example.")
        self.zone.put("@", "A", HOST_A)
        self.zone.put("@", "AAAA", HOST_AAAA)
        self.zone.put("www", "CNAME", f"{HOST}.")
        self.zone.put("@", "MX", "10 mail.hollin.example.")
        self.zone.put("@", "TXT", '"v=spf1 -all"')

    def learn(self) -> None:
        """Let the resolver forget and ask anew."""
        self.resolver.learn("quillmoor.example", "www.quillmoor.example")
        www = self.zone.answer(dns.message.make_query("www.quillmoor.example", "A"))
        if www is not None and any(part.rdtype == 5 for part in www.answer):
            for kind, value in (("A", HOST_A), ("AAAA", HOST_AAAA)):
                query = dns.message.make_query("www.quillmoor.example", kind)
                reply = dns.message.make_response(query)
                reply.answer = [dns.rrset.from_text(query.question[0].name, 300, "IN", kind, value)]
                self.resolver.kept["www.quillmoor.example.", query.question[0].rdtype] = reply

    def _start(self, case: unittest.TestCase) -> None:
        class _Second(Zone):
            def answer(second, query: dns.message.Message) -> dns.message.Message | None:  # noqa: N805
                return self.second.answer(query)

        async def start() -> PracticeNet:
            net = PracticeNet(self.port)
            await net.serve(_ROOT, [self.root])
            await net.serve(_TLD, [self.tld])
            if self._decides:
                await net.serve(_NS1, [self.zone, self.hollin, self.hosting])
                await net.serve(_NS2, [_Second("quillmoor.example")])
            await net.serve(_OLD, [self.old])
            await net.serve(_KNOWS, [self.resolver])
            return net

        async def stop(net: PracticeNet) -> None:
            net.close()

        serve_apart(case, start, stop)

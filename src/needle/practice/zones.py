"""A small net of names for practice: a root and the zones below it, all on this machine.

Each server has an address of its own (127.0.0.x) at one port, as the protocol has no ports in it.
Zones are kept in a dictionary of our own: the library's refuses what a broken zone holds.
"""

import asyncio
import secrets
import socket
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import dns.dnssec
import dns.exception
import dns.flags
import dns.message
import dns.name
import dns.rcode
import dns.rdatatype
import dns.rrset
from cryptography.hazmat.primitives.asymmetric import ec

__all__ = ["PracticeNet", "Zone", "free_ports"]

_T = dns.rdatatype
_UDP = 1232


class Zone:
    """A zone that is answered for as it is now.

    Attributes:
        fault: "" for none; "silent", "refused", "failed", or "lame": it answers without authority.
    """

    def __init__(self, origin: str, signed: bool = False) -> None:
        self.origin = dns.name.from_text(origin)
        self.fault = ""
        self._sets: dict[dns.name.Name, dict[int, dns.rrset.RRset]] = {}
        self._seals: dict[tuple[dns.name.Name, int], dns.rrset.RRset] = {}
        self._serial = 1
        self._key = ec.generate_private_key(ec.SECP256R1()) if signed else None
        if self._key is not None:
            self._dnskey = dns.dnssec.make_dnskey(
                self._key.public_key(), "ECDSAP256SHA256", flags=257)
            self._sets.setdefault(self.origin, {})[_T.DNSKEY] = dns.rrset.from_rdata(
                self.origin, 300, self._dnskey)
        self._stamp()

    def _stamp(self) -> None:
        self._seals.clear()
        soa = dns.rrset.from_text(self.origin, 300, "IN", "SOA",
                                  f"ns. host. {self._serial} 600 300 86400 60")
        self._sets.setdefault(self.origin, {})[_T.SOA] = soa

    def put(self, name: str, kind: str, *values: str, ttl: int = 300) -> None:
        """Set the records of a name and a type; with no values, take them away."""
        owner = dns.name.from_text(name, self.origin)
        held = self._sets.setdefault(owner, {})
        held.pop(_T.from_text(kind), None)
        if values:
            held[_T.from_text(kind)] = dns.rrset.from_text_list(
                owner, ttl, "IN", kind, values, origin=self.origin, relativize=False)
        elif not held:
            del self._sets[owner]
        self._serial += 1
        self._stamp()

    def ds(self) -> str:
        """Return the record by which those above vouch for the zone's key."""
        return dns.dnssec.make_ds(self.origin, self._dnskey, "SHA256").to_text()

    def _sealed(self, part: dns.rrset.RRset) -> dns.rrset.RRset:
        key = (part.name, part.rdtype)
        if key not in self._seals:
            assert self._key is not None
            made = dns.dnssec.sign(part, self._key, self.origin, self._dnskey, lifetime=864_000)
            self._seals[key] = dns.rrset.from_rdata(part.name, part.ttl, made)
        return self._seals[key]

    def answer(self, query: dns.message.Message) -> dns.message.Message | None:
        """Return the answer to a query; `None` for silence."""
        reply = dns.message.make_response(query)
        asked = query.question[0]
        if self.fault == "silent":
            return None
        if self.fault in ("refused", "failed") or not asked.name.is_subdomain(self.origin):
            reply.set_rcode(dns.rcode.SERVFAIL if self.fault == "failed" else dns.rcode.REFUSED)
            return reply
        signs = self._key is not None and bool(query.ednsflags & dns.flags.DO)
        cut = self._cut(asked.name, asked.rdtype)
        if cut is not None:
            self._refer(reply, cut, signs)
        else:
            self._own(reply, asked.name, asked.rdtype, signs)
        return reply

    def _cut(self, name: dns.name.Name, kind: int) -> dns.name.Name | None:
        for length in range(len(self.origin) + 1, len(name) + 1):
            above = name.split(length)[1]
            if _T.NS in self._sets.get(above, {}) and not (above == name and kind == _T.DS):
                return above
        return None

    def _refer(self, reply: dns.message.Message, cut: dns.name.Name, signs: bool) -> None:
        held = self._sets[cut]
        reply.authority.append(held[_T.NS])
        if _T.DS in held:
            reply.authority.append(held[_T.DS])
            if signs:
                reply.authority.append(self._sealed(held[_T.DS]))
        for one in held[_T.NS]:
            glue = self._sets.get(one.target, {}).get(_T.A)
            if glue is not None:
                reply.additional.append(glue)

    def _own(self, reply: dns.message.Message, name: dns.name.Name, kind: int, signs: bool,
             ) -> None:
        if self.fault != "lame":
            reply.flags |= dns.flags.AA
        held = self._sets.get(name) or self._wild(name)
        part = held.get(kind) or held.get(_T.CNAME)
        if part is not None and self.fault != "lame":
            reply.answer += [part, self._sealed(part)] if signs else [part]
            return
        reply.authority.append(self._sets[self.origin][_T.SOA])
        if not held and not any(one.is_subdomain(name) for one in self._sets):
            reply.set_rcode(dns.rcode.NXDOMAIN)

    def _wild(self, name: dns.name.Name) -> dict[int, dns.rrset.RRset]:
        """Return what a record for every name gives this one (RFC 4592)."""
        if any(one.is_subdomain(name) for one in self._sets):
            return {}
        star = dns.name.from_text("*", self.origin)
        return {kind: dns.rrset.from_rdata_list(name, part.ttl, list(part))
                for kind, part in self._sets.get(star, {}).items()}


class _Server(asyncio.DatagramProtocol):
    """Answers for some zones over UDP and TCP."""

    def __init__(self, zones: Iterable[Zone]) -> None:
        self._zones = sorted(zones, key=lambda zone: -len(zone.origin))

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self._transport = transport

    def _reply(self, wire: bytes, limit: int) -> bytes | None:
        try:
            query = dns.message.from_wire(wire)
        except dns.exception.DNSException:
            return None
        if not query.question:
            return None
        name = query.question[0].name
        zone = next((one for one in self._zones if name.is_subdomain(one.origin)),
                    self._zones[-1])
        answer = zone.answer(query)
        if answer is None:
            return None
        try:
            return answer.to_wire(max_size=min(limit, query.payload or 512)
                                  if limit < 65_535 else limit)
        except dns.exception.TooBig:
            short = dns.message.make_response(query)
            short.flags |= dns.flags.TC
            return short.to_wire()

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        wire = self._reply(data, _UDP)
        if wire:
            self._transport.sendto(wire, addr)  # type: ignore[attr-defined]

    async def over_tcp(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Answer what comes over a connection."""
        try:
            while True:
                size = int.from_bytes(await reader.readexactly(2))
                wire = self._reply(await reader.readexactly(size), 65_535)
                if wire is None:
                    break
                writer.write(len(wire).to_bytes(2) + wire)
                await writer.drain()
        except (asyncio.IncompleteReadError, ConnectionError):
            pass
        writer.close()


@dataclass
class PracticeNet:
    """A net with servers at addresses of this machine.

    Attributes:
        port: That of all of them.
    """

    port: int
    _open: list[asyncio.BaseTransport | asyncio.Server] = field(default_factory=list)

    async def serve(self, address: str, zones: Sequence[Zone]) -> None:
        """Answer for some zones at an address of 127.0.0.0/8."""
        loop = asyncio.get_running_loop()
        server = _Server(zones)
        transport, _ = await loop.create_datagram_endpoint(
            lambda: server, (address, self.port))
        self._open += [transport, await asyncio.start_server(
            server.over_tcp, address, self.port)]

    def close(self) -> None:
        """Answer no more."""
        for one in self._open:
            one.close()
        self._open.clear()


def free_ports(addresses: Sequence[str]) -> int:
    """Return a port that is free at each of these addresses, over UDP and TCP.

    Raises:
        OSError: None was found.
    """
    for _ in range(50):
        port = 20_000 + secrets.randbelow(30_000)
        try:
            for address in addresses:
                for kind in (socket.SOCK_DGRAM, socket.SOCK_STREAM):
                    with socket.socket(socket.AF_INET, kind) as tried:
                        tried.bind((address, port))
        except OSError:
            continue
        return port
    raise OSError("no port is free")

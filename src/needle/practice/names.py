"""The practice net of names as a process: a root, a domain with faults to switch on, a resolver.

`python -m needle.practice.names FOLDER` prints what NEEDLE_NAMES has to say; the fault that is
switched on stands in FOLDER/fault, as for every practice service.
"""

import argparse
import asyncio
from collections.abc import Mapping, Sequence
from pathlib import Path

import dns.message

from needle.practice.faults import read_fault
from needle.practice.zones import PracticeNet, Zone, free_ports

__all__ = ["BROKEN", "DOMAIN", "main", "practice_zones"]

DOMAIN = "quillmoor.example"
_HOST, _FOUR, _SIX = "pages.needle-practice.example.", "127.0.0.1", "::1"
_ROOT, _ALL, _KNOWS = "127.0.0.40", "127.0.0.41", "127.0.0.42"
_LOOK_S = 0.5

# Faults by name: records (name, type, values) that are put in the place of the right ones.
BROKEN: Mapping[str, Sequence[tuple[str, str, tuple[str, ...]]]] = {
    "none": (),
    "new": (("@", "A", ()), ("@", "AAAA", ()), ("www", "CNAME", ())),
    "old address": (("@", "A", ("203.0.113.7",)), ("@", "AAAA", ("2001:db8::7",))),
    "cname at the bare name": (("@", "CNAME", (_HOST,)),),
    "cname beside others": (("www", "TXT", ('"x"',)),),
    "www elsewhere": (("www", "CNAME", ("shop.hollin.example.",)),),
    "certificates forbidden": (("@", "CAA", ('0 issue "other-ca.example"',)),),
    "every name answers": (("*", "A", ("203.0.113.9",)),),
    "name typed whole": (("www.quillmoor.example", "CNAME", (_HOST,)), ("www", "CNAME", ()))}
_RIGHT = (("@", "NS", ("ns1.hollin.example.", "ns2.hollin.example.")), ("@", "A", (_FOUR,)),
          ("@", "AAAA", (_SIX,)), ("www", "CNAME", (_HOST,)),
          ("@", "MX", ("10 mail.hollin.example.",)))


def practice_zones(fault: str) -> list[Zone]:
    """Return the zones of the practice net, the root first, with a fault switched on."""
    root, tld, zone = Zone("."), Zone("example"), Zone(DOMAIN)
    hosting, hollin = Zone("needle-practice.example"), Zone("hollin.example")
    root.put("example", "NS", "ns.nic.example.")
    root.put("ns.nic.example", "A", _ALL)
    tld.put("quillmoor", "NS", "ns1.hollin.example.", "ns2.hollin.example.")
    for name in ("hollin", "needle-practice"):
        tld.put(name, "NS", f"ns.{name}.example.")
        tld.put(f"ns.{name}", "A", _ALL)
    for name in ("ns1", "ns2"):
        hollin.put(name, "A", _ALL)
    hosting.put("pages", "A", _FOUR)
    hosting.put("pages", "AAAA", _SIX)
    for name, kind, values in (*_RIGHT, *BROKEN.get(fault, ())):
        zone.put(name, kind, *values)
    return [root, tld, zone, hosting, hollin]


class _Following(Zone):
    """A resolver: it asks the zones, and follows a CNAME."""

    def __init__(self, zones: list[Zone]) -> None:
        super().__init__(".")
        self._zones = zones

    def answer(self, query: dns.message.Message) -> dns.message.Message | None:
        asked = query.question[0]
        reply = dns.message.make_response(query)
        name = asked.name
        for _ in range(5):
            zone = max((one for one in self._zones if name.is_subdomain(one.origin)),
                       key=lambda one: len(one.origin))
            told = zone.answer(dns.message.make_query(name, asked.rdtype))
            part = told.answer[0] if told and told.answer else None
            if part is None:
                break
            reply.answer.append(part)
            if part.rdtype == asked.rdtype or part.rdtype != dns.rdatatype.CNAME:
                break
            name = part[0].target
        return reply


async def _run(folder: Path) -> None:
    port = free_ports((_ROOT, _ALL, _KNOWS))
    fault, net = None, PracticeNet(port)
    print(f'NEEDLE_NAMES="{_ROOT}:{port} {_KNOWS}:{port}"', flush=True)
    print(f"Domain {DOMAIN}, pages at {_HOST.rstrip('.')}. Faults, to write into "
          f"{folder / 'fault'}: {', '.join(BROKEN)}", flush=True)
    while True:
        told = read_fault(folder, BROKEN)
        if told != fault:
            fault = told
            net.close()
            await asyncio.sleep(0.05)
            zones = practice_zones(told)
            await net.serve(_ROOT, zones[:1])
            await net.serve(_ALL, zones[1:])
            await net.serve(_KNOWS, [_Following(zones)])
        await asyncio.sleep(_LOOK_S)


def main() -> int:
    """Run until it is interrupted."""
    parser = argparse.ArgumentParser(description="A practice net of names.")
    parser.add_argument("folder", type=Path)
    folder = parser.parse_args().folder
    folder.mkdir(parents=True, exist_ok=True)
    try:
        asyncio.run(_run(folder))
    except KeyboardInterrupt:
        return 130
    return 0


if __name__ == "__main__":
    raise SystemExit(main())

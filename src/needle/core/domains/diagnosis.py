"""What is wrong with a domain, where it is put right, and which records that takes.

Sources: RFC 1034 and 1035 (zones, CNAME), RFC 2181 10.1 (nothing beside a CNAME), RFC 8659 (CAA),
RFC 4592 (wildcards), RFC 1912 (common errors), RFC 4035 (DNSSEC).
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from needle.core.domains.found import Found, Record, Server, Wanted
from needle.core.messages.message import Message, say

__all__ = ["Fault", "Report", "Step", "diagnose", "provider_of", "zone_lines"]

_ADDRESSES = ("A", "AAAA")
_LOOKED_AT = (*_ADDRESSES, "CNAME")
_SHOWN = 3
_HTTPS = {"closed": "domain-https-closed", "none": "domain-https-none",
          "other": "domain-https-other", "ended": "domain-https-ended",
          "ending": "domain-https-ending", "untrusted": "domain-https-untrusted"}


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that is wrong.

    Attributes:
        id: What kind of thing: "apex-cname".
        words: What is wrong, and where it is put right.
    """

    id: str
    words: Message


@dataclass(frozen=True, slots=True)
class Step:
    """A step on the way.

    Attributes:
        id: "name", "servers", "trust", "way", "records", "seen" or "safe".
        state: Whether it is done, at fault, or waits for those before it.
    """

    id: str
    state: Literal["done", "fault", "waits"]
    faults: tuple[Fault, ...] = ()


@dataclass(frozen=True, slots=True)
class Report:
    """What there is to do.

    Attributes:
        place: Whose servers decide, as the end of their names; empty if it is not known.
        delete, add: The records to take away first, and those to add then.
        left: What stays as it is, as records of mail.
    """

    steps: tuple[Step, ...]
    place: str = ""
    delete: tuple[Record, ...] = ()
    add: tuple[Record, ...] = ()
    left: tuple[Record, ...] = ()

    @property
    def leads(self) -> bool:
        """Whether the domain leads where it should, for everybody."""
        return all(step.state == "done" for step in self.steps if step.id != "safe")

    @property
    def done(self) -> bool:
        """Whether it leads there, and is safe to visit."""
        return all(step.state == "done" for step in self.steps)

    @property
    def faults(self) -> tuple[Fault, ...]:
        """Everything that is wrong, in order."""
        return tuple(fault for step in self.steps for fault in step.faults)


def diagnose(found: Found, wanted: Wanted) -> Report:
    """Return what there is to do for a domain to lead where it should."""
    zone = found.first
    delete, add = _to_change(found, zone, wanted) if zone else ((), ())
    checks: list[tuple[str, list[Fault]]] = [
        ("name", list(_name(found))), ("servers", list(_servers(found))),
        ("trust", list(_trust(found))),
        ("way", list(_in_the_way(found, zone, wanted)) if zone else []),
        ("records", list(_records(found, zone, wanted, add)) if zone else []),
        ("seen", list(_seen(found, wanted))), ("safe", list(_safe(found)))]
    steps, stuck = [], False
    for step, faults in checks:
        # What comes after a fault is said only where it is known by itself.
        waits = (stuck and (not faults or step in ("seen", "safe"))) or (
            step == "safe" and not found.shown)
        steps.append(Step(step, "waits" if waits else "fault" if faults else "done",
                          () if waits else tuple(faults)))
        stuck = stuck or bool(faults)
    if zone is None and not stuck:
        steps[1] = Step("servers", "fault", (Fault("no-server", say(
            "domain-no-server", servers=_some(found.parent_ns))),))
    left = zone.of(found.bare, "MX", "TXT") if zone else ()
    return Report(tuple(steps), provider_of(found.parent_ns), delete, add, left)


def provider_of(servers: Sequence[str]) -> str:
    """Return whose servers these are: the end that all their names share, or of the first."""
    ends = [".".join(name.split(".")[-2:]) for name in servers]
    return ends[0] if ends else ""


def zone_lines(records: Sequence[Record], bare: str) -> str:
    """Return records as lines of a zone file (RFC 1035, 5)."""
    lines = [f"$ORIGIN {bare}."]
    for one in records:
        name = "@" if one.name == bare else one.name.removesuffix(f".{bare}")
        value = f"{one.value}." if one.type in ("CNAME", "ALIAS", "NS") else one.value
        lines.append(f"{name} {one.ttl or 3600} IN {one.type} {value}")
    return "\n".join([*lines, ""])


def _some(names: Sequence[str]) -> str:
    shown = ", ".join(names[:_SHOWN])
    return f"{shown}, …" if len(names) > _SHOWN else shown


# The steps


def _name(found: Found) -> Iterator[Fault]:
    if found.exists is None:
        yield Fault("no-answer", say("domain-no-answer", name=found.bare))
    elif not found.exists:
        yield Fault("not-registered", say("domain-not-registered", name=found.bare))


def _servers(found: Found) -> Iterator[Fault]:
    for state, fault, words in (
            ("silent", "server-silent", "domain-server-silent"),
            ("failed", "server-failed", "domain-server-failed"),
            ("refused", "server-lame", "domain-server-lame"),
            ("lame", "server-lame", "domain-server-lame")):
        names = sorted({one.name for one in found.servers if one.state == state})
        if names:
            yield Fault(fault, say(words, servers=_some(names), name=found.bare))
    missing = sorted(set(found.child_ns) - set(found.parent_ns))
    if found.child_ns and missing:
        yield Fault("servers-differ", say(
            "domain-servers-differ", servers=_some(missing), name=found.bare,
            place=provider_of(found.parent_ns)))
    serials = {one.serial for one in found.servers if one.state == "ok"}
    answers = {frozenset((r.name, r.type, r.value) for r in one.records if r.type in _LOOKED_AT)
               for one in found.servers if one.state == "ok"}
    if len(answers) > 1:
        yield Fault("servers-disagree", say("domain-servers-disagree",
                                            serials=_some([str(one) for one in sorted(serials)])))


def _trust(found: Found) -> Iterator[Fault]:
    if found.dnssec not in ("secure", "insecure"):
        yield Fault("dnssec", say("domain-dnssec", name=found.bare, why=found.dnssec))


def _right(record: Record, wanted: Wanted) -> bool:
    """Whether a record leads where it should."""
    if record.type in _ADDRESSES:
        return record.value in wanted.addresses
    return record.type == "CNAME" and bool(wanted.host) and record.value == wanted.host


def _in_the_way(found: Found, zone: Server, wanted: Wanted) -> Iterator[Fault]:
    bare, www = found.bare, found.www
    aliases = zone.of(bare, "CNAME") if found.is_zone else ()
    if aliases:
        yield Fault("apex-cname", say("domain-apex-cname", name=bare, value=aliases[0].value))
        if zone.of(bare, "MX"):
            yield Fault("mail", say("domain-mail", name=bare))
    for name, kind in ((bare, "apex"), (www, "www")):
        for one in zone.of(name, *_ADDRESSES):
            if not _right(one, wanted) and not aliases:
                words = "domain-old-aaaa" if one.type == "AAAA" else "domain-old-a"
                yield Fault(f"{kind}-old-{one.type.lower()}",
                            say(words, name=name, value=one.value))
    for one in zone.of(www, "CNAME"):
        beside = [r for r in zone.of(www) if r.type not in ("CNAME", "RRSIG", "NSEC")]
        if beside:
            yield Fault("cname-beside", say("domain-cname-beside", name=www,
                                            types=_some(sorted({r.type for r in beside}))))
        if not _right(one, wanted) and one.value != bare:
            yield Fault("www-elsewhere", say("domain-www-elsewhere", name=www, value=one.value))
        if one.value == www:
            yield Fault("cname-loop", say("domain-cname-loop", name=www))
    yield from _forbidding(found, zone, wanted)
    if any_name := zone.of(found.probe):
        yield Fault("wildcard", say("domain-wildcard", name=bare, value=any_name[0].value))
    if _doubled(found, zone):
        yield Fault("doubled", say("domain-doubled", name=f"{www}.{bare}"))


def _doubled(found: Found, zone: Server) -> tuple[Record, ...]:
    """Return records of a name that was typed whole; where every name answers, nobody knows."""
    return () if zone.of(found.probe) else zone.of(f"{found.www}.{found.bare}")


def _forbidding(found: Found, zone: Server, wanted: Wanted) -> Iterator[Fault]:
    told = zone.of(found.bare, "CAA")
    issuers = [one.value.split('"')[1].split(";")[0].strip() for one in told
               if " issue " in f" {one.value} " and '"' in one.value]
    if wanted.authority and issuers and wanted.authority not in issuers:
        yield Fault("caa", say("domain-caa", name=found.bare, authority=wanted.authority,
                               allowed=_some([one or "nobody" for one in issuers])))


def _records(found: Found, zone: Server, wanted: Wanted, add: Sequence[Record],
             ) -> Iterator[Fault]:
    if wanted.host and not found.reached and not wanted.addresses:
        yield Fault("host-leads-nowhere", say("domain-host-nowhere", host=wanted.host))
    for name, fault, words in ((found.bare, "apex-missing", "domain-apex-missing"),
                               (found.www, "www-missing", "domain-www-missing")):
        if any(one.name == name for one in add):
            yield Fault(fault, say(words, name=name))
    for server in found.others:
        if server.state == "ok" and add and any(
                _right(one, wanted) for one in server.of(found.www) + server.of(found.bare)):
            yield Fault("wrong-place", say("domain-wrong-place", server=server.name,
                                           place=provider_of(found.parent_ns)))


def _seen(found: Found, wanted: Wanted) -> Iterator[Fault]:
    zone = found.first
    if zone is None:
        return
    for resolver in found.resolvers:
        if resolver.state != "ok":
            yield Fault("resolver", say("domain-resolver", server=resolver.name))
            continue
        old = [one for name in (found.bare, found.www) for one in resolver.of(name, *_ADDRESSES)
               if one.value not in wanted.addresses]
        missing = [name for name in (found.bare, found.www) if not resolver.of(name, *_LOOKED_AT)]
        if old:
            yield Fault("resolver-old", say("domain-resolver-old", server=resolver.name,
                                            value=old[0].value, seconds=old[0].ttl))
        elif missing:
            yield Fault("resolver-missing", say("domain-resolver-missing", server=resolver.name,
                                                name=missing[0]))


def _safe(found: Found) -> Iterator[Fault]:
    for one in found.shown:
        if one.state != "ok":
            yield Fault(f"https-{one.state}", say(_HTTPS[one.state], name=one.name,
                                                  issuer=one.issuer or "?",
                                                  day=one.until[:10] or "?"))


# The records


def _to_change(found: Found, zone: Server, wanted: Wanted,
               ) -> tuple[tuple[Record, ...], tuple[Record, ...]]:
    """Return which records to take away and which to add."""
    bare, www = found.bare, found.www
    delete = [one for name in (bare, www) for one in zone.of(name, *_LOOKED_AT)
              if not _stays(one, found, wanted)]
    delete += _doubled(found, zone)
    kept = [one for one in zone.records if one not in delete]
    apex = _apex(bare, wanted) if found.is_zone else _below(bare, wanted)
    add = [one for one in apex if not _held(one, kept)]
    if any(one.name == www and one.type == "CNAME" for one in kept):
        delete += [one for one in kept if one.name == www and one.type in _ADDRESSES]
    elif not _leads(www, kept, wanted):
        add += _below(www, wanted)
    return tuple(dict.fromkeys(delete)), tuple(add)


def _stays(one: Record, found: Found, wanted: Wanted) -> bool:
    if one.type == "CNAME" and one.name == found.bare and found.is_zone:
        return False
    return _right(one, wanted) or (one.type == "CNAME" and one.name == found.www
                                   and one.value == found.bare)


def _held(one: Record, kept: Sequence[Record]) -> bool:
    return any((r.name, r.type, r.value) == (one.name, one.type, one.value) for r in kept)


def _leads(name: str, kept: Sequence[Record], wanted: Wanted) -> bool:
    """Whether a name has every address that it should have by records of its own."""
    have = {one.value for one in kept if one.name == name and one.type in _ADDRESSES}
    return bool(wanted.addresses) and have >= set(wanted.addresses)


def _apex(bare: str, wanted: Wanted) -> list[Record]:
    return [Record(bare, "A", one) for one in wanted.fours] + [
        Record(bare, "AAAA", one) for one in wanted.sixes]


def _below(www: str, wanted: Wanted) -> list[Record]:
    if wanted.host:
        return [Record(www, "CNAME", wanted.host)]
    return [Record(www, "A", one) for one in wanted.fours] + [
        Record(www, "AAAA", one) for one in wanted.sixes]

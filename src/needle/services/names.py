"""Reading a domain: from the roots down to the servers that decide, and from the net's resolvers.

Each step follows a referral (RFC 1034, 5.3.3) and checks its signature (RFC 4035), if it has one.
"""

import contextlib
import os
import secrets
from collections.abc import Iterable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace

import dns.dnssec
import dns.exception
import dns.flags
import dns.message
import dns.name
import dns.query
import dns.rcode
import dns.rdata
import dns.rdataclass
import dns.rdatatype
import dns.resolver
import dns.rrset

from needle.core.domains.found import Found, Record, Server, State, Wanted

__all__ = ["Net", "reached_by", "read_domain", "the_net"]

# The root servers' addresses of version 4, as their operators publish them (IANA).
_ROOTS = ("198.41.0.4", "170.247.170.2", "192.33.4.12", "199.7.91.13", "192.203.230.10",
          "192.5.5.241", "192.112.36.4", "198.97.190.53", "192.36.148.17", "192.58.128.30",
          "193.0.14.129", "199.7.83.42", "202.12.27.33")
# The keys that the root zone is signed with (IANA, root-anchors).
_ANCHORS = ("20326 8 2 E06D44B80B8F1D39A95C0B0D7C65D08458E880409BBC683457104237C7F8EC8D",
            "38696 8 2 683D2D0ACB8C9B712A1948B27F741219298D0A450D612C483AF444A4C0FB2B16")
_WAIT_S = 3.0
_DEEPEST = 12
_MOST_SERVERS = 8
# Of servers that say the same, so many are tried until one answers.
_MOST_ASKED = 3
_ASKED = ("A", "AAAA", "CNAME", "MX", "TXT", "CAA")
_T = dns.rdatatype


@dataclass(frozen=True)
class Net:
    """Which net names are read in: the real one, or one for practice.

    Attributes:
        roots: Addresses of root servers.
        port: At which all servers but the resolvers are asked.
        anchors: DS records of the root's keys; none to check no signatures.
        resolvers: Addresses of resolvers, with their ports.
    """

    roots: Sequence[str] = _ROOTS
    port: int = 53
    anchors: Sequence[str] = _ANCHORS
    resolvers: Sequence[tuple[str, int]] = field(default_factory=tuple)


def the_net() -> Net:
    """Return the real net with the resolvers of this machine; or the practice net that
    NEEDLE_NAMES names, as "root address:port resolver address:port"."""
    told = os.environ.get("NEEDLE_NAMES", "").split()
    if len(told) == 2:
        (root, port), (knows, at) = (one.rpartition(":")[::2] for one in told)
        if port.isdecimal() and at.isdecimal():
            return Net((root,), int(port), (), ((knows, int(at)),))
    try:
        found = dns.resolver.Resolver()
    except dns.exception.DNSException:
        return Net()
    return Net(resolvers=[(str(one), 53) for one in found.nameservers[:2]])


@dataclass
class _Cut:
    """A zone on the way down: its servers and what proves its keys."""

    zone: dns.name.Name
    servers: list[tuple[str, str]]
    keys: dict[dns.name.Name, dns.rrset.RRset] | None
    trust: str
    parent_ns: tuple[str, ...] = ()


def read_domain(name: str, net: Net, elsewhere: Iterable[str] = ()) -> Found:
    """Read everything that is to know of a domain; faults of the net are part of what is found.

    Args:
        name: With or without www, as `domain_of` gives it.
        elsewhere: Names of further servers, where somebody may have made a record.
    """
    bare = name.removeprefix("www.")
    probe = f"needle-{secrets.token_hex(4)}.{bare}"
    try:
        cut, exists = _walk(dns.name.from_text(bare), net)
    except _SilentError:
        return Found(bare, exists=None)
    zone = cut.zone.to_text(omit_final_dot=True)
    if not exists:
        return Found(bare, zone=zone, exists=False)
    names = (bare, f"www.{bare}", probe, f"www.{bare}.{bare}")
    with ThreadPoolExecutor(8) as pool:
        servers = tuple(pool.map(lambda who: _ask_server(who[0], who[1], names, cut, net),
                                 cut.servers[:_MOST_SERVERS]))
        answered = next((one for one in servers if one.state == "ok"), None)
        child = _child_ns(answered, cut.zone, net) if answered else ()
        further = sorted({*child, *(one.lower().rstrip(".") for one in elsewhere)} - set(
            cut.parent_ns))
        others = tuple(pool.map(lambda who: _ask_named(who, names, cut, net), further))
        resolvers = tuple(pool.map(lambda at: _ask_resolver(at, names[:2]), net.resolvers))
    trust = _trust_of(cut, answered, names[:2], net)
    return Found(bare, zone, True, cut.parent_ns, child, servers, others, resolvers, trust, probe)


def reached_by(found: Found, wanted: Wanted, net: Net) -> tuple[Found, Wanted]:
    """Return both with the addresses that the host's own name leads to."""
    if not wanted.host:
        return found, wanted
    try:
        cut, exists = _walk(dns.name.from_text(wanted.host), net)
    except _SilentError:
        return found, wanted
    records: list[Record] = []
    for _, at in cut.servers if exists else ():
        with contextlib.suppress(_SilentError):
            for kind in ("A", "AAAA"):
                records += _records(_ask(at, net.port, wanted.host, kind), wanted.host)
            break
    addresses = tuple(dict.fromkeys((*wanted.addresses, *(
        one.value for one in records if one.type in ("A", "AAAA")))))
    return replace(found, reached=tuple(records)), replace(wanted, addresses=addresses)


class _SilentError(Exception):
    """No server of a zone answered."""


def _ask(at: str, port: int, name: str | dns.name.Name, kind: str, recurse: bool = False,
         ) -> dns.message.Message:
    """Ask a server something.

    Raises:
        _SilentError: It did not answer, or not in the way of the protocol.
    """
    query = dns.message.make_query(name, kind, want_dnssec=not recurse, payload=1232)
    if not recurse:
        query.flags &= ~dns.flags.RD
    try:
        return dns.query.udp_with_fallback(query, at, port=port, timeout=_WAIT_S)[0]
    except (dns.exception.DNSException, OSError, EOFError) as error:
        raise _SilentError(type(error).__name__) from error


def _walk(name: dns.name.Name, net: Net, deep: int = 0) -> tuple[_Cut, bool]:
    """Follow referrals down to the zone that a name is in; and say whether the name exists.

    Raises:
        _SilentError: No server of a zone on the way answered, or it goes round in circles.
    """
    roots = [("root", one) for one in net.roots]
    anchors = [_as_ds(one) for one in net.anchors]
    cut = _Cut(dns.name.root, roots, None, "insecure")
    cut = _with_keys(cut, anchors, net)
    for _ in range(_DEEPEST):
        answer = _first(cut.servers, net, name, "NS")
        if answer is None:
            # Those who were named for the zone are silent: the zone is there all the same.
            if cut.parent_ns:
                return cut, True
            raise _SilentError(str(cut.zone))
        below = [one for one in (*answer.authority, *answer.answer) if one.rdtype == _T.NS
                 and one.name != cut.zone and name.is_subdomain(one.name)
                 and one.name.is_subdomain(cut.zone)]
        if not below:
            return cut, answer.rcode() != dns.rcode.NXDOMAIN
        cut = _below(cut, below[0], answer, net, deep)
    raise _SilentError(str(name))


def _first(servers: Sequence[tuple[str, str]], net: Net, name: dns.name.Name, kind: str,
           ) -> dns.message.Message | None:
    for _, at in servers[:_MOST_ASKED]:
        with contextlib.suppress(_SilentError):
            answer = _ask(at, net.port, name, kind)
            if answer.rcode() in (dns.rcode.NOERROR, dns.rcode.NXDOMAIN):
                return answer
    return None


def _below(cut: _Cut, ns: dns.rrset.RRset, answer: dns.message.Message, net: Net, deep: int,
           ) -> _Cut:
    named = sorted(one.target.to_text(omit_final_dot=True).lower() for one in ns)
    glue: dict[str, list[str]] = {}
    for extra in answer.additional:
        if extra.rdtype in (_T.A, _T.AAAA):
            glue.setdefault(extra.name.to_text(omit_final_dot=True).lower(), []).extend(
                one.address for one in extra if extra.rdtype == _T.A)
    servers = [(who, at) for who in named
               for at in glue.get(who) or _addresses_of(who, net, deep)]
    ds = [one for part in answer.authority if part.rdtype == _T.DS and part.name == ns.name
          for one in part]
    fresh = _Cut(ns.name, servers, None, cut.trust, tuple(named))
    if cut.trust != "secure":
        return fresh
    if not ds:
        return replace(fresh, trust="insecure")
    return _with_keys(fresh, ds, net)


def _addresses_of(who: str, net: Net, deep: int) -> list[str]:
    """Return the addresses of a server that nobody gave along."""
    if deep > 2:
        return []
    try:
        cut, exists = _walk(dns.name.from_text(who), net, deep + 1)
        answer = _first(cut.servers, net, dns.name.from_text(who), "A") if exists else None
    except _SilentError:
        return []
    return [one.address for part in (answer.answer if answer else ()) if part.rdtype == _T.A
            for one in part]


def _as_ds(words: str) -> object:
    return dns.rdata.from_text(dns.rdataclass.IN, _T.DS, words)


def _with_keys(cut: _Cut, ds: Sequence[object], net: Net) -> _Cut:
    """Return a cut with the keys that those above vouch for, or with why there are none."""
    if not ds:
        return cut
    answer = _first(cut.servers, net, cut.zone, "DNSKEY")
    keys = next((part for part in (answer.answer if answer else ())
                 if part.rdtype == _T.DNSKEY and part.name == cut.zone), None)
    if answer is None:
        return cut
    if keys is None:
        return replace(cut, trust="a DS record above, but no key here")
    try:
        if not any(dns.dnssec.make_ds(cut.zone, key, one.digest_type) == one  # type: ignore[attr-defined]
                   for key in keys for one in ds):
            return replace(cut, trust="no key here fits the DS record above")
        _check(keys, answer, {cut.zone: keys})
    except (dns.exception.DNSException, ValueError) as error:
        return replace(cut, trust=str(error)[:120] or type(error).__name__)
    return replace(cut, keys={cut.zone: keys}, trust="secure")


def _check(part: dns.rrset.RRset, answer: dns.message.Message,
           keys: dict[dns.name.Name, dns.rrset.RRset]) -> None:
    """Check the signature of a part of an answer.

    Raises:
        ValueError: It has none.
        dns.exception.DNSException: It has a wrong or old one.
    """
    seal = next((one for one in answer.answer if one.rdtype == _T.RRSIG
                 and one.covers == part.rdtype and one.name == part.name), None)
    if seal is None:
        raise ValueError("a signature is missing")
    dns.dnssec.validate(part, seal, keys)  # type: ignore[arg-type]


def _trust_of(cut: _Cut, server: Server | None, names: Iterable[str], net: Net) -> str:
    if cut.trust != "secure" or server is None or cut.keys is None:
        return cut.trust
    for name in (cut.zone.to_text(), *names):
        kind = "SOA" if name == cut.zone.to_text() else "A"
        with contextlib.suppress(_SilentError):
            answer = _ask(server.address, net.port, name, kind)
            for part in answer.answer:
                if part.rdtype != _T.RRSIG and part.name.is_subdomain(cut.zone):
                    try:
                        _check(part, answer, cut.keys)
                    except (dns.exception.DNSException, ValueError) as error:
                        return str(error)[:120] or type(error).__name__
    return "secure"


def _ask_server(who: str, at: str, names: Sequence[str], cut: _Cut, net: Net) -> Server:
    try:
        answer = _ask(at, net.port, cut.zone, "SOA")
    except _SilentError:
        return Server(who, at, "silent")
    state = _state(answer, cut.zone)
    if state != "ok":
        return Server(who, at, state)
    serial = next((part[0].serial for part in answer.answer if part.rdtype == _T.SOA), 0)
    records: list[Record] = []
    for name in names:
        for kind in _ASKED:
            try:
                told = _ask(at, net.port, name, kind)
            except _SilentError:
                return Server(who, at, "silent")
            if told.rcode() == dns.rcode.SERVFAIL:
                return Server(who, at, "failed")
            records += _records(told, name)
    return Server(who, at, "ok", tuple(dict.fromkeys(records)), serial)


def _state(answer: dns.message.Message, zone: dns.name.Name) -> State:
    if answer.rcode() == dns.rcode.SERVFAIL:
        return "failed"
    if answer.rcode() == dns.rcode.REFUSED:
        return "refused"
    held = any(part.rdtype == _T.SOA and part.name == zone for part in answer.answer)
    return "ok" if held and answer.flags & dns.flags.AA else "lame"


def _records(answer: dns.message.Message, name: str) -> list[Record]:
    """Return the records of an answer that are the name's own."""
    wanted = dns.name.from_text(name)
    found = []
    for part in answer.answer:
        if part.name == wanted and part.rdtype != _T.RRSIG:
            kind = _T.to_text(part.rdtype)
            for one in part:
                value = one.to_text()
                found.append(Record(name, kind, value.rstrip(".").lower() if kind in (
                    "CNAME", "NS") else value[:300], part.ttl))
    return found


def _child_ns(server: Server, zone: dns.name.Name, net: Net) -> tuple[str, ...]:
    try:
        answer = _ask(server.address, net.port, zone, "NS")
    except _SilentError:
        return ()
    return tuple(sorted(one.target.to_text(omit_final_dot=True).lower() for part in answer.answer
                        if part.rdtype == _T.NS and part.name == zone for one in part))


def _ask_named(who: str, names: Sequence[str], cut: _Cut, net: Net) -> Server:
    found = _addresses_of(who, net, 0)
    return _ask_server(who, found[0], names, cut, net) if found else Server(who, "", "silent")


def _ask_resolver(at: tuple[str, int], names: Iterable[str]) -> Server:
    records: list[Record] = []
    for name in names:
        for kind in ("A", "AAAA"):
            try:
                answer = _ask(at[0], at[1], name, kind, recurse=True)
            except _SilentError:
                return Server(at[0], at[0], "silent")
            if answer.rcode() == dns.rcode.SERVFAIL:
                return Server(at[0], at[0], "failed")
            records += _whole(answer, name)
    return Server(at[0], at[0], "ok", tuple(dict.fromkeys(records)))


def _whole(answer: dns.message.Message, name: str) -> list[Record]:
    """Return what a resolver says a name leads to, as records of that name."""
    return [Record(name, _T.to_text(part.rdtype), one.to_text(), part.ttl)
            for part in answer.answer if part.rdtype in (_T.A, _T.AAAA) for one in part]


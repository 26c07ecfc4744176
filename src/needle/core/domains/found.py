"""What was read of a domain: from the servers that decide, from others, and from resolvers."""

from dataclasses import dataclass
from typing import Literal

__all__ = ["Found", "Record", "Server", "Shown", "ShownState", "State", "Wanted"]

# What a server did when it was asked: it answered with authority, without it, refused, failed, or
# kept silent.
State = Literal["ok", "lame", "refused", "failed", "silent"]

# What is shown over https: a certificate that browsers take, one that ends within two weeks, one
# that has ended, of another name, of nobody whom they trust; none; or there is no answer.
ShownState = Literal["ok", "ending", "ended", "other", "untrusted", "none", "closed"]


@dataclass(frozen=True, slots=True, order=True)
class Record:
    """A record of a zone.

    Attributes:
        name: Without the dot at its end, in small letters.
        value: As a zone file writes it; names in it end without a dot.
        ttl: For how many seconds others may remember it.
    """

    name: str
    type: str
    value: str
    ttl: int = 0


@dataclass(frozen=True, slots=True)
class Server:
    """A server that was asked, and its answers.

    Attributes:
        records: What it holds of the bare name, of www, and of a name that nobody made.
        serial: That of the zone it holds; 0 if it told none.
    """

    name: str
    address: str
    state: State = "ok"
    records: tuple[Record, ...] = ()
    serial: int = 0

    def of(self, name: str, *types: str) -> tuple[Record, ...]:
        """Return its records of a name, of some types or of all."""
        return tuple(one for one in self.records
                     if one.name == name and (not types or one.type in types))


@dataclass(frozen=True, slots=True)
class Shown:
    """What a browser is shown that asks for a name over https.

    Attributes:
        issuer: Who certified it, as the certificate says; empty if there is none.
        until: ISO time, UTC, of its end; empty if there is none.
    """

    name: str
    state: ShownState
    issuer: str = ""
    until: str = ""


@dataclass(frozen=True, slots=True)
class Found:
    """Everything that was read of a domain.

    Attributes:
        bare: The name without www, as "quillmoor.example".
        zone: The zone that it is in; empty if it is one of its own.
        exists: Whether those above know it; `None` if they did not answer.
        parent_ns, child_ns: The servers that those above name, and those that the zone names.
        servers: The servers that decide, each address by itself.
        others: Servers that nobody asks: named by the zone alone, or by the person.
        resolvers: What the net's own resolvers answer.
        dnssec: "secure", "insecure", or what is wrong.
        probe: A name below it that nobody made.
        reached: What the host's own name leads to.
        shown: What is shown over https for the bare name and www; nothing if nobody looked.
    """

    bare: str
    zone: str = ""
    exists: bool | None = True
    parent_ns: tuple[str, ...] = ()
    child_ns: tuple[str, ...] = ()
    servers: tuple[Server, ...] = ()
    others: tuple[Server, ...] = ()
    resolvers: tuple[Server, ...] = ()
    dnssec: str = "insecure"
    probe: str = ""
    reached: tuple[Record, ...] = ()
    shown: tuple[Shown, ...] = ()

    @property
    def is_zone(self) -> bool:
        """Whether the bare name is where a zone begins."""
        return self.zone in ("", self.bare)

    @property
    def www(self) -> str:
        """The name with www before it."""
        return f"www.{self.bare}"

    @property
    def first(self) -> Server | None:
        """The first server that decides and answers."""
        return next((one for one in self.servers if one.state == "ok"), None)


@dataclass(frozen=True, slots=True)
class Wanted:
    """Where the domain should lead.

    Attributes:
        host: The name of the machine that serves the pages; empty for addresses alone.
        addresses: Its addresses, of version 4 and 6.
        authority: Who issues the certificate, as CAA records name it; empty if nobody asks yet.
    """

    host: str = ""
    addresses: tuple[str, ...] = ()
    authority: str = ""

    @property
    def fours(self) -> tuple[str, ...]:
        """Its addresses of version 4."""
        return tuple(one for one in self.addresses if ":" not in one)

    @property
    def sixes(self) -> tuple[str, ...]:
        """Its addresses of version 6."""
        return tuple(one for one in self.addresses if ":" in one)

"""Payment services: where a visitor pays an order, and how Needle hears of it.

What is asked of one is four things, and `PaymentService` names them: begin a payment, take its
signed calls, look a payment up, pay back. Another provider is a module like this one and a line in
`registry`. A card's number is typed at the provider alone.

    POST   {address}/payments                 begins one; `Idempotency-Key`
    GET    {address}/payments/ID              what became of it
    POST   {address}/payments/ID/refunds      pays back; `Idempotency-Key`

It calls `notify` with the same body that looking up returns, signed as web hooks are
(`X-Signature: t=SECONDS,v1=HEX`, HMAC-SHA-256 of `SECONDS.BODY`).
"""

import hmac
import json
import re
from collections.abc import Mapping
from decimal import Decimal
from typing import Annotated, NamedTuple, Protocol

import httpx
import msgspec

from needle.running.signing import signature
from needle.services.adapter import Access, ServiceError, Setting
from needle.services.http import Wire

__all__ = ["SETTINGS", "Asked", "Begun", "PayService", "PaymentService", "Told", "UnsignedError"]

SETTINGS = (
    Setting("address", "Address", example="https://pay.example/v1"),
    Setting("key", "Key", "secret"),
    Setting("currency", "Takes only", example="GBP; empty for any currency"))

# A call that was signed longer ago may be one that somebody kept and sends again.
_GOOD_S = 300
_SIGNED = re.compile(r"t=(\d{1,12}),v1=([0-9a-f]{64})")
_LONGEST = 20_000


class UnsignedError(Exception):
    """A call is not the service's: its signature is none, or of another time."""


class Asked(NamedTuple):
    """A payment that is asked for.

    Attributes:
        key: The same at every try.
        amount: As "12.50".
        words: What is paid, as the payer reads it.
        back: Where the payer comes back to.
        notify: Where the service calls.
    """

    key: str
    amount: str
    currency: str
    words: str
    back: str
    notify: str
    language: str


class Begun(NamedTuple):
    """A payment that was begun: what the service calls it, and where it is paid."""

    reference: str
    go: str


class Told(msgspec.Struct, frozen=True):
    """What a service says of a payment."""

    id: Annotated[str, msgspec.Meta(pattern=r"^[A-Za-z0-9_-]{1,120}$")]
    state: Annotated[str, msgspec.Meta(pattern="^(open|paid|failed)$")]
    amount: Annotated[str, msgspec.Meta(pattern=r"^[0-9]{1,9}(\.[0-9]{1,2})?$")]
    currency: Annotated[str, msgspec.Meta(pattern="^[A-Z]{3}$")]
    go: Annotated[str, msgspec.Meta(max_length=2000)] = ""


class PaymentService(Protocol):
    """A client of one payment service. Every method raises `ServiceError` in words."""

    def check(self) -> str:
        """Try address and key without changing anything; return what was found, in words."""
        ...

    def begin(self, asked: Asked) -> Begun:
        """Begin a payment; one with a known key is the one that was begun then."""
        ...

    def called(self, headers: Mapping[str, str], body: bytes, now_s: int) -> Told:
        """Return what a call from outside says.

        Raises:
            UnsignedError: It is not from the service.
        """
        ...

    def look_up(self, reference: str) -> Told:
        """Return what became of a payment."""
        ...

    def pay_back(self, reference: str, amount: Decimal, key: str) -> None:
        """Pay some of a payment back; once for each key."""
        ...


class PayService:
    """A payment service that speaks the protocol above."""

    def __init__(self, access: Access) -> None:
        self._name, self._key = access.name, access.key
        self._address = access.address.rstrip("/")
        self._currency = access.options.get("currency", "").strip().upper()
        self._wire = Wire(access.name, {"Authorization": f"Bearer {access.key}",
                                        "Content-Type": "application/json"}, (access.key,))

    def check(self) -> str:
        """Ask whether it is there and knows the key."""
        answer, told, said = self._wire.ask("GET", f"{self._address}/account")
        name = self._wire.json(answer, told, said)
        if not isinstance(name, dict) or not isinstance(name.get("name"), str):
            raise self._wire.nonsense(told, said)
        return f"pays to “{name['name'][:80]}”"

    def begin(self, asked: Asked) -> Begun:
        """Begin a payment."""
        if self._currency and asked.currency != self._currency:
            raise ServiceError("pay-currency", service=self._name, currency=asked.currency,
                               final=True)
        body = json.dumps({"amount": asked.amount, "currency": asked.currency,
                           "words": asked.words, "back": asked.back, "notify": asked.notify,
                           "language": asked.language}).encode()
        answer, told, said = self._wire.ask(
            "POST", f"{self._address}/payments", content=body,
            headers={"Idempotency-Key": asked.key}, good=(200, 201))
        found = self._told(answer, told, said)
        if not found.go.startswith(("https://", "http://")):
            raise self._wire.nonsense(told, said)
        return Begun(found.id, found.go)

    def called(self, headers: Mapping[str, str], body: bytes, now_s: int) -> Told:
        """Return what a signed call says."""
        found = _SIGNED.fullmatch(headers.get("x-signature", ""))
        if not self._key or found is None or abs(now_s - int(found[1])) > _GOOD_S or (
                not hmac.compare_digest(signature(self._key, int(found[1]), body), found[0])):
            raise UnsignedError
        try:
            return msgspec.json.decode(body[:_LONGEST], type=Told)
        except (msgspec.MsgspecError, ValueError) as error:
            raise UnsignedError from error

    def look_up(self, reference: str) -> Told:
        """Return what became of a payment."""
        answer, told, said = self._wire.ask("GET", f"{self._address}/payments/{reference}")
        return self._told(answer, told, said)

    def pay_back(self, reference: str, amount: Decimal, key: str) -> None:
        """Pay some of a payment back."""
        self._wire.ask("POST", f"{self._address}/payments/{reference}/refunds",
                       content=json.dumps({"amount": f"{amount:.2f}"}).encode(),
                       headers={"Idempotency-Key": key}, good=(200, 201))

    def _told(self, answer: httpx.Response, told: str, said: str) -> Told:
        try:
            return msgspec.json.decode(answer.content[:_LONGEST], type=Told)
        except (msgspec.MsgspecError, ValueError) as error:
            raise self._wire.nonsense(told, said) from error

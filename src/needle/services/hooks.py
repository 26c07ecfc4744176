"""A web hook: each lead is posted to an address, as JSON, as a form, or in a body of one's own.

With a secret, every request carries `X-Signature: t=SECONDS,v1=HEX`: the HMAC-SHA-256 (RFC 2104)
of `SECONDS.BODY` under the secret.
"""

import json
import re
import time
from collections.abc import Mapping, Sequence
from urllib.parse import urlencode

from needle.running.signing import signature
from needle.services.adapter import (
    Access,
    Parcel,
    Receipt,
    ServiceError,
    Setting,
    TargetField,
)
from needle.services.http import Wire
from needle.services.secrecy import secret_part

__all__ = ["SETTINGS", "WebHook"]

SETTINGS = (
    Setting("address", "Address", "secret address", example="https://ledger.example/leads"),
    Setting("body", "Sent as", "choice", choices={
        "json": "JSON", "form": "a form", "own": "a body of my own"}),
    Setting("template", "Own body", "long", example='{"who": {{NAME}}, "mail": {{EMAIL}}}'),
    Setting("headers", "More headers", "secrets", example="X-Shop: hill"),
    Setting("expects", "Good answers hold", example="ok; empty if the status is enough"),
    Setting("key", "Secret that signs", "secret"))

_HOLE = re.compile(r"\{\{\s*([\w.-]+)\s*\}\}")
_HEADER = re.compile(r"([A-Za-z0-9-]+):[ \t]*([\x20-\x7e]*)\Z")


class WebHook:
    """An address that leads are posted to."""

    def __init__(self, access: Access) -> None:
        self._name = access.name
        self._address = access.address
        self._secret = access.key
        self._options = access.options
        own = self._own_headers()
        # Whoever knows the whole address, or the headers, may write there.
        self._wire = Wire(access.name, own, (access.key, *secret_part(access.address)),
                          frozenset(own))

    def check(self) -> str:
        """Ask whether somebody answers at the address."""
        if not self._address.startswith(("https://", "http://")):
            raise ServiceError("answer-hook-address", service=self._name)
        # Nothing may be posted only to try, so this tells no more than that somebody answers.
        self._wire.ask("OPTIONS", self._address, good=tuple(range(200, 500)))
        return "somebody answers at its address"

    def targets(self) -> Mapping[str, str]:
        """Return nothing: one address is one place."""
        return {}

    def fields(self, target: str) -> Sequence[TargetField]:
        """Return the holes of an own body; any name is taken where the body is not one's own."""
        if self._options.get("body") != "own":
            return ()
        names = dict.fromkeys(_HOLE.findall(self._options.get("template", "")))
        return [TargetField(name) for name in names if not name.startswith("lead.")]

    def deliver(self, parcel: Parcel) -> Receipt:
        """Post the lead with its key, and signed where there is a secret."""
        kind, body = self._body(parcel)
        headers = {"Content-Type": kind, "Idempotency-Key": parcel.key}
        if self._secret:
            headers["X-Signature"] = signature(self._secret, int(time.time()), body)
        answer, told, said = self._wire.ask("POST", self._address, content=body, headers=headers)
        # Whatever stands in front of a receiver that is down may well answer 200.
        if self._options.get("expects", "") not in answer.text:
            raise self._wire.nonsense(told, said)
        return Receipt(f"{self._name} {answer.status_code}", told, said)

    def remove(self, parcel: Parcel) -> bool:
        """Return `False`: what was posted cannot be taken back."""
        return False

    def _body(self, parcel: Parcel) -> tuple[str, bytes]:
        facts = {f"lead.{name}": value for name, value in parcel.facts.items()}
        facts["lead.key"] = parcel.key
        shape = self._options.get("body", "json")
        if shape == "form":
            return ("application/x-www-form-urlencoded",
                    urlencode(dict(parcel.values) | facts).encode())
        if shape == "own":
            held = dict(parcel.values) | facts
            filled = _HOLE.sub(lambda hole: json.dumps(held.get(hole.group(1), ""),
                                                       ensure_ascii=False),
                               self._options.get("template", ""))
            return "application/json", filled.encode()
        told = {"key": parcel.key, **parcel.facts, "fields": dict(parcel.values)}
        return "application/json", json.dumps(told, ensure_ascii=False).encode()

    def _own_headers(self) -> dict[str, str]:
        lines = self._options.get("headers", "").splitlines()
        found = [_HEADER.match(line.strip()) for line in lines]
        return {match.group(1): match.group(2) for match in found if match}

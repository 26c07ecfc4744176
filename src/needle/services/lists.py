"""A mailing list over HTTP with a key.

    GET LISTS              [{"key", "name"}]
    GET LISTS/KEY/fields   [{"key", "type", "required", "choices"?}]
    PUT LISTS/KEY/members/EMAIL {"fields": {…}} with an Idempotency-Key
    DELETE LISTS/KEY/members/EMAIL
"""

import json
from collections.abc import Mapping, Sequence
from urllib.parse import quote

from needle.core.values.counting import counted
from needle.services.adapter import (
    Access,
    Parcel,
    Receipt,
    ServiceError,
    Setting,
    TargetField,
)
from needle.services.http import Wire

__all__ = ["SETTINGS", "MailingList"]

SETTINGS = (Setting("address", "Base address", example="https://lists.example/api"),
            Setting("key", "Key", "secret"))


class MailingList:
    """A mailing service at a base URL, opened with a key."""

    def __init__(self, access: Access) -> None:
        self._name = access.name
        self._url = access.address.rstrip("/")
        self._wire = Wire(access.name, {"Authorization": f"Bearer {access.key}"}, (access.key,))

    def check(self) -> str:
        """Count the lists; that takes a good key and changes nothing."""
        count = len(self.targets())
        return f"{counted(count, 'list')} found"

    def targets(self) -> Mapping[str, str]:
        """Return the names of the lists by key."""
        answer, told, said = self._wire.ask("GET", f"{self._url}/lists")
        try:
            return {str(one["key"]): str(one["name"])
                    for one in self._wire.json(answer, told, said)}
        except (KeyError, TypeError) as error:
            raise self._wire.nonsense(told, said) from error

    def fields(self, target: str) -> Sequence[TargetField]:
        """Return the fields that a list has, with their kinds and choices."""
        answer, told, said = self._wire.ask("GET", f"{self._list(target)}/fields")
        try:
            return [TargetField(str(one["key"]), one["type"], bool(one["required"]),
                                tuple(map(str, one.get("choices", ()))))
                    for one in self._wire.json(answer, told, said)]
        except (KeyError, TypeError, AttributeError) as error:
            raise self._wire.nonsense(told, said) from error

    def deliver(self, parcel: Parcel) -> Receipt:
        """Put a member on a list; the same address is updated, never added twice."""
        email = self._email(parcel)
        answer, told, said = self._wire.ask(
            "PUT", f"{self._list(parcel.target)}/members/{quote(email, safe='')}",
            content=json.dumps({"fields": dict(parcel.values)}, ensure_ascii=False).encode(),
            headers={"Idempotency-Key": parcel.key, "Content-Type": "application/json"})
        try:
            result = str(self._wire.json(answer, told, said)["result"])
        except (KeyError, TypeError) as error:
            raise self._wire.nonsense(told, said) from error
        return Receipt(f"{self._name} {'has it' if result == 'repeated' else result}", told, said)

    def remove(self, parcel: Parcel) -> bool:
        """Take the address off the list; one that is not there is fine."""
        self._wire.ask("DELETE",
                       f"{self._list(parcel.target)}/members/{quote(self._email(parcel), safe='')}",
                       good=(200, 204, 404))
        return True

    def _list(self, target: str) -> str:
        return f"{self._url}/lists/{quote(target, safe='')}"

    def _email(self, parcel: Parcel) -> str:
        email = parcel.values.get("EMAIL") or next(
            (value for value in parcel.values.values() if "@" in value), "")
        if not email:
            raise ServiceError("answer-needs-email", service=self._name, final=True)
        return email

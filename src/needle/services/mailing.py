"""Reading lists and fields from a mailing service."""

from dataclasses import dataclass
from typing import Any

import httpx

__all__ = ["ListField", "MailingClient", "ServiceError"]

_TIMEOUT_S = 4.0


class ServiceError(Exception):
    """The service did not give what was asked; the message says so in words."""


@dataclass(frozen=True, slots=True)
class ListField:
    """A field of a list, as the service describes it.

    Attributes:
        kind: "email", "text" or "choice".
    """

    key: str
    kind: str
    required: bool


class MailingClient:
    """A mailing service at a base URL, opened with a key."""

    def __init__(self, name: str, url: str, key: str) -> None:
        self._name = name
        self._url = url
        self._headers = {"Authorization": f"Bearer {key}"}

    def lists(self) -> dict[str, str]:
        """Return the lists' names by key.

        Raises:
            ServiceError: It is down, refuses the key, or speaks something else.
        """
        try:
            return {str(one["key"]): str(one["name"]) for one in self._get("/lists")}
        except (KeyError, TypeError) as error:
            raise self._nonsense() from error

    def fields(self, list_key: str) -> list[ListField]:
        """Return the fields of a list.

        Raises:
            ServiceError: It is down, refuses the key, or speaks something else.
        """
        try:
            return [ListField(str(f["key"]), str(f["type"]), bool(f["required"]))
                    for f in self._get(f"/lists/{list_key}/fields")]
        except (KeyError, TypeError) as error:
            raise self._nonsense() from error

    def fault(self) -> str:
        """Return which fault of a practice service is switched on; "none" if it cannot be asked."""
        try:
            answer = httpx.get(f"{self._url}/practice/fault", timeout=_TIMEOUT_S, trust_env=False)
            return str(answer.json()["fault"])
        except (httpx.HTTPError, ValueError, KeyError, TypeError):
            return "none"

    def set_fault(self, fault: str) -> None:
        """Switch a fault of a practice service on or off."""
        try:
            httpx.post(f"{self._url}/practice/fault", json={"fault": fault}, timeout=_TIMEOUT_S,
                       trust_env=False).raise_for_status()
        except httpx.HTTPError as error:
            raise ServiceError(f"{self._name} cannot be reached.") from error

    def _get(self, path: str) -> Any:
        try:
            answer = httpx.get(self._url + path, headers=self._headers, timeout=_TIMEOUT_S,
                               trust_env=False)
        except httpx.TimeoutException as error:
            raise ServiceError(f"{self._name} does not answer.") from error
        except httpx.HTTPError as error:
            raise ServiceError(f"{self._name} cannot be reached.") from error
        if answer.status_code == 401:
            raise ServiceError(f"{self._name} refuses the key. Enter it again.")
        if answer.status_code != 200:
            raise ServiceError(f"{self._name} answered {answer.status_code}.")
        try:
            return answer.json()
        except ValueError as error:
            raise self._nonsense() from error

    def _nonsense(self) -> ServiceError:
        return ServiceError(f"{self._name} answered something that is not its protocol.")

"""HTTP as the services use it: faults told in words, requests and answers as they went."""

from collections.abc import Mapping
from functools import cache
from typing import Any

import httpx

from needle.services.adapter import ServiceError

__all__ = ["TIMEOUT_S", "Wire"]

TIMEOUT_S = 5.0
_LONGEST = 4_000
_ALWAYS_HIDDEN = frozenset({"authorization", "cookie", "set-cookie", "proxy-authorization"})


@cache
def _client() -> httpx.Client:
    return httpx.Client(timeout=TIMEOUT_S, trust_env=False, follow_redirects=False,
                        limits=httpx.Limits(max_connections=100, max_keepalive_connections=20))


class Wire:
    """Asks one service over HTTP."""

    def __init__(self, name: str, headers: Mapping[str, str], secrets: tuple[str, ...] = (),
                 secret_headers: frozenset[str] = frozenset()) -> None:
        """Prepare to ask.

        Args:
            headers: Sent with every request.
            secrets: Never shown in what is told of a request.
            secret_headers: Names of headers whose values are never shown.
        """
        self._name = name
        self._headers = dict(headers)
        self._secrets = [secret for secret in secrets if secret]
        self._hidden = {name.lower() for name in secret_headers} | _ALWAYS_HIDDEN

    def ask(self, method: str, url: str, *, content: bytes = b"",
            headers: Mapping[str, str] | None = None,
            good: tuple[int, ...] = (200, 201, 202, 204)) -> tuple[httpx.Response, str, str]:
        """Send a request; return its answer, and both as text.

        Raises:
            ServiceError: It cannot be reached, or answers anything but a `good` status.
        """
        every = self._headers | dict(headers or {})
        told = self._told(f"{method} {url}", every, content)
        try:
            answer = _client().request(method, url, content=content, headers=every)
        except httpx.TimeoutException as error:
            raise ServiceError("answer-none", service=self._name, seconds=f"{TIMEOUT_S:g}",
                               down=True, request=told) from error
        except (httpx.HTTPError, httpx.InvalidURL, ValueError) as error:
            raise ServiceError("answer-unreachable", service=self._name, down=True, request=told,
                               answer=f"{type(error).__name__}: {error}") from error
        said = self._told(f"{answer.status_code} {answer.reason_phrase}", answer.headers,
                          answer.content)
        if answer.status_code not in good:
            raise self._refusal(answer, told, said)
        return answer, told, said

    def _refusal(self, answer: httpx.Response, told: str, said: str) -> ServiceError:
        status = answer.status_code
        message = {401: "answer-key-refused", 403: "answer-key-refused", 429: "answer-quota",
                   400: "answer-lead-refused", 409: "answer-lead-refused",
                   422: "answer-lead-refused"}.get(status, "answer-status")
        # What the service says about one lead is no reason to hold back the others.
        return ServiceError(message, service=self._name, status=status, why=_reason(answer),
                            request=told, answer=said,
                            down=status not in (400, 404, 409, 410, 412, 413, 422))

    def json(self, answer: httpx.Response, told: str = "", said: str = "") -> Any:
        """Return an answer's JSON.

        Raises:
            ServiceError: It is something else.
        """
        try:
            return answer.json()
        except ValueError as error:
            raise self.nonsense(told, said) from error

    def nonsense(self, told: str = "", said: str = "") -> ServiceError:
        """Return the fault of an answer that is not the service's protocol."""
        return ServiceError("answer-nonsense", service=self._name, down=True, request=told,
                            answer=said)

    def _told(self, first: str, headers: Mapping[str, str], body: bytes) -> str:
        lines = [first, *(f"{name}: {'•••' if name.lower() in self._hidden else value}"
                          for name, value in headers.items()), "",
                 body.decode("utf-8", "replace")]
        words = "\n".join(lines)
        for secret in self._secrets:
            words = words.replace(secret, "•••")
        return words if len(words) <= _LONGEST else words[:_LONGEST] + "\n… cut here"


def _reason(answer: httpx.Response) -> str:
    try:
        said = answer.json()
        return str(said.get("error") or said)[:160]
    except (ValueError, AttributeError):
        return answer.text[:80] or "no reason given"

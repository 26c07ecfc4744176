"""Words for a first draft from any endpoint that speaks chat completions over HTTP.

The protocol is the common one: POST BASE/chat/completions with a model and messages; the answer's
first choice holds a message, whose content is asked to be one JSON object.
"""

import json
import re
from collections.abc import Mapping
from typing import Any

import httpx
import msgspec

from needle.core.draft.copy import Copy, Point, Wish, Writer, WriterError, copy_faults

__all__ = ["ChatWriter"]

_TIMEOUT_S = 60.0
_LARGEST = 400_000
_RULES = """You write the words of a landing page from what is known of an offer, and nothing else.
Every fact that is given must be kept. Invent no price, number, date, guarantee, name, place or
testimonial. Where something is not known, leave the field out. Plain words without markup, short
sentences, no exclamation marks,
    in the language of the idea. Answer with one JSON object: names (up to
6 short names), headlines (up to 4), subs (up to 3, one or two sentences each),
    call (2 to 4 words on
the one button), problem (2 sentences), points (up to 6 of {title, words}), steps (3 of {title,
    words}),
questions (up to 5 of {title, words}), story (up to 5 paragraphs), closing ({title, words}),
    title (up
to 60 characters), description (up to 155 characters)."""
_NUMBER = re.compile(r"\d+(?:[.,]\d+)*")


class _Written(msgspec.Struct):
    """What an endpoint may write; all else of a page comes from the idea itself."""

    names: tuple[str, ...] = ()
    headlines: tuple[str, ...] = ()
    subs: tuple[str, ...] = ()
    call: str = ""
    problem: tuple[str, ...] = ()
    points: tuple[Point, ...] = ()
    steps: tuple[Point, ...] = ()
    questions: tuple[Point, ...] = ()
    story: tuple[str, ...] = ()
    closing: Point | None = None
    title: str = ""
    description: str = ""


class ChatWriter:
    """Writes by asking an endpoint."""

    def __init__(self, address: str, key: str, model: str, base: Writer,
                 timeout_s: float = _TIMEOUT_S) -> None:
        """Prepare to ask.

        Args:
            address: The base, "https://words.example/v1"; "/chat/completions" is added.
            key: Sent as a bearer token; empty for none.
            base: Writes what the endpoint leaves out, and what it makes up.
        """
        self._url = re.sub(r"/chat/completions/?$", "", address.strip().rstrip("/"))
        self._key = key
        self._model = model.strip() or "default"
        self._base = base
        self._timeout_s = timeout_s
        self.spent = ""

    def write(self, wish: Wish) -> Copy:
        """Return the words.

        Raises:
            WriterError: The endpoint is down, slow, refuses, or answers something else.
        """
        if not self._url.startswith(("http://", "https://")):
            raise WriterError("writer-address")
        base = self._base.write(wish)
        written = _written_in(self._content(self._answer(wish)))
        made = _over(base, written, _known(wish))
        if faults := copy_faults(made):
            raise WriterError("writer-no-use", faults=", ".join(map(str, faults)))
        return made

    def _answer(self, wish: Wish) -> httpx.Response:
        headers = {"Authorization": f"Bearer {self._key}"} if self._key else {}
        try:
            answer = httpx.post(f"{self._url}/chat/completions", json=self._question(wish),
                                headers=headers, timeout=self._timeout_s, trust_env=False)
        except httpx.TimeoutException as error:
            raise WriterError("writer-silent", seconds=f"{self._timeout_s:g}") from error
        except (httpx.HTTPError, httpx.InvalidURL, ValueError) as error:
            raise WriterError("writer-unreachable") from error
        if answer.status_code in (401, 403):
            raise WriterError("writer-key")
        if answer.status_code == 429:
            raise WriterError("writer-wait")
        if answer.status_code != 200:
            raise WriterError("writer-status", status=answer.status_code)
        if len(answer.content) > _LARGEST:
            raise WriterError("writer-too-much")
        return answer

    def _question(self, wish: Wish) -> Mapping[str, Any]:
        known = msgspec.to_builtins(wish.slots)
        told = {name: value for name, value in known.items() if value and name != "corrected"}
        brief = {name: value for name, value in msgspec.to_builtins(wish.brief).items() if value}
        return {"model": self._model, "seed": wish.seed, "temperature": 0.8,
                "response_format": {"type": "json_schema", "json_schema": {
                    "name": "page", "schema": msgspec.json.schema(_Written)}},
                "messages": [
                    {"role": "system", "content": _RULES},
                    {"role": "user", "content": json.dumps(
                        {"offer": told, "brief": brief}, ensure_ascii=False)}]}

    def _content(self, answer: httpx.Response) -> str:
        try:
            body = answer.json()
            message = body["choices"][0]["message"]
            content, refusal = message.get("content"), message.get("refusal")
        except (ValueError, LookupError, TypeError, AttributeError) as error:
            raise WriterError("writer-protocol") from error
        if isinstance(refusal, str) and refusal.strip():
            raise WriterError("writer-refused", why=refusal.strip()[:200])
        if not isinstance(content, str) or not content.strip():
            raise WriterError("writer-no-words")
        used = body.get("usage")
        total = used.get("total_tokens") if isinstance(used, dict) else None
        self.spent = f"{total} tokens" if isinstance(total, int) else ""
        return content


def _written_in(content: str) -> _Written:
    """Return the words in an answer, which may stand in a fenced block."""
    fenced = re.search(r"\{.*\}", content, re.DOTALL)
    try:
        return msgspec.convert(json.loads(fenced.group(0) if fenced else content), _Written)
    except (ValueError, RecursionError) as error:
        raise WriterError("writer-shape", why=str(error)[:120]) from error


def _known(wish: Wish) -> set[str]:
    """Return every number that the idea and the brief tell."""
    return set(_NUMBER.findall(json.dumps(msgspec.to_builtins(wish), ensure_ascii=False)))


def _over(base: Copy, written: _Written, known: set[str]) -> Copy:
    """Return the draft with what was written in place of its own words.

    Texts with a number that nobody told are left out: it can only be made up.
    """
    def true(text: object) -> bool:
        return set(_NUMBER.findall(json.dumps(msgspec.to_builtins(text)))) <= known

    taken: dict[str, Any] = {}
    for name in _Written.__struct_fields__:
        value = getattr(written, name)
        kept = tuple(filter(true, value)) if isinstance(value, tuple) else (
            value if value and true(value) else None)
        if kept:
            taken[name] = kept
    return msgspec.structs.replace(base, **taken)

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

from needle.core.draft.copy import Copy, Wish, WriterError, copy_faults

__all__ = ["ChatWriter"]

_TIMEOUT_S = 60.0
_LARGEST = 400_000
_MOST_IDEA = 6_000
_SHAPE = """Answer with one JSON object and nothing else. Its keys:
names (6 short names), headlines (4), subs (2 sentences each to stand below a headline),
call (2 to 4 words on the one button), eyebrow (up to 8 words), problem_title, problem (2 or 3
sentences), points_title, points (6 of {"title","words"}), steps_title, steps (3 of
{"title","words"}), voices_title, voices (3 of {"quote","name","about"}), figures (3 pairs of
number and what it counts), offer_title, offer ({"title","price","unit","included" (3),
"missing" (1)}), questions_title, questions (4 of {"title","words"}), closing
({"title","words"}), ask (a question of the form), choices (3 answers to it), thanks (one
sentence), title (up to 60 characters), description (up to 155 characters).
Plain words without markup. Short sentences, no exclamation marks. Write in the language of the
idea."""


class ChatWriter:
    """Writes by asking an endpoint."""

    def __init__(self, address: str, key: str, model: str, timeout_s: float = _TIMEOUT_S) -> None:
        """Prepare to ask.

        Args:
            address: The base, "https://words.example/v1"; "/chat/completions" is added.
            key: Sent as a bearer token; empty for none.
        """
        self._url = re.sub(r"/chat/completions/?$", "", address.strip().rstrip("/"))
        self._key = key
        self._model = model.strip() or "default"
        self._timeout_s = timeout_s

    def write(self, wish: Wish) -> Copy:
        """Return the words.

        Raises:
            WriterError: The endpoint is down, slow, refuses, or answers something else.
        """
        if not self._url.startswith(("http://", "https://")):
            raise WriterError("writer-address")
        return _copy_in(self._content(self._answer(wish)))

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
        brief = wish.brief
        known = {"Idea": wish.idea[:_MOST_IDEA], "For": brief.audience,
                 "One call to action": brief.call_to_action,
                 "Visitors come to find out": brief.facts, "Key phrases": brief.phrases,
                 "Voice": brief.voice, "Ends on": brief.deadline}
        told = "\n".join(f"{name}: {words}" for name, words in known.items() if words.strip())
        return {"model": self._model, "seed": wish.seed, "temperature": 0.8,
                "response_format": {"type": "json_object"},
                "messages": [
                    {"role": "system", "content": "You write landing pages that tell the truth: "
                     "problem, promise, proof, plan, price, push. " + _SHAPE},
                    {"role": "user", "content": told}]}

    def _content(self, answer: httpx.Response) -> str:
        try:
            content = answer.json()["choices"][0]["message"]["content"]
        except (ValueError, LookupError, TypeError) as error:
            raise WriterError("writer-protocol") from error
        if not isinstance(content, str) or not content.strip():
            raise WriterError("writer-no-words")
        return content


def _copy_in(content: str) -> Copy:
    """Return the words in an answer, which may stand in a fenced block."""
    fenced = re.search(r"\{.*\}", content, re.DOTALL)
    try:
        copy = msgspec.convert(json.loads(fenced.group(0) if fenced else content), Copy)
    except (ValueError, RecursionError) as error:
        raise WriterError("writer-shape", why=str(error)[:120]) from error
    if faults := copy_faults(copy):
        raise WriterError("writer-no-use", faults=", ".join(map(str, faults)))
    return copy

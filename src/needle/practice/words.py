"""The practice endpoint for words: speaks chat completions, and says so in every line.

    POST /v1/chat/completions                 words as JSON, in one message
    POST /practice/fault {"fault": "down"}    one of WORD_FAULTS
"""

import asyncio
import json

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, PlainTextResponse, Response
from starlette.routing import Route

from needle.practice.running import run_practice

__all__ = ["WORD_FAULTS", "make_words_app"]

WORD_FAULTS = {"none": "works", "down": "is down (503)", "slow": "answers after 90 s",
               "key": "refuses the key (401)", "quota": "has nothing left (429)",
               "nonsense": "answers nonsense", "cut": "stops in the middle",
               "refuses": "will not write this", "invents": "makes up a price"}


def make_words_app(key: str) -> Starlette:
    """Return the endpoint."""
    state = {"fault": "none"}

    async def complete(request: Request) -> Response:
        fault = state["fault"]
        if fault == "down":
            return PlainTextResponse("Service unavailable", 503)
        if fault == "slow":
            await asyncio.sleep(90)
        if fault == "quota":
            return JSONResponse({"error": {"message": "quota"}}, 429)
        if fault == "nonsense":
            return PlainTextResponse("<html>Hello</html>")
        if fault == "key" or request.headers.get("authorization") != f"Bearer {key}":
            return JSONResponse({"error": {"message": "unknown key"}}, 401)
        asked = await request.json()
        told = "\n".join(str(message.get("content", "")) for message in asked["messages"]
                         if message.get("role") == "user")
        words = _words(told)
        if fault == "invents":
            words["headlines"] = ["Only 499 today", "What was told"]
        content = json.dumps(words)
        if fault == "cut":
            content = content[: len(content) // 2]
        message = {"role": "assistant", "content": content}
        if fault == "refuses":
            message = {"role": "assistant", "refusal": "This is not something to write about."}
        return JSONResponse({"object": "chat.completion", "model": asked.get("model", ""),
                             "usage": {"total_tokens": len(told.split()) + len(content.split())},
                             "choices": [{"index": 0, "finish_reason": "stop",
                                          "message": message}]})

    async def set_fault(request: Request) -> Response:
        fault = (await request.json()).get("fault")
        if fault not in WORD_FAULTS:
            return JSONResponse({"error": "no such fault"}, 422)
        state["fault"] = fault
        return JSONResponse({"fault": fault})

    return Starlette(routes=[Route("/v1/chat/completions", complete, methods=["POST"]),
                             Route("/practice/fault", set_fault, methods=["POST"])])


def _words(told: str) -> dict[str, object]:
    """Return a draft that repeats the idea and calls itself practice throughout."""
    try:
        asked = json.loads(told)
    except ValueError:
        asked = {}
    idea = str(asked.get("offer", {}).get("idea", "your idea")).strip().rstrip(".")[:120]
    call = str(asked.get("brief", {}).get("call_to_action", "")).strip()

    def points(letters: str, noun: str) -> list[dict[str, str]]:
        return [{"title": f"Practice {noun} {letter}", "words": f"What an endpoint of your own "
                 f"would write as {noun} {letter}."} for letter in letters]

    return {
        "names": [f"Practice name {letter}" for letter in "ABCDEF"],
        "headlines": [idea, f"Practice: {idea}"],
        "subs": ["These words come from the practice endpoint."],
        "call": call[:40] or "Practice button",
        "problem": ["How it is today, in practice words."],
        "points": points("ABCDEF", "benefit"), "steps": points("ABC", "step"),
        "questions": points("ABCD", "question"), "story": ["A practice story."],
        "closing": {"title": "Practice closing", "words": "The last practice words."},
        "title": idea[:60], "description": f"Practice words about: {idea}"[:155]}


if __name__ == "__main__":
    run_practice("The practice endpoint for words.", lambda _, key: make_words_app(key), "/v1")

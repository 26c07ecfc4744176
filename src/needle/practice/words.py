"""The practice endpoint for words: speaks chat completions, and says so in every line.

    POST /v1/chat/completions                 words as JSON, in one message
    POST /practice/fault {"fault": "down"}    none, down, slow, key, quota, nonsense, cut
"""

import asyncio
import json
import re

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, PlainTextResponse, Response
from starlette.routing import Route

from needle.practice.running import run_practice

__all__ = ["WORD_FAULTS", "make_words_app"]

WORD_FAULTS = {"none": "works", "down": "is down (503)", "slow": "answers after 90 s",
               "key": "refuses the key (401)", "quota": "has nothing left (429)",
               "nonsense": "answers nonsense", "cut": "stops in the middle"}


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
        content = json.dumps(_words(told))
        if fault == "cut":
            content = content[: len(content) // 2]
        return JSONResponse({"object": "chat.completion", "model": asked.get("model", ""),
                             "choices": [{"index": 0, "finish_reason": "stop", "message": {
                                 "role": "assistant", "content": content}}]})

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
    found = re.search(r"Idea: (.+)", told)
    idea = (found[1] if found else "your idea").strip().rstrip(".")[:120]
    call = re.search(r"One call to action: (.+)", told)

    def points(count: int, noun: str) -> list[dict[str, str]]:
        return [{"title": f"Practice {noun} {number}", "words": f"What an endpoint of your own "
                 f"would write as {noun} {number}."} for number in range(1, count + 1)]

    return {
        "names": [f"Practice name {number}" for number in range(1, 7)],
        "headlines": [idea, f"Practice: {idea}"],
        "subs": ["These words come from the practice endpoint."],
        "call": call[1].strip()[:40] if call else "Practice button", "eyebrow": "Practice words",
        "problem_title": "Practice problem", "problem": ["How it is today, in practice words."],
        "points_title": "Practice benefits", "points": points(6, "benefit"),
        "steps_title": "Practice steps", "steps": points(3, "step"),
        "voices_title": "Practice voices", "voices": [
            {"quote": "Nobody said this.", "name": "Practice", "about": "nobody"}] * 3,
        "figures": [["0", "practice figures"]] * 3, "offer_title": "Practice price",
        "offer": {"title": "Practice offer", "price": "0", "unit": "in practice",
                  "included": ["Practice"] * 3, "missing": ["Anything real"]},
        "questions_title": "Practice questions", "questions": points(4, "question"),
        "closing": {"title": "Practice closing", "words": "The last practice words."},
        "ask": "A practice question?", "choices": ["One", "Two", "Three"],
        "thanks": "These were practice words.", "title": idea[:60],
        "description": f"Practice words about: {idea}"[:155]}


if __name__ == "__main__":
    run_practice("The practice endpoint for words.", lambda _, key: make_words_app(key), "/v1")

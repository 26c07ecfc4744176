"""The faults that every practice service can be given, kept in its folder."""

import asyncio
from collections.abc import Container, Mapping
from pathlib import Path

from starlette.requests import Request
from starlette.responses import JSONResponse, PlainTextResponse, Response

from needle.store.files import write_atomically

__all__ = ["FAULTS", "broken_after", "broken_before", "read_fault", "set_fault"]

FAULTS: Mapping[str, str] = {
    "none": "works", "down": "is down (503)", "slow": "answers after 8 s",
    "key": "refuses the key (401)", "quota": "quota used up (429)",
    "field": "refuses a field (422)", "nonsense": "answers nonsense",
    "twice": "takes it, then fails (500)"}
_SLOW_S = 8


def read_fault(folder: Path, known: Container[str] = FAULTS) -> str:
    """Return the fault that is switched on, or "none"; it stays on over a restart.

    Args:
        known: The faults that the service can have, by name.
    """
    try:
        fault = (folder / "fault").read_text("utf-8").strip()
    except (OSError, UnicodeDecodeError):
        return "none"
    return fault if fault in known else "none"


def set_fault(folder: Path, fault: str) -> None:
    """Switch a fault on, or all off with "none"."""
    write_atomically(folder / "fault", fault.encode())


async def broken_before(folder: Path, request: Request) -> Response | None:
    """Return what a service with its fault answers instead of doing anything."""
    fault = read_fault(folder)
    if fault == "slow":
        await asyncio.sleep(_SLOW_S)
    answers: dict[str, Response] = {
        "down": PlainTextResponse("Service unavailable", 503),
        "key": JSONResponse({"error": "unknown key"}, 401),
        "quota": JSONResponse({"error": "quota used up"}, 429, {"Retry-After": "30"}),
        "nonsense": PlainTextResponse("<html>Hello</html>")}
    return answers.get(fault)


def broken_after(folder: Path, answer: Response) -> Response:
    """Return the answer of a service that has done what was asked, and may fail then."""
    if read_fault(folder) == "twice":
        return PlainTextResponse("Internal error", 500)
    return answer

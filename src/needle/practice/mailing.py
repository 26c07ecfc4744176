"""The practice mailing service: lists, their fields and members over HTTP with a key.

Requests carry `Authorization: Bearer KEY`:

    GET  /lists                               the lists
    GET  /lists/LIST/fields                   a list's fields
    PUT  /lists/LIST/members/EMAIL            add or change a member; `Idempotency-Key`
    GET  /lists/LIST/members                  the members
    POST /practice/fault {"fault": "down"}    switch a fault on: none, down, slow, key, nonsense
"""

import asyncio
import json
import sqlite3
import threading
from pathlib import Path
from typing import Any

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, PlainTextResponse, Response
from starlette.routing import Route

from needle.practice.running import run_practice

__all__ = ["FAULTS", "LISTS", "make_app"]

FAULTS = {"none": "works", "down": "is down (503)", "slow": "answers after 8 s",
          "key": "refuses the key (401)", "nonsense": "answers nonsense"}

LISTS: dict[str, dict[str, Any]] = {
    "meteor-guests": {"name": "Meteor guests", "fields": [
        {"key": "EMAIL", "type": "email", "required": True},
        {"key": "FULL_NAME", "type": "text", "required": False},
        {"key": "PARTY_SIZE", "type": "choice", "required": False,
         "choices": ["1", "2", "3–6", "more"]},
        {"key": "SOURCE", "type": "text", "required": False}]},
    "sky-calendar": {"name": "Sky calendar", "fields": [
        {"key": "EMAIL", "type": "email", "required": True},
        {"key": "FULL_NAME", "type": "text", "required": False}]},
    "hill-letter": {"name": "The hill letter", "fields": [
        {"key": "EMAIL", "type": "email", "required": True},
        {"key": "FULL_NAME", "type": "text", "required": False},
        {"key": "PHONE", "type": "text", "required": False}]},
}


class _Members:
    """Members on disk; a repeated key changes nothing twice."""

    def __init__(self, path: Path) -> None:
        self._lock = threading.Lock()
        self._db = sqlite3.connect(path, check_same_thread=False)
        self._db.executescript(
            "CREATE TABLE IF NOT EXISTS members (list TEXT, email TEXT, fields TEXT, added INTEGER,"
            " PRIMARY KEY (list, email));"
            "CREATE TABLE IF NOT EXISTS seen (key TEXT PRIMARY KEY, answer TEXT);"
            "CREATE TABLE IF NOT EXISTS faults (id INTEGER PRIMARY KEY, fault TEXT)")

    def put(self, key: str, list_key: str, email: str, fields: dict[str, str]) -> str:
        """Add or change a member and return "added", "updated" or "repeated"."""
        with self._lock, self._db:
            if key and self._db.execute("SELECT 1 FROM seen WHERE key=?", (key,)).fetchone():
                return "repeated"
            known = self._db.execute("SELECT added FROM members WHERE list=? AND email=?",
                                     (list_key, email)).fetchone()
            self._db.execute("INSERT OR REPLACE INTO members VALUES (?,?,?,?)",
                             (list_key, email, json.dumps(fields), (known or (0,))[0] + 1))
            if key:
                self._db.execute("INSERT INTO seen VALUES (?, '')", (key,))
            return "updated" if known else "added"

    def all(self, list_key: str) -> list[dict[str, Any]]:
        with self._lock:
            rows = self._db.execute("SELECT email, fields, added FROM members WHERE list=?",
                                    (list_key,)).fetchall()
        return [{"email": e, "fields": json.loads(f), "writes": n} for e, f, n in rows]

    @property
    def fault(self) -> str:
        """The fault that is switched on; it stays on when the service starts again."""
        with self._lock:
            row = self._db.execute("SELECT fault FROM faults WHERE id=1").fetchone()
        return str(row[0]) if row else "none"

    @fault.setter
    def fault(self, fault: str) -> None:
        with self._lock, self._db:
            self._db.execute("INSERT OR REPLACE INTO faults VALUES (1, ?)", (fault,))


def make_app(folder: Path, key: str) -> Starlette:
    """Return the service over a folder that holds its members."""
    members = _Members(folder / "members.db")

    async def refusal(request: Request) -> Response | None:
        fault = members.fault
        if fault == "down":
            return PlainTextResponse("Service unavailable", 503)
        if fault == "slow":
            await asyncio.sleep(8)
        if fault == "nonsense":
            return PlainTextResponse("<html>Hello</html>")
        if fault == "key" or request.headers.get("authorization") != f"Bearer {key}":
            return JSONResponse({"error": "unknown key"}, 401)
        list_key = request.path_params.get("list_key")
        if list_key is not None and list_key not in LISTS:
            return JSONResponse({"error": "no such list"}, 404)
        return None

    async def lists(request: Request) -> Response:
        return await refusal(request) or JSONResponse(
            [{"key": k, "name": v["name"]} for k, v in LISTS.items()])

    async def fields(request: Request) -> Response:
        return await refusal(request) or JSONResponse(
            LISTS[request.path_params["list_key"]]["fields"])

    async def put_member(request: Request) -> Response:
        if refused := await refusal(request):
            return refused
        body = await request.json()
        result = members.put(request.headers.get("idempotency-key", ""),
                             request.path_params["list_key"], request.path_params["email"],
                             {str(k): str(v) for k, v in body.get("fields", {}).items()})
        return JSONResponse({"result": result}, 201 if result == "added" else 200)

    async def get_members(request: Request) -> Response:
        return await refusal(request) or JSONResponse(
            members.all(request.path_params["list_key"]))

    async def set_fault(request: Request) -> Response:
        fault = (await request.json()).get("fault")
        if fault not in FAULTS:
            return JSONResponse({"error": "no such fault"}, 422)
        members.fault = fault
        return JSONResponse({"fault": fault})

    async def get_fault(request: Request) -> Response:
        return JSONResponse({"fault": members.fault})

    return Starlette(routes=[
        Route("/lists", lists), Route("/lists/{list_key}/fields", fields),
        Route("/lists/{list_key}/members", get_members),
        Route("/lists/{list_key}/members/{email:path}", put_member, methods=["PUT"]),
        Route("/practice/fault", set_fault, methods=["POST"]),
        Route("/practice/fault", get_fault, methods=["GET"])])


if __name__ == "__main__":
    run_practice("The practice mailing service.", make_app)

"""The practice mailing service: lists, their fields and members over HTTP with a key.

Requests carry `Authorization: Bearer KEY`:

    GET  /lists                               the lists
    GET  /lists/LIST/fields                   a list's fields
    PUT  /lists/LIST/members/EMAIL            add or change a member; `Idempotency-Key`
    GET  /lists/LIST/members                  the members
    DELETE /lists/LIST/members/EMAIL          take a member off
"""

import json
import sqlite3
import threading
from pathlib import Path
from typing import Any

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from needle.practice.faults import broken_after, broken_before, read_fault
from needle.practice.running import run_practice

__all__ = ["LISTS", "make_app"]

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
            "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL")

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

    def drop(self, list_key: str, email: str) -> bool:
        """Take a member off; return whether there was one."""
        with self._lock, self._db:
            return self._db.execute("DELETE FROM members WHERE list=? AND email=?",
                                    (list_key, email)).rowcount > 0


def make_app(folder: Path, key: str) -> Starlette:
    """Return the service over a folder that holds its members."""
    members = _Members(folder / "members.db")

    async def refusal(request: Request) -> Response | None:
        if broken := await broken_before(folder, request):
            return broken
        if request.headers.get("authorization") != f"Bearer {key}":
            return JSONResponse({"error": "unknown key"}, 401)
        list_key = request.path_params.get("list_key")
        if list_key is not None and list_key not in LISTS:
            return JSONResponse({"error": "no such list"}, 404)
        return None

    async def lists(request: Request) -> Response:
        return await refusal(request) or JSONResponse(
            [{"key": k, "name": v["name"]} for k, v in LISTS.items()])

    def known_fields(list_key: str) -> list[dict[str, Any]]:
        every: list[dict[str, Any]] = LISTS[list_key]["fields"]
        # The fault of a list whose last field was taken away in the night.
        return every[:-1] if read_fault(folder) == "field" else every

    async def fields(request: Request) -> Response:
        return await refusal(request) or JSONResponse(
            known_fields(request.path_params["list_key"]))

    async def put_member(request: Request) -> Response:
        if refused := await refusal(request):
            return refused
        list_key = request.path_params["list_key"]
        body = await request.json()
        sent = {str(k): str(v) for k, v in body.get("fields", {}).items()}
        known = {field["key"] for field in known_fields(list_key)}
        if unknown := next((name for name in sent if name not in known), ""):
            return JSONResponse({"error": f"unknown field {unknown}"}, 422)
        result = members.put(request.headers.get("idempotency-key", ""), list_key,
                             request.path_params["email"], sent)
        return broken_after(folder, JSONResponse(
            {"result": result}, 201 if result == "added" else 200))

    async def drop_member(request: Request) -> Response:
        if refused := await refusal(request):
            return refused
        there = members.drop(request.path_params["list_key"], request.path_params["email"])
        return Response(status_code=204 if there else 404)

    async def get_members(request: Request) -> Response:
        return await refusal(request) or JSONResponse(
            members.all(request.path_params["list_key"]))

    return Starlette(routes=[
        Route("/lists", lists), Route("/lists/{list_key}/fields", fields),
        Route("/lists/{list_key}/members", get_members),
        Route("/lists/{list_key}/members/{email:path}", put_member, methods=["PUT"]),
        Route("/lists/{list_key}/members/{email:path}", drop_member, methods=["DELETE"])])


if __name__ == "__main__":
    run_practice("The practice mailing service.", make_app)

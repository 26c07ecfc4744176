"""What the links in letters lead to: confirming an address, and fetching a promised file."""

from collections.abc import Callable
from pathlib import Path

import anyio.to_thread
from markupsafe import Markup
from sqlalchemy import Engine
from starlette.requests import Request
from starlette.responses import FileResponse, Response
from starlette.routing import Route

from needle.core.messages.message import say
from needle.core.values.language import ENGLISH, Language
from needle.host.answers import word
from needle.host.clock import now_ms
from needle.host.delivery import Deliverer
from needle.publish.release import Live
from needle.store.paths import checked_file
from needle.store.results.deliveries import release_held
from needle.store.seals import Seals

__all__ = ["LetterLinks"]

_BUTTON = Markup('<form method="post"><button style="font:inherit;padding:10px 18px">'
                 "{}</button></form>")


class LetterLinks:
    """The part of the host that visitors reach from their letters."""

    def __init__(self, project: Path, engine: Engine, live: Callable[[], Live | None],
                 seals: Seals, deliverer: Deliverer) -> None:
        self._project = project
        self._engine = engine
        self._live = live
        self._seals = seals
        self._deliverer = deliverer

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/confirm/{lead}/{seal}", self.confirm, methods=["GET", "POST"]),
                Route("/_needle/file/{file}/{seal}", self.file)]

    def _language(self) -> Language:
        live = self._live()
        return live.language if live else ENGLISH

    async def confirm(self, request: Request) -> Response:
        """Ask for a press of a button, and let the lead go on its way after it.

        Mail programs follow links by themselves to see what is there; only a person presses.
        """
        key, seal = request.path_params["lead"], request.path_params["seal"]
        language = self._language()
        if not self._seals.holds(seal, now_ms(), "confirm", key):
            return word(410, say("confirm-dead"), language)
        if request.method != "POST":
            return word(200, say("confirm-press"), language, _BUTTON.format(
                say("confirm-button").in_language(language)))
        if not await anyio.to_thread.run_sync(release_held, self._engine, key, now_ms()):
            return word(410, say("confirm-erased"), language)
        self._deliverer.wake()
        return word(200, say("confirm-done"), language)

    async def file(self, request: Request) -> Response:
        """Hand out a promised file while its link is good."""
        live = self._live()
        file, seal = request.path_params["file"], request.path_params["seal"]
        held = live.files.get(file) if live else None
        if not self._seals.holds(seal, now_ms(), "file", file) or held is None:
            return word(410, say("file-dead"), self._language())
        try:
            path = await anyio.to_thread.run_sync(checked_file, self._project, held.place)
        except OSError:
            return word(404, say("file-gone"), self._language())
        return FileResponse(path, filename=held.name, headers={"Cache-Control": "private"})

"""How the host fares, for the window, for balancers and for alarms."""

import time
from collections.abc import Callable

import anyio.to_thread
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from needle.host.clock import now_ms, set_back_s
from needle.host.supervising import Supervisor
from needle.store.results.deliveries import behind

__all__ = ["health_route"]

# Waiting for longer than this, or more than so many after a failed try, is worth an alarm.
_OLD_S = 900
_MANY = 200
_KEPT_S = 1.0
# Less is how clocks are kept right.
_SET_BACK_S = 60


class _Health:
    """Looks at most once a second, however often it is asked."""

    def __init__(self, engine: Engine, supervisor: Supervisor, fault: Callable[[], str]) -> None:
        self._engine = engine
        self._supervisor = supervisor
        self._fault = fault
        self._looked = 0.0
        self._told: dict[str, object] = {}

    async def answer(self, _: Request) -> Response:
        """Answer 200 if all is well, else 503; the body says what is not."""
        if time.monotonic() - self._looked > _KEPT_S:
            self._told = await anyio.to_thread.run_sync(self._look)
            self._looked = time.monotonic()
        return JSONResponse(self._told, 200 if self._told["ok"] else 503,
                            headers={"Cache-Control": "no-store"})

    def _look(self) -> dict[str, object]:
        faults = [f"{name} failed ({state.last}) and was begun again"
                  for name, state in self._supervisor.work.items() if not state.well]
        if self._fault():
            faults.append(self._fault())
        if (behind_s := set_back_s()) > _SET_BACK_S:
            faults.append(f"the clock of this machine was set back by {behind_s:,.0f} s; visits "
                          "and leads are given the times of the clock before, until the host is "
                          "started again")
        told: dict[str, object] = {"waiting": 0, "failed": 0, "oldest_s": 0}
        try:
            late = behind(self._engine)
        except SQLAlchemyError as error:
            faults.append(f"the results cannot be read ({type(error).__name__})")
        else:
            oldest = max(0, now_ms() - late.oldest_ms) // 1000 if late.oldest_ms else 0
            told = {"waiting": late.waiting, "failed": late.failed, "oldest_s": oldest}
            if late.failed and (oldest > _OLD_S or late.failed > _MANY):
                faults.append(f"{late.failed} deliveries wait, the oldest for {oldest} s")
        return {"ok": not faults, "faults": faults, **told}


def health_route(engine: Engine, supervisor: Supervisor, fault: Callable[[], str]) -> Route:
    """Return the route of the host's health.

    Args:
        fault: What is wrong with what is live, or nothing.
    """
    return Route("/_needle/health", _Health(engine, supervisor, fault).answer)

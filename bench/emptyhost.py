"""A host that answers nothing to everything: the floor of any answer. Run by `bench.load`."""

import sys

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import Response
from starlette.routing import Route

from needle.running.serving import bound_socket, serve


async def _nothing(request: Request) -> Response:
    await request.body()
    return Response(status_code=204)


def main() -> int:
    """Serve until the process that started this is gone."""
    serve(Starlette(routes=[Route("/{path:path}", _nothing, methods=["GET", "POST"])]),
          bound_socket(0), watched=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())

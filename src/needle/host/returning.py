"""Giving a form back to a visitor whose browser runs no script: on its page, as it was filled in.
"""

import anyio.to_thread
from starlette.requests import Request
from starlette.responses import HTMLResponse

from needle.core.leads.checking import Checked
from needle.core.render.returned import returned_page
from needle.core.values.form import Form
from needle.host.live import LiveReader
from needle.host.postbody import Posted
from needle.publish.headers import FRAMES
from needle.publish.release import Live

__all__ = ["FormReturn"]


class FormReturn:
    """Answers a form that could not be taken with the page on which it stands."""

    def __init__(self, live: LiveReader) -> None:
        """Prepare to answer.

        Args:
            live: Where the page's markup is read.
        """
        self._live = live

    async def answer(self, request: Request, live: Live, form: Form, posted: Posted,
                     checked: Checked) -> HTMLResponse | None:
        """Return the page with what was typed and what is wrong; `None` if it cannot be.

        A form that stands in a frame of another site is none of our pages.
        """
        page = live.page(posted.sent.get("_page", ""))
        if page is None or not page.variants or (
                request.headers.get("sec-fetch-dest", "document") != "document"):
            return None
        told = posted.sent.get("_variant", "")
        variant = next((one for one in page.variants if one.key == told), page.variants[0])
        many = posted.many | {name: [file.name] for name, file in posted.files.items()}

        def made() -> str:
            markup = self._live.file(variant.file).read_text("utf-8")
            return returned_page(markup, form, posted.sent, many, checked.problems,
                                 f"/{page.slug}", live.language)
        try:
            html = await anyio.to_thread.run_sync(made)
        except OSError:
            return None
        policy = variant.policy.replace("base-uri 'none'", "base-uri 'self'")
        return HTMLResponse(html, 422, headers={
            "Cache-Control": "no-store",
            "Content-Security-Policy": f"{policy};{FRAMES}" if policy else FRAMES},
            ) if html else None

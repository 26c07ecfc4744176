"""The pages of an order, in the colours of the site: a frame of their own, as no page of the site
knows of them."""

from collections.abc import Mapping, Sequence

from markupsafe import Markup
from starlette.responses import HTMLResponse

from needle.core.values.language import ENGLISH
from needle.publish.release import Live

__all__ = ["buttons", "order_page", "sums_table"]

_PAGE = Markup(
    '<!DOCTYPE html><html lang="{language}"><head><meta charset="utf-8"><title>{title}</title>'
    '<meta name="viewport" content="width=device-width,initial-scale=1">'
    '<meta name="robots" content="noindex"><meta name="description" content="{title}">'
    '<link rel="icon" href="data:,">'
    '{onward}<style>{css}</style></head><body>'
    '<header><a href="/">{name}</a></header><main><h1>{title}</h1>{inside}</main></body></html>')
_CSS = (
    "*{{box-sizing:border-box}}body{{margin:0;color:{ink};background:{paper};"
    "font:1.0625rem/1.6 'IBM Plex Sans',system-ui,sans-serif}}"
    "header{{background:{ink};padding:18px max(20px,calc(50% - 20rem + 20px))}}"
    "header a{{color:{paper};font-weight:600;text-decoration:none}}"
    "main{{max-width:40rem;margin:0 auto;padding:40px 20px 72px;overflow-wrap:break-word}}"
    "h1{{font-size:1.75rem;line-height:1.2;margin:0 0 20px}}a{{color:inherit}}"
    "table{{width:100%;border-collapse:collapse;margin:24px 0}}"
    "td{{padding:9px 0;border-bottom:1px solid color-mix(in srgb,currentColor 22%,transparent)}}"
    "td+td{{text-align:right;padding-left:20px;white-space:nowrap}}"
    "tr:last-child td{{font-weight:600}}"
    ".do{{display:inline-block;font:inherit;font-weight:600;min-height:48px;padding:10px 22px;"
    "margin:0 10px 10px 0;cursor:pointer;color:inherit;background:none;border:1px solid;"
    "border-radius:6px;text-decoration:none}}"
    ".line{{display:block;width:100%;max-width:24rem;min-height:48px;padding:8px 12px;font:inherit;"
    "color:inherit;background:none;border:1px solid;border-radius:6px}}"
    ".all tr:last-child td{{font-weight:400}}"
    ".main{{color:{on_main};background:{main};border-color:{main}}}"
    ".offer{{margin:28px 0;padding:16px 20px;border:1px solid}}.offer p{{margin:0 0 12px}}")
# For a host that has nothing live.
_PLAIN = {"ink": "#14213d", "paper": "#ffffff", "main": "#14213d", "on_main": "#ffffff"}


def order_page(status: int, live: Live | None, title: str, inside: Markup, onward: str = "",
               ) -> HTMLResponse:
    """Return a page about an order; no browser keeps it.

    Args:
        onward: Where it leads on to by itself; empty for nowhere.
    """
    colours: Mapping[str, str] = _PLAIN | dict(live.colours if live is not None else {})
    leads = Markup('<meta http-equiv="refresh" content="0;url={}">').format(onward) \
        if onward else Markup("")
    return HTMLResponse(_PAGE.format(
        language=live.language if live is not None else ENGLISH, title=title, onward=leads,
        css=Markup(_CSS.format(**colours)), name=live.name if live is not None else "",
        inside=inside), status, {"Cache-Control": "no-store"})


def sums_table(rows: Sequence[tuple[str, str]]) -> Markup:
    """Return what something comes to, line by line; the last one is the sum."""
    return Markup("<table><tbody>{}</tbody></table>").format(Markup("").join(
        Markup("<tr><td>{}</td><td>{}</td></tr>").format(*row) for row in rows))


def buttons(*made: tuple[str, str], at: str = "") -> Markup:
    """Return a form with a button for each: what it does, and what it says.

    Args:
        at: Where it is sent; empty for here.
    """
    where = Markup(' action="{}"').format(at) if at else ""
    return Markup('<form method="post"{}>{}</form>').format(where, Markup("").join(
        Markup('<button class="do" name="do" value="{}">{}</button>').format(*one)
        for one in made)) if made else Markup("")

"""Small answers of the host: words on a page of their own, or as JSON for a page's script."""

from collections.abc import Mapping

from markupsafe import Markup, escape
from starlette.responses import HTMLResponse, JSONResponse, Response

from needle.core.messages.message import Message, say
from needle.core.render.policy import script_hash
from needle.core.values.language import ENGLISH, Language

__all__ = ["said", "word", "work_page"]

_WORD_PAGE = Markup(
    '<!DOCTYPE html><html lang="{2}"><meta charset="utf-8"><title>{0}</title>'
    '<meta name="viewport" content="width=device-width"><body style="font:18px/1.6 system-ui;'
    'max-width:34em;margin:20vh auto;padding:0 20px"><p>{0}</p>{1}</body></html>')


def word(status: int, words: str | Message, language: Language = ENGLISH, more: str = "",
         ) -> HTMLResponse:
    """Return a small page that says one thing.

    Args:
        words: The site's own, or a message.
        language: That of the site.
        more: Markup below it.
    """
    told = words if isinstance(words, str) else words.in_language(language)
    return HTMLResponse(_WORD_PAGE.format(escape(told), Markup(more), language), status)


def said(quiet: bool, status: int, words: str | Message, language: Language = ENGLISH,
         **more: object) -> Response:
    """Return words as JSON if a script asked, else as a page."""
    if not quiet:
        return word(status, words, language)
    told = words if isinstance(words, str) else words.in_language(language)
    return JSONResponse({"words": told} | more, status)


def work_page(action: str, sent: Mapping[str, str], work: str, bits: int, script: str,
              language: Language) -> Response:
    """Return the page that proves the work and sends the form again, for browsers whose page
    had no script yet; without scripts it says what is needed."""
    field = Markup('<input type="hidden" name="{}" value="{}">')
    kept = Markup().join(field.format(name, value) for name, value in sent.items()
                         if name not in ("_work", "_proof"))
    form = Markup('<form id="f" method="post" action="{}">{}<input type="hidden" name="_work" '
                  'value="{}"><input type="hidden" name="_proof"></form>').format(
                      action, kept, work)
    source = (f"{script}\nconst f=document.getElementById('f');setTimeout(()=>{{"
              f"f._proof.value=needleWork(f._work.value,{bits});f.submit()}},30)")
    needed = say("host-needs-script").in_language(language)
    run = Markup("<script>{}</script><noscript><p>{}</p></noscript>").format(
        Markup(source), needed)
    answer = word(428, say("form-proof"), language, form + run)
    # Without `form-action`: once the form is taken, its visitor may be sent to another site.
    answer.headers["Content-Security-Policy"] = (
        f"default-src 'none';script-src {script_hash(source)};style-src 'unsafe-inline';"
        "base-uri 'none';frame-ancestors 'none'")
    return answer

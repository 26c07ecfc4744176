"""Pages that ask for nothing, though the brief names the one thing to ask for."""

from collections.abc import Iterator

from needle.core.kinds.button import Button
from needle.core.kinds.formbox import FormBox
from needle.core.render.texts import plain_lines
from needle.core.site.site import Site
from needle.core.snags.snag import Snag
from needle.core.values.form import ThankPage

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield pages without a form on which no button says the call to action of the brief.

    Pages that follow after sending are left out.
    """
    call = site.brief.call_to_action.strip().casefold()
    if not call:
        return
    thanks = {form.after.page for form in site.forms if isinstance(form.after, ThankPage)}
    for page in site.pages:
        if page.id in thanks:
            continue
        for variant in page.variants:
            nodes = list(variant.nodes())
            said = any(isinstance(node, Button) and call in " ".join(plain_lines(node)).casefold()
                       for node in nodes)
            asks = any(isinstance(node, FormBox) for node in nodes)
            if not said and not asks and any(isinstance(node, Button) for node in nodes):
                yield Snag(2, f"No button says “{site.brief.call_to_action.strip()}”, the call of "
                           "the brief", page.name, "page", page.id)
                break

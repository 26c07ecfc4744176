"""Whether pages would come out just as they were sent: each is rendered, and the digests compared.

What a page draws on is declared, and "changed since" says it in words. This looks at what comes
out, so that nothing that was forgotten there is called the same: another Needle, a setting, a font.
"""

import hashlib
from collections.abc import Callable, Iterable
from pathlib import Path

from needle.core.site.site import Site
from needle.core.values.ids import Id
from needle.publish.folder import rendered
from needle.publish.refusing import PublishError
from needle.publish.release import Release
from needle.publish.rendering import Renderer

__all__ = ["drifted"]


def drifted(site: Site, project: Path, release: Release, pages: Iterable[Id],
            go_on: Callable[[], bool] = lambda: True) -> set[Id]:
    """Return those of some pages of which another file would come out now.

    Args:
        go_on: Asked before each page; the rest is left out once it says no.
    """
    renderer, found = Renderer(site, project), set[Id]()
    for page in pages:
        if not go_on():
            break
        try:
            done = rendered(renderer, [page])
        except PublishError:  # Sending it says so.
            continue
        for path, html in done.pages.items():
            held = release.files.get(path)
            if held is None or held.digest != hashlib.sha256(html.encode()).hexdigest():
                found.add(page)
    return found

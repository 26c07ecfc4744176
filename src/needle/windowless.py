"""The records of laid-out pages without a window, for the command line."""

import os
from collections.abc import Callable
from pathlib import Path

from needle.core.site.site import Site
from needle.core.snags.laid import LaidPage

__all__ = ["measure_site"]


def measure_site(site: Site, folder: Path, told: Callable[[int], None],
                 ) -> tuple[list[LaidPage], int]:
    """Lay out every page of a site at every width, and return the records.

    Those that the window or an earlier look has measured come from the project's cache.

    Args:
        told: Gets how many are still to be measured, after each.

    Returns:
        The records, and how many pages could not be laid out.
    """
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    # Only now, since the platform is chosen when Qt is first loaded.
    from PyQt6.QtCore import QEventLoop

    from needle.app import make_app
    from needle.ui.builder.live.engine import LiveEngine
    from needle.ui.publish.layout import Layouts, wanted_of

    app = make_app()
    engine = LiveEngine(str, folder)
    layouts = Layouts(engine, folder, app)
    try:
        records: list[LaidPage] = []
        missing = []
        for page in site.pages:
            for wish in (w for variant in page.variants for w in wanted_of(site, page, variant)):
                known = layouts.known(wish)
                missing.append(wish) if known is None else records.append(known)
        loop = QEventLoop()
        layouts.measured.connect(records.append)
        layouts.measured.connect(lambda _: told(layouts.left - 1))
        layouts.idle.connect(loop.quit)
        if missing:
            layouts.ask(missing)
            loop.exec()
        return records, layouts.failed
    finally:
        layouts.end()
        engine.end()

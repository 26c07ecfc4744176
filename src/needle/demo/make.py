"""Writing a fresh copy of the demo project."""

from datetime import UTC, datetime, time, timedelta
from importlib.resources import as_file, files
from pathlib import Path

import msgspec

from needle.core.site.site import Medium
from needle.core.tables.expanding import expanded
from needle.core.values.ids import IdSource
from needle.demo.orders import fill_orders
from needle.demo.results import TEST_DAYS, fill_results
from needle.demo.site import as_it_was_sent, demo_site
from needle.publish.live import send_pages
from needle.store.media import import_film, import_picture
from needle.store.project import Project
from needle.store.results.tables import open_results

__all__ = ["make_demo"]

_ALT = {
    "sky": "The Milky Way above a dark hill with a small dome on its back",
    "meteors": "Shooting stars from one point of the sky above the hill",
    "dome": "The observatory dome at dusk, its slit open and lit",
    "moon": "The moon a little past half, craters along the edge of the light",
    "saturn": "Saturn with its rings",
    "barn": "The barn with lit windows under the stars",
    "calendar": "A page of the sky calendar: a round star chart above the phases of the moon",
    "mirror": "A round mirror on a workbench, half polished",
    "tube": "A home-made telescope on its mount in the last light",
    "torch": "A short torch with a ribbed grip and a red light",
    "headlamp": "A lamp on a knitted band",
    "wheel": "A round star chart with a pointer",
    "book": "A dark green book with a new moon on it",
    "mug": "A mug with the dome and Orion on it",
    "blanket": "A folded red blanket in squares",
    "kit": "A wooden box with a mirror, a tube and screws in it",
    "voucher": "A card with stars that looks out of an envelope",
    "poster": "A tall sheet with the Milky Way above a hill",
    "postcards": "Three cards with skies, one upon another",
}


def make_demo(folder: Path) -> Project:
    """Write the demo project, with results of the last weeks, into `folder` and open it.

    Raises:
        ProjectError: The folder holds a project already, or cannot be written.
    """
    now = datetime.now(UTC)
    # From the first midnight on, as the made-up visits are.
    began = datetime.combine(now.date() - timedelta(days=TEST_DAYS), time.min, UTC)
    site = demo_site(_media(folder), began)
    project = Project.create(folder, site)
    fill_results(folder, site, now.date())
    engine = open_results(folder / "results.db")
    fill_orders(engine, site, now.date())
    engine.dispose()
    send_pages(site, folder, [page.id for page in site.pages if page.tested], at=began)
    live = [page.id for page in expanded(site).pages if page.name != "Sky calendar"]
    send_pages(as_it_was_sent(site), folder, live)
    return project


def _media(folder: Path) -> dict[str, Medium]:
    ids = IdSource(88)
    media = {}
    for name, alt in _ALT.items():
        with as_file(files("needle.demo") / "pictures" / f"{name}.webp") as path:
            medium = import_picture(folder, path)
        media[name] = msgspec.structs.replace(medium, id=ids(), alt=alt)
    with as_file(files("needle.demo") / "pictures" / "night.webm") as path:
        film, _ = import_film(folder, path)
    media["night"] = msgspec.structs.replace(film, id=ids(), alt="The stars turn above the hill")
    return media

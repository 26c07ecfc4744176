"""The demo's home, its letter and a template in every theme: as folders to audit, and as sheets.

    ./needle bench themes OUT           a folder a theme below OUT, and three sheets in docs/themes
"""

import base64
import io
import sys
import tempfile
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont
from selenium import webdriver
from tests.host.test_browser import chromium

from needle.core.brand.themes import THEMES
from needle.core.edit.brand import set_theme
from needle.core.edit.pages import add_whole_page, free_name
from needle.core.readymade.templates import TEMPLATES, page_of
from needle.core.values.ids import IdSource
from needle.demo.make import make_demo
from needle.publish.folder import publish_folder
from needle.store.media import keep_made

__all__ = ["run"]

_WIDE, _HIGH, _SHOWN, _ACROSS = 1280, 1900, 360, 4
_TEMPLATE = "one_offer_long"
_NAME_PX = 22
_SHEETS = Path(__file__).parent.parent / "docs" / "themes"


def run(out: Path) -> int:
    """Write the folders and the sheets."""
    with tempfile.TemporaryDirectory() as held:
        project = make_demo(Path(held) / "demo")
        template = next(one for one in TEMPLATES if one.key == _TEMPLATE)
        arrived = page_of(template, project.saved, IdSource(77), framed=False)
        keep_made(project.folder, arrived.files)
        site, page = add_whole_page(arrived.site, arrived.part,
                                    free_name(arrived.site, template.name))
        whole = site.page(page)
        assert whole is not None
        shown = {"home": "", "letter": "telescope-course", "template": whole.slug}
        for theme in THEMES:
            publish_folder(set_theme(site, theme), project.folder, out / theme.key)
        project.close()
        driver = chromium(f"{held}/profile", _WIDE)
        try:
            _SHEETS.mkdir(parents=True, exist_ok=True)
            for name, slug in shown.items():
                _sheet(driver, out, slug).quantize(200).save(_SHEETS / f"{name}.png",
                                                             optimize=True)
        finally:
            driver.quit()
    return 0


def _sheet(driver: webdriver.Chrome, out: Path, slug: str) -> Image.Image:
    """Return one page in every theme, side by side."""
    high = _HIGH * _SHOWN // _WIDE
    rows = -(-len(THEMES) // _ACROSS)
    sheet = Image.new("RGB", (_ACROSS * (_SHOWN + 8) + 8, rows * (high + _NAME_PX + 8)), "#dfe5e2")
    drawn = ImageDraw.Draw(sheet)
    for number, theme in enumerate(THEMES):
        left = 8 + number % _ACROSS * (_SHOWN + 8)
        top = number // _ACROSS * (high + _NAME_PX + 8)
        drawn.text((left, top + 5), theme.name, "#14211d", ImageFont.load_default(13))
        picture = _picture(driver, out / theme.key / slug / "index.html")
        sheet.paste(picture.resize((_SHOWN, high)), (left, top + _NAME_PX))
    return sheet


def _picture(driver: webdriver.Chrome, page: Path) -> Image.Image:
    driver.get(page.as_uri())
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {
        "width": _WIDE, "height": _HIGH, "deviceScaleFactor": 1, "mobile": False})
    driver.execute_async_script(
        "const done = arguments[0]; document.querySelector('[data-consent-banner]')?.remove();"
        "Promise.all([...document.images].map((i) => { i.loading = 'eager';"
        " return i.decode().catch(() => 0); })).then(() => setTimeout(done, 60))")
    taken = driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png", "clip": {
        "x": 0, "y": 0, "width": _WIDE, "height": _HIGH, "scale": 1}})
    return Image.open(io.BytesIO(base64.b64decode(taken["data"]))).convert("RGB")


if __name__ == "__main__":
    sys.exit(run(Path(sys.argv[1])))

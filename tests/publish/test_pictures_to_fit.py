"""In a browser, each picture of the demo is as wide as its page tells before it is laid out."""

import tempfile
import unittest
from pathlib import Path

from needle.demo.make import make_demo
from needle.publish.folder import publish_folder
from tests.host.test_browser import chromium

# What `sizes` comes to beside what is shown; a picture cut at its sides counts as a whole.
_COMPARED = """return [...document.querySelectorAll("img[sizes]:not(.behind img)")].map((one) => {
  const chosen = one.sizes.split(/,\\s(?![^(]*\\))/).map((entry) => entry.match(
    /^(?:\\(min-width:(\\d+)px\\) )?(.*)$/)).find((entry) => innerWidth >= (entry[1] ?? 0))[2];
  const probe = document.createElement("div");
  probe.style.cssText = `position:absolute;width:${chosen}`;
  document.documentElement.append(probe);
  const told = probe.getBoundingClientRect().width;
  probe.remove();
  const ratio = one.getAttribute("width") / one.getAttribute("height");
  const cut = getComputedStyle(one).objectFit === "cover" ? one.clientHeight * ratio : 0;
  return [one.alt || one.src, told, Math.max(one.clientWidth, cut)];
}).filter(([, , shown]) => shown)"""


class PicturesToFitTest(unittest.TestCase):
    def test_what_is_told_of_widths_is_so(self) -> None:
        held = Path(self.enterContext(tempfile.TemporaryDirectory(ignore_cleanup_errors=True)))
        project = make_demo(held / "demo")
        publish_folder(project.saved, project.folder, held / "out")
        project.close()
        browser = chromium(f"{held}/profile", 1200)
        self.addCleanup(browser.quit)
        seen = 0
        for page in sorted((held / "out").rglob("index.html")):
            for width in (390, 768, 1100, 1600):
                browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {
                    "width": width, "height": 900, "deviceScaleFactor": 1, "mobile": True})
                browser.get(page.as_uri())
                for name, told, shown in browser.execute_script(_COMPARED):
                    with self.subTest(page=page.parent.name, width=width, picture=name):
                        self.assertAlmostEqual(told, shown, delta=12)
                        seen += 1
        self.assertGreater(seen, 40)


if __name__ == "__main__":
    unittest.main()

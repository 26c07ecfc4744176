"""`./needle bench started`: from nothing to a window whose two views show the page.

Each start is a process of its own. The floor is a bare window with two empty live views.
"""

import subprocess
import sys
import tempfile
from pathlib import Path

from bench.ratio import Ratio, median_ms
from needle.demo.make import make_demo

_TIMES = 5
_BARE = """
import sys
from needle.ui.builder.live.engine import prepare_engine
prepare_engine()
from PyQt6.QtWebEngineWidgets import QWebEngineView
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QWidget
app = QApplication(sys.argv)
window, inside, loaded = QMainWindow(), QWidget(), []
row = QHBoxLayout(inside)
views = [QWebEngineView(), QWebEngineView()]
def ready(fine):
    loaded.append(fine)
    if len(loaded) == 2:
        print("ready", flush=True)
for view in views:
    row.addWidget(view)
    view.loadFinished.connect(ready)
    view.setHtml("<p>x</p>")
window.setCentralWidget(inside)
window.resize(1280, 800)
window.show()
app.exec()
"""
_NEEDLE = """
import sys
from pathlib import Path
from needle.app import make_app
app = make_app()
from needle.store.project import Project
from needle.ui.session import Session
from needle.ui.window import Window
window = Window(Session(Project(Path(sys.argv[1]))), None)
window.resize(1280, 800)
shown = set()
def heard(message, number):
    shown.add(number)
    if len(shown) == 2:
        print("ready", flush=True)
for number, view in enumerate(window.build.canvas.views):
    view.said.connect(lambda message, n=number: heard(message, n))
window.show()
window.show_stage("Build")
app.exec()
"""


def _started(code: str, *more: str) -> None:
    """Start a process, wait until it says that it is ready, and end it."""
    child = subprocess.Popen([sys.executable, "-c", code, *more], stdout=subprocess.PIPE,
                             stderr=subprocess.DEVNULL, text=True)
    assert child.stdout is not None
    said = child.stdout.readline()
    child.kill()
    child.wait()
    child.stdout.close()
    assert said.strip() == "ready", "it did not start"


def main() -> None:
    """Print the ratio."""
    with tempfile.TemporaryDirectory() as made:
        demo = Path(made) / "demo"
        make_demo(demo).close()
        _started(_NEEDLE, str(demo))  # Once beforehand, for both: the disk is warm then.
        _started(_BARE)
        floor = median_ms(lambda: _started(_BARE), _TIMES)
        ours = median_ms(lambda: _started(_NEEDLE, str(demo)), _TIMES)
    print(f"{'what':58} {'floor ms':>9} {'ours ms':>9} {'ratio':>6}  aim")
    print(Ratio("window ready with the demo (floor: two empty live views)", floor, ours, 1.6))


if __name__ == "__main__":
    main()

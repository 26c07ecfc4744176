"""Makes docs/screenshots afresh from the demo data."""

import contextlib
import os
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from needle.core.edit.domain import set_domain, set_served_at
from needle.core.render.context import Context
from needle.store.media import EditPictures

__all__ = ["make_shots"]

_SIZE = (1280, 800)


def make_shots(out: Path) -> int:
    """Take a picture of each main view, offscreen, and return the exit code."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    # Only now, since the platform is chosen when Qt is first loaded.

    from needle.app import make_app
    from needle.demo.make import make_demo
    from needle.running.stand import PRACTICE_KINDS, Stand
    from needle.ui.session import Session
    from needle.ui.window import Window

    app = make_app()
    out.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, _practice_names(Path(folder) / "names"):
        project = make_demo(Path(folder) / "quillmoor")
        stand = Stand(project.folder, practice=PRACTICE_KINDS)
        window = Window(Session(project), stand)
        window.resize(*_SIZE)
        window.show()
        window.activateWindow()
        _wait(3000)
        for name, prepare in _views(window).items():
            shown = prepare()
            _wait(1800 if shown is None else 7000)
            (shown or window).grab().save(str(out / f"{name}.png"))
            if shown is not None:
                shown.reject()
            print(out / f"{name}.png", flush=True)
        window.close()
        _desk_shot(out, Path(folder))
    app.processEvents()
    return 0


# Other sites on the desk, each with the idea that it was drafted from.
_OTHERS = {"larkhollow": "Larkhollow Pottery: evening courses at the wheel, for beginners",
           "fenwater": "Fenwater Canoe Club, paddling for families on Sunday mornings",
           "ottermill": "Ottermill Evening Classes: languages and drawing for adults"}


def _desk_shot(out: Path, folder: Path) -> None:
    """Take the picture of the desk, with a list of sites of its own."""
    from needle.store.sites import remember_site
    from needle.ui.desk.desk import Desk

    held = os.environ.get("NEEDLE_CONFIG")
    os.environ["NEEDLE_CONFIG"] = str(folder / "config")
    try:
        for name, idea in _OTHERS.items():
            subprocess.run([sys.executable, "-m", "needle", "draft", str(folder / name), idea],
                           check=True)
            remember_site(folder / name, idea.partition(":")[0])
        remember_site(folder / "quillmoor", "Quillmoor Dark Sky")
        desk = Desk()
        desk.resize(*_SIZE)
        desk.show()
        _wait(12_000)
        desk.grab().save(str(out / "desk.png"))
        print(out / "desk.png", flush=True)
        desk.close()
    finally:
        if held is None:
            del os.environ["NEEDLE_CONFIG"]
        else:
            os.environ["NEEDLE_CONFIG"] = held


@contextlib.contextmanager
def _practice_names(folder: Path) -> Iterator[None]:
    """Let the window read names in a net of our own, where an old address is in the way."""
    folder.mkdir()
    (folder / "fault").write_text("old address", "utf-8")
    net = subprocess.Popen([sys.executable, "-m", "needle.practice.names", str(folder)],
                           stdout=subprocess.PIPE, text=True)
    try:
        assert net.stdout is not None
        os.environ["NEEDLE_NAMES"] = net.stdout.readline().split('"')[1]
        yield
    finally:
        net.terminate()
        net.wait()


def _wait(ms: int) -> None:
    """Let the window go on for a while."""
    from PyQt6.QtCore import QEventLoop, QTimer

    loop = QEventLoop()
    QTimer.singleShot(ms, loop.quit)
    loop.exec()


def _views(window: "Window") -> dict[str, Callable[[], Any]]:  # type: ignore[name-defined]  # noqa: F821
    """Return how to bring up each view, by the name of its picture.

    What brings up a dialog returns it.
    """
    from PyQt6.QtCore import QBuffer, QIODevice

    session = window.session
    variant = session.variant

    def build() -> None:
        window.show_stage("Build")
        session.select(next(n.id for n in variant.nodes() if hasattr(n, "looks")))

    def tables() -> None:
        window.show_stage("Build")
        session.show_page(next(page.id for page in session.site.pages if page.master.table))
        window.build.show_table("")
        session.look_at_row(session.site.tables[0].rows[2].id)
        _wait(5000)

    def sections() -> object:
        window.build.show_drawer()
        return window.build.drawer

    def part(name: str) -> Callable[[], None]:
        def show() -> None:
            window.show_stage("Measure")
            window.stages["Measure"].show_part(name)
        return show

    def journey() -> None:
        part("Journey")()
        # The demo has no four weeks before the last ones.
        window.stages["Measure"].journey.show_days(7)
        _wait(2500)

    def leads() -> None:
        part("Leads")()
        window.stages["Measure"].leads.table.selectRow(2)

    connect = window.stages["Connect"]

    def connect_part(name: str) -> None:
        window.show_stage("Connect")
        connect.show_part(name)

    def tracking() -> None:
        connect_part("Tracking")
        connect.tracking.visit()
        _wait(16_000)

    brief = window.stages["Brief"]

    def brief_part(name: str, wait_ms: int) -> None:
        window.show_stage("Brief")
        brief.show_part(name)
        _wait(wait_ms)

    def draft() -> object:
        from needle.ui.brief.draft import DraftDialog
        dialog = DraftDialog(session, window.build.stills, window)
        dialog.replacing.setChecked(True)
        dialog.idea.setPlainText("Star drawing evenings with pencil and red lamp for beginners, in "
                                 "the barn above Little Quill, every Friday, £18 each")
        dialog.show()
        dialog.draft()
        _wait(16_000)  # The parser is read in first.
        return dialog

    def pin(image: Any) -> None:
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        image.save(buffer, "PNG")
        pinned = Path(session.folder) / "Prototype.png"
        pinned.write_bytes(bytes(buffer.data().data()))
        brief.board.pin_file(pinned)

    def board() -> None:
        brief_part("From a picture", 200)
        page = session.site.pages[0]
        context = Context(session.site, page, page.variants[0], "edit", EditPictures(), "/walk/")
        window.build.stills.forget()
        window.build.stills.ask(context, 1280, 1280, pin, at_once=True)
        _wait(6000)
        brief.board.found.read()
        _wait(9000)

    def publish() -> None:
        window.show_stage("Publish")
        checker = window.stages["Publish"].checker
        for _ in range(120):  # Until every page has been laid out and measured.
            _wait(500)
            if not checker.busy:
                break

    def domain() -> None:
        session.edit("domain", lambda site: set_served_at(
            set_domain(site, "www.quillmoor.example"), "pages.needle-practice.example"))
        window.stages["Publish"].show_part("Domain")
        _wait(6000)

    def search() -> None:
        window.stages["Publish"].show_part("Search and sharing")
        _wait(2500)
        window.stages["Publish"].show_part("Search and sharing")

    def words_of_brief() -> None:
        session.select("")
        brief_part("Brief", 9000)

    return {"build": build, "sections": sections, "tables": tables,
            "brief": words_of_brief,
            "brand": lambda: brief_part("Brand", 9000),
            "media": lambda: brief_part("Pictures and files", 600),
            "templates": lambda: brief_part("Templates", 26_000),
            "draft": draft, "board": board,
            "connect": lambda: window.show_stage("Connect"),
            "tracking": tracking,
            "publish": publish, "domain": domain, "search": search,
            "journey": journey, "measure": part("Split tests"), "leads": leads,
            "orders": part("Orders")}

"""Makes docs/screenshots afresh from the demo data."""

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

__all__ = ["make_shots"]

_SIZE = (1280, 800)


def make_shots(out: Path) -> int:
    """Take a picture of each main view, offscreen, and return the exit code."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    # Only now, since the platform is chosen when Qt is first loaded.
    from PyQt6.QtTest import QTest

    from needle.app import make_app
    from needle.demo.make import make_demo
    from needle.running.stand import Stand
    from needle.ui.session import Session
    from needle.ui.window import Window

    app = make_app()
    out.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        project = make_demo(Path(folder) / "quillmoor")
        stand = Stand(project.folder)
        window = Window(Session(project), stand)
        window.resize(*_SIZE)
        window.show()
        window.activateWindow()
        QTest.qWait(3000)
        for name, prepare in _views(window).items():
            prepare()
            QTest.qWait(1800)
            window.grab().save(str(out / f"{name}.png"))
            print(out / f"{name}.png", flush=True)
        window.close()
    app.processEvents()
    return 0


def _views(window: "Window") -> dict[str, Callable[[], object]]:  # type: ignore[name-defined]  # noqa: F821
    """Return how to bring up each view, by the name of its picture."""
    session = window.session
    variant = session.variant

    def build() -> None:
        window.show_stage("Build")
        session.select(next(n.id for n in variant.nodes() if hasattr(n, "looks")))

    def popup() -> None:
        session.select(variant.popups[0].id)

    def part(name: str) -> Callable[[], None]:
        def show() -> None:
            window.show_stage("Measure")
            window.stages["Measure"].show_part(name)
        return show

    return {"build": build, "popup": popup,
            "brief": lambda: (session.select(""), window.show_stage("Brief")),
            "connect": lambda: window.show_stage("Connect"),
            "publish": lambda: window.show_stage("Publish"),
            "measure": part("Split tests"), "leads": part("Leads")}

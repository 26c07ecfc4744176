"""The check of words: nothing in the window takes words for markup but what `ui/words.py` makes."""

import ast
import sys
from collections.abc import Iterator
from pathlib import Path

__all__ = ["faults", "faults_in"]

SOURCE = Path(__file__).parent.parent / "src" / "needle"
HOME = SOURCE / "ui" / "words.py"
# Parts of Qt that choose by themselves whether words are markup, or always take them for it.
NEVER = {"QLabel": "use Words", "QMessageBox": "use told, asked or agreed",
         "QErrorMessage": "use told", "QTextBrowser": "use QPlainTextEdit",
         "QTextEdit": "use QPlainTextEdit", "QProgressDialog": "use Words and a button",
         "QStaticText": "draw plain text", "QToolTip": "use plain_tip", "QWhatsThis": "use Words",
         "QSplashScreen": "use Words", "QGraphicsTextItem": "use QGraphicsSimpleTextItem",
         "LabelItem": "use TextItem"}
TIPS = {"setToolTip", "setWhatsThis", "setStatusTip"}
MARKUP = {"setTextFormat": "use Words or MarkupLabel", "setHtml": "use plain words",
          "appendHtml": "use plain words", "insertHtml": "use plain words",
          "setMarkdown": "use plain words"}
# Words on the clipboard are what other programs read; the window shows nothing of them.
CLIPBOARD = {"mime"}


def _plain(argument: ast.expr) -> bool:
    """Return whether a tooltip's words are ours to the letter, or made plain."""
    if isinstance(argument, ast.Constant):
        return True
    return (isinstance(argument, ast.Call) and isinstance(argument.func, ast.Name)
            and argument.func.id == "plain_tip")


def faults_in(source: str) -> Iterator[tuple[int, str]]:
    """Yield line and fault of everything in a module that may take words for markup."""
    tree = ast.parse(source)
    tip_role = plain = False
    for node in ast.walk(tree):
        if isinstance(node, ast.Attribute | ast.Name):
            name = node.attr if isinstance(node, ast.Attribute) else node.id
            if name in NEVER:
                yield node.lineno, f"{name}: {NEVER[name]}"
            tip_role |= name == "ToolTipRole"
            plain |= name == "plain_tip"
        if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Attribute):
            continue
        name, on = node.func.attr, node.func.value
        if name in TIPS and node.args and not _plain(node.args[-1]):
            yield node.lineno, f"{name}: use set_tip, or plain_tip around the words"
        if name in MARKUP and not (isinstance(on, ast.Name) and on.id in CLIPBOARD):
            yield node.lineno, f"{name}: {MARKUP[name]}"
    if tip_role and not plain:
        yield 1, "ToolTipRole: give plain_tip's words"


def faults() -> list[str]:
    """Return every place in the window that may take foreign words for markup."""
    files = [SOURCE / "app.py", *sorted((SOURCE / "ui").rglob("*.py"))]
    return [f"{path.relative_to(SOURCE.parent)}:{line} {fault}" for path in files
            if path != HOME for line, fault in faults_in(path.read_text("utf-8"))]


if __name__ == "__main__":
    print("\n".join(faults()))
    sys.exit(bool(faults()))

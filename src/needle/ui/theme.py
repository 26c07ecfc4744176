"""Colours, type and the style sheet: one set of tokens, by day and by night."""

from dataclasses import dataclass, fields
from functools import cache
from importlib.resources import files
from string import Template

from PyQt6.QtCore import QByteArray, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPainter, QPalette, QPixmap
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QApplication

__all__ = ["DAY", "NIGHT", "Tokens", "apply_theme", "icon", "load_fonts", "mono", "slab",
           "tokens"]


@dataclass(frozen=True, slots=True)
class Tokens:
    """The colours of a theme. Widgets name these and have none of their own."""

    enamel: str
    enamel_raised: str
    on_enamel: str
    on_enamel_dim: str
    brass: str
    brass_dim: str
    pewter: str
    pewter_deep: str
    edge: str
    plate: str
    paper: str
    ink: str
    ink_second: str
    thread: str
    thread_wash: str
    bottle: str
    on_bottle: str
    sky: str
    amber: str
    # The thread and the bottle as words: dark (or light) enough to read on every surface.
    fault: str
    good: str


DAY = Tokens(
    enamel="#10261f", enamel_raised="#1b3a31", on_enamel="#f6f8f7", on_enamel_dim="#a9b8b1",
    brass="#d9b26a", brass_dim="#8c7a4f", pewter="#dfe5e2", pewter_deep="#cbd4d0",
    edge="#b9c4bf", plate="#f6f8f7", paper="#ffffff", ink="#14211d", ink_second="#566660",
    thread="#d83a22", thread_wash="#fbe9e6", bottle="#0e6b54", on_bottle="#ffffff",
    sky="#2a62a8", amber="#8f5f0c", fault="#c2301a", good="#0e6b54")
NIGHT = Tokens(
    enamel="#0a1713", enamel_raised="#2a5547", on_enamel="#eef3f0", on_enamel_dim="#9db0a8",
    brass="#d9b26a", brass_dim="#8c7a4f", pewter="#1a2421", pewter_deep="#26332f",
    edge="#3c4b46", plate="#202b28", paper="#161f1c", ink="#e6ece9", ink_second="#a3b2ac",
    thread="#ff7a62", thread_wash="#3a211d", bottle="#1f8f72", on_bottle="#ffffff",
    sky="#7db0ee", amber="#e0a63c", fault="#ff8f7a", good="#58c7a8")

_current = DAY

_SHEET = Template("""
* { font-family: 'IBM Plex Sans'; font-size: 13px; color: $ink; }
QMainWindow, QDialog { background: $plate; }
QDialog#popup { border: 1px solid $edge; }
QToolTip { background: $enamel; color: $on_enamel; border: 1px solid $enamel_raised; padding: 4px; }
QMenuBar { background: $enamel; color: $on_enamel_dim; padding: 1px 6px; }
QMenuBar::item { background: transparent; color: $on_enamel_dim; padding: 3px 8px; }
QMenuBar::item:selected { background: $enamel_raised; color: $on_enamel; }
QMenu { background: $paper; border: 1px solid $edge; padding: 4px; }
QMenu::item { padding: 5px 28px 5px 12px; border-radius: 3px; }
QMenu::item:selected { background: $pewter; }
QMenu::item:disabled { color: $ink_second; }
QMenu::separator { height: 1px; background: $pewter_deep; margin: 4px 8px; }
QLineEdit, QPlainTextEdit, QTextEdit, QComboBox, QSpinBox, QDateTimeEdit {
  background: $paper; border: 1px solid $edge; border-radius: 3px; padding: 3px 6px;
  selection-background-color: $bottle; selection-color: $on_bottle; }
QComboBox { padding: 3px 20px 3px 6px; combobox-popup: 0; }
QComboBox::drop-down { border: 0; width: 18px; }
QComboBox::down-arrow { image: url($icons/chevron.svg); width: 12px; height: 12px; }
QComboBox QAbstractItemView { background: $paper; border: 1px solid $edge;
  selection-background-color: $pewter; selection-color: $ink; }
QLineEdit:focus, QPlainTextEdit:focus, QTextEdit:focus, QComboBox:focus, QSpinBox:focus,
QDateTimeEdit:focus {
  border: 1px solid $bottle; }
QLineEdit:disabled, QComboBox:disabled { color: $ink_second; background: $plate; }
QPushButton { background: $paper; border: 1px solid $edge; border-radius: 3px;
  padding: 5px 12px; }
QPushButton:hover { background: $pewter; }
QPushButton:focus { border: 1px solid $bottle; }
QPushButton:disabled { color: $ink_second; background: $plate; }
QPushButton[role="main"] { background: $bottle; color: $on_bottle; border: 1px solid $bottle;
  font-weight: 600; }
QPushButton[role="main"]:hover { background: $enamel_raised; }
QPushButton[role="main"]:focus { border: 2px solid $brass; padding: 4px 11px; }
QPushButton[role="main"]:disabled { background: $pewter_deep; color: $ink_second;
  border-color: $pewter_deep; }
QToolButton { background: transparent; border: 1px solid transparent; border-radius: 3px;
  padding: 3px 6px; }
QToolButton:hover { background: $pewter; }
QToolButton:focus { border: 1px solid $bottle; }
QToolButton:checked { background: $enamel_raised; color: $on_enamel; }
QToolButton[role="segment"] { border: 1px solid $edge; border-radius: 0; padding: 2px 8px;
  background: $paper; margin: 0; }
QToolButton[role="segment"]:checked { background: $enamel_raised; color: $on_enamel;
  border-color: $enamel_raised; }
QToolButton[role="segment"]:focus { border: 1px solid $bottle; }
QToolButton[role="left"] { text-align: left; }
QToolButton::menu-indicator { image: none; }
QWidget#bar { background: $plate; border-bottom: 1px solid $edge; }
QWidget#work { background: $pewter; }
QWidget#side { background: $paper; border-right: 1px solid $edge; }
QWidget#card { background: $paper; border: 1px solid $edge; border-radius: 4px; }
QWidget#cardline { background: transparent; border-bottom: 1px solid $pewter; }
QWidget#deskhead { background: $enamel; }
QWidget#deskhead QLabel { color: $on_enamel_dim; }
QWidget#deskhead QLabel[role="big"] { color: $on_enamel; }
QWidget#tray { background: $plate; border-top: 2px solid $enamel; }
QWidget#traycolumn { border-right: 1px solid $edge; }
QWidget#traycolumn QLineEdit { padding: 1px 4px; }
QWidget#traycolumn QComboBox { padding: 1px 16px 1px 5px; }
QWidget#traycolumn QToolButton { padding: 1px 4px; }
QWidget#traycolumn QToolButton[role="segment"] { padding: 1px 5px; }
QWidget#traycolumn QLabel[role="dim"] { font-size: 12px; }
*[marked="true"] { border: 2px solid $thread; border-radius: 3px; }
QLabel[role="dim"] { color: $ink_second; }
QLabel[role="small"] { color: $ink_second; font-size: 12px; }
QLabel[role="good"] { color: $good; }
QLabel[role="fault"] { color: $fault; }
QLabel[role="unsure"] { color: $amber; }
QLabel[role="mono"] { font-family: 'IBM Plex Mono'; color: $ink_second; }
QLabel[role="title"] { font-family: 'Zilla Slab'; font-weight: 600; font-size: 15px; }
QLabel[role="big"] { font-family: 'Zilla Slab'; font-weight: 600; font-size: 19px; }
QLabel[role="tag"] { color: $good; border: 1px solid $good; border-radius: 3px;
  padding: 0 4px; font-size: 12px; }
QLabel[role="key"] { font-family: 'IBM Plex Mono'; font-size: 12px; color: $ink_second;
  border: 1px solid $edge; border-radius: 2px; padding: 0 3px;
  background: $paper; max-height: 17px; }
QTreeView, QTableView, QListView { background: $paper; border: 0; outline: 0;
  alternate-background-color: $plate; selection-background-color: $thread_wash;
  selection-color: $ink; gridline-color: $pewter; }
QHeaderView::section { background: $paper; color: $ink_second; border: 0;
  border-bottom: 1px solid $pewter_deep; padding: 6px 8px; text-align: left; }
QHeaderView { background: $paper; }
QTableView::item { padding: 0 8px; border-bottom: 1px solid $pewter; }
QTableView::item:selected { background: $thread_wash; color: $ink; }
QListView::item { padding: 6px 10px; }
QListView::item:selected { background: $thread_wash; color: $ink; border-left: 3px solid $thread; }
QScrollBar:vertical { background: transparent; width: 10px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 10px; margin: 0; }
QScrollBar::handle { background: $edge; border-radius: 3px; min-height: 24px; min-width: 24px;
  margin: 2px; }
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {
  background: transparent; height: 0; width: 0; }
QSplitter::handle { background: $pewter; }
QScrollArea { background: transparent; border: 0; }
QCheckBox { spacing: 7px; }
QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid $ink_second;
  border-radius: 2px; background: $paper; }
QCheckBox::indicator:checked, QTableView::indicator:checked { background: $bottle;
  border: 1px solid $bottle; border-radius: 2px; image: url($icons/check-white.svg); }
QTableView::indicator { width: 14px; height: 14px; border: 1px solid $ink_second;
  border-radius: 2px; background: $paper; }
QSlider::groove:horizontal { height: 8px; border-radius: 4px; background: $pewter_deep; }
QSlider::sub-page:horizontal { background: $sky; border-radius: 4px; }
QSlider::add-page:horizontal { background: $thread; border-radius: 4px; }
QSlider::handle:horizontal { width: 8px; margin: -6px 0; background: $paper;
  border: 2px solid $ink; border-radius: 3px; }
QSlider::handle:horizontal:focus { border-color: $brass; }
QCheckBox:focus { color: $bottle; }
QStatusBar { background: $plate; }
QProgressBar { border: 1px solid $edge; border-radius: 3px; background: $paper; height: 10px;
  text-align: center; }
QProgressBar::chunk { background: $bottle; }
""")


def tokens() -> Tokens:
    """Return the tokens of the theme in use."""
    return _current


def load_fonts() -> None:
    """Make the shipped faces known to Qt."""
    for file in (files("needle") / "fonts").iterdir():
        if file.name.endswith(".ttf"):
            QFontDatabase.addApplicationFontFromData(QByteArray(file.read_bytes()))


def apply_theme(app: QApplication, theme: Tokens = DAY) -> None:
    """Dress every window in `theme`."""
    global _current
    _current = theme
    icon.cache_clear()
    values = {field.name: getattr(theme, field.name) for field in fields(theme)}
    app.setPalette(_palette(theme))
    app.setStyleSheet(_SHEET.substitute(values, icons=str(files("needle.ui") / "icons")))


def _palette(theme: Tokens) -> QPalette:
    palette = QPalette()
    for role, colour in (
            (QPalette.ColorRole.Window, theme.plate), (QPalette.ColorRole.Base, theme.paper),
            (QPalette.ColorRole.Text, theme.ink), (QPalette.ColorRole.WindowText, theme.ink),
            (QPalette.ColorRole.Button, theme.plate), (QPalette.ColorRole.ButtonText, theme.ink),
            (QPalette.ColorRole.Highlight, theme.bottle),
            (QPalette.ColorRole.HighlightedText, theme.on_bottle),
            (QPalette.ColorRole.PlaceholderText, theme.ink_second)):
        palette.setColor(role, QColor(colour))
    return palette


def slab(px: int) -> QFont:
    """Return the title face."""
    font = QFont("Zilla Slab")
    font.setPixelSize(px)
    font.setWeight(QFont.Weight.DemiBold)
    return font


def mono(px: int) -> QFont:
    """Return the face for addresses, records and keys."""
    font = QFont("IBM Plex Mono")
    font.setPixelSize(px)
    return font


@cache
def icon(name: str, colour: str = "", size: int = 16) -> QIcon:
    """Return a shipped icon in a colour; the second ink by default."""
    source = (files("needle.ui") / "icons" / f"{name}.svg").read_text("utf-8")
    painted = source.replace("currentColor", colour or _current.ink_second)
    renderer = QSvgRenderer(QByteArray(painted.encode()))
    pixmap = QPixmap(size * 2, size * 2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    renderer.render(painter, QRectF(0, 0, size * 2, size * 2))
    painter.end()
    pixmap.setDevicePixelRatio(2)
    return QIcon(pixmap)

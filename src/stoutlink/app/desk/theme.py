"""Soapstone and layout dye: the colours of both themes, the palette and the few style rules.

Dark is steel plate with soapstone lines, light is butcher paper with pencil lines. Colour never stands alone: dash,
weight, shape and words say the same.
"""

from __future__ import annotations

from functools import lru_cache

from msgspec import Struct
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication, QToolTip, QWidget

from stoutlink.app.desk.resources import FONTS, ICONS


class Theme(Struct, frozen=True, eq=False):
    """Named colours. ``dye`` selected or live, ``brass`` measured, ``soap`` lines, ``faint`` helpers, ``torch`` out
    of band, ``oxide`` danger.
    """

    name: str
    plate: QColor
    sheet: QColor
    raised: QColor
    edge: QColor
    soap: QColor
    faint: QColor
    text: QColor
    quiet: QColor
    dye: QColor
    brass: QColor
    torch: QColor
    oxide: QColor
    zinc: QColor
    tyre: QColor
    upper: QColor
    lower: QColor


def _c(text: str) -> QColor:
    return QColor(text)


DARK = Theme(
    "dark", _c("#23272b"), _c("#1b1f22"), _c("#2e3439"), _c("#454d54"), _c("#e8e4d8"), _c("#7d868d"), _c("#f1eee4"), _c("#a9b0b4"),
    _c("#5aa5ff"), _c("#d9b45b"), _c("#ff9440"), _c("#f0675a"), _c("#86b89c"), _c("#3a4147"), _c("#e8e4d8"), _c("#b9c3c9"),
)  # fmt: skip
LIGHT = Theme(
    "light", _c("#e3dac7"), _c("#f1ead9"), _c("#f8f3e6"), _c("#b9ad93"), _c("#2c2a26"), _c("#8d8471"), _c("#24221e"), _c("#665f50"),
    _c("#1f55b5"), _c("#80600b"), _c("#b4510a"), _c("#a52a1c"), _c("#3d6f55"), _c("#d9cfb8"), _c("#2c2a26"), _c("#5c564a"),
)  # fmt: skip
THEMES = {"dark": DARK, "light": LIGHT}
INK = Theme(
    "ink", _c("#ffffff"), _c("#ffffff"), _c("#ffffff"), _c("#9a9a9a"), _c("#010101"), _c("#8a8a8a"), _c("#010101"), _c("#3c3c3c"),
    _c("#010101"), _c("#303030"), _c("#010101"), _c("#010101"), _c("#303030"), _c("#ececec"), _c("#010101"), _c("#4a4a4a"),
)  # fmt: skip
"""What sheets are drawn in on paper: black and greys; what a colour says, marks and words say as well."""


def load_fonts(app: QApplication) -> None:
    """Register the shipped fonts with an application, once: doing it again throws away every letter drawn before."""
    if app.property("fonts"):
        return
    app.setProperty("fonts", True)
    for path in sorted([*FONTS.glob("*.ttf"), *FONTS.glob("*.otf")]):
        QFontDatabase.addApplicationFont(str(path))


@lru_cache(maxsize=64)
def font(size: float, *, bold: bool = False) -> QFont:
    """A face of the shipped family in points."""
    out = QFont()
    out.setFamilies(["Inter", "DejaVu Sans"])
    out.setPointSizeF(size)
    out.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return out


def apply(app: QApplication, theme: Theme) -> None:
    """Put palette and font in force; windows put the style rules on with :func:`dress`. Nothing is done when they
    already are.
    """
    if app.property("theme") == theme.name:
        return
    if app.property("theme") is None:
        app.setStyle("Fusion")
        app.setFont(font(10))
    app.setProperty("theme", theme.name)
    p = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, theme.plate),
        (roles.WindowText, theme.text),
        (roles.Base, theme.sheet),
        (roles.AlternateBase, theme.raised),
        (roles.Text, theme.text),
        (roles.Button, theme.raised),
        (roles.ButtonText, theme.text),
        (roles.BrightText, theme.torch),
        (roles.Highlight, theme.dye),
        (roles.HighlightedText, theme.sheet),
        (roles.ToolTipBase, theme.raised),
        (roles.ToolTipText, theme.text),
        (roles.PlaceholderText, theme.quiet),
        (roles.Link, theme.dye),
        (roles.Light, theme.edge),
        (roles.Mid, theme.edge),
        (roles.Dark, theme.edge),
    ):
        p.setColor(role, colour)
    for role in (roles.Text, roles.ButtonText, roles.WindowText):
        p.setColor(QPalette.ColorGroup.Disabled, role, theme.faint)
    app.setPalette(p)
    QToolTip.setPalette(p)


def dress(part: QWidget) -> None:
    """Put the style rules of the theme in force on a part of a window and all that lies in it. Parts are dressed when
    they come into view: dressing everything at once costs most of a second.
    """
    app = QApplication.instance()
    name = app.property("theme") if app is not None else None
    if name in THEMES and part.property("dressed") != name:
        part.setProperty("dressed", name)
        part.setStyleSheet(_rules(THEMES[name]))


@lru_cache(maxsize=2)
def _rules(t: Theme) -> str:
    def n(c: QColor) -> str:
        return c.name()

    return f"""
    QMenuBar {{ background: {n(t.plate)}; }}
    QMenuBar::item:selected, QMenu::item:selected {{ background: {n(t.dye)}; color: {n(t.sheet)}; }}
    QMenu {{ background: {n(t.raised)}; border: 1px solid {n(t.edge)}; }}
    QPushButton, QToolButton {{ background: {n(t.raised)}; border: 1px solid {n(t.edge)}; border-radius: 3px; padding: 5px 12px; }}
    QPushButton:hover, QToolButton:hover {{ border-color: {n(t.dye)}; }}
    QPushButton:focus, QToolButton:focus {{ border: 2px solid {n(t.dye)}; padding: 4px 11px; }}
    QPushButton:checked {{ background: {n(t.dye)}; color: {n(t.sheet)}; border-color: {n(t.dye)}; }}
    QPushButton:disabled {{ color: {n(t.faint)}; }}
    QPushButton:checked:disabled {{ background: {n(t.raised)}; border-color: {n(t.dye)}; }}
    QLineEdit, QComboBox {{ background: {n(t.sheet)}; border: 1px solid {n(t.edge)}; border-radius: 3px; padding: 3px 6px; }}
    QComboBox QAbstractItemView {{ background: {n(t.raised)}; }}
    QLineEdit:focus, QComboBox:focus {{ border: 2px solid {n(t.dye)}; padding: 2px 5px; }}
    QLineEdit[dim="true"] {{ background: {n(t.sheet)}; border: 1px solid transparent; border-bottom: 1px solid {n(t.faint)}; border-radius: 0; padding: 1px 3px; }}
    QLineEdit[dim="true"]:hover {{ border-bottom: 2px solid {n(t.dye)}; padding-bottom: 0; }}
    QLineEdit[dim="true"]:focus {{ border: 2px solid {n(t.dye)}; padding: 0 2px; }}
    QLineEdit[basis="measured"] {{ color: {n(t.brass)}; font-weight: 600; }}
    QLineEdit[basis="estimated"] {{ border-bottom: 1px dashed {n(t.quiet)}; font-style: italic; }}
    QLineEdit[basis="memory"] {{ border-bottom: 2px dotted {n(t.quiet)}; font-style: italic; color: {n(t.quiet)}; }}
    QLineEdit[basis="placeholder"] {{ border: 1px dashed {n(t.dye)}; }}
    QLineEdit[basis="sheet"] {{ color: {n(t.text)}; }}
    QLineEdit[basis="claim"] {{ border-bottom: 2px dotted {n(t.torch)}; font-style: italic; }}
    QLabel[quiet="true"] {{ color: {n(t.quiet)}; }}
    QPushButton[flat="true"] {{ padding: 3px 8px; }}
    QPushButton[row="true"] {{ text-align: left; border: 0; background: transparent; padding: 4px 6px; }}
    QPushButton[row="true"]:hover {{ background: {n(t.raised)}; color: {n(t.dye)}; }}
    QPushButton[row="true"]:focus {{ border: 2px solid {n(t.dye)}; padding: 2px 4px; }}
    QListWidget {{ background: {n(t.sheet)}; border: 1px solid {n(t.edge)}; }}
    QListWidget::item:selected {{ background: {n(t.dye)}; color: {n(t.sheet)}; }}
    QLineEdit[wrong="true"] {{ border: 2px solid {n(t.oxide)}; }}
    QScrollBar:vertical {{ background: {n(t.plate)}; width: 12px; }}
    QScrollBar::handle:vertical {{ background: {n(t.edge)}; border-radius: 5px; min-height: 30px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
    QListView {{ background: {n(t.sheet)}; border: 0; }}
    QSplitter::handle {{ background: {n(t.edge)}; }}
    QCheckBox::indicator {{ width: 16px; height: 16px; border: 1px solid {n(t.quiet)}; background: {n(t.sheet)}; border-radius: 3px; }}
    QCheckBox::indicator:checked {{ background: {n(t.dye)}; border-color: {n(t.dye)}; image: url({(ICONS / "check.svg").as_posix()}); }}
    QSlider::groove:horizontal {{ height: 6px; background: {n(t.edge)}; border-radius: 3px; }}
    QSlider::handle:horizontal {{ background: {n(t.dye)}; width: 18px; margin: -7px 0; border-radius: 9px; }}
    """

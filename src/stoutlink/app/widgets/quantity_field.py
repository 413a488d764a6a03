"""The one field for every number: shows the value, edits the text, never rewrites what was not touched."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QContextMenuEvent, QFocusEvent, QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.document.default_sigma import sigma_of
from stoutlink.core.document.paths import field_info, get_value
from stoutlink.core.document.placeholders import is_placeholder
from stoutlink.core.document.project import Basis
from stoutlink.core.editing.edits import Edit, SetNumber, SetSource
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.shown import Kind, Typed, edit_text, parse_quantity, parse_typed, show, unit_name
from stoutlink.core.text import whole

BASES: tuple[tuple[Basis, str], ...] = (
    ("measured", "Measured"),
    ("estimated", "An estimate"),
    ("memory", "From memory"),
    ("typed", "Just typed in"),
)
RECORD_BASES: tuple[tuple[Basis, str], ...] = (
    ("measured", "Measured"),
    ("sheet", "From a sheet"),
    ("claim", "Seller's claim"),
    ("estimated", "An estimate"),
)

MakeEdit = Callable[[Typed], Edit]

AFTER_MS = 60
"""How often it is looked whether a menu is gone."""


class QuantityField(KeptLine):
    """A number of the project by its path.

    Unfocused it shows the value for reading; focused it offers the text as typed. Enter or leaving takes it, Esc
    brings the old value back; wrong text stays, marked, whatever else changes, and the project keeps its value. ``34 1/4 ± 1/2`` says
    how sure, ``~34`` that it is an estimate; the context menu says the same. ``make_edit`` replaces the plain edit
    (for pivots); ``fallback`` is what an empty optional field stands for, shown as an estimate. ``channels`` names
    what an instrument feeds in: Space takes the reading while nothing is being typed.
    """

    def __init__(
        self,
        workspace: Workspace,
        path: str,
        parent: QWidget | None = None,
        *,
        title: str = "",
        make_edit: MakeEdit | None = None,
        fallback: Callable[[], float | None] | None = None,
        dim: bool = True,
        channels: tuple[str, ...] = (),
    ) -> None:
        super().__init__(workspace, parent)
        self._make_edit = make_edit
        self._fallback = fallback
        self._by_mouse = self._holds = False
        self.channels = channels
        self.fallback_basis: Callable[[], str] = lambda: "estimated"
        self.path = path
        self.setProperty("dim", dim)
        self.setAlignment(Qt.AlignmentFlag.AlignCenter if dim else Qt.AlignmentFlag.AlignRight)
        self._given_title = title
        self.set_path(path)

    def unmarked(self) -> str:
        """Where a number without a note of its own is from: of a donor, what its record says."""
        parts = self.path.split(".")
        if parts[0] == "donors" and len(parts) > 2:
            return str(get_value(self._workspace.project, f"donors.{parts[1]}").basis)
        return "typed"

    def use_fallback(self, fallback: Callable[[], float | None], basis: str) -> None:
        """What the field stands for while it is empty, and where that is from."""
        self._fallback = fallback
        self.fallback_basis = lambda: basis
        self.refresh()

    def stand_for(self, value: float | None) -> None:
        """What the field stands for while it is empty, as a proposal; ``None`` for nothing."""
        self._fallback = None if value is None else lambda: value

    def set_path(self, path: str) -> None:
        """Show another number."""
        self.move_to(path)
        self.path = path
        info = field_info(self._workspace.project, path)
        self.setObjectName(f"field_{path}")
        self.title = self._given_title or info.title
        self._kind = info.kind
        self.refresh()

    def refresh(self) -> None:
        """Show the project's value, unless the user is typing here."""
        project, unit = self._workspace.project, self._workspace.unit
        try:
            value = get_value(project, self.path)
        except KeyError:
            return
        info = field_info(project, self.path)
        entry = project.entry(self.path)
        estimated = value is None and self._fallback is not None
        shown = self._fallback() if estimated and self._fallback else value
        basis = self.fallback_basis() if estimated else (entry.basis if entry else self.unmarked())
        if self.property("basis") != basis:
            self.setProperty("basis", basis)
            self.restyle()
        asked = basis == "placeholder"
        text = "" if asked else show(shown, info.kind, unit)
        self.setPlaceholderText("enter" if asked else "")
        word = {
            "placeholder": "not entered",
            "measured": "measured",
            "estimated": "estimate",
            "memory": "from memory",
            "sheet": "from a sheet",
            "claim": "seller's claim",
        }.get(basis, "")
        self.setAccessibleName(f"{self.title}, {text}{', ' + word if word else ''}")
        self.setToolTip(
            f"{self.title}: {info.help_text}"
            + self._how_sure(None if asked else shown, info.kind, word, stands_in=estimated)
        )
        if self.held():
            return
        if self.hasFocus():
            self._offer()
        else:
            self.setText(text)
            self.setModified(False)

    def _how_sure(self, shown: float | None, kind: Kind, word: str, *, stands_in: bool) -> str:
        """The end of the hover text: where it is from, its ±, and how to say so."""
        if shown is None:
            return " Empty: type it, ± says how sure (34 ± 1/2), ~ makes it an estimate." + (
                " Space takes the instrument's reading." if self.channels else ""
            )
        entry, unit = self._workspace.project.entry(self.path), self._workspace.unit
        sigma = sigma_of(self.path, shown, self._workspace.project.entries)
        band = f" ± {show(2 * sigma, kind, unit, decimals=2, apart=True)}" if sigma > 0 and not stands_in else ""
        taken = f", mean of {entry.readings} readings" if entry and entry.readings > 1 else ""
        return f" ({word or 'typed'}{taken}{band})" + (
            " Space takes the instrument's reading." if self.channels else ""
        )

    def _offer(self) -> None:
        self.setText(self._as_typed() or "")
        self.setPlaceholderText(unit_name(self._kind, self._workspace.unit))
        self.setModified(False)

    def _as_typed(self) -> str | None:
        """The project's value as it would be typed; ``None`` when what it is about has just been taken out."""
        project, unit = self._workspace.project, self._workspace.unit
        try:
            value = get_value(project, self.path)
        except KeyError:
            return None
        entry = project.entry(self.path)
        if entry and entry.basis == "placeholder":
            return ""
        text = entry.text if entry and entry.text else ("" if value is None else edit_text(value, self._kind, unit))
        if (
            entry
            and entry.text
            and abs(self._parsed(entry.text, value) - (value or 0.0)) > 1e-9 * max(1.0, abs(value or 0.0))
        ):
            text = edit_text(value, self._kind, unit)  # the note was typed in the other unit
        if entry and entry.sigma is not None and value is not None:
            text = f"{text} ± {edit_text(2 * entry.sigma, self._kind, unit, apart=True)}"
        if entry and entry.basis == "estimated" and value is not None:
            text = f"~{text}"
        return text

    def _parsed(self, text: str, value: float | None) -> float:
        try:
            return parse_quantity(text, self._kind, self._workspace.unit)
        except StoutError:
            return (value or 0.0) + 1.0

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self._by_mouse = event is not None and event.reason() == Qt.FocusReason.MouseFocusReason
        if not self.isModified():
            self._offer()
            self.selectAll()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """The click that brings the keys selects all, so that what is typed replaces it; the next sets the cursor."""
        first, self._by_mouse = self._by_mouse, False
        super().mousePressEvent(event)
        self._holds = first and not self.isModified()
        if self._holds:
            self.selectAll()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if not self._holds:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        self._holds = False

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if event is not None and event.reason() == Qt.FocusReason.PopupFocusReason:
            QTimer.singleShot(AFTER_MS, self._after_popup)
            return
        if self.take():
            self.refresh()

    def _after_popup(self) -> None:
        """The keys went to a menu: when it is gone and they did not come back, they are gone for good."""
        if QApplication.activePopupWidget() is not None:
            QTimer.singleShot(AFTER_MS, self._after_popup)
        elif not self.hasFocus() and self.take():
            self.refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self._workspace.stop_reading.emit()
            self.release()
            self._offer()
            self.clearFocus()
            self.refresh()
            return
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self.take():
                self.focusNextChild()
            return
        if event is not None and event.key() == Qt.Key.Key_Space and self.channels and not self.isModified():
            self._workspace.take_reading.emit(self.path, self.channels)
            return
        super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        menu = self.createStandardContextMenu()
        if menu is None or event is None:
            return
        project = self._workspace.project
        if get_value(project, self.path) is not None and not is_placeholder(project, self.path):
            menu.addSeparator()
            self.source_menu(menu)
        menu.exec(event.globalPos())

    def source_menu(self, menu: QMenu) -> None:
        """Add the choices of where the number is from."""
        entry = self._workspace.project.entry(self.path)
        for basis, words in RECORD_BASES if self.path.startswith("donors.") else BASES:
            action = menu.addAction(words)
            if action is None:
                continue
            action.setObjectName(f"basis_{basis}")
            action.setCheckable(True)
            action.setChecked((entry.basis if entry else self.unmarked()) == basis)
            action.triggered.connect(
                lambda _=False, b=basis: self._workspace.do(SetSource(self.path, b, entry.sigma if entry else None))
            )

    def take(self) -> bool:
        """Use the typed text; ``False`` when it is not a value (it stays, marked, and the project is unchanged)."""
        text = whole(self.text().strip())
        if not self.isModified():
            return True
        started = self._as_typed()
        if started is None or text == started:  # gone with what it was about, or as it was
            self.release()
            return True
        edit: Edit | None = None
        try:
            edit = self._edit(text)
            if edit is None:
                self.refuse(text, "The ± is larger than the number; it was not meant so.")
                return False
            self.setModified(False)
            self._workspace.not_taken.remove(self.place)
            self._workspace.attempt(edit)
        except StoutError as why:
            self.refuse(text, why.words, edit)
            return False
        self.release()
        return True

    def _edit(self, text: str) -> Edit | None:
        """What the text asks for; ``None`` when the user did not mean its ±. Raises for what is no value."""
        info = field_info(self._workspace.project, self.path)
        if not text and info.optional:
            return SetNumber(self.path, None, title=self.title)
        typed = parse_typed(text, info.kind, self._workspace.unit)
        if typed.sigma is not None and info.low >= 0 and 2 * typed.sigma > abs(typed.value):
            words = f"{self.title}: the ± in “{text}” is larger than the number itself."
            if dialogs.ask(self.window() or self, "A large ±", words, ("Take it", "Go back")) != "Take it":
                return None
        if self._make_edit:
            return self._make_edit(typed)
        basis: Basis = "estimated" if typed.estimated else "measured"
        return SetNumber(self.path, typed.value, typed.text, basis, self.title, typed.sigma)

"""Knock-ons: what the choices force, growing and shrinking as they are made; accepted ones fold away."""

from __future__ import annotations

import datetime
import getpass

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from stoutlink.app import dialogs
from stoutlink.app.theme import Theme, font
from stoutlink.app.workspace import Workspace
from stoutlink.core.advice.finding import Finding
from stoutlink.core.editing.edits import AcceptKnockOn

SIGN = {"danger": "⚠ danger", "warn": "▲ look", "note": "· note"}
STEP_NAME = {"rig": "Rig", "donors": "Donors", "tape": "Tape", "layout": "Layout", "cut": "Cut"}
GLOW_MS = 1600


class _Card(QFrame):
    """One finding."""

    def __init__(self, finding: Finding, theme: Theme, accepted: str | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName(f"finding_{finding.key}")
        self.setAccessibleName(f"{finding.severity}: {finding.sentence}")
        colour = {"danger": theme.oxide, "warn": theme.torch, "note": theme.faint}[finding.severity]
        self._rest = f"QFrame#{_css(self.objectName())} {{ border: 0; border-left: 4px solid {colour.name()}; background: {theme.sheet.name()}; }}"
        self._glow = self._rest.replace(theme.sheet.name(), theme.edge.name())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 6, 8, 6)
        layout.setSpacing(4)
        head = QLabel(f"<span style='color:{colour.name()}'>{SIGN[finding.severity]}</span>  {finding.code}", self)
        head.setFont(font(8.5))
        layout.addWidget(head)
        text = QLabel(finding.sentence, self)
        text.setTextFormat(Qt.TextFormat.PlainText)
        text.setWordWrap(True)
        text.setFont(font(9.5))
        text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        layout.addWidget(text)
        why = QLabel(finding.why if accepted is None else f"Accepted {accepted}", self)
        why.setTextFormat(Qt.TextFormat.PlainText)
        why.setWordWrap(True)
        why.setFont(font(8.5))
        why.setStyleSheet(f"color: {theme.quiet.name()};")
        layout.addWidget(why)
        row = QHBoxLayout()
        self.go = QPushButton(f"Go to {STEP_NAME[finding.step]}", self)
        self.go.setObjectName("go")
        self.accept = QPushButton("Accept…" if accepted is None else "Reopen", self)
        self.accept.setObjectName("accept")
        for button in (self.go, self.accept):
            button.setFont(font(8.5))
            row.addWidget(button)
        row.addStretch(1)
        layout.addLayout(row)
        self.setStyleSheet(self._rest)

    def glow(self) -> None:
        """Light up once."""
        self.setStyleSheet(self._glow)
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.timeout.connect(lambda: self.setStyleSheet(self._rest))
        timer.start(GLOW_MS)


def _css(name: str) -> str:
    return "".join(c if c.isalnum() or c in "_-" else "\\" + c for c in name)


class KnockOns(QWidget):
    """The list; ``go`` names the step where a finding is dealt with."""

    go = pyqtSignal(str, str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("knock_ons")
        self.setAccessibleName("Knock-ons")
        self._workspace = workspace
        self._shown: tuple[object, ...] = ()
        self._known: set[str] | None = None
        self._open_old = False
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        self._title = QLabel("Knock-ons", self)
        self._title.setFont(font(12, bold=True))
        self._title.setContentsMargins(10, 8, 10, 6)
        outer.addWidget(self._title)
        self._area = QScrollArea(self)
        self._area.setWidgetResizable(True)
        self._area.setFrameShape(QScrollArea.Shape.NoFrame)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        outer.addWidget(self._area, 1)

    def refresh(self, theme: Theme) -> None:
        """Show the findings of the current review; nothing is rebuilt when they are the same."""
        review = self._workspace.review
        key = (theme.name, review.findings, self._workspace.project.accepted, self._open_old)
        if key == self._shown:
            return
        self._shown = key
        bar = self._area.verticalScrollBar()
        where = bar.value() if bar else 0
        inner = QWidget()
        layout = QVBoxLayout(inner)
        layout.setContentsMargins(6, 0, 6, 6)
        layout.setSpacing(6)
        fresh = []
        for finding in review.open:
            card = self._card(finding, theme, None, inner)
            layout.addWidget(card)
            if self._known is not None and finding.key not in self._known:
                fresh.append(card)
        if not review.open:
            empty = QLabel("Nothing open. Choices that force something elsewhere appear here.", inner)
            empty.setWordWrap(True)
            empty.setContentsMargins(6, 6, 6, 6)
            layout.addWidget(empty)
        old = [(f, review.accepted(f)) for f in review.findings]
        accepted = [(f, a) for f, a in old if a is not None]
        if accepted:
            fold = QPushButton(f"{'Hide' if self._open_old else 'Show'} {len(accepted)} accepted", inner)
            fold.setObjectName("fold_accepted")
            fold.clicked.connect(lambda: self._fold(theme))
            layout.addWidget(fold)
            if self._open_old:
                for finding, note in accepted:
                    layout.addWidget(self._card(finding, theme, f"{note.when}: {note.why}", inner))
        layout.addStretch(1)
        self._area.setWidget(inner)
        if bar is not None:
            bar.setValue(where)
        for card in fresh:
            card.glow()
        self._known = {f.key for f in review.open}
        self._title.setText(f"Knock-ons  {len(review.open)} open")

    def _card(self, finding: Finding, theme: Theme, accepted: str | None, parent: QWidget) -> _Card:
        card = _Card(finding, theme, accepted, parent)
        card.go.clicked.connect(lambda: self.go.emit(finding.step, finding.subject))
        card.accept.clicked.connect(lambda: self._accept(finding, reopen=accepted is not None))
        return card

    def _fold(self, theme: Theme) -> None:
        self._open_old = not self._open_old
        self.refresh(theme)

    def _accept(self, finding: Finding, *, reopen: bool) -> None:
        if reopen:
            self._workspace.do(AcceptKnockOn(finding.key, "", None))
            return
        why = dialogs.ask_text(self, "Accept knock-on", f"{finding.sentence}\n\nWhy is it acceptable? (kept in the project)")
        if why is not None:
            stamp = f"{datetime.date.today().isoformat()} by {_who()}"
            self._workspace.do(AcceptKnockOn(finding.key, stamp, why[:400]))


def _who() -> str:
    try:
        return getpass.getuser()[:20]
    except (KeyError, OSError):
        return "user"

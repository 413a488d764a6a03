"""Knock-ons: what the choices force, growing and shrinking as they are made; accepted ones fold away."""

from __future__ import annotations

import datetime
import getpass

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.labels import Label, MarkedLabel
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.advice.finding import Finding
from stoutlink.core.editing.edits import AcceptKnockOn

SIGN = {"danger": "⚠ danger", "warn": "▲ look", "note": "· note"}
GLOW_MS = 1600
MOST = 24
"""Cards shown at once; the rest is counted."""


class _Card(QFrame):
    """One finding."""

    def __init__(self, finding: Finding, where: str, theme: Theme, accepted: str | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName(f"finding_{finding.key}")
        self.setAccessibleName(f"{finding.severity}: {finding.sentence}")
        colour = {"danger": theme.oxide, "warn": theme.torch, "note": theme.faint}[finding.severity]
        self._rest = f"QFrame#{_css(self.objectName())} {{ border: 0; border-left: 4px solid {colour.name()}; background: {theme.sheet.name()}; }}"
        self._glow = self._rest.replace(theme.sheet.name(), theme.edge.name())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 6, 8, 6)
        layout.setSpacing(4)
        head = MarkedLabel(f"<span style='color:{colour.name()}'>{SIGN[finding.severity]}</span>  {finding.code}", self)
        head.setFont(font(8.5))
        layout.addWidget(head)
        text = Label(finding.sentence, self)
        text.setTextFormat(Qt.TextFormat.PlainText)
        text.setWordWrap(True)
        text.setFont(font(9.5))
        text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        layout.addWidget(text)
        why = Label(finding.why if accepted is None else f"Accepted {accepted}", self)
        why.setTextFormat(Qt.TextFormat.PlainText)
        why.setWordWrap(True)
        why.setFont(font(8.5))
        why.setStyleSheet(f"color: {theme.quiet.name()};")
        layout.addWidget(why)
        row = QHBoxLayout()
        self.go = QPushButton(f"Go to {where}", self)
        self.go.setObjectName("go")
        self.accept = QPushButton("Accept…" if accepted is None else "Reopen", self)
        self.accept.setObjectName("accept")
        for button in (self.go, self.accept):
            button.setFont(font(8.5))
            row.addWidget(button)
        row.addStretch(1)
        layout.addLayout(row)
        self._glowing = False
        self.setStyleSheet(self._rest)

    def glow(self, *, on: bool) -> None:
        """Light up, or rest."""
        if on != self._glowing:
            self._glowing = on
            self.setStyleSheet(self._glow if on else self._rest)


def _css(name: str) -> str:
    return "".join(c if c.isalnum() or c in "_-" else "\\" + c for c in name)


class KnockOns(QWidget):
    """The list; ``go`` names the step where a finding is dealt with."""

    go = pyqtSignal(str, str)

    def __init__(self, workspace: Workspace, names: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._names = names
        """Titles of the steps."""
        self.setObjectName("knock_ons")
        self.setAccessibleName("Knock-ons")
        self._workspace = workspace
        self._shown: tuple[object, ...] = ()
        self._known: set[str] | None = None
        self._open_old = False
        self.step = ""
        """Findings of this step stand first."""
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        self._title = Label("Knock-ons", self)
        self._title.setFont(font(12, bold=True))
        self._title.setContentsMargins(10, 8, 10, 6)
        outer.addWidget(self._title)
        self._area = QScrollArea(self)
        self._area.setWidgetResizable(True)
        self._area.setFrameShape(QScrollArea.Shape.NoFrame)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        outer.addWidget(self._area, 1)
        self._cards: dict[tuple[Finding, str, str | None], _Card] = {}
        self._inner = QWidget()
        self._list = QVBoxLayout(self._inner)
        self._list.setContentsMargins(6, 0, 6, 6)
        self._list.setSpacing(6)
        self._area.setWidget(self._inner)
        self._glow_end = QTimer(self)
        self._glow_end.setSingleShot(True)
        self._glow_end.setInterval(GLOW_MS)
        self._glow_end.timeout.connect(self._rest)

    def refresh(self, theme: Theme) -> None:
        """Show the findings of the current project; nothing is rebuilt when they are the same."""
        study = self._workspace.study
        found, still = study.findings_so_far, study.open_so_far
        key = (theme.name, found, study.cycled, self._workspace.project.accepted, self._open_old, self.step)
        if key == self._shown:
            return
        self._shown = key
        ordered = sorted(still, key=lambda f: f.step != self.step)
        wanted: list[QWidget] = [self._card(f, theme, None) for f in ordered[:MOST]]
        if len(ordered) > MOST:
            wanted.append(self._words("more_findings", f"… and {len(ordered) - MOST} more. Deal with these first."))
        if not ordered:
            wanted.append(
                self._words("no_findings", "Nothing open. Choices that force something elsewhere appear here.")
            )
        accepted = [(f, note) for f in found if (note := study.accepted(f)) is not None]
        if accepted:
            fold = QPushButton(f"{'Hide' if self._open_old else 'Show'} {len(accepted)} accepted", self._inner)
            fold.setObjectName("fold_accepted")
            fold.clicked.connect(lambda: self._fold(theme))
            wanted.append(fold)
            if self._open_old:
                wanted += [self._card(f, theme, f"{note.when}: {note.why}") for f, note in accepted]
        self._put(wanted)
        if self._known is not None:
            for f in ordered[:MOST]:
                if f.key not in self._known:
                    self._cards[f, theme.name, None].glow(on=True)
                    self._glow_end.start()
        self._known = {f.key for f in still}
        self._title.setText(f"Knock-ons  {len(still)} open{'' if study.cycled else ', travel not yet in'}")
        self._title.setToolTip(
            "" if study.cycled else "The travel is being worked out; what it shows is added when it is done."
        )

    def _rest(self) -> None:
        for card in self._cards.values():
            card.glow(on=False)

    def _put(self, wanted: list[QWidget]) -> None:
        """Lay out these and nothing else; cards that stay are not made again."""
        kept = set(wanted)
        while (item := self._list.takeAt(0)) is not None:
            gone = item.widget()
            if gone is not None and gone not in kept:
                gone.hide()
                gone.deleteLater()
        self._cards = {key: card for key, card in self._cards.items() if card in kept}
        for one in wanted:
            self._list.addWidget(one)
            one.show()
        self._list.addStretch(1)

    def _words(self, name: str, text: str) -> QLabel:
        label = Label(text, self._inner)
        label.setObjectName(name)
        label.setWordWrap(True)
        label.setContentsMargins(6, 6, 6, 6)
        return label

    def _card(self, finding: Finding, theme: Theme, accepted: str | None) -> _Card:
        """The card of a finding, made once."""
        key = (finding, theme.name, accepted)
        if key not in self._cards:
            card = _Card(finding, self._names[finding.step], theme, accepted, self._inner)
            card.go.clicked.connect(lambda: self.go.emit(finding.step, finding.subject))
            card.accept.clicked.connect(lambda: self._accept(finding, reopen=accepted is not None))
            self._cards[key] = card
        return self._cards[key]

    def _fold(self, theme: Theme) -> None:
        self._open_old = not self._open_old
        self.refresh(theme)

    def _accept(self, finding: Finding, *, reopen: bool) -> None:
        if reopen:
            self._workspace.do(AcceptKnockOn(finding.key, "", None))
            return
        why = dialogs.ask_text(
            self, "Accept knock-on", f"{finding.sentence}\n\nWhy is it acceptable? (kept in the project)"
        )
        if why is not None:
            stamp = f"{datetime.date.today().isoformat()} by {_who()}"
            self._workspace.do(AcceptKnockOn(finding.key, stamp, why[:400]))


def _who() -> str:
    try:
        return getpass.getuser()[:20]
    except (KeyError, OSError):
        return "user"

"""Knock-ons: what the choices force, as a work list: by the thing it is about, what can hurt first; accepted ones fold
away.
"""

from __future__ import annotations

import datetime
import getpass

from PyQt6.QtCore import QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QPainter, QPaintEvent, QPalette
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.labels import Label, MarkedLabel
from stoutlink.app.desk.menus import Entry, pop_up
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.advice.finding import RANK, Severity
from stoutlink.core.advice.work_list import Card, Group, cards, counts, lane_of, work_list
from stoutlink.core.editing.edits import AcceptKnockOn
from stoutlink.core.editing.plan_edits import TaskOfKnockOn

SIGN = {"danger": "⚠ danger", "warn": "▲ look", "note": "· note"}
COUNTED = {"danger": ("danger", "dangers"), "warn": ("to look at", "to look at"), "note": ("note", "notes")}
GLOW_MS = 1600
EDGE = 4
"""Pixels of the bar that tells how grave it is."""
AT_ONCE, AFTER = 10, 20
"""Cards laid out in one go, first and then: more than are in view, and few enough not to be felt."""


class _Card(QFrame):
    """One cause; ``menu_wanted`` asks for its menu at a place of the screen."""

    menu_wanted = pyqtSignal(QPoint)

    def __init__(
        self, card: Card, where: str, theme: Theme, accepted: str | None, parent: QWidget, *, planned: bool = False
    ) -> None:
        super().__init__(parent)
        self.setObjectName(f"finding_{card.first.key}")
        self.setAccessibleName(f"{card.severity}: {card.sentence}")
        colour = {"danger": theme.oxide, "warn": theme.torch, "note": theme.faint}[card.severity]
        self._edge, self._rest, self._glow = colour, theme.sheet, theme.edge
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10 + EDGE, 5, 8, 5)
        layout.setSpacing(3)
        head = MarkedLabel(f"<span style='color:{colour.name()}'>{SIGN[card.severity]}</span>  {card.first.code}", self)
        head.setFont(font(8.5))
        layout.addWidget(head)
        text = Label(card.sentence, self)
        text.setTextFormat(Qt.TextFormat.PlainText)
        text.setWordWrap(True)
        text.setFont(font(9.5))
        text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        layout.addWidget(text)
        why = Label(card.first.why if accepted is None else f"Accepted {accepted}", self)
        why.setTextFormat(Qt.TextFormat.PlainText)
        why.setWordWrap(True)
        why.setFont(font(8.5))
        quiet = why.palette()
        quiet.setColor(QPalette.ColorRole.WindowText, theme.quiet)
        why.setPalette(quiet)
        layout.addWidget(why)
        row = QHBoxLayout()
        self.go = QPushButton(f"Go to {where}", self)
        self.go.setObjectName("go")
        self.go.setToolTip("Shows the thing it is about where it is dealt with.")
        self.accept = QPushButton("Accept…" if accepted is None else "Reopen", self)
        self.accept.setObjectName("accept")
        self.accept.setToolTip(
            "Folds it away with your reason." if accepted is None else "Puts it back among the open ones."
        )
        self.plan = QPushButton("Planned" if planned else "To plan", self)
        self.plan.setObjectName("make_task")
        self.plan.setToolTip(
            "A task of the plan deals with it."
            if planned
            else "Puts it into the plan; it is settled when the task is done."
        )
        self.plan.setEnabled(not planned)
        self.plan.setVisible(card.can_be_planned and accepted is None)
        for button in (self.go, self.accept, self.plan):
            button.setFont(font(8.5))
            row.addWidget(button)
        self.accept.setVisible(card.can_be_accepted)
        row.addStretch(1)
        layout.addLayout(row)
        self._glowing = False

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with QPainter(self) as p:  # rules of style of its own would cost every card a millisecond
            p.fillRect(self.rect(), self._glow if self._glowing else self._rest)
            p.fillRect(0, 0, EDGE, self.height(), self._edge)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is not None:
            self.menu_wanted.emit(event.globalPos())

    def glow(self, *, on: bool) -> None:
        """Light up, or rest."""
        if on != self._glowing:
            self._glowing = on
            self.update()


class KnockOns(QWidget):
    """The list; ``go`` carries the finding that somebody wants to be taken to."""

    go = pyqtSignal(object)
    copied = pyqtSignal(str, str)
    explained = pyqtSignal(str)

    def __init__(self, workspace: Workspace, names: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._names = names
        """Titles of the steps."""
        self.setObjectName("knock_ons")
        self.setAccessibleName("Knock-ons")
        self._workspace = workspace
        self._theme: Theme | None = None
        self._shown: tuple[object, ...] = ()
        self._known: set[str] | None = None
        self._open_old = False
        self.counted: dict[Severity, int] = counts(())
        """How many of each severity are open."""
        self.only: Severity | None = None
        """Only cards of this severity are listed."""
        self.step = ""
        """Things with something at this step stand first."""
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        self._title = Label("Knock-ons", self)
        self._title.setFont(font(12, bold=True))
        self._title.setContentsMargins(10, 8, 10, 2)
        outer.addWidget(self._title)
        row = QHBoxLayout()
        row.setContentsMargins(8, 2, 8, 4)
        row.setSpacing(4)
        self.filters: dict[Severity, QPushButton] = {}
        for severity in RANK:
            button = QPushButton("", self)
            button.setObjectName(f"only_{severity}")
            button.setCheckable(True)
            button.setProperty("flat", True)
            button.setFont(font(8.5))
            button.clicked.connect(lambda _=False, s=severity: self.show_only(None if self.only == s else s))
            self.filters[severity] = button
            row.addWidget(button)
        row.addStretch(1)
        outer.addLayout(row)
        self._area = QScrollArea(self)
        self._area.setObjectName("knock_ons_list")
        self._area.setAccessibleName("Knock-ons, by the thing they are about")
        self._area.setWidgetResizable(True)
        self._area.setFrameShape(QScrollArea.Shape.NoFrame)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        outer.addWidget(self._area, 1)
        self._cards: dict[tuple[Card, str, str | None, bool], _Card] = {}
        self._planned: frozenset[str] = frozenset()
        self._inner = QWidget()
        self._list = QVBoxLayout(self._inner)
        self._list.setContentsMargins(6, 0, 6, 6)
        self._list.setSpacing(5)
        self._area.setWidget(self._inner)
        self._left: list[QWidget] = []
        """What is still to be laid out."""
        self._more = QTimer(self)
        self._more.setSingleShot(True)
        self._more.timeout.connect(lambda: self._lay_out())
        self._glow_end = QTimer(self)
        self._glow_end.setSingleShot(True)
        self._glow_end.setInterval(GLOW_MS)
        self._glow_end.timeout.connect(self.rest)

    def show_only(self, severity: Severity | None) -> None:
        """List cards of one severity, or all."""
        self.only = severity
        if self._theme is not None:
            self.refresh(self._theme)

    def refresh(self, theme: Theme) -> None:
        """Show the findings of the current project; nothing is rebuilt when they are the same."""
        self._theme = theme
        study, project = self._workspace.study, self._workspace.project
        found, still = study.findings_so_far, study.open_so_far
        self._planned = frozenset(k for own in project.build.own for k in own.knock_ons)
        key = (theme.name, found, study.cycled, project.accepted, self._open_old, self.step, self.only, self._planned)
        if key == self._shown:
            return
        self._shown = key
        groups = work_list(project, still, self.step)
        self.counted = counts(card for group in groups for card in group.cards)
        self._count(self.counted)
        shown = self._chosen(groups)
        wanted: list[QWidget] = []
        for group in shown:
            wanted.append(self._heading(group))
            wanted += [self._card(card, theme, None) for card in group.cards]
        if not shown:
            words = "Nothing open. Choices that force something elsewhere appear here."
            wanted.append(self._words("no_findings", words))
        wanted += self._accepted(theme)
        self._put(wanted)
        if self._known is not None:
            for card in (card for group in shown for card in group.cards):
                if not self._known.issuperset(card.keys):
                    self._cards[self._name(card, theme, None)].glow(on=True)
                    self._glow_end.start()
        self._known = {f.key for f in still}
        self._title.setText(
            f"Knock-ons  {sum(self.counted.values())} open{'' if study.cycled else ', travel not yet in'}"
        )
        self._title.setToolTip(
            "" if study.cycled else "The travel is being worked out; what it shows is added when it is done."
        )

    def _chosen(self, groups: tuple[Group, ...]) -> list[Group]:
        """What passes the filter."""
        if self.only is None:
            return list(groups)
        some = [Group(g.title, tuple(c for c in g.cards if c.severity == self.only)) for g in groups]
        return [group for group in some if group.cards]

    def _count(self, found: dict[Severity, int]) -> None:
        """The line of counts; a filter with nothing left to show goes."""
        if self.only is not None and not found[self.only]:
            self.only = None
        for severity, button in self.filters.items():
            count = found[severity]
            word = COUNTED[severity][0 if count == 1 else 1]
            button.setText(f"{SIGN[severity][0]} {count} {word}")
            button.setAccessibleName(f"{count} {word}, show only these")
            button.setToolTip(f"Show only these {count}, or everything again." if count else "There are none.")
            button.setEnabled(count > 0)
            button.setChecked(self.only == severity)

    def _accepted(self, theme: Theme) -> list[QWidget]:
        """What was accepted: a button to unfold it, and the cards once it is."""
        study = self._workspace.study
        notes: dict[str, list[Card]] = {}
        held = [(f, note) for f in study.findings_so_far if (note := study.accepted(f)) is not None]
        for words in dict.fromkeys(f"{note.when}: {note.why}" for _, note in held):
            notes[words] = list(cards(f for f, note in held if f"{note.when}: {note.why}" == words))
        if not notes:
            return []
        count = sum(len(one) for one in notes.values())
        fold = QPushButton(f"{'Hide' if self._open_old else 'Show'} {count} accepted", self._inner)
        fold.setObjectName("fold_accepted")
        fold.clicked.connect(lambda: self._fold(theme))
        unfolded = notes.items() if self._open_old else ()
        return [fold, *(self._card(card, theme, words) for words, some in unfolded for card in some)]

    def rest(self) -> None:
        """No card glows any more."""
        for card in self._cards.values():
            card.glow(on=False)

    def _put(self, wanted: list[QWidget]) -> None:
        """Lay out these and nothing else; cards that stay are not made again."""
        kept = set(wanted)
        self._more.stop()
        before = list(self._left)
        while (item := self._list.takeAt(0)) is not None:
            if (one := item.widget()) is not None:
                before.append(one)
        for one in {*before, *self._cards.values()} - kept:
            one.hide()
            one.deleteLater()
        for one in wanted[AT_ONCE:]:
            one.hide()  # until it has its place
        self._cards = {key: card for key, card in self._cards.items() if card in kept}
        self._left = list(wanted)
        self._lay_out(AT_ONCE)

    def _lay_out(self, count: int = AFTER) -> None:
        """Lay out the next few; the rest follows when the window has nothing else to do."""
        self._list.takeAt(self._list.count() - 1)
        for one in self._left[:count]:
            self._list.addWidget(one)
            one.show()
        self._list.addStretch(1)
        self._left = self._left[count:]
        wide = self._inner.width()
        self._inner.resize(wide, max(self._list.totalHeightForWidth(wide), self._area.height()))  # not a frame squashed
        if self._left:
            self._more.start()

    def _heading(self, group: Group) -> QLabel:
        label = Label(group.title, self._inner)
        label.setObjectName("thing")
        label.setFont(font(9, bold=True))
        label.setWordWrap(True)
        label.setContentsMargins(4, 6, 4, 0)
        return label

    def _words(self, name: str, text: str) -> QLabel:
        label = Label(text, self._inner)
        label.setObjectName(name)
        label.setWordWrap(True)
        label.setContentsMargins(6, 6, 6, 6)
        return label

    def _card(self, card: Card, theme: Theme, accepted: str | None) -> _Card:
        """The widget of a card, made once."""
        key = self._name(card, theme, accepted)
        if key not in self._cards:
            made = _Card(card, self._names[card.first.step], theme, accepted, self._inner, planned=key[3])
            made.plan.clicked.connect(lambda: self.make_task(card))
            made.go.clicked.connect(lambda: self.go.emit(card.first))
            made.accept.clicked.connect(lambda: self.accept(card, reopen=accepted is not None))
            made.menu_wanted.connect(lambda at: self._menu(card, at, reopen=accepted is not None))
            self._cards[key] = made
        return self._cards[key]

    def _name(self, card: Card, theme: Theme, accepted: str | None) -> tuple[Card, str, str | None, bool]:
        return card, theme.name, accepted, accepted is None and self._planned.issuperset(card.keys)

    def make_task(self, card: Card) -> None:
        """Put what a card asks for into the plan as a task."""
        project = self._workspace.project
        if self._workspace.do(
            TaskOfKnockOn(card.keys, card.sentence.rstrip("."), lane_of(project, card), card.first.step)
        ):
            self._workspace.said.emit(
                f"{card.first.code} is a task of the plan now; done there, it is settled here.", False
            )

    def _menu(self, card: Card, at: QPoint, *, reopen: bool) -> None:
        """What can be done with a card."""
        words = f"{card.first.code}: {card.sentence} {card.first.why}"
        entries: list[Entry | None] = [
            (f"Go to {self._names[card.first.step]}", lambda: self.go.emit(card.first)),
            *(
                [("Reopen" if reopen else "Accept…", lambda: self.accept(card, reopen=reopen))]
                if card.can_be_accepted
                else []
            ),
            *(
                [("Make it a task of the plan", lambda: self.make_task(card))]
                if card.can_be_planned and not reopen and not self._planned.issuperset(card.keys)
                else []
            ),
            None,
            ("Copy as text", lambda: self.copied.emit(words, "The knock-on")),
            (f"What {card.first.code} means", lambda: self.explained.emit(card.first.code)),
        ]
        pop_up(self, at, entries)

    def _fold(self, theme: Theme) -> None:
        self._open_old = not self._open_old
        self.refresh(theme)

    def accept(self, card: Card, *, reopen: bool) -> None:
        """Accept everything a card stands for, asking why once; or open it again."""
        if reopen:
            self._workspace.do(AcceptKnockOn(card.keys, "", None))
            return
        why = dialogs.ask_text(
            self, "Accept knock-on", f"{card.sentence}\n\nWhy is it acceptable? (kept in the project)"
        )
        if why is not None:
            stamp = f"{datetime.date.today().isoformat()} by {_who()}"
            self._workspace.do(AcceptKnockOn(card.keys, stamp, why[:400]))


def _who() -> str:
    try:
        return getpass.getuser()[:20]
    except (KeyError, OSError):
        return "user"

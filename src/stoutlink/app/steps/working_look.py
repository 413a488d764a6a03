"""The frame of a look worked with at arm's length: what it says large, large buttons, a picture, groups of fields below."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.look_bar import LookBar, Looks
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Picture, scrolled


class WorkingLook(Look):
    """``groups`` are the groups of fields; a subclass gives :meth:`entries` of the one picked, paints, and fills the rows."""

    def __init__(
        self,
        workspace: Workspace,
        name: str,
        title: str,
        groups: Looks,
        picture: str,
        parent: QWidget | None = None,
        columns: int = 4,
        wide: int = 104,
    ) -> None:
        super().__init__(workspace, name, title, parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(2)
        self.before = QHBoxLayout()
        self.before.setContentsMargins(12, 0, 12, 0)
        outer.addLayout(self.before)
        words = QVBoxLayout()  # a label's own margins are lost when the style is put on again
        words.setContentsMargins(14, 2, 14, 2)
        words.setSpacing(2)
        outer.addLayout(words)
        self.now, self.more = Label("", self), Label("", self)
        for label, part, size in ((self.now, "now", 15), (self.more, "more", 11)):
            label.setObjectName(f"{name}_{part}")
            label.setFont(font(size, bold=part == "now"))
            label.setWordWrap(True)
            words.addWidget(label)
        self.top = QHBoxLayout()
        self.top.setContentsMargins(12, 0, 12, 2)
        outer.addLayout(self.top)
        self.body = QVBoxLayout()
        self.body.setContentsMargins(0, 0, 0, 0)
        self.body.setSpacing(2)
        outer.addLayout(self.body)
        self.picture = Picture(f"{name}_picture", picture, self)
        self.area = scrolled(self.picture, self)
        outer.addWidget(self.area, 1)
        row = QHBoxLayout()
        row.setContentsMargins(12, 0, 12, 0)
        self.groups = LookBar(groups, f"{name}_fields", 8, self)
        self.groups.picked.connect(self.show_group)
        row.addWidget(self.groups)
        row.addStretch(1)
        outer.addLayout(row)
        self.drawer = PathDrawer(workspace, f"{name}_drawer", columns, self, wide=wide)
        self.drawer.setContentsMargins(12, 2, 12, 2)
        outer.addWidget(self.drawer)
        self.foot = QHBoxLayout()
        self.foot.setContentsMargins(12, 2, 12, 8)
        outer.addLayout(self.foot)
        self.group = groups[0][0] if groups else ""

    def large(self, name: str, words: str, tip: str, act: Callable[[], object]) -> QPushButton:
        """A button that a gloved hand finds."""
        button = self.put_button(name, words, tip, self.top)
        button.setFont(font(12, bold=True))
        button.setMinimumHeight(42)
        button.clicked.connect(lambda _=False: act())
        return button

    def small(self, name: str, words: str, tip: str, act: Callable[[], object]) -> QPushButton:
        """A button of the foot."""
        button = self.put_button(name, words, tip, self.foot)
        button.clicked.connect(lambda _=False: act())
        return button

    def entries(self) -> Sequence[Entry]:
        """Fields of the group picked."""
        return ()

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Paint the picture."""

    def show_frame(self, now: str, more: str, *, fields: bool = True, proposed: dict[str, float] | None = None) -> None:
        """Show both lines, the fields of the group picked and the picture."""
        assert self.theme is not None
        self.now.setText(now)
        self.more.setText(more)
        self.more.setVisible(bool(more))
        self.groups.setVisible(fields and len(self.groups.buttons) > 1)
        self.groups.show_picked(self.group)
        self.drawer.show_entries(self.entries() if fields else (), proposed)
        self.picture.show_with(self.theme, self.paint)

    def show_group(self, key: str) -> None:
        """Show other fields in the drawer."""
        self.group = key
        if self.theme is not None:
            self.refresh(self.theme)

    def tall(self, height: float) -> None:
        """Have the picture as tall as what was painted."""
        if self.picture.minimumHeight() != int(height):
            self.picture.setMinimumHeight(int(height))

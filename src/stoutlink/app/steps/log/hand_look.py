"""Hand-over: what the owner's file says, what was not tested on its first page, and everything in one archive."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Picture, flow, text
from stoutlink.core.reports.hand_over import OWNER_CAUTIONS, approvals, untested
from stoutlink.core.storage.photos import find_photo

GROUPS = (
    ("who", "Who", "For whom, by whom, on which day."),
    ("said", "Said", "What was changed, not tested, aligned, and needs approval, in your words."),
)
INSIDE = "In the archive: the project as it is, its photos, the owner's file and the shop packet as PDF, every part as DXF, cut list and runs as tables, as-built and log as JSON, and a list of it all with checksums."


class HandLook(WorkingLook):
    """``archive`` and ``paper`` ask the window to write them."""

    archive = pyqtSignal()
    paper = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "hand_over", "Hand-over", GROUPS, "The first page", parent, columns=2, wide=360)
        self.pack = self.large(
            "write_archive",
            "Write the archive…",
            "Everything in one zip file that opens again anywhere.",
            self.archive.emit,
        )
        self.print_ = self.large("write_owner", "Owner's file…", "The owner's file alone, as PDF.", self.paper.emit)
        self.top.addStretch(1)
        self.open_: tuple[str, ...] = ()
        self.foot.addStretch(1)

    def prepare(self) -> None:
        study = self.workspace.study
        self.open_ = untested(study)
        open_ = self.open_
        lost = [n for n in study.project.photo_names() if find_photo(self.workspace.photo_home, n) is None]
        now = (
            f"{len(open_)} things stand on the first page as not tested, not done or let through."
            if open_
            else "Nothing stands on the first page as not tested."
        )
        more = f"{len(lost)} photos are missing beside the project. " if lost else ""
        more += "" if study.cycled else "The travel is still being worked out."
        self.show_frame(now, more.strip())

    def entries(self) -> list[Entry]:
        """Fields of the group picked."""
        keys = (
            (("owner", "for"), ("builder", "built by"), ("when", "day"))
            if self.group == "who"
            else (
                ("changed", "changed"),
                ("untested", "not tested"),
                ("alignment", "alignment"),
                ("approval", "may need approval"),
            )
        )
        return [Entry(f"log.hand_over.{key}", word, "text") for key, word in keys]

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        self.show_group("who" if path.rpartition(".")[2] in ("owner", "builder", "when") else "said")

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """The first page as it will read."""
        w, y = float(picture.width()), 4.0
        study = self.workspace.study
        text(p, QRectF(14, y, w - 28, 18), "Not tested, not done, or let through", t.text, size=10.5, bold=True)
        y += 24
        for line in self.open_ or ("Nothing that is written down.",):
            y += flow(p, QRectF(24, y, w - 48, 60), f"– {line}", t.text, size=9.5) + 3
        text(p, QRectF(14, y + 6, w - 28, 18), "May need approval", t.text, size=10.5, bold=True)
        y += 30
        for line in approvals(study):
            y += flow(p, QRectF(24, y, w - 48, 60), f"– {line}", t.text, size=9.5) + 3
        y += 6
        y += flow(p, QRectF(14, y, w - 28, 60), INSIDE, t.quiet, size=9) + 4
        y += flow(p, QRectF(14, y, w - 28, 80), OWNER_CAUTIONS[-1], t.quiet, size=8.5) + 8
        self.tall(y)

    def as_text(self) -> str:
        study = self.workspace.study
        lines = [
            "Not tested, not done, or let through:",
            *(f"– {x}" for x in untested(study) or ("nothing that is written down",)),
            "May need approval:",
            *(f"– {x}" for x in approvals(study)),
        ]
        return "\n".join(lines)

"""Start: the kinds to hang an axle by; a click proposes pivots on the surveyed rig, or makes the layout in work
another kind.
"""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QCheckBox, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.needs import Needs
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.widgets.picture import Hit, Picture, flow, plate, text
from stoutlink.core.analysis.search.proposals import STARTS, Proposal
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import KIND_NAMES, Kind, Layout
from stoutlink.core.document.project import with_parts
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.editing.layout_edits import PutLayout
from stoutlink.core.errors import StoutError
from stoutlink.core.study.room import room_with, room_words
from stoutlink.core.study.study import Study

GLYPHS: dict[str, tuple[tuple[tuple[float, float], tuple[float, float], str], ...]] = {
    "double_triangulated_four_link": (((0.9, 0.36), (0.1, 0.08), "u"), ((0.9, -0.36), (0.1, -0.08), "u"), ((0.98, 0.16), (0.1, 0.42), "l"), ((0.98, -0.16), (0.1, -0.42), "l")),
    "single_triangulated_four_link": (((0.9, 0.36), (0.1, 0.08), "u"), ((0.9, -0.36), (0.1, -0.08), "u"), ((0.98, 0.4), (0.1, 0.42), "l"), ((0.98, -0.4), (0.1, -0.42), "l")),
    "parallel_four_link_panhard": (((0.9, 0.28), (0.1, 0.28), "u"), ((0.9, -0.28), (0.1, -0.28), "u"), ((0.98, 0.4), (0.1, 0.42), "l"), ((0.98, -0.4), (0.1, -0.42), "l"), ((-0.06, 0.4), (-0.06, -0.4), "p")),
    "three_link_panhard": (((0.9, 0.2), (0.1, 0.24), "u"), ((0.98, 0.4), (0.1, 0.42), "l"), ((0.98, -0.4), (0.1, -0.42), "l"), ((-0.06, 0.4), (-0.06, -0.4), "p")),
    "radius_arms_panhard": (((0.98, 0.36), (-0.02, 0.4), "a"), ((0.98, -0.36), (-0.02, -0.4), "a"), ((-0.1, 0.4), (-0.1, -0.4), "p")),
    "leaf": (((0.75, 0.38), (-0.75, 0.38), "s"), ((0.75, -0.38), (-0.75, -0.38), "s")),
}  # fmt: skip
"""The kinds from above: axle at 0, links toward the middle of the vehicle."""


class StartLook(LayoutLook):
    """A plate a kind."""

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "start", "Start from a kind", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        self.switch = QCheckBox("Change this layout's kind, keep what carries over", self)
        self.switch.setObjectName("switch_kind")
        self.switch.setToolTip(
            "Links of one role and side keep pivots, tubes, joints and holes. Unticked, a click adds a new layout beside it."
        )
        self.switch.setFont(font(9))
        inside.addWidget(self.switch)
        self.panhard = QPushButton("Add a panhard to these leaves", self)
        self.panhard.setObjectName("start_panhard")
        self.panhard.setToolTip("Square across the rig beside the springs; drag its ends to where they shall be.")
        self.panhard.setFont(font(9))
        self.panhard.clicked.connect(self.add_panhard)
        inside.addWidget(self.panhard)
        self.picture = Picture("start_kinds", "Kinds to start from", self)
        inside.addWidget(self.picture, 1)
        self.needs = Needs(workspace, "start_needs", self)
        inside.addWidget(self.needs, 1)
        self.work: Background[tuple[Proposal, str]] = Background(self)
        self._doing = ""

    def prepare(self) -> None:
        self.switch.setVisible(self.layout_shown is not None)
        layout = self.layout_shown
        self.panhard.setVisible(can_have_panhard(layout))
        assert self.theme is not None
        needs = self.workspace.study.needed("stance", "weight")
        self.picture.setVisible(not needs)
        self.needs.setVisible(bool(needs))
        self.needs.show_needs("Pivots are placed for your rig. Enter first:", needs)
        self.picture.show_with(self.theme, self._paint)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, h = float(picture.width()), float(picture.height())
        end = self.workspace.end
        if end == "front" and self.workspace.project.rig.drivetrain.front_axle == "independent":
            self._stays(p, t, picture)
            return
        lead = (
            f"Placing the pivots: {self._doing}…"
            if self._doing
            else f"Hang the {end} axle by. Pivots are proposed on the surveyed rails, clear of what is in the way, toward your targets."
        )
        top = flow(p, QRectF(4, 2, w - 8, 40), lead, t.dye if self._doing else t.quiet, size=8.5) + 8
        tall = min(92.0, (h - top - 4) / 3)
        for i, (kind, short, sentence) in enumerate(STARTS):
            box = QRectF(2 + (i % 2) * w / 2, top + (i // 2) * tall, w / 2 - 6, tall - 6)
            layout = self.layout_shown
            plate(p, t, box, raised=True, picked=layout is not None and layout.kind == kind)
            _glyph(p, t, kind, QRectF(box.left() + 4, box.top() + 4, 62, box.height() - 8))
            text(
                p,
                QRectF(box.left() + 70, box.top() + 3, box.width() - 74, 30),
                KIND_NAMES[kind].capitalize(),
                t.text,
                size=8.5,
                bold=True,
                wrap=True,
            )
            if tall > 60:
                p.save()
                p.setClipRect(box)
                flow(
                    p,
                    QRectF(box.left() + 70, box.top() + 31, box.width() - 74, box.height() - 32),
                    short,
                    t.quiet,
                    size=8,
                )
                p.restore()
            picture.hits.append(Hit(box, sentence, partial(self.start, kind), f"start {kind}"))

    def _stays(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Said in place of the kinds while the front axle is an independent one that stays."""
        w = float(picture.width())
        words = "The independent front stays: nothing is hung here. Its gears and locker are chosen in Donors."
        top = flow(p, QRectF(4, 2, w - 8, 60), words, t.text, size=9) + 12
        box = QRectF(2, top, w - 8, 26)
        plate(p, t, box, raised=True)
        text(p, box, "A solid axle goes in after all", t.text, size=9, align="centre")
        to = SetChoice("rig.drivetrain.front_axle", "solid", "front axle")
        picture.hits.append(Hit(box, "Lay a solid front axle out here.", partial(self.workspace.do, to), "solid front"))

    def add_panhard(self) -> None:
        """Put a panhard beside leaf springs."""
        layout = self.layout_shown
        if layout is not None:
            put_panhard(self.workspace, layout)

    def start(self, kind: Kind) -> None:
        """Propose a layout of a kind, beside the window, and take it in."""
        project, study, end = self.workspace.project, self.workspace.study, self.workspace.end
        unit = self.workspace.unit
        layout = self.layout_shown
        change = layout is not None and self.switch.isChecked()
        taken = [one.name for one in project.linkage.layouts]
        base = f"{end.capitalize()} {KIND_NAMES[kind]}"
        name = next(n for i in range(1, 1000) if (n := base if i == 1 else f"{base} ({i})") not in taken)
        new = free_id(f"{end}-", (one.id for one in project.linkage.layouts))
        self._doing = KIND_NAMES[kind]
        self.picture.update()

        def work(tell: Progress) -> tuple[Proposal, str]:
            if change and layout is not None:
                made = study.switched(layout, kind)
            else:
                made = study.propose("front" if end == "front" else "rear", kind, new, name)
            with_joints = with_parts(project, joints=(*project.linkage.joints, *made.joints))
            return made, room_words(room_with(Study(with_joints, study), made.layout, going=tell), unit)

        def done(answer: tuple[Proposal, str]) -> None:
            found, room = answer
            self._doing = ""
            if self.workspace.project is not project:
                self.workspace.said.emit("The project changed meanwhile; the proposal was dropped.", False)
                self.picture.update()
                return
            self.views.select(None)
            words = f"Make it {KIND_NAMES[kind]}" if change else f"Start {KIND_NAMES[kind]}"
            if self.workspace.do(PutLayout(found.layout, found.joints, words)):
                self.workspace.said.emit(
                    f"{found.said or f'{found.layout.name}: pivots on the surveyed rig, toward your targets.'} {room}",
                    bool(found.said),
                )
            self.views.fit()

        def failed(why: StoutError) -> None:
            self._doing = ""
            self.picture.update()
            words = why.words
            self.workspace.said.emit(words, True)

        self.work.start(work, done, lambda part: None, failed)

    def stop(self) -> None:
        self.work.stop()

    def as_text(self) -> str:
        return "\n".join(f"{KIND_NAMES[kind]}\t{sentence}" for kind, _, sentence in STARTS)


def can_have_panhard(layout: Layout | None) -> bool:
    """Whether a layout is of leaves that no panhard stands beside."""
    return layout is not None and layout.leaf is not None and not any(x.role == "panhard" for x in layout.links)


def put_panhard(workspace: Workspace, layout: Layout) -> None:
    """Take in a layout with a panhard; a rig that is not entered yet is said."""
    try:
        found = workspace.study.with_panhard(layout)
    except StoutError as why:
        workspace.said.emit(why.sentence, True)
        return
    workspace.do(PutLayout(found.layout, found.joints, "Add a panhard"))


def _glyph(p: QPainter, t: Theme, kind: str, box: QRectF) -> None:
    """The kind from above, axle upright at the left."""
    x0, y0, sx, sy = (
        box.left() + box.width() * (0.5 if kind == "leaf" else 0.2),
        box.center().y(),
        box.width() * (0.6 if kind == "leaf" else 0.72),
        box.height() * 0.95,
    )
    p.setPen(QPen(t.quiet, 4))
    p.drawLine(QPointF(x0, y0 - 0.44 * sy), QPointF(x0, y0 + 0.44 * sy))
    pens = {
        "u": QPen(t.upper, 1.6),
        "l": QPen(t.lower, 2.6),
        "p": QPen(t.brass, 1.8, Qt.PenStyle.DashLine),
        "a": QPen(t.lower, 3.4),
        "s": QPen(t.soap, 2.2),
    }
    for a, b, role in GLYPHS[kind]:
        p.setPen(pens[role])
        p.drawLine(QPointF(x0 + a[0] * sx, y0 - a[1] * sy), QPointF(x0 + b[0] * sx, y0 - b[1] * sy))

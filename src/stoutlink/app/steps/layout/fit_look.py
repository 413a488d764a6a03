"""Fit: whether joint, bracket, bolt, rail, tube and insert go together before they are bought."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.analysis.linkage.will_it_fit import Fit
from stoutlink.core.document.bracket import MOUNTED_WORDS
from stoutlink.core.document.layout import Layout, PivotEnd
from stoutlink.core.editing.layout_edits import OwnJoint
from stoutlink.core.editing.pivots import of_link

MARKS = {"misfit": "▲", "tight": "◊", "unknown": "?", "fits": "✓"}
CAUTION = "Steering, suspension and axle welds: by a qualified welder, looked at by another; local codes decide."


class FitLook(LayoutLook):
    """All checks, what does not fit first; click one to go there. The parts of the pivot picked stand below."""

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "fit", "Will it fit", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        self.list = Picture("fit_list", "What fits and what does not", self)
        self.area = scrolled(self.list, self)
        inside.addWidget(self.area, 1)
        self.drawer = PathDrawer(workspace, "fit_drawer", 2, self, wide=88)
        self.parts = scrolled(self.drawer, self)
        self.parts.setMinimumHeight(138)
        self.own = QPushButton("A joint of your own…", self)
        self.own.setObjectName("own_joint")
        self.own.setToolTip("Make a joint record after this one, with sizes of your own, and put it at this end.")
        self.own.setFont(font(8.5))
        self.own.clicked.connect(self.ask_joint)
        inside.addWidget(self.own, 0, Qt.AlignmentFlag.AlignLeft)
        inside.addWidget(self.parts, 1)
        self.fits: tuple[Fit, ...] = ()
        views.selected_changed.connect(self._again)

    def _again(self) -> None:
        if self.theme is not None and self.isVisible():
            self.refresh(self.theme)

    def prepare(self) -> None:
        layout, chosen = self.layout_shown, self.views.selected
        self.fits = self.workspace.study.fit(self.workspace.end)
        entries: tuple[Entry, ...] = ()
        if layout is not None and chosen is not None and of_link(chosen):
            entries = self._entries(layout, chosen[0], chosen[1])
            own = (
                {name for name, _ in layout.moved_with(link, chosen[1])}
                if (link := layout.link(chosen[0])) is not None
                else set()
            )
            self.fits = tuple(sorted(self.fits, key=lambda f: not (f.link.id in own and f.end == chosen[1])))
        self.drawer.show_entries(entries)
        self.parts.setVisible(bool(entries))
        self.own.setVisible(bool(entries))
        assert self.theme is not None
        self.list.show_with(self.theme, self._paint)

    def _entries(self, layout: Layout, link_id: str, which: PivotEnd) -> tuple[Entry, ...]:
        project = self.workspace.project
        end = f"layouts.{layout.id}.links.{link_id}.{which}_end"
        link = layout.link(link_id)
        assert link is not None
        joint = (link.frame_end if which == "frame" else link.axle_end).joint
        at = f"joints.{joint}"
        out = [
            Entry(f"{end}.joint", "joint", "choice", tuple((j.id, j.name) for j in project.linkage.joints)),
            Entry(
                f"{end}.bolt_lies",
                "bolt lies",
                "choice",
                (
                    ("across_link", "square to link"),
                    ("across_vehicle", "across vehicle"),
                    ("along_vehicle", "along vehicle"),
                ),
            ),
            Entry(f"{end}.bolt_turned_rad", "bracket turned"),
            Entry(f"{end}.joint_set_rad", "joint set at"),
            Entry(f"{end}.insert_od_m", "insert"),
            Entry(f"{end}.insert_shoulder_m", "its shoulder"),
            Entry(f"{at}.name", "its name", "text"),
            Entry(f"{at}.thread_diameter_m", "thread"),
            Entry(f"{at}.thread_pitch_m", "pitch"),
            Entry(f"{at}.hand", "hand", "choice", (("right", "right-hand"), ("left", "left-hand"))),
            Entry(f"{at}.shank_m", "centre to tip"),
            Entry(f"{at}.neck_m", "centre to thread"),
            Entry(f"{at}.jam_nut_m", "jam nut"),
            Entry(f"{at}.stiffness_n_per_m", "stiffness"),
            Entry(f"{at}.bolt_m", "bolt"),
            Entry(f"{at}.ball_width_m", "ball width"),
            Entry(f"{at}.spacer_m", "spacer a side"),
            Entry(f"{at}.body_width_m", "body width"),
            Entry(f"{at}.body_od_m", "body outside"),
            Entry(f"{at}.misalignment_rad", "leans up to"),
            Entry(f"{at}.rating_n", "static rating"),
            Entry(f"{at}.kind", "kind", "choice", (("spherical", "spherical"), ("bushing", "bushing"))),
        ]
        bracket = layout.bracket(link_id, which)
        if bracket is None:
            return tuple(out)
        here = f"layouts.{layout.id}.brackets.{bracket.id}"
        out += [
            Entry(f"{here}.mounted_on", "bracket on", "choice", tuple(MOUNTED_WORDS.items())),
            *(
                Entry(f"{here}.{key}", word)
                for key, word in (
                    ("gap_m", "gap"),
                    ("tab_m", "tab"),
                    ("bolt_hole_m", "bolt hole"),
                    ("edge_m", "hole to edge"),
                    ("reach_m", "reach"),
                    ("foot_m", "foot"),
                    ("saddle_m", "notched for"),
                    ("nut_plate_m", "nut plate"),
                    ("bolt_length_m", "bolt length"),
                    ("bolt_grip_m", "plain shank"),
                    ("bolt_yield_pa", "bolt yields"),
                    ("tab_yield_pa", "tab yields"),
                )
            ),
            Entry("rig.body.rail_height_m", "rail height"),
            Entry("rig.body.rail_width_m", "rail width"),
            Entry("rig.body.rail_wall_m", "rail wall"),
            Entry(
                "rig.body.rail_shape", "rails are", "choice", (("rectangle", "box or channel"), ("tube", "round tube"))
            ),
        ]
        return tuple(out)

    def ask_joint(self) -> None:
        """Ask for the name of a joint of one's own and put it at the end in hand."""
        layout, chosen = self.layout_shown, self.views.selected
        if layout is None or chosen is None or not of_link(chosen):
            return
        name = dialogs.ask_text(
            self, "A joint of your own", "What is it called? Its sizes start as those of the joint here."
        )
        if name is not None and name.strip():
            self.workspace.do(OwnJoint(layout.id, chosen[0], chosen[1], name.strip()[:120]))

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, y = float(picture.width()), 4.0
        bad = sum(f.how == "misfit" for f in self.fits)
        unknown = sum(f.how == "unknown" for f in self.fits)
        head = f"{bad} {'does' if bad == 1 else 'do'} not fit" if bad else "Nothing found that does not fit"
        text(
            p,
            QRectF(4, y, w - 8, 18),
            f"{head}{f', {unknown} cannot be said yet' if unknown else ''}",
            t.torch if bad else t.text,
            size=10,
            bold=True,
        )
        y += 22
        colours = {"misfit": t.torch, "tight": t.brass, "unknown": t.quiet, "fits": t.soap}
        for one in self.fits:
            top = y
            text(p, QRectF(4, y, 14, 15), MARKS[one.how], colours[one.how], size=9, bold=True)
            chosen = self.views.selected == (one.link.id, one.end)
            text(
                p,
                QRectF(20, y, w - 24, 15),
                f"{one.link.name}, {one.end} · {one.what}",
                t.dye if chosen else t.text,
                size=8.5,
                bold=True,
                elide=True,
            )
            y += 15
            y += (
                flow(
                    p,
                    QRectF(20, y, w - 26, 200),
                    one.sentence,
                    t.quiet if one.how in ("unknown", "fits") else colours[one.how],
                    size=8.5,
                )
                + 4
            )
            go = partial(self.views.select, (one.link.id, one.end))
            picture.hits.append(
                Hit(QRectF(0, top, w, y - top - 2), one.sentence, go, f"{one.link.id} {one.end} {one.what}")
            )
        p.setPen(QPen(t.edge, 1))
        p.drawLine(QPointF(4, y), QPointF(w - 4, y))
        y += flow(p, QRectF(4, y + 3, w - 8, 60), CAUTION, t.quiet, size=8.5) + 8
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def as_text(self) -> str:
        return "\n".join(f"{f.how}\t{f.link.name}\t{f.end}\t{f.what}\t{f.sentence}" for f in self.fits)

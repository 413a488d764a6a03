"""Loads: forces in every link for each case, drawn on the links, and what carries them; what to buy instead."""

from __future__ import annotations

import math
from functools import partial

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, bar, button, flow, scrolled, text
from stoutlink.core.analysis.linkage.link_loads import LinkLoad, TubeOffer, case_words, heavier_axle, tubes_for
from stoutlink.core.analysis.linkage.load_cases import CASES
from stoutlink.core.document.layout import MATERIAL_WORDS
from stoutlink.core.drawing.layout_views import load_shapes
from stoutlink.core.drawing.shapes import Shape, ViewName
from stoutlink.core.editing.layout_edits import SetTube
from stoutlink.core.quantity.shown import show


class LoadsLook(LayoutLook):
    """A row a link: its force in the case, its weakest part, the margin as a bar; the link picked in full below."""

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "loads", "Loads in the links", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        row = QHBoxLayout()
        self.case = StillBox(self)
        self.case.setObjectName("load_case")
        self.case.setAccessibleName("Load case")
        self.case.setFont(font(9))
        self.case.addItem("the worst of all cases", "worst")
        for key, (title, tip) in CASES.items():
            self.case.addItem(title, key)
            self.case.setItemData(self.case.count() - 1, tip, Qt.ItemDataRole.ToolTipRole)
        self.case.currentIndexChanged.connect(self._again)
        row.addWidget(self.case, 1)
        inside.addLayout(row)
        self.drawer = PathDrawer(workspace, "loads_drawer", 2, self)
        inside.addWidget(self.drawer)
        self.list = Picture("load_list", "Forces and margins", self)
        self.area = scrolled(self.list, self)
        inside.addWidget(self.area, 1)
        views.selected_changed.connect(self._again)

    def _again(self) -> None:
        if self.theme is not None and self.isVisible():
            self.refresh(self.theme)
            self.views.update()

    def prepare(self) -> None:
        layout, chosen = self.layout_shown, self.views.selected
        entries = [
            Entry("choosing.friction", "tyre grip"),
            Entry("loads.wanted_margin", "margin wanted"),
            Entry("loads.ledge_m", "ledge"),
            Entry("loads.side_slope_rad", "side slope"),
            Entry("loads.strike_factor", "rock strike ×"),
        ]
        link = layout.link(chosen[0]) if layout is not None and chosen is not None else None
        if layout is not None and link is not None:
            at = f"layouts.{layout.id}.links.{link.id}"
            entries = [
                Entry(f"{at}.tube_od_m", "tube outside"),
                Entry(f"{at}.tube_wall_m", "tube wall"),
                Entry(f"{at}.material", "material", "choice", tuple(MATERIAL_WORDS.items())),
                Entry(f"{at}.yield_pa", "yield"),
                Entry(f"{at}.bend_m", "bend"),
            ]
        self.drawer.show_entries(entries)
        assert self.theme is not None
        self.list.show_with(self.theme, self._paint)

    def overlay(self, view: ViewName) -> list[Shape]:
        loads = self.axle.loads
        return [] if loads is None else load_shapes(loads, str(self.case.currentData()), view, self.workspace.unit)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        loads, unit, w, y = self.axle.loads, self.workspace.unit, float(picture.width()), 2.0
        layout = self.layout_shown
        if loads is None or layout is None:
            why = (
                self.axle.problem.sentence
                if self.axle.problem is not None
                else "Forces need the engine's torque and the gears: enter them in Rig, Drivetrain."
                if self.workspace.study.needed("train")
                else "Leaf springs carry this axle: what they stand is in Leaves."
            )
            flow(p, QRectF(6, 8, w - 12, 120), why, t.quiet, size=10)
            return
        wanted, case = self.workspace.project.linkage.loads.wanted_margin, str(self.case.currentData())
        chosen = self.views.selected[0] if self.views.selected is not None else None
        for one in loads.links:
            top = y
            force = max(one.forces.values(), key=abs) if case == "worst" else one.forces.get(case, 0.0)
            picked = one.link.id == chosen
            text(
                p, QRectF(4, y, w * 0.36, 16), one.link.name, t.dye if picked else t.text, size=9, bold=True, elide=True
            )
            word = "pull" if force >= 0 else "push"
            text(
                p,
                QRectF(w * 0.36, y, w * 0.28, 16),
                f"{show(abs(force), 'force', unit)} {word}",
                t.dye if force >= 0 else t.torch,
                size=9,
                align="right",
            )
            weakest = one.weakest
            if weakest is not None and weakest.margin is not None:
                low = weakest.margin < wanted
                colour = t.oxide if weakest.margin < 1 else t.torch if low else t.soap
                text(
                    p,
                    QRectF(w * 0.66, y, w * 0.33 - 4, 16),
                    f"{'▲ ' if low else ''}{weakest.margin:.2f} ×",
                    colour,
                    size=9.5,
                    bold=True,
                    align="right",
                )
                y += 16
                bar(p, t, QRectF(4, y + 2, w * 0.5, 5), min(1.0, weakest.margin / (2 * wanted)), colour)
                text(
                    p,
                    QRectF(w * 0.5 + 12, y - 2, w * 0.5 - 16, 13),
                    f"{weakest.what}, {case_words(weakest.case)}",
                    t.quiet,
                    size=8,
                    align="right",
                    elide=True,
                )
            y += 15
            go = partial(self.views.select, (one.link.id, "frame"))
            picture.hits.append(
                Hit(
                    QRectF(0, top, w, y - top),
                    f"{one.link.name}: everything that is checked",
                    go,
                    f"load {one.link.id}",
                )
            )
            if picked:
                y = self._in_full(p, t, picture, one, y)
        y += flow(p, QRectF(4, y + 4, w - 8, 80), self._assumed(), t.quiet, size=8.5) + 12
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def _in_full(self, p: QPainter, t: Theme, picture: Picture, one: LinkLoad, y: float) -> float:
        """Every check of the link picked, its forces by case, and tubes that carry."""
        unit, w = self.workspace.unit, float(picture.width())
        wanted = self.workspace.project.linkage.loads.wanted_margin
        loads = self.axle.loads
        assert loads is not None
        for check in one.checks:
            known = check.margin is not None
            low = known and (check.margin or 0.0) < wanted
            margin = "–" if not known else "∞" if math.isinf(check.margin or 0.0) else f"{check.margin:.2f} ×"
            text(p, QRectF(16, y, w * 0.34, 14), check.what, t.torch if low else t.text, size=8.5, elide=True)
            what = (
                f"{show(check.carries, 'force', unit)} for {show(check.asked, 'force', unit)}" if known else check.why
            )
            text(p, QRectF(16 + w * 0.34, y, w * 0.44, 14), what, t.quiet, size=8.5, elide=True)
            text(p, QRectF(w * 0.8, y, w * 0.2 - 6, 14), margin, t.torch if low else t.text, size=8.5, align="right")
            picture.hits.append(
                Hit(QRectF(16, y, w - 20, 14), f"{check.what}: {check.why} ({case_words(check.case)}).")
            )
            y += 14
        cases = ", ".join(f"{CASES[k][0]} {show(v, 'force', unit)}" for k, v in one.forces.items()).replace("-", "−")
        y += flow(p, QRectF(16, y + 2, w - 24, 80), f"Pull is +: {cases}.", t.quiet, size=8.5) + 6
        offers = tubes_for(
            loads, one, wanted, self.workspace.project.linkage.loads.strike_factor, heavier_axle(self.workspace.rig)
        )
        text(
            p,
            QRectF(16, y, w - 24, 14),
            f"Stock tube that reaches {wanted:g} ×, lightest first:"
            if offers
            else f"No stock tube up to 2 1/2 in reaches {wanted:g} ×.",
            t.quiet,
            size=8.5,
        )
        y += 16
        for i, offer in enumerate(offers):
            box = QRectF(16 + i * (w - 24) / 3, y, (w - 24) / 3 - 4, 34)
            button(p, t, box)
            text(
                p,
                QRectF(box.left(), y + 1, box.width(), 17),
                f"{show(offer.outside, 'length', unit)} × {show(offer.wall, 'length', unit, decimals=3 if unit == 'in' else 1)}",
                t.text,
                size=8.5,
                align="centre",
            )
            text(
                p,
                QRectF(box.left(), y + 16, box.width(), 16),
                f"{offer.margin:.2f} ×, {show(offer.mass, 'mass', unit)}",
                t.quiet,
                size=8,
                align="centre",
            )
            act = partial(self._take, one, offer)
            picture.hits.append(Hit(box, "Take this tube for the link and its partner.", act, f"tube {i}"))
        if offers:
            y += 38
        rating = wanted * one.worst
        y += (
            flow(
                p,
                QRectF(16, y, w - 24, 40),
                f"Joints: {show(rating, 'force', unit)} static or more.",
                t.quiet,
                size=8.5,
            )
            + 6
        )
        return y

    def _take(self, one: LinkLoad, offer: TubeOffer) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.workspace.do(SetTube(layout.id, one.link.id, offer.outside, offer.wall))

    def _assumed(self) -> str:
        loads = self.axle.loads
        assert loads is not None
        notes = sorted({s.case.note for s in loads.cases if s.case.note.startswith("no axle")})
        more = " More than four bars: shared by their stiffness." if loads.shared else ""
        return (
            "Static forces at ride height, the larger of both ways round; shocks at rest, wheel and brake torque inside the axle."
            f"{more}{' ' + notes[0].capitalize() + '.' if notes else ''} Strengths without a record are usual values, from memory."
        )

    def as_text(self) -> str:
        loads, unit = self.axle.loads, self.workspace.unit
        if loads is None:
            return ""
        lines = ["\t".join(["link", *(CASES[k][0] for k in CASES), "weakest", "margin"])]
        for one in loads.links:
            w = one.weakest
            lines.append(
                "\t".join(
                    [
                        one.link.name,
                        *(show(one.forces.get(k), "force", unit) for k in CASES),
                        w.what if w else "–",
                        f"{w.margin:.2f}" if w and w.margin else "–",
                    ]
                )
            )
        return "\n".join(lines)

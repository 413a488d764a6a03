"""The ladder: margins of every part side by side, weakest first, and what an upgrade gains."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.widgets.choice_box import ChoiceBox
from stoutlink.app.widgets.picture import Hit, Picture, button, number_fields, plate, text
from stoutlink.core.analysis.swap.ladder import CASES, Ladder, Rung
from stoutlink.core.analysis.swap.upgrade_effects import UpgradeEffect
from stoutlink.core.analysis.swap.upgrade_path import Path
from stoutlink.core.catalogue.donor import LOCKER_WORDS, LOCKERS, DonorAxle
from stoutlink.core.document.swap import UPGRADES
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.quantity.shown import show

LOW, HIGH = 0.25, 4.0
ROW = 30
CASE_WORDS = {"worst": "the worst case", **CASES}
BASIS = {"record": "rated", "formula": "worked out", "estimate": "estimate"}


def margin_place(margin: float) -> float:
    """Where a margin stands on the scale from a quarter to four, 0 to 1."""
    if not math.isfinite(margin):
        return 1.0
    return min(1.0, max(0.0, math.log(max(margin, 1e-6) / LOW) / math.log(HIGH / LOW)))


TOP = 52.0
"""Where the first rung begins, pixels."""


class LadderLook(DonorLook):
    """Bars on a scale of margins; below, the path of upgrades."""

    takes = ("stance", "weight", "train")

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "ladder", "Ladder of strength", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setContentsMargins(12, 6, 12, 2)
        row.setSpacing(5)
        self.locker = ChoiceBox(
            workspace,
            "ladder_locker",
            "Planned locker",
            [(None, "as it comes"), *((k, LOCKER_WORDS[k]) for k in LOCKERS)],
            self,
        )
        self.locker.path = lambda: None if self.donor is None else f"{self.donor.end}_plan.locker"
        row.addWidget(self.locker)
        self.fields = number_fields(
            workspace,
            row,
            self,
            44,
            (
                ("choosing.friction", "grip"),
                ("choosing.shock", "shock"),
                ("choosing.grade_rad", "grade"),
                ("choosing.side_force_share", "side"),
            ),
        )
        row.addStretch(1)
        self.case = ChoiceBox(workspace, "ladder_case", "Case shown", list(CASE_WORDS.items()), self)
        self.case.path = lambda: None
        self.case.activated.disconnect()
        self.case.activated.connect(lambda _: self.picture.update())
        self.case.setCurrentIndex(0)
        self.case.setFixedWidth(116)
        self.locker.setFixedWidth(100)
        row.addWidget(self.case)
        outer.addLayout(row)
        self.upgrades = QPushButton("Upgrades", self)
        self.upgrades.setObjectName("ladder_upgrades")
        self.upgrades.setAccessibleName("Upgrades planned")
        self.upgrades.setFont(font(9))
        self.upgrades.setStyleSheet("padding: 3px 6px;")
        self.upgrades.setToolTip("Plan any upgrade, whatever is weakest; each says what it does to this axle.")
        menu = QMenu(self.upgrades)
        menu.setObjectName("ladder_upgrades_menu")
        menu.setToolTipsVisible(True)
        menu.aboutToShow.connect(self._fill_upgrades)
        self.upgrades.setMenu(menu)
        row.addWidget(self.upgrades)
        self.picture = Picture("ladder_picture", "Ladder", self)
        outer.addWidget(self.picture, 1)
        self.found: Ladder | None = None
        self.other: Ladder | None = None
        self.path: Path | None = None
        self.beside = ""
        """Id of an axle whose ladder is drawn into this one."""
        self.second: Ladder | None = None
        self.stronger: tuple[tuple[DonorAxle, float], ...] = ()

    def prepare(self) -> None:
        w = self.workspace
        self.locker.refresh()
        for field in self.fields:
            field.refresh()
        self.found = self.path = self.other = self.second = None
        held = next((d for d in w.project.swap.donors if d.id == self.beside), None)
        if held is not None and self.donor is not None and held.id != self.donor.id:
            self.second = w.study.ladder(held)
        if self.donor is not None:
            self.found = w.study.ladder_sure(self.donor)
            self.path = w.study.upgrade_path(self.donor)
            other = w.project.donor("rear" if self.donor.end == "front" else "front")
            self.other = None if other is None else w.study.ladder(other)
            self.stronger = w.study.stronger_axles(self.donor)
        if self.theme is not None:
            self.picture.show_with(self.theme, self._draw)

    def _fill_upgrades(self) -> None:
        """The menu of upgrades as they are planned now."""
        menu, donor = self.upgrades.menu(), self.donor
        assert menu is not None
        menu.clear()
        if donor is None or self.found is None:
            none = menu.addAction("Pick a candidate first")
            if none is not None:
                none.setEnabled(False)
            return
        for one in self.workspace.study.upgrade_effects(donor):
            action = menu.addAction(f"{one.title}: {self.effect_words(one)}")
            if action is None:
                continue
            action.setObjectName(f"upgrade_{one.id}")
            action.setCheckable(True)
            action.setChecked(one.planned)
            action.triggered.connect(partial(self._plan_upgrade, one.id))

    def effect_words(self, one: UpgradeEffect) -> str:
        """What an upgrade does and costs, in a line."""
        currency = self.workspace.project.swap.choosing.currency
        gains = [f"{x.title.lower()} {x.without:.2f} → {x.with_it:.2f}" for x in one.parts if math.isfinite(x.with_it)]
        weak = one.weakest
        if weak is not None and gains:
            gains.append(
                "weakest stays" if abs(weak[1] - weak[0]) < 0.005 else f"weakest {weak[0]:.2f} → {weak[1]:.2f}"
            )
        return f"{', '.join(gains[:3]) or one.words}; about {one.price:.0f} {currency}".strip()

    def _plan_upgrade(self, name: str, on: bool) -> None:
        donor = self.donor
        if donor is None:
            return
        now = self.workspace.project.plan(donor.end).upgrades
        kept = tuple(u for u in UPGRADES if (on if u == name else u in now))
        self.workspace.do(SetChoice(f"{donor.end}_plan.upgrades", kept, "upgrades"))

    def hold(self, name: str) -> None:
        """Draw another axle's ladder into this one; an empty name takes it away."""
        self.beside = name
        if self.theme is not None:
            self.refresh(self.theme)

    def _second(
        self, p: QPainter, t: Theme, picture: Picture, x: Callable[[float], float], rows: list[str], case: str
    ) -> None:
        """Margins of the second axle as open diamonds on the rungs they share."""
        second = self.second
        if second is None:
            return
        for i, part in enumerate(rows):
            theirs = second.rung(part)
            found = None if theirs is None else self._margin(theirs, case)
            if found is None or not math.isfinite(found[0]):
                continue
            at, y = x(found[0]), TOP + i * ROW + ROW / 2
            p.setPen(QPen(t.dye, 1.6))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPolygon(QPolygonF([QPointF(at, y - 6), QPointF(at + 6, y), QPointF(at, y + 6), QPointF(at - 6, y)]))
            tip = f"{second.donor.name}: {theirs.title.lower() if theirs is not None else part} {found[0]:.2f}."
            picture.hits.append(Hit(QRectF(at - 7, y - 7, 14, 14), tip, None, f"second_{part}"))

    def _margin(self, rung: Rung, case: str) -> tuple[float, float, str] | None:
        """Margin, demand and case to show; None when the case does not bear on the part."""
        if case == "worst":
            return rung.margin, rung.demand, rung.case
        asked = dict(rung.asked).get(case)
        if asked is None:
            return None
        return (rung.carries / asked if asked > 0 else math.inf), asked, case

    def _draw(self, p: QPainter, t: Theme, picture: Picture) -> None:
        found, unit = self.found, self.workspace.unit
        if found is None:
            text(
                p,
                QRectF(30, 30, picture.width() - 60, 40),
                "Pick a candidate at the left, or start one with “New axle”.",
                t.quiet,
                size=11,
                align="centre",
            )
            return
        train = self.workspace.rig.drivetrain
        gear = f"{found.ratio:.2f}" if found.ratio else "?"
        chain = (
            f"{show(train.peak_torque, 'torque', unit)} engine × {train.stall:g} × {train.first_ratio:g} first × {train.transfer_low_ratio:g} low = "
            f"{show(found.output_torque, 'torque', unit)} at one output × {gear} gears.  Level, the tyres hold {show(found.tyre_torque, 'torque', unit)} at the wheels."
        )
        if self.other is not None and self.other.weakest is not None:
            weak = self.other.weakest
            chain += f"  At the other end {weak.title.lower()} is the weakest: {weak.margin:.2f}."
        text(p, QRectF(14, 4, picture.width() - 28, 30), chain, t.quiet, size=8.5, wrap=True)
        left, right = 186.0, picture.width() - 218.0
        top = TOP
        case = str(self.case.currentData())
        rows = [(r, m) for r in found.rungs if (m := self._margin(r, case)) is not None]
        rows.sort(key=lambda rm: rm[1][0])
        bottom = top + ROW * len(rows)

        def x(margin: float) -> float:
            return left + margin_place(margin) * (right - left)

        p.fillRect(QRectF(left, top, x(1.0) - left, bottom - top), QBrush(t.torch, Qt.BrushStyle.Dense7Pattern))
        for rail in (left, right):
            p.setPen(QPen(t.faint, 3))
            p.drawLine(QPointF(rail, top - 4), QPointF(rail, bottom + 4))
        for value, words in ((0.25, "¼"), (0.5, "½"), (1.0, "holds = 1"), (2.0, "2"), (4.0, "4 and up")):
            p.setPen(QPen(t.soap if value == 1 else t.edge, 2 if value == 1 else 1))
            p.drawLine(QPointF(x(value), top), QPointF(x(value), bottom))
            text(
                p,
                QRectF(x(value) - 40, top - 17, 80, 14),
                words,
                t.text if value == 1 else t.quiet,
                size=8,
                align="centre",
                bold=value == 1,
            )
        for i, (rung, (margin, demand, worst)) in enumerate(rows):
            self._rung(p, t, picture, rung, margin, demand, worst, top + i * ROW, left, right, x)
        self._second(p, t, picture, x, [r.part for r, _ in rows], case)
        y = bottom + 10
        if self.second is not None:
            least = self.second.weakest
            words = f"◇ {self.second.donor.name}" + (
                "" if least is None else f": weakest {least.title.lower()}, {least.margin:.2f}"
            )
            box = QRectF(14, y, picture.width() - 28, 16)
            text(p, box, words, t.dye, size=9, elide=True)
            picture.hits.append(Hit(box, f"{words}. A click takes it away.", lambda: self.hold(""), "second_ladder"))
            y += 18
        if found.unknown:
            names = ", ".join(u.title.lower() for u in found.unknown)
            box = QRectF(14, y, picture.width() - 28, 30)
            text(
                p,
                box,
                f"Not known: {names}. Enter what is missing on the axle's picture.",
                t.quiet,
                size=8.5,
                wrap=True,
            )
            picture.hits.append(Hit(box, "\n".join(f"{u.title}: {u.why}" for u in found.unknown), None, "unknown"))
            y += 30
        if found.assumed:
            text(p, QRectF(14, y, picture.width() - 28, 16), f"Assumed: {'; '.join(found.assumed)}.", t.quiet, size=8.5)
            y += 18
        self._path(p, t, picture, max(y + 4, picture.height() - 132.0))

    def _rung(
        self,
        p: QPainter,
        t: Theme,
        picture: Picture,
        rung: Rung,
        margin: float,
        demand: float,
        worst: str,
        y: float,
        left: float,
        right: float,
        x: Callable[[float], float],
    ) -> None:
        unit, shock = self.workspace.unit, self.workspace.project.swap.choosing.shock
        colour = t.oxide if margin < 1 / shock else t.torch if margin < 1 else t.soap
        sign = "⚠ " if margin < 1 / shock else "▲ " if margin < 1 else ""
        text(
            p,
            QRectF(10, y, left - 18, ROW),
            f"{sign}{rung.title}",
            t.text if margin >= 1 else colour,
            size=9.5,
            bold=margin < 1,
            align="right",
            elide=True,
        )
        middle = y + ROW / 2
        p.setPen(
            QPen(
                colour,
                5,
                Qt.PenStyle.DotLine if rung.capacity.basis == "estimate" else Qt.PenStyle.SolidLine,
                Qt.PenCapStyle.FlatCap,
            )
        )
        p.drawLine(QPointF(left + 2, middle), QPointF(x(margin), middle))
        if math.isfinite(margin):
            p.setPen(QPen(colour, 3))
            p.drawLine(QPointF(x(margin), middle - 8), QPointF(x(margin), middle + 8))
            if rung.sigma > 0:
                part = 2 * rung.sigma / rung.margin if rung.margin else 0.0
                p.setPen(QPen(colour, 1))
                p.drawLine(QPointF(x(margin * (1 - part)), middle), QPointF(x(margin * (1 + part)), middle))
        if rung.wedged == rung.wedged and math.isfinite(rung.wedged):
            p.setPen(QPen(t.quiet, 1.5))
            p.setBrush(t.sheet)
            p.drawEllipse(QPointF(x(rung.wedged), middle), 4, 4)
        number = (
            f"{margin:.2f}"
            + (f" ± {2 * rung.sigma * margin / rung.margin:.2f}" if math.isfinite(margin) and rung.sigma else "")
            if math.isfinite(margin)
            else "not asked"
        )
        text(p, QRectF(right + 10, y + 1, 92, ROW - 2), number, t.text, size=9.5, bold=True)
        if math.isfinite(margin):
            text(p, QRectF(right + 94, y + 2, 122, 14), f"{show(rung.carries, 'torque', unit)}", t.quiet, size=8)
            text(p, QRectF(right + 94, y + 14, 122, 14), f"of {show(demand, 'torque', unit)}", t.quiet, size=8)
        tip = f"{rung.title}: carries {show(rung.carries, 'torque', unit)} ({BASIS[rung.capacity.basis]}: {rung.capacity.why}). Asked most {CASES[worst]}: {show(demand, 'torque', unit)}, shock factor {shock:g} in it."
        if rung.wedged == rung.wedged and math.isfinite(rung.wedged):
            tip += f" With a wheel wedged the margin is {rung.wedged:.2f} (ring)."
        picture.hits.append(Hit(QRectF(0, y, picture.width(), ROW), tip, None, f"rung_{rung.part}"))

    def _path(self, p: QPainter, t: Theme, picture: Picture, y: float) -> None:
        path, donor = self.path, self.donor
        if path is None or donor is None:
            return
        p.setPen(QPen(t.edge, 1))
        p.drawLine(QPointF(10, y), QPointF(picture.width() - 10, y))
        text(p, QRectF(14, y + 4, 400, 18), "Upgrade path: what is weakest next", t.text, size=10, bold=True)
        plan = self.workspace.project.plan(donor.end)
        if plan.upgrades:
            box = QRectF(picture.width() - 150, y + 4, 138, 20)
            button(p, t, box, "Take them all back", size=8.5)
            picture.hits.append(
                Hit(
                    box,
                    "Plan this end without upgrades.",
                    lambda: self.workspace.do(SetChoice(f"{donor.end}_plan.upgrades", (), "upgrades")),
                    "no_upgrades",
                )
            )
        wide = (picture.width() - 28) / max(3, len(path.steps))
        currency = self.workspace.project.swap.choosing.currency
        for i, step in enumerate(path.steps):
            box = QRectF(14 + i * wide, y + 26, wide - 10, 52)
            plate(p, t, box, raised=True)
            colour: QColor = t.torch if step.margin < 1 else t.text
            text(
                p,
                QRectF(box.left() + 6, box.top() + 2, box.width() - 12, 16),
                step.did if not step.upgrade else f"+ {step.did}",
                t.text,
                size=8.5,
                bold=True,
                elide=True,
            )
            text(
                p,
                QRectF(box.left() + 6, box.top() + 18, box.width() - 12, 16),
                f"{step.weakest} {step.margin:.2f}" if math.isfinite(step.margin) else step.weakest,
                colour,
                size=8.5,
                elide=True,
            )
            price = f"about {step.price:.0f} {currency}".strip() if step.upgrade else ""
            text(p, QRectF(box.left() + 6, box.top() + 34, box.width() - 12, 16), price, t.quiet, size=8.5)
            if step.upgrade:
                upgrades = tuple(
                    dict.fromkeys((*plan.upgrades, *(s.upgrade for s in path.steps[: i + 1] if s.upgrade)))
                )
                act = lambda u=upgrades: self.workspace.do(SetChoice(f"{donor.end}_plan.upgrades", u, "upgrades"))  # noqa: E731
                picture.hits.append(
                    Hit(
                        box,
                        f"Plan up to here: {step.did}. Click to put it in the plan and the cost (estimates until a record says better).",
                        act,
                        f"step_{i}",
                    )
                )
        bigger = "; ".join(
            f"{_short(a.name)} {m:.2f}{'' if a.price is None else f' at {a.price:.0f} {currency}'.rstrip()}"
            for a, m in self.stronger
        )
        words = path.end + (f"  Stronger here: {bigger}." if bigger else "")
        text(p, QRectF(14, y + 82, picture.width() - 28, 46), words, t.quiet, size=8.5, wrap=True)

    def as_text(self) -> str:
        found, unit = self.found, self.workspace.unit
        if found is None:
            return "No axle looked at."
        locker = LOCKER_WORDS[found.locker] if found.locker_known else "locker not known, judged as locked"
        out = [f"Ladder of {found.donor.name}, {locker}, {found.ratio or 0:.2f} gears"]
        for r in found.rungs:
            out.append(
                f"{r.title}\t{r.margin:.2f}\t± {2 * r.sigma:.2f}\tcarries {show(r.carries, 'torque', unit)}\tasked {show(r.demand, 'torque', unit)}\t{CASES[r.case]}"
            )
        out += [f"{u.title}\tnot known: {u.why}" for u in found.unknown]
        if self.second is not None:
            out += [f"{self.second.donor.name}\t{r.title}\t{r.margin:.2f}" for r in self.second.rungs]
        return "\n".join(out)


def _short(name: str) -> str:
    """A name as far as a line of several takes it."""
    return name if len(name) <= 34 else f"{name[:33]}…"

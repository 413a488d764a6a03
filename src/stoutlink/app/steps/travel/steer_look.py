"""Steering: what both road wheels do over the travel, the steering wheel, lock to lock, and the best holes for drag
link and panhard.
"""

from __future__ import annotations

import contextlib
import math
from functools import partial

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.travel.line_look import LineLook, LookLine, deg, most
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.analysis.cycle.steer import SteerTravel, wheel_turns
from stoutlink.core.analysis.cycle.steer_holes import HoleChoice, steering_holes
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.linkage.bracket_proposal import arm_holes_for
from stoutlink.core.analysis.linkage.steering_geometry import sector_of
from stoutlink.core.analysis.linkage.steering_proposal import drag_link_beside, tie_rod_behind
from stoutlink.core.document.layout import Layout
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.editing.steering_edits import FitSteeringHoles
from stoutlink.core.errors import StoutError
from stoutlink.core.study.question import GivenUp

MOST_SHOWN = 12
HYDRAULIC = "Full hydraulic steering: no drag link, so no bump steer, and no shaft from the wheel to the tyres. It is generally not legal on public roads: ask your local code. A burst hose leaves no steering."
Answer = tuple[Layout, tuple[HoleChoice, ...]]


class SteerLook(LineLook):
    """Bump and roll steer of the road wheels, lock, Ackermann, holes."""

    caution = "Steering parts are never welded at home; a drag link, tie rod or arm that fails leaves no steering. Have licensed people look it over before the road."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "steering", "Steering", parent)
        self.add = self.add_button(
            "travel_add_steering",
            "Add a drag link",
            "Beside the panhard, same hand, same slope; then drag its ends in Layout to where yours are.",
            self._add,
        )
        self.tie = self.add_button(
            "add_tie_rod",
            "Add a tie rod",
            "Behind the axle, its arms pointing at the middle of the rear axle; then type where yours is.",
            self._add_tie,
        )
        self.rows = self.add_button(
            "add_arm_holes",
            "Holes in the arms",
            "A row of holes in pitman and knuckle arm, the drag link in the first.",
            self._add_holes,
        )
        self.sector = self.add_button(
            "place_sector",
            "Place the sector",
            "Say where the sector shaft stands; until then the arm's length puts it.",
            self._place_sector,
        )
        self.best = self.add_button(
            "best_holes",
            "Best holes",
            "Every combination of holes of both arms and the panhard's brackets, by bump steer.",
            self._search,
        )
        self.buttons.addStretch(1)
        self.work: Background[Answer] = Background(self)
        self.answer: Answer | None = None
        self.progress = ""

    # Hands

    def _set(self, key: str, value: object, words: str) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.workspace.do(SetChoice(f"layouts.{layout.id}.steering{key}", value, words))

    def _add(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self._set("", drag_link_beside(self.workspace.rig, layout), "steering")

    def _add_tie(self) -> None:
        layout = self.layout_shown
        if layout is not None and layout.steering is not None:
            self._set(".tie_rod", tie_rod_behind(self.workspace.rig, layout.steering), "tie rod")

    def _add_holes(self) -> None:
        layout = self.layout_shown
        if layout is None or layout.steering is None:
            return
        holes = arm_holes_for(self.workspace.unit)
        self._set(".pitman_holes", holes, "pitman arm holes")
        self._set(".knuckle_holes", holes, "knuckle arm holes")

    def _place_sector(self) -> None:
        layout = self.layout_shown
        if layout is not None and layout.steering is not None:
            middle = tuple(round(float(v), 4) for v in sector_of(layout.steering).middle)
            self._set(".sector_m", middle, "place of the sector shaft")

    def _search(self) -> None:
        layout, travel, study = self.layout_shown, self.shown.travel, self.workspace.study
        if layout is None or travel is None:
            return

        def work(tell: Progress) -> Answer | None:
            with contextlib.suppress(GivenUp):
                return layout, study.best_steering_holes(layout.end, travel, going=tell)
            return None

        self.progress = "Trying every combination…"
        self.work.start(work, self._found, self._moved, self._failed)
        self._again()

    def _moved(self, part: float) -> None:
        self.progress = f"Trying every combination… {part:.0%}"
        self._again()

    def _found(self, answer: Answer) -> None:
        self.progress = ""
        self.answer = answer
        self._again()

    def _failed(self, why: StoutError) -> None:
        self.progress = why.words
        self._again()

    def _again(self) -> None:
        if self.theme is not None:
            self.prepare()
            self.list.update()

    def stop(self) -> None:
        """Leave off work beside the window."""
        self.work.stop()

    def _fit(self, one: HoleChoice) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.workspace.do(FitSteeringHoles(layout.id, one.pitman, one.knuckle, one.brackets))

    # What is shown

    def entries(self) -> tuple[Entry, ...]:
        layout = self.layout_shown
        front = layout is not None and layout.end == "front"
        s = None if layout is None else layout.steering
        drag = s is not None and s.kind == "drag_link"
        self.add.setVisible(front and s is None)
        self.tie.setVisible(s is not None and drag and s.tie_rod is None)
        self.rows.setVisible(s is not None and drag and s.pitman_holes is None and s.knuckle_holes is None)
        self.sector.setVisible(drag and s is not None and s.sector_m is None)
        self.best.setVisible(drag and layout is not None and steering_holes(layout) > 1)
        if layout is None or s is None:
            return ()
        at = f"layouts.{layout.id}.steering"
        out = [Entry(f"{at}.kind", "steering", "choice", (("drag_link", "drag link"), ("hydraulic", "full hydraulic")))]
        if drag:
            ends = (("knuckle", "knuckle"), *((("tie_rod", "tie rod"),) if s.tie_rod is not None else ()))
            out += [
                Entry(f"{at}.drag_on", "drag link on", "choice", ends),
                Entry(f"{at}.sector", "sector shaft", "choice", (("upright", "upright"), ("across", "across"))),
                Entry(f"{at}.box_ratio", "box ratio"),
                Entry(f"{at}.pitman_arm_m", "pitman arm"),
                Entry(f"{at}.sector_turn_rad", "sector turns"),
            ]
            if s.sector_m is not None:
                axes = enumerate(("station", "side", "height"))
                out += [Entry(f"{at}.sector_m.{i}", f"sector {axis}") for i, axis in axes]
            out += [
                Entry(f"{at}.{end}_m.{i}", f"{end} {axis}")
                for end in ("pitman", "knuckle")
                for i, axis in enumerate(("station", "side", "height"))
            ]
        out += [Entry(f"{at}.kingpin_in_rad", "kingpin leans in"), Entry(f"layouts.{layout.id}.caster_rad", "caster")]
        out += [Entry(f"{at}.kingpin_m.{i}", f"kingpin {axis}") for i, axis in ((1, "side"), (2, "height"))]
        if s.tie_rod is not None:
            out += [
                Entry(f"{at}.tie_rod.end_m.{i}", f"tie rod {axis}")
                for i, axis in enumerate(("station", "side", "height"))
            ]
            out.append(Entry(f"{at}.tie_rod.od_m", "tie rod outside"))
        for key, word in (("pitman_holes", "pitman"), ("knuckle_holes", "knuckle")):
            if getattr(s, key) is not None:
                out += [
                    Entry(f"{at}.{key}.holes", f"{word} holes"),
                    Entry(f"{at}.{key}.hole", f"{word} hole now"),
                    Entry(f"{at}.{key}.pitch_m", f"{word} pitch"),
                ]
        return tuple(out)

    def lines(self) -> list[LookLine]:
        travel, layout = self.shown.travel, self.layout_shown
        if travel is None or layout is None:
            return []
        if layout.end != "front":
            return [
                LookLine(
                    "The rear axle does not steer. Its own steer in roll stands in the verdict and among the curves."
                )
            ]
        if layout.steering is None:
            return [LookLine("No steering yet: add a drag link here, or in Layout under Sideways.")]
        if layout.steering.kind == "hydraulic":
            return [LookLine(HYDRAULIC, bad=True)]
        s = travel.steer
        if s is None:
            return []
        return [*self._travel(travel, s), *self._lock(s), *self._choices(layout)]

    def _travel(self, travel: AxleTravel, s: SteerTravel) -> list[LookLine]:
        unit = "inch" if self.workspace.unit == "in" else "25 mm"
        row, column = self.shown.row, self.shown.column
        worst = max(most(abs(s.left), travel), most(abs(s.right), travel))
        hands = most(abs(s.hands), travel)
        here = (
            f"{self._way(float(s.left[row, column]))}, {self._way(float(s.right[row, column]))}"
            if math.isfinite(float(s.left[row, column]))
            else "not reached"
        )
        out = [
            LookLine(
                "Steering",
                f"{s.words}, serves the {s.near} wheel",
                "Crossover: across the axle. Push-pull: along the frame. Drag link on the tie rod: both wheels through it.",
            ),
            LookLine(
                "Wheels here, left and right",
                here,
                "Headings with the steering wheel held straight, the axle's own turn included.",
            ),
            LookLine(
                f"Bump steer per {unit}",
                self._way(s.per_step, 3),
                "Half the change from 25 mm of droop to 25 mm of bump, of the served wheel.",
            ),
            LookLine(
                "Roll steer of the road wheel",
                f"{s.roll_steer:+.3f}°/°".replace("-", "−"),
                "Heading for a degree of the axle's roll (left side up +) at ride, steering wheel held; left is +.",
            ),
            LookLine(
                "Largest over the travel",
                deg(worst),
                "Of either wheel within the stops, roll included.",
                worst > math.radians(4.0),
            ),
            LookLine(
                "Steering wheel here, at most",
                f"{self._way(float(s.hands[row, column]), 0)}, {deg(hands, 0)}"
                if math.isfinite(float(s.hands[row, column]))
                else "not reached",
                "How far it turns in your hands while the road wheels are kept straight against their axle.",
            ),
        ]
        if abs(self.shown.steer) > 1e-3:
            out.insert(
                1,
                LookLine(
                    "Steered now, left and right",
                    ", ".join(self._way(v) for v in wheel_turns(s, self.shown.steer)),
                    "About the kingpins at the steer picked above, against the axle.",
                ),
            )
        if travel.motion is not None:
            caster = travel.curve("caster")
            if caster is not None and math.isfinite(float(caster.heave[column])):
                out.append(
                    LookLine(
                        "Caster here, kingpin in",
                        f"{deg(float(caster.heave[column]))}, {deg(s.steering.kingpin_in_rad)}",
                        "Caster at this heave without roll. Much of it steadies, and makes the axle's turn under bump felt more.",
                    )
                )
        if not s.reaches:
            out.append(
                LookLine(
                    "The drag link does not reach over the whole travel: it would pull the steering wheel out of your hands or break.",
                    bad=True,
                )
            )
        return out

    def _lock(self, s: SteerTravel) -> list[LookLine]:
        k = s.lock
        if k is None:
            return [LookLine("Drag link and tie rod lock up at once: check their places.", bad=True)]
        out = [
            LookLine(
                "Steering ratio in the middle", f"{k.ratio:.1f}:1", "Steering wheel over road wheel, arms as they lie."
            ),
            LookLine("Lock to lock", f"{k.turns:.1f} turns", f"Ended by {k.ended_by}."),
            LookLine(
                "Inner and outer wheel at lock",
                f"{deg(k.inner)}, {deg(k.outer)}",
                "The other wheel follows by the tie rod; without one both are taken alike.",
            ),
        ]
        if s.knuckle.tie is not None:
            out.append(
                LookLine(
                    "Outer wheel to roll freely",
                    f"{deg(k.ideal_outer)}, {deg(abs(k.apart))} {'more' if k.apart > 0 else 'less'} now",
                    "cot δo − cot δi = kingpins apart over wheelbase. What it turns beyond that scrubs on hard ground; on loose ground it hardly matters (common practice).",
                ),
            )
        return out

    def _choices(self, layout: Layout) -> list[LookLine]:
        if self.progress:
            return [LookLine(self.progress)]
        if self.answer is None or self.answer[0] is not layout:
            if steering_holes(layout) > 1:
                return [
                    LookLine(
                        f"{steering_holes(layout)} combinations of holes in arms and panhard brackets: Best holes ranks them."
                    )
                ]
            return []
        out = [LookLine("Holes, the least steer over the travel first; a click bolts them:")]
        brackets = {b.id: b.name.replace(",", "").lower() for b in layout.brackets}
        for n, one in enumerate(self.answer[1][:MOST_SHOWN]):
            arms = (
                (
                    ("pitman", layout.steering.pitman_holes, one.pitman),
                    ("knuckle", layout.steering.knuckle_holes, one.knuckle),
                )
                if layout.steering is not None
                else ()
            )
            words = [f"{arm} {hole}" for arm, row, hole in arms if row is not None] + [
                f"{brackets.get(name, name)} {hole}" for name, hole in one.brackets
            ]
            value = deg(abs(one.largest), 2) if math.isfinite(one.largest) else "does not reach"
            tip = f"Largest heading over the travel without roll; the axle is pushed {self.say(one.side_shift, 'length')} sideways; {self._way(one.per_step, 3)} per 25 mm; panhard {self.say(one.panhard_height, 'length', 1)} up on the centreline."
            out.append(
                LookLine(
                    ", ".join(words),
                    value + (" (now)" if one.current else ""),
                    tip,
                    act=partial(self._fit, one),
                    name=f"holes_{n}",
                    strong=one.current,
                    left=0.72,
                )
            )
        return out

    @staticmethod
    def _way(angle: float, digits: int = 1) -> str:
        """An angle with the side it goes to."""
        if not math.isfinite(angle):
            return "–"
        words = f"{abs(math.degrees(angle)):.{digits}f}°"
        return words if float(words[:-1]) == 0 else f"{words} {'left' if angle > 0 else 'right'}"

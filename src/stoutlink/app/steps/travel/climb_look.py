"""Climb: grade, ledge, braking, side slope and ramp, beside the same with the compared layouts."""

from __future__ import annotations

import math

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.travel.line_look import LineLook, LookLine, deg
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.analysis.cycle.behaviour import Behaviour, on_the_same
from stoutlink.core.analysis.vehicle.lacking import NotEntered
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study

Rival = Study
"""Another rig, cycled."""


class ClimbLook(LineLook):
    """Grade, ledge, side slope and ramp."""

    caution = "First estimates on even ground at a steady pace; bumps, speed and a shifting load take their part. Local conditions and your judgement decide."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "climb", "Climb, ledge, side slope, ramp", parent)
        self.rival: Rival | None = None
        self.other = self.add_button(
            "other_rig",
            "Beside another rig…",
            "Open another project file and show how that rig behaves beside this one.",
            self._open,
        )
        self.alone = self.add_button(
            "other_rig_away", "Take it away", "The other rig's numbers leave.", lambda: self._take(None)
        )
        self.work: Background[Rival] = Background(self)
        self.buttons.addStretch(1)
        self._said: tuple[tuple[object, ...], list[LookLine]] | None = None

    def _open(self) -> None:
        path = dialogs.choose_file(self, "Another rig", "", "Stout Link projects (*.stoutlink)", False)
        if path is None:
            return

        def work(tell: Progress) -> Rival:
            study = Study(read_project(path))
            study.behaviour()
            return study

        self.work.start(work, self._take, lambda part: None, lambda why: self.workspace.said.emit(why.words, True))

    def _take(self, rival: Rival | None) -> None:
        self.rival, self._said, self._filled = rival, None, None
        if self.theme is not None:
            self.prepare()
            self.list.update()

    def stop(self) -> None:
        self.work.stop()

    def entries(self) -> tuple[Entry, ...]:
        self.alone.setVisible(self.rival is not None)
        return (
            Entry("choosing.grade_rad", "grade"),
            Entry("loads.side_slope_rad", "side slope"),
            Entry("choosing.friction", "tyre grip"),
            Entry("loads.ledge_m", "ledge"),
        )

    def lines(self) -> list[LookLine]:
        """The same at every pose, so worked out once for what it rests on."""
        now = (self.workspace.project, *self.shown.both.values())
        if (
            self._said is None
            or len(now) != len(self._said[0])
            or any(a is not b for a, b in zip(now, self._said[0], strict=True))
        ):
            self._said = (now, self._all())
        return self._said[1]

    def _all(self) -> list[LookLine]:
        both = self.shown.both
        project, study = self.workspace.project, self.workspace.study
        if study.needs:
            return [LookLine(NotEntered(study.needs).sentence)]
        out = self._lines(study.behaviour({"front": both.get("front"), "rear": both.get("rear")}))
        if self.rival is not None:
            theirs = on_the_same(self.rival.project, project)
            axles = {end: self.rival.travel_known(end) for end in ("front", "rear")}
            against = self._lines(Study(theirs).behaviour(axles))
            return self._beside(
                out,
                against,
                f"with {theirs.name}",
                "Another rig, as its file has it, on this one's grade, ledge, side slope and grip.",
            )
        swapped = [end for end in ("front", "rear") if both.get(f"{end} compared") is not None]
        if not swapped:
            return out
        held = study.behaviour({end: both.get(f"{end} compared") or both.get(end) for end in ("front", "rear")})
        names = ", ".join(x.name for end in swapped if (x := project.compared(end)) is not None)
        return self._beside(
            out,
            self._lines(held),
            f"with {names}",
            "The same numbers with the compared layout; the other axle as it is.",
        )

    @staticmethod
    def _beside(out: list[LookLine], against: list[LookLine], names: str, tip: str) -> list[LookLine]:
        other = {one.word: one.value for one in against}
        head = LookLine(f"Beside it, in blue, {names}.", tip=tip)
        return [
            head,
            *(LookLine(x.word, x.value, x.tip, x.bad, other.get(x.word, "–") if x.value else "") for x in out),
        ]

    def _lines(self, found: Behaviour) -> list[LookLine]:
        grip = self.workspace.project.swap.choosing.friction
        return [
            *self._grade(found, grip),
            *self._ledge(found, grip),
            *self._braking(found),
            *self._across(found),
            *self._ramp(found),
        ]

    def _length(self, v: float) -> str:
        return self.say(v, "length", 1).replace("-", "−")

    def _grade(self, found: Behaviour, grip: float) -> list[LookLine]:
        slope = deg(found.grade, 0)
        c = found.climb
        front, rear = found.loads if c is None else (c.front, c.rear)
        out = [
            LookLine(
                f"{slope} grade, front and rear",
                f"{self.say(front, 'force')}, {self.say(rear, 'force')}",
                "Moments about the contacts"
                + (
                    ", the balance point as the springs have moved it."
                    if c is not None
                    else "; rigid until both axles have springs."
                ),
                front < 0,
            ),
            LookLine(
                "Grip it takes, all driven",
                f"{found.needed:.2f} of {grip:.2f}",
                "Thrust over the load on driven wheels, and what the tyres hold: less than that, or it slides first.",
                found.needed > grip,
            ),
            LookLine(
                "Grip it takes, rear alone",
                f"{found.needed_rear:.2f}",
                "The same with the front axle not driven.",
                found.needed_rear > grip,
            ),
        ]
        if c is not None:
            out += [
                LookLine(
                    "Thrust, front and rear",
                    f"{1 - c.share_rear:.0%}, {c.share_rear:.0%}",
                    "A locked transfer shares it by axle load on the grade (a convention: one speed, like slip); an open centre half each.",
                ),
                LookLine(
                    "Rear squats, front rises",
                    f"{self._length(c.travel_rear)}, {self._length(-c.travel_front)}",
                    "Springs, stops and support slopes of both axles at ride; gone round with the balance point as moved.",
                ),
                LookLine("Nose up by that", deg(c.nose_up), "On top of the grade itself."),
            ]
        out.append(LookLine("Over backward, rigid", deg(found.back_over), "The balance point over the rear contact."))
        if found.back_over_sprung is not None and found.back_over_flat is not None:
            out += [
                LookLine(
                    "Backward on its springs",
                    deg(found.back_over_sprung),
                    "Front hanging at its droop limit, all thrust at the rear. More anti-squat lifts the rear and costs back-over angle while it gains attitude.",
                ),
                LookLine(
                    "The same, links neutral",
                    deg(found.back_over_flat),
                    "With links that neither lift nor squat under thrust: what this geometry costs or gains.",
                ),
            ]
        else:
            out.append(
                LookLine(
                    "Squat, rise and back-over on the springs need springs at both axles: place coilovers or air springs in Springs, or leaves in Layout."
                )
            )
        out.append(LookLine("Over its nose, rigid", deg(found.nose_over), "Downhill, rigid."))
        return out

    def _ledge(self, found: Behaviour, grip: float) -> list[LookLine]:
        def words(all_driven: float | None, rear: float | None) -> str:
            return f"{'–' if all_driven is None else f'{all_driven:.2f}'}, {'no grip does' if rear is None else f'{rear:.2f}'}"

        one = found.ledge
        high = self.say(found.ledge_height, "length", 1)
        tip = "Least grip, all wheels driven and the rear alone; statics of both contacts, rigid on its springs, both tyres of the axle at once."
        return [
            LookLine(
                f"{high} ledge, front tyres",
                words(one.front_all, one.front_rear_drive),
                tip,
                one.front_all is None or one.front_all > grip,
            ),
            LookLine(
                f"{high} ledge, rear tyres",
                words(one.rear_all, one.rear_rear_drive),
                f"{tip} The front stands on top.",
                one.rear_all is None or one.rear_all > grip,
            ),
        ]

    def _braking(self, found: Behaviour) -> list[LookLine]:
        d = found.dive
        if d is None:
            return []
        return [
            LookLine(
                f"Braking, {d.locks} locks first",
                f"{d.deceleration:.2f} g",
                "On the level with the rig's brake split, until the first axle slides.",
                d.locks == "rear",
            ),
            LookLine(
                "Front drops, rear rises",
                f"{self._length(d.drop)}, {self._length(d.rise)}",
                "First order; the brakes' torque stays in the housing.",
            ),
            LookLine("Nose down by that", deg(d.nose_down), "Drop and rise over the wheelbase."),
        ]

    def _across(self, found: Behaviour) -> list[LookLine]:
        out = [
            LookLine(
                "Tips sideways, rigid",
                deg(found.tip[0])
                if abs(found.tip[0] - found.tip[1]) < 1e-4
                else f"{deg(found.tip[0])} to the left, {deg(found.tip[1])} to the right",
                "Over the line through both downhill contacts; the lean of the body brings it sooner.",
            )
        ]
        s = found.across
        if s is None:
            return [*out, LookLine("Lean, load transfer and first wheel lift need springs at both axles.")]
        slope = deg(s.asked.slope, 0)
        if s.asked.lean is None:
            why = (
                "Its springs are softer in roll than its weight pulls: anti-roll bar or stiffer springs."
                if s.no_rest
                else "It goes over before that."
            )
            return [
                *out,
                LookLine(f"On a {slope} side slope", "finds no rest", why, bad=True),
                *self._lifts(s.lift, s.lifts, s.tip),
            ]
        up, down = s.asked.uphill, s.asked.downhill
        return [
            *out,
            LookLine(
                f"Leans on a {slope} side slope",
                deg(s.asked.lean),
                "Body against its axles, springs and anti-roll bars of both; stops not counted.",
            ),
            LookLine(
                "Front tyres, up and down",
                f"{self.say(max(0.0, up[0]), 'force')}, {self.say(down[0], 'force')}",
                "Load of the uphill and the downhill tyre.",
                up[0] < 1.0,
            ),
            LookLine(
                "Rear tyres, up and down",
                f"{self.say(max(0.0, up[1]), 'force')}, {self.say(down[1], 'force')}",
                "Load of the uphill and the downhill tyre.",
                up[1] < 1.0,
            ),
            *self._lifts(s.lift, s.lifts, s.tip),
        ]

    def _lifts(self, lift: float | None, which: str, tip: float | None) -> list[LookLine]:
        out = []
        if lift is not None:
            words = "both uphill wheels" if which == "both" else f"{which} uphill wheel"
            out.append(LookLine("First wheel lifts", f"{deg(lift)}, {words}", "The stiffer end in roll lifts first."))
        if tip is not None:
            out.append(
                LookLine(
                    "Tips sideways, on its springs",
                    deg(tip),
                    "Both uphill wheels off the ground; after the first lift only the other axle's springs wind further.",
                )
            )
        return out

    def _ramp(self, found: Behaviour) -> list[LookLine]:
        if found.ramp is None or not math.isfinite(found.ramp):
            return []
        tip = f"1000 × distance up the ramp over the wheelbase; stopped by {found.ramp_stopped_by}; springs taken as soft enough to let it."
        return [LookLine("Ramp index, 20°", f"{found.ramp:.0f}", tip)]

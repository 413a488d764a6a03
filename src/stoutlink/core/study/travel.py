"""Questions about axles over their travel."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from typing import TYPE_CHECKING

from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.travel_rules import travel_findings
from stoutlink.core.analysis.cycle.axle_springs import Axles
from stoutlink.core.analysis.cycle.behaviour import Behaviour, behaviour
from stoutlink.core.analysis.cycle.curve_sure import Bands, curve_sure
from stoutlink.core.analysis.cycle.full_bump import BumpSheet, bump_sheet
from stoutlink.core.analysis.cycle.laden import AS_IT_STANDS, Laden, laden
from stoutlink.core.analysis.cycle.posed import Nearest, Posed, in_travel, near_pairs, nearest, standing
from stoutlink.core.analysis.cycle.steer_holes import HoleChoice, best_holes
from stoutlink.core.analysis.cycle.travel import AxleTravel, axle_travel
from stoutlink.core.analysis.cycle.travel_map import TravelMap, travel_map
from stoutlink.core.document.project import with_parts
from stoutlink.core.errors import StoutError
from stoutlink.core.study import parts as on
from stoutlink.core.study.question import FEW, GivenUp, known, question, rests_on_the_same
from stoutlink.core.study.vehicle import ENDS, End, Going, VehicleQuestions, go_on

if TYPE_CHECKING:
    from stoutlink.core.study.axle import AxleStudy


class TravelQuestions(VehicleQuestions):
    """What can be asked of axles cycled through heave, roll and steer. Work that takes long can be given up: ``going``
    is told how far it is and answers whether to go on."""

    axles: dict[str, AxleStudy]
    """Both axles, as the study has them."""

    @question(on.vehicle, on.layout, on.joints, keep=FEW)
    def best_steering_holes(self, end: str, travel: AxleTravel, *, going: Going = go_on) -> tuple[HoleChoice, ...]:
        """Every combination of holes of both arms and the panhard's brackets, the best first."""
        layout = self.project.layout(end)
        assert layout is not None
        grid = travel.grid if layout.leaf is not None else None
        stopped = False

        def tell(part: float) -> bool:
            nonlocal stopped
            stopped = not going(part)
            return not stopped

        found = best_holes(
            self.true.rig, layout, self.project.linkage.joints, layout.droop_m, layout.bump_m, tell, grid
        )
        if stopped and not found:
            raise GivenUp
        return found

    @question(
        *(on.entered, on.vehicle, on.layout, on.joints, on.schools, on.chosen, on.plans, on.grip),
        *(on.loads, on.solids, on.survey, on.lines_placed),
        keep=FEW,
    )
    def travel(self, end: str, *, going: Going = go_on) -> AxleTravel | None:
        """The axle cycled; ``None`` without a layout. Raises where :meth:`motion` does, and :class:`GivenUp`."""
        if self.project.layout(end) is None:
            return None
        self.require("stance", "weight", "train")
        found = axle_travel(self.project, self.true.rig, end, going)
        if found is None:
            raise GivenUp
        return found

    @question(
        *(on.entered, on.vehicle, on.compared, on.joints, on.schools, on.chosen, on.plans, on.grip),
        *(on.loads, on.lines_placed),
    )
    def travel_compared(self, end: str, *, going: Going = go_on) -> AxleTravel | None:
        """The compared layout cycled, without what it comes near."""
        other = self.project.compared(end)
        if other is None:
            return None
        self.require("stance", "weight", "train")
        held = with_parts(self.project, **{f"{end}_layout": other.id, f"{end}_compare": None})
        found = axle_travel(held, self.true.rig, end, going, touch=False)
        if found is None:
            raise GivenUp
        return found

    def posed_in(self, travel: AxleTravel, row: int, column: int, steer: float) -> Posed | None:
        """An axle at a pose of its travel; ``None`` where it does not get."""
        return in_travel(self.project, travel, row, column, steer)

    def posed_at(self, end: str, station: int | None = None) -> Posed | None:
        """An axle at ride height, or at a station of its heave; ``None`` where there is none, it does not get there, or
        nobody has entered where it stands."""
        independent = end == "front" and self.project.rig.drivetrain.front_axle == "independent"
        if self.needed("stance") or (independent and self.project.layout("front") is None):
            return None
        axle = self.axles[end]
        poses = axle.motion.heave.poses if station is not None and axle.motion is not None else None
        return standing(self.project, self.true.rig, end, axle.leaf, poses, station or 0)

    def near(self, posed: Posed | None, travel: AxleTravel | None, row: int, column: int) -> tuple[Nearest, ...]:
        """What is nearest at a pose of a travel, measured as the axle stands."""
        return () if posed is None or travel is None else nearest(posed, near_pairs(travel, row, column))

    @question(keep=FEW)
    def map_of(self, travel: AxleTravel) -> TravelMap:
        """Every pose of a travel judged."""
        return travel_map(travel)

    @question(on.entered, on.vehicle, on.chosen, on.plans, on.survey, keep=FEW)
    def bump_sheet(self, travel: AxleTravel) -> BumpSheet:
        """What there is to measure on an axle at its stops."""
        return bump_sheet(self.project, self.true.rig, travel)

    @question(on.units, keep=2 * FEW)  # of both axles
    def _travel_findings(self, travel: AxleTravel) -> tuple[Finding, ...]:
        return tuple(travel_findings(travel, self.map_of(travel), self.project.settings.units))

    def travel_findings_of(self, end: str) -> tuple[Finding, ...]:
        """What the travel of an end has to say, if it has been worked out."""
        travel = self.travel_known(end)
        return () if travel is None else self._travel_findings(travel)

    @question(
        *(on.entered, on.chosen, on.plans, on.schools, on.joints, on.grip, on.loads, on.survey, on.notes),
    )
    def curve_sure(self, travel: AxleTravel, *, going: Going = go_on) -> Bands:
        """1 σ of every curve of a travel."""
        found = curve_sure(self.project, self.true.rig, travel, going)
        if not found and travel.curves:
            raise GivenUp
        return found

    def behaviour(self, axles: Axles | None = None) -> Behaviour:
        """Grade, ledge, braking, side slope and ramp; of other axles than the project's where given."""
        used = self._axles() if axles is None else axles
        return self._behaviour(used.get("front"), used.get("rear"))

    def _axles(self) -> Axles:
        """The travel of both ends, where there is any."""
        out: Axles = {}
        for end in ENDS:
            try:
                out[end] = self.travel(end)
            except StoutError:
                out[end] = None
        return out

    @question(on.vehicle, on.choosing, on.loads, on.schools, keep=FEW)
    def _behaviour(self, front: AxleTravel | None, rear: AxleTravel | None) -> Behaviour:
        self.require("stance", "weight", "train")
        return behaviour(self.project, self.true.rig, {"front": front, "rear": rear})

    def laden(self, axles: Axles | None = None) -> tuple[Laden, ...]:
        """The rig as it stands and under every load case; of the axles cycled here unless others are given."""
        used = self._axles() if axles is None else axles
        return self._laden(used.get("front"), used.get("rear"))

    @question(on.entered, on.vehicle, on.schools, on.cases_said, keep=FEW)
    def _laden(self, front: AxleTravel | None, rear: AxleTravel | None) -> tuple[Laden, ...]:
        self.require("stance", "weight", "train")
        both: Axles = {"front": front, "rear": rear}
        cases = (AS_IT_STANDS, *self.project.linkage.load_cases)
        return tuple(laden(self.project, self.true.rig, both, case) for case in cases)

    def cycle(self, going: Going = go_on) -> None:
        """Work out the travel of both ends and of what they are held against, so that what is known is everything.
        Raises :class:`GivenUp`."""
        for n, (ask, end) in enumerate(self._travels):
            with contextlib.suppress(StoutError):
                ask(end, going=lambda part, n=n: going((n + part) / len(self._travels)))

    @property
    def _travels(self) -> tuple[tuple[Callable[..., AxleTravel | None], End], ...]:
        return tuple((ask, end) for ask in (self.travel, self.travel_compared) for end in ENDS)

    @property
    def cycled(self) -> bool:
        """Whether :meth:`cycle` has nothing left to do."""
        return all(known(ask, end)[0] for ask, end in self._travels)

    def cycles_like(self, other: TravelQuestions) -> bool:
        """Whether the travel of another study is this one's too."""
        return all(rests_on_the_same(ask, end, of=other) for ask, end in self._travels)

    def travel_known(self, end: str) -> AxleTravel | None:
        """The travel of an end if it has been worked out; nothing is worked out here."""
        found: AxleTravel | None = known(self.travel, end)[1]
        return found

    def travel_compared_known(self, end: str) -> AxleTravel | None:
        """The travel of the compared layout if it has been worked out."""
        found: AxleTravel | None = known(self.travel_compared, end)[1]
        return found

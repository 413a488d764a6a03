"""Questions about axles over their travel."""

from __future__ import annotations

import contextlib
from collections.abc import Callable

import msgspec

from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.travel_rules import travel_findings
from stoutlink.core.analysis.cycle.behaviour import Axles, Behaviour, behaviour
from stoutlink.core.analysis.cycle.curve_sure import Bands, curve_sure
from stoutlink.core.analysis.cycle.steer_holes import HoleChoice, best_holes
from stoutlink.core.analysis.cycle.travel import AxleTravel, axle_travel
from stoutlink.core.analysis.cycle.travel_map import TravelMap, travel_map
from stoutlink.core.errors import StoutError
from stoutlink.core.study import parts as on
from stoutlink.core.study.question import GivenUp, known, question, rests_on_the_same
from stoutlink.core.study.vehicle import ENDS, End, Going, VehicleQuestions, go_on


class TravelQuestions(VehicleQuestions):
    """What can be asked of axles cycled through heave, roll and steer. Work that takes long can be given up: ``going``
    is told how far it is and answers whether to go on."""

    @question(on.vehicle, on.layout, on.joints, on.way)
    def best_steering_holes(self, end: str, travel: AxleTravel, *, going: Going = go_on) -> tuple[HoleChoice, ...]:
        """Every combination of holes of both arms and the panhard's brackets, the best first."""
        layout, s = self.project.layout(end), self.project.settings
        assert layout is not None
        grid = travel.grid if layout.leaf is not None else None
        stopped = False

        def tell(part: float) -> bool:
            nonlocal stopped
            stopped = not going(part)
            return not stopped

        found = best_holes(self.true.rig, layout, self.project.joints, s.droop_m, s.bump_m, tell, grid)
        if stopped and not found:
            raise GivenUp
        return found

    @question(
        *(on.entered, on.vehicle, on.layout, on.joints, on.way, on.schools, on.chosen, on.plans, on.grip),
        *(on.loads, on.solids, on.survey),
    )
    def travel(self, end: str, *, going: Going = go_on) -> AxleTravel | None:
        """The axle cycled; ``None`` without a layout. Raises where :meth:`motion` does, and :class:`GivenUp`."""
        if self.project.layout(end) is None:
            return None
        found = axle_travel(self.project, self.true.rig, end, going)
        if found is None:
            raise GivenUp
        return found

    @question(
        *(on.entered, on.vehicle, on.compared, on.joints, on.way, on.schools, on.chosen, on.plans, on.grip),
        on.loads,
    )
    def travel_compared(self, end: str, *, going: Going = go_on) -> AxleTravel | None:
        """The compared layout cycled, without what it comes near."""
        other = self.project.compared(end)
        if other is None:
            return None
        held = msgspec.structs.replace(self.project, **{f"{end}_layout": other.id, f"{end}_compare": None})
        found = axle_travel(held, self.true.rig, end, going, touch=False)
        if found is None:
            raise GivenUp
        return found

    @question()
    def map_of(self, travel: AxleTravel) -> TravelMap:
        """Every pose of a travel judged."""
        return travel_map(travel)

    @question(on.units)
    def _travel_findings(self, travel: AxleTravel) -> tuple[Finding, ...]:
        return tuple(travel_findings(travel, self.map_of(travel), self.project.settings.units))

    @question(
        *(on.entered, on.chosen, on.plans, on.way, on.schools, on.joints, on.grip, on.loads, on.survey, on.notes),
    )
    def curve_sure(self, travel: AxleTravel, *, going: Going = go_on) -> Bands:
        """1 σ of every curve of a travel."""
        found = curve_sure(self.project, self.true.rig, travel, going)
        if not found and travel.curves:
            raise GivenUp
        return found

    def behaviour(self, axles: Axles | None = None) -> Behaviour:
        """Grade, ledge, braking, side slope and ramp; of other axles than the project's where given."""
        if axles is None:
            axles = {}
            for end in ENDS:
                try:
                    axles[end] = self.travel(end)
                except StoutError:
                    axles[end] = None
        return self._behaviour(axles.get("front"), axles.get("rear"))

    @question(on.vehicle, on.choosing, on.loads, on.schools)
    def _behaviour(self, front: AxleTravel | None, rear: AxleTravel | None) -> Behaviour:
        return behaviour(self.project, self.true.rig, {"front": front, "rear": rear})

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

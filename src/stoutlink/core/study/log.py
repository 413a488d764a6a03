"""Questions about the rig once it stands: as built, runs, what to change for what was felt, the test hill, care."""

from __future__ import annotations

import contextlib
import datetime

from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.log_rules import built_findings, log_findings
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.log.as_built import BuiltAxle, as_built
from stoutlink.core.analysis.log.care import CareDue, care_due
from stoutlink.core.analysis.log.hill import HillFound, drive_hill, hill_rig, locks
from stoutlink.core.analysis.log.next_reading import NextReading, next_readings
from stoutlink.core.analysis.log.rig_built import RigRow, ScaleMiss, WheelStands, rig_rows, scale_misses, wheels_stand
from stoutlink.core.analysis.log.runs import BarBack, bars_back, ends_now
from stoutlink.core.analysis.log.tuning import Tuning, tuning
from stoutlink.core.document.log import FeltWord, Run, RunNumber
from stoutlink.core.errors import StoutError
from stoutlink.core.study import parts as on
from stoutlink.core.study.parts_list import PartsListQuestions
from stoutlink.core.study.question import FEW, known, question, rests_on_the_same
from stoutlink.core.study.travel import TravelQuestions
from stoutlink.core.study.vehicle import ENDS, Going, go_on


class LogQuestions(PartsListQuestions):
    """What can be asked once it stands on its wheels. Questions take the axle's end."""

    @question(
        *(on.entered, on.vehicle, on.layout, on.joints, on.schools, on.chosen, on.plans, on.grip, on.loads),
        *(on.notes_on_rig, on.stations, on.built, on.at_the_bench),
    )
    def as_built(self, end: str) -> BuiltAxle | None:
        """The axle fitted to what was read of it; ``None`` without a layout or a reading. Raises while the rig is not entered."""
        layout = self.project.layout(end)
        if layout is None:
            return None
        self.require("stance", "weight", "train")
        self.motion(end)  # links that do not hold it have no numbers to be held against
        return as_built(self.project, self.true.rig, layout)

    @question(
        *(on.entered, on.vehicle, on.layout, on.joints, on.schools, on.chosen, on.plans, on.grip, on.loads),
        *(on.notes_on_rig, on.stations, on.built, on.at_the_bench),
    )
    def next_readings(self, end: str) -> tuple[NextReading, ...]:
        """What to read next on an axle, and what that would gain."""
        found = self.as_built(end)
        return () if found is None else next_readings(found)

    def run_now(self, key: str, name: str, day: str) -> Run:
        """A run with everything as it is set now, its numbers worked out; not kept: it is taken into the project."""
        numbers = []
        for end in ENDS:
            for gauge in self.axles[end].gauges:
                sigma = gauge.sigma if gauge.sigma == gauge.sigma else None
                if gauge.value == gauge.value and abs(gauge.value) < 1e6:
                    numbers.append(RunNumber(id=f"{end}-{gauge.id}", value=gauge.value, sigma=sigma))
        rig = self.project.rig
        return Run(
            id=key,
            name=name,
            when=day,
            front_pressure_pa=rig.front.trail_pressure_pa,
            rear_pressure_pa=rig.rear.trail_pressure_pa,
            front_locked=locks(self.locker_of("front")),
            rear_locked=locks(self.locker_of("rear")),
            ends=ends_now(self.project),
            numbers=tuple(numbers),
        )

    def bars_back(self, run: Run) -> tuple[BarBack, ...]:
        """What every bar asks for to be as in a run."""
        return bars_back(run, self.cuts)

    @question(on.vehicle, on.layout, on.joints, on.schools, on.solids)
    def tuning(self, end: str, felt: FeltWord, school: str) -> Tuning | None:
        """Every way to bolt an axle against what was felt, by one school; ``None`` where none bears on it. Raises where :meth:`hole_map` does."""
        layout = self.project.layout(end)
        if layout is None or not layout.brackets:
            return None
        found = self.hole_map(end)
        return None if found is None else tuning(self.project, self.true.rig, found, felt, school, self.cuts_of(end))

    @property
    def locked(self) -> tuple[bool, bool]:
        """Whether front and rear wheels are locked together where it is steep: by the lockers chosen."""
        return locks(self.locker_of("front")), locks(self.locker_of("rear"))

    def hill(self, locked: tuple[bool, bool] | None = None) -> HillFound | str:
        """The rig over the test hill as it is set, or one sentence why not yet; works the travel of both ends out where it must.
        ``locked``: front and rear wheels, where they are not as :attr:`locked`."""
        axles = self._axles()
        return self.hill_of(axles.get("front"), axles.get("rear"), self.locked if locked is None else locked)

    @question(on.entered, on.vehicle, on.chosen, on.plans, on.choosing, on.hill, keep=FEW)
    def hill_of(self, front: AxleTravel | None, rear: AxleTravel | None, locked: tuple[bool, bool]) -> HillFound | str:
        """The rig over the hill on axles cycled."""
        self.require("stance", "weight", "train")
        hill = self.project.log.hill
        if hill.kind == "own" and len(hill.points) < 2:
            return "A profile of your own takes two points or more."
        rig = hill_rig(self.project, self.true.rig, {"front": front, "rear": rear}, locked)
        return rig if isinstance(rig, str) else drive_hill(self.project, rig, hill)

    def rungs(self, end: str) -> tuple[tuple[str, str, float], ...]:
        """Parts of the axle of an end as its ladder has them: key, name, capacity over demand; none while it cannot be asked."""
        axle = self.project.donor(end)
        if axle is None or self.needed("stance", "weight", "train"):
            return ()
        return tuple((r.part, r.title, r.margin) for r in self.ladder(axle).rungs)

    def care(self, today: datetime.date) -> tuple[CareDue, ...]:
        """What is to be looked after, what is over first."""
        return care_due(self.project.log, self.project.bench.first_drive.driven_m, today)

    @property
    def rig_built(self) -> tuple[tuple[RigRow, ...], tuple[ScaleMiss, ...], tuple[WheelStands, ...]]:
        """The rig by scales beside what was stated, scales that do not agree, and wheels by the housings' straightness."""
        wheels = [w for end in ENDS for w in wheels_stand(self.station_sheet(end))]
        return rig_rows(self.project), scale_misses(self.project), tuple(wheels)

    def as_built_known(self, end: str) -> BuiltAxle | None:
        """An axle as built if it has been worked out; nothing is worked out here."""
        found: BuiltAxle | None = known(self.as_built, end)[1]
        return found

    def cycle(self, going: Going = go_on) -> None:
        """Work out the travel, and both axles as built, so that what is known is everything."""
        super().cycle(going)
        for end in self._read:
            with contextlib.suppress(StoutError):
                self.as_built(end)

    @property
    def cycled(self) -> bool:
        """Whether :meth:`cycle` has nothing left to do."""
        return super().cycled and all(known(self.as_built, end)[0] for end in self._read)

    def cycles_like(self, other: TravelQuestions) -> bool:
        """Whether travel and as built of another study are this one's too."""
        return super().cycles_like(other) and all(rests_on_the_same(self.as_built, end, of=other) for end in self._read)

    @property
    def _read(self) -> tuple[str, ...]:
        """Ends of which something was read as built."""
        return tuple(end for end in ENDS if any(r.end == end for r in self.project.log.built.readings))

    @question(on.units)
    def _built_findings(self, found: BuiltAxle) -> tuple[Finding, ...]:
        return tuple(built_findings(found, self.project.settings.units))

    @question(on.log, on.at_the_bench, on.layouts_used, on.units)
    def _log_findings(self) -> tuple[Finding, ...]:
        return tuple(log_findings(self.project))

"""Steering, shafts and solids that cannot be, or hardly can: refused in one sentence, or cycled with nothing but
numbers in the answer.
"""

from __future__ import annotations

import json
import math
import random
from typing import Any

import msgspec
import numpy as np
import pytest

from stoutlink.core.analysis.cycle.steer import axle_lock, steer_range, wheel_turns
from stoutlink.core.analysis.cycle.travel import axle_travel
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.project import Project
from stoutlink.core.document.springing import Driveshaft
from stoutlink.core.document.steering import Holes, Steering, TieRod
from stoutlink.core.document.survey import OutlineSolid
from stoutlink.core.editing.edits import PutInList, SetChoice
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.reports.travel_results import travel_results


def steering(project: Project) -> Steering:
    layout = project.layout("front")
    assert layout is not None
    assert layout.steering is not None
    return layout.steering


def cycled(project: Project, end: str) -> dict[str, Any]:
    """The answer as strict JSON: raises on anything that is not a number."""
    found = axle_travel(project, effective_vehicle(project).rig, end)
    assert found is not None
    return json.loads(json.dumps(travel_results(found), allow_nan=False))  # type: ignore[no-any-return]


@pytest.mark.parametrize(("key", "value", "code"), [
    ("tie_rod", lambda s: TieRod(end_m=(2.8, -s.kingpin_m[1], 0.4)), "D147"), ("tie_rod", lambda s: TieRod(end_m=s.kingpin_m), "D153"),
    ("knuckle_m", lambda s: s.kingpin_m, "D153"), ("pitman_m", lambda s: s.knuckle_m, "D151"), ("sector_m", lambda s: s.pitman_m, "D152"),
    ("sector_m", lambda s: (s.pitman_m[0], s.pitman_m[1], s.pitman_m[2] + 0.2), "D152"), ("kingpin_m", lambda s: (2.66, 0.0, 0.47), "D146"),
    ("knuckle_holes", lambda s: Holes(holes=2, hole=3), "D149"),
])  # fmt: skip
def test_steering_that_cannot_be_is_refused(basalt: Project, key: str, value: Any, code: str) -> None:
    with pytest.raises(ValueOutOfRange) as said:
        SetChoice(f"layouts.front-a.steering.{key}", value(steering(basalt)), "x").apply(basalt)
    assert said.value.code == code
    assert key.removesuffix("_m").replace("_", " ") in said.value.sentence
    assert "_m" not in said.value.sentence
    with pytest.raises(ValueOutOfRange, match="there is none"):
        SetChoice(
            "layouts.front-a.steering", msgspec.structs.replace(steering(basalt), tie_rod=None, drag_on="tie_rod"), "x"
        ).apply(basalt)


@pytest.mark.parametrize("end_m", [(2.66, -0.45, 0.42), (2.5, -0.05, 0.42), (2.9, -0.9, 0.42), (2.45, -0.30, 0.42)])
def test_a_tie_rod_that_locks_up_ends_the_steer(basalt: Project, end_m: tuple[float, float, float]) -> None:
    """Whatever the rod: at both ends of the steer both wheels stand somewhere, within the axle's lock, and one step
    further they would not.
    """
    one = SetChoice("layouts.front-a.steering.tie_rod", TieRod(end_m=end_m), "x").apply(basalt)
    found = axle_travel(one, effective_vehicle(one).rig, "front", touch=False)
    assert found is not None
    assert found.steer is not None
    donor = one.donor("front")
    lock = axle_lock(donor)
    for end in steer_range(found.steer, donor):
        assert max(abs(v) for v in wheel_turns(found.steer, end)) <= lock + 1e-9
        beyond = math.copysign(abs(end) + 1e-4, end)
        other = float(found.steer.knuckle.other_turn(np.asarray(beyond)))
        assert not math.isfinite(other) or max(abs(other), abs(beyond)) > lock
    assert cycled(one, "front")["touching"]


def test_any_steering_gives_numbers(basalt: Project) -> None:
    rng, old = random.Random(7), steering(basalt)
    for _ in range(10):
        made = msgspec.structs.replace(
            old,
            pitman_m=(2.9 + rng.uniform(-0.4, 0.4), rng.uniform(-0.5, 0.5), rng.uniform(0.4, 0.9)),
            knuckle_m=(2.85 + rng.uniform(-0.3, 0.3), rng.uniform(-0.7, 0.2), rng.uniform(0.4, 0.8)),
            sector_m=None,
            sector=rng.choice(["upright", "across"]),
            drag_on=rng.choice(["knuckle", "tie_rod"]),
            tie_rod=TieRod(end_m=(2.66 + rng.uniform(-0.3, 0.3), rng.uniform(-0.7, -0.1), 0.42)),
        )
        data = cycled(SetChoice("layouts.front-a.steering", made, "x").apply(basalt), "front")
        assert data["steering"]["kind"] in ("crossover", "push-pull", "drag link to the tie rod")


def test_a_carrier_on_the_pinion_and_an_outline_without_area(basalt: Project) -> None:
    found = axle_travel(basalt, effective_vehicle(basalt).rig, "rear", touch=False)
    assert found is not None
    assert found.shaft is not None
    x, y, z = (float(v) for v in found.shaft.joint[found.grid.ride])
    on_it = SetChoice("layouts.rear-a.driveshaft", Driveshaft(kind="two_piece", carrier_m=(x, y, z)), "x").apply(basalt)
    assert cycled(on_it, "rear")["driveshaft"]["length_m"] == pytest.approx(0.0, abs=1e-9)
    line = OutlineSolid(
        id="line",
        name="Line",
        kind="other",
        view="plan",
        outline_m=((0.0, 0.0), (1.0, 0.0), (2.0, 0.0)),
        low_m=0.3,
        high_m=0.7,
    )
    pairs = cycled(PutInList("solids", line, "x").apply(basalt), "rear")["touching"]
    assert any(p["other"] == "Line" for p in pairs)

"""First order against readings drawn at random, through the whole analysis."""

from __future__ import annotations

import math
from typing import Any

import msgspec
import numpy as np
import pytest
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.axle_motion import AxleMotion, axle_motion
from stoutlink.core.analysis.linkage.uncertainty import Cases, headlines, how_sure, pivot_readings
from stoutlink.core.analysis.swap.donor_in_rig import donor_in_rig
from stoutlink.core.analysis.swap.donor_sure import NUMBERS, donor_sure
from stoutlink.core.analysis.swap.ladder import ladder
from stoutlink.core.analysis.vehicle.anti_numbers import load_share, school_height
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.analysis.vehicle.rig_numbers import rig_numbers
from stoutlink.core.analysis.vehicle.rig_readings import rig_cases
from stoutlink.core.document.paths import get_value, with_value
from stoutlink.core.document.project import Entry, Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.position import sweep
from stoutlink.core.mechanics.weight import thrust_share
from stoutlink.core.study.study import Study

Array = NDArray[np.float64]
DRAWS = 4000
"""The sample's own σ is known to 1/√(2n) = 1.1 %."""


def drawn_rigs(project: Project, rng: np.random.Generator) -> list[Rig]:
    """Rigs in force with every rig reading drawn at once, each worked out anew from the project."""
    cases = rig_cases(project)
    base = {c.path: get_value(project, c.path) for c in cases}
    out = []
    for _ in range(DRAWS):
        moved = project
        for c in cases:
            value = base[c.path] if base[c.path] is not None else project.rig.end(c.path.split(".")[1]).loaded
            moved = with_value(moved, c.path, value + rng.normal(0.0, c.sigma))
        out.append(effective_vehicle(moved).rig)
    return out


def drawn_headlines(
    project: Project, motion: AxleMotion, rng: np.random.Generator
) -> tuple[dict[str, Array], Array, Array]:
    layout, end, s = motion.layout, motion.end, project.settings
    rigs = drawn_rigs(project, rng)
    frame, axle = (
        np.tile(np.array([link.pivot(w) for link in layout.links]), (DRAWS, 1, 1)) for w in ("frame", "axle")
    )
    for r in pivot_readings(layout, {}):
        z = rng.normal(0.0, r.sigma, DRAWS)
        for which, bar, axis, factor in r.moves:
            (frame if which == "frame" else axle)[:, bar, axis] += factor * z
    cases = Cases(
        frame,
        axle,
        np.array([axle_centre(r, end) for r in rigs]),
        np.array([r.wheelbase_m for r in rigs]),
        np.array([r.cg_height_m for r in rigs]),
        np.array([school_height(r, s.height_school) for r in rigs]),
        np.array([thrust_share(s.thrust_school, load_share(r, end)) for r in rigs]),
        np.array([r.brake_front_share if end == "front" else 1 - r.brake_front_share for r in rigs]),
    )
    return headlines(end, layout, project.linkage.joints, cases), frame, axle


@pytest.mark.parametrize("end", ["rear", "front"])
@pytest.mark.parametrize("thrust", ["full_thrust", "shared_locked"])
def test_first_order_is_within_five_percent_of_drawing(basalt: Project, end: str, thrust: str) -> None:
    settings = msgspec.structs.replace(
        basalt.settings,
        thrust_school=thrust,
        height_school="sprung_mass" if thrust == "shared_locked" else "whole_vehicle",
    )
    project = msgspec.structs.replace(basalt, settings=settings)
    motion = Study(project).axles[end].motion
    assert motion is not None
    sure = how_sure(project, motion)
    drawn, frame, axle = drawn_headlines(project, motion, np.random.default_rng(5))
    for name, values in drawn.items():
        assert sure[name].sigma == pytest.approx(float(values.std()), rel=0.05), name
        middle = {
            "drive": motion.ride.drive_percent[thrust][settings.height_school],
            "roll_centre_height": motion.ride.roll_centre_height,
        }.get(name)
        if middle is not None:
            assert float(values.mean()) - middle == pytest.approx(
                sure[name].shift, abs=4 * float(values.std()) / math.sqrt(DRAWS)
            )
    if thrust == "full_thrust":
        bars = Bars.of(motion.centre, frame, axle)
        steps = np.linspace(-0.15, 0.15, 9)
        p = sweep(bars, steps, np.zeros_like(steps))
        spread = np.ptp(p.pitch, axis=1)
        assert sure["pinion"].sigma == pytest.approx(float(spread.std()), rel=0.05)


def test_where_first_order_is_not_enough_it_is_drawn_and_said(basalt: Project) -> None:
    """CG height known to ±0.5 m (1 σ 0.25 m): 1/h is far from straight."""
    wide = Entry(field="rig.cg_height_m", basis="estimated", sigma=0.2)
    project = msgspec.structs.replace(basalt, entries=(*(e for e in basalt.entries if e.field != wide.field), wide))
    motion = Study(project).axles["rear"].motion
    assert motion is not None
    sure = how_sure(project, motion)["drive"]
    assert sure.method == "drawn at random"
    assert how_sure(project, motion)["steer"].method == "first order"
    z = np.random.default_rng(1).normal(0.0, 0.2, 20000)
    value = motion.ride.drive_percent["full_thrust"]["whole_vehicle"]
    direct = value * motion.rig.cg_height_m / (motion.rig.cg_height_m + z)
    direct = direct[np.abs(z) < 3 * 0.2]
    assert sure.sigma == pytest.approx(float(direct.std()), rel=0.15)
    assert sure.shift > 0


def test_one_spread_moves_both_pivots_and_one_zero_every_station(basalt: Project) -> None:
    layout = basalt.layout("rear")
    assert layout is not None
    readings = {r.what: r for r in pivot_readings(layout, {})}
    assert sorted(m[3] for m in readings["upper pair, frame spread"].moves) == [-0.5, 0.5]
    assert {m[1] for m in readings["tape zero"].moves} == {0, 1, 2, 3}
    assert len(readings) == 1 + 2 * 2 * 3  # the zero, and three readings at both ends of two pairs
    side = "layouts.rear-a.links.upper_right.frame_pivot_m.1"
    noted = {r.what: r.sigma for r in pivot_readings(layout, {side: 0.004})}
    assert noted["upper pair, frame spread"] == pytest.approx(0.008)  # noted of one side, read as full width
    free = msgspec.structs.replace(layout, mirrored=False)
    assert len(pivot_readings(free, {})) == 1 + 4 * 2 * 3


def test_parts_add_up_and_halving_helps_as_promised(basalt: Project) -> None:
    motion = Study(basalt).axles["rear"].motion
    assert motion is not None
    one = how_sure(basalt, motion)["drive"]
    assert one.parts[0].what == "centre of gravity height"
    assert sum(p.share for p in one.parts) <= 1.0 + 1e-9
    halved = Entry(field="rig.cg_height_m", basis="measured", sigma=0.02)
    project = msgspec.structs.replace(basalt, entries=(*(e for e in basalt.entries if e.field != halved.field), halved))
    again = Study(project).axles["rear"].motion
    assert again is not None
    assert how_sure(project, again)["drive"].sigma == pytest.approx(one.parts[0].if_halved, rel=1e-3)


def test_the_rigs_own_numbers_against_drawing(basalt: Project) -> None:
    rigs = drawn_rigs(basalt, np.random.default_rng(2))
    sure = rig_numbers(basalt)
    pick: dict[str, Any] = {
        "mass": lambda r: r.mass_kg,
        "cg_ahead": lambda r: r.cg_ahead_of_rear_m,
        "sprung_cg_height": lambda r: school_height(r, "sprung_mass"),
        "front_load": lambda r: r.mass_kg * load_share(r, "front"),
        "rear_unsprung": lambda r: r.rear.unsprung,
    }
    for name, value in pick.items():
        assert sure[name].sigma == pytest.approx(float(np.std([value(r) for r in rigs])), rel=0.05), name


def test_a_loaded_radius_does_not_move_pivots(basalt: Project) -> None:
    """Pivot heights are read from the floor: the contact stays under the same links."""
    lower = with_value(basalt, "rig.rear.loaded_radius_m", 0.45)
    one, two = (axle_motion(effective_vehicle(p).rig, p.linkage.layouts[0], p.linkage.joints) for p in (basalt, lower))
    assert one.ride.slope == pytest.approx(two.ride.slope, abs=1e-12)


def test_a_donors_numbers_against_drawing(basalt: Project) -> None:
    """Gears through the rolling radius, demand through weight, balance and loaded radius."""
    donor = basalt.donor("front")
    assert donor is not None
    drawn = [donor_in_rig(r, donor) for r in drawn_rigs(basalt, np.random.default_rng(4))]
    sure = donor_sure(basalt, donor)
    for name in NUMBERS:
        assert sure[name] == pytest.approx(float(np.std([getattr(d, name) for d in drawn])), rel=0.05), name
    rpm = donor_in_rig(effective_vehicle(basalt).rig, donor).rpm_at_road_speed
    assert rpm is not None
    assert sure["rpm_at_road_speed"] / rpm == pytest.approx(0.0057 / 0.480441, rel=0.02)


def test_a_margins_plus_minus_against_drawing(basalt: Project) -> None:
    """The demand of every part drawn at random over the rig's readings; the capacity's own ± is laid beside it."""
    donor = basalt.donor("rear")
    assert donor is not None
    drawn = [
        ladder(r, donor, basalt.swap.rear_plan, basalt.swap.choosing)
        for r in drawn_rigs(basalt, np.random.default_rng(8))
    ]
    for rung in ladder(
        effective_vehicle(basalt).rig, donor, basalt.swap.rear_plan, basalt.swap.choosing, sure=basalt
    ).rungs:
        demands = np.array([r.demand for one in drawn for r in one.rungs if r.part == rung.part])
        wanted = rung.margin * math.hypot(rung.capacity.sigma, float(demands.std() / demands.mean()))
        assert rung.sigma == pytest.approx(wanted, rel=0.05), rung.part


def test_a_tapes_zero_noted_beside_it_counts(basalt: Project) -> None:
    motion = Study(basalt).axles["rear"].motion
    assert motion is not None
    noted = Entry(field="surveys.as-built.datum.zero_x_m", basis="measured", sigma=0.05)
    loose = msgspec.structs.replace(basalt, entries=(*basalt.entries, noted))
    parts = {p.what: p.share for p in how_sure(loose, motion)["hold"].parts}
    assert parts["tape zero"] > 0.9

"""Leaf springs against beams solved on their own, published relations, and the program's own other ways."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.leaf_axle import halves_of, leaf_axle, leaf_sure
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.layout import Layout, Link, LinkEnd
from stoutlink.core.document.leaf import Leaf, LeafSpring
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import SetChoice, SetNumber
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.mechanics.leaf_spring import (
    Halves,
    SpringShape,
    end_rate,
    front_eye_slope,
    leaf_stress,
    section,
    support_slope,
    u_bolt,
    wrap,
)
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

Array = NDArray[np.float64]
E = 207e9


@pytest.fixture
def tamarack() -> Project:
    """The pickup: front three-link, leaves behind."""
    return read_project(demo_file("tamarack.stoutlink"))


def beam(a: float, b: float, inertia: float, *, held: bool) -> tuple[Array, Array]:
    """Uniform beam on pinned eyes with a rigid seat at a, by finite elements (Euler–Bernoulli, 24 pieces): compliance
    of the seat's height and tilt (nose up) to a force up and a moment nose up at the seat; ``held`` keeps the seat
    from tilting."""
    n = 24
    xs = np.concatenate([np.linspace(-b, 0, n // 2 + 1), np.linspace(0, a, n // 2 + 1)[1:]])
    k = np.zeros((2 * n + 2, 2 * n + 2))
    for i in range(n):
        length = xs[i + 1] - xs[i]
        part = (
            E
            * inertia
            / length**3
            * np.array(
                [
                    [12, 6 * length, -12, 6 * length],
                    [6 * length, 4 * length**2, -6 * length, 2 * length**2],
                    [-12, -6 * length, 12, -6 * length],
                    [6 * length, 2 * length**2, -6 * length, 4 * length**2],
                ]
            )
        )
        at = slice(2 * i, 2 * i + 4)
        k[at, at] += part
    seat = n  # node n // 2
    gone = [0, 2 * n] + ([seat + 1] if held else [])
    free = [i for i in range(2 * n + 2) if i not in gone]
    load = np.zeros((2 * n + 2, 2))
    load[seat, 0], load[seat + 1, 1] = 1.0, 1.0
    found = np.zeros_like(load)
    found[free] = np.linalg.solve(k[np.ix_(free, free)], load[free])
    return found[seat], found[seat + 1]


@pytest.mark.parametrize(("a", "b"), [(0.6, 0.6), (0.55, 0.72), (0.7, 0.5)])
def test_rates_tilt_and_wind_up_of_uniform_leaves_against_finite_elements(a: float, b: float) -> None:
    pack = section(0.0635, [(0.008, 1)])
    h = Halves(a, b, end_rate(a, pack, 1.5), end_rate(b, pack, 1.5))  # SF 1.5: full-length leaf, δ = F·a³/(3EI)
    height, tilt = beam(a, b, pack / 12, held=False)
    assert h.heave_rate == pytest.approx(1 / height[0], rel=1e-9)
    assert h.nose_down_per_bump == pytest.approx(-tilt[0] / height[0], abs=1e-9)
    assert h.nose_down_per_bump == pytest.approx(1 / a - 1 / b, abs=1e-12)
    assert h.roll_rate == pytest.approx(1 / beam(a, b, pack / 12, held=True)[0][0], rel=1e-9)
    # wind-up at constant seat load: a moment without a change of the seat's force, its height free
    assert h.wind_up_rate == pytest.approx(1 / tilt[1], rel=1e-9)


def test_published_forms_of_a_symmetric_spring() -> None:
    """Shigley and SAE HS-788: k = 8·E·n·w·t³/(3·L³) for a semi-elliptic spring of uniform strength; wind-up k·L²/4
    (SAE HS-788).
    """
    width, thick, count, length = 0.0635, 0.0075, 5, 1.22
    pack = section(width, [(thick, count)])
    h = Halves(length / 2, length / 2, end_rate(length / 2, pack), end_rate(length / 2, pack))
    assert h.heave_rate == pytest.approx(8 * E * count * width * thick**3 / (3 * length**3))
    assert h.wind_up_rate == pytest.approx(h.heave_rate * length**2 / 4)
    assert h.nose_down_per_bump == 0.0
    assert h.roll_rate == pytest.approx(h.heave_rate)
    # bending stress 3·F·L/(2·n·w·t²) at the seat of a semi-elliptic spring (Shigley; any text)
    assert leaf_stress(4000.0, length / 2, length / 2, thick, pack) == pytest.approx(
        3 * 4000 * length / (2 * count * width * thick**2)
    )


@given(st.floats(0.4, 0.8), st.floats(0.4, 0.8), st.floats(0.02, 0.12), st.floats(0.4, 0.7), st.booleans())
@settings(max_examples=40)
def test_support_slope_is_the_path_of_the_contact(a: float, b: float, c: float, seat: float, behind: bool) -> None:
    """By moving the spring a hair: the point under the seat, carried with the housing."""
    h = Halves(a, b, 9e4 / a**3, 9e4 / b**3)
    shape = SpringShape(h, seat + c, seat + c, seat, 0.1, 0.3, behind)
    step = 1e-6
    up, down = shape.at(step), shape.at(-step)
    forward = ((up.forward - seat * math.sin(up.nose_down)) - (down.forward - seat * math.sin(down.nose_down))) / (
        2 * step
    )
    assert support_slope(shape.motion(), seat, "rear") == pytest.approx(-forward, abs=1e-6)
    assert support_slope(shape.motion(), seat, "front") == pytest.approx(forward, abs=1e-6)
    if not behind:
        assert support_slope(shape.motion(), seat, "rear") == pytest.approx(
            4 * c / (3 * a) + (1 / a - 1 / b) * (seat - c / 3), abs=1e-9
        )


def test_wrap_does_the_work_of_the_thrust() -> None:
    """Virtual work: turn the housing by wrap about the hinge of the rigid link; the thrust's work at the contact is
    that of the wind-up.

    The hinge stands a quarter of the front half ahead of the seat and moves along the link's slope c/(0.75·a) only.
    """
    h, seat, c, thrust = Halves(0.6, 0.7, 8e4, 6e4), 0.55, 0.08, 7000.0
    turn = 1e-6  # nose up, seat kept at its height (constant seat load)
    rise_of_hinge = 0.25 * h.a * turn
    forward_of_hinge = -rise_of_hinge * c / (0.75 * h.a)
    forward_of_contact = forward_of_hinge + seat * turn  # nose up swings the contact forward
    moment = thrust * forward_of_contact / turn
    assert wrap(thrust, seat, c, h.wind_up_rate) == pytest.approx(moment / (2 * h.wind_up_rate))


def test_front_eye_is_an_upper_bound_and_parallel_halves_give_the_arc_alone() -> None:
    assert front_eye_slope(0.6, 0.63) == pytest.approx(0.6 / 0.63)
    with pytest.raises(ValueError, match="over the axle"):
        front_eye_slope(0.6, 0.0)


def test_shackle_by_hand() -> None:
    """A flat symmetric spring: the moving eye stays behind the seat by b, so the shackle's lean follows from two
    heights alone.
    """
    h = Halves(0.6, 0.6, 1e5, 1e5)
    shape = SpringShape(h, 0.6, 0.6, 0.6, 0.12, 0.4)
    ride = shape.at(0.0)
    assert ride.shackle == pytest.approx(0.4)
    assert ride.eye == pytest.approx((-0.6, 0.6))
    px, pz = shape.frame_pivot
    assert (px, pz) == pytest.approx((-0.6 + 0.12 * math.sin(0.4), 0.6 + 0.12 * math.cos(0.4)))
    bump = shape.at(0.1)
    assert math.dist(bump.eye, (px, pz)) == pytest.approx(0.12)
    assert math.dist(bump.eye, (bump.forward - 0.15, 0.7)) == pytest.approx(0.45)
    assert bump.forward == pytest.approx(0.45 - math.sqrt(0.45**2 - 0.1**2))
    assert not math.isfinite(shape.at(0.5).shackle)


def test_u_bolt_adds_up() -> None:
    """Common practice: tube + pad + pack + plate + washer + nut + three pitches."""
    inside, leg = u_bolt(0.08, 0.08, 0.01 + 0.035 + 0.01, 0.0127, 0.00127, 0.003)
    assert inside == 0.08
    assert leg == pytest.approx(0.08 + 0.055 + 0.003 + 0.0127 + 3 * 0.00127)


def test_a_measured_rate_wins_and_keeps_the_shape(tamarack: Project) -> None:
    leaf = tamarack.layout("rear").leaf  # type: ignore[union-attr]
    assert leaf is not None
    plain = halves_of(leaf)
    measured = halves_of(msgspec.structs.replace(leaf, measured_rate_n_per_m=40e3))
    assert measured.heave_rate == pytest.approx(40e3)
    assert measured.nose_down_per_bump == pytest.approx(plain.nose_down_per_bump)


def test_the_pickup_by_hand(tamarack: Project) -> None:
    """Every headline of the demo's rear axle again, from its record, in a few lines of its own."""
    rig, layout = effective_vehicle(tamarack).rig, tamarack.layout("rear")
    assert layout is not None
    found = leaf_axle(tamarack, rig, layout)
    leaf = layout.leaf
    assert found is not None
    assert leaf is not None
    a, b = leaf.front_m, leaf.rear_m
    inertia = sum(x.count * x.thickness_m**3 for x in leaf.leaves) * leaf.width_m
    ka, kb = (E * inertia * leaf.shape_factor / (6 * (v - leaf.clamp_m / 2) ** 3) for v in (a, b))
    assert found.halves.heave_rate == pytest.approx((a + b) ** 2 / (b * b / ka + a * a / kb))
    c = leaf.front_eye_z_m - leaf.seat_z_m
    # a unit load on the seat: the eyes take it by their levers and give by their halves; what is clamped only bends less
    da, db = b / (a + b) / ka, a / (a + b) / kb
    down = (db - da) / (a * db + b * da)  # 1/a − 1/b without a clamp
    slope = 4 * c / (3 * a) + down * (leaf.seat_z_m - c / 3)
    assert found.drive_percent["full_thrust"]["whole_vehicle"] == pytest.approx(
        100 * slope * rig.wheelbase_m / rig.cg_height_m
    )
    assert found.roll_steer == pytest.approx(4 * c / (3 * a))
    weight = rig.mass_kg * 9.80665
    thrust = tamarack.swap.choosing.friction * (
        weight * (1 - rig.cg_ahead_of_rear_m / rig.wheelbase_m)
        + tamarack.swap.choosing.friction * weight * rig.cg_height_m / rig.wheelbase_m
    )
    assert found.thrust == pytest.approx(thrust)  # the tyres' limit: no rear axle, so no ratio, is chosen yet
    wound = ka * kb * (a + b) ** 2 / (ka + kb)
    assert found.wrap == pytest.approx(thrust * (leaf.seat_z_m - c / 3) / (2 * wound))
    assert {"G240"} <= {f.code for f in Study(tamarack).findings}


def test_how_sure_against_draws(tamarack: Project) -> None:
    """First order against 1500 rigs drawn from the same readings, for what depends on the leaf's own readings alone."""
    rig, layout = effective_vehicle(tamarack).rig, tamarack.layout("rear")
    assert layout is not None
    found = leaf_axle(tamarack, rig, layout)
    assert found is not None
    sure = leaf_sure(tamarack, found)
    leaf, rng = layout.leaf, np.random.default_rng(5)
    assert leaf is not None
    steer, rate = [], []
    for _ in range(1500):
        moved = msgspec.structs.replace(
            leaf,
            **{
                k: getattr(leaf, k) + rng.normal(0, 0.003)
                for k in ("front_m", "rear_m", "width_m", "front_eye_z_m", "rear_eye_z_m", "seat_z_m", "shackle_m")
            },
            shape_factor=leaf.shape_factor + rng.normal(0, 0.08),
            leaves=tuple(
                msgspec.structs.replace(x, thickness_m=x.thickness_m + rng.normal(0, 1e-4)) for x in leaf.leaves
            ),
        )
        one = leaf_axle(tamarack, rig, msgspec.structs.replace(layout, leaf=moved))
        assert one is not None
        steer.append(one.roll_steer)
        rate.append(one.halves.heave_rate)
    assert sure["steer"].sigma == pytest.approx(np.std(steer), rel=0.07)
    assert sure["rate"].sigma == pytest.approx(np.std(rate), rel=0.07)


@pytest.mark.parametrize(
    ("reversed_shackle", "end"), [(False, "rear"), (True, "rear"), (False, "front"), (True, "front")]
)
def test_a_spring_turned_round_is_its_mirror_image(tamarack: Project, reversed_shackle: bool, end: str) -> None:
    """Halves exchanged and the shackle at the other end: roll steer, seat path and tilt change their sign, the rates
    stay.
    """
    h = Halves(0.6, 0.75, 7e4, 5e4)
    one = SpringShape(h, 0.62, 0.66, 0.58, 0.1, 0.25, reversed_shackle)
    other = SpringShape(Halves(h.b, h.a, h.k_b, h.k_a), 0.66, 0.62, 0.58, 0.1, -0.25, not reversed_shackle)
    for heave in (-0.08, 0.05):
        p, q = one.at(heave), other.at(heave)
        assert (q.forward, q.nose_down) == pytest.approx((-p.forward, -p.nose_down))
        assert q.shackle == pytest.approx(-p.shackle)
        assert q.eye == pytest.approx((-p.eye[0], p.eye[1]))
    assert support_slope(one.motion(), 0.58, end) == pytest.approx(-support_slope(other.motion(), 0.58, end))


def test_knock_ons_of_leaves(tamarack: Project) -> None:
    at = "layouts.rear-a.leaf"

    def codes(*edits: SetNumber) -> set[str]:
        project = tamarack
        for one in edits:
            project = one.apply(project)
        return {f.code for f in Study(project).findings if f.subject.startswith("rear-a")}

    assert "G241" not in codes()
    assert "G241" in codes(SetNumber(f"{at}.pad_spacing_m", 1.04))
    assert "G240" not in codes(SetNumber(f"{at}.pinion_allowance_rad", 0.2))
    assert "G242" in codes(SetNumber(f"{at}.shackle_m", 0.03))
    joint = LinkEnd(joint="rod-100-r", take_up_m=0.06)
    bar = Link(
        id="panhard",
        name="Panhard",
        role="panhard",
        side="centre",
        frame_pivot_m=(-0.1, 0.4, 0.75),
        axle_pivot_m=(-0.1, -0.25, 0.6),
        tube_od_m=0.04,
        tube_wall_m=0.006,
        frame_end=joint,
        axle_end=joint,
    )
    rear = tamarack.layout("rear")
    assert rear is not None
    with_bar = with_parts(
        tamarack,
        layouts=tuple(
            msgspec.structs.replace(x, links=(bar,)) if x.id == rear.id else x for x in tamarack.linkage.layouts
        ),
    )
    assert "G245" in {f.code for f in Study(with_bar).findings}
    flat = math.dist((0.4, 0.75), (-0.25, 0.6))
    pulls = [math.sqrt(flat**2 - (0.15 - h) ** 2) for h in np.linspace(-rear.droop_m, rear.bump_m, 31)]
    found = Study(with_bar).axles["rear"].leaf
    assert found is not None
    assert found.panhard_pull == pytest.approx(max(pulls) - min(pulls))


def test_what_a_leaf_layout_cannot_be(tamarack: Project) -> None:
    with pytest.raises(ValueOutOfRange, match="does not go with"):
        SetChoice("layouts.rear-a.kind", "free_bars").apply(tamarack)
    with pytest.raises(ValueOutOfRange, match="Front half"):
        SetNumber("layouts.rear-a.leaf.front_m", 9.0).apply(tamarack)
    empty = Layout(id="x", name="x", end="rear", links=())
    with pytest.raises(ValueOutOfRange, match="neither links nor leaf springs"):
        SetChoice("layouts", (*tamarack.linkage.layouts, empty)).apply(tamarack)
    assert LeafSpring(
        spacing_m=1.0,
        front_m=0.5,
        rear_m=0.5,
        width_m=0.06,
        leaves=(Leaf(thickness_m=0.007),),
        front_eye_z_m=0.6,
        rear_eye_z_m=0.6,
        seat_z_m=0.5,
    )

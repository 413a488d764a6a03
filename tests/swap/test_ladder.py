"""The ladder against statics written out by hand, and what must always hold of it."""

from __future__ import annotations

import math

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from stoutlink.core.analysis.swap.capacities import capacities, spline_of
from stoutlink.core.analysis.swap.donor_in_rig import donor_in_rig
from stoutlink.core.analysis.swap.ladder import CASES, HEADLINE, ladder
from stoutlink.core.analysis.swap.pick import rank_pairs
from stoutlink.core.analysis.swap.upgrade_path import upgrade_path
from stoutlink.core.catalogue.donor import LOCKERS, DonorAxle, ToothPair
from stoutlink.core.catalogue.lockers import BY_ID
from stoutlink.core.document.fittings import Fittings
from stoutlink.core.document.project import Project
from stoutlink.core.document.swap import AxlePlan, Choosing
from tests.swap.rigs import G, plain_axle, plain_front, plain_project, plain_rig

PLAN, CHOOSING = AxlePlan(), Choosing(friction=0.8, shock=1.4)


def asked(donor: DonorAxle, part: str, choosing: Choosing = CHOOSING) -> dict[str, float]:
    rung = ladder(plain_rig(), donor, PLAN, choosing).rung(part)
    assert rung is not None
    return dict(rung.asked)


def test_every_case_of_a_spool_by_hand() -> None:
    """400 N·m × 4 × 2.5 = 4000 at the output, × 4 = 16 000 at the ring; the tyres hold 0.8 × 1000 kg × g × 0.45."""
    tyre = 0.8 * 1000 * G * 0.45
    ring, shaft = asked(plain_axle(), "ring_forward"), asked(plain_axle(), "inner_spline")
    assert tyre < 16_000
    assert ring["level"] == pytest.approx(1.4 * tyre)
    assert shaft["level"] == pytest.approx(1.4 * tyre / 2)
    assert shaft["one_wheel"] == pytest.approx(1.4 * tyre)
    assert shaft["bound"] == pytest.approx(1.4 * 16_000)
    twist = tyre / 4.0 / 1.6
    assert shaft["twist"] == pytest.approx(1.4 * 0.8 * (1000 * G / 2 + twist) * 0.45)
    alpha = math.radians(30)
    rear = 2000 * G * (1.25 * math.cos(alpha) + 0.8 * math.sin(alpha)) / 2.5
    assert ring["grade"] == pytest.approx(1.4 * 0.8 * rear * 0.45)
    assert asked(plain_axle(), "driveshaft_joint")["level"] == pytest.approx(ring["level"] / 4.0)
    assert set(shaft) == set(CASES)
    assert "reverse" not in ring
    assert asked(plain_axle(), "ring_reverse") == {"reverse": pytest.approx(1.4 * tyre)}


def test_a_weak_engine_is_the_limit_and_an_open_centre_halves_it() -> None:
    weak = plain_rig(drivetrain=msgspec.structs.replace(plain_rig().drivetrain, engine_torque_nm=40.0))
    found = ladder(weak, plain_axle(), PLAN, CHOOSING).rung("ring_forward")
    assert found is not None
    quick = [
        donor_in_rig(r, plain_axle()).demand_engine
        for r in (
            weak,
            msgspec.structs.replace(weak, drivetrain=msgspec.structs.replace(weak.drivetrain, transfer_case="open")),
        )
    ]
    assert None not in quick
    assert quick[1] == pytest.approx((quick[0] or 0.0) / 2)
    assert dict(found.asked)["level"] == pytest.approx(1.4 * 40 * 4 * 2.5 * 4)
    halved = msgspec.structs.replace(weak, drivetrain=msgspec.structs.replace(weak.drivetrain, transfer_case="open"))
    other = ladder(halved, plain_axle(), PLAN, CHOOSING).rung("ring_forward")
    assert other is not None
    assert other.demand == pytest.approx(found.demand / 2)


def test_lockers_share_as_they_do() -> None:
    """A wheel in the air: nothing through an open one, the preload through a slipping one, all the grip through a
    locked one.
    """
    tyre = 0.8 * 1000 * G * 0.45
    assert asked(plain_axle(locker="open"), "inner_spline")["one_wheel"] == 0.0
    for name in ("limited_slip", "torque_sensing"):
        assert asked(plain_axle(locker=name), "inner_spline")["one_wheel"] == pytest.approx(
            1.4 * BY_ID[name].preload_nm
        )
    for name in ("drop_in", "automatic", "air", "electric", "selectable", "spool"):
        assert asked(plain_axle(locker=name), "inner_spline")["one_wheel"] == pytest.approx(1.4 * tyre)


def test_hub_gears_spare_what_is_inboard() -> None:
    plain, portal = asked(plain_axle(), "inner_spline"), asked(plain_axle(hub_ratio=1.5), "inner_spline")
    assert portal["one_wheel"] == pytest.approx(plain["one_wheel"] / 1.5)
    bolts = {"flange_bolt_count": 8, "flange_bolt_diameter_m": 0.012, "flange_bolt_circle_m": 0.14}
    assert asked(plain_axle(hub_ratio=1.5, **bolts), "flange_bolts")["one_wheel"] == pytest.approx(
        asked(plain_axle(**bolts), "flange_bolts")["one_wheel"]
    )


def test_flanks_swap_with_cut_and_direction() -> None:
    def carries(donor: DonorAxle) -> tuple[float, float]:
        one, two = (ladder(plain_rig(), donor, PLAN, CHOOSING).rung(p) for p in ("ring_forward", "ring_reverse"))
        assert one is not None
        assert two is not None
        return one.carries, two.carries

    strong = carries(plain_axle())
    assert strong[1] == pytest.approx(0.75 * strong[0])
    assert carries(plain_axle(cut="reverse")) == pytest.approx((strong[1], strong[0]))
    assert carries(plain_front()) == pytest.approx(strong)
    assert carries(plain_front(cut="standard", pinion_height="low")) == pytest.approx((strong[1], strong[0]))
    assert carries(plain_axle(ring_rating_nm=9000.0)) == pytest.approx((9000.0, 6750.0))


def test_tube_and_joint_capacities_by_hand() -> None:
    tube = ladder(plain_rig(), plain_axle(), PLAN, CHOOSING).rung("tube")
    assert tube is not None
    assert tube.demand == pytest.approx(1.4 * 1000 * G * (1.6 - 1.0) / 2)
    assert tube.carries == pytest.approx(350e6 * math.pi * (0.08**4 - 0.064**4) / (32 * 0.08))
    joint = capacities(plain_front())["outer_joint"]
    assert joint.value == pytest.approx(6000 * math.cos(0.5))
    assert capacities(plain_front(outer_joint="constant_velocity"))["outer_joint"].value == 6000.0


def test_breaking_figures_are_not_mixed_in() -> None:
    found = ladder(plain_rig(), plain_front(ratings_are="break"), PLAN, CHOOSING)
    unknown = {u.part: u.why for u in found.unknown}
    assert {"driveshaft_joint", "outer_joint", "lockout"} <= set(unknown)
    assert "breaking" in unknown["outer_joint"]


def test_what_is_not_known_is_said_and_nothing_is_made_up() -> None:
    bare = DonorAxle(id="bare", name="Bare", end="front")
    found = ladder(plain_rig(), bare, PLAN, CHOOSING)
    assert found.rungs == ()
    assert {"gears", "inner_spline", "ring_forward", "outer_joint", "tube"} <= {u.part for u in found.unknown}
    assert upgrade_path(plain_rig(), bare, PLAN, CHOOSING).end.startswith("Too little")
    no_gears = ladder(plain_rig(), plain_axle(ring_teeth=None, pinion_teeth=None, ratios=()), PLAN, CHOOSING)
    assert no_gears.rung("driveshaft_joint") is None
    tyre_limited = no_gears.rung("inner_spline")
    assert tyre_limited is None or math.isfinite(tyre_limited.demand)


def test_a_measured_major_finds_the_pitch() -> None:
    facts = spline_of(plain_axle(spline_pitch_per_in=None, spline_major_diameter_m=31 / 20 * 0.0254))
    assert facts is not None
    assert (facts.pitch, facts.assumed, facts.asked) == (20.0, False, False)
    odd = spline_of(plain_axle(spline_pitch_per_in=None, spline_major_diameter_m=0.0365))
    assert odd is not None
    assert odd.asked


def test_the_upgrade_path_ends_when_all_holds_or_the_housing_is_the_end() -> None:
    rig = plain_rig()
    weak_stub = plain_front(
        stub_spline_teeth=22,
        locker="spool",
        ring_rating_nm=30_000.0,
        outer_joint_rating_nm=9000.0,
        lockout_rating_nm=9000.0,
    )
    path = upgrade_path(rig, weak_stub, PLAN, CHOOSING)
    assert path.steps[0].weakest == "Stub shaft"
    assert path.steps[1].upgrade == "stubs"
    margins = [s.margin for s in path.steps]
    assert margins == sorted(margins)
    ring = upgrade_path(rig, plain_axle(ring_diameter_m=0.15), PLAN, CHOOSING)
    assert len(ring.steps) == 1
    assert "bigger axle" in ring.end


def test_the_rating_of_the_output_counts() -> None:
    rig = plain_rig(fittings=Fittings(output_rating_nm=100.0))
    weakest = ladder(rig, plain_axle(), PLAN, CHOOSING).weakest
    assert weakest is not None
    assert weakest.part == "output"


def test_margins_carry_their_uncertainty(basalt: Project) -> None:
    donor = basalt.donor("rear")
    assert donor is not None
    found = ladder(basalt.rig, donor, basalt.swap.rear_plan, basalt.swap.choosing, sure=basalt)
    for rung in found.rungs:
        assert 0.02 * rung.margin < rung.sigma < 0.5 * rung.margin
    ring, spline = found.rung("ring_forward"), found.rung("inner_spline")
    assert ring is not None
    assert spline is not None
    assert ring.sigma / ring.margin > spline.sigma / spline.margin


@given(teeth=st.integers(24, 40), more=st.integers(1, 6), locker=st.sampled_from(LOCKERS))
def test_a_bigger_shaft_never_lowers_a_margin(teeth: int, more: int, locker: str) -> None:
    small, big = (
        ladder(plain_rig(), plain_axle(spline_teeth=n, neck_diameter_m=None, locker=locker), PLAN, CHOOSING)
        for n in (teeth, teeth + more)
    )
    for part in ("inner_spline", "ring_forward", "tube"):
        a, b = small.rung(part), big.rung(part)
        assert a is not None
        assert b is not None
        assert b.margin >= a.margin
    assert (big.weakest.margin if big.weakest else 0) >= (small.weakest.margin if small.weakest else 0)


@given(
    locker=st.sampled_from(LOCKERS),
    mass=st.floats(900, 4000),
    torque=st.floats(50, 1500),
    friction=st.floats(0.2, 1.5),
    side=st.sampled_from(["front", "rear"]),
)
def test_a_spool_never_asks_less_of_the_worst_shaft(
    locker: str, mass: float, torque: float, friction: float, side: str
) -> None:
    rig = plain_rig(mass_kg=mass, drivetrain=msgspec.structs.replace(plain_rig().drivetrain, engine_torque_nm=torque))
    choosing = Choosing(friction=friction)
    make = plain_axle if side == "rear" else plain_front
    spool, other = (ladder(rig, make(locker=k), PLAN, choosing).rung("inner_spline") for k in ("spool", locker))
    assert spool is not None
    assert other is not None
    for case in HEADLINE:
        assert dict(spool.asked)[case] >= dict(other.asked)[case] - 1e-9


@given(
    teeth=st.lists(st.integers(24, 38), min_size=2, max_size=4, unique=True), lockers=st.lists(st.sampled_from(LOCKERS), min_size=4, max_size=4),
    ring=st.floats(0.16, 0.28), side=st.floats(0, 0.6),
)  # fmt: skip
def test_ranking_sees_the_same_margins_as_the_ladder(
    teeth: list[int], lockers: list[str], ring: float, side: float
) -> None:
    """The whole table at once and one axle at a time: two routes to every margin, gears included."""
    rears = [
        plain_axle(id=f"r{n}", spline_teeth=n, locker=k, ring_diameter_m=ring, floating="semi", wheel_overhang_m=0.06)
        for n, k in zip(teeth, lockers, strict=False)
    ]
    fronts = [
        plain_front(id=f"f{n}", spline_teeth=n, locker=k, ring_diameter_m=ring)
        for n, k in zip(teeth, reversed(lockers), strict=False)
    ]
    choosing = Choosing(side_force_share=side)
    project = plain_project(fronts[0], rears[0], choosing=choosing, donors=(*fronts, *rears))
    for one in rank_pairs(project, project.rig, fronts, rears).best:
        worst = math.inf
        for donor, gears in ((one.front, one.gears[0]), (one.rear, one.gears[1])):
            assert donor is not None
            weak = ladder(project.rig, donor, AxlePlan(gears=gears), choosing).weakest
            worst = min(worst, weak.margin if weak else math.inf)
        assert one.numbers["strength"] == pytest.approx(worst)


def test_only_known_sets_are_judged() -> None:
    planned = ladder(plain_rig(), plain_axle(), AxlePlan(gears=ToothPair(ring=41, pinion=9)), CHOOSING)
    assert planned.ratio == pytest.approx(41 / 9)

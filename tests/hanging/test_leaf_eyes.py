"""Eyes, seat and hanger of a leaf spring taken hold of: the spring that has them there, found a second way."""

from __future__ import annotations

import math
from typing import Any

import msgspec
import pytest
from scipy.integrate import quad
from scipy.optimize import brentq

from stoutlink.core.analysis.linkage.leaf_elsewhere import levelled, reused, seat_load
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.leaf_eyes import LEAF_POINTS, LeafPoint, leaf_point, leaf_with
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.layout_edits import MoveLeaf
from stoutlink.core.editing.pivots import name_of, pivots_of, place_of
from stoutlink.core.errors import StoutError
from stoutlink.core.mechanics.leaf_spring import across, along_for
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

G = 9.80665


@pytest.fixture
def leaves() -> Project:
    """The demo whose rear axle hangs on leaves."""
    return read_project(demo_file("tamarack.stoutlink"))


def rear(project: Project) -> Layout:
    out = project.layout("rear")
    assert out is not None
    assert out.leaf is not None
    return out


def leaf_of(project: Project) -> Any:
    return rear(project).leaf


@pytest.mark.parametrize("out", [0.3, 0.55, 0.7])
@pytest.mark.parametrize("arch", [-0.1, 0.0, 0.04, 0.2])
@pytest.mark.parametrize("clamp", [0.0, 0.08])
def test_the_length_of_a_circle_that_reaches_there(out: float, arch: float, clamp: float) -> None:
    """The circle through seat and eye that leaves the clamp level, its arc measured by integrating along it."""
    straight, reach = 0.5 * clamp, out - 0.5 * clamp
    if arch == 0:
        assert along_for(out, arch, clamp) == pytest.approx(out)
        return
    radius = (reach**2 + arch**2) / (2 * abs(arch))  # tangent to the level line where the clamp ends
    arc, _ = quad(lambda x: radius / math.sqrt(radius**2 - x**2), 0.0, reach)
    assert along_for(out, arch, clamp) == pytest.approx(straight + arc, rel=1e-9)


@pytest.mark.parametrize("which", LEAF_POINTS)
def test_what_is_put_somewhere_stands_there(leaves: Project, which: LeafPoint) -> None:
    layout = rear(leaves)
    at = leaf_point(layout, which, leaves.rig.wheelbase_m)
    assert at is not None
    to = (at[0] + 0.021, at[1] - 0.013, at[2] + 0.017)
    leaf = leaf_with(layout, which, to, leaves.rig.wheelbase_m)
    moved = msgspec.structs.replace(layout, leaf=leaf)
    assert leaf_point(moved, which, leaves.rig.wheelbase_m) == pytest.approx(to)


def test_an_eye_takes_its_half_and_leaves_the_other(leaves: Project) -> None:
    """By Brent's method on the length; the fixed eye leaves the shackle alone, the moving one keeps its hanger."""
    layout, base = rear(leaves), leaves.rig.wheelbase_m
    old = leaf_of(leaves)
    at = leaf_point(layout, "front_eye", base)
    assert at is not None
    after = MoveLeaf(layout.id, "front_eye", (at[0] - 0.05, at[1], at[2] + 0.02)).apply(leaves)
    new = leaf_of(after)
    wanted = at[0] - 0.05 - (0.0 - old.pin_offset_m)
    length = brentq(lambda a: across(a, at[2] + 0.02 - old.seat_z_m, old.clamp_m) - wanted, 0.2, 1.4, xtol=1e-12)
    assert new.front_m == pytest.approx(length, abs=1e-9)
    assert new.front_eye_z_m == pytest.approx(at[2] + 0.02)
    same = [n for n in old.__struct_fields__ if n not in ("front_m", "front_eye_z_m")]
    assert [getattr(new, n) for n in same] == [getattr(old, n) for n in same]
    hanger, eye = leaf_point(layout, "shackle", base), leaf_point(layout, "rear_eye", base)
    assert hanger is not None
    assert eye is not None
    after = MoveLeaf(layout.id, "rear_eye", (eye[0] - 0.03, eye[1], eye[2] - 0.02)).apply(leaves)
    assert leaf_point(rear(after), "shackle", base) == pytest.approx(hanger)
    assert leaf_of(after).shackle_m == pytest.approx(math.dist(hanger, (eye[0] - 0.03, eye[1], eye[2] - 0.02)))


def test_a_hanger_below_its_eye_makes_a_standing_shackle(leaves: Project) -> None:
    layout, base = rear(leaves), leaves.rig.wheelbase_m
    eye = leaf_point(layout, "rear_eye", base)
    assert eye is not None
    hung = MoveLeaf(layout.id, "shackle", (eye[0] + 0.03, eye[1], eye[2] + 0.09)).apply(leaves)
    assert leaf_of(hung).flipped_shackle is False
    assert leaf_of(hung).shackle_rad == pytest.approx(math.atan2(0.03, 0.09))  # lower end rearward +
    stood = MoveLeaf(layout.id, "shackle", (eye[0] + 0.03, eye[1], eye[2] - 0.09)).apply(leaves)
    assert leaf_of(stood).flipped_shackle is True
    assert leaf_of(stood).shackle_rad == pytest.approx(math.atan2(-0.03, 0.09))  # the lower end is the hanger, ahead
    assert leaf_of(stood).shackle_m == pytest.approx(math.hypot(0.03, 0.09))


def test_a_flipped_shackles_new_hanger_leaves_height_and_pinion(leaves: Project) -> None:
    """Put where Leaves says, the very same spring stands at the very same seat; only the shackle is the other way up."""
    found = Study(leaves).axles["rear"].leaf
    assert found is not None
    x, z = found.perch.flipped_pivot
    after = MoveLeaf(rear(leaves).id, "shackle", (x, 0.5 * found.leaf.spacing_m, z)).apply(leaves)
    new, old = leaf_of(after), found.leaf
    assert new.flipped_shackle is not old.flipped_shackle
    assert new.shackle_m == pytest.approx(old.shackle_m)
    assert new.shackle_rad == pytest.approx(old.shackle_rad)
    kept = ("seat_z_m", "front_m", "rear_m", "front_eye_z_m", "rear_eye_z_m", "block_nose_up_rad")
    assert [getattr(new, n) for n in kept] == [getattr(old, n) for n in kept]


def test_the_seat_goes_with_eyes_left_where_they_are(leaves: Project) -> None:
    layout, base = rear(leaves), leaves.rig.wheelbase_m
    eyes = [leaf_point(layout, which, base) for which in ("front_eye", "rear_eye", "shackle")]
    seat = leaf_point(layout, "seat", base)
    assert seat is not None
    after = MoveLeaf(layout.id, "seat", (seat[0] - 0.02, seat[1], seat[2] - 0.01)).apply(leaves)
    assert leaf_of(after).pin_offset_m == pytest.approx(leaf_of(leaves).pin_offset_m + 0.02)
    for which, at in zip(("front_eye", "rear_eye", "shackle"), eyes, strict=True):
        assert leaf_point(rear(after), which, base) == pytest.approx(at)  # type: ignore[arg-type]


def test_they_are_listed_named_and_refused(leaves: Project, basalt: Project) -> None:
    layout = rear(leaves)
    names = [name_of(layout, p) for p in pivots_of(layout)]
    assert names[:4] == ["Front eye", "Rear eye", "Shackle's hanger", "Leaf at the seat"]
    assert all(place_of(layout, p, leaves.rig.wheelbase_m) is not None for p in pivots_of(layout))
    front = basalt.layout("rear")
    assert front is not None
    assert not any(p[0].startswith(("@front_eye", "@seat")) for p in pivots_of(front))
    with pytest.raises(StoutError, match="D157"):
        MoveLeaf(front.id, "seat", (0.0, 0.5, 0.6)).apply(basalt)
    with pytest.raises(StoutError, match="Front half"):
        MoveLeaf(layout.id, "front_eye", (5.0, 0.5, 0.6)).apply(leaves)


def test_the_same_springs_at_the_other_end(leaves: Project) -> None:
    """A spring stays the spring: the load there over its rate, by the weights of the rig alone."""
    study = Study(leaves)
    found, rig = study.axles["rear"].leaf, study.true.rig
    assert found is not None
    there = reused(found)
    assert there is not None
    front = rig.mass_kg * rig.cg_ahead_of_rear_m / rig.wheelbase_m - rig.front.unsprung
    behind = rig.mass_kg * (1 - rig.cg_ahead_of_rear_m / rig.wheelbase_m) - rig.rear.unsprung
    assert there.load == pytest.approx(0.5 * G * front, rel=1e-9)
    rate = found.halves.heave_rate
    assert there.lower == pytest.approx(0.5 * G * (front - behind) / rate, rel=1e-9)
    assert there.frequency == pytest.approx(math.sqrt(rate / (0.5 * front)) / (2 * math.pi), rel=1e-9)
    assert seat_load(rig, "rear") == pytest.approx(found.load)


@pytest.mark.parametrize("seat", ["over", "under"])
@pytest.mark.parametrize("lower", [0.03, -0.02])
def test_block_or_rate_that_levels_the_frame(leaves: Project, seat: str, lower: float) -> None:
    stance = msgspec.structs.replace(leaves.rig.stance, ride_front_m=0.30, ride_rear_m=0.30 - lower)
    layout = rear(leaves)
    leaf = msgspec.structs.replace(layout.leaf, seat=seat, block_m=0.04)  # type: ignore[type-var]
    changed = msgspec.structs.replace(layout, leaf=leaf)
    project = with_parts(
        leaves,
        rig=msgspec.structs.replace(leaves.rig, stance=stance),
        layouts=tuple(changed if x.id == layout.id else x for x in leaves.linkage.layouts),
    )
    study = Study(project)
    found, rig = study.axles["rear"].leaf, study.true.rig
    assert found is not None
    level = levelled(found)
    assert level is not None
    rise = rig.front.loaded - rig.rear.loaded + lower
    assert level.raise_by == pytest.approx(rise)
    block = 0.04 + (rise if seat == "over" else -rise)
    assert (level.block is None) is (block < 0)
    assert level.block is None or level.block == pytest.approx(block)
    assert level.rate is not None
    free = found.load / found.halves.heave_rate  # arch the spring gives under its load
    assert found.load / level.rate == pytest.approx(free - rise)


def test_without_ride_heights_nothing_levels(leaves: Project) -> None:
    stance = msgspec.structs.replace(leaves.rig.stance, ride_front_m=None)
    project = msgspec.structs.replace(leaves, rig=msgspec.structs.replace(leaves.rig, stance=stance))
    found = Study(project).axles["rear"].leaf
    assert found is not None
    assert levelled(found) is None

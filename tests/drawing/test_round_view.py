"""What is seen in the round: silhouettes and occlusion known from geometry, and bodies that run into each other."""

from __future__ import annotations

import math

import numpy as np
import pytest
from msgspec.structs import replace

from stoutlink.core.drawing.round_view import FLAT_EYES, Eye, Look, Scene, fitted
from stoutlink.core.drawing.shapes import VIEWS, flatten
from stoutlink.core.drawing.solids import Thing
from stoutlink.core.geometry.mesh import Mesh, bar, capsule, drum
from stoutlink.core.geometry.raster import NOTHING, seen

WIDE, HIGH = 320, 240
EYE = Eye(turn=0.4, tilt=0.3, middle=(0.0, 0.0, 0.0), scale=100.0)


def thing(name: str, mesh: Mesh) -> Thing:
    return Thing(name, "solid", "", mesh)


def box(name: str, low: tuple[float, float, float], high: tuple[float, float, float]) -> Thing:
    a, b = np.array(low), np.array(high)
    return thing(name, bar(0.5 * (a + b), np.eye(3), 0.5 * (b - a)))


def shown(look: Look, name: str) -> np.ndarray:
    """Pixels at which a thing is seen."""
    number = [t.name for t in look.scene.things].index(name)
    owner = np.append(look.scene.owner, -7)[look.seen.which]
    return np.asarray(owner == number)


@pytest.mark.parametrize("turn", [0.0, 0.7, 2.1, -1.3])
@pytest.mark.parametrize("tilt", [-0.6, 0.0, 0.5, math.pi / 2])
def test_a_ball_is_a_disc_from_everywhere(turn: float, tilt: float) -> None:
    ball = thing("ball", capsule(np.zeros(3), np.zeros(3), 0.8, 96, 24))
    look = Scene((ball,)).look(replace(EYE, turn=turn, tilt=tilt), WIDE, HIGH)
    assert (look.seen.which != NOTHING).sum() == pytest.approx(math.pi * 80.0**2, rel=0.005)
    assert look.seen.depth.max() == pytest.approx(0.8, abs=0.003)


def test_a_drum_is_an_ellipse_as_wide_as_its_tilt() -> None:
    one = thing("tyre", drum(np.zeros(3), np.array([0.0, 1.0, 0.0]), 0.7, 0.001))
    for turn in (0.0, 0.5, 1.0):
        look = Scene((one,)).look(replace(EYE, turn=turn, tilt=0.0), WIDE, HIGH)
        area = math.pi * 0.7 * 0.7 * math.cos(turn) + 2 * 0.7 * 0.002 * math.sin(turn)  # the disc and its thin rim
        assert (look.seen.which != NOTHING).sum() == pytest.approx(area * 100.0**2, rel=0.01)


def test_a_box_from_a_corner_shows_three_faces() -> None:
    """The silhouette of a box is the sum of its three face areas seen aslant (Cauchy's projection)."""
    look = Scene((box("b", (-0.5, -0.3, -0.2), (0.5, 0.3, 0.2)),)).look(EYE, WIDE, HIGH)
    toward = EYE.ways[2]
    area = abs(toward[0]) * 0.6 * 0.4 + abs(toward[1]) * 1.0 * 0.4 + abs(toward[2]) * 1.0 * 0.6
    assert (look.seen.which != NOTHING).sum() == pytest.approx(area * 100.0**2, rel=0.01)
    groups = look.scene.mesh.groups[look.seen.which[look.seen.which != NOTHING]]
    assert len(set(groups.tolist())) == 3


def test_the_nearer_hides_the_farther_wherever_it_is_put() -> None:
    near, far = box("near", (-0.2, -1.0, -0.2), (0.2, -0.8, 0.2)), box("far", (-0.4, 0.8, -0.4), (0.4, 1.0, 0.4))
    side = replace(EYE, turn=0.0, tilt=0.0)
    for order in ((near, far), (far, near)):
        look = Scene(order).look(side, WIDE, HIGH)
        assert shown(look, "near").sum() == 40 * 40
        assert shown(look, "far").sum() == 80 * 80 - 40 * 40
        back = Scene(order).look(replace(side, turn=math.pi), WIDE, HIGH)
        assert shown(back, "far").sum() == 80 * 80
        assert not shown(back, "near").any()
        assert look.at(160, 120) is near
        assert look.at(160, 90) is far
        assert look.at(2, 2) is None
        assert look.at(-5, 400) is None


def test_bodies_that_run_into_each_other_part_where_their_surfaces_cross() -> None:
    """A bar leans through a plate: no order of drawing whole bodies shows both of its ends right."""
    wall = box("wall", (-1.0, -0.005, -0.8), (1.0, 0.005, 0.8))
    leaning = thing("leaning", capsule(np.array([-1.0, -0.6, 0.0]), np.array([1.0, 0.6, 0.0]), 0.1, 48))
    look = Scene((wall, leaning)).look(replace(EYE, turn=0.0, tilt=0.0), WIDE, HIGH)
    near = shown(look, "leaning")
    assert near[:, :140].any()  # the end this side of the wall
    assert not near[:, 185:258].any()  # the end beyond it
    # on the bar's middle line its surface is at y = 0.6·x − 0.1·√(1 + 0.36), and it meets the wall's face at y = −0.005
    edge = np.flatnonzero(near[HIGH // 2, :258])[-1]  # beyond lies the far end, past the wall
    meets = (0.1 * math.sqrt(1 + 0.36) - 0.005) / 0.6
    assert edge == pytest.approx(WIDE / 2 + 100.0 * meets, abs=1.0)


def test_depth_is_where_the_point_is() -> None:
    plate = box("p", (-1.0, -1.0, -0.01), (1.0, 1.0, 0.0))
    look = Scene((plate,)).look(EYE, WIDE, HIGH)
    for point in ((0.3, 0.2, 0.0), (-0.6, 0.1, 0.0), (0.0, -0.7, 0.0)):
        x, y, depth = EYE.onto(np.array(point), WIDE, HIGH)
        assert look.seen.depth[int(y), int(x)] == pytest.approx(depth, abs=0.02)  # half a pixel at this tilt
        assert not look.hidden(point)
    assert look.hidden((0.0, 0.0, -0.3))
    assert not look.hidden((0.0, 0.0, 0.3))


def test_edges_are_outlines_and_creases_alone() -> None:
    ball = Scene((thing("ball", capsule(np.zeros(3), np.zeros(3), 0.8, 48, 12)),)).look(EYE, WIDE, HIGH)
    inside = np.hypot(*(np.indices((HIGH, WIDE)) + 0.5 - np.array([[[120.0]], [[160.0]]]))) < 76.0
    assert not (ball.edges & inside).any()
    assert ball.edges.sum() > 2 * math.pi * 80.0 * 0.7
    cube = Scene((box("b", (-0.5, -0.5, -0.5), (0.5, 0.5, 0.5)),)).look(EYE, WIDE, HIGH)
    corner = EYE.onto(np.array([0.5, -0.5, 0.5]), WIDE, HIGH)  # the nearest corner: three creases meet there
    assert cube.edges[int(corner[1]) - 3 : int(corner[1]) + 4, int(corner[0]) - 3 : int(corner[0]) + 4].sum() >= 7


@pytest.mark.parametrize("view", VIEWS)
def test_a_flat_view_is_one_of_the_ways_to_look(view: str) -> None:
    turn, tilt = FLAT_EYES[view]  # type: ignore[index]
    eye = replace(EYE, turn=turn, tilt=tilt)
    for point in ((0.4, -0.3, 0.7), (1.0, 0.2, 0.1)):
        x, y, _ = eye.onto(np.array(point), WIDE, HIGH)
        across, up = flatten(point, view)  # type: ignore[arg-type]
        assert (x - WIDE / 2, HIGH / 2 - y) == pytest.approx((100 * across, 100 * up), abs=1e-9)


def test_a_hand_in_a_plane() -> None:
    through = (0.3, 0.2, 0.1)
    pixel = EYE.onto(np.array([0.7, 0.2, -0.3]), WIDE, HIGH)
    assert EYE.back((pixel[0], pixel[1]), WIDE, HIGH, through, "side") == pytest.approx((0.7, 0.2, -0.3))
    pixel = EYE.onto(np.array([0.7, -0.4, 0.1]), WIDE, HIGH)
    assert EYE.back((pixel[0], pixel[1]), WIDE, HIGH, through, "plan") == pytest.approx((0.7, -0.4, 0.1))
    pixel = EYE.onto(np.array([0.3, -0.4, 0.6]), WIDE, HIGH)
    assert EYE.back((pixel[0], pixel[1]), WIDE, HIGH, through, "rear") == pytest.approx((0.3, -0.4, 0.6))
    level = replace(EYE, tilt=0.0)  # the plan is seen on edge: the hand moves square to the look
    moved = np.array(level.back((200.0, 100.0), WIDE, HIGH, through, "plan")) - through
    assert moved @ level.ways[2] == pytest.approx(0.0, abs=1e-12)


def test_turning_and_shifting_by_hand() -> None:
    assert EYE.turned(0.0, 9.0).tilt == pytest.approx(math.pi / 2)
    assert EYE.turned(0.5, 0.0).turn == pytest.approx(EYE.turn - 0.5)
    assert -math.pi <= EYE.turned(40.0, 0.0).turn < math.pi
    before = EYE.onto(np.array([0.2, 0.1, 0.4]), WIDE, HIGH)
    after = EYE.shifted(30.0, -12.0).onto(np.array([0.2, 0.1, 0.4]), WIDE, HIGH)
    assert after - before == pytest.approx(np.array([30.0, -12.0, after[2] - before[2]]))


def test_everything_fits() -> None:
    things = (box("b", (-3.0, -1.0, 0.0), (4.0, 1.0, 1.5)),)
    eye = fitted(EYE, things, WIDE, HIGH)
    at = eye.onto(Scene(things).mesh.points, WIDE, HIGH)
    assert at[:, 0].min() > 0 < at[:, 1].min()
    assert at[:, 0].max() < WIDE
    assert at[:, 1].max() < HIGH
    assert fitted(EYE, (), WIDE, HIGH) == EYE


def test_finer_pictures_show_the_same() -> None:
    scene = Scene((box("b", (-0.5, -0.3, -0.2), (0.5, 0.3, 0.2)),))
    one, two = scene.look(EYE, WIDE, HIGH), scene.look(EYE, WIDE, HIGH, 2)
    assert two.seen.which.shape == (2 * HIGH, 2 * WIDE)
    coarse, fine = (one.seen.which != NOTHING).sum(), (two.seen.which != NOTHING).sum()
    assert fine == pytest.approx(4 * coarse, rel=0.01)
    assert two.at(160, 120) is one.at(160, 120) is not None


def test_nothing_and_what_lies_outside() -> None:
    assert (Scene(()).look(EYE, 20, 10).seen.which == NOTHING).all()
    away = Scene((box("b", (50.0, 0.0, 0.0), (51.0, 1.0, 1.0)),)).look(EYE, WIDE, HIGH)
    assert (away.seen.which == NOTHING).all()
    cut = Scene((box("b", (-9.0, -9.0, -9.0), (9.0, 9.0, 9.0)),)).look(EYE, WIDE, HIGH)
    assert (cut.seen.which != NOTHING).all()
    turned = np.array([[[0.0, 0.0, 1.0], [4.0, 0.0, 1.0], [0.0, 4.0, 1.0]]])  # an inside
    assert (seen(turned, 4, 4).which == NOTHING).all()

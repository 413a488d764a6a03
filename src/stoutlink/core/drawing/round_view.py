"""Things in the round as they are seen from anywhere: an eye at infinity, so that what lies square to it is at one scale.

Source: orthographic (parallel) projection; a depth buffer decides what hides what.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cached_property

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

from stoutlink.core.drawing.shapes import ViewName
from stoutlink.core.drawing.solids import Thing
from stoutlink.core.geometry.mesh import Mesh, together
from stoutlink.core.geometry.raster import NOTHING, Seen, seen

Array = NDArray[np.float64]
Vector = tuple[float, float, float]
STEEPEST = math.radians(90.0)


class Eye(Struct, frozen=True, dict=True):
    """Where one looks from. ``turn``: round the rig, 0 from its right (side view), −90° from behind, rad; ``tilt``: from
    level to straight down, rad; ``middle``: what is in the middle, m; ``scale`` pixels per metre.
    """

    turn: float = -0.610865
    tilt: float = 0.383972
    middle: Vector = (1.2, 0.0, 0.5)
    scale: float = 150.0

    @cached_property
    def ways(self) -> Array:
        """Unit directions to the right, up the screen, and towards the eye, as rows.

        >>> (np.round(Eye(turn=0.0, tilt=0.0).ways, 9) + 0.0).tolist()
        [[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, -1.0, 0.0]]
        """
        c, s, ce, se = math.cos(self.turn), math.sin(self.turn), math.cos(self.tilt), math.sin(self.tilt)
        return np.array([[c, s, 0.0], [-se * s, se * c, ce], [ce * s, -ce * c, se]])

    def onto(self, points: Array, wide: float, high: float) -> Array:
        """Points ``(..., 3)`` m as pixels to the right, pixels down, and m towards the eye, on a picture of that size."""
        moved = (points - np.array(self.middle)) @ self.ways.T
        moved[..., 0] = 0.5 * wide + moved[..., 0] * self.scale
        moved[..., 1] = 0.5 * high - moved[..., 1] * self.scale
        return np.asarray(moved)

    def back(
        self, pixel: tuple[float, float], wide: float, high: float, through: Vector, plane: ViewName | None
    ) -> Vector:
        """The point under a pixel in a plane through a point: square to the look, or the plane of a flat view (``side``
        keeps y, ``plan`` z, ``rear`` x). A plane seen nearly on edge is taken square to the look instead.
        """
        right, up, toward = self.ways
        start = (
            np.array(self.middle)
            + right * (pixel[0] - 0.5 * wide) / self.scale
            - up * (pixel[1] - 0.5 * high) / self.scale
        )
        normal = toward if plane is None else np.eye(3)[{"side": 1, "plan": 2, "rear": 0}[plane]]
        if abs(float(normal @ toward)) < EDGE:
            normal = toward
        t = float(normal @ (np.array(through) - start)) / float(normal @ toward)
        at = start + t * toward
        return float(at[0]), float(at[1]), float(at[2])

    def turned(self, right: float, down: float) -> Eye:
        """The rig turned by hand: rad to the right and down."""
        turn = (self.turn - right + math.pi) % (2 * math.pi) - math.pi
        return replace(self, turn=turn, tilt=max(-STEEPEST, min(STEEPEST, self.tilt + down)))

    def shifted(self, right: float, down: float) -> Eye:
        """Moved along with the hand, pixels."""
        at = np.array(self.middle) + (self.ways[1] * down - self.ways[0] * right) / self.scale
        return replace(self, middle=(float(at[0]), float(at[1]), float(at[2])))


EDGE = 0.15
"""A plane is seen on edge when its normal leans less than this, as a sine, towards the eye."""
FLAT_EYES: dict[ViewName, tuple[float, float]] = {
    "side": (0.0, 0.0),
    "plan": (0.0, 0.5 * math.pi),
    "rear": (-0.5 * math.pi, 0.0),
}
"""Turn and tilt that see what a flat view shows."""


class Scene(Struct, frozen=True, eq=False, dict=True):
    """Things to look at together."""

    things: tuple[Thing, ...]

    @cached_property
    def mesh(self) -> Mesh:
        """All of them as one."""
        return together(t.mesh for t in self.things)

    @cached_property
    def owner(self) -> NDArray[np.int32]:
        """Which thing each triangle is of."""
        return np.repeat(np.arange(len(self.things), dtype=np.int32), [len(t.mesh.triangles) for t in self.things])

    @cached_property
    def normals(self) -> Array:
        """Unit outward normals of the triangles, ``(m, 3)``."""
        a, b, c = np.moveaxis(self.mesh.corners, 1, 0)
        n = np.cross(b - a, c - a)
        return np.asarray(n / np.maximum(np.linalg.norm(n, axis=1, keepdims=True), 1e-15))

    @cached_property
    def bounds(self) -> tuple[Array, Array] | None:
        """Low and high corner of everything, m."""
        every = self.mesh.points
        return (every.min(axis=0), every.max(axis=0)) if len(every) else None

    def look(self, eye: Eye, wide: int, high: int, fine: float = 1.0) -> Look:
        """What is seen on a picture of ``wide`` × ``high`` pixels, each in ``fine`` × ``fine`` parts; less than 1 for a coarse
        one, quickly."""
        across, down = max(1, round(wide * fine)), max(1, round(high * fine))
        front = np.flatnonzero(self.normals @ eye.ways[2] > 0.0)
        at = replace(eye, scale=eye.scale * fine).onto(self.mesh.points, across, down)
        found = seen(at[self.mesh.triangles[front]], across, down)
        number = np.append(front, NOTHING).astype(np.int32)[found.which]
        return Look(self, eye, Seen(number, found.depth), fine)


class Look(Struct, frozen=True, eq=False, dict=True):
    """A scene seen by an eye."""

    scene: Scene
    eye: Eye
    seen: Seen
    fine: float

    def at(self, x: float, y: float) -> Thing | None:
        """What is seen at a pixel."""
        high, wide = self.seen.which.shape
        i, j = int(y * self.fine), int(x * self.fine)
        if not (0 <= i < high and 0 <= j < wide) or self.seen.which[i, j] == NOTHING:
            return None
        return self.scene.things[int(self.scene.owner[self.seen.which[i, j]])]

    def place_at(self, x: float, y: float) -> Vector | None:
        """The place on what is seen at a pixel, m: where the line of sight meets the plane of the face there; ``None`` where
        nothing is seen."""
        high, wide = self.seen.which.shape
        i, j = int(y * self.fine), int(x * self.fine)
        if not (0 <= i < high and 0 <= j < wide) or self.seen.which[i, j] == NOTHING:
            return None
        number = int(self.seen.which[i, j])
        right, up, toward = self.eye.ways
        across, down = x - 0.5 * wide / self.fine, y - 0.5 * high / self.fine
        start = np.array(self.eye.middle) + (right * across - up * down) / self.eye.scale
        normal, mesh = self.scene.normals[number], self.scene.mesh
        corner = mesh.points[mesh.triangles[number, 0]]
        at = start + toward * float(normal @ (corner - start)) / float(normal @ toward)
        return float(at[0]), float(at[1]), float(at[2])

    def hidden(self, point: Vector, spare: float = 0.03) -> bool:
        """Whether something stands more than ``spare`` m in front of a point."""
        high, wide = self.seen.which.shape
        x, y, depth = self.eye.onto(np.array(point), wide / self.fine, high / self.fine)
        i, j = int(y * self.fine), int(x * self.fine)
        return bool(0 <= i < high and 0 <= j < wide and self.seen.depth[i, j] > depth + spare)

    @cached_property
    def edges(self) -> NDArray[np.bool_]:
        """Pixels where one group ends and another, or nothing, begins: outlines and creases; the pixel of the nearer."""
        high, wide = self.seen.which.shape
        padded = np.append(self.scene.mesh.groups, -1).astype(np.int32)[self.seen.which]
        depth = self.seen.depth
        out = np.zeros((high, wide), dtype=bool)
        for a, b in (
            ((slice(None), slice(1, None)), (slice(None), slice(None, -1))),
            ((slice(1, None),), (slice(None, -1),)),
        ):
            differ = padded[a] != padded[b]
            nearer = depth[a] >= depth[b]
            out[a] |= differ & nearer
            out[b] |= differ & ~nearer
        return out

    @cached_property
    def light(self) -> Array:
        """How bright each triangle is, 0 to 1: lit from over the right shoulder of the eye."""
        right, up, toward = self.eye.ways
        lamp = toward + 0.45 * up + 0.35 * right
        return np.asarray(np.clip(self.scene.normals @ (lamp / np.linalg.norm(lamp)), 0.0, 1.0))


def fitted(eye: Eye, things: Sequence[Thing], wide: float, high: float) -> Eye:
    """The eye moved so that everything is in the picture, with a little room around it."""
    box = Scene(tuple(things)).bounds
    if box is None:
        return eye
    low, up = box
    corners = np.array(
        [[(low, up)[i][0], (low, up)[j][1], (low, up)[k][2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)]
    )
    at = replace(eye, scale=1.0, middle=(0.0, 0.0, 0.0)).onto(corners, 0.0, 0.0)
    span = np.ptp(at, axis=0)
    scale = 0.92 * min(wide / max(span[0], 0.1), high / max(span[1], 0.1))
    middle = 0.5 * (low + up)
    return replace(eye, scale=float(scale), middle=(float(middle[0]), float(middle[1]), float(middle[2])))

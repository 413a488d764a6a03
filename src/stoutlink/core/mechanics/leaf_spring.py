"""Leaf springs: rates, wind-up, stress, the axle's path, anti-squat and shackle, from cantilevers on both sides of
the seat.

A half of length a with Σw·t³ of leaves is a cantilever: of uniform strength (leaves cut to a triangle) it gives
6·F·a³/(E·Σw·t³), with full-length leaves two thirds of that; SF 1.0 to 1.5 stands between. Eyes hold height only, so
the seat's height s and its tilt θ (nose up) give the halves the deflections s + a·θ and s − b·θ. Everything below
follows from these two lines. Source: cantilever beams (any text on strength of materials; SAE HS-788 for leaf springs
uses the same relations).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
BEAM_PART = 0.75
"""Length of the rigid link that stands for a half of the spring, as a part of it: 3/4 for uniform strength, 5/6 for a
uniform leaf (SAE HS-788 uses this kind of equivalent, from memory)."""


def section(width: float, leaves: Sequence[tuple[float, int]]) -> float:
    """Σw·t³ of a pack, m⁴: ``width`` m, ``leaves`` as (thickness m, count).

    >>> round(section(0.0635, [(0.007, 4)]) * 1e8, 4)
    8.7122
    """
    return width * sum(n * t**3 for t, n in leaves)


def end_rate(length: float, pack: float, factor: float = 1.0, modulus: float = 207e9) -> float:
    """Rate of one half at its eye, N/m: E·Σwt³·SF/(6·a³).

    ``length`` a in m, ``pack`` Σw·t³ in m⁴ (:func:`section`), ``factor`` SF 1.0 to 1.5, ``modulus`` Pa (207 GPa from
    memory). Raises ``ValueError`` unless length and pack are positive. Source: cantilever of uniform strength.

    >>> round(end_rate(0.65, section(0.0635, [(0.007, 4)])))
    10945
    """
    if length <= 0 or pack <= 0:
        raise ValueError("length and leaves must be positive")
    return modulus * pack * factor / (6.0 * length**3)


def across(along: float, arch: float, clamp: float = 0.0) -> float:
    """Level distance from seat to eye of a half ``along`` m of main leaf whose eye stands ``arch`` m over the seat
    (either way), straight for half of ``clamp`` m and bent to a circle from there.

    Arc s = R·θ with rise R(1 − cos θ) and reach R·sin θ. A leaf that cannot rise as far (more than 2/π of its length)
    is taken straight up there. Source: geometry of a circle.

    >>> inch = 0.0254
    >>> round(across(26 * inch, 8.25 * inch) / inch, 2)
    24.16
    """
    straight = min(0.5 * clamp, along)
    arc = along - straight
    if arc <= 0 or arch == 0:
        return along
    part = min(abs(arch) / arc, 2.0 / math.pi)
    low, high = 0.0, 0.5 * math.pi
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if (1.0 - math.cos(middle)) < part * middle else (low, middle)
    theta = 0.5 * (low + high)
    return straight + (arc * math.sin(theta) / theta if theta > 1e-9 else arc)


def along_for(out: float, arch: float, clamp: float = 0.0) -> float:
    """Length of a half of main leaf, m, whose eye stands ``out`` m off the seat and ``arch`` m over it: :func:`across`
    turned round, straight for half of ``clamp`` m. An eye nearer than the arch lets a leaf be gets the shortest there
    is, straight up. Source: geometry of a circle.

    >>> inch = 0.0254
    >>> round(along_for(across(26 * inch, 8.25 * inch, 3 * inch), 8.25 * inch, 3 * inch) / inch, 6)
    26.0
    """
    low, high = 0.0, max(out, 0.0) + abs(arch) + clamp + 1e-9
    while across(high, arch, clamp) < out:
        high *= 1.5
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if across(middle, arch, clamp) < out else (low, middle)
    return 0.5 * (low + high)


class Halves(Struct, frozen=True):
    """A spring as its two halves: levers a (front) and b (rear) in m, along the flattened main leaf from eye to seat,
    and their end rates in N/m, which a clamped length stiffens without shortening the lever.
    """

    a: float
    b: float
    k_a: float
    k_b: float

    @property
    def heave_rate(self) -> float:
        """Rate at the seat with the housing free to tilt, N/m: (a + b)²/(b²/k_a + a²/k_b).

        >>> k = 1000.0; round(Halves(0.6, 0.6, k, k).heave_rate, 9)
        2000.0
        """
        return (self.a + self.b) ** 2 / (self.b**2 / self.k_a + self.a**2 / self.k_b)

    @property
    def roll_rate(self) -> float:
        """Rate at the seat with the housing held from tilting, as in roll, N/m: k_a + k_b."""
        return self.k_a + self.k_b

    @property
    def nose_down_per_bump(self) -> float:
        """Tilt of the seat per metre of bump, rad/m, nose down +: 1/a − 1/b when both halves have one section."""
        front, rear = self.b / self.k_a, self.a / self.k_b
        return (rear - front) / (self.b * front + self.a * rear)

    @property
    def wind_up_rate(self) -> float:
        """Moment on the seat per rad of tilt at constant seat load, N·m/rad, one spring: k_a·k_b·(a + b)²/(k_a +
        k_b).
        """
        return self.k_a * self.k_b * (self.a + self.b) ** 2 / (self.k_a + self.k_b)

    def scaled(self, rate: float) -> Halves:
        """The same spring with its heave rate brought to a measured one, both halves alike. Raises ``ValueError``
        unless positive.
        """
        if rate <= 0:
            raise ValueError("a spring rate is positive")
        part = rate / self.heave_rate
        return Halves(self.a, self.b, part * self.k_a, part * self.k_b)


def leaf_stress(load: float, a: float, b: float, thickness: float, pack: float) -> float:
    """Bending stress of one leaf of the pack under a seat load, Pa: 6·M·t/Σwt³ with M = F·a·b/(a + b).

    ``load`` N at the seat, lengths and ``thickness`` m, ``pack`` m⁴. The leaves share the moment by their stiffness,
    so the thickest is stressed most. Source: cantilevers bent to one curvature.

    >>> round(leaf_stress(6000.0, 0.6, 0.7, 0.007, section(0.0635, [(0.007, 4)])) / 1e6)
    934
    """
    return 6.0 * load * a * b / (a + b) * thickness / pack


def wrap(thrust: float, seat_height: float, eye_above: float, wind_up: float) -> float:
    """Tilt of the housing under thrust through two springs, rad, nose up for forward thrust: F·(h_s − c/3)/(2·S).

    ``thrust`` N of the axle, ``seat_height`` h_s of the main leaf over the ground and ``eye_above`` c of the fixed
    eye over the main leaf, m, ``wind_up`` S of one spring. The thrust leaves along the link to the fixed eye, whose
    slope 4c/(3a), a quarter of the half ahead of the seat, takes F·c/3 off the moment F·h_s. Source: statics.

    >>> round(math.degrees(wrap(9000.0, 0.6, 0.0, 40000.0)), 2)
    3.87
    """
    return thrust * (seat_height - eye_above / 3.0) / (2.0 * wind_up)


class SeatMotion(Struct, frozen=True):
    """How the seat moves at ride per metre of bump: forward speed (–), tilt nose down (rad/m)."""

    forward: float
    nose_down: float


def seat_motion(
    fixed: float, eye_above: float, nose_down: float, *, eye_behind: bool = False, part: float = BEAM_PART
) -> SeatMotion:
    """Motion of the seat through ride: the rigid link of ``part``·a to the fixed eye, hinged (1 − part)·a from the
    seat, and the beam's own tilt.

    ``fixed`` length of the half with the fixed eye and ``eye_above`` c, m; ``nose_down`` from
    :attr:`Halves.nose_down_per_bump`; ``eye_behind`` for a reversed shackle. The hinge rises by 1 − (1 −
    part)·a·nose_down, the link's slope c/(part·a) turns that into x.

    >>> round(seat_motion(0.6, 0.06, 0.0).forward, 4)
    -0.1333
    """
    side = -1.0 if eye_behind else 1.0
    hinge = 1.0 - side * (1.0 - part) * fixed * nose_down
    return SeatMotion(-side * eye_above / (part * fixed) * hinge, nose_down)


def support_slope(motion: SeatMotion, seat_height: float, end: str) -> float:
    """σ of the contact under the seat: −(v_x − ω_y·h_s) for a rear axle, + for a front one.

    For a rear axle with the eye ahead this is 4c/(3a) + (1/a − 1/b)·(h_s − c/3). ``motion`` of the seat,
    ``seat_height`` h_s m over the ground, ``end`` front or rear.

    >>> support_slope(seat_motion(0.6, 0.0, 0.0), 0.6, "rear")
    0.0
    """
    contact = motion.forward - motion.nose_down * seat_height
    return -contact if end == "rear" else contact


def front_eye_slope(eye_height: float, reach: float) -> float:
    """The front-eye school: a rigid trailing arm from eye to contact, σ = z_eye/|x_eye − x_C|; an upper bound (common
    practice).

    ``eye_height`` over the ground and ``reach`` from eye to contact, m. Raises ``ValueError`` for a reach of nothing.

    >>> round(front_eye_slope(0.6, 0.75), 6)
    0.8
    """
    if reach <= 0:
        raise ValueError("the eye lies over the axle")
    return eye_height / reach


class SpringPose(Struct, frozen=True):
    """A spring at a heave: seat forward of ride and above it (m), tilt nose down (rad), shackle lean (rad, lower end
    rearward +), the moving eye (x, z); ``nan`` where the shackle cannot follow."""

    heave: float
    forward: float
    nose_down: float
    shackle: float
    eye: tuple[float, float]


class SpringShape(Struct, frozen=True, dict=True):
    """A spring at ride in the plane of its own side, m, seat at x = 0: heights of fixed eye, moving eye and main leaf
    at the seat over the ground, shackle length and lean, which end carries the shackle, whether its frame pivot lies
    under the eye, and the clamped length. Eyes stand where length and arch put them (:func:`across`)."""

    halves: Halves
    front_eye: float
    rear_eye: float
    seat: float
    shackle: float
    lean: float
    reversed_shackle: bool = False
    shackle_up: bool = False
    clamp: float = 0.0

    @cached_property
    def front_x(self) -> float:
        """The front eye ahead of the seat, m."""
        return across(self.halves.a, self.front_eye - self.seat, self.clamp)

    @cached_property
    def rear_x(self) -> float:
        """The rear eye behind the seat, m."""
        return across(self.halves.b, self.rear_eye - self.seat, self.clamp)

    @cached_property
    def fixed_eye(self) -> tuple[float, float]:
        """The eye held by the frame, (x, z)."""
        return (-self.rear_x, self.rear_eye) if self.reversed_shackle else (self.front_x, self.front_eye)

    @property
    def fixed(self) -> float:
        """Length of the half with the fixed eye."""
        return self.halves.b if self.reversed_shackle else self.halves.a

    @property
    def eye_above(self) -> float:
        """c: the fixed eye over the main leaf at the seat."""
        return (self.rear_eye if self.reversed_shackle else self.front_eye) - self.seat

    @cached_property
    def moving_eye(self) -> tuple[float, float]:
        """The eye on the shackle at ride, (x, z)."""
        return (self.front_x, self.front_eye) if self.reversed_shackle else (-self.rear_x, self.rear_eye)

    @cached_property
    def frame_pivot(self) -> tuple[float, float]:
        """The shackle's pivot on the frame, (x, z): above the eye for a hanging shackle, below it for a standing one."""
        x, z = self.moving_eye
        s, c = self.shackle * math.sin(self.lean), self.shackle * math.cos(self.lean)
        return (x - s, z - c) if self.shackle_up else (x + s, z + c)

    def motion(self) -> SeatMotion:
        """Through ride."""
        return seat_motion(self.fixed, self.eye_above, self.halves.nose_down_per_bump, eye_behind=self.reversed_shackle)

    def forward(self, heave: Array, tilt: Array) -> Array:
        """How far forward of ride the seat stands at many heaves and tilts (arrays alike, m and rad): :meth:`at` for all
        of them together; ``nan`` where the shackle cannot follow.
        """
        side = -1.0 if self.reversed_shackle else 1.0
        arm, other = (1.0 - BEAM_PART) * self.fixed, self.halves.a if self.reversed_shackle else self.halves.b
        link = math.hypot(BEAM_PART * self.fixed, self.eye_above)
        rise = self.eye_above - (heave - side * arm * np.sin(tilt))
        with np.errstate(invalid="ignore"):
            forward = side * (self.fixed - arm * np.cos(tilt) - np.sqrt(link * link - rise * rise))
        arm2 = (1.0 - BEAM_PART) * other
        (ex, ez), (px, pz) = self.moving_eye, self.frame_pivot
        reach = math.hypot(abs(ex) - arm2, ez - self.seat)
        away = np.hypot(
            px - (forward - side * arm2 * np.cos(tilt)), pz - (self.seat + heave + side * arm2 * np.sin(tilt))
        )
        good = (np.abs(rise) < link) & (away > 0) & (away <= reach + self.shackle) & (away >= abs(reach - self.shackle))
        return np.asarray(np.where(good, forward, np.nan))

    def at(self, heave: float, held: float | None = None) -> SpringPose:
        """The spring with its seat ``heave`` above ride: the link to the fixed eye places the seat, the beam's tilt
        turns it (or the housing holds it at ``held`` rad, as in roll), the link to the other eye places the
        shackle."""
        h = self.halves
        tilt = h.nose_down_per_bump * heave if held is None else held
        side = -1.0 if self.reversed_shackle else 1.0
        arm = (1.0 - BEAM_PART) * self.fixed
        link = math.hypot(BEAM_PART * self.fixed, self.eye_above)
        rise = self.eye_above - (heave - side * arm * math.sin(tilt))
        nowhere = SpringPose(heave, math.nan, tilt, math.nan, (math.nan, math.nan))
        if abs(rise) >= link:
            return nowhere
        along = math.sqrt(link * link - rise * rise)
        forward = side * (self.fixed - arm * math.cos(tilt) - along)
        other = h.a if self.reversed_shackle else h.b
        arm2 = (1.0 - BEAM_PART) * other
        hinge = (forward - side * arm2 * math.cos(tilt), self.seat + heave + side * arm2 * math.sin(tilt))
        ex, ez = self.moving_eye
        reach = math.hypot(abs(ex) - arm2, ez - self.seat)
        eye = _meet(hinge, reach, self.frame_pivot, self.shackle, (ex, ez))
        if eye is None:
            return SpringPose(heave, forward, tilt, math.nan, (math.nan, math.nan))
        px, pz = self.frame_pivot
        upper, lower = (eye, (px, pz)) if self.shackle_up else ((px, pz), eye)
        return SpringPose(heave, forward, tilt, math.atan2(upper[0] - lower[0], upper[1] - lower[1]), eye)


def _meet(
    c1: tuple[float, float], r1: float, c2: tuple[float, float], r2: float, near: tuple[float, float]
) -> tuple[float, float] | None:
    """Where two circles meet, the point nearer to ``near``; ``None`` when they do not."""
    dx, dz = c2[0] - c1[0], c2[1] - c1[1]
    d = math.hypot(dx, dz)
    if d == 0 or d > r1 + r2 or d < abs(r1 - r2):
        return None
    along = (d * d + r1 * r1 - r2 * r2) / (2 * d)
    off = math.sqrt(max(0.0, r1 * r1 - along * along))
    x, z = c1[0] + along * dx / d, c1[1] + along * dz / d
    points = [(x + s * off * -dz / d, z + s * off * dx / d) for s in (1.0, -1.0)]
    return min(points, key=lambda p: math.dist(p, near))


def u_bolt(wide: float, high: float, stack: float, thread: float, pitch: float, washer: float) -> tuple[float, float]:
    """U-bolt to order: inside width, and leg from the inside of the bend to the thread's end, m.

    ``wide`` and ``high`` are what it goes over, the tube's outside twice or the casting's width and height; ``stack``
    pad, shim or block, spring pack and plate together. The leg adds washer, a nut as high as its thread, and three
    pitches. Source: common practice. ``pitch`` of the thread m.

    >>> [round(v, 4) for v in u_bolt(0.076, 0.076, 0.05, 0.0127, 0.00127, 0.002)]
    [0.076, 0.1445]
    """
    return wide, high + stack + washer + thread + 3.0 * pitch


def eye_tilt(raised: float, a: float, b: float) -> float:
    """Turn of the seat when the rear eye is raised, rad, nose down +: Δz/(a + b); a longer or flipped shackle changes
    the pinion by it.

    >>> eye_tilt(0.05, 0.6, 0.65)
    0.04
    """
    return raised / (a + b)

"""What comes near what, at every heave, roll and steer of one axle: capsules, boxes and tyres, to a millimetre where it matters."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.clearances import extent
from stoutlink.core.analysis.cycle.grid import Grid
from stoutlink.core.analysis.cycle.shaft import ShaftTravel
from stoutlink.core.analysis.survey_points import place_survey, rail_run
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.survey import Solid, TubeSolid
from stoutlink.core.geometry.many_distances import segments_apart, segments_to_box
from stoutlink.core.geometry.tyre_body import Tyre, tyre_to_box, tyre_to_segment

Array = NDArray[np.float64]
NEAR = 0.06
"""Beyond this, m, a lower bound by upright boxes stands for the distance."""
WANTED = 0.0127
"""Clearance wanted between parts that say none of their own, m (common practice: half an inch)."""
STEERS = 5
LOCK_GUESS = 0.56
"""Steering lock while the axle's is not known, rad (estimate)."""
FROM_FRAME = 0.30
"""Part of a link next to its frame bracket that is not held against the rail it is bracketed to."""
HOUSING_GUESS, TUBE_GUESS = 0.145, 0.08
"""Radius of the centre casting and diameter of the tubes while the axle does not say, m (estimates)."""


@dataclass(frozen=True, eq=False)
class Contact:
    """One pair of things: names, least distance m over all poses and where it is (heave m, roll rad, steer rad), the clearance wanted, and the room to
    spare ``(rolls, heaves)`` beyond it, the least over the steering. Distances above 60 mm are lower bounds."""

    one: str
    other: str
    least: float
    heave: float
    roll: float
    steer: float | None
    wanted: float
    room: Array

    @property
    def spare(self) -> float:
        """Least room beyond what is wanted, m; negative: too near, and below −wanted they touch."""
        return self.least - self.wanted


@dataclass(frozen=True, eq=False)
class Touching:
    """Every pair, nearest first, and over the grid the least room to spare and which pair has it (index, −1 where it is not reached)."""

    contacts: tuple[Contact, ...]
    room: Array
    which: NDArray[np.intp]


@dataclass(frozen=True)
class _Piece:
    """A straight round piece at every pose: ends ``(poses, 3)`` (or one place), radius m."""

    name: str
    p: Array
    q: Array
    radius: float


def touching(
    project: Project, rig: Rig, grid: Grid, shaft: ShaftTravel | None, donor: DonorAxle | None, going: Callable[[], bool] = lambda: True
) -> Touching:
    """Hold everything that moves with the axle against everything else.

    Links and panhard, drag link, driveshaft (each a capsule), the tubes and centre casting of the axle, and its tyres (front ones turned lock to
    lock in five steps about an upright kingpin) against solids, frame rails and each other where they do not share a bracket. A flat
    outline is taken as the box around it. Stops early, with what it has, when ``going`` says no.
    """
    shape = grid.reached.shape
    keep = np.flatnonzero(grid.within.ravel())
    if not keep.size:  # a shackle that reaches nowhere, even at ride
        return _put_together([], shape)
    layout = grid.layout

    def flat(points: Array) -> Array:
        return points.reshape(-1, 3)[keep]

    links = [_Piece(x.name, np.array(x.frame_pivot_m), flat(grid.carried(x.axle_pivot_m)), 0.5 * x.tube_od_m) for x in layout.links]
    bars = list(links)
    if layout.steering is not None and layout.steering.kind == "drag_link":
        bars.append(_Piece("Drag link", np.array(layout.steering.pitman_m), flat(grid.carried(layout.steering.knuckle_m)), 0.019))
    rails = _rails(project, rig)
    found: list[Contact] = []

    def take(one: str, other: str, gap: Array, wanted: float, steer: Array | None = None, angles: Array | None = None) -> None:
        full = np.full(shape, np.nan).ravel()
        full[keep] = gap - wanted
        i = int(gap.argmin())
        row, column = np.unravel_index(keep[i], shape)
        turned = None if steer is None or angles is None else float(angles[int(steer[i])])
        found.append(Contact(one, other, float(gap[i]), float(grid.heave[column]), float(grid.roll[row]), turned, wanted, full.reshape(shape)))

    movers = list(bars)
    drive = None
    if shaft is not None:
        out = np.array(shaft.output)
        joint = flat(shaft.joint)
        drive = _Piece("Driveshaft", out + 0.12 * (joint - out), joint, 0.5 * shaft.shaft.tube_od_m)
        movers.append(drive)
    housing = _housing(rig, grid, donor, flat)
    for piece in (*movers, *housing):
        for solid in project.solids:
            if piece is drive and solid.kind in ("driveshaft", "transfer_case"):
                continue
            if solid.kind == "driveshaft" and drive is not None:
                continue  # the shaft itself, as it was measured once; the one that moves counts
            take(piece.name, solid.name, _to_solid(piece, solid), solid.clearance_m)
        if not going():
            return _put_together(found, shape)
    for piece in (*movers, *housing):
        inner = piece if piece not in links else _Piece(piece.name, piece.p + FROM_FRAME * (piece.q - piece.p), piece.q, piece.radius)
        for side, run in rails:
            take(piece.name, f"{side} frame rail", _to_runs(inner, run), WANTED)
    for a, b in itertools.combinations(bars, 2):
        if not _one_bolt(a, b):
            take(a.name, b.name, _apart(a, b), WANTED)
    if drive is not None:
        for a in bars:
            take(a.name, drive.name, _apart(a, drive), WANTED)
    if going():
        _tyres(project, rig, grid, donor, links, rails, flat, take, going)
    return _put_together(found, shape)


def _put_together(found: list[Contact], shape: tuple[int, ...]) -> Touching:
    if not found:
        return Touching((), np.full(shape, np.nan), np.full(shape, -1))
    ranked = sorted(found, key=lambda c: c.spare)
    rooms = np.stack([c.room for c in ranked])
    gone = np.isnan(rooms).all(axis=0)
    which = np.where(gone, 0, np.nanargmin(np.where(gone, 0.0, rooms), axis=0))
    return Touching(tuple(ranked), np.where(gone, np.nan, np.take_along_axis(rooms, which[None], 0)[0]), np.where(gone, -1, which))


def _housing(rig: Rig, grid: Grid, donor: DonorAxle | None, flat: Callable[[Array], Array]) -> list[_Piece]:
    """Tubes from wheel to wheel, and the centre casting as a ball at the pinion's offset."""
    centre, half = np.array(grid.centre), 0.5 * rig.end(grid.layout.end).track_m - 0.25
    tube = donor.tube_od_m if donor is not None and donor.tube_od_m is not None else TUBE_GUESS
    ball = HOUSING_GUESS
    if donor is not None and donor.ring_diameter_m is not None:
        ball = 0.5 * donor.ring_diameter_m + (donor.housing_below_m if donor.housing_below_m is not None else 0.03)
    offset = donor.pinion_offset_m if donor is not None and donor.pinion_offset_m is not None else 0.0
    left, right, middle = (flat(grid.carried(centre + np.array([0.0, y, 0.0]))) for y in (half, -half, offset))
    return [_Piece("Axle tube", left, right, 0.5 * tube), _Piece("Centre casting", middle, middle, ball)]


Run = tuple[tuple[Array, Array, float], ...]


def _rails(project: Project, rig: Rig) -> list[tuple[str, Run]]:
    """The surveyed rails as round pieces with half the rail's width (a rail taller than wide is nearer above and below than said)."""
    points = tuple(p for survey in project.surveys for p in place_survey(survey, rig.wheelbase_m))
    out: list[tuple[str, Run]] = []
    for side, name in ((1.0, "Left"), (-1.0, "Right")):
        run = [p for p in rail_run(points, side) if p.z is not None and any(y * side > 0 for y in p.sides)]
        pieces = []
        for a, b in itertools.pairwise(run):
            ends = [np.array([p.x, next(y for y in p.sides if y * side > 0), p.z]) for p in (a, b)]
            wide = a.point.diameter_m or rig.body.rail_width_m or 0.05
            if np.linalg.norm(ends[0] - ends[1]) > 1e-6:
                pieces.append((ends[0], ends[1], 0.5 * wide))
        if pieces:
            out.append((name, tuple(pieces)))
    return out


def _box_bound(a: _Piece, low: Array, high: Array) -> Array:
    """Distance of the upright boxes around pieces and one box, m: never more than the true one."""
    least, most = np.minimum(a.p, a.q), np.maximum(a.p, a.q)
    off = np.maximum(0.0, np.maximum(low - most, least - high))
    return np.asarray(np.sqrt((off * off).sum(axis=-1)) - a.radius)


def _some(a: _Piece, rows: NDArray[np.bool_]) -> tuple[Array, Array]:
    return (np.broadcast_to(a.p, a.q.shape)[rows], a.q[rows]) if a.p.ndim == 1 else (a.p[rows], a.q[rows])


def _to_solid(a: _Piece, solid: Solid) -> Array:
    low, high = (np.array(v) for v in extent(solid))
    gap = _box_bound(a, low, high)
    close = gap < NEAR
    if close.any():
        p, q = _some(a, close)
        if isinstance(solid, TubeSolid):
            runs = [segments_apart(p, q, np.array(u), np.array(v)) for u, v in zip(solid.path_m, solid.path_m[1:], strict=False)]
            gap[close] = np.minimum.reduce(runs) - 0.5 * solid.diameter_m - a.radius
        else:
            gap[close] = segments_to_box(p, q, low, high, 18) - a.radius
    return gap


def _to_runs(a: _Piece, run: Run) -> Array:
    out = np.full(len(a.q), np.inf)
    for u, v, radius in run:
        gap = _box_bound(a, np.minimum(u, v), np.maximum(u, v)) - radius
        close = gap < NEAR
        if close.any():
            p, q = _some(a, close)
            gap[close] = segments_apart(p, q, u, v) - radius - a.radius
        out = np.minimum(out, gap)
    return out


def _apart(a: _Piece, b: _Piece) -> Array:
    return segments_apart(np.broadcast_to(a.p, a.q.shape), a.q, np.broadcast_to(b.p, b.q.shape), b.q) - a.radius - b.radius


def _one_bolt(a: _Piece, b: _Piece) -> bool:
    """Links that meet at a bracket do not count as touching there."""
    frame = a.p.ndim == 1 and b.p.ndim == 1 and float(np.linalg.norm(a.p - b.p)) < 0.12
    return frame or float(np.linalg.norm(a.q - b.q, axis=-1).min()) < 0.12


def _tyres(
    project: Project, rig: Rig, grid: Grid, donor: DonorAxle | None, links: list[_Piece], rails: list[tuple[str, Run]], flat: Callable[[Array], Array],
    take: Callable[..., None], going: Callable[[], bool],
) -> None:  # fmt: skip
    """Both tyres, the front ones at five steers, against links, rails and solids."""
    end = grid.layout.end
    wheel = rig.end(end)
    tyre = Tyre(wheel.free, wheel.tread)
    lock = donor.steer_lock_rad if donor is not None and donor.steer_lock_rad is not None else LOCK_GUESS
    angles = np.linspace(-lock, lock, STEERS) if end == "front" else np.zeros(1)
    half = 0.5 * wheel.track_m
    pin = half - 0.09
    if donor is not None and donor.width_m is not None and donor.kingpin_inset_m is not None:
        pin = 0.5 * donor.width_m - donor.kingpin_inset_m
    ball = float(np.hypot(tyre.radius, 0.5 * tyre.width))
    turn = grid.turn.reshape(-1, 3, 3)[grid.within.ravel()]
    centre = np.array(grid.centre)
    for side, name in ((1.0, "Left"), (-1.0, "Right")):
        middles, spins = [], []
        for angle in angles:
            s, c = np.sin(angle), np.cos(angle)
            arm = side * (half - pin)
            local = np.array([-s * arm, side * pin + c * arm, 0.0])
            middles.append(flat(grid.carried(centre + local)))
            spins.append(turn @ np.array([-s, c, 0.0]))
        at, spin = np.stack(middles), np.stack(spins)  # (steers, poses, 3)
        for solid in project.solids:
            if not going():
                return
            low, high = (np.array(v) for v in extent(solid))
            gap = _tyre_gap(tyre, at, spin, low, high, partial(_box_near, tyre, low, high))
            take(f"{name} tyre", solid.name, gap.min(axis=0), solid.clearance_m, gap.argmin(axis=0), angles if len(angles) > 1 else None)
        for rail, run in rails:
            if rail != name:
                continue
            gap = np.full(at.shape[:2], np.inf)
            for u, v, radius in run:
                near = partial(_rail_near, tyre, u, v, radius)
                gap = np.minimum(gap, _tyre_gap(tyre, at, spin, np.minimum(u, v) - radius, np.maximum(u, v) + radius, near))
            take(f"{name} tyre", f"{rail} frame rail", gap.min(axis=0), WANTED, gap.argmin(axis=0), angles if len(angles) > 1 else None)
        for piece in links:  # the drag link's end turns with the knuckle and the tyre
            if float(piece.q[..., 1].mean()) * side < -0.05:
                continue
            q = np.broadcast_to(piece.q, at.shape)
            p = np.broadcast_to(piece.p, at.shape)
            gap = segments_apart(at, at, p, q) - ball - piece.radius
            close = gap < NEAR
            if close.any():
                gap[close] = tyre_to_segment(tyre, at[close], spin[close], p[close], q[close]) - piece.radius
            take(f"{name} tyre", piece.name, gap.min(axis=0), WANTED, gap.argmin(axis=0), angles if len(angles) > 1 else None)


def _box_near(tyre: Tyre, low: Array, high: Array, at: Array, spin: Array) -> Array:
    return tyre_to_box(tyre, at, spin, low, high)


def _rail_near(tyre: Tyre, u: Array, v: Array, radius: float, at: Array, spin: Array) -> Array:
    return np.asarray(tyre_to_segment(tyre, at, spin, u, v) - radius)


def _tyre_gap(tyre: Tyre, at: Array, spin: Array, low: Array, high: Array, exact: Callable[[Array, Array], Array]) -> Array:
    """Distance of tyres to something inside a box: exact where the ball around the tyre comes near the box, else the ball's."""
    off = np.maximum(0.0, np.maximum(low - at, at - high))
    ball = float(np.hypot(tyre.radius, 0.5 * tyre.width))
    gap = np.sqrt((off * off).sum(axis=-1)) - ball
    close = gap < NEAR
    if close.any():
        gap[close] = exact(at[close], spin[close])
    return np.asarray(gap)

"""How sure the headline numbers of a layout are: the readings carried through the whole analysis.

What varies is a reading, not a coordinate: one spread moves both pivots of a pair, the tape's zero moves every frame
station, one scale moves weight, balance point and height together. Every reading is put one σ up and one σ down and
everything is worked out again, all cases at once: half the difference is its part (first order), half the bend is its
shift of the mean. Where the bends are not small against the parts, first order is not enough: then the whole is drawn
at random (fixed seed) and said so. The loaded radius does not move pivots: their heights are measured from the floor.
"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.axle_motion import AxleMotion
from stoutlink.core.analysis.linkage.bar_set import stiffness_of
from stoutlink.core.analysis.vehicle.anti_numbers import load_share, school_height
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.analysis.vehicle.rig_readings import BETTER, RigCase, rig_cases
from stoutlink.core.document.default_sigma import PLUMB, TAPE
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.project import Entry, HeightSchool, Project, ThrustSchool
from stoutlink.core.document.rig import Rig
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.ride_shape import ride_shape
from stoutlink.core.mechanics.linkage.side_view import anti_percent
from stoutlink.core.mechanics.weight import thrust_share
from stoutlink.core.numerics.remembering import remember_by_identity

Array = NDArray[np.float64]

STATION, HEIGHT, SPREAD = PLUMB, TAPE, TAPE
"""Default 1 σ of pivot readings, m (common practice)."""
ZERO = 0.003
"""Default 1 σ of the tape's zero, m."""
BENT = 0.10
"""Second-order spread above this part of σ: first order is not enough."""
DRAWS, SEED = 2000, 20240


class Part(Struct, frozen=True):
    """What one reading contributes: words, path (empty when it is no field), its share of the variance, σ of the
    result if this reading's ± were halved, and what would measure it better."""

    what: str
    path: str
    share: float
    if_halved: float
    better: str


class HowSure(Struct, frozen=True):
    """1 σ of one number and what makes it up, largest first. ``shift`` is how far the mean lies from the value
    (second order); ``inputs`` is every reading that moves it at all, as words and path.
    """

    sigma: float
    parts: tuple[Part, ...]
    shift: float = 0.0
    method: Literal["first order", "drawn at random"] = "first order"
    inputs: tuple[tuple[str, str], ...] = ()


class _Reading(Struct, frozen=True):
    what: str
    path: str
    sigma: float
    moves: tuple[tuple[str, int, int, float], ...]
    """(frame or axle, bar index, axis, factor) that one unit of the reading moves."""


class Cases(Struct, frozen=True):
    """Many versions of one axle on one rig, arrays over cases: pivots ``(m, n, 3)``, axle centre ``(m, 3)``, the rest
    ``(m,)``.
    """

    frame: Array
    axle: Array
    centre: Array
    wheelbase: Array
    cg_height: Array
    school_height: Array
    thrust: Array
    brake: Array


def how_sure(project: Project, motion: AxleMotion) -> dict[str, HowSure]:
    """1 σ of ``drive_pct``, ``brake_pct``, ``roll_centre_m``, ``roll_centre_part``, ``inclination_rad``,
    ``roll_steer``, ``hold`` and ``pinion_spread_rad`` for the axle of ``motion`` (worked out on the rig in force)."""
    s = project.settings
    noted = layout_entries(project.entries, motion.layout.id)
    return _how_sure(
        motion, rig_cases(project), project.linkage.joints, noted, s.thrust_school, s.height_school, zero_sigma(project)
    )


@remember_by_identity(8)
def layout_entries(entries: tuple[Entry, ...], layout: str) -> tuple[Entry, ...]:
    """The notes on one layout's pivots."""
    return tuple(e for e in entries if e.field.startswith(f"layouts.{layout}."))


def zero_sigma(project: Project) -> float:
    """1 σ of the tape's zero of the first survey, as noted beside it or in its datum."""
    for survey in project.tape.surveys:
        noted = project.entry(f"surveys.{survey.id}.datum.zero_x_m")
        return survey.datum.zero_sigma_m if noted is None or noted.sigma is None else noted.sigma
    return ZERO


@remember_by_identity(16)
def _how_sure(
    motion: AxleMotion,
    rigs: tuple[RigCase, ...],
    joints: tuple[Joint, ...],
    entries: tuple[Entry, ...],
    thrust: ThrustSchool,
    height: HeightSchool,
    zero: float,
) -> dict[str, HowSure]:
    rig, layout, end = motion.rig, motion.layout, motion.end
    readings = pivot_readings(layout, {e.field: e.sigma for e in entries if e.sigma is not None}, zero)
    k, r = len(readings), len(rigs)
    frame = np.array([link.frame_pivot_m for link in layout.links])
    axle = np.array([link.axle_pivot_m for link in layout.links])
    columns, centres, which_centre = _rig_columns(rigs, rig, end, thrust, height)
    n = 2 * k + len(centres)
    frames, axles = np.tile(frame, (n, 1, 1)), np.tile(axle, (n, 1, 1))
    for i, reading in enumerate(readings):
        for which, bar, axis, factor in reading.moves:
            points = frames if which == "frame" else axles
            points[2 * i, bar, axis] += factor * reading.sigma
            points[2 * i + 1, bar, axis] -= factor * reading.sigma
    # only what moves pivots or axle centre is put through the mechanics; other rig readings share the nominal motion
    shape = _shape(end, layout, joints, np.concatenate([np.tile(centres[:1], (2 * k, 1)), centres]), frames, axles)
    pick = np.concatenate([np.arange(2 * k), 2 * k + which_centre])
    spread_out = np.concatenate([np.tile(columns[-1], (2 * k, 1)), columns])
    values = _with_rig({name: v[pick] for name, v in shape.items()}, *spread_out.T)
    frames, axles = frames[: 2 * k], axles[: 2 * k]
    values_pinion = _pinion_parts(motion, np.stack([frames[0::2] - frame, axles[0::2] - axle]))
    names = [(x.what, x.path) for x in readings] + [(c.what, c.path) for c in rigs]
    out, bent = {}, []
    for name, v in values.items():
        up, down, middle = v[0:-1:2], v[1:-1:2], v[-1]
        parts, bends = (up - down) / 2.0, (up + down) / 2.0 - middle
        total = float(np.sqrt((parts**2).sum()))
        if total > 0 and math.sqrt(2.0 * float((bends**2).sum())) > BENT * total:
            bent.append(name)
        out[name] = _judged(total, parts, names, float(bends.sum()))
    pinion = np.concatenate([values_pinion, np.zeros(r)])
    out["pinion"] = _judged(float(np.sqrt((pinion**2).sum())), pinion, names, 0.0)
    if bent:
        drawn = _drawn(end, layout, joints, readings, rigs, rig, frame, axle, thrust, height)
        for name in bent:
            good = drawn[name][np.isfinite(drawn[name])]
            out[name] = HowSure(
                float(good.std()),
                out[name].parts,
                float(good.mean() - values[name][-1]),
                "drawn at random",
                out[name].inputs,
            )
    return out


def _judged(total: float, parts: Array, names: list[tuple[str, str]], shift: float) -> HowSure:
    """Rank the parts and say what halving each would leave."""
    squares = parts**2
    order, each = np.argsort(-squares, kind="stable")[:6].tolist(), squares.tolist()
    ranked = []
    for i in order:
        if total > 0 and each[i] > 0:
            left = math.sqrt(max(0.0, total**2 - 0.75 * each[i]))
            what, path = names[i]
            ranked.append(Part(what, path, each[i] / total**2, left, better_way(what)))
    least = (1e-9 * total) ** 2
    moving = tuple([name for name, square in zip(names, each, strict=True) if square > least])
    return HowSure(total, tuple(ranked), shift, inputs=moving)


def better_way(what: str) -> str:
    """What would measure a reading better."""
    if what in BETTER:
        return BETTER[what]
    if "scale" in what or "weight" in what:
        return "weigh it again on better scales"
    if what.endswith("station"):
        return "drop the plumb bob again, and take the mean of four readings"
    return "take the mean of four tape readings"


def cases_of(rigs: list[Rig], end: str, frame: Array, axle: Array, thrust: ThrustSchool, height: HeightSchool) -> Cases:
    """Pivots ``(m, n, 3)`` with the numbers of as many rigs."""
    known: dict[int, tuple[float, ...]] = {}
    rows = []
    for rig in rigs:
        if id(rig) not in known:
            brake = rig.brake_front_share if end == "front" else 1.0 - rig.brake_front_share
            known[id(rig)] = (
                *axle_centre(rig, end),
                rig.wheelbase_m,
                rig.cg_height_m,
                school_height(rig, height),
                thrust_share(thrust, load_share(rig, end)),
                brake,
            )
        rows.append(known[id(rig)])
    a = np.array(rows)
    return Cases(frame, axle, a[:, :3], a[:, 3], a[:, 4], a[:, 5], a[:, 6], a[:, 7])


@remember_by_identity(8)
def _rig_columns(
    rigs: tuple[RigCase, ...], rig: Rig, end: str, thrust: ThrustSchool, height: HeightSchool
) -> tuple[Array, Array, NDArray[np.intp]]:
    """What the headlines take from every rig case and, last, the rig itself: wheelbase, CG height, school height,
    thrust and brake share, ``(2r + 1, 5)``; the distinct axle centres ``(c, 3)``, the rig's own first, and which of
    them each case has."""
    flat = [one for c in rigs for one in (c.up, c.down)] + [rig]
    rows = cases_of(flat, end, np.empty(0), np.empty(0), thrust, height)
    known = {tuple(rows.centre[-1]): 0}
    which = np.array([known.setdefault(tuple(c), len(known)) for c in rows.centre])
    return (
        np.stack([rows.wheelbase, rows.cg_height, rows.school_height, rows.thrust, rows.brake], axis=1),
        np.array(list(known)),
        which,
    )


def headlines(end: str, layout: Layout, joints: tuple[Joint, ...], cases: Cases) -> dict[str, Array]:
    """Headline numbers at ride of many cases: arrays ``(m,)`` by name."""
    shape = _shape(end, layout, joints, cases.centre, cases.frame, cases.axle)
    return _with_rig(shape, cases.wheelbase, cases.cg_height, cases.school_height, cases.thrust, cases.brake)


def _shape(
    end: str, layout: Layout, joints: tuple[Joint, ...], centre: Array, frame: Array, axle: Array
) -> dict[str, Array]:
    """What follows from where pivots and axle centre are, ``(m,)`` each."""
    return ride_shape(end, Bars.of(centre, frame, axle, stiffness_of(layout, joints)[0]))


def _with_rig(
    shape: dict[str, Array], wheelbase: Array, cg_height: Array, school: Array, thrust: Array, brake: Array
) -> dict[str, Array]:
    """The headlines of shapes on rigs, all ``(m,)``."""
    slope, height = shape["slope"], shape["roll_centre_m"]
    return {
        "drive": anti_percent(slope, thrust, wheelbase, school),
        "brake": anti_percent(slope, brake, wheelbase, school),
        "roll_centre_height": height,
        "roll_centre": height / cg_height,
        "inclination": shape["inclination_rad"],
        "steer": shape["roll_steer"],
        "hold": shape["hold"],
    }


def _pinion_parts(motion: AxleMotion, moves: Array) -> Array:
    """What each reading does to the pinion's change over travel, rad, first order, without solving the travel again.

    ``moves`` ``(2, readings, bars, 3)``: how far one σ moves frame and axle pivots, m. At a solved pose a moved pivot
    opens a bar by u·(R·δa − δb) − u₀·(δa − δb), u along the bar now and u₀ at ride; the bars' own Jacobian turns that
    into a motion.
    """
    angles = motion.heave.pinion
    if not np.isfinite(angles).any() or moves.shape[1] == 0:
        return np.zeros(moves.shape[1])
    bars, poses = motion.bars, motion.heave.poses
    most = [int(np.nanargmax(angles)), int(np.nanargmin(angles))]  # both poses at once, the upper one first
    ride = bars.axle - bars.frame
    ride = ride / np.sqrt((ride * ride).sum(axis=-1, keepdims=True))
    turn = rotation(poses.yaw[most], poses.roll[most], poses.pitch[most])
    back = turn.transpose(0, 2, 1)
    place = np.array([poses.x[most], poses.y[most], poses.z[most]]).T
    along = place[:, None] + bars.local @ back - bars.frame
    along = along / np.sqrt((along * along).sum(axis=-1, keepdims=True))
    frame, axle = moves
    gap = (along[:, None] * (axle @ back[:, None] - frame)).sum(axis=-1) - (ride * (axle - frame)).sum(axis=-1)
    rows = motion.heave.rows[most]
    weighted = (rows * bars.stiffness[:, None]).transpose(0, 2, 1)
    pitch = -np.linalg.solve(weighted @ rows, weighted @ gap.transpose(0, 2, 1))[:, 3]
    up, forward = motion.layout.pinion_up, 1.0 if motion.end == "rear" else -1.0
    axis = turn @ np.array([forward * math.cos(up), 0.0, math.sin(up)])
    lift = (
        turn[:, 0, 1] * axis[:, 1] - turn[:, 1, 1] * axis[:, 0]
    )  # what a turn about the axle's own y does to its height
    upper, lower = pitch * (lift / np.sqrt(np.maximum(1e-12, 1.0 - axis[:, 2] ** 2)))[:, None]
    return np.asarray(upper - lower)


def _drawn(
    end: str,
    layout: Layout,
    joints: tuple[Joint, ...],
    readings: list[_Reading],
    rigs: tuple[RigCase, ...],
    rig: Rig,
    frame: Array,
    axle: Array,
    thrust: ThrustSchool,
    height: HeightSchool,
) -> dict[str, Array]:
    """Headlines with every pivot reading drawn at random; rig readings drawn by their first-order effect on the rig's
    numbers.
    """
    rng = np.random.default_rng(SEED)
    frames, axles = np.tile(frame, (DRAWS, 1, 1)), np.tile(axle, (DRAWS, 1, 1))
    for reading in readings:
        z = rng.normal(0.0, reading.sigma, DRAWS)
        for which, bar, axis, factor in reading.moves:
            (frames if which == "frame" else axles)[:, bar, axis] += factor * z
    base = cases_of([rig], end, frame[None], axle[None], thrust, height)
    flat = [one for c in rigs for one in (c.up, c.down)]
    off = cases_of(flat, end, frame[None], axle[None], thrust, height) if flat else None
    z = rng.normal(0.0, 1.0, (DRAWS, len(rigs)))

    def drawn(key: str) -> Array:
        here = getattr(base, key)
        if off is None:
            return np.repeat(here, DRAWS, axis=0)
        parts = (getattr(off, key)[0::2] - getattr(off, key)[1::2]) / 2.0
        return np.asarray(here + z @ parts)

    keys = ("centre", "wheelbase", "cg_height", "school_height", "thrust", "brake")
    return headlines(end, layout, joints, Cases(frames, axles, *(drawn(key) for key in keys)))


def pivot_readings(layout: Layout, noted: dict[str, float], zero: float = ZERO) -> list[_Reading]:
    """The tape readings behind a layout's pivots: per pair or single link station, spread and height at both ends,
    and the tape's zero.
    """
    index = {link.id: i for i, link in enumerate(layout.links)}
    out = []
    if zero > 0:
        out.append(_Reading("tape zero", "", zero, tuple(("frame", i, 0, 1.0) for i in index.values())))
    for link, which, together in layout.pivots_apart():
        pair = any(side < 0 for _, side in together)
        for axis, (word, default) in enumerate(
            (("station", STATION), ("spread" if pair else "offset", SPREAD), ("height", HEIGHT))
        ):
            paths = [f"layouts.{layout.id}.links.{name}.{which}_pivot_m.{axis}" for name, _ in together]
            known = next((noted[path] for path in paths if path in noted), None)
            if known is not None and pair and axis == 1:
                known *= 2.0  # noted of one side; the reading is the full spread
            moves = tuple(
                (which, index[name], axis, (0.5 * side if pair else 1.0) if axis == 1 else 1.0)
                for name, side in together
            )
            out.append(
                _Reading(
                    f"{link.role} pair, {which} {word}" if pair else f"{link.name}, {which} {word}",
                    paths[0],
                    default if known is None else known,
                    moves,
                )
            )
    return out

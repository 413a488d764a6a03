"""Readings that cannot be right: each finding names the reading, by how much, and what to measure again first."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from stoutlink.core.advice.finding import Finding, Severity
from stoutlink.core.analysis.survey.survey_points import Placed, place_survey, rail_run
from stoutlink.core.document.survey import Survey, SurveyPoint
from stoutlink.core.mechanics.smooth_run import spikes
from stoutlink.core.mechanics.tape import likely_range
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

AGREE = 2.0
"""Two readings of one thing that differ by more than this many σ of their difference do not agree (one in twenty by
chance): 43 in against 43 3/8 in must raise an alarm (common practice)."""
SAME_PLACE = 0.004
"""Two stations nearer than this, m, are the same station."""
OVERHANG = 1.3
"""A frame point further beyond an axle than this, m, is far outside the wheelbase (estimate)."""
FACTORS = (
    (25.4, "looks like inches read as millimetres"), (1 / 25.4, "looks like millimetres read as inches"), (10.0, "looks like centimetres read as millimetres"),
    (0.1, "looks like millimetres read as centimetres"), (12.0, "looks like feet read as inches"), (1 / 2.54, "looks like centimetres read as inches"),
)  # fmt: skip
GROSS = 6.0
"""A reading this many times larger or smaller than its neighbours is not a mark in the frame."""
NEAR = 0.12
"""A slip of units or of half and full is named when it brings the reading this near (as a part) to what the others
say.
"""


@dataclass(frozen=True)
class _Found:
    weight: float
    finding: Finding


def survey_findings(surveys: tuple[Survey, ...], wheelbase: float, unit: UnitSystem) -> tuple[Finding, ...]:
    """Everything that looks wrong in the surveys, the worst first; nothing is dropped, only named. ``wheelbase`` in
    m.
    """
    found: list[_Found] = []
    for survey in surveys:
        placed = place_survey(survey, wheelbase)
        for rule in (
            _incomplete,
            _repeats,
            _duplicates,
            _named_twice,
            _outside,
            _units_along,
            _smooth,
            _left_right,
            _slope,
            _axles,
        ):
            found += rule(survey, placed, wheelbase, unit)
    unique = {f.finding.key: f for f in sorted(found, key=lambda f: f.weight)}
    ranked = sorted(unique.values(), key=lambda f: -f.weight)
    return tuple(f.finding for f in ranked)


Rule = Callable[[Survey, tuple[Placed, ...], float, UnitSystem], Iterator[_Found]]


def label(point: SurveyPoint, unit: UnitSystem) -> str:
    """A point as it is called in a sentence: its name, else its station."""
    if point.name.strip():
        return f"“{point.name.strip()}”"
    if point.station:
        return f"the point at station {_as_read(point.station[0].value_m, unit)}"
    return "a point without station"


def _as_read(value: float, unit: UnitSystem) -> str:
    return show(value, "length", unit)


def _by(value: float, unit: UnitSystem) -> str:
    return show(abs(value), "length", unit, decimals=2 if unit == "in" else 0)


def _make(
    code: str,
    severity: Severity,
    sentence: str,
    why: str,
    survey: Survey,
    points: tuple[str, ...],
    what: str,
    weight: float,
) -> _Found:
    return _Found(weight, Finding(code, severity, sentence, why, "tape", f"{survey.id}/{'+'.join(points)}/{what}"))


def _incomplete(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    for point in survey.points:
        if not point.station:
            yield _make(
                "S108",
                "note",
                f"{label(point, unit).capitalize()} has no station yet, so it cannot be drawn.",
                "Read the tape where it stands.",
                survey,
                (point.id,),
                "station",
                0.1,
            )
        edged = {point.station_edge, point.height_edge, point.side_edge} != {"centre"}
        if edged and point.diameter_m is None:
            yield _make(
                "S109",
                "warn",
                f"{label(point, unit).capitalize()} was read at an edge, but its diameter or width is not known.",
                "The hidden centre is the edge and half the width: measure the part.",
                survey,
                (point.id,),
                "edge",
                2.0,
            )


def _repeats(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    for one in placed:
        for what, read in (
            ("station", one.read.station),
            ("height", one.read.height),
            ("spread" if one.point.across == "full" else "offset", one.read.half),
        ):
            if read is None or read.count < 2:
                continue
            worth = AGREE * read.spread / (likely_range(read.count) * max(read.single, 1e-6))
            if worth > AGREE:
                yield _make(
                    "S101",
                    "warn",
                    f"The {what} of {label(one.point, unit)} was read {read.count} times and differs by {_by(read.spread, unit)}.",
                    f"Measure that {what} again first; the mean is used meanwhile, with a wider ±.",
                    survey,
                    (one.point.id,),
                    what,
                    worth,
                )


def _duplicates(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    order = sorted((p for p in placed if p.point.kind == "rail"), key=lambda p: p.x)
    for a, b in itertools.pairwise(order):
        sides = {a.point.across, b.point.across}
        if b.x - a.x > SAME_PLACE or sides == {"left", "right"} or _same_name(a, b):
            continue
        apart = "" if a.z is None or b.z is None else f" with heights {_by(a.z - b.z, unit)} apart"
        yield _make(
            "S104",
            "warn",
            f"{label(a.point, unit).capitalize()} and {label(b.point, unit)} have the same station{apart}.",
            "One of the two stations is a slip, or one point was entered twice: read both stations again first.",
            survey,
            (a.point.id, b.point.id),
            "station",
            3.0 + (abs((a.z or 0) - (b.z or 0)) / 0.004 if apart else 0.0),
        )


def _same_name(a: Placed, b: Placed) -> bool:
    return bool(a.point.name.strip()) and a.point.name.strip().casefold() == b.point.name.strip().casefold()


def _named_twice(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    """One thing measured two ways: the same name twice, or a spread and both offsets."""
    by_name: dict[str, list[Placed]] = {}
    for one in placed:
        if one.point.name.strip():
            by_name.setdefault(one.point.name.strip().casefold(), []).append(one)
    for group in by_name.values():
        offsets = {p.point.across: p for p in group if p.read.half is not None}
        if {"left", "right", "full"} <= set(offsets):
            full, left, right = (offsets[k].read.half for k in ("full", "left", "right"))
            assert full is not None
            assert left is not None
            assert right is not None
            gap = 2 * full.centre - left.centre - right.centre
            worth = abs(gap) / math.hypot(2 * full.sigma, left.sigma, right.sigma)
            if worth > AGREE:
                yield _make(
                    "S102",
                    "warn",
                    f"The spread of {label(group[0].point, unit)} and its two offsets disagree by {_by(gap, unit)}.",
                    "Measure the full width again first, then each side from the centreline.",
                    survey,
                    tuple(p.point.id for p in group),
                    "spread",
                    worth,
                )
        for i, a in enumerate(group):
            for b in group[i + 1 :]:
                if {a.point.across, b.point.across} == {"left", "right"} or a.point.across != b.point.across:
                    continue
                for what, gap, sigma in (
                    ("station", b.x - a.x, math.hypot(a.sigma[0], b.sigma[0])),
                    ("height", (b.z or 0) - (a.z or 0), math.hypot(a.sigma[2], b.sigma[2])),
                ):
                    if what == "height" and (a.z is None or b.z is None):
                        continue
                    worth = abs(gap) / sigma
                    if worth > AGREE:
                        yield _make(
                            "S102",
                            "warn",
                            f"{label(a.point, unit).capitalize()} was measured twice, and its {what} differs by {_by(gap, unit)}.",
                            f"Measure that {what} again first.",
                            survey,
                            (a.point.id, b.point.id),
                            what,
                            worth,
                        )


def _outside(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    """Stations outside the wheelbase: far out is a slip, a frame overhang is worth one note for all."""
    near = []
    for one in placed:
        beyond = max(-one.x, one.x - wheelbase)
        if beyond <= 0.01 or (one.point.kind == "axle" and beyond < 0.3):
            continue
        where = "behind the rear axle" if one.x < 0 else "ahead of the front axle"
        if beyond <= OVERHANG:
            near.append((one, f"{label(one.point, unit)} {_by(beyond, unit)} {where}"))
            continue
        yield _make(
            "S105",
            "warn",
            f"The station of {label(one.point, unit)} lies {_by(beyond, unit)} {where}, far outside the wheelbase.",
            "Read the station again first, then look at the tape's zero and the way its stations grow.",
            survey,
            (one.point.id,),
            "station",
            20.0 * beyond,
        )
    if near:
        named = ", ".join(words for _, words in near[:6]) + (f" and {len(near) - 6} more" if len(near) > 6 else "")
        yield _make(
            "S105",
            "note",
            f"Outside the wheelbase: {named}.",
            "Right for the frame's overhangs; otherwise read the stations again.",
            survey,
            tuple(one.point.id for one, _ in near[:6]),
            "station",
            0.2,
        )


def _slip(value: float, wanted: float) -> str:
    """Which slip of units turns a reading into what the others say, or nothing."""
    if value == 0 or wanted == 0:
        return ""
    best = min(FACTORS, key=lambda f: abs(value * f[0] / wanted - 1.0))
    return best[1] if abs(value * best[0] / wanted - 1.0) < NEAR else ""


def _units_along(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    """A station out of its order along the tape that another unit would put right."""
    rows = [p for p in survey.points if p.station and p.kind == "rail"]
    steps = [b.station[0].value_m - a.station[0].value_m for a, b in itertools.pairwise(rows)]
    along = sum(s > 0 for s in steps)
    if max(along, len(steps) - along) < 0.7 * len(steps):
        return  # not entered in order along the tape
    for before, here, after in zip(rows, rows[1:], rows[2:], strict=False):
        a, v, b = before.station[0].value_m, here.station[0].value_m, after.station[0].value_m
        if min(a, b) <= v <= max(a, b) or a == b or (b > a) != (2 * along > len(steps)):
            continue
        for factor, words in FACTORS[:4]:
            if min(a, b) <= v * factor <= max(a, b):
                yield _make(
                    "S106",
                    "danger",
                    f"The station of {label(here, unit)}, {_as_read(v, unit)}, lies out of its order along the tape: it {words}.",
                    f"It would be {_as_read(v * factor, unit)}. Read that station again first.",
                    survey,
                    (here.id,),
                    "station",
                    500.0,
                )
                break


def _smooth(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    """Heights and widths off the run of the frame, on either side."""
    done: set[tuple[str, str]] = set()
    for side in (1.0, -1.0):
        run = _strict(rail_run(placed, side))
        yield from _off_run(
            survey,
            run,
            "height",
            [p.read.height.centre if p.read.height else 0.0 for p in run],
            [p.sigma[2] for p in run],
            unit,
            done,
        )
        wide = [p for p in run if p.read.half is not None and p.point.across != "middle"]
        yield from _off_run(
            survey,
            wide,
            "width",
            [abs(p.read.half.centre) if p.read.half else 0.0 for p in wide],
            [p.sigma[1] for p in wide],
            unit,
            done,
        )


def _strict(run: tuple[Placed, ...]) -> list[Placed]:
    """The run without points at the same station as the one before (duplicates have a finding of their own)."""
    out: list[Placed] = []
    for one in run:
        if not out or one.x - out[-1].x > SAME_PLACE:
            out.append(one)
    return out


def _gross(survey: Survey, one: Placed, what: str, wanted: float, unit: UnitSystem) -> _Found:
    """A reading many times larger or smaller than its neighbours."""
    read = (one.point.side if what == "width" else one.point.height)[0].value_m
    name = what if what == "height" else ("spread" if one.point.across == "full" else "offset")
    factor, words = min(FACTORS, key=lambda f: abs(math.log(abs(read * f[0] / wanted))))
    slip = abs(math.log(abs(read * factor / wanted))) < 0.5
    tail = f": it {words}" if slip else ""
    again = f"It would be {_as_read(read * factor, unit)}. " if slip else ""
    return _make(
        "S106",
        "danger",
        f"The {name} of {label(one.point, unit)}, {_as_read(read, unit)}, does not go with its neighbours, about {_as_read(wanted, unit)}{tail}.",
        f"{again}Measure that {name} again first.",
        survey,
        (one.point.id,),
        name,
        400.0,
    )


def _off_run(
    survey: Survey,
    run: list[Placed],
    what: str,
    values: list[float],
    sigma: list[float],
    unit: UnitSystem,
    done: set[tuple[str, str]],
) -> Iterator[_Found]:
    run, values, sigma = list(run), list(values), list(sigma)
    for i in reversed(range(len(run))):
        others = values[max(0, i - 3) : i] + values[i + 1 : i + 4]
        middle = sorted(others)[len(others) // 2] if len(others) >= 2 else 0.0
        if middle and values[i] and not 1 / GROSS < values[i] / middle < GROSS:
            one = run[i]
            done.add((one.point.id, what))
            yield _gross(
                survey, one, what, middle * (2.0 if what == "width" and one.point.across == "full" else 1.0), unit
            )
            del run[i], values[i], sigma[i]
    along = np.array([p.x for p in run])
    for spike in spikes(along, np.array(values), np.array(sigma)):
        one = run[spike.index]
        if (one.point.id, what) in done:
            continue
        done.add((one.point.id, what))
        factor = 2.0 if what == "width" and one.point.across == "full" else 1.0
        read = (one.point.side if what == "width" else one.point.height)[0].value_m
        wanted = read - factor * spike.off
        name = what if what == "height" else ("spread" if one.point.across == "full" else "offset")
        worth = abs(spike.off) / sigma[spike.index]
        slip = _slip(read, wanted)
        if slip:
            yield _make(
                "S106",
                "danger",
                f"The {name} of {label(one.point, unit)}, {_as_read(read, unit)}, does not go with its neighbours: it {slip}.",
                f"The run of the frame there is about {_as_read(wanted, unit)}. Measure that {name} again first.",
                survey,
                (one.point.id,),
                name,
                max(worth, 100.0),
            )
        elif what == "width" and (abs(read / wanted - 2.0) < 2 * NEAR or abs(read / wanted - 0.5) < NEAR / 2):
            half = read < wanted
            yield _make(
                "S107",
                "danger",
                f"The {name} of {label(one.point, unit)}, {_as_read(read, unit)}, is {'half' if half else 'twice'} its neighbours': {'an offset from the centreline entered as full width' if half else 'a full width entered as one side'}.",
                f"The run there is about {_as_read(wanted, unit)}. Say whether it is full or half, or measure it again first.",
                survey,
                (one.point.id,),
                name,
                max(worth, 100.0),
            )
        else:
            yield _make(
                "S103",
                "warn",
                f"The {name} of {label(one.point, unit)}, {_as_read(read, unit)}, is about {_by(factor * spike.off, unit)} {'above' if spike.off > 0 and what == 'height' else 'below' if what == 'height' else 'wider than' if spike.off > 0 else 'narrower than'} the run of the frame.",
                f"Its neighbours say about {_as_read(wanted, unit)}. Measure that {name} again first; if it is right, the frame has a mark there.",
                survey,
                (one.point.id,),
                name,
                worth,
            )


def _left_right(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    """Left and right rails read apart at the same place: a bent frame, or a reading that is wrong."""
    left = [p for p in placed if p.point.across == "left" and p.point.kind != "axle"]
    right = [p for p in placed if p.point.across == "right" and p.point.kind != "axle"]
    for a in left:
        mate = min(right, key=lambda p: abs(p.x - a.x), default=None)
        if (
            mate is None
            or abs(mate.x - a.x) > 0.03
            or (a.point.name.strip() and mate.point.name.strip() and not _same_name(a, mate))
        ):
            continue
        gaps = []
        if a.z is not None and mate.z is not None:
            gaps.append(
                ("height", a.z - mate.z, math.hypot(a.sigma[2], mate.sigma[2]), "higher" if a.z > mate.z else "lower")
            )
        if a.read.half is not None and mate.read.half is not None:
            wide = abs(a.sides[0]) - abs(mate.sides[0])
            gaps.append(
                ("offset", wide, math.hypot(a.sigma[1], mate.sigma[1]), "further out" if wide > 0 else "further in")
            )
        for what, gap, sigma, word in gaps:
            if abs(gap) / sigma > AGREE:
                yield _make(
                    "S110",
                    "warn",
                    f"At {label(a.point, unit)} the left rail is {_by(gap, unit)} {word} than the right.",
                    f"The frame is bent or twisted there, or a reading is wrong: measure the left and right {what} again first, then the diagonals of the frame.",
                    survey,
                    (a.point.id, mate.point.id),
                    what,
                    abs(gap) / sigma,
                )


def _slope(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    """The slope by angle finder against the slope between the neighbouring heights."""
    run = _strict(rail_run(placed, 1.0))
    for before, here, after in zip(run, run[1:], run[2:], strict=False):
        if here.point.angle_rad is None or here.z is None:
            continue
        slopes = [math.atan2((b.z or 0) - (a.z or 0), b.x - a.x) for a, b in ((before, here), (here, after))]
        sigma = math.hypot(before.sigma[2], here.sigma[2]) / min(here.x - before.x, after.x - here.x) + math.radians(
            0.2
        )
        off = max(min(slopes) - here.point.angle_rad, here.point.angle_rad - max(slopes))
        if off > 3.0 * sigma:
            yield _make(
                "S111",
                "warn",
                f"At {label(here.point, unit)} the angle finder says {math.degrees(here.point.angle_rad):.1f}°, the heights beside it {math.degrees(slopes[0]):.1f}° and {math.degrees(slopes[1]):.1f}°.",
                "The same slope measured two ways does not agree: read the angle finder again first, then the heights.",
                survey,
                (here.point.id,),
                "slope",
                off / sigma,
            )


def _axles(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[_Found]:
    """Axle centres found with the tape against the wheelbase and the tape's zero."""
    for one in placed:
        name = one.point.name.casefold()
        if one.point.kind != "axle" or not ("front" in name or "rear" in name) or "axle" not in name:
            continue
        goal = wheelbase if "front" in name else 0.0
        gap, sigma = one.x - goal, math.hypot(one.sigma[0], 0.005)
        if abs(gap) / sigma > AGREE:
            which = "the wheelbase" if goal else "where the tape's zero says the rear axle is"
            yield _make(
                "S112",
                "danger",
                f"{label(one.point, unit).capitalize()} was found {_by(gap, unit)} from {which}.",
                "One thing measured two ways does not agree: read the tape at that axle again first, then the wheelbase on both sides, then the tape's zero.",
                survey,
                (one.point.id,),
                "station",
                abs(gap) / sigma,
            )

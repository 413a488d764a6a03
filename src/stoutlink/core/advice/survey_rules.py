"""Readings that cannot be right: each finding names the reading, by how much, and what to measure again first."""

from __future__ import annotations

import itertools
import math
import statistics
from collections.abc import Callable, Iterator

from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.off_run_rules import FACTORS, SAME_PLACE, smooth_run_findings, strict_run
from stoutlink.core.advice.survey_words import Found, as_read, by_much, label, make
from stoutlink.core.analysis.survey.mesh_place import standing
from stoutlink.core.analysis.survey.survey_points import Placed, place_survey, rail_run
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.placeholders import placeholder_paths
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import MeshSolid, Survey
from stoutlink.core.mechanics.tape import likely_range
from stoutlink.core.quantity.length_text import UnitSystem

AGREE = 2.0
"""Two readings of one thing that differ by more than this many σ of their difference do not agree (one in twenty by
chance): 43 in against 43 3/8 in must raise an alarm (common practice)."""
FEW_GAPS = 8
"""With fewer gaps between stations than this, nothing is said of how far apart they usually stand."""
OVERHANG = 1.3
"""A frame point further beyond an axle than this, m, is far outside the wheelbase (estimate)."""


def survey_findings(surveys: tuple[Survey, ...], wheelbase: float, unit: UnitSystem) -> tuple[Finding, ...]:
    """Everything that looks wrong in the surveys, the worst first; nothing is dropped, only named. ``wheelbase`` in
    m.
    """
    found: list[Found] = []
    for survey in surveys:
        placed = place_survey(survey, wheelbase)
        for rule in (
            _incomplete,
            _repeats,
            _duplicates,
            _named_twice,
            _outside,
            _units_along,
            smooth_run_findings,
            _left_right,
            _slope,
            _axles,
        ):
            found += rule(survey, placed, wheelbase, unit)
    unique = {f.finding.key: f for f in sorted(found, key=lambda f: f.weight)}
    ranked = sorted(unique.values(), key=lambda f: -f.weight)
    return tuple(f.finding for f in ranked)


MISS = 0.006
"""Points of a thing taken in from a mesh that miss by more than this, m, do not fit (twice a tape's 3 mm)."""


def mesh_findings(project: Project) -> tuple[Finding, ...]:
    """Things taken in from a mesh that nobody has placed yet, and those whose points are farther apart in their file than on the rig."""
    unit, guessed = project.settings.units, placeholder_paths(project.entries)
    out = []
    for solid in project.tape.solids:
        if not isinstance(solid, MeshSolid):
            continue
        head = f"solids.{solid.id}.anchors."
        open_ = [
            i for i, a in enumerate(solid.anchors, 1) if any(path.startswith(f"{head}{a.id}.") for path in guessed)
        ]
        if open_:
            placed = any(one.id == solid.id for one in placed_solids(project))
            out.append(
                Finding(
                    "S115",
                    "warn",
                    f"{solid.name}: nobody has said yet where its point {open_[0]} is on the rig; the others place it."
                    if placed
                    else f"{solid.name}: nobody has said yet where it stands on the rig; nothing is held against it before.",
                    "Measure that point, or take it out."
                    if placed
                    else "Point at three places of it and measure where they are, or say that it stands as in its file.",
                    "tape",
                    f"solid:{solid.id}",
                )
            )
        elif (miss := float(standing(solid).miss.max())) > MISS:
            out.append(
                Finding(
                    "S114",
                    "warn",
                    f"{solid.name}: the points it is placed by miss by {by_much(miss, unit)}.",
                    "They are not as far apart on the rig as in the file: measure them again, or its unit is another.",
                    "tape",
                    f"solid:{solid.id}",
                )
            )
    return tuple(out)


def mesh_words(project: Project, solid: MeshSolid) -> str:
    """What a thing taken in from a mesh is made of, and how its points fit."""
    pieces = "one convex piece" if len(solid.pieces) == 1 else f"{len(solid.pieces)} convex pieces"
    placed = next((one for one in placed_solids(project) if one.id == solid.id), None)
    if not isinstance(placed, MeshSolid):
        return f"made of {pieces}; not placed yet"
    miss = by_much(float(standing(placed).miss.max()), project.settings.units)
    return f"made of {pieces}; its points miss by {miss} at most"


Rule = Callable[[Survey, tuple[Placed, ...], float, UnitSystem], Iterator[Found]]


def _incomplete(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[Found]:
    for point in survey.points:
        if not point.station:
            yield make(
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
            yield make(
                "S109",
                "warn",
                f"{label(point, unit).capitalize()} was read at an edge, but its diameter or width is not known.",
                "The hidden centre is the edge and half the width: measure the part.",
                survey,
                (point.id,),
                "edge",
                2.0,
            )


def _repeats(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[Found]:
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
                yield make(
                    "S101",
                    "warn",
                    f"The {what} of {label(one.point, unit)} was read {read.count} times and differs by {by_much(read.spread, unit)}.",
                    f"Measure that {what} again first; the mean is used meanwhile, with a wider ±.",
                    survey,
                    (one.point.id,),
                    what,
                    worth,
                )


def _duplicates(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[Found]:
    """The same station twice on one side. Where stations stand close all along, only what is much closer still."""
    rails = sorted((p for p in placed if p.point.kind == "rail"), key=lambda p: p.x)
    told: set[tuple[str, str]] = set()
    for other in ("right", "left"):
        side = [p for p in rails if p.point.across != other]
        gaps = [b.x - a.x for a, b in itertools.pairwise(side)]
        usual = statistics.median(gaps) if len(gaps) >= FEW_GAPS else math.inf
        near = SAME_PLACE if usual > 4 * SAME_PLACE else usual / 4
        for (a, b), gap in zip(itertools.pairwise(side), gaps, strict=True):
            pair = (a.point.id, b.point.id)
            if gap > near or pair in told or _same_name(a, b):
                continue
            told.add(pair)
            apart = "" if a.z is None or b.z is None else f" with heights {by_much(a.z - b.z, unit)} apart"
            yield make(
                "S104",
                "warn",
                f"{label(a.point, unit).capitalize()} and {label(b.point, unit)} have the same station{apart}.",
                "One of the two stations is a slip, or one point was entered twice: read both stations again first.",
                survey,
                pair,
                "station",
                3.0 + (abs((a.z or 0) - (b.z or 0)) / 0.004 if apart else 0.0),
            )


MOST_ALIKE = 12
"""Points of one name that are held against one another; more of them are a name, not one thing measured again."""


def _same_name(a: Placed, b: Placed) -> bool:
    return bool(a.point.name.strip()) and a.point.name.strip().casefold() == b.point.name.strip().casefold()


def _named_twice(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[Found]:
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
                yield make(
                    "S102",
                    "warn",
                    f"The spread of {label(group[0].point, unit)} and its two offsets disagree by {by_much(gap, unit)}.",
                    "Measure the full width again first, then each side from the centreline.",
                    survey,
                    tuple(p.point.id for p in group),
                    "spread",
                    worth,
                )
        alike = group[:MOST_ALIKE]
        for i, a in enumerate(alike):
            for b in alike[i + 1 :]:
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
                        yield make(
                            "S102",
                            "warn",
                            f"{label(a.point, unit).capitalize()} was measured twice, and its {what} differs by {by_much(gap, unit)}.",
                            f"Measure that {what} again first.",
                            survey,
                            (a.point.id, b.point.id),
                            what,
                            worth,
                        )


def _outside(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[Found]:
    """Stations far outside the wheelbase, where no frame reaches; its overhangs are as they are."""
    for one in placed:
        beyond = max(-one.x, one.x - wheelbase)
        if beyond <= OVERHANG:
            continue
        where = "behind the rear axle" if one.x < 0 else "ahead of the front axle"
        yield make(
            "S105",
            "warn",
            f"The station of {label(one.point, unit)} lies {by_much(beyond, unit)} {where}, far outside the wheelbase.",
            "Read the station again first, then look at the tape's zero and the way its stations grow.",
            survey,
            (one.point.id,),
            "station",
            20.0 * beyond,
        )


def _units_along(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[Found]:
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
                yield make(
                    "S106",
                    "danger",
                    f"The station of {label(here, unit)}, {as_read(v, unit)}, lies out of its order along the tape: it {words}.",
                    f"It would be {as_read(v * factor, unit)}. Read that station again first.",
                    survey,
                    (here.id,),
                    "station",
                    500.0,
                )
                break


def _left_right(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[Found]:
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
                yield make(
                    "S110",
                    "warn",
                    f"At {label(a.point, unit)} the left rail is {by_much(gap, unit)} {word} than the right.",
                    f"The frame is bent or twisted there, or a reading is wrong: measure the left and right {what} again first, then the diagonals of the frame.",
                    survey,
                    (a.point.id, mate.point.id),
                    what,
                    abs(gap) / sigma,
                )


def _slope(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[Found]:
    """The slope by angle finder against the slope between the neighbouring heights."""
    run = strict_run(rail_run(placed, 1.0))
    for before, here, after in zip(run, run[1:], run[2:], strict=False):
        if here.point.angle_rad is None or here.z is None:
            continue
        slopes = [math.atan2((b.z or 0) - (a.z or 0), b.x - a.x) for a, b in ((before, here), (here, after))]
        sigma = math.hypot(before.sigma[2], here.sigma[2]) / min(here.x - before.x, after.x - here.x) + math.radians(
            0.2
        )
        off = max(min(slopes) - here.point.angle_rad, here.point.angle_rad - max(slopes))
        if off > 3.0 * sigma:
            yield make(
                "S111",
                "warn",
                f"At {label(here.point, unit)} the angle finder says {math.degrees(here.point.angle_rad):.1f}°, the heights beside it {math.degrees(slopes[0]):.1f}° and {math.degrees(slopes[1]):.1f}°.",
                "The same slope measured two ways does not agree: read the angle finder again first, then the heights.",
                survey,
                (here.point.id,),
                "slope",
                off / sigma,
            )


def _axles(survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem) -> Iterator[Found]:
    """Axle centres found with the tape against the wheelbase and the tape's zero."""
    for one in placed:
        name = one.point.name.casefold()
        if one.point.kind != "axle" or not ("front" in name or "rear" in name) or "axle" not in name:
            continue
        goal = wheelbase if "front" in name else 0.0
        gap, sigma = one.x - goal, math.hypot(one.sigma[0], 0.005)
        if abs(gap) / sigma > AGREE:
            which = "the wheelbase" if goal else "where the tape's zero says the rear axle is"
            yield make(
                "S112",
                "danger",
                f"{label(one.point, unit).capitalize()} was found {by_much(gap, unit)} from {which}.",
                "One thing measured two ways does not agree: read the tape at that axle again first, then the wheelbase on both sides, then the tape's zero.",
                survey,
                (one.point.id,),
                "station",
                abs(gap) / sigma,
            )

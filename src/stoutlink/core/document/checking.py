"""What a project must satisfy beyond the shape of its values: references, unique names, possible tubes.

Each problem is one :class:`~stoutlink.core.errors.ValueOutOfRange` that names the field and the value.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable

import numpy as np

from stoutlink.core.catalogue.donor_check import donor_trouble
from stoutlink.core.document.bench_checks import check_bench
from stoutlink.core.document.layout import Layout, Link, PivotEnd
from stoutlink.core.document.lists import changed, unique
from stoutlink.core.document.log_checks import check_log
from stoutlink.core.document.plan_checks import check_plan
from stoutlink.core.document.project import Project, part_of
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.spoken import spoken
from stoutlink.core.document.survey import BoxSolid, MeshSolid, Solid, TubeSolid
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.geometry.rigid_fit import stand
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

SHORTEST_ROD, SHORTEST_ARM = 0.05, 0.01
"""Drag links and steering arms shorter than this, m, cannot be meant."""
SHORTEST_LINK = 1e-3
"""Pivots nearer than this, m, are the same place."""


def check_project(project: Project, before: Project | None = None) -> None:
    """Raise for the first thing in the project that cannot be meant.

    With ``before``, a project that has passed, only what is not the very same value there is looked at again: a drag
    of one pivot checks one layout, however long catalogue and survey are.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> p = read_project(demo_file("basalt.stoutlink")); check_project(p, p)
    """
    try:
        for parts, check in _CHECKS:
            if before is None or not _the_same(parts(before), parts(project)):
                check(project, before)
    except ValueOutOfRange as why:
        raise ValueOutOfRange(why.code, spoken(project, why.sentence), why.hint) from None


def _the_same(one: tuple[object, ...], two: tuple[object, ...]) -> bool:
    return all(a is b or (isinstance(a, str) and a == b) for a, b in zip(one, two, strict=True))


def _check_donors(project: Project, before: Project | None) -> None:
    unique("donors", (d.id for d in project.swap.donors))
    for donor in changed(project.swap.donors, None if before is None else before.swap.donors):
        trouble = donor_trouble(donor)
        if trouble is not None:
            raise ValueOutOfRange("D128", f"donors.{donor.id}.{trouble[0]}: {trouble[1]}.")


def _check_targets(project: Project, before: Project | None) -> None:
    for target in project.linkage.targets:
        if target.low >= target.high:
            raise ValueOutOfRange(
                "D130",
                f"targets.{target.id}: wanted from {target.low:g} to {target.high:g}; the first must be less than the second.",
            )


NAMED = (
    "photos",
    "prices",
    "own_costs",
    "shelf",
    "inspections",
    "made",
    "stock",
    "copes",
    "stations",
    "made_parts",
    "gears",
    "cards",
    "fasteners",
    "cases",
    "loose_ends",
    "welding",
    "cut_parts",
    "targets",
    "springs",
)
"""Lists in which no name may stand twice, whatever else has to hold."""


def _check_names(project: Project, before: Project | None) -> None:
    for field in NAMED:
        unique(field, (one.id for one in part_of(project, field)))


def _check_welding(project: Project, before: Project | None) -> None:
    for plan in changed(project.fabrication.welding, None if before is None else before.fabrication.welding):
        unique(f"welding.{plan.id}.seams", (one.id for one in plan.seams))
        if plan.tube_od_m is not None and plan.tube_wall_m is not None and 2 * plan.tube_wall_m >= plan.tube_od_m:
            wall = show(plan.tube_wall_m, "fine_length", project.settings.units)
            most = show(0.5 * plan.tube_od_m, "fine_length", project.settings.units)
            raise ValueOutOfRange(
                "D166", f"welding.{plan.id}.tube_wall_m: a wall of {wall} does not fit in this tube; less than {most}."
            )


def _check_chosen(project: Project, before: Project | None) -> None:
    for field, wanted, known, end in (
        ("front_donor", project.swap.front_donor, {d.id: d.end for d in project.swap.donors}, "front"),
        ("rear_donor", project.swap.rear_donor, {d.id: d.end for d in project.swap.donors}, "rear"),
        ("front_layout", project.linkage.front_layout, {one.id: one.end for one in project.linkage.layouts}, "front"),
        ("rear_layout", project.linkage.rear_layout, {one.id: one.end for one in project.linkage.layouts}, "rear"),
        ("front_compare", project.linkage.front_compare, {one.id: one.end for one in project.linkage.layouts}, "front"),
        ("rear_compare", project.linkage.rear_compare, {one.id: one.end for one in project.linkage.layouts}, "rear"),
    ):
        if wanted is None:
            continue
        if wanted not in known:
            raise ValueOutOfRange(
                "D101", f"{field} names “{wanted}”, which is not in the file.", f"Known: {', '.join(known) or 'none'}."
            )
        if known[wanted] != end:
            raise ValueOutOfRange("D102", f"{field} names “{wanted}”, which is a {known[wanted]} one.")


def _check_surveys(project: Project, before: Project | None) -> None:
    unique("surveys", (one.id for one in project.tape.surveys))
    for survey in changed(project.tape.surveys, None if before is None else before.tape.surveys):
        unique(f"surveys.{survey.id}.points", (p.id for p in survey.points))


def _check_pictures(project: Project, before: Project | None) -> None:
    for picture in changed(project.tape.photos, None if before is None else before.tape.photos):
        unique(f"photos.{picture.id}.marks", (m.id for m in picture.marks))
        unique(f"photos.{picture.id}.traced", (t.id for t in picture.traced))


def _check_solids(project: Project, before: Project | None) -> None:
    unique("solids", (one.id for one in project.tape.solids))
    for solid in changed(project.tape.solids, None if before is None else before.tape.solids):
        _check_solid(solid, project.settings.units)


def _check_stock(project: Project, before: Project | None) -> None:
    unit = project.settings.units
    for bar in project.fabrication.stock:
        if 2 * bar.wall_m > bar.od_m + 1e-9:
            raise ValueOutOfRange(
                "D162",
                f"stock.{bar.id}.wall_m is {_length(bar.wall_m, unit)}, more than half of {_length(bar.od_m, unit)} outside.",
            )


def _check_rig(project: Project, before: Project | None) -> None:
    rig, unit = project.rig, project.settings.units
    unique("rig.weight.items", (one.id for one in rig.weight.items))
    for name in ("front", "rear"):
        if not math.isfinite(rig.end(name).free):
            raise ValueOutOfRange(
                "D114",
                f"The {name} tyres have no free radius, and “{rig.end(name).tyre_text}” is not a printed size.",
                "Measure the tyre, or write its size such as 37x12.50R17 or 315/70R17.",
            )
    if rig.front.dual_m is not None:
        raise ValueOutOfRange(
            "D155",
            f"rig.front.dual_m is {_length(rig.front.dual_m, unit)}; two wheels a side are taken at the rear only.",
            "Leave it empty in front.",
        )
    if rig.uses.total <= 0:
        raise ValueOutOfRange("D115", "rig.uses are all zero; at least one share of use is needed.")
    rpms = [p.rpm for p in rig.drivetrain.torque_curve]
    if any(b <= a for a, b in itertools.pairwise(rpms)):
        raise ValueOutOfRange(
            "D116",
            f"rig.drivetrain.torque_curve has speeds {', '.join(f'{v:g}' for v in rpms)} rpm, which do not rise.",
        )
    if rig.cg_ahead_of_rear_m >= rig.wheelbase_m:
        raise ValueOutOfRange(
            "D103",
            f"rig.cg_ahead_of_rear_m is {_length(rig.cg_ahead_of_rear_m, unit)}, not less than the wheelbase of {_length(rig.wheelbase_m, unit)}.",
        )
    stated = {end: rig.end(end).unsprung_mass_kg or 0.0 for end in ("front", "rear")}  # guesses refuse nothing
    if sum(stated.values()) >= rig.mass_kg:
        raise ValueOutOfRange(
            "D104", f"rig.mass_kg is {show(rig.mass_kg, 'mass', unit)}, not more than its unsprung masses together."
        )
    sprung = rig.mass_kg - sum(stated.values())
    moment = rig.mass_kg * rig.cg_height_m - sum(mass * rig.end(end).loaded for end, mass in stated.items())
    if moment <= 0.05 * sprung:
        raise ValueOutOfRange(
            "D105",
            f"rig.cg_height_m is {_length(rig.cg_height_m, unit)}, which would put the sprung mass on the ground.",
        )
    for name in ("front", "rear"):
        wheels = rig.end(name)
        for key, value in (
            ("loaded_radius_m", wheels.loaded_radius_m),
            ("loaded_radius_road_m", wheels.loaded_radius_road_m),
            ("rolling_radius_m", wheels.rolling_radius_m),
            ("roll_out_m", wheels.rolled),
        ):
            if value is not None and not 0.6 * wheels.free <= value <= 1.04 * wheels.free:
                what = "gives a rolling radius of" if key == "roll_out_m" else "is"
                raise ValueOutOfRange(
                    "D106",
                    f"rig.{name}.{key} {what} {_length(value, unit)}, which does not go with a free radius of {_length(wheels.free, unit)}.",
                )


def _check_joints(project: Project, before: Project | None) -> None:
    unit = project.settings.units
    unique("joints", (j.id for j in project.linkage.joints))
    for joint in project.linkage.joints:
        if (joint.thread_diameter_m is None) != (joint.thread_pitch_m is None):
            raise ValueOutOfRange("D107", f"joints.{joint.id} has a thread diameter or a thread pitch, but not both.")
        if joint.thread_diameter_m is not None and not joint.neck_m < joint.shank_m:
            raise ValueOutOfRange(
                "D108",
                f"joints.{joint.id}.shank_m is {_length(joint.shank_m, unit)}, not more than its neck of {_length(joint.neck_m, unit)}.",
            )


def _check_layouts(project: Project, before: Project | None) -> None:
    unique("layouts", (one.id for one in project.linkage.layouts))
    known_joints = {j.id for j in project.linkage.joints}
    passed = before.linkage.layouts if before is not None and before.linkage.joints is project.linkage.joints else None
    for layout in changed(project.linkage.layouts, passed):
        _check_layout(layout, known_joints, project.settings.units)


Check = Callable[[Project, Project | None], None]
_CHECKS: tuple[tuple[Callable[[Project], tuple[object, ...]], Check], ...] = (
    (lambda p: (p.swap.donors,), _check_donors),
    (lambda p: (p.linkage.targets,), _check_targets),
    (lambda p: (p.fabrication.welding,), _check_welding),
    (lambda p: (p.build, p.swap.prices), check_plan),
    (lambda p: (p.log,), check_log),
    (lambda p: (p.bench.gears, p.bench.cards, p.bench.fasteners, p.bench.cases, p.bench.brakes), check_bench),
    (lambda p: tuple(part_of(p, name) for name in NAMED), _check_names),
    (
        lambda p: (
            *(p.swap.donors, p.linkage.layouts, p.swap.front_donor, p.swap.rear_donor),
            *(p.linkage.front_layout, p.linkage.rear_layout, p.linkage.front_compare, p.linkage.rear_compare),
        ),
        _check_chosen,
    ),
    (lambda p: (p.tape.surveys,), _check_surveys),
    (lambda p: (p.tape.photos,), _check_pictures),
    (lambda p: (p.tape.solids,), _check_solids),
    (lambda p: (p.rig,), _check_rig),
    (lambda p: (p.fabrication.stock,), _check_stock),
    (lambda p: (p.linkage.joints,), _check_joints),
    (lambda p: (p.linkage.layouts, p.linkage.joints), _check_layouts),
)
"""Each check with the parts of the project it looks at."""


def _check_solid(solid: Solid, unit: UnitSystem) -> None:
    here = f"solids.{solid.id}"
    if isinstance(solid, BoxSolid):
        for i, axis in enumerate("xyz"):
            if solid.high_m[i] - solid.low_m[i] < 1e-4:
                raise ValueOutOfRange(
                    "D117",
                    f"{here}: high_m is {_length(solid.high_m[i], unit)} along {axis}, not more than low_m, {_length(solid.low_m[i], unit)}.",
                    "A box needs room.",
                )
    elif isinstance(solid, TubeSolid):
        if any(math.dist(a, b) < 1e-4 for a, b in zip(solid.path_m, solid.path_m[1:], strict=False)):
            raise ValueOutOfRange("D118", f"{here}: path_m has two points in the same place one after the other.")
    elif isinstance(solid, MeshSolid):
        unique(f"{here}.anchors", (a.id for a in solid.anchors))
        points = [[a.own_m for a in solid.anchors], [a.at_m for a in solid.anchors]]
        if stand(np.array(points[0]), np.array(points[1])) is None:
            raise ValueOutOfRange(
                "D188",
                f"{here}.anchors: the points it is placed by stand in line.",
                "Have one well off the line of the others.",
            )
    elif solid.high_m - solid.low_m < 1e-4:
        raise ValueOutOfRange(
            "D119",
            f"{here}: high_m is {_length(solid.high_m, unit)}, not more than low_m, {_length(solid.low_m, unit)}.",
        )


def _check_layout(layout: Layout, joints: set[str], unit: UnitSystem) -> None:
    _check_parts(layout, unit)
    _check_springing(layout, unit)
    _check_steering(layout, unit)
    unique(f"layouts.{layout.id}.links", (one.id for one in layout.links))
    unique(f"layouts.{layout.id}.lines", (one.id for one in layout.lines))
    for link in layout.links:
        here = f"layouts.{layout.id}.links.{link.id}"
        if 2 * link.tube_wall_m > link.tube_od_m + 1e-9:
            raise ValueOutOfRange(
                "D109",
                f"{here}.tube_wall_m is {_length(link.tube_wall_m, unit)}, more than half the tube's {_length(link.tube_od_m, unit)} outside diameter.",
            )
        for end, name in ((link.frame_end, "frame_end"), (link.axle_end, "axle_end")):
            if end.joint not in joints:
                raise ValueOutOfRange(
                    "D110", f"{here}.{name}.joint names “{end.joint}”, which is not among the joints."
                )
        if math.dist(link.frame_pivot_m, link.axle_pivot_m) < SHORTEST_LINK:
            x, y, z = link.frame_pivot_m
            raise ValueOutOfRange(
                "D111",
                f"{here}: frame_pivot_m and axle_pivot_m are the same point ({', '.join(_length(v, unit) for v in (x, y, z))}).",
            )

    for i, one in enumerate(layout.links):
        for other in layout.links[i + 1 :]:
            if _on_one_line(one, other):
                raise ValueOutOfRange(
                    "D113",
                    f"layouts.{layout.id}.links: {one.id} and {other.id} lie on one line, so the second holds nothing.",
                    "Move a pivot of one.",
                )


def _check_springing(layout: Layout, unit: UnitSystem) -> None:
    here = f"layouts.{layout.id}"
    shaft, shock, spring = layout.driveshaft, layout.shock, layout.spring
    if shaft is not None and 2 * shaft.tube_wall_m > shaft.tube_od_m + 1e-9:
        raise ValueOutOfRange(
            "D140",
            f"{here}.driveshaft.tube_wall_m is {_length(shaft.tube_wall_m, unit)}, more than half the tube's {_length(shaft.tube_od_m, unit)} outside diameter.",
        )
    if shock is not None and shock.extended_m <= shock.collapsed_m:
        raise ValueOutOfRange(
            "D141",
            f"{here}.shock.extended_m is {_length(shock.extended_m, unit)}, not more than its {_length(shock.collapsed_m, unit)} when shut.",
        )
    if spring is not None and spring.kind == "coilover" and shock is None:
        raise ValueOutOfRange(
            "D142",
            f"{here}.spring is a coilover, and there is no shock to carry it.",
            "Place shocks first, or take the coilovers off.",
        )
    if spring is not None and spring.kind == "coil" and (spring.frame_m is None or spring.axle_m is None):
        raise ValueOutOfRange("D143", f"{here}.spring is a coil and needs both seats, frame_m and axle_m.")
    if layout.air is not None and spring is not None:
        raise ValueOutOfRange("D144", f"{here} has both spring and air; one of them carries the axle.", "Take one off.")
    bar = layout.anti_roll_bar
    if bar is not None and bar.bore_m >= bar.od_m:
        raise ValueOutOfRange(
            "D145",
            f"{here}.anti_roll_bar.bore_m is {_length(bar.bore_m, unit)}, not less than its {_length(bar.od_m, unit)} outside.",
        )


def _check_steering(layout: Layout, unit: UnitSystem) -> None:
    here, s = f"layouts.{layout.id}.steering", layout.steering
    if s is None:
        return
    if abs(s.kingpin_m[1]) < 0.05:
        raise ValueOutOfRange(
            "D146",
            f"{here}.kingpin_m lies {_length(s.kingpin_m[1], unit)} from the middle; a kingpin stands at least {_length(0.05, unit)} to one side.",
        )
    if s.tie_rod is not None and s.tie_rod.end_m[1] * s.kingpin_m[1] <= 0:
        raise ValueOutOfRange(
            "D147", f"{here}.tie_rod.end_m is on the other side than kingpin_m; give the end on that knuckle."
        )
    if s.drag_on == "tie_rod" and s.tie_rod is None:
        raise ValueOutOfRange("D148", f"{here}.drag_on is the tie rod, and there is none.", "Add a tie rod first.")
    if s.kind == "drag_link":
        _check_arms(here, layout, unit)
    for name, row in (("pitman_holes", s.pitman_holes), ("knuckle_holes", s.knuckle_holes)):
        if row is not None and row.hole > row.holes:
            raise ValueOutOfRange("D149", f"{here}.{name}.hole is {row.hole}; it has {row.holes} holes.")


def _check_arms(here: str, layout: Layout, unit: UnitSystem) -> None:
    """Rods and arms that have a length to work with."""
    s = layout.steering
    assert s is not None
    if math.dist(s.pitman_m, s.knuckle_m) < SHORTEST_ROD:
        raise ValueOutOfRange(
            "D151",
            f"{here}: pitman_m and knuckle_m are {_length(math.dist(s.pitman_m, s.knuckle_m), unit)} apart; a drag link is at least {_length(SHORTEST_ROD, unit)}.",
        )
    if s.sector_m is not None:
        axis = (0.0, 0.0, 1.0) if s.sector == "upright" else (0.0, 1.0, 0.0)
        if (off := _off_axis(s.pitman_m, s.sector_m, axis)) < SHORTEST_ARM:
            raise ValueOutOfRange(
                "D152",
                f"{here}.sector_m leaves the pitman arm {_length(off, unit)} off the sector shaft; an arm is at least {_length(SHORTEST_ARM, unit)}.",
            )
    side = 1.0 if s.kingpin_m[1] >= 0 else -1.0
    kingpin = (-math.tan(layout.caster_rad or 0.0), -side * math.tan(s.kingpin_in_rad), 1.0)
    ends = [] if s.drag_on == "tie_rod" else [("knuckle_m", s.knuckle_m)]
    ends += [("tie_rod.end_m", s.tie_rod.end_m)] if s.tie_rod is not None else []
    for name, at in ends:
        if (off := _off_axis(at, s.kingpin_m, kingpin)) < SHORTEST_ARM:
            raise ValueOutOfRange(
                "D153",
                f"{here}.{name} is {_length(off, unit)} off the kingpin; a steering arm is at least {_length(SHORTEST_ARM, unit)}.",
            )


def _length(value: float, unit: UnitSystem) -> str:
    return show(value, "length", unit)


def _off_axis(point: Point, on: Point, along: Point) -> float:
    """Distance of a point from a line through ``on``, m."""
    x, y, z = (p - q for p, q in zip(point, on, strict=True))
    a, b, c = along
    return math.hypot(y * c - z * b, z * a - x * c, x * b - y * a) / math.hypot(a, b, c)


def _check_parts(layout: Layout, unit: UnitSystem) -> None:
    """Leaves where there are leaves, brackets for links that are there, steering in front."""
    here = f"layouts.{layout.id}"
    if layout.leaf is None and not layout.links:
        raise ValueOutOfRange("D131", f"{here} has neither links nor leaf springs; nothing hangs the axle.")
    if (layout.kind == "leaf") != (layout.leaf is not None):
        raise ValueOutOfRange(
            "D132",
            f"{here}.kind is {layout.kind}, which does not go with {'a' if layout.leaf else 'no'} leaf spring record.",
        )
    if layout.steering is not None and layout.end != "front":
        raise ValueOutOfRange("D133", f"{here}.steering is given for a rear axle; only a front axle steers.")
    unique(f"{here}.brackets", (b.id for b in layout.brackets))
    unique(f"{here}.anchors", (a.id for a in layout.anchors))
    taken: set[tuple[str, PivotEnd]] = set()
    for bracket in layout.brackets:
        at = f"{here}.brackets.{bracket.id}"
        link = layout.link(bracket.link)
        if link is None:
            raise ValueOutOfRange("D134", f"{at}.link names “{bracket.link}”, which is not among the links.")
        if bracket.hole > bracket.holes:
            raise ValueOutOfRange("D135", f"{at}.hole is {bracket.hole}; it has {bracket.holes} holes.")
        if bracket.pattern == "fan" and (
            bracket.radius_m is None or (bracket.holes - 1) * bracket.pitch_m > math.pi * bracket.radius_m
        ):
            raise ValueOutOfRange(
                "D136",
                f"{at} is a fan and needs a radius of at least {_length((bracket.holes - 1) * bracket.pitch_m / math.pi, unit)}.",
            )
        pivots = {(name, bracket.end) for name, _ in layout.moved_with(link, bracket.end)}
        if pivots & taken:
            raise ValueOutOfRange(
                "D137",
                f"{at} is the second bracket of the {bracket.end} pivot of {bracket.link}.",
                "A pivot has one bracket.",
            )
        taken |= pivots


def _on_one_line(one: Link, other: Link) -> bool:
    """Whether two links run along the same straight line in space (to a micrometre over a metre)."""
    a = one.frame_pivot_m
    x, y, z = (q - p for p, q in zip(a, one.axle_pivot_m, strict=True))
    return all(_off_axis(point, a, (x, y, z)) <= 1e-6 for point in (other.frame_pivot_m, other.axle_pivot_m))

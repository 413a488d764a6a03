"""Parts of plate of every other kind, as flat patterns: what was typed counts, the rest is proposed with its reason."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

from stoutlink.core.analysis.linkage.part import EDGE, Check, Part, Place, Size, centre_lines, outline_on
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.made_part import MadePart, PartKind
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.geometry.pattern import Flat, Hole, Loop, Pattern, hull_of_discs
from stoutlink.core.mechanics.bending import bend_allowance, box_modulus, flat_of, setback
from stoutlink.core.quantity.constants import INCH

PLATE, CLEAR = 0.25 * INCH, 0.4e-3
LEAST_FLANGE = 4.0
"""Least flange over the plate, outside, for a brake's die (common practice)."""
LEFT = 0.6
"""Least rail over its height that is left above a notch (a guess; ask whoever approves the frame)."""


@dataclass
class _Maker:
    """One part while it is made: asks for its sizes, and notes those that were proposed."""

    project: Project
    rig: Rig
    layout: Layout | None
    donor: DonorAxle | None
    part: MadePart
    sizes: list[Size] = field(default_factory=list)
    checks: list[Check] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)

    def size(self, key: str, title: str, proposed: float, why: str) -> float:
        """A size of the part: typed, or proposed with the reason."""
        typed = getattr(self.part, f"{key}_m")
        path = f"made_parts.{self.part.id}.{key}_m"
        value = proposed if typed is None else typed
        self.sizes.append(Size(key, title, float(value), path, "" if typed is not None else why))
        return float(value)

    def plate(self) -> float:
        """Its thickness."""
        return self.size("thick", "plate", PLATE, "1/4 in where none is named")

    def holed(self, hole: float, edge: float, thick: float) -> None:
        """What is wanted of a bolt's hole."""
        self.checks += [
            Check("edge", "hole to edge", edge, EDGE * hole),
            Check("hole", "hole against plate", hole, thick),
        ]

    def bent(self, flange: float, thick: float) -> tuple[float, float]:
        """Angle and inner radius of its bends, with what a brake wants of the flange."""
        angle = self.part.bend_rad if self.part.bend_rad is not None else 0.5 * math.pi
        radius = self.size("radius", "inner radius", thick, "as the plate is thick")
        self.checks += [
            Check("flange", "flange", flange, LEAST_FLANGE * thick),
            Check("bend", "flange beyond its bend", flange - setback(angle, radius, thick), 0.0),
        ]
        return angle, radius


Made = tuple[Pattern, float]
"""A pattern and how long its weld is, m."""


def made_parts(project: Project, rig: Rig, layout: Layout | None, end: str) -> tuple[Part, ...]:
    """Every part of one's own for an axle."""
    donor = project.donor(end)
    out = []
    for one in project.fabrication.made_parts:
        if one.end != end:
            continue
        maker = _Maker(project, rig, layout, donor, one)
        pattern, seam = MAKE[one.kind](maker)
        thick = next(s.value for s in maker.sizes if s.key == "thick")
        weld = maker.size("weld", "weld leg", min(thick, PLATE), "as the plate is thick, at most 1/4 in")
        assert weld > 0
        places = _places(one)
        out.append(
            Part(
                one.id,
                one.name,
                "",
                one.count * len(places),
                thick,
                pattern,
                tuple(maker.sizes),
                tuple(maker.checks),
                seam,
                f"{end} part",
                tuple(maker.notes),
                places,
            )
        )
    return tuple(out)


def _places(one: MadePart) -> tuple[Place, ...]:
    """Where it stands on the rig, its mirror image too."""
    c, s = math.cos(one.turn_rad), math.sin(one.turn_rad)
    flat = {"side": ((1, 0, 0), (0, 0, 1)), "rear": ((0, 1, 0), (0, 0, 1)), "plan": ((1, 0, 0), (0, 1, 0))}[one.plane]
    across, up = flat
    ex = tuple(c * a + s * b for a, b in zip(across, up, strict=True))
    ey = tuple(-s * a + c * b for a, b in zip(across, up, strict=True))
    place = Place(one.at_m, (ex[0], ex[1], ex[2]), (ey[0], ey[1], ey[2]))
    return (place, place.mirrored) if one.mirrored else (place,)


def _gusset(m: _Maker) -> Made:
    thick = m.plate()
    length = m.size("length", "length", 3.0 * INCH, "3 in, as most are")
    height = m.size("height", "height", length, "as long as it is")
    clip = m.size("clip", "clip", 2.0 * thick, "twice the plate, so that it clears the other weld")
    tip = min(thick, 0.2 * length, 0.2 * height)
    m.checks.append(Check("clip", "foot left beside the clip", min(length, height) - clip, 2.0 * thick))
    loop: Loop = (
        (clip, 0.0, 0.0),
        (length, 0.0, 0.0),
        (length, tip, 0.0),
        (tip, height, 0.0),
        (0.0, height, 0.0),
        (0.0, clip, 0.0),
    )
    return Pattern(loop if clip > 0 else (*loop[1:5], (0.0, 0.0, 0.0))), max(length - clip, 0.0)


def _truss(m: _Maker) -> Made:
    m.plate()
    tube = m.donor.tube_od_m if m.donor is not None and m.donor.tube_od_m is not None else 3.0 * INCH
    length = m.size("length", "length", 24.0 * INCH, "between the inner tabs of most axles")
    uppers = _upper_pivots(m)
    need = 0.6 * tube if uppers is None else max(uppers, 0.6 * tube)
    why = "so that the upper links' pivots stand on it" if uppers is not None else "six tenths of the tube"
    height = m.size("height", "height", need, why)
    notch = m.size("notch", "arch over the casting", 0.36 * length, "about as wide as castings are")
    depth = m.size("depth", "arch's height", 0.35 * height, "so that the casting clears")
    m.checks.append(Check("left", "plate left over the arch", height - depth, 0.4 * height))
    low = 0.4 * height
    half, arch = 0.5 * length, min(0.5 * notch, 0.49 * length)
    bulge = -depth / arch if depth > 0 else 0.0
    loop: Loop = (
        (-half, 0.0, 0.0),
        (-arch, 0.0, bulge),
        (arch, 0.0, 0.0),
        (half, 0.0, 0.0),
        (half, low, 0.0),
        (0.5 * half, height, 0.0),
        (-0.5 * half, height, 0.0),
        (-half, low, 0.0),
    )
    holes: tuple[Hole, ...] = ()
    if m.part.hole_m is not None:
        hole = m.size("hole", "lightening hole", m.part.hole_m, "")
        pitch = m.size("pitch", "pitch", 2.0 * hole, "two holes")
        free = [arch + hole + k * pitch for k in range(12) if arch + 2.0 * hole + k * pitch <= 0.9 * half]
        holes = tuple(Hole(side * x, 0.5 * low, hole) for x in free for side in (-1.0, 1.0))
        m.checks.append(Check("ligament", "metal under the holes", 0.5 * (low - hole), 0.25 * hole))
        if len(free) > 1:
            m.checks.append(Check("ligament", "metal between holes", pitch - hole, 0.5 * hole))
    return Pattern(loop, holes), length - 2.0 * arch


def _upper_pivots(m: _Maker) -> float | None:
    """How far the pivots at the axle that sit on plate or truss stand over the tube, m."""
    if m.layout is None:
        return None
    top = m.rig.end(m.layout.end).loaded + 0.5 * (m.donor.tube_od_m if m.donor and m.donor.tube_od_m else 3.0 * INCH)
    ups = []
    for b in m.layout.brackets:
        link = m.layout.link(b.link)
        if link is not None and b.end == "axle" and b.mounted_on == "free":
            ups.append(link.axle_pivot_m[2] - top)
    return max(ups) if ups and max(ups) > 0 else None


def _guard(m: _Maker) -> Made:
    thick = m.plate()
    length = m.size("length", "bottom, outside", 10.0 * INCH, "as long as castings are deep")
    width = m.size("height", "width", 8.0 * INCH, "across the casting")
    flange = m.size("flange", "flange", 6.0 * thick, "six times the plate")
    return _channel(m, length, width, flange, thick, ()), 2.0 * width


def _perch(m: _Maker) -> Made:
    thick = m.plate()
    leaf = None if m.layout is None else m.layout.leaf
    wide = 2.5 * INCH if leaf is None else leaf.width_m
    along = m.size("length", "along the tube", wide + 0.5 * INCH, "the leaf and 1/2 in")
    tube = m.donor.tube_od_m if m.donor is not None and m.donor.tube_od_m is not None else 3.0 * INCH
    across = m.size("height", "across, outside", 0.9 * tube, "nine tenths of the tube")
    flange = m.size("flange", "flange", 5.0 * thick, "five times the plate, ground to the tube")
    pin = m.size("hole", "pin's head", 0.75 * INCH if leaf is None else 1.5 * leaf.u_bolt_m, "about 1 1/2 U-bolts")
    m.holed(pin, 0.5 * min(along, across), thick)
    off = 0.0 if leaf is None else leaf.pin_offset_m
    return _channel(m, across, along, flange, thick, (Hole(-off, 0.0, pin),)), 2.0 * along


def _channel(m: _Maker, outside: float, wide: float, flange: float, thick: float, holes: tuple[Hole, ...]) -> Pattern:
    """A plate with a flange bent at both ends, its middle at the origin, bends across."""
    angle, radius = m.bent(flange, thick)
    flat = flat_of(outside, flange, angle, radius, thick)
    half, side = 0.5 * max(flat, thick), 0.5 * wide
    line = half - (flange - setback(angle, radius, thick)) - 0.5 * bend_allowance(angle, radius, thick)
    bends: tuple[tuple[Flat, Flat], ...] = tuple(((x, -side), (x, side)) for x in (-line, line) if abs(x) < half)
    m.sizes.append(Size("flat", "flat length", flat, None, "outside sizes less the bends' allowance"))
    loop: Loop = ((-half, -side, 0.0), (half, -side, 0.0), (half, side, 0.0), (-half, side, 0.0))
    return Pattern(loop, holes, bends, centre_lines(holes))


def _tab(m: _Maker, bolt: float, why: str, reach: float, reach_why: str) -> Made:
    thick = m.plate()
    hole = m.size("hole", "hole", bolt + CLEAR, why)
    edge = m.size("edge", "hole to edge", EDGE * hole, "one and a half holes")
    height = m.size("height", "reach", max(reach, edge), reach_why)
    foot = m.size("length", "foot", 2.5 * edge, "two and a half edges")
    m.holed(hole, edge, thick)
    tube = m.donor.tube_od_m if m.donor is not None else None
    saddle = tube if m.part.seat == "housing" and m.part.plane == "side" and tube is not None and foot < tube else None
    base = 0.0 if saddle is None else 0.5 * saddle
    holes = (Hole(0.0, base + height, hole),)
    loop = outline_on([(0.0, base + height)], edge, foot, saddle)
    return Pattern(loop, holes, (), centre_lines(holes)), 2.0 * foot


def _shock_mount(m: _Maker) -> Made:
    return _tab(m, 0.5 * INCH, "a 1/2 in bolt", 1.25 * INCH, "the eye and its bushing clear the weld")


def _hanger(m: _Maker) -> Made:
    leaf = None if m.layout is None else m.layout.leaf
    drop = 2.0 * INCH if leaf is None else 0.6 * leaf.shackle_m
    return _tab(m, 0.5625 * INCH, "a 9/16 in bolt", drop, "so that the eye swings clear of the rail")


def _carrier(m: _Maker) -> Made:
    bar = None if m.layout is None else m.layout.anti_roll_bar
    od = 1.75 * INCH if bar is None else bar.od_m + 0.5 * INCH
    why = "1 3/4 in carrier tube" if bar is None else "the bar with 1/4 in of bushing all round"
    return _tab(m, od, why, od, "the tube clears the rail")


def _shackle(m: _Maker) -> Made:
    leaf = None if m.layout is None else m.layout.leaf
    thick = m.plate()
    long = 0.1 if leaf is None else leaf.shackle_m
    why = "4 in" if leaf is None else "the shackle of the layout"
    length = m.size("length", "pivot to pivot", long, why)
    hole = m.size("hole", "hole", 0.5625 * INCH + CLEAR, "a 9/16 in bolt")
    edge = m.size("edge", "hole to edge", EDGE * hole, "one and a half holes")
    m.holed(hole, edge, thick)
    m.checks.append(Check("ligament", "metal between holes", length - hole, 0.5 * hole))
    holes = (Hole(0.0, 0.0, hole), Hole(0.0, length, hole))
    return Pattern(hull_of_discs(((0.0, 0.0, edge), (0.0, length, edge))), holes, (), centre_lines(holes)), 0.0


def _bump_pad(m: _Maker) -> Made:
    thick = m.plate()
    length = m.size("length", "length", 3.0 * INCH, "as wide as most stops")
    width = m.size("height", "width", length, "square")
    hole = m.size("hole", "hole", 0.375 * INCH + CLEAR, "a 3/8 in stud")
    m.holed(hole, 0.5 * min(length, width), thick)
    x, y = 0.5 * length, 0.5 * width
    holes = (Hole(0.0, 0.0, hole),)
    loop: Loop = ((-x, -y, 0.0), (x, -y, 0.0), (x, y, 0.0), (-x, y, 0.0))
    return Pattern(loop, holes, (), centre_lines(holes)), 2.0 * (length + width)


def _coil_seat(m: _Maker) -> Made:
    m.plate()
    across = m.size("length", "across", 6.0 * INCH, "5 1/2 in coil and 1/4 in all round")
    hole = m.size("hole", "hole", 2.0 * INCH, "for the locating tube or a bump stop")
    m.checks.append(Check("edge", "ring beside the hole", 0.5 * (across - hole), 0.5 * INCH))
    m.notes.append("A catch (clamp or strap) holds the coil where it goes slack at droop.")
    r = 0.5 * across
    holes = (Hole(0.0, 0.0, hole),)
    return Pattern(((r, 0.0, 1.0), (-r, 0.0, 1.0)), holes, (), centre_lines(holes)), math.pi * across


def _rail_plate(m: _Maker) -> Made:
    m.plate()
    rail = 4.0 * INCH if m.rig.body.rail_height_m is None else m.rig.body.rail_height_m
    why = "the rail less its corners" if m.rig.body.rail_height_m is not None else "a 4 in rail less its corners"
    height = m.size("height", "height", 0.85 * rail, why)
    length = m.size("length", "length", 3.0 * height, "three times its height, to spread the load")
    point = m.size("clip", "points", 0.5 * height, "ends pointed: no weld straight across the rail")
    m.checks.append(Check("clip", "straight edge between the points", length - 2 * point, 0.0))
    x, y, p = 0.5 * length, 0.5 * height, min(point, 0.499 * length)
    loop: Loop = ((-x, 0.0, 0.0), (p - x, -y, 0.0), (x - p, -y, 0.0), (x, 0.0, 0.0), (x - p, y, 0.0), (p - x, y, 0.0))
    if p <= 0:
        loop = ((-x, -y, 0.0), (x, -y, 0.0), (x, y, 0.0), (-x, y, 0.0))
    return Pattern(loop), 2.0 * (length - 2 * p) + 4.0 * math.hypot(p, y)


def _frame_notch(m: _Maker) -> Made:
    m.plate()
    rail = 4.0 * INCH if m.rig.body.rail_height_m is None else m.rig.body.rail_height_m
    wide = 2.0 * INCH if m.rig.body.rail_width_m is None else m.rig.body.rail_width_m
    notch = m.size("notch", "notch, length", 8.0 * INCH, "tube and a hand's width")
    depth = m.size("depth", "notch, depth", 0.3 * rail, "three tenths of the rail")
    width = m.size("height", "plate across", wide, "the rail's width")
    turn = 4.0 * math.atan(2.0 * depth / notch) if depth > 0 else 0.0
    long = notch if turn == 0.0 else 0.5 * notch / math.sin(0.5 * turn) * turn
    m.sizes.append(Size("flat", "rolled length", long, None, "along the notch's arc"))
    m.checks.append(Check("rail", "rail left over the notch", rail - depth, LEFT * rail))
    wall = m.rig.body.rail_wall_m
    if wall is not None and rail > depth:
        share = box_modulus(wide, rail - depth, wall) / box_modulus(wide, rail, wall)
        m.notes.append(f"Boxed again with plate, {share:.0%} of the rail's section modulus is left at the notch.")
    m.notes.append("A frame is cut only where whoever approves it agrees; plates on both sides carry past the notch.")
    x, y = 0.5 * long, 0.5 * width
    return Pattern(((-x, -y, 0.0), (x, -y, 0.0), (x, y, 0.0), (-x, y, 0.0))), 2.0 * (long + width)


def _brace(m: _Maker) -> Made:
    thick = m.plate()
    length = m.size("length", "length", 8.0 * INCH, "from the bracket to the other rail's side")
    wide = m.size("height", "width", 2.0 * INCH, "2 in strip")
    hole = m.size("hole", "hole", 0.5 * INCH + CLEAR, "a 1/2 in bolt")
    edge = m.size("edge", "hole to edge", max(EDGE * hole, 0.5 * wide), "half its width")
    m.holed(hole, min(edge, 0.5 * wide), thick)
    holes = (Hole(0.0, 0.0, hole),)
    loop = hull_of_discs(((0.0, 0.0, 0.5 * wide), (length - edge, -0.5 * wide, 0.0), (length - edge, 0.5 * wide, 0.0)))
    return Pattern(loop, holes, (), centre_lines(holes)), wide


MAKE: dict[PartKind, Callable[[_Maker], Made]] = {
    "gusset": _gusset,
    "truss": _truss,
    "guard": _guard,
    "perch": _perch,
    "shock_mount": _shock_mount,
    "bump_pad": _bump_pad,
    "coil_seat": _coil_seat,
    "hanger": _hanger,
    "shackle": _shackle,
    "carrier": _carrier,
    "rail_plate": _rail_plate,
    "frame_notch": _frame_notch,
    "brace": _brace,
}

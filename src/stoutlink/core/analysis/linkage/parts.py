"""Parts of plate that a layout asks for, as flat patterns: the tabs of its brackets, nut plates, U-bolt plates and pads of
leaves. What the layout settles is taken from it, what was typed counts, the rest is proposed with its reason.
"""

from __future__ import annotations

import math

from stoutlink.core.analysis.linkage.part import EDGE, Check, Part, Place, Size, centre_lines, outline_on
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.hole_points import hole_point
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.geometry.pattern import Flat, Hole, Loop, Pattern
from stoutlink.core.quantity.constants import INCH

CLEAR, PLATE = 0.4e-3, 0.25 * INCH
"""What a hole is larger than its bolt, m, and plate where none is named (common practice)."""
WELD_ROOM = 0.25 * INCH
"""Between a joint's body and the face its tab is welded to, m (common practice)."""
SOCKET_WALL = 0.004
"""Of a socket, m; a bolt head's flats are 1.5 diameters apart (ISO 272, about)."""


def layout_parts(project: Project, rig: Rig, layout: Layout) -> tuple[Part, ...]:
    """Every part of a layout in use, tabs first."""
    donor = project.donor(layout.end)
    joints = {j.id: j for j in project.linkage.joints}
    out: list[Part] = []
    for bracket in layout.brackets:
        link = layout.link(bracket.link)
        if link is None:
            continue
        end = link.frame_end if bracket.end == "frame" else link.axle_end
        pair = 2 if layout.mirrored and layout.partner(link) is not None else 1
        tab = _tab(rig, layout, bracket, joints.get(end.joint), donor, pair)
        out.append(tab)
        if bracket.nut_plate_m is not None:
            out.append(_nut_plate(layout, bracket, tab, pair))
    if layout.leaf is not None:
        out += _leaf_parts(rig, layout, _tube(project, donor, layout.end))
    return tuple(out)


def _tube(project: Project, donor: DonorAxle | None, end: str) -> float | None:
    """Outside of the axle's tube, m: the donor's, or as it was typed for welding."""
    if donor is not None and donor.tube_od_m is not None:
        return donor.tube_od_m
    return next((p.tube_od_m for p in project.fabrication.welding if p.id == end), None)


def tab_feet(project: Project, rig: Rig, layout: Layout) -> tuple[tuple[str, float, float], ...]:
    """Of each bracket with tabs: its identifier, the reach of its holes and the foot of a tab, m."""
    tabs = {p.id: p for p in layout_parts(project, rig, layout)}
    found = [(b.id, tabs.get(f"{layout.id}-{b.id}-tab")) for b in layout.brackets]
    return tuple((name, tab.size("reach"), tab.size("foot")) for name, tab in found if tab is not None)


def _typed(path: str, title: str, key: str, value: float | None, proposed: float, why: str) -> Size:
    return Size(key, title, proposed, path, why) if value is None else Size(key, title, value, path)


def _tab(rig: Rig, layout: Layout, b: Bracket, joint: Joint | None, donor: DonorAxle | None, pair: int) -> Part:
    """A tab: tight round its holes and its foot, saddled where it sits on a tube."""
    at = f"layouts.{layout.id}.brackets.{b.id}"
    bolt = 0.0159 if joint is None or joint.bolt_m is None else joint.bolt_m
    why_bolt = "the joint's bolt and 0.4 mm" if joint is not None and joint.bolt_m is not None else "a 5/8 in bolt"
    hole = _typed(f"{at}.bolt_hole_m", "bolt hole", "hole", b.bolt_hole_m, bolt + CLEAR, why_bolt)
    edge = _typed(f"{at}.edge_m", "hole to edge", "edge", b.edge_m, EDGE * hole.value, "one and a half holes")
    thick = _typed(f"{at}.tab_m", "plate", "thick", b.tab_m, PLATE, "1/4 in where none is named")
    pitch = Size("pitch", "hole pitch", b.pitch_m, f"{at}.pitch_m")
    body = 0.0 if joint is None or joint.body_od_m is None else 0.5 * joint.body_od_m
    saddle = _saddle(b, donor)
    around = [_flat(b, hole_point(layout, b, k)) for k in range(1, b.holes + 1)]
    if saddle is not None and b.mounted_on == "axle_tube":
        centre = _flat(b, axle_centre(rig, layout.end))
        settled = min(math.dist(p, centre) for p in around) - 0.5 * saddle
        reach = Size("reach", "reach off the tube", settled, None, "from the pivot to the tube's skin")
        local, place = _turned(around, centre)
    else:
        reach = _typed(
            f"{at}.reach_m",
            "reach",
            "reach",
            b.reach_m,
            max(edge.value, body + WELD_ROOM),
            "the joint's body clears the weld",
        )
        local, place = _on_face(b, around, reach.value, 0.5 * (saddle or 0.0))
    spread = max(abs(x) for x, _ in local) + edge.value
    foot = _typed(
        f"{at}.foot_m", "foot", "foot", b.foot_m, _foot(2.0 * spread, saddle), "as wide as the holes with their edges"
    )
    outline = outline_on(local, edge.value, foot.value, saddle)
    holes = tuple(Hole(x, y, hole.value) for x, y in local)
    weld = _typed(
        f"{at}.weld_m", "weld leg", "weld", b.weld_m, min(thick.value, PLATE), "as the plate is thick, at most 1/4 in"
    )
    sizes = [hole, edge, thick, reach, foot, weld, *([pitch] if b.holes > 1 else [])]
    if saddle is not None:
        path = f"{at}.saddle_m" if b.saddle_m is not None or donor is None or donor.tube_od_m is None else None
        sizes.append(Size("saddle", "saddle", saddle, path, "" if b.saddle_m is not None else "the axle's tube"))
    socket = 0.5 * 1.5 * bolt * 2.0 / math.sqrt(3.0) + SOCKET_WALL
    checks = [
        Check("edge", "hole to edge", edge.value, EDGE * hole.value),
        Check("hole", "hole against plate", hole.value, thick.value),
        Check("socket", "room for a socket", reach.value, socket),
    ]
    if saddle is not None:
        near = min(math.hypot(x, y) for x, y in local) - 0.5 * saddle - 0.5 * hole.value
        checks.append(Check("saddle", "metal between hole and tube", near, 0.5 * hole.value))
    if b.holes > 1:
        checks.append(Check("ligament", "metal between holes", b.pitch_m - hole.value, 0.5 * hole.value))
    return Part(
        f"{layout.id}-{b.id}-tab",
        f"{b.name}, tab",
        layout.id,
        2 * pair,
        thick.value,
        Pattern(outline, holes, (), centre_lines(holes)),
        tuple(sizes),
        tuple(checks),
        foot.value,
        f"{layout.id}.{b.link} {b.end}",
        (),
        _places(layout, b, place, thick.value, body),
    )


def _saddle(b: Bracket, donor: DonorAxle | None) -> float | None:
    """Outside of the tube a tab sits on, m."""
    if b.mounted_on not in ("axle_tube", "tube"):
        return None
    if b.saddle_m is not None:
        return b.saddle_m
    return donor.tube_od_m if b.mounted_on == "axle_tube" and donor is not None else None


def _flat(b: Bracket, point: tuple[float, float, float]) -> Flat:
    return (point[0], point[2]) if b.plane == "side" else (point[1], point[2])


def _turned(around: list[Flat], centre: Flat) -> tuple[list[Flat], tuple[Flat, Flat]]:
    """Holes about the tube's middle, turned so that they stand above it; and where the pattern's origin and its way
    across lie in the bracket's plane."""
    mx = sum(p[0] for p in around) / len(around) - centre[0]
    my = sum(p[1] for p in around) / len(around) - centre[1]
    far = math.hypot(mx, my)
    ux, uy = (mx / far, my / far) if far > 1e-9 else (0.0, 1.0)
    moved = [(x - centre[0], y - centre[1]) for x, y in around]
    return [(x * uy - y * ux, x * ux + y * uy) for x, y in moved], (centre, (uy, -ux))


def _on_face(b: Bracket, around: list[Flat], reach: float, half: float) -> tuple[list[Flat], tuple[Flat, Flat]]:
    """Holes above a face: frame brackets hang below it (so are turned over), those at the axle stand on it."""
    down = -1.0 if b.end == "frame" else 1.0
    turned = [(down * x, down * y) for x, y in around]
    low = min(y for _, y in turned)
    middle = 0.5 * (min(x for x, _ in turned) + max(x for x, _ in turned))
    local = [(x - middle, y - low + reach + half) for x, y in turned]
    return local, ((down * middle, down * (low - reach - half)), (down, 0.0))


def _places(layout: Layout, b: Bracket, place: tuple[Flat, Flat], thick: float, body: float) -> tuple[Place, ...]:
    """Both tabs of a bracket, left and right where it has a partner."""
    link = layout.link(b.link)
    assert link is not None
    at = link.pivot(b.end)
    gap = b.gap_m if b.gap_m is not None else max(2.0 * body, 0.04)
    (ox, oy), (cx, cy) = place
    out = []
    for side in (1.0, -1.0):
        off = side * 0.5 * (gap + thick)
        if b.plane == "side":
            out.append(Place((ox, at[1] + off, oy), (cx, 0.0, cy), (-cy, 0.0, cx)))
        else:
            out.append(Place((at[0] + off, ox, oy), (0.0, cx, cy), (0.0, -cy, cx)))
    mirror = layout.mirrored and layout.partner(link) is not None
    return (*out, *(p.mirrored for p in out)) if mirror else tuple(out)


def _foot(wanted: float, saddle: float | None) -> float:
    return wanted if saddle is None else min(wanted, 0.9 * saddle)


def _nut_plate(layout: Layout, b: Bracket, tab: Part, pair: int) -> Part:
    """A strip inside the rail with the same holes, as long as they and their edges."""
    assert b.nut_plate_m is not None
    at = f"layouts.{layout.id}.brackets.{b.id}"
    wide = Size("wide", "nut plate", b.nut_plate_m, f"{at}.nut_plate_m")
    hole, edge, thick = tab.size("hole"), tab.size("edge"), tab.size("thick")
    run = b.pitch_m * (b.holes - 1)
    half, long = 0.5 * wide.value, run + 2.0 * edge
    outline: Loop = ((0.0, -half, 0.0), (long, -half, 0.0), (long, half, 0.0), (0.0, half, 0.0))
    holes = tuple(Hole(edge + k * b.pitch_m, 0.0, hole) for k in range(b.holes))
    return Part(
        f"{layout.id}-{b.id}-nut",
        f"{b.name}, nut plate",
        layout.id,
        pair,
        thick,
        Pattern(outline, holes, (), centre_lines(holes)),
        (wide,),
        (Check("edge", "hole to edge", half, EDGE * hole), Check("hole", "hole against plate", hole, thick)),
        0.0,
        f"{layout.id}.{b.link} {b.end}",
    )


def _leaf_parts(rig: Rig, layout: Layout, tube: float | None) -> list[Part]:
    """U-bolt plates: holes fore and aft by what the bolts go round, across by the leaf; the pin's head in the middle."""
    leaf = layout.leaf
    assert leaf is not None
    at = f"layouts.{layout.id}.leaf"
    thread = Size("thread", "U-bolt", leaf.u_bolt_m, f"{at}.u_bolt_m")
    plate = Size("thick", "plate", leaf.plate_m, f"{at}.plate_m")
    hole = leaf.u_bolt_m + CLEAR
    round_ = [("over the tube", tube), ("over the casting", leaf.casting_width_m)]
    known = [(word, width) for word, width in round_ if width is not None]
    out = []
    for word, width in known:
        along = width + leaf.u_bolt_m
        across = leaf.width_m + CLEAR + leaf.u_bolt_m
        edge = EDGE * hole
        x, y = 0.5 * along + edge, 0.5 * across + edge
        outline: Loop = ((-x, -y, 0.0), (x, -y, 0.0), (x, y, 0.0), (-x, y, 0.0))
        corners = tuple(Hole(sx * along / 2, sy * across / 2, hole) for sx in (-1, 1) for sy in (-1, 1))
        head = 1.5 * leaf.u_bolt_m
        pin = Hole(-leaf.pin_offset_m, 0.0, head)
        sizes = (
            thread,
            plate,
            Size("along", "holes fore and aft", along, None, f"{word} and one thread"),
            Size("across", "holes across", across, None, "leaf, clearance and one thread"),
            Size("pin", "pin's head", head, None, "about one and a half U-bolts; measure yours"),
        )
        checks = (
            Check("edge", "hole to edge", edge, EDGE * hole),
            Check("hole", "hole against plate", hole, plate.value),
            Check("ligament", "metal between pin and bolts", _between(pin, corners), 0.5 * hole),
        )
        name = f"{layout.name}, U-bolt plate {word}"
        both = 1 if len(known) == 2 else 2
        holes = (*corners, pin)
        out.append(
            Part(
                f"{layout.id}-u-bolt-{word.split()[-1]}",
                name,
                layout.id,
                both,
                plate.value,
                Pattern(outline, holes, (), centre_lines(holes)),
                sizes,
                checks,
                0.0,
                f"{layout.id} leaf",
                (),
                _u_bolt_places(rig, layout, both),
            )
        )
    return out


def _u_bolt_places(rig: Rig, layout: Layout, count: int) -> tuple[Place, ...]:
    """Level over the springs (under them where the axle sits on top), left and right."""
    leaf = layout.leaf
    assert leaf is not None
    pack = sum(one.thickness_m * one.count for one in leaf.leaves)
    x = axle_centre(rig, layout.end)[0]
    z = leaf.seat_z_m + (pack if leaf.seat == "over" else -leaf.plate_m)
    left = Place((x, 0.5 * leaf.spacing_m, z), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    return (left, left.mirrored)[:count]


def _between(one: Hole, others: tuple[Hole, ...]) -> float:
    """Least metal between a hole and others, m."""
    return min(math.hypot(one.x - o.x, one.y - o.y) - 0.5 * (one.diameter + o.diameter) for o in others)

"""What fits what: both axles and the shelf against every place a part goes, why not, and what bridges it."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from stoutlink.core.analysis.swap.capacities import spline_of
from stoutlink.core.analysis.swap.fitted import meeting_key, part_key
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.joint_size import SAME_CAP, SAME_SPAN, JointSize, same_joint
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import ShelfPart
from stoutlink.core.mechanics.spline import RootForm, same_spline
from stoutlink.core.quantity.shown import show_both

State = Literal["fits", "bridged", "no", "unknown"]
CIRCLE = 0.0005
SplineKey = tuple[int, float, RootForm]


class Place(Struct, frozen=True):
    """A place that takes a part: which axle, what kind, and its title."""

    end: str
    kind: str
    title: str


class Cell(Struct, frozen=True):
    """One part at one place."""

    place: Place
    part: str
    state: State
    why: str
    bridge: str = ""


class Matrix(Struct, frozen=True):
    """Places down, parts across; ``cells`` only where a part is of the place's kind."""

    places: tuple[Place, ...]
    parts: tuple[tuple[str, str], ...]
    cells: tuple[Cell, ...]

    def cell(self, place: Place, part: str) -> Cell | None:
        """The cell of a part at a place."""
        return next((c for c in self.cells if c.place == place and c.part == part), None)


KIND_TITLES = {
    "inner": "side gears take inner shaft", "outer": "drive plate takes outer spline", "stub": "hub takes stub", "wheel": "hub takes wheel",
    "carrier": "carrier takes gears", "driveshaft": "pinion takes driveshaft", "brakes": "brakes take line",
}  # fmt: skip
ONLY_AT = {"stub": "front", "outer": "rear"}
"""Places that only one end has: a steering axle drives its hubs by stubs, a full-floating rear one by drive plates."""
BRIDGES = {
    "inner": "side gears or a locker with the shaft's teeth, or the axle's own shafts", "outer": "drive plates with the shaft's teeth",
    "stub": "hub or lock-outs with the stub's teeth", "wheel": "an adapter pair between the two circles", "carrier": "the carrier for the other side of the break",
    "driveshaft": "a conversion joint between the two series, or another yoke", "brakes": "an adapter fitting and new hose, flared properly",
}  # fmt: skip
PART_PLACES: dict[str, tuple[str, ...]] = {
    "side_gears": ("inner",), "inner_shaft": ("inner",), "locker": ("inner", "carrier"), "stub": ("stub",), "hub": ("stub", "wheel"), "gear_set": ("carrier",),
    "joint": ("driveshaft",), "driveshaft": ("driveshaft",), "adapter": ("wheel",), "brake_line": ("brakes",), "brakes": ("wheel",), "other": (),
}  # fmt: skip


def match_matrix(project: Project, rig: Rig, front: DonorAxle | None, rear: DonorAxle | None) -> Matrix:
    """Hold the parts of both axles, the vehicle and the shelf against every place of both axles."""
    axles = [a for a in (front, rear) if a is not None]
    places = [
        Place(a.end, kind, f"{a.end.capitalize()}: {KIND_TITLES[kind]}")
        for a in axles
        for kind in KIND_TITLES
        if ONLY_AT.get(kind, a.end) == a.end
    ]
    parts: list[tuple[str, str]] = [(f"{a.end} axle", f"{a.end.capitalize()} axle's own") for a in axles]
    parts += [("vehicle", "Vehicle's"), *((f"shelf {s.id}", s.name) for s in project.swap.shelf)]
    cells = []
    for place in places:
        axle = next(a for a in axles if a.end == place.end)
        cells += [
            _axle_cell(project, place, axle, other)
            for other in axles
            if ONLY_AT.get(place.kind, other.end) == other.end
        ]
        vehicle = _vehicle_cell(place, axle, rig)
        if vehicle is not None:
            cells.append(vehicle)
        for part in project.swap.shelf:
            if place.kind in PART_PLACES[part.kind]:
                cells.append(_shelf_cell(project, place, axle, part))
    return Matrix(tuple(places), tuple(parts), tuple(cells))


def _key(axle: DonorAxle, kind: str) -> SplineKey | None:
    found = spline_of(axle, {"inner": "spline", "outer": "outer_spline", "stub": "stub_spline"}[kind])
    return None if found is None else (found.teeth, found.pitch, found.root)


def _judge(place: Place, part: str, why: str | None, *, known: bool, missing: str = "", fits: str = "") -> Cell:
    if not known:
        return Cell(place, part, "unknown", missing or "not known")
    return Cell(place, part, "fits", fits) if why is None else Cell(place, part, "bridged", why, BRIDGES[place.kind])


def circle_words(count: int, circle: float) -> str:
    """A bolt circle, for a sentence that stands in both units."""
    return f"{count} on {show_both(circle, 'length')}"


def _axle_cell(project: Project, place: Place, axle: DonorAxle, other: DonorAxle) -> Cell:
    part, kind = f"{other.end} axle", place.kind
    if kind in ("inner", "outer", "stub"):
        takes = {"inner": "inner_shaft", "stub": "stub"}.get(kind)
        a = _key(axle, kind) if takes is None else meeting_key(project, axle, takes)
        b = _key(other, kind)
        if a is None or b is None:
            return _judge(
                place,
                part,
                None,
                known=False,
                missing=f"count the {kind} spline of the {(axle if a is None else other).end} axle",
            )
        return _judge(place, part, same_spline(b, a), known=True, fits=f"{a[0]} teeth, {a[1]:g} pitch")
    if kind == "wheel":
        return _wheel(place, part, axle, other.bolt_count, other.bolt_circle_m)
    if kind == "carrier":
        if other.pair is None:
            return _judge(place, part, None, known=False, missing=f"count the {other.end} gears")
        if axle.id != other.id and (axle.ring_diameter_m is None or other.ring_diameter_m is None):
            return _judge(place, part, None, known=False, missing="measure both ring gears")
        if axle.id != other.id and abs((axle.ring_diameter_m or 0) - (other.ring_diameter_m or 0)) > 0.001:
            return Cell(place, part, "no", "another ring gear size: gears do not cross between housings")
        return _carrier(place, part, axle, other.pair.ratio)
    if kind == "driveshaft":
        return _joints(place, part, axle.pinion_joint, other.pinion_joint)
    return _words(place, part, axle.brake_thread, other.brake_thread, "brake thread")


def _vehicle_cell(place: Place, axle: DonorAxle, rig: Rig) -> Cell | None:
    fit = rig.fittings
    if place.kind == "wheel":
        return _wheel(place, "vehicle", axle, fit.wheel_bolt_count, fit.wheel_bolt_circle_m)
    if place.kind == "driveshaft":
        return _joints(place, "vehicle", axle.pinion_joint, fit.joint(axle.end))
    if place.kind == "brakes":
        return _words(place, "vehicle", axle.brake_thread, fit.brake_thread, "brake thread")
    return None


def _shelf_cell(project: Project, place: Place, axle: DonorAxle, shelf: ShelfPart) -> Cell:
    part, kind = f"shelf {shelf.id}", place.kind
    if kind in ("inner", "stub"):
        a, b = meeting_key(project, axle, shelf.kind), part_key(shelf)
        if a is None or b is None:
            return _judge(place, part, None, known=False, missing="count both splines")
        return _judge(place, part, same_spline(b, a), known=True, fits=f"{a[0]} teeth, {a[1]:g} pitch")
    if kind == "wheel":
        if shelf.kind == "adapter":
            return _adapter(place, part, axle, shelf)
        return _wheel(place, part, axle, shelf.bolt_count, shelf.bolt_circle_m)
    if kind == "carrier":
        if shelf.kind == "locker":
            low, high, ratio = shelf.lowest_ratio or 0.0, shelf.highest_ratio or 99.0, axle.ratio
            if ratio is None:
                return _judge(place, part, None, known=False, missing="count the gears")
            inside = low <= ratio <= high
            return Cell(
                place,
                part,
                "fits" if inside else "no",
                "takes these gears"
                if inside
                else f"made for gears from {low:.2f} to {high:.2f}, these are {ratio:.2f}",
            )
        if shelf.gears is None:
            return _judge(place, part, None, known=False, missing="count its teeth")
        known = {(p.ring, p.pinion) for p in axle.offers}
        if axle.ratios and (shelf.gears.ring, shelf.gears.pinion) not in known:
            return Cell(place, part, "no", f"{shelf.gears} is not made for this ring gear")
        return _carrier(place, part, axle, shelf.gears.ratio)
    if kind == "driveshaft":
        if shelf.other_joint.known:
            return _conversion(place, part, axle.pinion_joint, shelf)
        return _joints(place, part, axle.pinion_joint, shelf.joint)
    return _words(place, part, axle.brake_thread, shelf.thread, "brake thread")


def _carrier(place: Place, part: str, axle: DonorAxle, ratio: float) -> Cell:
    if axle.carrier_break_ratio is None or axle.ratio is None:
        return Cell(
            place,
            part,
            "unknown" if axle.ratio != ratio else "fits",
            "carrier break not known" if axle.ratio != ratio else f"{ratio:.2f} is fitted",
        )
    here, there = axle.ratio > axle.carrier_break_ratio, ratio > axle.carrier_break_ratio
    why = (
        None
        if here == there
        else f"{ratio:.2f} is the other side of the carrier break at {axle.carrier_break_ratio:.2f}"
    )
    return _judge(place, part, why, known=True, fits=f"{ratio:.2f}, this side of the carrier break")


def _wheel(place: Place, part: str, axle: DonorAxle, count: int | None, circle: float | None) -> Cell:
    if axle.bolt_count is None or axle.bolt_circle_m is None or count is None or circle is None:
        return _judge(place, part, None, known=False, missing="bolt circle not known")
    same = count == axle.bolt_count and abs(circle - axle.bolt_circle_m) <= CIRCLE
    words = f"{circle_words(count, circle)} against {circle_words(axle.bolt_count, axle.bolt_circle_m)}"
    return _judge(place, part, None if same else words, known=True, fits=circle_words(count, circle))


def _adapter(place: Place, part: str, axle: DonorAxle, shelf: ShelfPart) -> Cell:
    if None in (axle.bolt_count, axle.bolt_circle_m, shelf.bolt_count, shelf.bolt_circle_m):
        return _judge(place, part, None, known=False, missing="bolt circle not known")
    same = shelf.bolt_count == axle.bolt_count and abs((shelf.bolt_circle_m or 0) - (axle.bolt_circle_m or 0)) <= CIRCLE
    if not same:
        return Cell(place, part, "no", f"made for {circle_words(shelf.bolt_count or 0, shelf.bolt_circle_m or 0)}")
    to = (
        ""
        if shelf.other_bolt_count is None
        else f", wheels of {circle_words(shelf.other_bolt_count, shelf.other_bolt_circle_m or 0)} then fit"
    )
    return Cell(place, part, "fits", f"sits on this hub{to}")


def _conversion(place: Place, part: str, mine: JointSize, joint: ShelfPart) -> Cell:
    """A joint with two pairs of caps: one of them has to be the pinion's."""
    sides = (joint.joint, joint.other_joint)
    if not mine.known or not sides[0].known:
        return _judge(place, part, None, known=False, missing="joint series not known; measure caps and span")
    for one, other in (sides, sides[::-1]):
        if same_joint(one, mine):
            return Cell(place, part, "fits", f"{one.words} at the pinion, {other.words} at the shaft")
    if all(same_joint(one, mine) is False for one in sides):
        return Cell(place, part, "no", f"takes {sides[0].words} and {sides[1].words}, the pinion has {mine.words}")
    return _judge(place, part, None, known=False, missing="measure caps and span on both")


def _joints(place: Place, part: str, mine: JointSize, other: JointSize) -> Cell:
    """Two driveshaft joints, by their measured sizes where both are known, else by name."""
    same = same_joint(mine, other)
    if same is None:
        return _judge(place, part, None, known=False, missing="joint series not known; measure caps and span")
    measured = JointSize("", mine.cap, mine.span).words
    fits = mine.words if not mine.series or mine.cap is None else f"{mine.words}, {measured}"
    return _judge(place, part, None if same else _apart(mine, other), known=True, fits=fits)


def _apart(mine: JointSize, other: JointSize) -> str:
    """What tells two joints apart."""
    for word, one, two, most in (("caps", mine.cap, other.cap, SAME_CAP), ("span", mine.span, other.span, SAME_SPAN)):
        if one is not None and two is not None and abs(one - two) > most:
            return f"{word} {show_both(two, 'length')} against {show_both(one, 'length')}"
    return f"joint series {other.words} against {mine.words}"


def _words(place: Place, part: str, mine: str, other: str, what: str) -> Cell:
    if not mine or not other:
        return _judge(place, part, None, known=False, missing=f"{what} not known")
    same = mine.casefold().replace(" ", "") == other.casefold().replace(" ", "")
    return _judge(place, part, None if same else f"{what} {other} against {mine}", known=True, fits=mine)

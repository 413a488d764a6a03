"""An axle made of several: where its parts are from, whether they meet, and what is new whatever they are from."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.swap.fitted import Mate, axle_key
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.parts_of_axle import AXLE_PARTS, PART_WORDS, AxlePart
from stoutlink.core.document.project import Project
from stoutlink.core.document.swap import MadeAxle
from stoutlink.core.mechanics.spline import same_spline
from stoutlink.core.quantity.shown import show_both

SAME_TUBE = 0.0005
SAME_RING = 0.002
"""Tubes and ring gears within this of each other, m, are of one size."""


class New(Struct, frozen=True):
    """Something that is bought new for an axle made of several, and why."""

    what: str
    why: str


class MadeOf(Struct, frozen=True):
    """Where each part is from (``None``: that record is no longer in the catalogue), how they meet, what is new, and
    what has to be measured on the axle before it counts."""

    origins: tuple[tuple[AxlePart, DonorAxle | None], ...]
    mates: tuple[Mate, ...]
    new: tuple[New, ...]
    to_measure: tuple[str, ...]


def made_row(project: Project, axle: DonorAxle) -> MadeAxle | None:
    """The row that says what an axle is made of; ``None`` for one that is as it came."""
    return next((one for one in project.swap.made if one.id == axle.id), None)


def several(project: Project, axle: DonorAxle, *parts: AxlePart) -> bool:
    """Whether these parts of an axle are from more than one axle."""
    row = made_row(project, axle)
    return row is not None and len({getattr(row, part) for part in parts}) > 1


def made_of(project: Project, axle: DonorAxle) -> MadeOf | None:
    """What an axle is made of; ``None`` for one that is as it came."""
    row = made_row(project, axle)
    if row is None:
        return None
    known = {d.id: d for d in project.swap.donors}
    from_: dict[AxlePart, DonorAxle | None] = {part: known.get(getattr(row, part)) for part in AXLE_PARTS}
    to_measure = tuple(
        words
        for name, words in (("width_m", "width over the wheel faces"), ("shaft_left_m", "left shaft"), ("shaft_right_m", "right shaft"), ("weight_kg", "weight"))
        if getattr(axle, name) is None
    )  # fmt: skip
    return MadeOf(tuple(from_.items()), tuple(_mates(axle, from_)), tuple(_new(project, axle)), to_measure)


def _mates(axle: DonorAxle, from_: dict[AxlePart, DonorAxle | None]) -> list[Mate]:
    housing, gears, shafts, outers = (from_[part] for part in AXLE_PARTS)
    out: list[Mate] = []
    if housing is None or gears is None or shafts is None or outers is None:
        gone = ", ".join(PART_WORDS[part] for part, one in from_.items() if one is None)
        out.append(Mate("its parts together", None, f"the record of {gone} is no longer in the catalogue"))
        return out
    if gears.id != housing.id:
        out.append(_gears_in_housing(housing, gears))
    if shafts.id != gears.id:
        out.append(_splines("shafts in the side gears", axle_key(shafts, "spline"), axle_key(gears, "spline")))
    if outers.id != shafts.id:
        if axle.end == "rear":
            one, two = axle_key(shafts, "outer_spline"), axle_key(outers, "outer_spline")
            if shafts.floating == "full" or outers.floating == "full":
                out.append(_splines("shafts in the drive plates", one, two))
            else:
                out.append(_wheel_circles(shafts, outers))
        else:
            out.append(_outer_joints(shafts, outers))
    if outers.id != housing.id:
        out.append(_tubes(housing, outers))
    return out


def _splines(title: str, one: tuple[int, float, str] | None, two: tuple[int, float, str] | None) -> Mate:
    if one is None or two is None:
        return Mate(title, None, "count both splines")
    why = same_spline(one, two)  # type: ignore[arg-type]
    return Mate(title, why is None, why or f"{one[0]} teeth, {one[1]:g} pitch")


def _gears_in_housing(housing: DonorAxle, gears: DonorAxle) -> Mate:
    title = "gears in the housing"
    if housing.third_member and gears.third_member:
        return Mate(title, None, "third members: lay bolt circle, opening and pinion side on each other first")
    if (housing.third_member is False and gears.third_member) or (housing.third_member and gears.third_member is False):
        return Mate(title, False, "one takes a third member, the other carries its gears in the housing")
    if housing.ring_diameter_m is None or gears.ring_diameter_m is None:
        return Mate(title, None, "measure both ring gears and the carrier's bearings")
    if abs(housing.ring_diameter_m - gears.ring_diameter_m) > SAME_RING:
        sizes = f"{show_both(gears.ring_diameter_m, 'length')} into one made for {show_both(housing.ring_diameter_m, 'length')}"
        return Mate(title, False, f"a ring gear of {sizes}")
    if housing.cut is not None and gears.cut is not None and housing.cut != gears.cut:
        return Mate(title, False, f"{gears.cut} cut into a housing for {housing.cut} cut")
    return Mate(title, None, "the ring gear is of one size: carrier bearings and pinion bearings have to be too")


def _wheel_circles(shafts: DonorAxle, outers: DonorAxle) -> Mate:
    title = "shaft flanges in these ends"
    return Mate(
        title, None, "the wheel bolts to the shaft: bearing, retainer and backing plate have to be those of the ends"
    )


def _outer_joints(shafts: DonorAxle, outers: DonorAxle) -> Mate:
    title = "inner shafts to stubs"
    if not shafts.outer_joint_class or not outers.outer_joint_class:
        return Mate(title, None, "the outer joint of one is not known")
    same = shafts.outer_joint_class.casefold() == outers.outer_joint_class.casefold()
    joints = f"{shafts.outer_joint_class} on the shaft, {outers.outer_joint_class} on the stub"
    return Mate(title, same, shafts.outer_joint_class if same else joints)


def _tubes(housing: DonorAxle, outers: DonorAxle) -> Mate:
    title = "ends on the tubes"
    if housing.tube_od_m is None or outers.tube_od_m is None:
        return Mate(title, None, "measure both tubes")
    same = abs(housing.tube_od_m - outers.tube_od_m) <= SAME_TUBE
    sizes = f"made for {show_both(outers.tube_od_m, 'length')}, on {show_both(housing.tube_od_m, 'length')}"
    return Mate(title, same, show_both(housing.tube_od_m, "length") if same else f"{sizes}: a turned sleeve or others")


def _new(project: Project, axle: DonorAxle) -> list[New]:
    """What is bought new, whatever the parts are from."""
    out = []
    if several(project, axle, "housing", "gears"):
        out.append(New("carrier and pinion bearings, seal, crush sleeve, pinion nut", "gears in another housing"))
    if several(project, axle, "housing", "shafts", "outers"):
        out.append(New("both shafts, made to length", "tubes and ends are not from one axle: measure, then order"))
    if several(project, axle, "housing", "outers"):
        out.append(New("axle seals, wheel bearings and their races", "the ends come off and go on again"))
        if axle.end == "front":
            out.append(New("ball joints or kingpin bearings", "they come out with the knuckles"))
    if several(project, axle, "shafts", "outers") and axle.end == "front":
        out.append(New("joints between inner shafts and stubs", "pressed out to part the shafts"))
    out.append(New("gaskets, sealant, oil", "it is opened"))
    out.append(New("brake hoses and fluid", "never the old ones on other calipers"))
    layout = project.layout(axle.end)
    if layout is not None and layout.leaf is not None:
        out.append(New("U-bolts and nuts", "never used a second time"))
    return out

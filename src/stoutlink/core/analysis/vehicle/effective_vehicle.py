"""The rig as it will really be: weight and balance point from what was found out, with how sure each is.

Stated numbers count as they are. Scales, a tilt, or curb weight and items give the vehicle as weighed, to which come
the items not on it then and, where the weight of the axle that comes out is known, the difference to the chosen
donor. Everything downstream works on the rig this returns.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import TypeVar

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.vehicle.axle_place import track_with
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.fitted_axle import as_fitted
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import AXLE_GUESS, WHEEL_GUESS, Rig, WheelEnd
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.errors import StoutError, ValueOutOfRange
from stoutlink.core.mechanics.weighing import Lump, TiltResult, combined, height_by_tilting, level_scales
from stoutlink.core.quantity.shown import show_both

AS_IT_COMES = AxlePlan()
T = TypeVar("T")


class EffectiveVehicle(Struct, frozen=True):
    """The rig in force and where its weight numbers come from.

    ``rig`` has mass, balance point and unsprung masses filled in; ``*_from`` say which source was used.
    ``side_offset`` m left of the centreline is known from scales only. ``swapped`` kg is what the chosen axles add.
    ``problems`` say why a chosen source could not be used (the stated number then stands in).
    """

    rig: Rig
    mass_from: str
    along_from: str
    height_from: str
    side_offset: float | None
    tilt: TiltResult | None
    swapped: float
    problems: tuple[StoutError, ...]


def effective_vehicle(project: Project) -> EffectiveVehicle:
    """The rig in force for a project (see :class:`TrueRig`)."""
    front, rear = chosen_axles(project)
    return resolve(project.rig, front, rear, project.plan("front"), project.plan("rear"))


def chosen_axles(project: Project) -> tuple[DonorAxle | None, DonorAxle | None]:
    """The axles chosen, front and rear, with the parts of the shelf in them that are planned."""
    front, rear = (
        None if (one := project.donor(end)) is None else as_fitted(project, one) for end in ("front", "rear")
    )
    return front, rear


@lru_cache(maxsize=512)
def resolve(
    rig: Rig,
    front: DonorAxle | None,
    rear: DonorAxle | None,
    front_plan: AxlePlan = AS_IT_COMES,
    rear_plan: AxlePlan = AS_IT_COMES,
) -> EffectiveVehicle:
    """Fill in mass, balance point, unsprung masses and the track of the axles chosen, as planned; never raises: a source
    that cannot be used becomes a problem.
    """
    book = rig.weight
    donors = {"front": front, "rear": rear}
    plans = {"front": front_plan, "rear": rear_plan}
    wheels = {name: _wheel_end(rig, name, donors[name], plans[name]) for name in ("front", "rear")}
    problems: list[StoutError] = []
    swaps = _swaps(rig, donors)
    later = [Lump(i.mass_kg, i.x_m, i.y_m, i.z_m) for i in book.items if not i.weighed] + swaps
    everything = [Lump(i.mass_kg, i.x_m, i.y_m, i.z_m) for i in book.items] + swaps

    mass, along, height, offset = rig.mass_kg, rig.cg_ahead_of_rear_m, rig.cg_height_m, None
    used = {"mass": "stated", "along": "stated", "height": "stated"}

    def itemised(source: str, *known: str) -> Lump | None:
        """Curb weight and items together, once what this number needs of the curb weight is known."""
        if source != "items":
            return None
        return _try(problems, lambda: combined([_curb(rig, ("curb_mass_kg", *known)), *everything]))

    tilt = _try(problems, lambda: _tilt(rig)) if book.height_from == "tilt" else None
    scaled = _try(problems, lambda: _scales(rig)) if tilt or "scales" in (book.mass_from, book.along_from) else None
    with_later = None
    if scaled is not None:
        base = Lump(scaled[0], scaled[1], scaled[2], tilt.height if tilt else rig.cg_height_m)
        with_later = _try(problems, lambda: combined([base, *later]))
    if book.mass_from == "scales" and with_later is not None:
        mass, used["mass"] = with_later.mass, "scales"
    elif (summed := itemised(book.mass_from)) is not None:
        mass, used["mass"] = summed.mass, "items"
    if book.along_from == "scales" and with_later is not None:
        along, used["along"] = with_later.x, "scales"
        offset = with_later.y if wheel_scales(rig, "front") and wheel_scales(rig, "rear") else None
    elif (summed := itemised(book.along_from, "curb_cg_ahead_m")) is not None:
        along, used["along"] = summed.x, "items"
    if (summed := itemised(book.height_from, "curb_cg_height_m")) is not None:
        height, used["height"] = summed.z, "items"
    elif book.height_from == "bell_housing" and book.bell_housing_m is not None:
        height, used["height"] = book.bell_housing_m, "bell_housing"
    elif book.height_from == "bell_housing":
        problems.append(_missing("the height of the top bell housing bolt"))
    elif tilt is not None and with_later is not None:
        height, used["height"] = with_later.z, "tilt"

    after = msgspec.structs.replace(
        rig, mass_kg=mass, cg_ahead_of_rear_m=along, cg_height_m=height, front=wheels["front"], rear=wheels["rear"]
    )
    bad = _impossible(after)
    if bad is not None:
        problems.append(bad)
        after = _standing_alone(msgspec.structs.replace(rig, front=wheels["front"], rear=wheels["rear"]))
        used = dict.fromkeys(used, "stated")
    return EffectiveVehicle(
        after,
        used["mass"],
        used["along"],
        used["height"],
        offset,
        tilt,
        sum(one.mass for one in swaps),
        tuple(problems),
    )


def _try(problems: list[StoutError], task: Callable[[], T]) -> T | None:
    try:
        return task()
    except StoutError as why:
        if all(why.sentence != p.sentence for p in problems):
            problems.append(why)
    except ValueError as why:
        problems.append(
            ValueOutOfRange("W110", f"The weight cannot be worked out: {why}.", "Look at the items and scales.")
        )
    return None


def _missing(words: str) -> ValueOutOfRange:
    return ValueOutOfRange(
        "W111",
        f"{words[0].upper()}{words[1:]} is not entered.",
        "Enter it, or choose another source for the number.",
    )


def wheel_scales(rig: Rig, end: str) -> tuple[float, float] | None:
    """Left and right wheel load of an axle, kg, when both were weighed apart."""
    s = rig.weight.scales
    left, right = getattr(s, f"{end}_left_kg"), getattr(s, f"{end}_right_kg")
    return None if left is None or right is None else (left, right)


def scaled_mass(rig: Rig) -> float | None:
    """What the scales give in all, kg, once every reading they need is there."""
    s = rig.weight.scales
    axles = []
    for end in ("front", "rear"):
        apart = wheel_scales(rig, end)
        axles.append(sum(apart) if apart is not None else getattr(s, f"{end}_kg"))
    return None if None in axles else float(sum(axles))


def _axle_scales(rig: Rig, end: str) -> tuple[float, float]:
    """Left and right wheel load of an axle; an axle weighed as a whole is halved."""
    apart, whole = wheel_scales(rig, end), getattr(rig.weight.scales, f"{end}_kg")
    if apart is not None:
        return apart
    if whole is None:
        missing = next(side for side in ("left", "right") if getattr(rig.weight.scales, f"{end}_{side}_kg") is None)
        raise _missing(f"the {end} {missing} wheel's load, or the {end} axle's as a whole,")
    return 0.5 * whole, 0.5 * whole


def _scales(rig: Rig) -> tuple[float, float, float]:
    return level_scales(
        (*_axle_scales(rig, "front"), *_axle_scales(rig, "rear")),
        rig.wheelbase_m,
        (rig.front.track_m, rig.rear.track_m),
    )


def _tilt(rig: Rig) -> TiltResult:
    tilt = rig.weight.tilt
    level = (sum(_axle_scales(rig, "front")), sum(_axle_scales(rig, "rear")))
    for key, words in (
        ("angle_rad", "the tilt"),
        ("front_kg", "the front axle's load while tilted"),
        ("rear_kg", "the rear axle's load while tilted"),
    ):
        if getattr(tilt, key) is None:
            raise _missing(words)
    if abs(tilt.angle_rad or 0.0) < 1e-3:
        raise ValueOutOfRange("W112", "The tilt is 0°; 10° or more is needed.", "Raise one end higher.")
    return height_by_tilting(
        level,
        (tilt.front_kg or 0.0, tilt.rear_kg or 0.0),
        tilt.angle_rad or 0.0,
        rig.wheelbase_m,
        (rig.front.loaded, rig.rear.loaded),
        tilt.raised,
    )


_CURB = {
    "curb_mass_kg": "the vehicle's own weight",
    "curb_cg_ahead_m": "where its weight lies",
    "curb_cg_height_m": "how high its weight lies",
}


def _curb(rig: Rig, needed: tuple[str, ...]) -> Lump:
    """The vehicle's own weight; of its place what is ``needed`` is known."""
    book = rig.weight
    for key in needed:
        if getattr(book, key) is None:
            raise _missing(_CURB[key])
    return Lump(book.curb_mass_kg or 0.0, book.curb_cg_ahead_m or 0.0, 0.0, book.curb_cg_height_m or 0.0)


def _swaps(rig: Rig, donors: dict[str, DonorAxle | None]) -> list[Lump]:
    """What the chosen axles weigh more than those that come out, where that is known."""
    out = []
    for name, donor in donors.items():
        old = rig.end(name).old_axle_mass_kg
        if donor is not None and donor.weight_kg is not None and old is not None:
            out.append(
                Lump(donor.weight_kg - old, rig.wheelbase_m if name == "front" else 0.0, 0.0, rig.end(name).loaded)
            )
    return out


def _wheel_end(rig: Rig, name: str, donor: DonorAxle | None, plan: AxlePlan) -> WheelEnd:
    """The wheel end with the track that counts and its unsprung mass: as stated, else axle and wheels with what is
    carried on the axle.
    """
    end = rig.end(name)
    end = msgspec.structs.replace(end, track_m=track_with(end, donor, plan))
    if end.unsprung_mass_kg is not None:
        return end
    axle = (
        donor.weight_kg if donor is not None and donor.weight_kg is not None else (end.old_axle_mass_kg or AXLE_GUESS)
    )
    carried = sum(i.mass_kg for i in rig.weight.items if i.on == f"{name}_axle")
    return msgspec.structs.replace(
        end, unsprung_mass_kg=max(10.0, axle + end.wheels * (end.wheel_mass_kg or WHEEL_GUESS) + carried)
    )


def _standing_alone(rig: Rig) -> Rig:
    """A rig as stated that can stand: unsprung masses that leave nothing sprung are cut to a third of the weight in
    all.
    """
    if _impossible(rig) is None:
        return rig
    most = rig.mass_kg / 3.0 * min(1.0, rig.cg_height_m / max(rig.front.loaded, rig.rear.loaded))
    part = min(1.0, most / (rig.front.unsprung + rig.rear.unsprung))
    front, rear = (
        msgspec.structs.replace(e, unsprung_mass_kg=max(1.0, part * e.unsprung)) for e in (rig.front, rig.rear)
    )
    return msgspec.structs.replace(rig, front=front, rear=rear)


def _impossible(rig: Rig) -> ValueOutOfRange | None:
    """Why a rig found from its sources cannot stand on its wheels."""
    if not 0.0 < rig.cg_ahead_of_rear_m < rig.wheelbase_m:
        return ValueOutOfRange(
            "W113",
            f"The masses put the balance point {show_both(rig.cg_ahead_of_rear_m, 'length')} ahead of the rear axle, outside the wheelbase.",
            "One weight or place is wrong.",
        )
    if not 0.2 <= rig.cg_height_m <= 3.0:
        return ValueOutOfRange(
            "W114",
            f"The readings put the balance point {show_both(rig.cg_height_m, 'length')} high; {show_both(0.2, 'length')} to {show_both(3.0, 'length')} can be.",
            "Read the tilted scales and the angle again.",
        )
    sprung = rig.mass_kg - rig.front.unsprung - rig.rear.unsprung
    low = sum(e.unsprung * e.loaded for e in (rig.front, rig.rear))
    if sprung <= 0.05 * rig.mass_kg or rig.mass_kg * rig.cg_height_m - low <= 0.05 * sprung:
        return ValueOutOfRange(
            "W115",
            f"The axles and wheels weigh {show_both(rig.front.unsprung + rig.rear.unsprung, 'mass')} of {show_both(rig.mass_kg, 'mass')} in all, which leaves no sprung mass.",
            "One weight is wrong.",
        )
    return None

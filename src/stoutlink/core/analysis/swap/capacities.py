"""What each part of an axle carries: from its record, else by formula from its dimensions, else not known."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.upgrades import BY_ID as UPGRADE_KINDS
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.mechanics.shaft import (
    cross_joint_capacity,
    dowels,
    flange_bolts,
    torque_beside_bending,
    tube_section_modulus,
    yield_torque,
)
from stoutlink.core.mechanics.spline import RootForm, pitch_from_major, spline_size, tooth_torque
from stoutlink.core.quantity.shown import show_both

SHAFT_YIELD, TUBE_YIELD = 900e6, 300e6
"""Core strength of an unknown shaft and of an unknown tube, Pa (estimates)."""
PITCH = 24.0
"""Spline of an axle shaft of which only the teeth are counted (common practice: mostly, not all)."""
LOCK = 0.5585
"""Steering lock of an unknown knuckle, rad: 32° (estimate)."""
FORMULA_SIGMA, GUESS_SIGMA, RECORD_SIGMA = 0.05, 0.12, 0.03
"""1 σ of a capacity as a part of it: by formula from measured sizes, with a guessed strength, from a record
(estimates).
"""

PART_TITLES: dict[str, str] = {
    "output": "Transfer case output", "driveshaft_joint": "Driveshaft joint", "pinion": "Pinion shaft", "ring_forward": "Ring gear, forward",
    "ring_reverse": "Ring gear, reverse", "carrier": "Carrier or locker", "inner_spline": "Inner shaft at its spline", "neck": "Inner shaft at its neck",
    "spline_teeth": "Teeth in the side gear", "semi_float_end": "Shaft's outer end, semi-float", "outer_joint": "Outer joint at lock",
    "outer_spline": "Outer spline", "stub": "Stub shaft", "lockout": "Hub lock-out", "flange_bolts": "Drive flange bolts", "tube": "Housing tube at the seat",
    "knuckle": "Knuckle",
}  # fmt: skip
AS_IT_COMES = AxlePlan()


class Capacity(Struct, frozen=True):
    """What a part carries, N·m, or why that is not known. ``basis``: ``record``, ``formula`` or ``estimate``;
    ``sigma`` as a part of it.
    """

    part: str
    value: float | None
    basis: str
    why: str
    sigma: float = FORMULA_SIGMA
    turned: bool = False
    """Whether ``ratio`` still bears on it (ring gears by formula above 4.10)."""


class SplineFacts(Struct, frozen=True):
    """One spline of an axle resolved: teeth, pitch, root form, and whether pitch or root had to be assumed or must be
    asked for.
    """

    teeth: int
    pitch: float
    root: RootForm
    assumed: bool
    asked: bool


def spline_of(donor: DonorAxle, stem: str = "spline") -> SplineFacts | None:
    """Resolve a spline (``spline``, ``outer_spline``, ``stub_spline``): a measured major gives the pitch, else the
    record, else 24 pitch 45°.
    """
    teeth: int | None = getattr(donor, f"{stem}_teeth")
    if teeth is None:
        return None
    said: float | None = getattr(donor, f"{stem}_pitch_per_in")
    major: float | None = getattr(donor, f"{stem}_major_diameter_m")
    root: RootForm | None = getattr(donor, f"{stem}_root")
    found = None if major is None else pitch_from_major(teeth, major)
    asked = major is not None and found is None
    pitch = found or said or PITCH
    return SplineFacts(teeth, pitch, root or "45_flat", said is None and found is None, asked)


class _Axle(Struct, frozen=True):
    """What the rules below look at: the axle, its plan, what bends its shafts, and the strength of their core."""

    donor: DonorAxle
    plan: AxlePlan
    wheel_load: float
    side_force: float
    radius: float
    strength: float
    guessed: bool

    @property
    def why(self) -> str:
        return f"{self.strength / 1e6:.0f} MPa core{' (estimate)' if self.guessed else ''}"

    def shaft(self, part: str, value: float | None, why: str, *, unsure: bool = False, rough: bool = False) -> Capacity:
        """A part of the shafts by formula; ``unsure``: its size is assumed; ``rough``: the formula is."""
        guess = unsure or self.guessed
        sigma = GUESS_SIGMA if guess or rough else FORMULA_SIGMA
        return Capacity(part, value, "estimate" if guess else "formula", f"{why}, {self.why}", sigma)

    def rated(self, part: str, rating: float | None, ask: str) -> Capacity:
        """A part by its record, which is worth nothing here when it says at what it breaks."""
        if rating is None:
            return _ask(part, ask, "record")
        if self.donor.ratings_are == "break":
            return _ask(part, "its record gives a breaking figure, which does not belong in a yield ladder", "record")
        return Capacity(part, rating, "record", "rated by its record", RECORD_SIGMA)


def _ask(part: str, ask: str, basis: str = "formula") -> Capacity:
    """A part of which nothing is known, and what to measure."""
    return Capacity(part, None, basis, ask, 0.0)


def capacities(
    donor: DonorAxle,
    plan: AxlePlan = AS_IT_COMES,
    *,
    wheel_load: float = 0.0,
    side_force: float = 0.0,
    radius: float = 0.0,
) -> dict[str, Capacity]:
    """Capacity of every part this axle has, by part: what :data:`RULES` say, in their order.

    ``wheel_load`` and ``side_force`` N and ``radius`` m bend a semi-floating shaft's outer end. Planned upgrades
    count. Ring gears come on the flank in question by :func:`~stoutlink.core.analysis.swap.ladder`, which knows the
    ratio. Yield only: a record that gives breaking figures is not mixed in.
    """
    strength, guessed = _strength(donor, plan)
    axle = _Axle(donor, plan, wheel_load, side_force, radius, strength, guessed)
    found = (one for rule in RULES if (one := rule(axle)) is not None)
    return {one.part: _upgraded(one, plan) for one in found}


def _upgraded(one: Capacity, plan: AxlePlan) -> Capacity:
    """With the planned upgrades that make this part carry more by a factor (stronger shafts are in the strength)."""
    if one.turned:
        return one
    for name in plan.upgrades:
        kind = UPGRADE_KINDS[name]
        if one.part in kind.parts and kind.yield_pa is None:
            value = None if one.value is None else one.value * kind.factor
            one = Capacity(one.part, value, "estimate", f"{one.why}; with {kind.title}", max(one.sigma, GUESS_SIGMA))
    return one


def torsion(diameter: float, strength: float, bore: float = 0.0) -> float | None:
    """Yield torque, N·m; None when the bore does not fit into the diameter worked out, so that one of the two
    readings is wrong.
    """
    return yield_torque(diameter, strength, bore) if bore < diameter else None


def _strength(donor: DonorAxle, plan: AxlePlan) -> tuple[float, bool]:
    """Core strength of the inner shafts and whether it is a guess; planned shafts count."""
    if "shafts" in plan.upgrades:
        return max(UPGRADE_KINDS["shafts"].yield_pa or 0.0, donor.shaft_yield_pa or 0.0), True
    return donor.shaft_yield_pa or SHAFT_YIELD, donor.shaft_yield_pa is None


def _driveshaft_joint(axle: _Axle) -> Capacity:
    return axle.rated("driveshaft_joint", axle.donor.pinion_joint_rating_nm, "enter the driveshaft joint's rating")


def _pinion(axle: _Axle) -> Capacity:
    teeth, major = axle.donor.pinion_spline_teeth, axle.donor.pinion_spline_major_diameter_m
    if teeth is None and major is None:
        return _ask("pinion", "count the pinion's spline and measure over it")
    strength = axle.donor.shaft_yield_pa or SHAFT_YIELD
    if major is None:
        root, how = spline_size(teeth or 6, PITCH).minor, "24 pitch assumed"
    elif teeth:
        root, how = major * ((teeth - 1) / (teeth + 1)), "root from teeth and major"
    else:
        root, how = major * 0.92, "root guessed at 0.92 of the major"
    why = f"{root * 1e3:.1f} mm, {how}, the shafts' strength taken for it"
    return Capacity("pinion", yield_torque(root, strength), "estimate", why, GUESS_SIGMA)


def _ring(axle: _Axle) -> Capacity:
    donor = axle.donor
    if donor.ring_rating_nm is not None and donor.ratings_are != "break":
        why = "rated by its record, drive flank"
        return Capacity("ring_forward", donor.ring_rating_nm, "record", why, RECORD_SIGMA)
    if donor.ring_diameter_m is not None:
        return Capacity("ring_forward", None, "estimate", "by its diameter, k = 0.45 MPa", 0.15, turned=True)
    return _ask("ring_forward", "measure the ring gear")


def _carrier(axle: _Axle) -> Capacity:
    return axle.rated("carrier", axle.donor.locker_rating_nm, "enter the carrier's or locker's rating")


def _inner_spline(axle: _Axle) -> Capacity:
    inner = spline_of(axle.donor)
    if inner is None:
        return _ask("inner_spline", "count the inner spline")
    minor = spline_size(inner.teeth, inner.pitch, inner.root).minor
    assumed = " assumed" if inner.assumed else ""
    why = f"{minor * 1e3:.1f} mm root, {inner.teeth} teeth of {inner.pitch:g} pitch{assumed}"
    value = torsion(minor, axle.strength, axle.donor.shaft_bore_m or 0.0)
    return axle.shaft("inner_spline", value, why, unsure=inner.assumed)


def _spline_teeth(axle: _Axle) -> Capacity | None:
    inner, engaged = spline_of(axle.donor), axle.donor.spline_engaged_m
    if inner is None or engaged is None:
        return None
    shear, crush = tooth_torque(inner.teeth, inner.pitch, engaged, axle.strength, inner.root)
    why = f"{engaged * 1e3:.0f} mm engaged, {'crushed' if crush < shear else 'sheared'} first"
    return axle.shaft("spline_teeth", min(shear, crush), why, rough=True)


def _neck(axle: _Axle) -> Capacity | None:
    neck = axle.donor.neck_diameter_m
    if neck is None:
        return None
    return axle.shaft("neck", torsion(neck, axle.strength, axle.donor.shaft_bore_m or 0.0), f"{neck * 1e3:.1f} mm")


def _outer_spline(axle: _Axle) -> Capacity | None:
    outer = spline_of(axle.donor, "outer_spline")
    if outer is None:
        return None
    minor = spline_size(outer.teeth, outer.pitch, outer.root).minor
    return axle.shaft("outer_spline", yield_torque(minor, axle.strength), f"{minor * 1e3:.1f} mm root")


def _semi_float_end(axle: _Axle) -> Capacity | None:
    donor = axle.donor
    d = donor.body_diameter_m or donor.neck_diameter_m
    if donor.floating != "semi" or donor.wheel_overhang_m is None or not d:
        return None
    moment = axle.wheel_load * donor.wheel_overhang_m + axle.side_force * axle.radius
    why = f"{show_both(d, 'length')} beside {show_both(moment, 'torque')} of bending"
    return axle.shaft("semi_float_end", torque_beside_bending(d, axle.strength, moment), why, rough=True)


def _outer_joint(axle: _Axle) -> Capacity | None:
    donor = axle.donor
    if donor.end != "front":
        return None
    rating = donor.outer_joint_rating_nm
    if donor.outer_joint == "cross" and rating is not None and donor.ratings_are != "break":
        lock = donor.steer_lock_rad if donor.steer_lock_rad is not None else LOCK
        why = f"{show_both(rating, 'torque')} straight, at {lock * 57.29578:.0f}° of lock"
        return Capacity("outer_joint", cross_joint_capacity(rating, lock), "record", why, RECORD_SIGMA)
    if donor.outer_joint in ("cross", "constant_velocity"):
        return axle.rated("outer_joint", rating, "enter the outer joint's rating")
    return _ask("outer_joint", "say which outer joint it has") if donor.outer_joint is None else None


def _stub(axle: _Axle) -> Capacity | None:
    donor = axle.donor
    if donor.end != "front":
        return None
    stub = spline_of(donor, "stub_spline")
    if stub is None and donor.stub_neck_diameter_m is None:
        return _ask("stub", "count the stub's spline")
    strength = donor.stub_yield_pa or donor.shaft_yield_pa or SHAFT_YIELD
    planned = "stubs" in axle.plan.upgrades
    if planned:
        strength = max(strength, UPGRADE_KINDS["stubs"].yield_pa or 0.0)
    places = [] if stub is None else [spline_size(stub.teeth, stub.pitch, stub.root).minor]
    d = min([*places, *([donor.stub_neck_diameter_m] if donor.stub_neck_diameter_m else [])])
    guess = planned or (donor.stub_yield_pa is None and donor.shaft_yield_pa is None)
    why = f"{d * 1e3:.1f} mm, {strength / 1e6:.0f} MPa core"
    sigma = GUESS_SIGMA if guess else FORMULA_SIGMA
    return Capacity("stub", yield_torque(d, strength), "estimate" if guess else "formula", why, sigma)


def _knuckle(axle: _Axle) -> Capacity | None:
    if axle.donor.end != "front":
        return None
    return axle.rated("knuckle", axle.donor.knuckle_rating_nm, "enter the knuckle's rating, if there is one")


def _lockout(axle: _Axle) -> Capacity | None:
    if axle.donor.lockouts not in ("manual", "automatic"):
        return None
    return axle.rated("lockout", axle.donor.lockout_rating_nm, "enter the lock-outs' rating")


def _flange_bolts(axle: _Axle) -> Capacity | None:
    donor = axle.donor
    if donor.flange_rating_nm is not None:
        return Capacity("flange_bolts", donor.flange_rating_nm, "record", "rated by its record", RECORD_SIGMA)
    count, circle = donor.flange_bolt_count, donor.flange_bolt_circle_m
    if not (count and donor.flange_bolt_diameter_m and circle):
        return None
    grade = donor.flange_bolt_class or "8.8"
    friction, shear = flange_bolts(count, donor.flange_bolt_diameter_m, circle, grade)
    taken = "" if donor.flange_bolt_class else " (taken)"
    why = f"friction of tight class {grade} bolts{taken}; {show_both(shear, 'torque')} in shear is the reserve"
    if donor.flange_dowel_count and donor.flange_dowel_diameter_m:
        pins = dowels(donor.flange_dowel_count, donor.flange_dowel_diameter_m, circle)
        if pins > friction:  # faces and pins do not share until one gives: the stronger of the two holds
            pinned = f"{donor.flange_dowel_count} fitted dowels in shear; {show_both(friction, 'torque')} by friction"
            return Capacity("flange_bolts", pins, "formula", pinned, GUESS_SIGMA)
    return Capacity("flange_bolts", friction, "formula", why, GUESS_SIGMA)


def _tube(axle: _Axle) -> Capacity:
    donor = axle.donor
    if donor.tube_od_m is None or donor.tube_wall_m is None or donor.seat_spacing_m is None:
        return _ask("tube", "measure the tube, its wall and the seat spacing")
    known = donor.tube_yield_pa
    strength, modulus = known or TUBE_YIELD, tube_section_modulus(donor.tube_od_m, donor.tube_wall_m)
    why = f"{strength / 1e6:.0f} MPa{'' if known else ' (estimate)'} on {modulus * 1e6:.1f} cm³"
    sigma = FORMULA_SIGMA if known else GUESS_SIGMA
    return Capacity("tube", strength * modulus, "formula" if known else "estimate", why, sigma)


Rule = Callable[[_Axle], Capacity | None]
RULES: tuple[Rule, ...] = (
    _driveshaft_joint, _pinion, _ring, _carrier, _inner_spline, _spline_teeth, _neck, _outer_spline, _semi_float_end,
    _outer_joint, _stub, _knuckle, _lockout, _flange_bolts, _tube,
)  # fmt: skip
"""One rule a part; None where the axle has no such part."""

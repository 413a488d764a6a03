"""What each part of an axle carries: from its record, else by formula from its dimensions, else not known."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.upgrades import BY_ID as UPGRADE_KINDS
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.mechanics.shaft import (
    cross_joint_capacity,
    flange_bolts,
    torque_beside_bending,
    tube_section_modulus,
    yield_torque,
)
from stoutlink.core.mechanics.spline import RootForm, pitch_from_major, spline_size, tooth_torque

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
Put = Callable[[str, float | None, str, str, float], None]
Rated = Callable[[str, float | None, str], bool]


@dataclass(frozen=True)
class Capacity:
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


@dataclass(frozen=True)
class SplineFacts:
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


def capacities(
    donor: DonorAxle,
    plan: AxlePlan = AS_IT_COMES,
    *,
    wheel_load: float = 0.0,
    side_force: float = 0.0,
    radius: float = 0.0,
) -> dict[str, Capacity]:
    """Capacity of every part this axle has, by part.

    ``wheel_load`` and ``side_force`` N and ``radius`` m bend a semi-floating shaft's outer end. Planned upgrades
    count. Ring gears come on the flank in question by :func:`~stoutlink.core.analysis.swap.ladder`, which knows the
    ratio. Yield only: a record that gives breaking figures is not mixed in.
    """
    out: dict[str, Capacity] = {}
    yields = donor.ratings_are != "break"

    def put(part: str, value: float | None, basis: str, why: str, sigma: float) -> None:
        factor = 1.0
        for name in plan.upgrades:
            kind = UPGRADE_KINDS[name]
            if part in kind.parts and kind.yield_pa is None:
                factor, why, basis, sigma = (
                    kind.factor,
                    f"{why}; with {kind.title}",
                    "estimate",
                    max(sigma, GUESS_SIGMA),
                )
        out[part] = Capacity(part, None if value is None else value * factor, basis, why, sigma)

    def rated(part: str, rating: float | None, ask: str) -> bool:
        if rating is not None and yields:
            put(part, rating, "record", "rated by its record", RECORD_SIGMA)
            return True
        put(
            part,
            None,
            "record",
            "its record gives a breaking figure, which does not belong in a yield ladder"
            if rating is not None
            else ask,
            0.0,
        )
        return False

    rated("driveshaft_joint", donor.pinion_joint_rating_nm, "enter the driveshaft joint's rating")
    strength, guessed = _strength(donor, plan)
    why = f"{strength / 1e6:.0f} MPa core{' (estimate)' if guessed else ''}"
    sigma = GUESS_SIGMA if guessed else FORMULA_SIGMA
    basis = "estimate" if guessed else "formula"
    if donor.pinion_spline_teeth is not None or donor.pinion_spline_major_diameter_m is not None:
        _pinion(donor, put)
    else:
        put("pinion", None, "formula", "count the pinion's spline and measure over it", 0.0)
    if donor.ring_rating_nm is not None and yields:
        put("ring_forward", donor.ring_rating_nm, "record", "rated by its record, drive flank", RECORD_SIGMA)
    elif donor.ring_diameter_m is not None:
        out["ring_forward"] = Capacity(
            "ring_forward", None, "estimate", "by its diameter, k = 0.45 MPa", 0.15, turned=True
        )
    else:
        put("ring_forward", None, "formula", "measure the ring gear", 0.0)
    rated("carrier", donor.locker_rating_nm, "enter the carrier's or locker's rating")
    inner = spline_of(donor)
    bore = donor.shaft_bore_m or 0.0
    if inner is None:
        put("inner_spline", None, "formula", "count the inner spline", 0.0)
    else:
        size = spline_size(inner.teeth, inner.pitch, inner.root)
        unsure = inner.assumed
        put(
            "inner_spline",
            torsion(size.minor, strength, bore),
            "estimate" if unsure else basis,
            f"{size.minor * 1e3:.1f} mm root, {inner.teeth} teeth of {inner.pitch:g} pitch{' assumed' if unsure else ''}, {why}",
            GUESS_SIGMA if unsure else sigma,
        )
        if donor.spline_engaged_m is not None:
            shear, crush = tooth_torque(inner.teeth, inner.pitch, donor.spline_engaged_m, strength, inner.root)
            put(
                "spline_teeth",
                min(shear, crush),
                basis,
                f"{donor.spline_engaged_m * 1e3:.0f} mm engaged, {'crushed' if crush < shear else 'sheared'} first, {why}",
                GUESS_SIGMA,
            )
    if donor.neck_diameter_m is not None:
        put(
            "neck",
            torsion(donor.neck_diameter_m, strength, bore),
            basis,
            f"{donor.neck_diameter_m * 1e3:.1f} mm, {why}",
            sigma,
        )
    outer = spline_of(donor, "outer_spline")
    if outer is not None:
        minor = spline_size(outer.teeth, outer.pitch, outer.root).minor
        put("outer_spline", yield_torque(minor, strength), basis, f"{minor * 1e3:.1f} mm root, {why}", sigma)
    if (
        donor.floating == "semi"
        and donor.wheel_overhang_m is not None
        and (donor.body_diameter_m or donor.neck_diameter_m)
    ):
        d = donor.body_diameter_m or donor.neck_diameter_m or 0.0
        moment = wheel_load * donor.wheel_overhang_m + side_force * radius
        put(
            "semi_float_end",
            torque_beside_bending(d, strength, moment),
            basis,
            f"{d * 1e3:.1f} mm beside {moment:.0f} N·m of bending, {why}",
            GUESS_SIGMA,
        )
    if donor.end == "front":
        _steered(donor, plan, put, rated)
    if donor.lockouts in ("manual", "automatic"):
        rated("lockout", donor.lockout_rating_nm, "enter the lock-outs' rating")
    if donor.flange_bolt_count and donor.flange_bolt_diameter_m and donor.flange_bolt_circle_m:
        friction, shear = flange_bolts(
            donor.flange_bolt_count, donor.flange_bolt_diameter_m, donor.flange_bolt_circle_m
        )
        put(
            "flange_bolts",
            friction,
            "formula",
            f"friction of tight class 8.8 bolts; {shear:.0f} N·m in shear is the reserve",
            GUESS_SIGMA,
        )
    if donor.tube_od_m is not None and donor.tube_wall_m is not None and donor.seat_spacing_m is not None:
        tube = donor.tube_yield_pa or TUBE_YIELD
        modulus = tube_section_modulus(donor.tube_od_m, donor.tube_wall_m)
        put(
            "tube",
            tube * modulus,
            "formula" if donor.tube_yield_pa else "estimate",
            f"{tube / 1e6:.0f} MPa{'' if donor.tube_yield_pa else ' (estimate)'} on {modulus * 1e6:.1f} cm³",
            FORMULA_SIGMA if donor.tube_yield_pa else GUESS_SIGMA,
        )
    else:
        put("tube", None, "formula", "measure the tube, its wall and the seat spacing", 0.0)
    return out


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


def _pinion(donor: DonorAxle, put: Put) -> None:
    strength = donor.shaft_yield_pa or SHAFT_YIELD
    teeth, major = donor.pinion_spline_teeth, donor.pinion_spline_major_diameter_m
    if major is not None:
        root = major * ((teeth - 1) / (teeth + 1) if teeth else 0.92)
        how = "root from teeth and major"
        if not teeth:
            how = "root guessed at 0.92 of the major"
    else:
        root, how = spline_size(teeth or 6, PITCH).minor, "24 pitch assumed"
    put(
        "pinion",
        yield_torque(root, strength),
        "estimate",
        f"{root * 1e3:.1f} mm, {how}, the shafts' strength taken for it",
        GUESS_SIGMA,
    )


def _steered(donor: DonorAxle, plan: AxlePlan, put: Put, rated: Rated) -> None:
    if donor.outer_joint == "constant_velocity":
        rated("outer_joint", donor.outer_joint_rating_nm, "enter the outer joint's rating")
    elif donor.outer_joint == "cross":
        lock = donor.steer_lock_rad if donor.steer_lock_rad is not None else LOCK
        if donor.outer_joint_rating_nm is not None and donor.ratings_are != "break":
            at_lock = cross_joint_capacity(donor.outer_joint_rating_nm, lock)
            put(
                "outer_joint",
                at_lock,
                "record",
                f"{donor.outer_joint_rating_nm:.0f} N·m straight, at {lock * 57.29578:.0f}° of lock",
                RECORD_SIGMA,
            )
        else:
            rated("outer_joint", donor.outer_joint_rating_nm, "enter the outer joint's rating")
    elif donor.outer_joint is None:
        put("outer_joint", None, "formula", "say which outer joint it has", 0.0)
    stub = spline_of(donor, "stub_spline")
    strength = donor.stub_yield_pa or donor.shaft_yield_pa or SHAFT_YIELD
    if "stubs" in plan.upgrades:
        strength = max(strength, UPGRADE_KINDS["stubs"].yield_pa or 0.0)
    if stub is None and donor.stub_neck_diameter_m is None:
        put("stub", None, "formula", "count the stub's spline", 0.0)
    else:
        places = [] if stub is None else [spline_size(stub.teeth, stub.pitch, stub.root).minor]
        d = min([*places, *([donor.stub_neck_diameter_m] if donor.stub_neck_diameter_m else [])])
        guess = "stubs" in plan.upgrades or (donor.stub_yield_pa is None and donor.shaft_yield_pa is None)
        put(
            "stub",
            yield_torque(d, strength),
            "estimate" if guess else "formula",
            f"{d * 1e3:.1f} mm, {strength / 1e6:.0f} MPa core",
            GUESS_SIGMA if guess else FORMULA_SIGMA,
        )
    rated("knuckle", donor.knuckle_rating_nm, "enter the knuckle's rating, if there is one")

"""What an upgrade does to a part's capacity. Estimates: the record of the part bought wins."""

from __future__ import annotations

from msgspec import Struct


class UpgradeKind(Struct, frozen=True):
    """One upgrade: the parts of the ladder it touches, the factor on capacity, or a core strength that replaces the
    shaft's.
    """

    id: str
    title: str
    parts: tuple[str, ...]
    factor: float = 1.0
    yield_pa: float | None = None
    beside: str = ""
    """What it does that no rung of the ladder shows."""


KINDS: tuple[UpgradeKind, ...] = (
    UpgradeKind(
        "shafts",
        "through-hardened inner shafts",
        ("inner_spline", "neck", "outer_spline", "spline_teeth", "semi_float_end"),
        yield_pa=1.24e9,
    ),
    UpgradeKind("joints", "larger outer joints", ("outer_joint",), 1.45),
    UpgradeKind("stubs", "through-hardened stubs", ("stub",), yield_pa=1.24e9),
    UpgradeKind("lockouts", "stronger lock-outs", ("lockout",), 1.6),
    UpgradeKind("flange_bolts", "studs of a higher class", ("flange_bolts",), 1.35),
    UpgradeKind("truss", "truss and sleeves", ("tube",), 1.8),
    UpgradeKind(
        "cover",
        "thick cover with a guard",
        (),
        beside="keeps rock off the ring gear; no part of the ladder carries more",
    ),
)
BY_ID = {one.id: one for one in KINDS}
BY_PART = {part: one for one in KINDS for part in one.parts}

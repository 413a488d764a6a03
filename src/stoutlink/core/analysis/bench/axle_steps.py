"""The steps of an axle's card: only those its record asks for, from taking down to filling with oil."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from stoutlink.core.analysis.bench.card_step import CardStep
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.gear_setup import GearSetup

GEARS_NEED = ("limits", "marked", "straight")


class AxleFacts(Struct, frozen=True):
    """What the rest of the project knows of one axle. ``straight``: whether its housing was read after the last weld and
    both ends are in; ``welds``: beads still to be laid on it (``None``: no weld plan); ``marked``: whether every bearing cap carries a mark;
    ``case``: whether the third member goes in (``None``: not measured); ``adapters``: wheel adapters are fitted."""

    end: str
    donor: DonorAxle
    locker: str
    gears_open: bool
    setup: GearSetup | None
    gears_right: bool
    straight: bool
    welds: int | None
    marked: bool
    case: bool | None
    bolts: int
    steered: bool
    adapters: bool = False


def axle_steps(f: AxleFacts) -> Iterator[CardStep]:
    """Steps in order."""
    yield from _strip(f)
    yield from _housing(f)
    if f.gears_open:
        yield from _gears(f)
    yield from _locker(f)
    yield from _close(f)


def _strip(f: AxleFacts) -> Iterator[CardStep]:
    yield CardStep(
        "ratio", "Take down", "Count the ratio",
        "Tags get lost and gears get changed: turns of the pinion for one turn of both wheels.",
        "ratio", wants_window=False, tools=("chalk",), feeds="ratio",
    )  # fmt: skip
    yield CardStep(
        "drained", "Take down", "Drain it and look at what comes out",
        "Metal in the oil says what to look at before a price is agreed.", tools=("drain pan",),
        caution="An axle on stands rolls and tips: hold it at both ends before a cover or a shaft comes out.",
    )  # fmt: skip
    yield CardStep(
        "marked", "Take down", "Mark both bearing caps",
        "Caps are bored with their seats: each goes back to its side and its way round. Mark them in Parts.",
        tools=("punch", "marking paint"), found=f.marked, where="Parts",
    )  # fmt: skip
    out = "C-clips and cross pin out, then the shafts" if f.donor.c_clips else "Shafts out"
    yield CardStep(
        "shafts_out", "Take down", out,
        "Left and right differ in length on most axles; each keeps its side.",
        caution="Without its C-clip a shaft leaves together with wheel and brake." if f.donor.c_clips else "",
    )  # fmt: skip
    yield CardStep(
        "weighed", "Take down", "Weigh it",
        "The complete axle without wheels: what is unsprung, and what the stands carry.",
        "mass", wants_window=False, tools=("scale",), feeds="weight",
    )  # fmt: skip


def _housing(f: AxleFacts) -> Iterator[CardStep]:
    yield CardStep(
        "welded", "Housing", "Every weld on the housing laid",
        "Heat moves the tubes: nothing is set up in a housing that is still to be welded.",
        found=None if f.welds is None else f.welds == 0, where="Cut, Welds",
    )  # fmt: skip
    yield CardStep(
        "straight", "Housing", "Straight, read after the last weld",
        "Bar and pucks at both ends; 1/8 in is out (common practice).",
        needs=("welded",), tools=("bar and pucks",), found=f.straight, where="Cut, Stations",
    )  # fmt: skip


def _gears(f: AxleFacts) -> Iterator[CardStep]:
    setup = f.setup
    own = (None, None, None) if setup is None else (setup.low_m, setup.high_m, setup.spread_m)
    source = "" if setup is None else setup.source
    last = setup.attempts[-1] if setup is not None and setup.attempts else None
    read = last is not None and any(len(r.backlash_m) >= 4 for r in last.readings)
    quick = last is not None and any(r.drive is not None for r in last.readings)
    yield CardStep(
        "limits", "Gears", "Type the limits before parts move",
        "Backlash, preload, drag: from the sheet of these gears and bearings, with its name beside them.",
        found=None, where="limits",
    )  # fmt: skip
    yield CardStep(
        "ring_face", "Gears", "Ring's back face and carrier clean and flat",
        "A burr under the ring shows as spread of the backlash round it.", needs=GEARS_NEED, tools=("stone",),
    )  # fmt: skip
    yield CardStep(
        "drag", "Gears", f"Pinion in with its start shim, {'its spacer' if setup is not None and setup.spacer == 'solid' else 'trial sleeve'}, light drag",
        "The old pinion's shim in the same place to begin with; torque that keeps it turning.",
        "small_torque", needs=("ring_face",), tools=("beam wrench, small",), shims="pinion", feel=True,
    )  # fmt: skip
    yield CardStep(
        "backlash", "Gears", "Backlash by the ring's side, four places or more",
        "Read with the dial indicator at a right angle to the tooth.", needs=("drag",), tools=("dial indicator",),
        found=read, where="Gears", shims="ring",
    )  # fmt: skip
    yield CardStep(
        "rough", "Gears", "A quick pattern", "Tells at once whether the depth is far out.", needs=("backlash",),
        tools=("marking compound",), found=quick, where="Gears", shims="ring",
    )  # fmt: skip
    yield CardStep(
        "preload", "Gears", "Carrier preload by the other stack",
        "Gap left by the full pack, at four places or more: even all round, or something is cocked.",
        "fine_length", 4, needs=("rough",), tools=("feeler gauges",), shims="ring", feel=True,
        caution="Caps are pulled in with the wrench, not with a bar: a spreader opens a case only so far.",
    )  # fmt: skip
    yield CardStep(
        "again", "Gears", "Backlash again", "Preload pushes the ring: it is never what it was.",
        "fine_length", 4, needs=("preload",), tools=("dial indicator",), shims="ring", window=own, source=source,
    )  # fmt: skip
    yield CardStep(
        "pattern", "Gears", "Pattern on both flanks", "The gears' own chart decides; the look Gears says what to change.",
        needs=("again",), tools=("marking compound",), found=f.gears_right, where="Gears", shims="ring",
    )  # fmt: skip
    solid = setup is not None and setup.spacer == "solid"
    yield CardStep(
        "sleeve", "Gears",
        "Strip, clean, solid spacer with its shims: torque to turn" if solid else "Strip, clean, new sleeve crushed last: torque to turn",
        "A thicker shim at the spacer takes drag away, a thinner one adds it; it may be done again."
        if solid
        else "A sleeve is crushed once; past its window there is only another new one.",
        "small_torque", needs=("pattern",), tools=("beam wrench, small",), shims="pinion",
        caution="" if solid else "Crushing takes a long bar: hold the yoke so that neither it nor the housing turns.",
    )  # fmt: skip
    yield CardStep(
        "final", "Gears", "Backlash and pattern a last time", "What is closed is what was read last.",
        "fine_length", 4, needs=("sleeve",), tools=("dial indicator",), shims="ring", window=own, source=source,
    )  # fmt: skip


LOCKER_TEST: dict[str, tuple[str, ...]] = {
    "drop_in": ("gap",), "air": ("air_hold", "air_works"), "electric": ("current", "stroke", "electric_works"),
    "selectable": ("works",), "limited_slip": ("breakaway",), "torque_sensing": ("turns",), "automatic": ("turns",),
    "spool": ("spool_bolts",), "open": (),
}  # fmt: skip
"""The last steps that show that a locker of a kind works: no axle is closed before they are done."""
TURNS = {
    "torque_sensing": "Both shafts are turned by hand: smooth one way and the other, without a catch.",
    "automatic": "One shaft held, the other turned: it lets go and takes hold again on both sides.",
}


def _locker(f: AxleFacts) -> Iterator[CardStep]:
    kind, first = f.locker, ("paper",)
    if kind == "open":
        return
    yield CardStep(
        "paper", "Locker", "Its instructions read, its limits typed",
        "Read before it goes together, not after.", found=None,
    )  # fmt: skip
    if f.donor.third_member and kind in ("air", "electric", "selectable", "automatic", "spool"):
        yield CardStep(
            "case", "Locker", "It goes into this housing",
            "Caps, opening, and the actuator at both ends of its way.", needs=first, found=f.case is True, where="Fit",
        )  # fmt: skip
    if kind == "drop_in":
        yield CardStep("sides", "Locker", "Shims stay with their side", "Left and right thrust washers differ by wear.", needs=first)  # fmt: skip
        yield CardStep(
            "engaged", "Locker", "Teeth engaged, top and bottom",
            "A gap read with teeth on teeth is no reading.", needs=("sides",),
        )  # fmt: skip
        yield CardStep(
            "gap", "Locker", "Gap between the halves", "With the pin in place a gap cannot be put right any more.",
            "fine_length", needs=("engaged",), tools=("feeler gauges",),
        )  # fmt: skip
    elif kind == "air":
        yield CardStep("air_line", "Locker", "Line and fitting: size, way, no chafing", "Away from heat and from what moves; a loop where the axle drops.", needs=first)  # fmt: skip
        yield CardStep(
            "air_hold", "Locker", "Pressure lost while it stands",
            "Pumped up, valve shut; what the gauge has lost after the time its paper says.", "pressure",
            needs=("air_line",), tools=("pressure gauge",),
            caution="Compressed air: eyes away from the fitting, blow the line out first.",
        )  # fmt: skip
        yield CardStep("air_works", "Locker", "Engages, holds, lets go", "Both shafts tried, ten times over.", needs=("air_hold",))  # fmt: skip
    elif kind == "electric":
        yield CardStep("current", "Locker", "Current while it engages", "Ampere at the coil or motor, engine off.", "number", unit="A", needs=first, tools=("ammeter",))  # fmt: skip
        yield CardStep("stroke", "Locker", "Its stroke", "From released to engaged.", "fine_length", needs=first, tools=("caliper",))  # fmt: skip
        yield CardStep("electric_works", "Locker", "Engages, lets go, and its lamp tells the truth", "The lamp is looked at, not trusted.", needs=("current", "stroke"))  # fmt: skip
    elif kind == "selectable":
        yield CardStep("works", "Locker", "Engages, holds, lets go", "By its own cable, air or wire, both shafts tried.", needs=first)  # fmt: skip
    elif kind == "limited_slip":
        yield CardStep("breakaway", "Locker", "Torque at which it slips", "One wheel held, the other turned with the wrench.", "torque", needs=first, tools=("torque wrench",))  # fmt: skip
    elif kind in TURNS:
        yield CardStep("turns", "Locker", "It does by hand what it should", TURNS[kind], needs=first)
    elif kind == "spool":
        yield CardStep("spool_bolts", "Locker", "Flange bolts torqued and locked", "They loosen on a spool: thread lock, and a mark across head and flange.", needs=first, tools=("torque wrench",))  # fmt: skip


def _close(f: AxleFacts) -> Iterator[CardStep]:
    d = f.donor
    gears = ("final",) if f.gears_open else ()
    tests = LOCKER_TEST.get(f.locker, ())
    yield CardStep(
        "shafts_in", "Close", "Shafts in, each on its side",
        "With C-clips, cross pin and its bolt." if d.c_clips else "Spline all the way in, seals not cut.",
        needs=(*gears, *tests, "shafts_out"),
    )  # fmt: skip
    if f.steered and d.knuckle in ("kingpin", "ball_joint"):
        which = "Kingpin" if d.knuckle == "kingpin" else "Ball joint"
        yield CardStep("knuckle", "Close", f"{which} preload", "Drag of the knuckle at the end of its arm, seals and shaft out.", "small_torque", tools=("spring scale",), feel=True)  # fmt: skip
    if d.wheel_bearing == "spindle":
        yield CardStep("bearings", "Close", "Wheel bearings: end play", "At the hub's face, both sides.", "fine_length", 2, tools=("dial indicator",), needs=("shafts_in",), feel=True)  # fmt: skip
    if f.steered and d.lockouts in ("manual", "automatic"):
        yield CardStep("lockouts", "Close", "Hub lock-outs take hold and let go", "Both sides, by hand.", needs=("shafts_in",))  # fmt: skip
    if f.adapters:
        yield CardStep("adapters", "Close", "Wheel adapters: studs deep enough, faces clean", "The wheel's nuts hold on the adapter's studs, the adapter on the axle's: both are torqued, and again after the first distance.", caution="Adapters move the load outwards on studs and bearings, and some places do not allow them.", tools=("torque wrench",))  # fmt: skip
    yield CardStep(
        "sealed", "Close", "Cover sealed",
        "What is inside is done: opened again, it costs a seal, the oil and an evening.",
        needs=("welded", *gears, *tests, "shafts_in"),
    )  # fmt: skip
    yield CardStep("oil", "Close", "Filled with oil, breather free", "To the hole, standing level; a locker may want its own.", needs=("sealed",))  # fmt: skip
    yield CardStep(
        "bolts", "Close", "Every bolt of it torqued", "Each stands in Bolts with its torque and its source.",
        found=f.bolts == 0, where="Bolts", tools=("torque wrench",),
    )  # fmt: skip

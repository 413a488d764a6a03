"""The steps of steering, brakes and driveline cards."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from stoutlink.core.analysis.bench.card_step import CardStep


class RigFacts(Struct, frozen=True):
    """What the rest of the project knows. ``link_kind``: the front is steered by a drag link (``None``: no steering laid
    out); ``hydraulic``: by a ram alone; ``fittings``: joints of the brake lines that do not go together or are not known;
    ``lines``: hoses that are too short (``None``: none laid out; −1: the travel is not known); ``discs``: some end has discs; ``front``/``rear``: ends that are driven and have a
    shaft; ``bolts`` by assembly: places not torqued."""

    drag_link: bool
    hydraulic: bool
    panhard: bool
    fittings: int
    fittings_known: bool
    lines: int | None
    drums: bool
    shafts: tuple[str, ...]
    bolts: dict[str, int]


def steering_steps(f: RigFacts) -> Iterator[CardStep]:
    """Steering, where the front is steered."""
    yield CardStep("box", "Fit", "Box and engine are in before the front panhard and upper link are placed", "They take the room those two want (common practice).")  # fmt: skip
    if f.hydraulic:
        yield CardStep("ram", "Fit", "Ram centred, hoses clear at both locks", "Full hydraulic steering: whether it may be driven on a road is for the local code.", caution="Oil under pressure goes through skin: paper, not a finger, finds a leak.")  # fmt: skip
    if f.drag_link:
        yield CardStep("slope", "Fit", "Drag link and panhard lie alike" if f.panhard else "Drag link level at ride height", "Unlike slopes steer the axle on every bump.", "angle", wants_window=False, tools=("angle finder",))  # fmt: skip
    yield CardStep("toe", "Set", "Toe", "Front edges less rear edges of the tyres, at hub height.", "length", tools=("tape",), needs=("box",))  # fmt: skip
    yield CardStep("lock", "Set", "Lock to lock, droop to bump: nothing touches", "Hoses, tyres, tie rod, springs; stops set before the joint binds.", needs=("toe",), caution="Nobody's hands between knuckle and tube while it moves.")  # fmt: skip
    yield CardStep("jam_nuts", "Set", "Jam nuts and cotter pins", "Every rod end, marked across.", needs=("toe",))  # fmt: skip
    yield CardStep("bolts", "Set", "Every bolt of it torqued", "Each stands in Bolts with its torque and its source.", found=f.bolts.get("steering", 0) == 0, where="Bolts", tools=("torque wrench",))  # fmt: skip


def brake_steps(f: RigFacts) -> Iterator[CardStep]:
    """Brakes and lines."""
    yield CardStep("fittings", "Lines", "Every joint of the lines known, and it goes together", "Thread, gender and flare on both sides of it.", found=f.fittings_known and f.fittings == 0, where="Brakes")  # fmt: skip
    yield CardStep("hoses", "Lines", "Hoses long enough over the whole travel", "Longest way between both ends, with the slack you gave it.", found=None if f.lines is None else f.lines == 0, where="Layout, lines")  # fmt: skip
    yield CardStep("flares", "Lines", "Lines made, proper flares, clipped", "Never a compression joint in a brake line.", needs=("fittings",), tools=("flaring tool",))  # fmt: skip
    yield CardStep("bleed", "Test", "Bled until the pedal is hard", "Farthest wheel first, or as the valve's maker says: both are done.", needs=("flares", "hoses"), tools=("brake bleeder",), caution="Brake fluid eats paint and eyes.")  # fmt: skip
    yield CardStep("hold", "Test", "Pressure lost while the pedal is held", "At the bleeder of the farthest wheel; a leak shows after minutes.", "pressure", needs=("bleed",), tools=("pressure gauge",))  # fmt: skip
    if f.drums:
        yield CardStep("shoes", "Test", "Shoes adjusted", "Drag just felt, then backed off; the pedal's height tells.", needs=("bleed",), feel=True)  # fmt: skip
    yield CardStep("parking", "Test", "Parking brake holds on a slope, facing up and down", "On the slope its local rule names; wheels chocked while it is tried.", needs=("bleed",))  # fmt: skip
    yield CardStep("balance", "Test", "Tried slowly, in an empty place: which end locks first", "After a change of axle, tyre or caliper the balance is another.", needs=("hold",), caution="Rear wheels that lock first turn the rig round: walking pace first, a belt on, nobody near. A licensed hand where the rules say so.")  # fmt: skip
    yield CardStep("bolts", "Test", "Every bolt of it torqued", "Each stands in Bolts with its torque and its source.", found=f.bolts.get("brakes", 0) == 0, where="Bolts", tools=("torque wrench",))  # fmt: skip


def shaft_steps(f: RigFacts) -> Iterator[CardStep]:
    """Driveshafts."""
    for end in f.shafts:
        name = f"{end} shaft"
        yield CardStep(f"{end}-phase", name.capitalize(), f"{name.capitalize()}: yokes in phase", "Both forks in one plane, or as the joint's maker says for a double one.")  # fmt: skip
        yield CardStep(f"{end}-droop", name.capitalize(), f"{name.capitalize()}: spline engaged at full droop", "Measured with the axle hanging, not in the air of a guess.", "length", tools=("tape",))  # fmt: skip
        yield CardStep(f"{end}-bump", name.capitalize(), f"{name.capitalize()}: slip left at full bump", "A shaft that bottoms pushes the pinion and the case.", "length", tools=("tape",))  # fmt: skip
        yield CardStep(f"{end}-angle", name.capitalize(), f"{name.capitalize()}: pinion against output, at ride height", "The difference of both joints' angles.", "angle", tools=("angle finder",))  # fmt: skip
    yield CardStep("bolts", "All", "Every bolt of it torqued", "Each stands in Bolts with its torque and its source.", found=f.bolts.get("driveline", 0) == 0, where="Bolts", tools=("torque wrench",))  # fmt: skip

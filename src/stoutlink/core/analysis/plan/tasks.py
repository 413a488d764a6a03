"""Tasks from the choices: what is to be done at each axle, at the frame, brakes and driveline, and what each waits for, with the
reason."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct
from msgspec.structs import replace

from stoutlink.core.analysis.plan.facts import AxleWork, RigWork, WeldGroup, plate_key
from stoutlink.core.document.build_plan import HoursKind, Lane

LEAST, MOST = 0.7, 1.8
"""Least and most hours of a task nobody gave any of, as parts of the likely ones (ours)."""
BEAD_H, SEAM_H = 0.12, 0.25
"""Hours of a bead with its cooling, and of setting up a group of seams (ours)."""


class After(Struct, frozen=True):
    """A task that comes before, and why."""

    key: str
    why: str


class Task(Struct, frozen=True):
    """One task: its lane, likely hours, what it waits for with the reason, how many people, whether it takes the place at the
    vehicle, when it may go on, bought lines it ``needs``, whether it is known to be ``done``, tacked only, and where it is done
    (step and look). ``weight``: how much of what is seen it makes."""

    key: str
    title: str
    lane: Lane
    hours: float
    after: tuple[After, ...] = ()
    people: int = 1
    at_vehicle: bool = True
    kind: HoursKind = "shop"
    needs: tuple[str, ...] = ()
    done: bool | None = None
    tacked: bool = False
    where: tuple[str, str] = ("", "")
    weight: int = 0
    drives: bool = True
    """Whether it must be done before the first drive."""
    held: str = ""
    """Why a gate holds it: it cannot be done before that opens."""
    base: str = ""
    """Of a later sitting the task it is a part of; ``share`` of whose hours are its."""
    share: float = 1.0
    at: str = ""
    """The end or assembly it is done at where its key does not say it."""

    @property
    def subject(self) -> str:
        """The end or assembly it is done at: ``rear``, ``steering``."""
        return self.at or self.key.partition(":")[0]


STANDS = "The rig stands on the frame before anything of it hangs free."
HEIGHT = {"rear": "The rear sets the ride height (first school).", "front": "The front has most of the trouble (second school)."}  # fmt: skip
BUMP = {
    "bump": "Tacked at full bump first: nothing can touch later (one school).",
    "ride": "Tacked at ride height, bump checked afterwards (the other school).",
}


def tasks_of(rig: RigWork, first: str, bump: str) -> tuple[Task, ...]:
    """Every task of a build, in the order of a shop that had all the time, each with the lines of the parts list it needs."""
    return tuple(with_lines(tuple(_all(rig, first, bump)), rig))


NEEDED_AT: dict[str, tuple[str, ...]] = {
    "repair": ("{e}:ends",), "missing": ("{e}:ends",), "link_brackets": ("{e}:frame", "{e}:mock"), "spring_pads": ("{e}:mock",), "discs": ("{e}:clean",),
    "parking_brake": ("brakes:parking",), "joint_conversion": ("driveline:fit-{e}",), "speed_correction": ("frame:drive",), "steering_arms": ("front:linkage",),
    "adapters": ("frame:wheels",), "wheels": ("frame:wheels",), "tyres": ("frame:wheels",), "air_supply": ("rear:locker", "front:locker", "rear:shocks", "front:shocks"),
    "wiring": ("{e}:locker",), "carrier": ("{e}:gears",), "truss": ("{e}:tackread",), "cover": ("{e}:close",), "shafts": ("{e}:close",), "custom_shaft": ("{e}:close",),
    "joints": ("{e}:close",), "stubs": ("{e}:ends",), "lockouts": ("{e}:ends",), "flange_bolts": ("{e}:ends",), "c_clip_conversion": ("{e}:close",),
    "tool_setup": ("rear:gears", "front:gears"), "tool_hub": ("rear:strip", "front:strip"), "tool_bar": ("rear:tackread", "front:tackread"),
}  # fmt: skip
"""Where a line is needed first, of several the first there is; any other line of an axle when it goes in for good."""


def with_lines(tasks: tuple[Task, ...], rig: RigWork) -> Iterator[Task]:
    """Tasks with the lines nobody of them asked for yet, each where it is needed first."""
    keys, asked = {t.key for t in tasks}, {need for t in tasks for need in t.needs}
    more: dict[str, list[str]] = {}
    lines = [(line, a.end) for a in rig.axles for line, _ in a.lines] + [(line, "") for line in rig.lines]
    for line, end in lines:
        if line in asked:
            continue
        places = NEEDED_AT.get(line.removesuffix(f"-{end}") if end else line, ()) + ((f"{end}:in",) if end else ())
        at = next((k for p in places if (k := p.format(e=end)) in keys), None)
        if at is not None:
            more.setdefault(at, []).append(line)
    for t in tasks:
        yield replace(t, needs=(*t.needs, *more.get(t.key, ())), held="" if t.done else rig.held.get(t.key, ""))


def _all(rig: RigWork, first: str, bump: str) -> Iterator[Task]:
    axles = sorted(rig.axles, key=lambda a: a.end != first)
    if not axles:
        return
    yield Task("frame:stands", "Rig on stands, tank drained, battery off", "frame", 2.0, people=2, weight=0)
    yield Task("frame:measure", "Measure the frame", "frame", 2.0, (After("frame:stands", STANDS),), done=True if rig.surveyed else None, where=("tape", ""))  # fmt: skip
    before = ""
    for axle in axles:
        yield from _axle(axle, before, bump, first)
        before = axle.end
    yield from _steering(rig)
    yield from _brakes(rig)
    yield from _shafts(rig)
    yield from _end(rig)


def _axle(a: AxleWork, before: str, bump: str, first: str) -> Iterator[Task]:
    e: Lane = "front" if a.end == "front" else "rear"
    if a.stays and (a.pieces or a.welds or a.links):
        yield from _in_place(a, e)
    if not a.stays:
        if not a.bought:
            yield Task(
                f"{e}:fetch", f"Fetch the {a.name}", e, 3.0, people=2, at_vehicle=False, needs=(f"axle-{e}",), weight=0
            )
        got = () if a.bought else (After(f"{e}:fetch", "It has to be there."),)
        swap = a.hours.get("swap", 10.0)
        yield Task(f"{e}:out", f"Old {e} axle out", e, 0.3 * swap, (After("frame:stands", STANDS),), people=2, weight=1)
        yield from _take_down(a, e, got)
        yield from _make(a, e)
        ready = [After(f"{e}:out", "The place has to be free."), After(f"{e}:clean", "Nothing is tacked on rust.")]
        ready += [After(f"{e}:frame", "Brackets on the frame say where the links begin.")] if _frame(a) else []
        ready += [After(f"{e}:bar:{b.key}", "Links are made before the axle is hung on them.") for b in a.links if not b.at_hand and b.role == "lower"]  # fmt: skip
        ready += [After(f"{before}:mock", HEIGHT[first])] if before else []
        title = f"{e.capitalize()} axle under, square, tacked at {'full bump' if bump == 'bump' else 'ride height'}"
        yield Task(f"{e}:mock", title, e, 0.4 * swap, tuple(ready), people=2, weight=3, done=None)
        yield Task(f"{e}:square", f"{e.capitalize()} axle centred, diagonals read, {BUMP[bump].split(':')[0].lower()}", e, 1.0, (After(f"{e}:mock", BUMP[bump]),), where=("travel", ""))  # fmt: skip
        yield from _welds(a, e)
        yield from _inside(a, e)
        yield from _paint(a, e)
        ends = [
            After(f"{e}:close", "What is closed is closed once."),
            After(f"{e}:dry", "Paint is dry before it is handled."),
        ]
        ends += [After(f"{e}:final:{b.key}", "A link at tack carries nothing.") for b in a.links if not b.at_hand]
        yield Task(f"{e}:in", f"{e.capitalize()} axle in for good", e, 0.3 * swap, tuple(ends), people=2, weight=4)
        yield Task(
            f"{e}:shocks",
            f"{e.capitalize()} shocks, springs and stops",
            e,
            2.0,
            (After(f"{e}:in", "They hang on it."),),
            weight=1,
        )
        yield Task(f"{e}:cycle", f"Cycle the {e} axle, bump to droop", e, 1.5, (After(f"{e}:shocks", "It is cycled as it will be driven."),), people=2, where=("travel", ""))  # fmt: skip


def _in_place(a: AxleWork, e: Lane) -> Iterator[Task]:
    """An axle that stays and is hung anew: springs or links off, brackets and perches on, back under it."""
    what = "Springs" if a.leaf else "Links"
    yield Task(
        f"{e}:out", f"{what} of the {e} off, axle held", e, 2.5, (After("frame:stands", STANDS),), people=2, weight=1
    )
    yield Task(
        f"{e}:strip",
        f"Brake lines, cables and breather of the {e} loose",
        e,
        1.0,
        (After(f"{e}:out", "They hang between frame and axle."),),
    )
    yield Task(
        f"{e}:clean",
        "Old pads and brackets off, ground",
        e,
        3.0,
        (After(f"{e}:strip", "Sparks stay off hoses."),),
        kind="quiet",
    )
    yield from _make(a, e)
    yield Task(f"{e}:mock", f"{e.capitalize()} axle on its new seats, square", e, 3.0, (After(f"{e}:clean", "Nothing is tacked on rust."), After("frame:measure", "It stands where the tape says.")), people=2, weight=3)  # fmt: skip
    yield Task(f"{e}:square", f"{e.capitalize()} axle centred, pinion's angle read", e, 1.0, (After(f"{e}:mock", "Centred before perches are tacked."),), where=("travel", ""))  # fmt: skip
    yield from _welds(a, e)
    yield Task(f"{e}:ends", f"{e.capitalize()} brakes and bearings looked over while they are out", e, 1.5, (After(f"{e}:straight", "Heat and grit are done with."),), at_vehicle=False)  # fmt: skip
    yield from _paint(a, e)
    if a.leaf:
        yield Task(f"{e}:springs", "Springs made up: centre pins, clamps, bushings", e, 2.0, at_vehicle=False)
        yield Task(f"{e}:hangers", "Hangers and shackles fitted", e, 2.5, (After("frame:measure", "They say where the eyes are."), After(f"{e}:out", "The place has to be free.")), weight=2)  # fmt: skip
    hung = (After(f"{e}:springs", "They carry it."), After(f"{e}:hangers", "They hold the springs.")) if a.leaf else tuple(After(f"{e}:final:{b.key}", "A link at tack carries nothing.") for b in a.links if not b.at_hand)  # fmt: skip
    yield Task(f"{e}:in", f"{e.capitalize()} axle hung for good" + (", U-bolts drawn down evenly" if a.leaf else ""), e, 3.0, (After(f"{e}:dry", "Paint is dry before it is handled."), After(f"{e}:ends", "It is whole."), *hung), people=2, weight=4)  # fmt: skip
    yield Task(
        f"{e}:shocks", f"{e.capitalize()} shocks and stops", e, 1.5, (After(f"{e}:in", "They hang on it."),), weight=1
    )
    yield Task(
        f"{e}:lines",
        f"Lines, cables and breather of the {e} back, long enough",
        "brakes",
        1.5,
        (After(f"{e}:in", "They are cut to the longest way."),),
    )
    yield Task(f"{e}:cycle", f"Cycle the {e} axle, bump to droop", e, 1.5, (After(f"{e}:shocks", "It is cycled as it will be driven."), After(f"{e}:lines", "Nothing may pull tight.")), people=2, where=("travel", ""))  # fmt: skip


def _frame(a: AxleWork) -> bool:
    return any(p.on_frame for p in a.pieces) or (not a.pieces and not a.leaf)


def _take_down(a: AxleWork, e: Lane, got: tuple[After, ...]) -> Iterator[Task]:
    def passed(*steps: str) -> bool | None:
        there = [s for s in steps if s in a.steps]
        return True if there and all(s in a.passed for s in there) else None

    yield Task(f"{e}:strip", f"Take the {e} axle down: drain, mark, shafts out", e, 3.0, got, at_vehicle=False, done=passed("drained", "marked", "shafts_out"), where=("bench", "card"))  # fmt: skip
    yield Task(f"{e}:clean", "Clean it, old brackets off, grind", e, max(1.0, a.hours.get("housing_work", 0.0) + a.hours.get("cleaning", 0.0)) + 2.0, (After(f"{e}:strip", "Sparks stay out of seals and bearings."),), at_vehicle=False, kind="quiet")  # fmt: skip


def _make(a: AxleWork, e: Lane) -> Iterator[Task]:
    thick = sorted({p.thickness for p in a.pieces})
    for t in thick:
        mine = [p for p in a.pieces if p.thickness == t]
        count = sum(p.count for p in mine)
        yield Task(f"{e}:plate:{round(t * 1e5)}", f"Cut {count} plates of {t * 1e3:.1f} mm for the {e}", e, 0.3 + 0.12 * count, at_vehicle=False, kind="quiet", done=all(p.cut for p in mine) or None, where=("cut", "plate"), needs=(plate_key(t),))  # fmt: skip
    measured = (After("frame:measure", "Brackets go where the tape says."),)
    fitted: list[str] = []
    for p in a.pieces:
        if not p.on_frame:
            continue
        key = f"{e}:fit:{p.key}"
        fitted.append(key)
        yield Task(key, f"Fit and tack: {p.name}, {p.count} off", e, 0.25 + 0.25 * p.count, (After(f"{e}:plate:{round(p.thickness * 1e5)}", "It is cut first."), *measured), people=1, weight=p.count, where=("cut", "parts"))  # fmt: skip
    if _frame(a):
        own = not fitted
        after = tuple(After(k, "Every bracket stands before the first is welded out.") for k in fitted)
        title = f"Frame brackets of the {e} " + ("made, fitted and welded" if own else "welded out")
        hours = a.hours.get("link_brackets", 4.0) if own else 0.8 + 0.25 * len(fitted)
        yield Task(f"{e}:frame", title, "frame", hours, (*after, *measured), kind="shop", weight=2)
    for b in a.links:
        if b.at_hand:
            continue
        made = b.stage in ("tacked", "welded", "final")
        yield Task(f"{e}:bar:{b.key}", f"{b.name}: cut, fitted, tacked", e, 0.8, at_vehicle=False, kind="quiet", needs=b.needs, done=made or None, tacked=b.stage == "tacked", weight=1, where=("cut", "links"))  # fmt: skip
        yield Task(f"{e}:final:{b.key}", f"{b.name}: welded out, inspected", e, 0.6, (After(f"{e}:bar:{b.key}", "Tacked first."), After(f"{e}:square", "Its length is right once the axle stands square.")), at_vehicle=False, done=b.stage in ("welded", "final") or None, where=("cut", "links"))  # fmt: skip


def _welds(a: AxleWork, e: Lane) -> Iterator[Task]:
    mocked = After(f"{e}:square", "Brackets on the housing are tacked where the hung axle wants them.")
    on_axle = [p for p in a.pieces if not p.on_frame]
    fits = []
    for p in on_axle:
        key = f"{e}:fit:{p.key}"
        fits.append(After(key, "Everything on the end forgings and the tube stands before the first bead."))
        yield Task(key, f"Fit and tack: {p.name}, {p.count} off", e, 0.25 + 0.25 * p.count, (After(f"{e}:plate:{round(p.thickness * 1e5)}", "It is cut first."), mocked), at_vehicle=False, weight=p.count, where=("cut", "parts"))  # fmt: skip
    yield Task(f"{e}:bare", f"{e.capitalize()} axle out again, on the bench", e, 1.0, (mocked, *fits), people=2)
    yield Task(f"{e}:tackread", "Read both ends against the bar, tacked", e, 0.5, (After(f"{e}:bare", "The bar goes through the empty housing."),), at_vehicle=False, where=("cut", "stations"), people=1)  # fmt: skip
    for w in a.welds:
        yield _weld(w, e)
    last = tuple(After(f"{e}:weld:{w.key}", "Heat moves the tubes: read after the last bead.") for w in a.welds)
    yield Task(f"{e}:straight", "Read both ends again, straighten", e, 1.5, (After(f"{e}:tackread", "What the weld did is the difference."), *last), at_vehicle=False, done="straight" in a.passed or None, where=("cut", "stations"))  # fmt: skip


def _weld(w: WeldGroup, e: Lane) -> Task:
    return Task(
        f"{e}:weld:{w.key}", f"Weld: {w.name}, {w.beads} beads", e, SEAM_H + BEAD_H * (w.beads - w.laid),
        (After(f"{e}:tackread", "No finish weld without an accepted reading while tacked."),), at_vehicle=False,
        done=w.laid >= w.beads or None, tacked=w.tacked > 0 and w.laid < w.beads, where=("cut", "welds"),
    )  # fmt: skip


def _inside(a: AxleWork, e: Lane) -> Iterator[Task]:
    straight = After(f"{e}:straight", "Nothing is set up in a housing that is still to be welded or bent back.")
    inside = []
    if a.gears:
        needs = tuple(line for line, _ in a.lines if line in (f"gear_set-{e}", f"gear_kit-{e}", f"locker-{e}"))
        yield Task(f"{e}:gears", "Gears set up: depth, backlash, preload, pattern", e, a.hours.get("gear_setup", 9.0), (straight,), at_vehicle=False, needs=needs, done="final" in a.passed or None, where=("bench", "gears"))  # fmt: skip
        inside.append(After(f"{e}:gears", "Gears and locker in one opening."))
    if a.locker != "open":
        test = After(f"{e}:gears", "It is tested where it will run.") if a.gears else straight
        yield Task(f"{e}:locker", "Locker in and tested on the bench", e, 1.5, (test,), at_vehicle=False, needs=tuple(line for line, _ in a.lines if line == f"locker-{e}"), where=("bench", "card"))  # fmt: skip
        inside.append(After(f"{e}:locker", "No axle is closed with its test open."))
    yield Task(
        f"{e}:ends",
        "Ends: bearings, hubs, knuckles, seals",
        e,
        3.0,
        (straight,),
        at_vehicle=False,
        where=("bench", "card"),
        weight=2,
    )
    yield Task(f"{e}:close", "Shafts in, sealed, filled", e, 1.5, (*inside, After(f"{e}:ends", "Seals go in with the ends on."), straight), at_vehicle=False, done=("oil" in a.passed and "sealed" in a.passed) or None, where=("bench", "card"), needs=(f"fluids-{e}",))  # fmt: skip


def _paint(a: AxleWork, e: Lane) -> Iterator[Task]:
    welded = tuple(After(f"{e}:weld:{w.key}", "Paint after the last weld.") for w in a.welds)
    yield Task(f"{e}:paint", f"Paint the {e} housing", e, 1.5, (After(f"{e}:straight", "Straightening cracks paint."), *welded), at_vehicle=False, kind="outdoors", weight=1)  # fmt: skip
    yield Task(
        f"{e}:dry",
        "Paint dries",
        e,
        12.0,
        (After(f"{e}:paint", "It runs on at night."),),
        people=0,
        at_vehicle=False,
        kind="always",
    )


def _steering(rig: RigWork) -> Iterator[Task]:
    front = next((a for a in rig.axles if a.end == "front"), None)
    if not rig.steering or front is None or front.stays:
        return
    yield Task("front:box", "Steering box and engine in their places", "front", 3.0, (After("frame:stands", STANDS),), people=2, done="steering:box" in rig.passed or None, where=("bench", "card"), at="steering")  # fmt: skip
    yield Task("front:linkage", "Drag link, tie rod and panhard fitted", "front", 2.0, (After("front:box", "Front panhard and upper link only after steering box and engine are in."), After("front:mock", "They hang on the axle.")), weight=2, where=("layout", ""))  # fmt: skip
    yield Task("front:toe", "Toe set, jam nuts tight", "front", 1.0, (After("front:linkage", "Nothing is set that still moves."), After("front:in", "As it stands for good.")), done="steering:toe" in rig.passed or None, where=("bench", "card"), at="steering")  # fmt: skip


def _brakes(rig: RigWork) -> Iterator[Task]:
    hung = []
    for a in rig.axles:
        if a.stays:
            continue
        e = a.end
        yield Task(f"brakes:{e}", f"{e.capitalize()} brakes mounted", "brakes", 2.0 + a.hours.get("brakes", 0.0) + a.hours.get("disc_conversion", 0.0), (After(f"{e}:ends", "They hang on the ends."),), at_vehicle=False, weight=1, needs=tuple(line for line, _ in a.lines if line in (f"brakes-{e}", f"disc_conversion-{e}")))  # fmt: skip
        yield Task(f"brakes:lines-{e}", f"{e.capitalize()} lines made and clipped", "brakes", max(1.5, a.hours.get("brake_lines", 0.0)), (After(f"{e}:cycle", "Hoses are cut to the longest way they have to reach."), After(f"brakes:{e}", "They end at the calipers.")), needs=tuple(line for line, _ in a.lines if line == f"brake_lines-{e}"), done="brakes:flares" in rig.passed or None, where=("bench", "brakes"))  # fmt: skip
        hung.append(f"brakes:lines-{e}")
    if hung:
        hours = max([2.0, *(a.hours.get("parking_brake", 0.0) for a in rig.axles)])
        yield Task("brakes:parking", "Parking brake connected, tried on a slope", "brakes", hours, tuple(After(k, "Its cable follows the axle.") for k in hung), done="brakes:parking" in rig.passed or None, where=("bench", "card"))  # fmt: skip
        yield Task("brakes:bleed", "Brakes bled", "brakes", 1.5, (*(After(k, "Brakes are bled last.") for k in hung), After("brakes:parking", "Shoes are adjusted first.")), people=2, done="brakes:bleed" in rig.passed or None, where=("bench", "card"))  # fmt: skip


def _shafts(rig: RigWork) -> Iterator[Task]:
    for a in rig.axles:
        e = a.end
        if "driveshaft" not in a.hours and a.stays:
            continue
        ordered = any(line == f"driveshaft-{e}" for line, _ in a.lines)
        yield Task(f"driveline:measure-{e}", f"{e.capitalize()} driveshaft measured at ride, droop and bump", "driveline", 1.0, (After(f"{e}:square", "The shaft is ordered after the axle stands and is measured."),) if not a.stays else (), where=("travel", "curves"))  # fmt: skip
        if ordered:
            yield Task(f"driveline:made-{e}", f"{e.capitalize()} driveshaft comes", "driveline", 0.0, (After(f"driveline:measure-{e}", "It is made to what was measured."),), people=0, at_vehicle=False, kind="always", needs=(f"driveshaft-{e}",))  # fmt: skip
        fitted = f"driveline:made-{e}" if ordered else f"driveline:measure-{e}"
        yield Task(f"driveline:fit-{e}", f"{e.capitalize()} driveshaft in, slip read at droop and bump", "driveline", max(1.0, a.hours.get("driveshaft", 0.0)), (After(fitted, "It has to be there."), *((After(f"{e}:in", "It joins the axle."),) if not a.stays else ())), weight=1, done=(f"driveline:{e}-bump" in rig.passed and f"driveline:{e}-droop" in rig.passed) or None, where=("bench", "card"))  # fmt: skip


def _end(rig: RigWork) -> Iterator[Task]:
    worked = [a.end for a in rig.axles if not a.stays or a.pieces or a.welds or a.links]
    hung = tuple(After(f"{e}:cycle", "All of it hangs.") for e in worked)
    shafts = tuple(After(f"driveline:fit-{a.end}", "Joints are torqued with the others.") for a in rig.axles if not a.stays or "driveshaft" in a.hours)  # fmt: skip
    steer = (After("front:toe", "Set before it is swept."),) if rig.steering and "front" in worked else ()
    brake = (After("brakes:bleed", "It must stop before it goes."),) if worked else ()
    yield Task("frame:torque", "Every bolt torqued and put down", "frame", 3.0, (*hung, *shafts, *steer), done=rig.bolts_open == 0 or None, where=("bench", "bolts"))  # fmt: skip
    yield Task("frame:sweep", "Lock to lock, droop to bump: nothing touches", "frame", 1.0, (After("frame:torque", "As it will be driven."), *steer), people=2, done="steering:lock" in rig.passed or None, where=("bench", "card"), at="steering")  # fmt: skip
    yield Task("frame:wheels", "Off the stands, wheels torqued", "frame", 1.0, (After("frame:torque", "It rolls when all of it holds."), *brake), people=2, weight=2)  # fmt: skip
    yield Task("frame:sign", "First-drive sheet signed", "frame", 0.5, (After("frame:sweep", "Gate by gate."), After("frame:wheels", "It stands on its wheels."), *brake), done=rig.gates_open == 0 or None, where=("bench", "drive"))  # fmt: skip
    yield Task("frame:drive", "First drive, walking pace", "frame", 1.0, (After("frame:sign", "Nobody drives an unsigned rig."),), done=rig.released or None, where=("bench", "drive"))  # fmt: skip
    yield Task("frame:again", "Every bolt again after the first distance", "frame", 1.5, (After("frame:drive", "Bolts settle."),), drives=False, where=("bench", "bolts"))  # fmt: skip

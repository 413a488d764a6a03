"""What is written down at the bench: cards of assemblies with their readings, parts marked, bolts tightened, what is left
undone, and who signed for the first drive. Nothing read is written over: a later reading stands behind the earlier."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Deviation, Frozen, Identifier, Name

Assembly = Literal["front", "rear", "steering", "brakes", "driveline"]
ASSEMBLIES: tuple[Assembly, ...] = ("front", "rear", "steering", "brakes", "driveline")
ASSEMBLY_WORDS: dict[Assembly, str] = {
    "front": "Front axle", "rear": "Rear axle", "steering": "Steering", "brakes": "Brakes", "driveline": "Driveline",
}  # fmt: skip
ReadingKind = Literal["fine_length", "length", "torque", "small_torque", "pressure", "angle", "mass", "number", "ratio"]
StepState = Literal["open", "done", "by_feel", "not_here"]
Said = Annotated[str, Meta(max_length=200)]
Who = Annotated[str, Meta(max_length=60)]
When = Annotated[str, Meta(max_length=40)]
PhotoName = Annotated[str, Meta(pattern="^[0-9a-f]{64}\\.(jpg|png)$")]
"""A picture beside the project: the SHA-256 of its bytes and its kind."""


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class BenchReading(Frozen, frozen=True, kw_only=True):
    """What was read once at a step, at one place or at several, SI; ``at`` is the gear attempt whose shims were in."""

    values: Annotated[tuple[Annotated[float, Meta(ge=-1e7, le=1e7)], ...], Meta(min_length=1, max_length=12)]
    sigma: Deviation | None = None
    when: When = ""
    by: Who = ""
    tool: Said = ""
    at: Annotated[str, Meta(max_length=48)] = ""


class StepWork(Frozen, frozen=True, kw_only=True):
    """What became of one step of a card; ``id`` is the step's. Its window is the maker's: ``source`` says whose."""

    id: Identifier
    kind: ReadingKind = "number"
    low: Annotated[float, _n("From", "number", -1e7, 1e7, "Least that is wanted.")] | None = None
    high: Annotated[float, _n("To", "number", -1e7, 1e7, "Most that is wanted.")] | None = None
    spread: Annotated[float, _n("Spread allowed", "number", 0.0, 1e7, "Between the places that are read.")] | None = (
        None
    )
    source: Said = ""
    readings: Annotated[tuple[BenchReading, ...], Meta(max_length=60)] = ()
    state: StepState = "open"
    by: Who = ""
    when: When = ""
    note: Said = ""
    at: Annotated[str, Meta(max_length=48)] = ""
    photos: Annotated[tuple[PhotoName, ...], Meta(max_length=20)] = ()

    def kind_of(self, key: str) -> str | None:
        """Window and spread are of the kind that is read."""
        return self.kind if key in ("low", "high", "spread") else None


class Stop(Frozen, frozen=True, kw_only=True):
    """Where work was left: the step, what part is in hand, what stands open or exposed, what is on order."""

    id: Identifier
    step: Annotated[str, Meta(max_length=48)] = ""
    hand: Said = ""
    exposed: Said = ""
    ordered: Said = ""
    by: Who = ""
    when: When = ""
    resumed: When = ""


MarkKind = Literal["punch", "paint", "scribe", "tag"]
MARK_KINDS: tuple[MarkKind, ...] = ("punch", "paint", "scribe", "tag")
Side = Literal["left", "right", "middle"]
SIDES: tuple[Side, ...] = ("left", "right", "middle")
PartState = Literal["in", "out", "back", "renewed"]
PART_STATES: tuple[PartState, ...] = ("in", "out", "back", "renewed")


class Mark(Frozen, frozen=True, kw_only=True):
    """How a part is marked by hand: two punch marks, one stroke of yellow."""

    kind: MarkKind = "punch"
    count: Annotated[int, _n("Marks", "count", 1, 12, "How many dots, strokes, or the number on the tag.")] = 1
    colour: Annotated[str, Meta(max_length=24)] = ""


class MarkedPart(Frozen, frozen=True, kw_only=True):
    """One part of an assembly that was taken out or will be; ``order`` is when it came out."""

    id: Identifier
    name: Name
    side: Side = "middle"
    along: Annotated[float, _n("Place", "number", -1.0, 1.0, "Along the axle: −1 the right end, 1 the left.")] = 0.0
    order: Annotated[int, _n("Out as number", "count", 0, 400, "0 while it is in.")] = 0
    mark: Mark | None = None
    facing: Annotated[str, Meta(max_length=80)] = ""
    tray: Annotated[str, Meta(max_length=40)] = ""
    state: PartState = "in"
    fastener: Annotated[str, Meta(max_length=80)] = ""
    socket: Annotated[str, Meta(max_length=40)] = ""
    pair: Annotated[str, Meta(max_length=48)] = ""
    """Parts of one pair stay together: a bearing cap and its seat, ring and pinion."""
    history: Annotated[str, Meta(max_length=400)] = ""
    """Where it came from, where it went to the other axle."""


class BenchCard(Frozen, frozen=True, kw_only=True):
    """One assembly at the bench."""

    id: Assembly
    who: Who = ""
    steps: Annotated[tuple[StepWork, ...], Meta(max_length=80)] = ()
    stops: Annotated[tuple[Stop, ...], Meta(max_length=100)] = ()
    lacking: Annotated[tuple[Annotated[str, Meta(min_length=1, max_length=80)], ...], Meta(max_length=40)] = ()
    """Tools that are not there."""
    parts: Annotated[tuple[MarkedPart, ...], Meta(max_length=200)] = ()

    def step(self, key: str) -> StepWork | None:
        """What became of a step."""
        return next((one for one in self.steps if one.id == key), None)

    @property
    def stop(self) -> Stop | None:
        """Where it was left, if it was not taken up again."""
        return self.stops[-1] if self.stops and not self.stops[-1].resumed else None


class Tightened(Frozen, frozen=True, kw_only=True):
    """Bolts were tightened: how many, to what, with which wrench, how far it had been driven by then."""

    count: Annotated[int, Meta(ge=1, le=200)]
    torque_nm: Annotated[float, Meta(ge=0.1, le=20000.0)] | None = None
    wrench: Annotated[str, Meta(max_length=60)] = ""
    when: When = ""
    by: Who = ""
    driven_m: Annotated[float, Meta(ge=0.0, le=1e9)] = 0.0


class Fastener(Frozen, frozen=True, kw_only=True):
    """Bolts of one place, alike. ``id`` is the list's own, or ``own-`` for one of the user's."""

    id: Annotated[str, Meta(pattern="^[a-z0-9][a-z0-9_-]{0,79}$", description="Place of the bolts, unique.")]
    name: Annotated[str, Meta(max_length=120)] = ""
    assembly: Assembly = "rear"
    count: Annotated[int, _n("How many", "count", 1, 200, "Of this place, both sides together.")] | None = None
    diameter_m: Annotated[float, _n("Thread", "fine_length", 0.004, 0.06, "Outside diameter of the thread.")] | None = (
        None
    )
    pitch_m: (
        Annotated[float, _n("Pitch", "fine_length", 0.0003, 0.006, "Travel of one turn; empty: the coarse thread.")]
        | None
    ) = None
    grade: Literal["", "grade 5", "grade 8", "8.8", "10.9", "12.9"] = ""
    oiled: bool = False
    target_nm: Annotated[float, _n("Torque", "torque", 0.5, 5000.0, "From the record of the part.")] | None = None
    source: Said = ""
    again_m: (
        Annotated[float, _n("Again after", "distance", 0.0, 1e6, "Driven distance after which they are torqued again.")]
        | None
    ) = None
    undone: bool = False
    """Loosened to get at something else, and not tightened since."""
    void: Annotated[int, Meta(ge=0, le=60)] = 0
    """The first so many of what was tightened no longer count: they were loosened afterwards."""
    tight: Annotated[tuple[Tightened, ...], Meta(max_length=60)] = ()


LooseKind = Literal["loose", "reopen", "tacked", "temporary", "reserved", "by_feel"]
LOOSE_WORDS: dict[LooseKind, str] = {
    "loose": "taken loose", "reopen": "put together to be opened again", "tacked": "tacked only", "temporary": "temporary",
    "reserved": "place kept free", "by_feel": "by feel",
}  # fmt: skip


class LooseEnd(Frozen, frozen=True, kw_only=True):
    """Something left undone on purpose; closed by whom and when, it stays in the list."""

    id: Identifier
    name: Name
    kind: LooseKind = "loose"
    assembly: Assembly = "rear"
    why: Said = ""
    when: When = ""
    by: Who = ""
    closed: When = ""
    closed_by: Who = ""


class DriveGate(Frozen, frozen=True, kw_only=True):
    """One line of the first-drive sheet: signed, with what was read; or let through with a reason and a name."""

    id: Identifier
    by: Who = ""
    when: When = ""
    read: Said = ""
    reason: Annotated[str, Meta(max_length=400)] = ""
    """Why it is let through although it does not hold; empty for one that does."""


class FirstDrive(Frozen, frozen=True, kw_only=True):
    """Signatures before the first drive, and how far it has been driven since."""

    gates: Annotated[tuple[DriveGate, ...], Meta(max_length=60)] = ()
    driven_m: Annotated[float, _n("Driven", "distance", 0.0, 1e9, "Since the first drive after the swap.")] = 0.0
    again_m: (
        Annotated[
            float, _n("First re-torque", "distance", 0.0, 1e6, "Driven distance after which every bolt is checked.")
        ]
        | None
    ) = None
    driver: Who = ""
    released: When = ""


_CAP, _OPEN = "From the middle of the carrier outwards.", "From the middle of the housing to its edge there."


class CaseHole(Frozen, frozen=True, kw_only=True):
    """A hole of the flange: shared by case and housing, or new; how far its middle lies from the edge."""

    id: Identifier
    diameter_m: Annotated[float, _n("Hole", "fine_length", 0.002, 0.05, "Diameter.")] | None = None
    edge_m: (
        Annotated[float, _n("To the edge", "fine_length", 0.0, 0.2, "Middle of the hole to the nearest edge.")] | None
    ) = None
    kind: Literal["shared", "new", "thread"] = "shared"
    puddle_m: (
        Annotated[float, _n("To the weld", "fine_length", 0.0, 0.3, "Middle of the hole to the edge of the weld.")]
        | None
    ) = None


class CaseFit(Frozen, frozen=True, kw_only=True):
    """Whether a third member with its locker goes into a housing. ``id`` is the end."""

    id: Literal["front", "rear"]
    left_cap_m: Annotated[float, _n("Left cap reaches", "length", 0.01, 0.5, _CAP)] | None = None
    left_open_m: Annotated[float, _n("Opening at the left", "length", 0.01, 0.6, _OPEN)] | None = None
    right_cap_m: Annotated[float, _n("Right cap reaches", "length", 0.01, 0.5, _CAP)] | None = None
    right_open_m: Annotated[float, _n("Opening at the right", "length", 0.01, 0.6, _OPEN)] | None = None
    actuator: Literal["none", "left", "right"] = "none"
    reach_in_m: (
        Annotated[float, _n("Actuator drawn in", "length", 0.0, 0.5, "Its outermost point from the middle, released.")]
        | None
    ) = None
    reach_out_m: (
        Annotated[float, _n("Actuator out", "length", 0.0, 0.5, "Its outermost point from the middle, engaged.")] | None
    ) = None
    space_m: (
        Annotated[float, _n("Room for it", "length", 0.0, 0.6, "From the middle to the housing where it moves.")] | None
    ) = None
    wanted_m: Annotated[float, _n("Room wanted", "fine_length", 0.0, 0.05, "Left all round it; yours to say.")] = 0.0015
    sigma_m: Annotated[float, _n("Reading ±", "fine_length", 0.0, 0.01, "1 σ of each of these readings.")] = 0.0004
    holes: Annotated[tuple[CaseHole, ...], Meta(max_length=40)] = ()
    contacts: Annotated[tuple[Said, ...], Meta(max_length=40)] = ()
    """Where it touched when it was tried in, in the order of the tries."""

"""Welding on a housing: how it is welded, seams of one's own, and what was ticked off bead by bead."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Identifier, Name

Process = Literal["wire", "stick", "tig"]
PROCESS_WORDS: dict[Process, str] = {"wire": "wire", "stick": "stick", "tig": "TIG"}
SeamKind = Literal["pad", "tab", "gusset", "truss", "guard", "casting", "end"]
SEAM_KINDS: tuple[SeamKind, ...] = ("pad", "tab", "gusset", "truss", "guard", "casting", "end")
SEAM_WORDS: dict[SeamKind, str] = {
    "pad": "spring pad", "tab": "tab", "gusset": "gusset", "truss": "truss", "guard": "guard", "casting": "tube to casting", "end": "end of the housing",
}  # fmt: skip
Runs = Literal["along", "across"]
RUNS_WORDS: dict[Runs, str] = {"along": "along", "across": "round it"}
OrderSchool = Literal["small_bow", "diagonal"]
ORDER_WORDS: dict[OrderSchool, str] = {"small_bow": "least bow", "diagonal": "diagonal"}
BeadState = Literal["fitted", "tacked", "welded", "inspected"]
BEAD_STATES: tuple[BeadState, ...] = ("fitted", "tacked", "welded", "inspected")


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class Steel(Frozen, frozen=True, kw_only=True):
    """What a steel is made of, in % by mass, from its mill sheet; what the sheet does not name is left empty."""

    carbon: Annotated[float, _n("Carbon", "number", 0.0, 2.0, "C in %, from the mill sheet.")] | None = None
    manganese: Annotated[float, _n("Manganese", "number", 0.0, 3.0, "Mn in %, from the mill sheet.")] | None = None
    chromium: Annotated[float, _n("Chromium", "number", 0.0, 3.0, "Cr in %, from the mill sheet.")] | None = None
    molybdenum: Annotated[float, _n("Molybdenum", "number", 0.0, 2.0, "Mo in %, from the mill sheet.")] | None = None
    vanadium: Annotated[float, _n("Vanadium", "number", 0.0, 1.0, "V in %, from the mill sheet.")] | None = None
    nickel: Annotated[float, _n("Nickel", "number", 0.0, 5.0, "Ni in %, from the mill sheet.")] | None = None
    copper: Annotated[float, _n("Copper", "number", 0.0, 2.0, "Cu in %, from the mill sheet.")] | None = None


class OwnSeam(Frozen, frozen=True, kw_only=True):
    """A seam on the housing that no part of the layout makes; where its middle is, how long, which way it runs."""

    id: Identifier
    name: Name
    kind: SeamKind = "gusset"
    runs: Runs = "along"
    at_m: Annotated[float, _n("Station", "length", -2.0, 2.0, "Its middle from the middle of the axle, left +.")]
    around_rad: Annotated[
        float,
        _n("Around", "angle", 0.0, 6.283185307179586, "Where on the tube: 0° top, 90° front, 180° bottom, 270° rear."),
    ] = 0.0
    length_m: Annotated[float, _n("Seam", "length", 0.003, 4.0, "Its length.")] = 0.1
    leg_m: Annotated[float, _n("Weld leg", "length", 0.001, 0.03, "Of the fillet.")] = 0.006


class BeadTick(Frozen, frozen=True, kw_only=True):
    """That a bead has come so far. Nothing is written over: the last of a bead counts."""

    bead: Annotated[str, Meta(min_length=1, max_length=180)]
    state: BeadState
    when: Annotated[str, Meta(max_length=40)] = ""
    who: Annotated[str, Meta(max_length=60)] = ""


class WeldPlan(Frozen, frozen=True, kw_only=True):
    """How one housing is welded; ``id`` is its end. Sizes left empty are the axle's own, or proposed."""

    id: Literal["front", "rear"]
    order: OrderSchool = "small_bow"
    process: Process = "wire"
    volts: Annotated[float, _n("Volts", "number", 5.0, 60.0, "Of the arc.")] = 22.0
    amps: Annotated[float, _n("Amps", "number", 10.0, 800.0, "Of the arc.")] = 170.0
    travel_m_s: Annotated[float, _n("Travel", "weld_speed", 0.0005, 0.05, "How fast the arc goes along.")] = 0.006
    air_c: Annotated[float, _n("Air", "temperature", -40.0, 60.0, "Of the shop, and of the housing at the start.")] = (
        20.0
    )
    most_c: Annotated[
        float, _n("Warm at most", "temperature", 20.0, 400.0, "The tube where a bead goes, before it is begun.")
    ] = 80.0
    loss: Annotated[
        float, _n("Loss to the air", "number", 2.0, 200.0, "W/(m²·K): 10 to 25 in still air, more in a draught.")
    ] = 15.0
    inner: Literal["casting", "insulated"] = "casting"
    factor: Annotated[
        float, _n("Shrinkage", "number", 0.0, 0.5, "Of a weld over its section; 0.04 ± half until readings say it.")
    ] = 0.04
    turn_s: Annotated[float, _n("Turning", "duration", 0.0, 3600.0, "To turn the housing in its stands.")] = 120.0
    between_s: Annotated[float, _n("Between beads", "duration", 0.0, 3600.0, "Brush, look, move over.")] = 40.0
    tube_od_m: Annotated[float, _n("Tube", "length", 0.03, 0.25, "Outside; empty: the axle's.")] | None = None
    tube_wall_m: Annotated[float, _n("Tube wall", "fine_length", 0.002, 0.05, "Empty: the axle's.")] | None = None
    span_m: (
        Annotated[float, _n("Housing", "length", 0.4, 4.0, "End to end; empty: as read in Stations, or proposed.")]
        | None
    ) = None
    casting_m: Annotated[float, _n("Casting", "length", 0.02, 1.5, "Along the housing; empty: proposed.")] | None = None
    offset_m: (
        Annotated[float, _n("Casting left by", "length", -0.8, 0.8, "Its middle from the axle's; empty: the pinion's.")]
        | None
    ) = None
    pad_long_m: (
        Annotated[float, _n("Pad", "length", 0.02, 0.5, "Of a spring pad along the tube; empty: proposed.")] | None
    ) = None
    pad_leg_m: Annotated[float, _n("Pad's weld leg", "length", 0.002, 0.03, "Empty: 1/4 in.")] | None = None
    by: Annotated[str, Meta(max_length=60)] = ""
    """Who welds: a name or a mark."""
    steel: Steel = Steel()
    seams: Annotated[tuple[OwnSeam, ...], Meta(max_length=60)] = ()
    left_out: Annotated[tuple[Annotated[str, Meta(max_length=160)], ...], Meta(max_length=200)] = ()
    """Seams the layout makes that are not welded here."""
    ticks: Annotated[tuple[BeadTick, ...], Meta(max_length=2000)] = ()

    def state(self, bead: str) -> BeadState | None:
        """How far a bead has come."""
        return next((t.state for t in reversed(self.ticks) if t.bead == bead), None)

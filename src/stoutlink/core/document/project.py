"""The project: one frozen value from which everything else follows."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.spring import SpringOffer
from stoutlink.core.document.bench import BenchCard, CaseFit, Fastener, FirstDrive, LooseEnd
from stoutlink.core.document.brakes import BrakeSystem
from stoutlink.core.document.build_plan import BuildPlan
from stoutlink.core.document.gear_setup import GearSetup
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.link_work import CutPart, PlateCutting, Sawing, StockBar, TubeCope
from stoutlink.core.document.log import Log
from stoutlink.core.document.made_part import MadePart
from stoutlink.core.document.plane_picture import PlanePicture
from stoutlink.core.document.quantities import Deviation, Frozen, Identifier, Name, Text
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.search import Search
from stoutlink.core.document.stations import Stations
from stoutlink.core.document.survey import Solid, Survey
from stoutlink.core.document.swap import AxlePlan, Choosing, Inspection, MadeAxle, OwnCost, Price, Seen, ShelfPart
from stoutlink.core.document.weight import LoadCase
from stoutlink.core.document.welding import WeldPlan

FORMAT = "stout-link-project"
VERSION = 7
UNNAMED = "New project"
"""What a project is called until somebody names it."""

ThrustSchool = Literal["full_thrust", "shared_locked", "shared_open"]
HeightSchool = Literal["whole_vehicle", "sprung_mass"]
Basis = Literal["measured", "estimated", "memory", "typed", "sheet", "claim", "placeholder"]
"""Where a number is from; a ``placeholder`` was entered by nobody: it only lets the rig be drawn until somebody does."""


class Entry(Frozen, frozen=True, kw_only=True):
    """How a number came in: the text as typed, where it is from, and its 1 σ in SI if known.

    ``readings`` and ``spread`` (standard deviation of single readings) come from an instrument that was averaged.

    ``field`` is the dotted path of the number, list items by id: ``rig.wheelbase_m``,
    ``layouts.rear-a.links.upper_left.frame_pivot_m.0``.
    """

    field: Annotated[str, Meta(min_length=1, max_length=200)]
    text: Annotated[str, Meta(max_length=60)] = ""
    basis: Basis = "typed"
    sigma: Deviation | None = None
    readings: Annotated[int, Meta(ge=1, le=1_000_000)] = 1
    spread: Deviation | None = None


class Accepted(Frozen, frozen=True, kw_only=True):
    """A knock-on the user has accepted: its code and subject, with when and why."""

    code: Annotated[str, Meta(min_length=1, max_length=120)]
    when: Annotated[str, Meta(max_length=40)] = ""
    why: Text = ""


class Settings(Frozen, frozen=True, kw_only=True):
    """How this project is read and judged."""

    units: Literal["in", "mm"] = "in"
    thrust_school: ThrustSchool = "full_thrust"
    height_school: HeightSchool = "whole_vehicle"
    anti_target: Literal["first_trail", "steep_technical", "neutral"] = "steep_technical"
    roll_centre_target: Literal["high", "low"] = "high"


class LoadCases(Frozen, frozen=True, kw_only=True):
    """How hard the links are worked when their forces are asked for; estimates to set."""

    ledge_m: Annotated[
        float,
        Meta(
            title="Ledge",
            ge=0.0,
            le=1.5,
            extra={"kind": "length"},
            description="Height of the step one wheel is driven against.",
        ),
    ] = 0.3
    side_slope_rad: Annotated[
        float,
        Meta(
            title="Side slope",
            ge=0.0,
            le=1.0,
            extra={"kind": "angle"},
            description="Cross slope of the side-hill case.",
        ),
    ] = 0.4363323129985824
    strike_factor: Annotated[
        float,
        Meta(
            title="Rock strike",
            ge=0.5,
            le=5.0,
            extra={"kind": "number"},
            description="1: the heavier axle rests on a lower; 2: it drops on it.",
        ),
    ] = 2.0
    wanted_margin: Annotated[
        float,
        Meta(
            title="Margin wanted",
            ge=0.5,
            le=5.0,
            extra={"kind": "number"},
            description="Strength over load that a tube, joint or bolt shall have; forces are without shock.",
        ),
    ] = 1.5


class OwnTarget(Frozen, frozen=True, kw_only=True):
    """A wanted band of the user's own in place of a school's: ``id`` is the end and the gauge, ``rear-drive``; in the
    gauge's own unit.
    """

    id: Identifier
    low: Annotated[float, Meta(title="Wanted from", ge=-1000.0, le=1000.0)]
    high: Annotated[float, Meta(title="Wanted to", ge=-1000.0, le=1000.0)]
    why: Text = ""


class Project(Frozen, frozen=True, kw_only=True):
    """Everything the user knows about one axle swap."""

    format: Literal["stout-link-project"] = "stout-link-project"
    version: Literal[7] = 7
    name: Name
    notes: Text = ""
    settings: Settings = Settings()
    rig: Rig
    surveys: Annotated[tuple[Survey, ...], Meta(max_length=24)] = ()
    solids: Annotated[tuple[Solid, ...], Meta(max_length=400)] = ()
    photos: Annotated[tuple[PlanePicture, ...], Meta(max_length=24)] = ()
    donors: Annotated[tuple[DonorAxle, ...], Meta(max_length=2000)] = ()
    front_donor: Identifier | None = None
    rear_donor: Identifier | None = None
    front_plan: AxlePlan = AxlePlan()
    rear_plan: AxlePlan = AxlePlan()
    choosing: Choosing = Choosing()
    loads: LoadCases = LoadCases()
    prices: Annotated[tuple[Price, ...], Meta(max_length=200)] = ()
    own_costs: Annotated[tuple[OwnCost, ...], Meta(max_length=200)] = ()
    shelf: Annotated[tuple[ShelfPart, ...], Meta(max_length=200)] = ()
    made: Annotated[tuple[MadeAxle, ...], Meta(max_length=100)] = ()
    """Axles made of several, by the id of their record."""
    inspections: Annotated[tuple[Inspection, ...], Meta(max_length=200)] = ()
    joints: Annotated[tuple[Joint, ...], Meta(max_length=400)] = ()
    stock: Annotated[tuple[StockBar, ...], Meta(max_length=200)] = ()
    sawing: Sawing = Sawing()
    copes: Annotated[tuple[TubeCope, ...], Meta(max_length=100)] = ()
    plate: PlateCutting = PlateCutting()
    stations: Annotated[tuple[Stations, ...], Meta(max_length=2)] = ()
    made_parts: Annotated[tuple[MadePart, ...], Meta(max_length=100)] = ()
    welding: Annotated[tuple[WeldPlan, ...], Meta(max_length=2)] = ()
    gears: Annotated[tuple[GearSetup, ...], Meta(max_length=2)] = ()
    cards: Annotated[tuple[BenchCard, ...], Meta(max_length=5)] = ()
    fasteners: Annotated[tuple[Fastener, ...], Meta(max_length=300)] = ()
    cases: Annotated[tuple[CaseFit, ...], Meta(max_length=2)] = ()
    brakes: BrakeSystem = BrakeSystem()
    loose_ends: Annotated[tuple[LooseEnd, ...], Meta(max_length=200)] = ()
    first_drive: FirstDrive = FirstDrive()
    build: BuildPlan = BuildPlan()
    log: Log = Log()
    cut_parts: Annotated[tuple[CutPart, ...], Meta(max_length=200)] = ()
    layouts: Annotated[tuple[Layout, ...], Meta(max_length=100)] = ()
    springs: Annotated[tuple[SpringOffer, ...], Meta(max_length=2000)] = ()
    seen: Annotated[tuple[Seen, ...], Meta(max_length=400)] = ()
    load_cases: Annotated[tuple[LoadCase, ...], Meta(max_length=12)] = ()
    targets: Annotated[tuple[OwnTarget, ...], Meta(max_length=40)] = ()
    searches: Annotated[tuple[Search, ...], Meta(max_length=2)] = ()
    front_layout: Identifier | None = None
    rear_layout: Identifier | None = None
    front_compare: Identifier | None = None
    rear_compare: Identifier | None = None
    entries: Annotated[tuple[Entry, ...], Meta(max_length=40_000)] = ()
    accepted: Annotated[tuple[Accepted, ...], Meta(max_length=4000)] = ()

    def donor(self, end: str) -> DonorAxle | None:
        """The donor chosen for an end."""
        wanted = self.front_donor if end == "front" else self.rear_donor
        return next((d for d in self.donors if d.id == wanted), None)

    def plan(self, end: str) -> AxlePlan:
        """What is to be changed on the axle of an end."""
        return self.front_plan if end == "front" else self.rear_plan

    def stays(self, end: str) -> bool:
        """Whether the axle of an end is under it already, or stays as an independent front does."""
        return self.plan(end).in_place or (end == "front" and self.rig.drivetrain.front_axle == "independent")

    def layout(self, end: str) -> Layout | None:
        """The layout in use at an end; none in front while an independent front stays."""
        if end == "front" and self.rig.drivetrain.front_axle == "independent":
            return None
        wanted = self.front_layout if end == "front" else self.rear_layout
        return next((one for one in self.layouts if one.id == wanted), None)

    def compared(self, end: str) -> Layout | None:
        """The layout that the one in use is held against, if any."""
        if self.layout(end) is None:
            return None
        wanted = self.front_compare if end == "front" else self.rear_compare
        return next((one for one in self.layouts if one.id == wanted), None)

    def card(self, assembly: str) -> BenchCard | None:
        """What was written down of an assembly at the bench."""
        return next((one for one in self.cards if one.id == assembly), None)

    def search(self, end: str) -> Search | None:
        """What is asked of "find me a layout" at an end."""
        return next((one for one in self.searches if one.id == end), None)

    def survey(self, survey_id: str) -> Survey | None:
        """The survey with this id."""
        return next((one for one in self.surveys if one.id == survey_id), None)

    def photo(self, picture_id: str) -> PlanePicture | None:
        """The photograph of a plane with this id."""
        return next((one for one in self.photos if one.id == picture_id), None)

    def photo_names(self) -> tuple[str, ...]:
        """Names of all photos the project speaks of."""
        names = [name for card in self.cards for step in card.steps for name in step.photos]
        names += [name for run in self.log.runs for name in run.photos]
        names += [one.photo for one in self.photos]
        return tuple(dict.fromkeys(names))

    def joint(self, joint_id: str) -> Joint | None:
        """The joint record with this id."""
        return next((one for one in self.joints if one.id == joint_id), None)

    def entry(self, field: str) -> Entry | None:
        """How the number at a path came in, if anything is noted."""
        return next((one for one in self.entries if one.field == field), None)

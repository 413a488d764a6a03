"""The groups a project's parts stand in, one for each stretch of the work: what was taped, the axles to swap in, how they hang,
what is cut and welded, and the bench. Schedule and log are groups of their own files.
"""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.spring import SpringOffer
from stoutlink.core.document.bench import BenchCard, CaseFit, Fastener, FirstDrive, LooseEnd
from stoutlink.core.document.brakes import BrakeSystem
from stoutlink.core.document.gear_setup import GearSetup
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.link_work import CutPart, PlateCutting, Sawing, StockBar, TubeCope
from stoutlink.core.document.made_part import MadePart
from stoutlink.core.document.plane_picture import PlanePicture
from stoutlink.core.document.quantities import Frozen, Identifier, Text
from stoutlink.core.document.search import Search
from stoutlink.core.document.stations import Stations
from stoutlink.core.document.survey import Solid, Survey
from stoutlink.core.document.swap import AxlePlan, Choosing, Inspection, MadeAxle, OwnCost, Price, Seen, ShelfPart
from stoutlink.core.document.weight import LoadCase
from stoutlink.core.document.welding import WeldPlan


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


class Tape(Frozen, frozen=True, kw_only=True):
    """What was measured on the rig: rails and points, what stands in the way, photographs that measure."""

    surveys: Annotated[tuple[Survey, ...], Meta(max_length=24)] = ()
    solids: Annotated[tuple[Solid, ...], Meta(max_length=400)] = ()
    photos: Annotated[tuple[PlanePicture, ...], Meta(max_length=24)] = ()


class Swap(Frozen, frozen=True, kw_only=True):
    """Axles on offer, those chosen and what is changed on them, and what that costs."""

    donors: Annotated[tuple[DonorAxle, ...], Meta(max_length=2000)] = ()
    front_donor: Identifier | None = None
    rear_donor: Identifier | None = None
    front_plan: AxlePlan = AxlePlan()
    rear_plan: AxlePlan = AxlePlan()
    choosing: Choosing = Choosing()
    prices: Annotated[tuple[Price, ...], Meta(max_length=200)] = ()
    own_costs: Annotated[tuple[OwnCost, ...], Meta(max_length=200)] = ()
    shelf: Annotated[tuple[ShelfPart, ...], Meta(max_length=200)] = ()
    made: Annotated[tuple[MadeAxle, ...], Meta(max_length=100)] = ()
    """Axles made of several, by the id of their record."""
    inspections: Annotated[tuple[Inspection, ...], Meta(max_length=200)] = ()
    seen: Annotated[tuple[Seen, ...], Meta(max_length=400)] = ()


class Linkage(Frozen, frozen=True, kw_only=True):
    """How the axles hang: layouts, their joints and springs, how they are loaded, judged and searched for."""

    joints: Annotated[tuple[Joint, ...], Meta(max_length=400)] = ()
    layouts: Annotated[tuple[Layout, ...], Meta(max_length=100)] = ()
    springs: Annotated[tuple[SpringOffer, ...], Meta(max_length=2000)] = ()
    loads: LoadCases = LoadCases()
    load_cases: Annotated[tuple[LoadCase, ...], Meta(max_length=12)] = ()
    targets: Annotated[tuple[OwnTarget, ...], Meta(max_length=40)] = ()
    searches: Annotated[tuple[Search, ...], Meta(max_length=2)] = ()
    front_layout: Identifier | None = None
    rear_layout: Identifier | None = None
    front_compare: Identifier | None = None
    rear_compare: Identifier | None = None


class Fabrication(Frozen, frozen=True, kw_only=True):
    """What is sawn, coped, burned out and welded, and where it goes on the housing."""

    stock: Annotated[tuple[StockBar, ...], Meta(max_length=200)] = ()
    sawing: Sawing = Sawing()
    copes: Annotated[tuple[TubeCope, ...], Meta(max_length=100)] = ()
    plate: PlateCutting = PlateCutting()
    cut_parts: Annotated[tuple[CutPart, ...], Meta(max_length=200)] = ()
    made_parts: Annotated[tuple[MadePart, ...], Meta(max_length=100)] = ()
    stations: Annotated[tuple[Stations, ...], Meta(max_length=2)] = ()
    welding: Annotated[tuple[WeldPlan, ...], Meta(max_length=2)] = ()


class Bench(Frozen, frozen=True, kw_only=True):
    """What is set up, bolted, filled and bled, and the first drive."""

    gears: Annotated[tuple[GearSetup, ...], Meta(max_length=2)] = ()
    cards: Annotated[tuple[BenchCard, ...], Meta(max_length=5)] = ()
    fasteners: Annotated[tuple[Fastener, ...], Meta(max_length=300)] = ()
    cases: Annotated[tuple[CaseFit, ...], Meta(max_length=2)] = ()
    brakes: BrakeSystem = BrakeSystem()
    loose_ends: Annotated[tuple[LooseEnd, ...], Meta(max_length=200)] = ()
    first_drive: FirstDrive = FirstDrive()

"""The parts of a project that questions rest on, each named once."""

from __future__ import annotations

from typing import TYPE_CHECKING

from stoutlink.core.analysis.cycle.laden import not_said
from stoutlink.core.analysis.cycle.reach import placed_lines
from stoutlink.core.analysis.linkage.uncertainty import layout_entries, zero_sigma
from stoutlink.core.analysis.survey.traced import picture_notes
from stoutlink.core.analysis.vehicle.rig_readings import rig_entries
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.build_plan import FREE
from stoutlink.core.document.placed_solids import placed_solids

if TYPE_CHECKING:
    from stoutlink.core.study.vehicle import VehicleQuestions as Study

Values = tuple[object, ...]


def entered(s: Study) -> Values:
    """The rig as it was entered (what is typed in fields, before sources and donors are weighed)."""
    return (s.project.rig,)


def vehicle(s: Study) -> Values:
    """The effective vehicle: weight, balance point and unsprung masses in force; and what of it nobody has entered."""
    return s.true.rig, s.needs


def chosen(s: Study) -> Values:
    """Both chosen axles."""
    return s.project.donor("front"), s.project.donor("rear")


def catalogue(s: Study) -> Values:
    """Every axle in the project."""
    return (s.project.swap.donors,)


def donor(s: Study, end: str) -> Values:
    """The axle chosen for this end."""
    return (s.project.donor(end),)


def record(s: Study, axle_id: str) -> Values:
    """The record of one axle of the catalogue."""
    return (next((d for d in s.project.swap.donors if d.id == axle_id), None),)


def plans(s: Study) -> Values:
    """What is to be changed on both axles."""
    return s.project.swap.front_plan, s.project.swap.rear_plan


def plan_of(s: Study, axle: DonorAxle) -> Values:
    """What is to be changed on the axle at the end this one is made for."""
    return (s.project.plan(axle.end),)


def choosing(s: Study) -> Values:
    """Grip, shock, grade, budget, currency and what the pick weighs."""
    return (s.project.swap.choosing,)


def grip(s: Study) -> Values:
    """Friction of the tyres."""
    return (s.project.swap.choosing.friction,)


def shelf(s: Study) -> Values:
    """Parts at hand, of which some may be planned into an axle."""
    return (s.project.swap.shelf,)


def made(s: Study) -> Values:
    """What axles are made of several, and every record they could be of."""
    return s.project.swap.made, s.project.swap.donors


def money(s: Study) -> Values:
    """The user's prices, own lines, shelf, inspections, what axles are made of several, and which lines cost nothing or were
    sold."""
    p = s.project
    free = tuple(
        (r.id, r.name, r.source, r.sold_for, r.sold_on)
        for r in p.build.arrivals
        if r.source in FREE or r.state == "sold"
    )
    return p.swap.prices, p.swap.own_costs, p.swap.shelf, p.swap.inspections, p.swap.made, free


def layout(s: Study, end: str) -> Values:
    """The layout in use at this end."""
    return (s.project.layout(end),)


def lines_placed(s: Study, end: str) -> Values:
    """Which lines of the layout in use and of the compared one have both ends entered, by id."""
    both = (s.project.layout(end), s.project.compared(end))
    return tuple(() if one is None else tuple(x.id for x in placed_lines(s.project, one)) for one in both)


def cases_said(s: Study) -> Values:
    """The load cases, and what nobody has entered of each."""
    return s.project.linkage.load_cases, tuple(not_said(s.project, case) for case in s.project.linkage.load_cases)


def pinions(s: Study) -> Values:
    """How far the pinion is up in the layouts in use."""
    used = (s.project.layout(end) for end in ("front", "rear"))
    return tuple(None if one is None else one.pinion_up for one in used)


def layouts_named(s: Study) -> Values:
    """Which layouts are in use, by id, name and kind, and whether they ride on air."""
    used = (s.project.layout(end) for end in ("front", "rear"))
    return tuple(
        part for one in used for part in ((None,) if one is None else (one.id, one.name, one.kind, one.air is not None))
    )


def compared(s: Study, end: str) -> Values:
    """The layout it is held against."""
    return (s.project.compared(end),)


def joints(s: Study) -> Values:
    """Joint records."""
    return (s.project.linkage.joints,)


def schools(s: Study) -> Values:
    """The schools chosen for thrust and height."""
    return s.project.settings.thrust_school, s.project.settings.height_school


def bands(s: Study) -> Values:
    """The bands wanted: the schools' and the user's own."""
    s_ = s.project.settings
    return s_.anti_target, s_.roll_centre_target, s.project.linkage.targets


def units(s: Study) -> Values:
    """Inches or millimetres, where words hold numbers."""
    return (s.project.settings.units,)


def notes_on_rig(s: Study) -> Values:
    """Sources and ± of the rig's and donors' numbers."""
    return (rig_entries(s.project.entries),)


def notes_on_layout(s: Study, end: str) -> Values:
    """Sources and ± of the layout's numbers, and the ± of the tape's zero."""
    used = s.project.layout(end)
    return () if used is None else layout_entries(s.project.entries, used.id), zero_sigma(s.project)


def notes(s: Study) -> Values:
    """Sources and ± of everything."""
    return (s.project.entries,)


def survey(s: Study) -> Values:
    """All surveys."""
    return (s.project.tape.surveys,)


def picture(s: Study, picture_id: str) -> Values:
    """A photograph of a plane and the ± of its numbers."""
    return s.project.photo(picture_id), picture_notes(s.project.entries, picture_id)


def pictures(s: Study) -> Values:
    """All of them."""
    return s.project.tape.photos, tuple(e for e in s.project.entries if e.field.startswith("photos."))


def cut_parts(s: Study) -> Values:
    """Parts of plate that are cut, with their sizes then."""
    return (s.project.fabrication.cut_parts,)


def stations(s: Study) -> Values:
    """Stations of both housings."""
    return (s.project.fabrication.stations,)


def made_parts(s: Study) -> Values:
    """Parts of plate of one's own."""
    return (s.project.fabrication.made_parts,)


def gears(s: Study) -> Values:
    """Gears being set up."""
    return (s.project.bench.gears,)


def build(s: Study) -> Values:
    """The plan: hours, people, changes of tasks, arrivals."""
    return (s.project.build,)


def built(s: Study) -> Values:
    """Readings of the axles as they were built."""
    return (s.project.log.built,)


def hill(s: Study) -> Values:
    """The profile that is driven over."""
    return (s.project.log.hill,)


def log(s: Study) -> Values:
    """Everything in the log."""
    return (s.project.log,)


def at_the_bench(s: Study) -> Values:
    """What was written down at the bench, and the inspections."""
    p = s.project
    return p.bench.cards, p.bench.loose_ends, p.bench.first_drive, p.bench.cases


def travels(s: Study) -> Values:
    """The travel of both axles as far as it is known."""
    return s.travel_known("front"), s.travel_known("rear")  # type: ignore[attr-defined]


def bolts(s: Study) -> Values:
    """What was written of bolts, how far it was driven, and after which distance they are torqued again."""
    first = s.project.bench.first_drive
    return s.project.bench.fasteners, first.driven_m, first.again_m


def cases(s: Study) -> Values:
    """Third members measured against their housings."""
    return (s.project.bench.cases,)


def brakes(s: Study) -> Values:
    """The brakes as they will be."""
    return (s.project.bench.brakes,)


def welding(s: Study) -> Values:
    """How both housings are welded, with the sources of its numbers."""
    return s.project.fabrication.welding, tuple(e for e in s.project.entries if e.field.startswith("welding."))


def plate(s: Study) -> Values:
    """Plate that parts are cut from."""
    return (s.project.fabrication.plate,)


def stock(s: Study) -> Values:
    """Tube at hand and to be bought, how it is sawn, and braces cut from it."""
    return s.project.fabrication.stock, s.project.fabrication.sawing, s.project.fabrication.copes


def solids(s: Study) -> Values:
    """Everything in the way that stands somewhere."""
    return (placed_solids(s.project),)


def loads(s: Study) -> Values:
    """How hard the links are worked."""
    return (s.project.linkage.loads,)


def layouts_used(s: Study) -> Values:
    """Both layouts in use."""
    return s.project.layout("front"), s.project.layout("rear")


def wheelbase(s: Study) -> Values:
    """The wheelbase alone."""
    return (s.project.rig.wheelbase_m,)

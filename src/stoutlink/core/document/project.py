"""The project: one frozen value from which everything else follows."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from msgspec import Meta
from msgspec.structs import replace

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.bench import BenchCard
from stoutlink.core.document.build_plan import BuildPlan
from stoutlink.core.document.groups import Bench, Fabrication, Linkage, Swap, Tape
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.log import Log
from stoutlink.core.document.plane_picture import PlanePicture
from stoutlink.core.document.quantities import Deviation, Frozen, Name, Text
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.search import Search
from stoutlink.core.document.survey import Survey
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.numerics.remembering import remember_by_identity

FORMAT = "stout-link-project"
VERSION = 7
UNNAMED = "New project"
MOST_ACCEPTED = 4000
"""Knock-ons a project keeps as accepted."""
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


class Project(Frozen, frozen=True, kw_only=True):
    """Everything the user knows about one axle swap."""

    format: Literal["stout-link-project"] = "stout-link-project"
    version: Literal[7] = 7
    name: Name
    notes: Text = ""
    settings: Settings = Settings()
    rig: Rig
    tape: Tape = Tape()
    swap: Swap = Swap()
    linkage: Linkage = Linkage()
    fabrication: Fabrication = Fabrication()
    bench: Bench = Bench()
    build: BuildPlan = BuildPlan()
    log: Log = Log()
    entries: Annotated[tuple[Entry, ...], Meta(max_length=40_000)] = ()
    accepted: Annotated[tuple[Accepted, ...], Meta(max_length=MOST_ACCEPTED)] = ()

    def donor(self, end: str) -> DonorAxle | None:
        """The donor chosen for an end."""
        wanted = self.swap.front_donor if end == "front" else self.swap.rear_donor
        return next((d for d in self.swap.donors if d.id == wanted), None)

    def plan(self, end: str) -> AxlePlan:
        """What is to be changed on the axle of an end."""
        return self.swap.front_plan if end == "front" else self.swap.rear_plan

    def stays(self, end: str) -> bool:
        """Whether the axle of an end is under it already, or stays as an independent front does."""
        return self.plan(end).in_place or (end == "front" and self.rig.drivetrain.front_axle == "independent")

    def layout(self, end: str) -> Layout | None:
        """The layout in use at an end; none in front while an independent front stays."""
        if end == "front" and self.rig.drivetrain.front_axle == "independent":
            return None
        wanted = self.linkage.front_layout if end == "front" else self.linkage.rear_layout
        return next((one for one in self.linkage.layouts if one.id == wanted), None)

    def compared(self, end: str) -> Layout | None:
        """The layout that the one in use is held against, if any."""
        if self.layout(end) is None:
            return None
        wanted = self.linkage.front_compare if end == "front" else self.linkage.rear_compare
        return next((one for one in self.linkage.layouts if one.id == wanted), None)

    def card(self, assembly: str) -> BenchCard | None:
        """What was written down of an assembly at the bench."""
        return next((one for one in self.bench.cards if one.id == assembly), None)

    def search(self, end: str) -> Search | None:
        """What is asked of "find me a layout" at an end."""
        return next((one for one in self.linkage.searches if one.id == end), None)

    def survey(self, survey_id: str) -> Survey | None:
        """The survey with this id."""
        return next((one for one in self.tape.surveys if one.id == survey_id), None)

    def photo(self, picture_id: str) -> PlanePicture | None:
        """The photograph of a plane with this id."""
        return next((one for one in self.tape.photos if one.id == picture_id), None)

    def photo_names(self) -> tuple[str, ...]:
        """Names of all photos the project speaks of."""
        names = [name for card in self.bench.cards for step in card.steps for name in step.photos]
        names += [name for run in self.log.runs for name in run.photos]
        names += [one.photo for one in self.tape.photos]
        return tuple(dict.fromkeys(names))

    def joint(self, joint_id: str) -> Joint | None:
        """The joint record with this id."""
        return next((one for one in self.linkage.joints if one.id == joint_id), None)

    def entry(self, field: str) -> Entry | None:
        """How the number at a path came in, if anything is noted."""
        return _by_field(self.entries).get(field)


@remember_by_identity(8)
def _by_field(entries: tuple[Entry, ...]) -> dict[str, Entry]:
    """The notes by what they are about, the first of each: a drag asks for a hundred of them."""
    return {one.field: one for one in reversed(entries)}


GROUPS: dict[str, type[Frozen]] = {
    "tape": Tape,
    "swap": Swap,
    "linkage": Linkage,
    "fabrication": Fabrication,
    "bench": Bench,
}
"""The groups of a project and their kinds."""
GROUP_OF: dict[str, str] = {name: group for group, kind in GROUPS.items() for name in kind.__struct_fields__}
"""The group that each grouped part of a project stands in. Paths and files do not name groups: ``layouts.rear-a`` is the
layout with that id, in ``project.linkage``.
"""
PARTS: tuple[str, ...] = (
    "format", "version", "name", "notes", "settings", "rig", "surveys", "solids", "photos", "donors", "front_donor",
    "rear_donor", "front_plan", "rear_plan", "choosing", "loads", "prices", "own_costs", "shelf", "made",
    "inspections", "joints", "stock", "sawing", "copes", "plate", "stations", "made_parts", "welding", "gears",
    "cards", "fasteners", "cases", "brakes", "loose_ends", "first_drive", "build", "log", "cut_parts", "layouts",
    "springs", "seen", "load_cases", "targets", "searches", "front_layout", "rear_layout", "front_compare",
    "rear_compare", "entries", "accepted",
)  # fmt: skip
"""All parts of a project by the first word of their path, in the order of the file."""


def part_of(project: Project, name: str) -> Any:
    """The part of a project that the first word of a path names.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> p = read_project(demo_file("basalt.stoutlink")); part_of(p, "layouts") is p.linkage.layouts
    True
    """
    return getattr(getattr(project, GROUP_OF[name]) if name in GROUP_OF else project, name)


def with_parts(project: Project, **parts: Any) -> Project:
    """The next project with other parts, each in its group; all else is shared.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> p = read_project(demo_file("basalt.stoutlink")); q = with_parts(p, name="Other", layouts=())
    >>> q.name, q.linkage.layouts, q.linkage.joints is p.linkage.joints, q.swap is p.swap
    ('Other', (), True, True)
    """
    own = {name: value for name, value in parts.items() if name not in GROUP_OF}
    for group in dict.fromkeys(GROUP_OF[name] for name in parts if name in GROUP_OF):
        inner = {name: value for name, value in parts.items() if GROUP_OF.get(name) == group}
        own[group] = replace(getattr(project, group), **inner)
    return replace(project, **own)

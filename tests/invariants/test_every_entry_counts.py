"""No entry without effect: a number or choice of the document, changed in a project where it has a say, changes an
answer; what changes none is listed with its reason. A part of the fields each time, all with ``EVERY_ENTRY=1``.
"""

from __future__ import annotations

import os
from collections import defaultdict
from functools import cache
from typing import Any, get_args
from zlib import crc32

import msgspec
import pytest

from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.springing import SlipShaft
from stoutlink.core.document.swap import PartKind, ShelfPart
from stoutlink.core.document.weight import Scales
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.entries_that_count import Baseline, Field, others, places, taken

NAMES = ("id", "name", "notes", "format", "version", "example", "text", "field", "readings", "spread")
WITHOUT = {
    "Entry.basis": "how sure a number is, in words: its σ counts", "Accepted.code": "which finding", "Accepted.when": "a date", "Accepted.why": "words",
    "WheelEnd.trail_pressure_pa": "what the loaded radius was measured at", "WheelEnd.road_pressure_pa": "what the road radius was measured at",
    "Datum.stood": "a word: the rises count", "DonorAxle.weight_class": "a word to filter the list by", "DonorAxle.shaft_material": "a word: the core yield counts",
    "DonorAxle.outer_joint_class": "a word: the rating counts", "DonorAxle.end": "which list it stands in", "DonorAxle.maker": "a name", "DonorAxle.basis": "how the record came in",
    "Choosing.currency": "a word behind sums", "Link.side": "which of a pair: the pivots count", "Layout.end": "which end it hangs", "Layout.kind": "a name: the bars decide",
    "Layout.mirrored": "how hands move pivots", "Link.length_locked": "how hands move pivots", "Inspection.when": "a date", "Inspection.who": "a name", "InspectionCheck.note": "words",
    "OwnTarget.why": "words", "Settings.units": "how numbers are written", "BuiltReading.tool": "a word", "BuiltReading.when": "a date", "BuiltReading.by": "a name", "CareDone.by": "a name", "Hill.against": "which run stands beside it", "HandOver.untested": "words on the first page", "Bracket.link": "which pivot it holds", "Bracket.end": "which pivot it holds", "Reading.text": "as typed",
    "Layout.rejected": "words", "LinkReading.when": "a date", "LinkReading.who": "a name", "LinkReading.note": "words", "CutPart.when": "a date", "StationReading.when": "a date", "StraightReading.when": "a date", "GearSetup.source": "whose numbers", "GearSetup.trainer": "the housing it is played against", "GearReading.when": "a date", "WeldPlan.by": "a name", "BenchCard.who": "a name", "Worker.name": "a name", "Closed.why": "words", "TaskChange.when": "a date", "TaskChange.why": "words", "BuildPlan.bump": "which school's reason is given", "PartRecord.name": "a name", "StepWork.by": "a name", "StepWork.when": "a date", "BenchReading.when": "a date", "BenchReading.by": "a name", "BenchReading.tool": "a word", "Stop.resumed": "a date: whether it is there counts", "Tightened.wrench": "a word", "Tightened.when": "a date", "Tightened.by": "a name", "StepWork.photos": "pictures", "PlanePicture.photo": "a picture", "PlanePicture.shown": "drawn under the views", "Traced.kind": "where it can go", "Traced.solid": "what it becomes", "LooseEnd.when": "a date", "LooseEnd.by": "a name", "LooseEnd.closed_by": "a name", "FirstDrive.driver": "a name", "Fastener.assembly": "a place's own counts", "StepWork.kind": "how its numbers are written", "BenchReading.sigma": "shown where it is near its limit", "BeadTick.who": "a name", "PlateCutting.amps": "what the plasma table is told", "Stations.datum": "a word: what was read from it counts", "Seen.axle": "which record", "Seen.source": "words", "Seen.when": "a date", "Seen.claim": "words", "Seen.reason": "words", "Seen.doubt": "words", "Seen.price": "goes to the record by hand", "Seen.outcome": "a word", "Linkage.front_compare": "a ghost beside the layout", "Linkage.rear_compare": "a ghost beside the layout",
}  # fmt: skip
"""What changes no answer, and why."""
WHOLE = (
    "Layout.",
    "Project.",
    "Tape.",
    "Swap.",
    "Linkage.",
    "Fabrication.",
    "Bench.",
    "Steering.",
    "WeightBook.items",
    "Drivetrain.",
    "AxlePlan.gears",
    "SurveyPoint.",
    "Survey.",
    "TubeSolid.path_m",
    "OutlineSolid.",
    "DonorAxle.ratios",
    "LeafSpring.leaves",
    "LinkEnd.joint",
    "Driveshaft.in_hand",
    "LoadCase.items",
    "AirSpring.outside",
    "AxlePlan.fitted",
    "MadeAxle.",
    "Link.readings",
    "CutPart.sizes",
    "KeptSize.key",
    "Stations.readings",
    "Stations.straight",
    "GearReading.",
    "GearSetup.stacks",
    "GearSetup.attempts",
    "WeldPlan.left_out",
    "BenchCard.",
    "BuildPlan.",
    "DayClose.",
    "OwnTask.",
    "PartRecord.",
    "Trip.",
    "TripItem.",
    "MarkedPart.mark",
    "BrakeSystem.fittings",
    "FirstDrive.gates",
    "Fastener.tight",
    "StepWork.readings",
    "CaseFit.holes",
    "WeldPlan.seams",
    "WeldPlan.ticks",
    "Log.",
    "AsBuilt.readings",
    "Run.ends",
    "Run.numbers",
    "Run.felt",
    "Run.trial",
    "RunEnd.",
    "RunBar.",
    "CareItem.done",
    "Hill.points",
)
"""Parts of a project that are put in as a whole, and a record named by its id: their own fields are looked at."""
PART = 80
"""Two fields of so many are tried each time, chosen by its name, so that a new one does not change which."""


@cache
def projects() -> tuple[Project, ...]:
    """Both demos and versions in which other sources, plans and parts have a say."""
    basalt, tamarack = (read_project(demo_file(f"{n}.stoutlink")) for n in ("basalt", "tamarack"))
    few = [d for d in basalt.swap.donors if d.id in (basalt.swap.front_donor, basalt.swap.rear_donor)]
    basalt = with_parts(basalt, donors=tuple(few))
    rear = next(d for d in tamarack.swap.donors if d.end == "rear" and d.tube_od_m and d.pinion_offset_m is not None)
    front = next(d for d in tamarack.swap.donors if d.id == tamarack.swap.front_donor)
    tamarack = with_parts(tamarack, rear_donor=rear.id, donors=(front, rear))
    out = [basalt, tamarack]

    discs = msgspec.structs.replace(basalt.swap.rear_plan, fitted=("rear-discs",))
    with_discs = with_parts(basalt, rear_plan=discs)
    out.append(with_value(with_discs, "rig.fittings.parking_cable_end", "ball"))

    def version(**changes: Any) -> None:
        project = basalt
        for path, value in changes.items():
            project = with_value(project, path.replace("__", ".").replace("rear_a.", "rear-a."), value)
        out.append(project)

    at = "rig__weight__"
    version(**{f"{at}mass_from": "items", f"{at}along_from": "items", f"{at}height_from": "items", f"{at}curb_mass_kg": 1500.0,
               f"{at}curb_cg_ahead_m": 1.3, f"{at}curb_cg_height_m": 0.8})  # fmt: skip
    scales = Scales(front_kg=1000.0, rear_kg=980.0)
    version(**{f"{at}height_from": "tilt", f"{at}mass_from": "scales", f"{at}along_from": "scales", f"{at}scales": scales,
               f"{at}tilt__angle_rad": 0.35, f"{at}tilt__front_kg": 860.0, f"{at}tilt__rear_kg": 1120.0})  # fmt: skip
    version(rig__weight__height_from="bell_housing", rig__weight__bell_housing_m=0.9, rig__drivetrain__torque_curve=())
    no_roll_out = {
        f"rig__{e}__{k}": v for e in ("front", "rear") for k, v in (("roll_out_m", None), ("rolling_radius_m", 0.44))
    }
    version(
        **no_roll_out,
        rear_plan__width_m=1.6,
        front_plan__width_m=1.5,
        rear_plan__shaved=True,
        rig__fittings__anti_lock="fitted",
    )
    spare = {"spline_length_m": 0.047, "spline_engaged_m": 0.038, "neck_length_m": 0.04, "body_diameter_m": 0.04, "shave_m": 0.02,
             "floating": "semi", "parking_cable_end": "hook", "flange_bolt_count": 6, "flange_bolt_diameter_m": 0.01,
             "flange_bolt_circle_m": 0.12, "flange_dowel_count": 6, "flange_dowel_diameter_m": 0.012}  # fmt: skip
    version(rear_plan__width_m=1.6, rear_plan__shaved=True, rig__fittings__parking_cable_end="ball",
            **{f"donors__{basalt.swap.rear_donor}__{k}": v for k, v in spare.items()})  # fmt: skip
    kinds = tuple(ShelfPart(id=kind, name=kind, kind=kind) for kind in get_args(PartKind))
    bare = {"spline_pitch_per_in": None, "body_diameter_m": None, "spline_length_m": 0.047, "spline_engaged_m": 0.02,
            "neck_length_m": 0.001, "outer_spline_pitch_per_in": None, "outer_spline_teeth": 35}  # fmt: skip
    version(
        shelf=kinds, rear_plan__width_m=1.5, **{f"donors__{basalt.swap.rear_donor}__{k}": v for k, v in bare.items()}
    )
    version(layouts__rear_a__driveshaft__in_hand=None, layouts__rear_a__anti_roll_bar__station_m=-0.2,
            layouts__rear_a__anti_roll_bar__height_m=0.6)  # fmt: skip
    hand = SlipShaft(spline_m=0.14, showing_m=0.03, shown_at="taped", taped_m=0.8)
    version(layouts__rear_a__driveshaft__in_hand=hand, layouts__rear_a__links__upper_left__in_hand_m=0.93)
    return tuple(out)


@cache
def baseline(n: int) -> Baseline:
    return Baseline(projects()[n])


@cache
def spots() -> dict[Field, list[tuple[int, str, Any, Any]]]:
    """Every field with the places it stands at, filled ones first."""
    out: dict[Field, list[tuple[int, str, Any, Any]]] = defaultdict(list)
    for n, project in enumerate(projects()):
        for field, path, here, kind in places(project):
            out[field].append((n, path, here, kind))
    for found in out.values():
        # one place a project, the versions before the plain demos
        found.sort(key=lambda s: (s[2] is None, -s[0] if s[0] > 1 else s[0] + 10))
    return out


def counts(field: Field) -> bool | None:
    """Whether some change of the field changes some answer; None for what has no other value: a part of the project as
    a whole, whose own fields are looked at.
    """
    tried: dict[int, int] = defaultdict(int)
    for n, path, here, kind in spots()[field]:
        if tried[n] >= 14:
            continue
        for value in others(here, kind):
            after = taken(projects()[n], path, value)
            if after is None or tried[n] >= 14:
                continue
            tried[n] += 1
            if baseline(n).differs(after):
                return True
    return False if sum(tried.values()) else None


def wanted() -> list[Field]:
    listed = [f for f in sorted(spots()) if f[1] not in NAMES and f"{f[0]}.{f[1]}" not in WITHOUT]
    return (
        listed if os.environ.get("EVERY_ENTRY") else [f for f in listed if crc32(".".join(f).encode()) % PART in (3, 5)]
    )


@pytest.mark.timeout(3600)
def test_no_entry_without_effect() -> None:
    dead: list[str] = []
    untried: list[str] = []
    for field in wanted():
        found = counts(field)
        (dead if found is False else untried if found is None else []).append(".".join(field))
    assert not dead
    assert all(field.startswith(WHOLE) for field in untried), untried


def test_what_is_listed_is_there() -> None:
    """No reason for a field the document does not have."""
    known = {".".join(f) for f in spots()}
    unseen = {"Accepted.code", "Accepted.when", "Accepted.why", "OwnTarget.why"}  # lists empty in the demos
    assert set(WITHOUT) - known <= unseen

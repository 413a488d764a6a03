"""From project to numbers: schools, findings, cut list, donors, uncertainty, editing."""

from __future__ import annotations

import csv
import io
import math

import msgspec
import numpy as np
import pytest

from stoutlink.core.advice.verdict import Target, standing
from stoutlink.core.analysis.linkage.axle_motion import axle_motion, pose_at
from stoutlink.core.analysis.linkage.cut_list import layout_cuts
from stoutlink.core.analysis.swap.donor_in_rig import donor_in_rig
from stoutlink.core.analysis.vehicle.anti_numbers import load_share, school_height
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.document.paths import field_info, get_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.survey import Survey
from stoutlink.core.document.weight import WeightBook, WeightItem
from stoutlink.core.editing.edits import (
    AcceptKnockOn,
    ChooseDonor,
    Edit,
    MovePivot,
    PutInList,
    ReplaceList,
    SetChoice,
    SetMirrored,
    SetNumber,
    SetSource,
    TakeFromList,
)
from stoutlink.core.editing.history import Session
from stoutlink.core.editing.layout_edits import (
    CopyLayout,
    FitHoles,
    LockLength,
    MovePoint,
    PutLayout,
    SetTube,
    TakeLayout,
    UseLayout,
)
from stoutlink.core.editing.swap_edits import ChoosePair, ImportDonors, TakeDonor
from stoutlink.core.errors import CatalogueError, GeometryError, StoutError
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.reports.results import results
from stoutlink.core.storage.donor_table import read_donor_file, read_donors, write_donors
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.layouts import DOUBLE, JOINT, PARALLEL, REDUNDANT, THREE, layout, rig


def test_schools_differ_by_their_shares_only() -> None:
    one = axle_motion(rig(), layout(DOUBLE), (JOINT,))
    drive = one.ride.drive_percent
    assert drive["shared_open"]["whole_vehicle"] == pytest.approx(drive["full_thrust"]["whole_vehicle"] / 2)
    assert drive["shared_locked"]["whole_vehicle"] == pytest.approx(
        drive["full_thrust"]["whole_vehicle"] * load_share(rig(), "rear")
    )
    ratio = school_height(rig(), "whole_vehicle") / school_height(rig(), "sprung_mass")
    assert drive["full_thrust"]["sprung_mass"] == pytest.approx(drive["full_thrust"]["whole_vehicle"] * ratio)
    assert one.ride.brake_percent["whole_vehicle"] == pytest.approx(0.3 * drive["full_thrust"]["whole_vehicle"])


def test_front_axle_mirrors_the_rear() -> None:
    """The same links turned round under the front axle: its slope is the rear's."""
    back = axle_motion(rig(), layout(DOUBLE), (JOINT,))
    turned = [((-f[0], f[1], f[2]), (-a[0], a[1], a[2])) for f, a in DOUBLE]
    front = axle_motion(rig(), layout(turned, "front", shift=2.8), (JOINT,))
    assert front.ride.slope == pytest.approx(back.ride.slope)
    assert front.ride.roll_steer == pytest.approx(-back.ride.roll_steer)
    assert front.ride.pinion_per_metre == pytest.approx(back.ride.pinion_per_metre)
    assert front.ride.brake_percent["whole_vehicle"] == pytest.approx(
        0.7 * back.ride.drive_percent["full_thrust"]["whole_vehicle"]
    )
    assert front.heave.wheelbase_change == pytest.approx(back.heave.wheelbase_change, abs=1e-10)
    assert front.heave.pinion == pytest.approx(back.heave.pinion, abs=1e-10)


def test_pinion_rate_is_its_slope_over_travel() -> None:
    one = axle_motion(rig(), layout(THREE, pinion_up_rad=0.1, caster_rad=0.1), (JOINT,))
    middle, step = 60, 0.3 / 120
    slope = (one.heave.pinion[middle + 1] - one.heave.pinion[middle - 1]) / (2 * step)
    assert one.ride.pinion_per_metre == pytest.approx(slope, abs=1e-4)
    assert one.heave.caster is not None
    assert one.heave.caster[0][middle] == pytest.approx(0.1)
    apart = one.heave.caster[0] - one.heave.pinion
    assert np.abs(apart).max() < 2e-3  # pitch tips kingpin and forward-facing pinion alike, but for the small yaw


def test_wheelbase_per_side_by_hand() -> None:
    t = pose_at(rig(), layout(THREE), (JOINT,), 0.06, 0.15)
    yaw, half = float(t.poses.yaw[0]), 0.8
    across = math.sin(yaw) * math.cos(0.15) * half
    assert t.wheelbase_change_left[0] - t.wheelbase_change[0] == pytest.approx(across)
    assert t.wheelbase_change_right[0] - t.wheelbase_change[0] == pytest.approx(-across)


def test_redundant_bars_report_bind_and_degenerate_ones_say_so() -> None:
    found = Study(_project(layout(REDUNDANT)))
    assert any(f.code == "G204" for f in found.findings)
    with pytest.raises(GeometryError, match="sideways"):
        axle_motion(rig(), layout(PARALLEL), (JOINT,))
    bad = Study(_project(layout(PARALLEL)))
    assert bad.axles["rear"].motion is None
    assert bad.findings[0].code == "G110"
    assert bad.cuts == ()


def _project(*layouts: object, **changes: object) -> Project:
    base: dict[str, object] = {"joints": (JOINT,), "layouts": layouts, "rear_layout": "test"}
    return with_parts(Project(name="p", rig=rig()), **(base | changes))


def test_standing_in_a_band() -> None:
    band = Target(70, 90, "")
    assert [standing(v, 2.0, band) for v in (80, 88, 95, 60)] == ["in", "edge", "out", "out"]
    assert standing(80, 2.0, None) == "none"


def test_pinion_per_turn_is_the_resolved_pose() -> None:
    """Hand check: a turn lengthens the uppers by two pitches; over the upper-lower spread that tips the nose up."""
    one = layout(DOUBLE)
    cuts = layout_cuts(rig(), one, (JOINT,))
    upper = cuts[0]
    assert upper.pinion_per_turn is not None
    spread = 0.71 - 0.40
    by_hand = upper.cut.per_turn / spread
    assert upper.pinion_per_turn == pytest.approx(by_hand, rel=0.25)
    assert cuts[2].pinion_per_turn == pytest.approx(-upper.pinion_per_turn, rel=0.35)
    total = upper.cut.tube + upper.link.frame_end.take_up_m + upper.link.axle_end.take_up_m
    assert total == pytest.approx(math.dist(upper.link.frame_pivot_m, upper.link.axle_pivot_m))


def test_cut_findings() -> None:
    short = msgspec.structs.replace(JOINT, shank_m=0.09)
    found = {f.code for f in Study(_project(layout(DOUBLE), joints=(short,))).findings}
    assert {"C202", "K301"} <= found
    crowded = layout(DOUBLE)
    links = tuple(
        msgspec.structs.replace(
            x,
            frame_end=msgspec.structs.replace(x.frame_end, take_up_m=0.49),
            axle_end=msgspec.structs.replace(x.axle_end, take_up_m=0.49),
        )
        for x in crowded.links
    )
    found = {f.code for f in Study(_project(msgspec.structs.replace(crowded, links=links))).findings}
    assert "C201" in found


def test_cut_list_table_reads_back(basalt: Project) -> None:
    cuts = Study(basalt).cuts
    rows = list(csv.DictReader(io.StringIO(cut_list_csv(cuts, ()))))
    assert len(rows) == 8
    for row, cut in zip(rows, cuts, strict=True):
        whole = float(row["tube_cut_m"]) + float(row["frame_take_up_m"]) + float(row["axle_take_up_m"])
        read = [r.value_m for r in cut.link.readings]
        planned = math.dist(cut.link.frame_pivot_m, cut.link.axle_pivot_m)
        assert whole == pytest.approx(sum(read) / len(read) if read else planned, abs=3e-5)
        assert float(row["tube_cut_in"]) * 0.0254 == pytest.approx(float(row["tube_cut_m"]), abs=1e-5)


def test_results_hold_no_guess(basalt: Project) -> None:
    data = results(Study(basalt), ((0.1, 0.05), (-1.0, 0.0)))
    text = msgspec.json.encode(data)
    assert b"NaN" not in text
    rear = data["axles"]["rear"]
    assert rear["poses"][0]["reached"]
    assert rear["poses"][1] == {
        "heave_m": -1.0,
        "roll_deg": 0.0,
        "reached": False,
        "why": "the links bind before this pose",
    }
    assert len(rear["heave_sweep"]["heave_m"]) == 121
    assert rear["heave_sweep"]["anti_squat_pct"][60] == pytest.approx(
        rear["anti_squat_pct"]["full_thrust"]["whole_vehicle"]
    )


def test_donor_numbers_by_hand(basalt: Project) -> None:
    donor = basalt.donor("rear")
    assert donor is not None
    stated = msgspec.structs.replace(
        basalt.rig, weight=WeightBook(), rear=msgspec.structs.replace(basalt.rig.rear, roll_out_m=None)
    )
    it = donor_in_rig(stated, donor)
    assert it.major is not None
    assert it.major / 0.0254 == pytest.approx(37 / 24)
    assert it.crawl_ratio == pytest.approx(3.06 * 3.4 * 49 / 9)
    circumference = 2 * math.pi * stated.rear.rolling
    assert it.rpm_at_road_speed == pytest.approx(24.5872 / circumference * 60 * 0.70 * 49 / 9)
    load = 1990 * 9.80665 * (1 - 1.3716 / 2.66065)
    assert it.demand_one_wheel == pytest.approx(1.5 * 0.9 * load * 0.473075, rel=1e-6)


def test_donor_catalogue_round_trip_and_bad_rows() -> None:
    table = read_donor_file(demo_file("donors.csv"))
    assert len(table.axles) >= 24
    assert table.problems == ()
    assert read_donors(write_donors(table.axles)).axles == table.axles
    lines = write_donors(table.axles).splitlines()
    broken = "\ufeff" + "\n".join(
        [lines[0], lines[1].replace(",27,", ",many,", 1), lines[2], lines[2], lines[3] + ",9"]
    )
    bad = read_donors(broken)
    assert len(bad.axles) == 1
    assert [p.split(",")[0] for p in bad.problems] == ["Line 2", "Line 4", "Line 5"]
    assert "spline_teeth" in bad.problems[0]
    assert "many" in bad.problems[0]
    semicolons = "id;name;end;spline_teeth;ring_teeth;pinion_teeth;ring_diameter_m;width_m;bolt_count;bolt_circle_m;tube_od_m;tube_wall_m;weight_kg"
    assert read_donors(semicolons + "\nx;X;rear;30;41;10;0.22;1.6;6;0.14;0.08;0.008;90\n").axles[0].spline_teeth == 30
    with pytest.raises(CatalogueError, match="has no column"):
        read_donors("a,b\n1,2\n")


EDITS: list[Edit] = [
    SetNumber("rig.cg_height_m", 0.9, "35 7/16", "measured"),
    SetChoice("rig.road_legal", True),
    MovePivot("rear-a", "upper_left", "frame", (0.9, 0.4, 0.8)),
    SetMirrored("rear-a", False),
    ChooseDonor("rear", None),
    AcceptKnockOn(("K120 a/b",), "today", "spare fits"),
    SetSource("rig.wheelbase_m", "memory", 0.01),
    PutInList("surveys", Survey(id="third", name="Third"), "Start a survey"),
    TakeFromList("rig.weight.items", ("fuel",), "Remove it"),
    ReplaceList("rig.drivetrain.gear_ratios", (3.5, 1.0), "Other gears"),
    TakeDonor("gs-30f"),
    CopyLayout("rear-a", "rear-b", "Second cut"),
    TakeLayout("rear-a"),
    UseLayout("rear-a", "other-rear"),
    PutLayout(layout(DOUBLE, id="new-rear"), (JOINT,), "Start a layout"),
    FitHoles("rear-a", (("upper-frame", 1), ("lower-frame", 3))),
    MovePoint("layouts.front-a.steering.pitman_m", (2.8, 0.4, 0.7), "the pitman end"),
    LockLength("rear-a", "upper_left", True),
    SetTube("rear-a", "lower_left", 0.0508, 0.00635),
    ChoosePair(
        DonorAxle(id="one", name="One", end="front"),
        DonorAxle(id="two", name="Two", end="rear"),
        ToothPair(ring=41, pinion=10),
        None,
    ),
]


@pytest.mark.parametrize("edit", EDITS, ids=lambda e: type(e).__name__)
def test_every_edit_does_undoes_and_redoes(basalt: Project, edit: Edit) -> None:
    spare = msgspec.structs.replace(basalt.linkage.layouts[0], id="other-rear")
    basalt = with_parts(basalt, layouts=(*basalt.linkage.layouts, spare))
    session = Session(basalt, basalt)
    after = session.do(edit)
    assert after != basalt
    assert session.changed
    assert session.undo_label == edit.label
    assert session.undo() is basalt
    assert not session.changed
    assert session.redo() is after


def test_importing_donors_replaces_by_id_and_undoes(basalt: Project) -> None:
    renamed = msgspec.structs.replace(basalt.swap.donors[0], name="Same axle, measured again")
    session = Session(basalt)
    after = session.do(ImportDonors((renamed, msgspec.structs.replace(renamed, id="other"))))
    assert [d.name for d in after.swap.donors if d.id == renamed.id] == ["Same axle, measured again"]
    assert len(after.swap.donors) == len(basalt.swap.donors) + 1
    assert session.undo() is basalt


def test_a_drag_is_one_step_and_gestures_end(basalt: Project) -> None:
    session = Session(basalt)
    for i in range(5):
        session.do(MovePivot("rear-a", "upper_left", "frame", (0.9 + i / 100, 0.4, 0.8), gesture="g"))
    session.end_gesture()
    session.do(MovePivot("rear-a", "upper_left", "frame", (1.0, 0.4, 0.8), gesture="g"))
    session.undo()
    assert get_value(session.project, "layouts.rear-a.links.upper_left.frame_pivot_m.0") == pytest.approx(0.94)
    assert session.undo() is basalt


def test_mirrored_editing_and_letting_go(basalt: Project) -> None:
    moved = MovePivot("rear-a", "upper_right", "axle", (0.05, -0.2, 0.75)).apply(basalt)
    assert get_value(moved, "layouts.rear-a.links.upper_left.axle_pivot_m") == (0.05, 0.2, 0.75)
    free = MovePivot("rear-a", "upper_left", "axle", (0.05, 0.3, 0.75)).apply(SetMirrored("rear-a", False).apply(moved))
    assert get_value(free, "layouts.rear-a.links.upper_right.axle_pivot_m") == (0.05, -0.2, 0.75)
    tied = SetMirrored("rear-a", True).apply(free)
    assert get_value(tied, "layouts.rear-a.links.upper_right.axle_pivot_m") == (0.05, -0.3, 0.75)


@pytest.mark.parametrize(
    "edit",
    [
        SetNumber("rig.wheelbase_m", 99.0), SetNumber("rig.mass_kg", None), SetChoice("rig.drivetrain.coupling", "rubber band"), SetNumber("rig.wheelbase_m", float("nan")),
        MovePivot("rear-a", "upper_left", "frame", (99.0, 0, 0)), MovePivot("rear-a", "gone", "frame", (1.0, 0, 0)), MovePivot("gone", "x", "axle", (1.0, 0, 0)),
        PutInList("rig.weight.items", WeightItem(id="x", name="x", mass_kg=99999.0), "Too heavy"), ReplaceList("rig.drivetrain.gear_ratios", (), "No gears"),
        SetSource("rig.mass_kg", "measured", -1.0), SetNumber("rig.rear.tyre_free_radius_m", 0.9),
    ],
)  # fmt: skip
def test_a_refused_edit_changes_nothing(basalt: Project, edit: Edit) -> None:
    session = Session(basalt)
    with pytest.raises(StoutError):
        session.do(edit)
    assert session.project is basalt
    assert session.undo_label is None


def test_typed_text_stays_beside_its_value_until_the_value_moves(basalt: Project) -> None:
    path = "layouts.rear-a.links.upper_left.frame_pivot_m.0"
    typed = MovePivot("rear-a", "upper_left", "frame", (0.9017, 0.4191, 0.81915), texts=("35 1/2", "", "")).apply(
        basalt
    )
    entry = typed.entry(path)
    assert entry is not None
    assert entry.text == "35 1/2"
    assert MovePivot("rear-a", "upper_left", "frame", (0.95, 0.4191, 0.81915)).apply(typed).entry(path) is None


def test_every_number_has_a_title_and_help(basalt: Project) -> None:
    for path in (
        "rig.wheelbase_m",
        "rig.rear.loaded_radius_m",
        "rig.drivetrain.gear_ratios.0",
        "layouts.rear-a.links.upper_left.tube_od_m",
    ):
        info = field_info(basalt, path)
        assert info.title
        assert info.help_text.endswith(".")
        assert info.low < info.high
    with pytest.raises(KeyError):
        field_info(basalt, "rig.name")

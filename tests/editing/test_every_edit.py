"""Every class of edit is found, done, undone and redone; what it does not touch stays the very same value."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Iterator
from typing import Any

import msgspec
import pytest

from stoutlink.core import editing
from stoutlink.core.analysis.log.runs import then
from stoutlink.core.document import checking
from stoutlink.core.document.bench import BenchReading, DriveGate, Fastener, Tightened
from stoutlink.core.document.groups import OwnTarget
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.link_work import LinkReading
from stoutlink.core.document.log import BuiltReading, CareDone
from stoutlink.core.document.paths import parts_of
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.stations import StationReading, StraightReading
from stoutlink.core.document.survey import Reading, SurveyPoint
from stoutlink.core.editing import (
    bench_edits,
    edits,
    layout_edits,
    link_edits,
    log_edits,
    picture_edits,
    plan_edits,
    spring_edits,
    steering_edits,
    swap_edits,
    weld_edits,
)
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.history import Session
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file

UPPER = (0.91, 0.42, 0.82)


def one_of_each(p: Project) -> list[Edit]:
    """At least one edit of every class that changes the demo rig."""
    rear, front = p.layout("rear"), p.layout("front")
    assert rear is not None
    assert front is not None
    heavy = next(d for d in p.swap.donors if d.end == "rear" and d.id != p.swap.rear_donor)
    other = next(d for d in p.swap.donors if d.end == "front" and d.id != p.swap.front_donor)
    station = SurveyPoint(id="new", station=(Reading(value_m=1.0),))
    path = "layouts.rear-a.links.upper_left.tube_od_m"
    return [
        edits.SetNumber("rig.wheelbase_m", 2.7, "106 5/16", "measured"),
        edits.SetNumber(path, 0.05),
        edits.SetSource("rig.wheelbase_m", "memory", 0.012),
        edits.PutInList("surveys.as-built.points", station, "Add"),
        edits.PutInList("targets", OwnTarget(id="rear-drive", low=80.0, high=120.0), "Want"),
        edits.PutInList("donors", msgspec.structs.replace(heavy, notes="looked at"), "Note"),
        edits.TakeFromList("rig.weight.items", ("crew",), "Take"),
        edits.ReplaceList("rig.drivetrain.gear_ratios", (3.0, 1.7, 1.0), "Gears"),
        edits.ReplaceList("springs", p.linkage.springs[:3], "Springs"),
        edits.SetChoice("settings.units", "mm"),
        edits.SetChoice("choosing.currency", "fr", "currency"),
        edits.SetChoice("rig.name", "Another name"),
        edits.SetChoice("layouts.front-a.steering", None, "steering"),
        edits.MovePivot("rear-a", "upper_left", "frame", UPPER, texts=("35 7/8", "", "")),
        edits.SetMirrored("rear-a", False),
        edits.ChooseDonor("rear", heavy),
        edits.AcceptKnockOn(("A101 x",), "today", "it is meant"),
        layout_edits.CopyLayout("rear-a", "rear-b", "Second"),
        layout_edits.TakeLayout("front-a"),
        layout_edits.UseLayout("rear-a", "rear-a" if p.linkage.rear_compare else None)
        if p.linkage.rear_compare
        else layout_edits.UseLayout("rear-a", "rear-z"),
        layout_edits.PutLayout(msgspec.structs.replace(rear, id="rear-n", name="New"), (), "Start"),
        layout_edits.OwnJoint("rear-a", "upper_left", "axle", "Ours"),
        layout_edits.FitHoles("rear-a", ((rear.brackets[0].id, 1 if rear.brackets[0].hole != 1 else 2),)),
        layout_edits.MovePoint("layouts.front-a.steering.pitman_m", (2.9, 0.24, 0.61), "pitman"),
        layout_edits.FollowRails("rear-a", (("upper_left", UPPER),)),
        layout_edits.LockLength("rear-a", "lower_left", True),
        layout_edits.SetTube("rear-a", "lower_left", 2.5 * INCH, 0.5 * INCH),
        spring_edits.TakeOffer("rear-a", p.linkage.springs[0].id),
        steering_edits.FitSteeringHoles("front-a", 1, 1),
        swap_edits.ImportDonors((msgspec.structs.replace(other, id="come-in", name="Come in"),)),
        swap_edits.TakeDonor(heavy.id),
        swap_edits.TakeExamples(),
        swap_edits.FitPart(p.swap.shelf[0].id, None if p.swap.shelf[0].id in p.swap.rear_plan.fitted else "rear"),
        swap_edits.ChoosePair(other, heavy),
        swap_edits.StartMade("made-1", heavy.id),
        weld_edits.TickBeads("rear", ("bead-1",), "welded", "2026-11-23T10:00:00", "H. K."),
        weld_edits.TakeTickBack("rear", p.fabrication.welding[0].ticks[-1].bead),
        bench_edits.TakeReading("rear", "ratio", "ratio", BenchReading(values=(4.1,)), "ratio", str(p.swap.rear_donor)),
        bench_edits.TakeReading(
            "rear", "weighed", "mass", BenchReading(values=(250.0,)), "weight", str(p.swap.rear_donor)
        ),
        bench_edits.MarkStep("steering", "box", "number", "done", "2026-11-29", "Ida"),
        bench_edits.AddLimits("rear", "bearings", "fine_length"),
        bench_edits.AddPhoto("rear", "drained", "number", "0" * 64 + ".jpg"),
        bench_edits.Tighten(Fastener(id="rear-caps"), Tightened(count=4, torque_nm=110.0)),
        bench_edits.Loosen(Fastener(id="rear-wheels")),
        bench_edits.SignGate(DriveGate(id="again", by="Ida")),
        bench_edits.ToOtherAxle("front", "cover", "2026-11-29"),
        weld_edits.LeaveSeamOut("rear", "lower-axle-left-1-inboard", True),
        plan_edits.TakeParts(
            (("driveshaft-rear", "", {"paid": 12.5, "state": "here"}), ("", "Freight", {"price_each": 9.0}))
        ),
        plan_edits.TaskOfKnockOn(("K143 x",), "Lines made", "brakes", "donors"),
        plan_edits.MarkTask("rear:out", "done", "2026-09-21", "Out"),
        log_edits.TakeBuilt(BuiltReading(id="n", end="rear", of="up", a="upper_left:frame", value=0.8)),
        log_edits.TakeAsBuilt(msgspec.structs.replace(rear, id="rear-a-built", name="As built")),
        log_edits.MarkFelt(p.log.runs[0].id, "leans", 3),
        log_edits.PutBack(then(p, p.log.runs[1]), "second"),
        log_edits.CareWasDone(p.log.care[0].id, CareDone(when="2026-11-29", driven_m=5e5)),
        picture_edits.StandOn("right-rail", "m2", "tail tube", (0.5, 0.7), (0.004, 0.002)),
        picture_edits.PivotFromPicture(
            edits.MovePivot("rear-a", "upper_left", "frame", UPPER),
            ("layouts.rear-a.links.upper_left.frame_pivot_m.0",),
            (0.003,),
        ),
        log_edits.AddRunPhoto(p.log.runs[0].id, "1" * 64 + ".png"),
        plan_edits.CloseDay("2026-09-22", "Left as it is.", "Ida"),
        link_edits.ReadStraight("rear", StraightReading(side="left", stage="tacked", miss_m=0.001, clock=4.5)),
        link_edits.ReadStation("rear", StationReading(of="span", stage="tacked", value_m=1.37)),
        *(
            link_edits.TakeStationBack(x.id, x.readings[-1].of, x.readings[-1].stage)
            for x in p.fabrication.stations
            if x.readings
        ),
        link_edits.ReadLength("rear-a", "upper_right", LinkReading(value_m=0.9, sigma_m=0.001)),
        link_edits.SetLinkStage("rear-a", "lower_right", "cut", 1.05),
        *(link_edits.TakeReadingBack(rear.id, x.id) for x in rear.links if x.readings),
        *(
            swap_edits.MakeOf(m.id, "gears", next(d.id for d in p.swap.donors if d.end == "rear" and d.id != m.gears))
            for m in p.swap.made[:1]
        ),
        *(
            layout_edits.MoveLeaf(x.id, "front_eye", (x.leaf.front_m - 0.03, 0.55, x.leaf.front_eye_z_m))
            for x in p.linkage.layouts
            if x.leaf and x.end == "rear"
        ),
    ]


def classes(of: type[Any] = Edit) -> Iterator[type[Any]]:
    """All edits there are, wherever they are written."""
    for module in pkgutil.iter_modules(editing.__path__):
        importlib.import_module(f"{editing.__name__}.{module.name}")
    for one in of.__subclasses__():
        yield one
        yield from classes(one)


def unshared(before: Any, after: Any, path: str = "") -> Iterator[str]:
    """Places where a value that is the same in both is not the very same object."""
    if before is after or isinstance(before, str | int | float | bool) or before is None or before == ():
        return
    if type(before) is type(after) and before == after:
        yield path
    elif isinstance(before, msgspec.Struct) and type(before) is type(after):
        for (name, old), (_, new) in zip(parts_of(before), parts_of(after), strict=True):
            yield from unshared(old, new, f"{path}.{name}")
    elif isinstance(before, tuple) and isinstance(after, tuple):
        known = {_name(one, i): one for i, one in enumerate(before)}
        for i, one in enumerate(after):
            name = _name(one, i)
            if name in known:
                yield from unshared(known[name], one, f"{path}.{name}")


def _name(one: Any, i: int) -> Any:
    return getattr(one, "id", None) or getattr(one, "field", None) or i


@pytest.fixture
def rig(basalt: Project) -> Project:
    """The demo with a second rear layout to hold against, one of leaves, and an axle made of several."""
    copied = layout_edits.CopyLayout("rear-a", "rear-z", "Held").apply(basalt)
    copied = with_parts(copied, stations=())
    copied = link_edits.ReadStation("rear", StationReading(of="span", stage="before", value_m=1.37)).apply(copied)
    copied = link_edits.ReadLength("rear-a", "lower_left", LinkReading(value_m=1.04)).apply(copied)
    copied = swap_edits.StartMade("made-0", next(d.id for d in basalt.swap.donors if d.end == "rear")).apply(copied)
    leaves = read_project(demo_file("tamarack.stoutlink")).layout("rear")
    assert leaves is not None
    copied = layout_edits.PutLayout(msgspec.structs.replace(leaves, id="rear-l"), (), "Start").apply(copied)
    return with_parts(copied, rear_layout="rear-a", rear_compare=None)


def test_no_class_of_edit_is_left_out(rig: Project) -> None:
    assert {type(one) for one in one_of_each(rig)} == set(classes())


@pytest.mark.parametrize("n", range(65))
def test_done_undone_and_redone_it_is_the_same_and_shares_what_it_did_not_touch(rig: Project, n: int) -> None:
    edit = one_of_each(rig)[n]
    session = Session(rig, rig)
    after = session.do(edit)
    assert after != rig, edit.label
    assert edit.label[0].isupper()
    assert list(unshared(rig, after)) == []
    assert session.undo() is rig
    assert not session.changed
    assert session.redo() is after
    assert session.undo_label == edit.label
    assert decode_project(encode_project(after)) == after


def test_all_are_done(rig: Project) -> None:
    assert len(one_of_each(rig)) == 67


@pytest.mark.parametrize(
    ("edit", "refused"),
    [
        (edits.SetChoice("settings.units", "furlong", "units"), "Units cannot be “furlong”"),
        (edits.SetChoice("rig.drivetrain.transfer_case", 7, "transfer case"), "Transfer case cannot be “7”"),
        (edits.ReplaceList("rig.drivetrain.gear_ratios", (3.0, 99.0), "Gears"), "99"),
        (layout_edits.MovePoint("layouts.front-a.steering.pitman_m", (99.0, 0.0, 0.5), "pitman"), "3897.64"),
        (edits.SetNumber("rig.cg_ahead_of_rear_m", 7.0), "not less than the wheelbase"),
    ],
)
def test_what_cannot_be_is_refused_in_a_sentence_and_nothing_moves(rig: Project, edit: Edit, refused: str) -> None:
    session = Session(rig, rig)
    with pytest.raises(Exception, match=refused):
        session.do(edit)
    assert session.project is rig
    assert session.undo_label is None


def test_a_drag_checks_one_layout_however_large_the_catalogue_is(rig: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    looked: list[str] = []
    real = checking._check_layout

    def look(one: Layout, joints: set[str], unit: UnitSystem) -> None:
        looked.append(one.id)
        real(one, joints, unit)

    monkeypatch.setattr(checking, "_check_layout", look)
    monkeypatch.setattr(checking, "donor_trouble", lambda one: looked.append(one.id))
    edits.MovePivot("rear-a", "upper_left", "frame", UPPER).apply(rig)
    assert looked == ["rear-a"]
    checking.check_project(rig)
    assert len(looked) == 1 + len(rig.linkage.layouts) + len(rig.swap.donors)

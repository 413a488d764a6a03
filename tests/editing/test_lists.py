"""Edits of lists: adding, replacing, inserting, removing; notes go with what they were about."""

from __future__ import annotations

import msgspec
import pytest

from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import TorquePoint
from stoutlink.core.document.survey import Reading, Survey, SurveyPoint
from stoutlink.core.document.weight import WeightItem
from stoutlink.core.editing.edits import MovePivot, PutInList, ReplaceList, SetNumber, SetSource, TakeFromList
from stoutlink.core.editing.history import Session
from stoutlink.core.errors import ValueOutOfRange

POINTS = "surveys.as-built.points"


def order(project: Project) -> list[str]:
    return [p.id for p in project.tape.surveys[0].points]


def test_new_things_go_to_the_end_behind_another_or_to_the_front(basalt: Project) -> None:
    point = SurveyPoint(id="new")
    before = order(basalt)
    assert order(PutInList(POINTS, point, "x").apply(basalt)) == [*before, "new"]
    assert order(PutInList(POINTS, point, "x", "p2").apply(basalt)) == ["p1", "p2", "new", *before[2:]]
    assert order(PutInList(POINTS, point, "x", "").apply(basalt)) == ["new", *before]


def test_a_known_id_is_replaced_in_its_place(basalt: Project) -> None:
    changed = msgspec.structs.replace(basalt.tape.surveys[0].points[3], name="here")
    after = PutInList(POINTS, changed, "x").apply(basalt)
    assert order(after) == order(basalt)
    assert after.tape.surveys[0].points[3].name == "here"


def test_edits_of_one_gesture_are_one_step(basalt: Project) -> None:
    session = Session(basalt)
    for i in range(4):
        item = msgspec.structs.replace(basalt.rig.weight.items[0], x_m=1.0 + i / 10)
        session.do(PutInList("rig.weight.items", item, "Move it", gesture="drag 1"))
    assert session.undo() is basalt


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (
            PutInList("rig.weight.items", WeightItem(id="a", name="a", mass_kg=9999.0), "x"),
            "Weight of the item cannot be 22044 lb",
        ),
        (PutInList(POINTS, SurveyPoint(id="a", station=(Reading(value_m=999.0),)), "x"), "Reading cannot be 39330.71″"),
        (PutInList("surveys", Survey(id="No Good", name="a"), "x"), "Id cannot be “No Good”"),
        (ReplaceList("rig.drivetrain.torque_curve", (TorquePoint(rpm=50.0, torque_nm=100.0),), "x"), "rpm"),
        (ReplaceList("rig.drivetrain.gear_ratios", (99.0,), "x"), "Gear ratio cannot be 99.00:1"),
    ],
)
def test_values_out_of_range_are_refused_in_one_sentence(
    basalt: Project, edit: PutInList | ReplaceList, words: str
) -> None:
    with pytest.raises(ValueOutOfRange, match=words) as told:
        edit.apply(basalt)
    assert "\n" not in told.value.sentence
    assert told.value.sentence.endswith(".")


def test_notes_leave_with_what_they_were_about(basalt: Project) -> None:
    assert basalt.entry("rig.weight.items.crew.mass_kg") is not None
    gone = TakeFromList("rig.weight.items", ("crew",), "x").apply(basalt)
    assert gone.entry("rig.weight.items.crew.mass_kg") is None
    assert len(gone.entries) == len(basalt.entries) - 1
    noted = SetNumber("rig.drivetrain.gear_ratios.1", 1.7, "1.7", "measured").apply(basalt)
    assert noted.entry("rig.drivetrain.gear_ratios.1") is not None
    assert (
        ReplaceList("rig.drivetrain.gear_ratios", (3.0, 1.0), "x").apply(noted).entry("rig.drivetrain.gear_ratios.1")
        is None
    )


def test_how_sure_is_kept_beside_the_number_and_leaves_it_alone(basalt: Project) -> None:
    after = SetSource("rig.wheelbase_m", "memory", 0.012).apply(basalt)
    entry = after.entry("rig.wheelbase_m")
    assert entry is not None
    assert (entry.basis, entry.sigma, entry.text) == ("memory", 0.012, "104 3/4")
    assert after.rig is basalt.rig
    typed = SetSource("rig.front.track_m", "typed").apply(basalt)
    assert typed.entry("rig.front.track_m") is None  # nothing worth a note


def test_an_instruments_reading_is_noted_with_its_scatter(basalt: Project) -> None:
    after = SetNumber("rig.weight.scales.front_left_kg", 530.0, "", "measured", "", None, 16, 0.24).apply(basalt)
    entry = after.entry("rig.weight.scales.front_left_kg")
    assert entry is not None
    assert (entry.readings, entry.spread) == (16, 0.24)


def test_a_dragged_pivot_forgets_the_doubt_of_what_was_typed(basalt: Project) -> None:
    path = "layouts.rear-a.links.upper_left.frame_pivot_m.2"
    to = (0.9017, 0.4191, 0.80)
    typed = MovePivot("rear-a", "upper_left", "frame", to, texts=("", "", "31 1/2"), sigma=0.01).apply(basalt)
    entry = typed.entry(path)
    assert entry is not None
    assert entry.sigma == 0.01
    assert MovePivot("rear-a", "upper_left", "frame", (0.9017, 0.4191, 0.79)).apply(typed).entry(path) is None


def test_a_list_takes_no_more_than_a_file_may_hold(basalt: Project) -> None:
    """A project with more surveys than the format allows could be saved and never opened again."""
    full = basalt
    for i in range(24 - len(basalt.tape.surveys)):
        full = PutInList("surveys", Survey(id=f"more-{i}", name="More"), "x").apply(full)
    with pytest.raises(ValueOutOfRange, match="24"):
        PutInList("surveys", Survey(id="too-many", name="More"), "x").apply(full)
    again = msgspec.structs.replace(full.tape.surveys[-1], name="Renamed")
    assert PutInList("surveys", again, "x").apply(full).tape.surveys[-1].name == "Renamed"


def test_a_refused_reading_says_what_would_do(basalt: Project) -> None:
    with pytest.raises(ValueOutOfRange) as told:
        PutInList(POINTS, SurveyPoint(id="a", station=(Reading(value_m=2540.0),)), "x").apply(basalt)
    assert told.value.sentence == "Reading cannot be 100000″; accepted is −5118.11″ to 5118.11″."  # ± 130 m


def test_saying_how_sure_keeps_what_the_instrument_told(basalt: Project) -> None:
    path = "rig.weight.scales.front_left_kg"
    read = SetNumber(path, 530.0, "", "measured", "", None, 16, 0.24).apply(basalt)
    entry = SetSource(path, "measured", 2.0).apply(read).entry(path)
    assert entry is not None
    assert (entry.readings, entry.spread, entry.sigma) == (16, 0.24, 2.0)

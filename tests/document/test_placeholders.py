"""Placeholders: numbers nobody has entered refuse nothing, give way, and stand in no result."""

from __future__ import annotations

import math
import random

import msgspec
import pytest

from stoutlink.core.document.paths import field_info, get_value
from stoutlink.core.document.placeholders import (
    entered_by_nobody,
    is_placeholder,
    placeholder_paths,
    refitted,
    with_placeholders,
)
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import TorquePoint
from stoutlink.core.document.weight import WeightItem
from stoutlink.core.editing.edits import PutInList, ReplaceList, SetChoice, SetNumber
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


@pytest.fixture
def empty() -> Project:
    return read_project(demo_file("starter.stoutlink"))


def put(project: Project, **numbers: float) -> Project:
    """Numbers of the rig, one after the other."""
    for key, value in numbers.items():
        project = SetNumber(f"rig.{key.replace('__', '.')}", value, str(value), "measured").apply(project)
    return project


ALONE = [
    *("wheelbase_m", "mass_kg", "cg_height_m", "cg_ahead_of_rear_m"),
    *(
        f"{end}.{key}"
        for end in ("front", "rear")
        for key in (
            *("track_m", "tyre_free_radius_m", "loaded_radius_m", "loaded_radius_road_m", "rolling_radius_m"),
            *("unsprung_mass_kg", "roll_out_m"),
        )
    ),
    *("drivetrain.engine_torque_nm", "drivetrain.gear_ratios.0", "drivetrain.transfer_low_ratio"),
    *("weight.curb_mass_kg", "weight.curb_cg_ahead_m", "weight.curb_cg_height_m", "weight.bell_housing_m"),
]


@pytest.mark.parametrize("key", ALONE)
def test_whatever_is_entered_first_is_taken(empty: Project, key: str) -> None:
    """A placeholder never refuses a typed value: either end of every field's range stands on an empty project."""
    info = field_info(empty, f"rig.{key}")
    ends = (6.0, 9.0) if key.endswith("roll_out_m") else (info.low, info.high)  # three turns of a tyre that can be
    for value in (*ends, 0.5 * sum(ends)):
        after = SetNumber(f"rig.{key}", value, "", "measured").apply(empty)
        assert get_value(after, f"rig.{key}") == value
        assert not is_placeholder(after, f"rig.{key}")
        assert decode_project(encode_project(after)) == after
        Study(after).findings  # noqa: B018  -- nothing of it fails


USUAL = {
    "wheelbase_m": (2.0, 4.0), "front.track_m": (1.3, 1.9), "rear.track_m": (1.3, 1.9), "mass_kg": (900.0, 3500.0), "cg_height_m": (0.6, 1.1),
    "front.tyre_free_radius_m": (0.35, 0.55), "rear.tyre_free_radius_m": (0.35, 0.55), "drivetrain.engine_torque_nm": (150.0, 900.0),
    "drivetrain.gear_ratios.0": (2.5, 6.0), "drivetrain.gear_ratios.1": (0.6, 1.0), "drivetrain.transfer_low_ratio": (1.8, 4.5), "cg_ahead_of_rear_m": (0.9, 1.9),
}  # fmt: skip


@pytest.mark.parametrize("seed", range(8))
def test_in_whatever_order_a_rig_is_entered_it_ends_whole(empty: Project, seed: int) -> None:
    rng = random.Random(seed)
    order = list(USUAL)
    rng.shuffle(order)
    project, left = empty, len(placeholder_paths(empty.entries))
    assert left == len(USUAL)
    for key in order:
        low, high = USUAL[key]
        project = SetNumber(f"rig.{key}", rng.uniform(low, high), "1", "measured").apply(project)
        left -= 1
        assert len(Study(project).needs) == left
    assert refitted(project, empty) is project
    assert all(
        n.value is not None for name, n in Study(project).rig_numbers().items() if name.endswith(("load", "mass"))
    )


def test_a_printed_size_stands_in_place_of_a_radius_nobody_measured(empty: Project) -> None:
    after = SetChoice("rig.rear.tyre_text", "35x12.50R17").apply(empty)
    assert after.rig.rear.tyre_free_radius_m is None
    assert after.rig.rear.free == pytest.approx(0.5 * 35 * 0.0254)
    assert [n.words for n in Study(after).needs[:2]] == ["Wheelbase", "Front tyre"]
    assert SetChoice("rig.rear.tyre_text", "about this high").apply(empty).rig.rear.tyre_free_radius_m is not None
    measured = put(empty, rear__tyre_free_radius_m=0.44)
    kept = SetChoice("rig.rear.tyre_text", "35x12.50R17").apply(measured)
    assert kept.rig.rear.free == 0.44  # what was measured is not replaced by what is printed


def test_four_scales_count_as_soon_as_they_are_typed(empty: Project) -> None:
    loads = {"front_left_kg": 520.0, "front_right_kg": 500.0, "rear_left_kg": 470.0}
    project = put(empty, wheelbase_m=2.5, **{f"weight__scales__{key}": value for key, value in loads.items()})
    assert project.rig.weight.mass_from == "stated"
    project = put(project, weight__scales__rear_right_kg=510.0)
    assert (project.rig.weight.mass_from, project.rig.weight.along_from) == ("scales", "scales")
    true = Study(project).true.rig
    assert true.mass_kg == pytest.approx(2000.0)
    assert true.cg_ahead_of_rear_m == pytest.approx(2.5 * 1020 / 2000)  # moments about the rear axle
    assert [n.words for n in Study(project).needed("weight")] == ["CG height"]


def test_a_source_somebody_chooses_stays_chosen(empty: Project) -> None:
    project = put(empty, weight__curb_mass_kg=1650.0)
    assert project.rig.weight.mass_from == "items"
    stated = SetChoice("rig.weight.mass_from", "stated").apply(project)
    assert stated.rig.weight.mass_from == "stated"
    assert "Weight" in [n.words for n in Study(stated).needs]
    later = put(stated, wheelbase_m=2.7)
    assert later.rig.weight.mass_from == "stated"


def test_scales_beside_a_stated_weight_are_asked_about(empty: Project) -> None:
    stated = put(empty, mass_kg=1800.0)
    for key in ("front_left_kg", "front_right_kg", "rear_left_kg", "rear_right_kg"):
        stated = put(stated, **{f"weight__scales__{key}": 500.0})
    assert stated.rig.weight.mass_from == "stated"
    said = {f.code: f for f in Study(stated).open}
    assert "W105" in said
    assert "4409 lb" in said["W105"].sentence
    assert "3968 lb" in said["W105"].sentence
    chosen = SetChoice("rig.weight.mass_from", "scales").apply(stated)
    assert "W105" not in {f.code for f in Study(chosen).open}


def test_a_curb_weight_without_its_place_is_a_weight_all_the_same(empty: Project) -> None:
    project = put(empty, weight__curb_mass_kg=1650.0)
    study = Study(project)
    assert study.true.rig.mass_kg == 1650.0
    assert {n.words for n in study.needed("weight")} == {"Balance point along the rig", "CG height"}
    assert study.rig_numbers()["mass"].value == 1650.0
    assert study.rig_numbers()["front_load"].value is None
    assert study.rig_numbers()["front_load"].lacks == ("Wheelbase", "Balance point along the rig")


def test_the_height_follows_what_was_found_out(empty: Project) -> None:
    assert put(empty, weight__bell_housing_m=0.9).rig.weight.height_from == "bell_housing"
    with_items = put(empty, weight__curb_mass_kg=1650.0, weight__curb_cg_height_m=0.7)
    assert with_items.rig.weight.height_from == "items"
    stated = put(empty, cg_height_m=0.8, weight__bell_housing_m=0.9)
    assert stated.rig.weight.height_from == "stated"


def test_a_gear_that_was_only_proposed_is_asked_for(empty: Project) -> None:
    gears = put(empty, drivetrain__gear_ratios__0=3.2, drivetrain__gear_ratios__1=1.0)
    more = ReplaceList("rig.drivetrain.gear_ratios", (3.2, 1.0, 0.75), "Add a gear", ("2",)).apply(gears)
    assert [n.words for n in Study(more).needed("train")] == ["Engine torque", "Gear 3", "Low range"]
    assert more.entry("rig.drivetrain.gear_ratios.0") is not None  # what was typed before keeps its note
    fewer = ReplaceList("rig.drivetrain.gear_ratios", (3.2, 1.0), "Take it off").apply(more)
    assert "Gear 3" not in [n.words for n in Study(fewer).needs]
    curve = (TorquePoint(rpm=1000.0, torque_nm=200.0), TorquePoint(rpm=1800.0, torque_nm=200.0))
    drawn = ReplaceList("rig.drivetrain.torque_curve", curve, "Points", ("0.rpm", "1.rpm", "1.torque_nm")).apply(gears)
    words = [n.words for n in Study(drawn).needed("train")]
    assert words == ["Speed of curve point 1", "Speed of curve point 2", "Torque of curve point 2", "Low range"]
    first = SetNumber("rig.drivetrain.torque_curve.0.rpm", 2200.0, "2200").apply(drawn)
    assert first.rig.drivetrain.torque_curve[1].rpm == 3000.0


def test_an_item_has_no_weight_before_it_is_typed(empty: Project) -> None:
    item = WeightItem(id="winch", name="Winch", mass_kg=20.0)
    project = PutInList("rig.weight.items", item, "Add", guessed=("mass_kg",)).apply(put(empty, mass_kg=1900.0))
    assert "Weight of Winch" in [n.words for n in Study(project).needs]
    typed = SetNumber("rig.weight.items.winch.mass_kg", 41.0, "41 kg").apply(project)
    assert "Weight of Winch" not in [n.words for n in Study(typed).needs]


def test_what_nobody_entered_is_told_from_what_somebody_did(empty: Project, basalt: Project) -> None:
    assert entered_by_nobody(empty, "rig.wheelbase_m")
    assert entered_by_nobody(basalt, "rig.brake_front_share")  # a default, never touched
    typed = SetNumber("rig.brake_front_share", 0.7, "70").apply(basalt)
    assert not entered_by_nobody(typed, "rig.brake_front_share")  # the same number, but somebody's
    assert not entered_by_nobody(basalt, "rig.wheelbase_m")
    assert not entered_by_nobody(basalt, "layouts.rear-a.links.upper_left.frame_pivot_m.0")


def test_no_result_rests_on_a_placeholder(basalt: Project) -> None:
    """With one number of a whole rig turned into a placeholder, everything that moves with it is withheld."""
    for path, ladder in (
        ("rig.wheelbase_m", False),
        ("rig.cg_height_m", False),
        ("rig.drivetrain.engine_torque_nm", True),
    ):
        project = with_placeholders(basalt, [path])
        if path.endswith("cg_height_m"):
            book = msgspec.structs.replace(basalt.rig.weight, height_from="stated")
            project = msgspec.structs.replace(project, rig=msgspec.structs.replace(project.rig, weight=book))
        if path.endswith("torque_nm"):
            train = msgspec.structs.replace(project.rig.drivetrain, torque_curve=())
            project = msgspec.structs.replace(project, rig=msgspec.structs.replace(project.rig, drivetrain=train))
        study = Study(project)
        assert [n.path for n in study.needs] == [path]
        donor = project.donor("rear")
        assert donor is not None
        for ask, *args in (
            *((study.gauges, "rear"), (study.motion, "rear"), (study.travel, "rear"), (study.hole_map, "rear"))
            * (not ladder),
            *((study.ladder, donor), (study.gears, donor), (study.lockers, donor), (study.cost, None, donor, None)),
            (study.ranking, (), (donor,), 3),
        ):
            with pytest.raises(StoutError) as why:
                ask(*args)
            assert why.value.code == "R130"
        assert study.donor_findings(donor) == ()
        assert [f.code for f in study.open if f.code == "R130"] == ["R130"]
        assert not {f.step for f in study.open} & {"donors"}
        assert not any(math.isnan(n.value) for n in study.rig_numbers().values() if n.value is not None)


def test_an_empty_project_says_nothing_but_what_it_needs(empty: Project) -> None:
    study = Study(empty)
    assert [f.code for f in study.findings] == ["R130"]
    assert study.findings[0].subject == "rig.wheelbase_m"
    assert (empty.linkage.layouts, empty.swap.donors, empty.tape.surveys, empty.tape.solids) == ((), (), (), ())
    assert study.axles["rear"].gauges == ()
    assert study.cuts == ()
    with pytest.raises(StoutError):
        study.propose("rear", "double_triangulated_four_link", "rear-a")

"""One case each side of every threshold and word of the rules: what is said, how bad it is, and when nothing is said.

Rules look at results only, so plain stand-ins with the numbers in question are enough. Thresholds are the rules' own
(estimates or common practice, named there); here they are written out again, so that a slip shows.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from types import SimpleNamespace as Thing
from typing import Any

import msgspec
import numpy as np
import pytest

from stoutlink.core.advice import verdict
from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.hanging_rules import (
    fit_findings,
    leaf_findings,
    load_findings,
    over_constraint_findings,
    panhard_findings,
    shock_findings,
    steering_findings,
)
from stoutlink.core.advice.layout_rules import cut_findings, motion_findings
from stoutlink.core.advice.pose_words import heave_words, roll_words
from stoutlink.core.advice.rig_rules import rig_findings
from stoutlink.core.advice.survey_rules import survey_findings
from stoutlink.core.advice.travel_rules import travel_findings
from stoutlink.core.advice.verdict import Target, standing
from stoutlink.core.analysis.linkage import steering_geometry
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, with_parts

DEG = math.pi / 180.0


def said(found: Iterable[Finding]) -> dict[str, str]:
    """Code to severity."""
    return {f.code: f.severity for f in found}


def one(found: Iterable[Finding], code: str) -> Finding:
    """The finding with a code."""
    return next(f for f in found if f.code == code)


# Words -----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("value", "rear", "front"),
    [
        (-0.1, "squats hard", "rises hard"),
        (0.0, "squats", "rises"),
        (59.9, "squats", "rises"),
        (60.0, "squats a little", "rises a little"),
        (94.9, "squats a little", "rises a little"),
        (95.0, "stays level", "stays level"),
        (105.0, "stays level", "stays level"),
        (105.1, "lifts a little", "pulls down a little"),
        (150.0, "lifts a little", "pulls down a little"),
        (150.1, "lifts hard", "pulls down hard"),
    ],
)
def test_squat_words(value: float, rear: str, front: str) -> None:
    """100 % neither squats nor lifts; more lifts the rear (common definition of anti-squat)."""
    assert verdict.squat_word(value, rear=True) == rear
    assert verdict.squat_word(value, rear=False) == front


@pytest.mark.parametrize(
    ("value", "rear", "front"),
    [
        (-1.0, "rises under braking", "dives hard"),
        (0.0, "rises some", "dives some"),
        (39.9, "rises some", "dives some"),
        (40.0, "stays down", "holds its nose up"),
    ],
)
def test_brake_words(value: float, rear: str, front: str) -> None:
    assert verdict.brake_word(value, rear=True) == rear
    assert verdict.brake_word(value, rear=False) == front


def test_roll_steer_words_tell_over_from_under() -> None:
    """A rear axle that steers out of the turn as the body leans oversteers; in front it is the other way round (SAE
    J670: roll understeer reduces, roll oversteer increases the turn)."""
    rear_plus, rear_minus = (verdict.steer_word(v, rear=True) for v in (0.2, -0.2))
    front_plus, front_minus = (verdict.steer_word(v, rear=False) for v in (0.2, -0.2))
    assert "oversteer" in rear_plus
    assert "understeer" in rear_minus
    assert "understeer" in front_plus
    assert "oversteer" in front_minus
    assert verdict.steer_word(0.0, rear=True) == verdict.steer_word(0.0, rear=False)


@pytest.mark.parametrize(
    ("part", "word"), [(0.75, "leans little"), (0.7499, "leans some"), (0.5, "leans some"), (0.4999, "leans a lot")]
)
def test_lean_words(part: float, word: str) -> None:
    assert verdict.lean_word(part) == word


@pytest.mark.parametrize(
    ("ratio", "word"), [(2.0, "held firmly"), (2.01, "held"), (4.0, "held"), (4.01, "held weakly")]
)
def test_hold_words(ratio: float, word: str) -> None:
    assert verdict._hold_word(ratio) == word


def test_a_number_near_an_edge_is_neither_in_nor_out() -> None:
    band = Target(70.0, 90.0, "")
    assert [standing(v, 1.0, band) for v in (80.0, 72.1, 71.9, 68.1, 67.9, 92.1)] == [
        "in",
        "in",
        "edge",
        "edge",
        "out",
        "out",
    ]
    assert standing(80.0, 1.0, None) == "none"


def test_pose_words() -> None:
    assert "droop" in heave_words(-0.05, "in")
    assert "bump" in heave_words(0.05, "in")
    assert "left" in roll_words(5 * DEG)
    assert "right" in roll_words(-5 * DEG)
    assert roll_words(0.0) == ""


# Motion ----------------------------------------------------------------------------------------------------------


def motion(**over: Any) -> Any:
    """A motion about which there is nothing to say, but for what is changed."""
    values: dict[str, Any] = {
        "singular": 0.5, "reach": (-0.15, 0.15), "asked": (-0.15, 0.15), "kind": "double_triangulated_four_link",
        "triangulation": 60 * DEG, "hand": (2.0, 0.6), "true": (2.0, 0.6), "links": 4, "error": 0.0,
    } | over  # fmt: skip
    layout = Thing(end="rear", id="rear-a", kind=values["kind"], links=[None] * values["links"], steering=None)
    travel = Thing(bar_error=np.array([values["error"]]))
    return Thing(
        layout=layout, end="rear", centre=(0.0, 0.0, 0.4), reach=values["reach"], asked=values["asked"],
        ride=Thing(singular=values["singular"], side_view_centre=values["true"], lateral_hold=1.5),
        drawn=Thing(triangulation=values["triangulation"], projected_centre=values["hand"]), heave=travel, roll=travel,
    )  # fmt: skip


@pytest.mark.parametrize(
    ("change", "code", "severity"),
    [
        ({"singular": 0.0199}, "G201", "danger"),
        ({"reach": (-0.15, 0.1498)}, "G202", "danger"),
        ({"reach": (-0.1498, 0.15)}, "G202", "danger"),
        ({"triangulation": 39.9 * DEG}, "K201", "warn"),
        ({"hand": (2.0 + 0.0521 * math.hypot(2.0, 0.2), 0.6)}, "G203", "note"),
        ({"links": 5, "error": 0.0021}, "G204", "warn"),
    ],
)
def test_motion_says(change: dict[str, Any], code: str, severity: str) -> None:
    assert said(motion_findings(motion(**change), "in")) == {code: severity}


@pytest.mark.parametrize(
    "change",
    [
        {},
        {"reach": (-0.15, 0.14995)},
        {"triangulation": 40.1 * DEG},
        {"triangulation": 10 * DEG, "kind": "three_link_panhard"},
        {"hand": (2.0 + 0.0479 * math.hypot(2.0, 0.2), 0.6)},
        {"links": 5, "error": 0.0019},
        {"links": 4, "error": 0.5},
    ],
)
def test_motion_is_silent(change: dict[str, Any]) -> None:
    assert said(motion_findings(motion(**change), "in")) == {}


def test_bump_and_droop_are_not_exchanged() -> None:
    up = motion_findings(motion(reach=(-0.15, 0.10)), "mm")[0]
    down = motion_findings(motion(reach=(-0.08, 0.15)), "mm")[0]
    assert "100 mm into bump; 150 mm was asked" in up.sentence
    assert "80 mm into droop; 150 mm was asked" in down.sentence


# Cutting ---------------------------------------------------------------------------------------------------------


def cut(**over: Any) -> Any:
    """A link that goes together, but for what is changed."""
    values: dict[str, Any] = {
        "tube": 0.7, "bore": 0.03, "fit": (0.01, 0.01), "longer": 0.02, "shorter": 0.02, "how": "tube", "role": "upper", "thread": 0.025,
    } | over  # fmt: skip
    fit = Thing(engaged=0.04, needed=0.0375, longer=values["fit"][0], shorter=values["fit"][1])
    joint = Thing(id="j", name="Rod end", thread_diameter_m=values["thread"])
    made = Thing(
        centre_to_centre=0.9, tube=values["tube"], bore=values["bore"], ends=(fit, fit), longer=values["longer"], shorter=values["shorter"],
        how=values["how"], per_turn=0.003,
    )  # fmt: skip
    link = Thing(
        id="upper_left", name="Left upper", role=values["role"], side="left", stage=values.get("stage", "planned"),
        read=values.get("read"), frame_pivot_m=(0.0, 0.0, 0.0), axle_pivot_m=(0.9, 0.0, 0.0),
    )  # fmt: skip
    layout = Thing(id="rear-a", name="Rear", mirrored=False)
    return Thing(
        link=link, layout=layout, cut=made, frame_joint=joint, axle_joint=joint, at_hand=False,
        there=values.get("there", False), made=values.get("made"), now=made, asked=values.get("asked"),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("change", "code", "severity"),
    [
        ({"tube": 0.0}, "C201", "danger"),
        ({"fit": (-0.0001, 0.01)}, "C202", "danger"),
        ({"fit": (0.01, -0.0001)}, "C203", "danger"),
        ({"how": "unbolt"}, "K301", "note"),
        ({"longer": 0.0126}, "K302", "warn"),
        ({"shorter": 0.0126}, "K302", "warn"),
        ({"bore": 0.87 * 0.025}, "C204", "danger"),
    ],
)
def test_a_cut_says(change: dict[str, Any], code: str, severity: str) -> None:
    assert said(cut_findings((cut(**change),), "in")) == {code: severity}


@pytest.mark.parametrize(
    "change",
    [
        {},
        {"tube": 1e-6},
        {"fit": (0.0, 0.0)},
        {"longer": 0.0128},
        {"longer": 0.005, "role": "lower"},
        {"longer": 0.005, "how": "none"},
        {"bore": 0.89 * 0.025},
        {"bore": 0.0},
        {"bore": 0.01, "thread": None},
    ],
)
def test_a_cut_is_silent(change: dict[str, Any]) -> None:
    assert said(cut_findings((cut(**change),), "in")) == {}


# Joints, loads, fit ----------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("worst", "wanted"), [(22.1, {"G205": "danger"}), (20.1, {"G206": "note"}), (19.9, {})])
def test_a_joint_that_allows_22_degrees(worst: float, wanted: dict[str, str]) -> None:
    end = Thing(
        allowed=22 * DEG, worst=worst * DEG, roll=worst * DEG, heave=1 * DEG, end="frame", over=worst > 22,
        link=Thing(id="l", name="Left lower"),
    )  # fmt: skip
    layout: Any = Thing(id="rear-a")
    found = list(over_constraint_findings(layout, Thing(ends=[end])))  # type: ignore[arg-type]
    assert said(found) == wanted
    assert all("over roll" in f.sentence for f in found)
    end.roll, end.heave = 1 * DEG, worst * DEG
    assert all("over travel" in f.sentence for f in over_constraint_findings(layout, Thing(ends=[end])))  # type: ignore[arg-type]
    end.allowed = None
    assert said(over_constraint_findings(layout, Thing(ends=[end]))) == {}  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("margin", "wanted"), [(0.99, {"G210": "danger"}), (1.0, {"G210": "warn"}), (1.49, {"G210": "warn"}), (1.5, {})]
)
def test_margins(margin: float, wanted: dict[str, str]) -> None:
    weakest = Thing(margin=margin, what="tube", carries=1e4 * margin, asked=1e4, case="ledge", why="it bends")
    loads: Any = Thing(links=[Thing(link=Thing(id="l", name="Left lower"), weakest=weakest)])
    layout: Any = Thing(id="rear-a")
    assert said(load_findings(layout, loads, 1.5, "in")) == wanted


@pytest.mark.parametrize(
    ("standing_", "what", "wanted"),
    [
        ("misfit", "bolt", {"G220": "danger"}),
        ("tight", "bolt", {"G220": "warn"}),
        ("good", "bolt", {}),
        ("misfit", "bracket", {}),
    ],
)
def test_what_does_not_go_together(standing_: str, what: str, wanted: dict[str, str]) -> None:
    fit: Any = Thing(how=standing_, what=what, link=Thing(id="l", name="Lower"), end="frame", sentence="no.")
    layout: Any = Thing(id="rear-a")
    assert said(fit_findings(layout, (fit,))) == wanted


# Steering, panhard -----------------------------------------------------------------------------------------------


def steer(**over: Any) -> Any:
    """Steering that runs true, but for what is changed."""
    values: dict[str, Any] = {
        "heading": 0.0,
        "largest": 0.0,
        "reaches": True,
        "apart": 0.0,
        "slope": 0.0,
        "hand": True,
    } | over
    match = Thing(length_apart=values["apart"], slope_apart=values["slope"], same_hand=values["hand"])
    return Thing(
        heading_per_step=values["heading"], largest=values["largest"], largest_at=0.1, reaches=values["reaches"], match=match
    )  # fmt: skip


@pytest.mark.parametrize(
    ("change", "wanted"),
    [
        ({}, {}),
        ({"heading": 0.251 * DEG}, {"G230": "warn"}),
        ({"heading": -0.251 * DEG}, {"G230": "warn"}),
        ({"heading": 0.249 * DEG}, {}),
        ({"largest": 1.51 * DEG}, {"G230": "warn"}),
        ({"largest": 1.49 * DEG}, {}),
        ({"reaches": False}, {"G231": "danger"}),
        ({"apart": 0.0301}, {"G233": "note"}),
        ({"apart": -0.0299}, {}),
        ({"slope": 2.01 * DEG}, {"G233": "note"}),
        ({"slope": 1.99 * DEG}, {}),
        ({"hand": False}, {"G233": "note"}),
    ],
)
def test_bump_steer(change: dict[str, Any], wanted: dict[str, str]) -> None:
    found = list(steering_findings(motion(), steer(**change), "in"))
    assert said(found) == wanted


def test_longer_and_shorter_drag_links_are_told_apart() -> None:
    longer = one(steering_findings(motion(), steer(apart=0.04), "mm"), "G233").sentence
    shorter = one(steering_findings(motion(), steer(apart=-0.04), "mm"), "G233").sentence
    assert "40 mm longer than the panhard" in longer
    assert "40 mm shorter than the panhard" in shorter


def test_full_hydraulic_is_cautioned() -> None:
    it = motion()
    it.layout.steering = Thing(kind="hydraulic")
    found = list(steering_findings(it, None, "in"))
    assert said(found) == {"G232": "warn"}
    assert "local code" in found[0].why


@pytest.mark.parametrize(("shift", "wanted"), [(0.0151, {"K203": "note"}), (0.0149, {}), (None, {})])
def test_side_shift(shift: float | None, wanted: dict[str, str], monkeypatch: pytest.MonkeyPatch) -> None:
    bar = None if shift is None else Thing(side_shift=shift)
    monkeypatch.setattr("stoutlink.core.advice.hanging_rules.panhard", lambda _: bar)
    assert said(panhard_findings(motion(), "in")) == wanted
    assert steering_geometry.panhard.__name__ == "panhard"


# Leaves ----------------------------------------------------------------------------------------------------------


def leaf(**over: Any) -> Any:
    """Leaf springs about which there is nothing to say, but for what is changed."""
    values: dict[str, Any] = {
        "wrap": 3.0, "perch": 0.0, "reached": (-0.12, 0.12), "shackles": (10.0, 30.0), "stress": 0.9e9, "pull": None, "lift": 0.0, "off": None,
    } | over  # fmt: skip
    return Thing(
        layout=Thing(end="rear", id="rear-l"), leaf=Thing(pinion_allowance_rad=5 * DEG, seat_z_m=0.5), wrap=values["wrap"] * DEG, perch_apart=values["perch"],
        reached=values["reached"], poses=[Thing(shackle=v * DEG) for v in values["shackles"]], stress_bump=values["stress"],
        panhard_pull=values["pull"], perch=Thing(seat=0.5 + values["lift"], lift=values["lift"], axle_off=values["off"]),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("change", "wanted"),
    [
        ({}, {}),
        ({"wrap": -5.01}, {"G240": "warn"}),
        ({"wrap": 4.99}, {}),
        ({"perch": 0.0016}, {"G241": "note"}),
        ({"perch": -0.0049}, {"G241": "note"}),
        ({"perch": 0.0051}, {"G241": "danger"}),
        ({"perch": -0.0014}, {}),
        ({"reached": (-0.12, 0.0998)}, {"G242": "danger"}),
        ({"reached": (-0.0998, 0.12)}, {"G242": "danger"}),
        ({"shackles": (-75.1, -10.0)}, {"G243": "danger"}),
        ({"shackles": (10.0, 74.9)}, {}),
        ({"shackles": (-2.9, 5.0)}, {"K204": "note"}),
        ({"shackles": (2.9, 5.0)}, {}),
        ({"stress": 1.11e9}, {"G244": "warn"}),
        ({"pull": 0.0061}, {"G245": "warn"}),
        ({"pull": 0.0059}, {}),
        ({"lift": 0.0121}, {"G246": "warn"}),
        ({"lift": -0.0119}, {}),
        ({"off": -0.0061}, {"G247": "warn"}),
        ({"off": 0.0059}, {}),
    ],
)
def test_leaves(change: dict[str, Any], wanted: dict[str, str]) -> None:
    assert said(leaf_findings(leaf(**change), 0.1, 0.1, "in")) == wanted


@pytest.mark.parametrize(("shut", "wanted"), [(0.2499, {"G248": "warn"}), (0.2501, {})])
def test_a_shock_is_longer_shut_than_its_stroke(shut: float, wanted: dict[str, str]) -> None:
    it: Any = Thing(id="rear-l", end="rear", shock=Thing(collapsed_m=shut, extended_m=0.5))
    assert said(shock_findings(it, "mm")) == wanted
    none: Any = Thing(shock=None)
    assert said(shock_findings(none, "mm")) == {}


def test_which_way_stack_and_hanger_move_it_is_told() -> None:
    for lift, word in ((0.05, "50 mm higher"), (-0.05, "50 mm lower")):
        assert word in one(leaf_findings(leaf(lift=lift), 0.1, 0.1, "mm"), "G246").why
    for off, word in ((0.02, "20 mm forward of"), (-0.02, "20 mm behind")):
        assert word in one(leaf_findings(leaf(off=off), 0.1, 0.1, "mm"), "G247").sentence


def test_wider_and_narrower_pads_are_told_apart() -> None:
    wide = one(leaf_findings(leaf(perch=0.01), 0.1, 0.1, "mm"), "G241").sentence
    narrow = one(leaf_findings(leaf(perch=-0.01), 0.1, 0.1, "mm"), "G241").sentence
    assert "10 mm wider" in wide
    assert "10 mm narrower" in narrow


# Travel ----------------------------------------------------------------------------------------------------------


def contact(**over: Any) -> Any:
    values = {"least": 0.05, "spare": 0.03, "wanted": 0.02, "one": "Left lower", "other": "Fuel tank"} | over
    return Thing(heave=0.1, roll=0.05, steer=0.0, **values)


def hose(spare: float | None) -> Any:
    """A hose with 50 mm of slack asked for."""
    return Thing(
        line=Thing(id="h", name="Hose", slack_m=0.05),
        spare=spare,
        needed=0.45,
        longest=Thing(heave=0.0, roll=0.0, steer=0.0),
    )


def travel(**over: Any) -> Any:
    """A travel about which there is nothing to say, but for what is changed."""
    values: dict[str, Any] = {
        "contacts": [], "pinion": 0.0, "torsional": 300.0, "inertia": (500.0, 500.0), "whirl": 0.5, "air": None, "pressure": 5e5, "reaches": True, "lines": (), "supply": True,
    } | over  # fmt: skip
    shaft = Thing(
        pinion_now=values["pinion"] * DEG, pinion_wanted=0.0, torsional=values["torsional"], inertia=values["inertia"], whirl_part=values["whirl"]
    )  # fmt: skip
    return Thing(
        layout=Thing(id="rear-a", end="rear", air=values["air"]), interference=Thing(contacts=values["contacts"]), shaft=shaft, lines=values["lines"],
        springs=Thing(pressures=(4e5, values["pressure"])), steer=Thing(reaches=values["reaches"]), grid=Thing(within=np.ones((2, 2), bool), rig=Thing(fittings=Thing(air_supply=values["supply"]))),
    )  # fmt: skip


NOTHING: Any = Thing(runs_out=())


@pytest.mark.parametrize(
    ("change", "wanted"),
    [
        ({}, {}),
        ({"contacts": [contact(least=-0.001, spare=-0.021)]}, {"T301": "danger"}),
        ({"contacts": [contact(least=0.001, spare=-0.019)]}, {"T302": "warn"}),
        ({"contacts": [contact(spare=0.0)]}, {}),
        ({"pinion": 2.01}, {"T310": "warn"}),
        ({"pinion": -1.99}, {}),
        ({"torsional": 400.1}, {"T311": "warn"}),
        ({"torsional": 399.9}, {}),
        ({"inertia": (500.0, 1000.1)}, {"T311": "warn"}),
        ({"inertia": (999.9, 500.0)}, {}),
        ({"whirl": 0.76}, {"T312": "danger"}),
        ({"whirl": 0.74}, {}),
        ({"air": Thing(most_pa=4.99e5)}, {"T330": "danger"}),
        ({"air": Thing(most_pa=5.01e5)}, {}),
        ({"air": Thing(most_pa=None)}, {}),
        ({"air": Thing(most_pa=None), "supply": None}, {"T331": "warn"}),
        ({"air": Thing(most_pa=None), "supply": False}, {"T331": "warn"}),
        ({"supply": False}, {}),
        ({"reaches": False}, {"T320": "danger"}),
        ({"lines": [hose(spare=-0.001)]}, {"T340": "danger"}),
        ({"lines": [hose(spare=0.0)]}, {"T341": "warn"}),
        ({"lines": [hose(spare=0.049)]}, {"T341": "warn"}),
        ({"lines": [hose(spare=0.05)]}, {}),
        ({"lines": [hose(spare=None)]}, {}),
    ],
)
def test_travel(change: dict[str, Any], wanted: dict[str, str]) -> None:
    """Limits of torsional and inertial excitation: 400 and 1000 rad/s² (SAE AE-7, from memory); three quarters of the
    first bending speed (common practice)."""
    assert said(travel_findings(travel(**change), NOTHING, "in")) == wanted


def test_above_and_below_are_not_exchanged() -> None:
    assert "3.0° above" in one(travel_findings(travel(pinion=3.0), NOTHING, "in"), "T310").sentence
    assert "3.0° below" in one(travel_findings(travel(pinion=-3.0), NOTHING, "in"), "T310").sentence


def test_more_than_six_pairs_are_counted() -> None:
    many = [contact(least=-0.01, spare=-0.02, other=f"Thing {i}") for i in range(8)]
    found = list(travel_findings(travel(contacts=many), NOTHING, "in"))
    assert sum(f.code == "T301" for f in found) == 6
    assert "2 more pairs" in one(found, "T303").sentence
    assert "T303" not in said(travel_findings(travel(contacts=many[:6]), NOTHING, "in"))


@pytest.mark.parametrize(
    ("words", "severity"),
    [
        ("a shock is shut", "danger"),
        ("a shock is pulled out", "danger"),
        ("a coil binds", "warn"),
        ("the slip joint bottoms", "warn"),
    ],
)
def test_what_runs_out(words: str, severity: str) -> None:
    where = np.array([[True, False], [False, False]])
    found = list(travel_findings(travel(), Thing(runs_out=((words, where),)), "in"))  # type: ignore[arg-type]
    assert said(found) == {"T304": severity}
    assert f"{words} over 25%" in found[0].sentence


# The rig ---------------------------------------------------------------------------------------------------------


def rig_says(project: Project) -> dict[str, str]:
    return said(rig_findings(project, effective_vehicle(project)))


def plain(basalt: Project) -> Project:
    """The demo rig with nothing in the way and its stated weight."""
    bare = with_parts(basalt, solids=(), surveys=())
    bare = with_value(bare, "rig.front.loaded_radius_m", bare.rig.front.loaded)
    for path, value in (
        ("rig.weight.mass_from", "stated"),
        ("rig.weight.along_from", "stated"),
        ("rig.weight.height_from", "stated"),
        ("rig.road_legal", False),
    ):
        bare = with_value(bare, path, value)
    return bare


def setting(path: str, value: Callable[[Project], Any]) -> Callable[[Project], Project]:
    return lambda p: with_value(p, path, value(p))


@pytest.mark.parametrize(
    ("path", "speaks", "silent", "code", "severity"),
    [
        ("rig.weight.gvwr_kg", lambda p: p.rig.mass_kg - 1, lambda p: p.rig.mass_kg + 1, "W101", "danger"),
        ("rig.front.rolling_radius_m", lambda p: p.rig.front.free + 0.0021, lambda p: p.rig.front.free + 0.0019, "T102", "warn"),
        ("rig.front.loaded_radius_road_m", lambda p: p.rig.front.loaded - 0.0021, lambda p: p.rig.front.loaded - 0.0019, "T104", "note"),
        ("rig.drivetrain.output_m", lambda p: (1.2, {"left": -0.2, "right": 0.2, "centre": 0.2}[p.rig.drivetrain.output_side], 0.6),
         lambda p: (1.2, {"left": 0.2, "right": -0.2, "centre": 0.0}[p.rig.drivetrain.output_side], 0.6), "R110", "warn"),
        ("rig.road_legal", lambda p: True, lambda p: False, "R111", "note"),
        ("rig.rear.unsprung_mass_kg", lambda p: 1.16 * _parts(p), lambda p: 1.14 * _parts(p), "W104", "note"),
    ],
)  # fmt: skip
def test_the_rig(
    basalt: Project,
    path: str,
    speaks: Callable[[Project], Any],
    silent: Callable[[Project], Any],
    code: str,
    severity: str,
) -> None:
    base = plain(basalt)
    assert rig_says(setting(path, speaks)(base)).get(code) == severity
    assert code not in rig_says(setting(path, silent)(base))


def _parts(p: Project) -> float:
    donor = p.donor("rear")
    assert donor is not None
    assert p.rig.rear.wheel_mass_kg is not None
    return (donor.weight_kg or 0.0) + 2 * p.rig.rear.wheel_mass_kg


def test_roll_out_against_the_typed_radius(basalt: Project) -> None:
    base = plain(basalt)
    radius = base.rig.front.rolling
    for off, speaks in ((1.011, True), (1.009, False), (0.989, True)):
        turns = with_value(
            with_value(base, "rig.front.roll_out_turns", 1.0), "rig.front.roll_out_m", 2 * math.pi * radius * off
        )
        assert ("T103" in rig_says(with_value(turns, "rig.front.rolling_radius_m", radius))) is speaks


def test_printed_and_measured_tyre(basalt: Project) -> None:
    base = plain(basalt)
    printed = base.rig.front.printed
    assert printed is not None
    for off, speaks in ((0.0382, True), (0.0380, False), (-0.0382, True)):
        free = (printed.diameter + off) / 2
        assert ("T101" in rig_says(with_value(base, "rig.front.tyre_free_radius_m", free))) is speaks


def test_a_little_tilt(basalt: Project) -> None:
    base = with_value(plain(basalt), "rig.weight.height_from", "tilt")
    for degrees, speaks in ((9.9, True), (10.1, False)):
        project = with_value(base, "rig.weight.tilt.angle_rad", degrees * DEG)
        true = effective_vehicle(project)
        if true.height_from == "tilt":
            assert ("W120" in said(rig_findings(project, true))) is speaks


def test_a_point_without_station(basalt: Project) -> None:
    """It is named, and nothing is drawn of it; with its station the finding goes."""
    survey = basalt.tape.surveys[0]
    bare = msgspec.structs.replace(survey.points[1], station=())
    without = msgspec.structs.replace(survey, points=(survey.points[0], bare, *survey.points[2:]))
    found = one(survey_findings((without,), basalt.rig.wheelbase_m, "in"), "S108")
    assert found.severity == "note"
    assert bare.id in found.subject
    assert "S108" not in said(survey_findings((survey,), basalt.rig.wheelbase_m, "in"))

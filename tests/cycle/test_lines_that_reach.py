"""Hoses over heave, roll and steer: against poses turned by scipy's rotations and searched anew, and a hose by hand."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
from scipy.optimize import differential_evolution
from scipy.spatial.transform import Rotation

from stoutlink.core.advice.travel_rules import travel_findings
from stoutlink.core.analysis.cycle.grid import stop_spacing
from stoutlink.core.analysis.cycle.line_proposal import line_for
from stoutlink.core.analysis.cycle.steer import steer_range, wheel_turns
from stoutlink.core.analysis.cycle.travel import AxleTravel, axle_travel
from stoutlink.core.analysis.cycle.travel_map import travel_map
from stoutlink.core.analysis.linkage.wheels import kingpin_of
from stoutlink.core.document.flex_line import FlexLine
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import PutInList, SetNumber
from stoutlink.core.mechanics.linkage.position import sweep_grid
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def _with_line(project: Project, end: str, line: FlexLine) -> tuple[Project, AxleTravel]:
    layout = project.layout(end)
    assert layout is not None
    after = with_value(project, f"layouts.{layout.id}.lines", (line,))
    travel = axle_travel(after, Study(after).true.rig, end, touch=False)
    assert travel is not None
    return after, travel


def _apart(project: Project, travel: AxleTravel, line: FlexLine, heave: float, roll: float, steer: float) -> float:
    """The distance from a pose solved for itself, not taken from the grid."""
    assert travel.motion is not None
    rig = Study(project).true.rig
    near = 1e-4
    way = np.linspace(0.0, roll, max(3, int(abs(roll) / 0.02)))
    p = sweep_grid(travel.motion.bars, np.array([heave - near, heave, heave + near]) if abs(heave) < near else
                   np.sort(np.array([0.0, 0.5 * heave, heave])), np.unique(np.concatenate([way, [0.0]])))  # fmt: skip
    i = int(np.argmin(np.abs(np.unique(np.concatenate([way, [0.0]])) - roll)))
    heaves = np.array([heave - near, heave, heave + near]) if abs(heave) < near else np.sort([0.0, 0.5 * heave, heave])
    j = int(np.argmin(np.abs(heaves - heave)))
    centre = np.array(travel.grid.centre)
    far = np.array(line.far_m)
    if line.rides_on != "axle":
        left = line.rides_on == "left_knuckle"
        pin, axis = kingpin_of(rig, travel.layout, project.donor("front"), 1.0 if left else -1.0)
        turn = wheel_turns(travel.steer, steer)[0 if left else 1]
        far = pin + Rotation.from_rotvec(turn * axis).apply(far - pin)
    # the program's order of turns: yaw about z, roll about x, pitch about y, each about the turned axes
    r = Rotation.from_euler("ZXY", [p.yaw[i, j], roll, p.pitch[i, j]])
    at = np.array([p.x[i, j], p.y[i, j], centre[2] + heave]) + r.apply(far - centre)
    return float(np.linalg.norm(at - np.array(line.frame_m)))


@pytest.mark.parametrize("end", ["rear", "front"])
def test_the_longest_is_no_node_and_nothing_is_longer(end: str) -> None:
    project = read_project(demo_file("basalt.stoutlink"))
    layout = project.layout(end)
    assert layout is not None
    x = 0.0 if end == "rear" else project.rig.wheelbase_m
    line = FlexLine(
        id="hose", name="Hose", frame_m=(x + 0.22, 0.31, 0.83), far_m=(x - 0.03, 0.62, 0.5),
        rides_on="axle" if end == "rear" else "left_knuckle",
    )  # fmt: skip
    project, travel = _with_line(project, end, line)
    (found,) = travel.lines
    for one in (found.longest, found.shortest):
        again = _apart(project, travel, line, one.heave, one.roll, one.steer)
        assert one.length == pytest.approx(again, abs=1e-4)
    half, (low, high) = 0.5 * stop_spacing(Study(project).true.rig, travel.layout), travel.grid.limits
    turns = steer_range(travel.steer, project.donor("front")) if end == "front" else (0.0, 1e-9)
    from stoutlink.core.analysis.cycle.reach import _Ends  # noqa: PLC0415 - the distance alone, searched anew

    ends = _Ends(Study(project).true.rig, travel.grid, travel.steer, project.donor(end), line)

    def far(v: np.ndarray, way: float) -> float:
        lift = half * math.sin(abs(v[1]))
        if not low + lift <= v[0] <= high - lift:
            return 0.0 if way > 0 else 1e3
        d = float(ends.apart(np.array([v[0]]), np.array([v[1]]), np.array([v[2]]))[0])
        return -way * d if math.isfinite(d) else (0.0 if way > 0 else 1e3)

    box = [(low, high), (float(travel.grid.roll[0]), float(travel.grid.roll[-1])), turns]
    for way, mine in ((1.0, found.longest.length), (-1.0, found.shortest.length)):
        best = differential_evolution(far, box, args=(way,), seed=3, maxiter=60, popsize=12, tol=1e-9)
        assert mine * way >= -best.fun * 1.0 - 2e-4 if way > 0 else mine <= best.fun + 2e-4


def test_a_hose_straight_above_the_axle_by_hand() -> None:
    """Level, a hose from a point straight above: at full droop it is longer by the droop, less the axle's fore-aft
    way, which is second order; the needed length adds the slack."""
    project = read_project(demo_file("tamarack.stoutlink"))
    layout = project.layout("rear")
    assert layout is not None
    r = Study(project).true.rig.rear.loaded
    line = FlexLine(id="hose", name="Hose", frame_m=(0.0, 0.0, r + 0.6), far_m=(0.0, 0.0, r), slack_m=0.07, own_m=0.7)
    project, travel = _with_line(project, "rear", line)
    (found,) = travel.lines
    droop = -travel.grid.limits[0]
    assert found.ride == pytest.approx(0.6, abs=1e-6)
    assert found.longest.length == pytest.approx(0.6 + droop, abs=0.004)
    assert found.longest.roll == pytest.approx(0.0, abs=0.02)
    assert found.needed == pytest.approx(found.longest.length + 0.07)
    assert found.spare == pytest.approx(0.7 - found.longest.length)
    codes = [f.code for f in travel_findings(travel, travel_map(travel), "in")]
    assert ("T340" in codes) == (found.longest.length > 0.7)
    assert "T340" not in [
        f.code
        for f in travel_findings(
            _with_line(project, "rear", msgspec.structs.replace(line, own_m=found.needed + 1e-6))[1],
            travel_map(travel),
            "in",
        )
    ]


def test_too_little_slack_is_a_word_and_too_short_a_danger() -> None:
    project = read_project(demo_file("tamarack.stoutlink"))
    r = Study(project).true.rig.rear.loaded
    line = FlexLine(id="hose", name="Hose", frame_m=(0.1, 0.3, r + 0.4), far_m=(0.0, 0.3, r), slack_m=0.05)
    _, travel = _with_line(project, "rear", line)
    longest = travel.lines[0].longest.length
    for own, code in ((longest - 0.001, "T340"), (longest + 0.001, "T341"), (longest + 0.051, "")):
        _, held = _with_line(project, "rear", msgspec.structs.replace(line, own_m=own))
        codes = {f.code for f in travel_findings(held, travel_map(held), "mm") if f.code in ("T340", "T341")}
        assert codes == ({code} if code else set())


def test_of_a_line_whose_ends_nobody_entered_nothing_is_said() -> None:
    """Not in the travel, not among the findings; as soon as the last coordinate is entered it is followed."""
    project = read_project(demo_file("basalt.stoutlink"))
    layout = project.layout("rear")
    assert layout is not None
    study = Study(project)
    line = line_for(project, study.true.rig, layout, "hose-2")
    at = f"layouts.{layout.id}.lines"
    guessed = tuple(f"{k}.{i}" for k in ("frame_m", "far_m") for i in range(3))
    added = PutInList(at, msgspec.structs.replace(line, own_m=0.03), "Add a line", guessed=guessed).apply(project)
    found = Study(added, study)
    assert "hose-2" not in [x.line.id for x in found.travel("rear").lines]  # type: ignore[union-attr]
    found.cycle()
    assert not [f for f in found.findings if f.code in ("T340", "T341")]
    for path in guessed:
        added = SetNumber(f"{at}.hose-2.{path}", 0.5).apply(added)
    entered = Study(added, found)
    assert "hose-2" in [x.line.id for x in entered.travel("rear").lines]  # type: ignore[union-attr]
    entered.cycle()
    assert [f.subject for f in entered.findings if f.code == "T340"] == [f"{layout.id} line hose-2"]
    only_notes = msgspec.structs.replace(added, entries=Study(project).project.entries)
    assert Study(only_notes, entered).travel("rear") is entered.travel("rear")

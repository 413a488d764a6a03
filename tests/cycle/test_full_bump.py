"""The full-bump sheet against poses solved anew from the links alone, and pivots taken from bump to ride and back."""

from __future__ import annotations

import csv
import io
import json
import math
from pathlib import Path

import msgspec
import numpy as np
import pytest
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from stoutlink.cli.main import main
from stoutlink.core.analysis.cycle.full_bump import BumpSheet
from stoutlink.core.analysis.cycle.grid import stop_spacing
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.linkage.from_bump import from_bump
from stoutlink.core.analysis.survey.rail_at import rail_at
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.errors import GeometryError
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

Pose = tuple[np.ndarray, Rotation]


def _solved(project: Project, layout: Layout, heave: float, roll: float) -> Pose:
    """Where an axle of four bars stands at a height and a roll: their lengths kept, by scipy."""
    rig = Study(project).true.rig
    centre = np.array(axle_centre(rig, layout.end))
    a = np.array([x.frame_pivot_m for x in layout.links])
    b = np.array([x.axle_pivot_m for x in layout.links]) - centre
    length = np.linalg.norm(b + centre - a, axis=1)

    def pose(x: np.ndarray, part: float) -> Pose:
        turn = Rotation.from_euler("ZXY", [x[2], part * roll, x[3]])  # each about the turned axes
        return np.array([centre[0] + x[0], x[1], centre[2] + part * heave]), turn

    x = np.zeros(4)
    for part in np.linspace(0.0, 1.0, 12)[1:]:

        def off(x: np.ndarray, part: float = part) -> np.ndarray:
            at, turn = pose(x, part)
            return np.asarray(np.linalg.norm(at + turn.apply(b) - a, axis=1) - length)

        x = least_squares(off, x, xtol=1e-14, ftol=1e-14, gtol=1e-14).x
    return pose(x, 1.0)


def _rear(project: Project) -> tuple[AxleTravel, BumpSheet, Layout]:
    study, layout = Study(project), project.layout("rear")
    travel = study.travel("rear")
    assert travel is not None
    assert layout is not None
    return travel, study.bump_sheet(travel), layout


def _row(sheet: BumpSheet, name: str) -> list[float]:
    (found,) = [one for one in sheet.rows if one.id == name]
    return [math.nan if v is None else v for v in found.values]


def _rail_y(project: Project) -> float:
    found = rail_at(project, axle_centre(Study(project).true.rig, "rear")[0])
    assert found is not None
    return found[0]


def test_crossed_is_one_side_at_its_bump_and_the_other_at_its_droop(basalt: Project) -> None:
    travel, sheet, layout = _rear(basalt)
    poses = {word: (heave, roll) for word, heave, roll in sheet.poses}
    assert poses["ride"] == (0.0, 0.0)
    assert poses["full bump"] == (travel.grid.limits[1], 0.0)
    assert poses["full droop"] == (travel.grid.limits[0], 0.0)
    half = 0.5 * stop_spacing(Study(basalt).true.rig, layout)
    heave, roll = poses["crossed, left up"]
    sides = sorted((heave + half * math.sin(roll), heave - half * math.sin(roll)))
    assert sides == pytest.approx(list(travel.grid.limits), abs=1e-6)
    assert poses["crossed, right up"] == pytest.approx((heave, -roll))


def test_every_distance_of_the_sheet_is_where_the_links_put_it(basalt: Project) -> None:
    _, sheet, layout = _rear(basalt)
    rig = Study(basalt).true.rig
    centre = np.array(axle_centre(rig, "rear"))
    assert layout.shock is not None
    donor = basalt.donor("rear")
    assert donor is not None
    for k, (word, heave, roll) in enumerate(sheet.poses):
        at, turn = _solved(basalt, layout, heave, roll)

        def carried(point: object, at: np.ndarray = at, turn: Rotation = turn) -> np.ndarray:
            return np.asarray(at + turn.apply(np.asarray(point, dtype=float) - centre))

        for link in layout.links:  # a bar keeps its length
            apart = math.dist(link.frame_pivot_m, link.axle_pivot_m)
            assert _row(sheet, f"link {link.id}")[k] == pytest.approx(apart, abs=1e-4), word
        for side, sign in (("left", 1.0), ("right", -1.0)):
            mirror = np.array([1.0, sign, 1.0])
            far = carried(np.array(layout.shock.axle_m) * mirror)
            apart = float(np.linalg.norm(far - np.array(layout.shock.frame_m) * mirror))
            assert _row(sheet, f"{side} shock")[k] == pytest.approx(apart, abs=2e-4), (word, side)
        hose = next(x for x in layout.lines if x.id == "hose")
        apart = float(np.linalg.norm(carried(hose.far_m) - np.array(hose.frame_m)))
        assert _row(sheet, "line hose")[k] == pytest.approx(apart, abs=2e-4), word
        nose = turn.apply([math.cos(layout.pinion_up), 0.0, math.sin(layout.pinion_up)])
        assert _row(sheet, "pinion")[k] == pytest.approx(math.asin(nose[2]), abs=2e-4), word


def test_axle_to_rail_moves_with_the_axle(basalt: Project) -> None:
    """Level, the rail comes nearer to the tube by just the bump; crossed, by what the tube's end goes up."""
    _, sheet, _ = _rear(basalt)
    left, right = _row(sheet, "left rail"), _row(sheet, "right rail")
    for k, (_, heave, roll) in enumerate(sheet.poses):
        if roll == 0.0:
            assert left[0] - left[k] == pytest.approx(heave, abs=1e-9)
            assert right[0] - right[k] == pytest.approx(heave, abs=1e-9)
    crossed = [word for word, _, _ in sheet.poses].index("crossed, left up")
    _, heave, roll = sheet.poses[crossed]
    layout = basalt.layout("rear")
    assert layout is not None
    _, turn = _solved(basalt, layout, heave, roll)
    tube = turn.apply([0.0, 1.0, 0.0])
    apart = left[0] - left[crossed], right[0] - right[crossed]
    assert apart[0] - apart[1] == pytest.approx(2 * _rail_y(basalt) * tube[2] / tube[1], abs=2e-4)
    assert left[crossed] < left[0] < right[crossed]
    assert _row(sheet, "diagonal left")[0] == pytest.approx(_row(sheet, "diagonal right")[0])


def test_a_tyre_of_the_sheet_is_no_nearer_than_the_travel_says(basalt: Project) -> None:
    travel, sheet, _ = _rear(basalt)
    grid = travel.grid
    pairs = [c for c in travel.interference.contacts if "Left tyre" in (c.one, c.other) and not c.apart]
    assert pairs
    row = next((x for x in sheet.rows if x.id == "left tyre"), None)
    for k, (_, heave, roll) in enumerate(sheet.poses[:1]):
        i, j = int(np.argmin(np.abs(grid.roll - roll))), int(np.argmin(np.abs(grid.heave - heave)))
        near = [c.room_at(i, j) + c.wanted for c in pairs if c.room_at(i, j) + c.wanted <= c.near]
        said = None if row is None else row.values[k]
        assert said == (pytest.approx(min(near)) if near else None)


@pytest.mark.parametrize("up", [0.09, -0.08])
@pytest.mark.parametrize("end", ["rear", "front"])
def test_there_and_back(basalt: Project, end: str, up: float) -> None:
    """A layout is moved to bump along its links by scipy; what is measured there, taken to ride, is the layout. A
    panhard takes the axle to one side on the way: put back in the middle, its length differs, and that is told."""
    layout = basalt.layout(end)
    assert layout is not None
    rig = Study(basalt).true.rig
    centre = np.array(axle_centre(rig, end))
    links = layout.links
    assert len(links) == 4
    at, turn = _solved(basalt, layout, up, 0.0)
    moved = tuple(
        msgspec.structs.replace(
            x, axle_pivot_m=tuple(float(v) for v in at + turn.apply(np.array(x.axle_pivot_m) - centre))
        )
        for x in links
    )
    found = from_bump(rig, msgspec.structs.replace(layout, links=moved), up)
    assert found.ahead_at_bump == pytest.approx(at[0] - centre[0], abs=2e-3 if end == "front" else 1e-6)
    if end == "rear":  # symmetric: nothing goes to one side
        for a, b in zip(found.layout.links, links, strict=True):
            assert math.dist(a.axle_pivot_m, b.axle_pivot_m) < 1e-5
        assert max(abs(v) for v in found.changes.values()) < 1e-5
        pitch = turn.as_euler("ZXY")[2]
        assert found.turned == pytest.approx(pitch, abs=1e-6)
        assert found.layout.pinion_up_rad == pytest.approx(layout.pinion_up_rad + found.turned, abs=1e-6)
    else:  # the panhard's arc, from 0 at ride
        assert abs(at[1]) > 5e-4
        assert math.dist(found.layout.links[0].axle_pivot_m, links[0].axle_pivot_m) == pytest.approx(
            abs(at[1]), abs=1e-3
        )


@pytest.mark.parametrize("end", ["rear", "front"])
def test_a_pinion_measured_at_bump_comes_to_its_ride_angle(basalt: Project, end: str) -> None:
    """The travel says how far the pinion is up at 90 mm of bump; measured so, it comes back to what it is at ride."""
    layout = basalt.layout(end)
    travel = Study(basalt).travel(end)
    assert layout is not None
    assert travel is not None
    sheet = Study(basalt).bump_sheet(travel)
    ups = dict(zip((w for w, _, _ in sheet.poses), _row(sheet, "pinion"), strict=True))
    up = travel.grid.limits[1]
    at, turn = _solved(basalt, layout, up, 0.0)
    centre = np.array(axle_centre(Study(basalt).true.rig, end))
    moved = tuple(
        msgspec.structs.replace(
            x, axle_pivot_m=tuple(float(v) for v in at + turn.apply(np.array(x.axle_pivot_m) - centre))
        )
        for x in layout.links
    )
    measured = msgspec.structs.replace(layout, links=moved, pinion_up_rad=ups["full bump"])
    found = from_bump(Study(basalt).true.rig, measured, up)
    assert found.layout.pinion_up_rad == pytest.approx(ups["ride"], abs=1.5e-3)
    assert abs(ups["full bump"] - ups["ride"]) > 0.01


def test_what_does_not_hold_or_binds_is_refused(basalt: Project) -> None:
    layout = basalt.layout("rear")
    assert layout is not None
    rig = Study(basalt).true.rig
    with pytest.raises(GeometryError, match="G111"):
        from_bump(rig, msgspec.structs.replace(layout, links=layout.links[:3]), 0.05)
    with pytest.raises(GeometryError, match="do not take the axle from there to ride"):
        from_bump(rig, layout, 0.9)


def test_sheet_and_pivots_on_the_command_line(
    basalt: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file, out = tmp_path / "rig.stoutlink", tmp_path / "sheet.csv"
    write_project(basalt, file)
    main(["travel", str(file), "--json", "--bump-sheet", str(out)])
    data = json.loads(capsys.readouterr().out)["bump_sheet"]
    rows = list(csv.reader(io.StringIO(out.read_text(encoding="utf-8-sig"))))
    head = next(i for i, row in enumerate(rows) if row[0] == "measure")
    assert rows[head][2::2] == [one["pose"] for one in data["poses"]]
    assert set(rows[head][3::2]) == {"measured"}
    at = next(i for i, one in enumerate(data["measure"]) if one["id"] == "left shock")
    row = next(row for row in rows if row[0] == data["measure"][at]["what"])
    said = [float(cell.replace("″", "")) * 0.0254 for cell in row[2::2]]
    assert said == pytest.approx(data["measure"][at]["values"], abs=0.005 * 0.0254 + 1e-9)
    assert "nobody under it" in rows[1][0] + rows[0][-1]

    before = basalt.layout("rear")
    assert before is not None
    assert main(["from-bump", str(file), "--end", "rear", "--up", "60"]) == 0
    said_text = capsys.readouterr().out
    after = read_project(file).layout("rear")
    assert after is not None
    again = from_bump(Study(basalt).true.rig, before, 0.06)
    assert after.links == again.layout.links
    assert f"turns {math.degrees(again.turned):+.2f}°" in said_text
    assert main(["from-bump", str(file), "--up", "900"]) == 2
    assert "--up 900 is out of range; accepted is within ±600 mm." in capsys.readouterr().err  # F148
    leaves = tmp_path / "leaves.stoutlink"
    write_project(read_project(demo_file("tamarack.stoutlink")), leaves)
    assert main(["from-bump", str(leaves), "--end", "rear", "--up", "60"]) == 2
    assert "no rear layout of links" in capsys.readouterr().err
    none = with_parts(basalt, layouts=(), front_layout=None, rear_layout=None)
    write_project(none, leaves)
    assert main(["options", str(leaves)]) == 2
    assert "nothing to compare" in capsys.readouterr().err  # F147

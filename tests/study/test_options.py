"""Layouts beside each other: each as if it were in use, leaves and links alike; a layout taken to the other axle."""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import pytest

from stoutlink.cli.main import main
from stoutlink.core.analysis.cycle.travel_map import clear_part, travel_map
from stoutlink.core.document.layout import PivotEnd
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.editing.layout_edits import CopyLayout, PutLayout
from stoutlink.core.reports.option_table import option_rows
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.study.options import options
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

PIVOTS: tuple[PivotEnd, PivotEnd] = ("frame", "axle")


def three() -> Project:
    """The pickup's rear leaves, a copy that is rejected, and links proposed beside them."""
    project = read_project(demo_file("tamarack.stoutlink"))
    used = project.layout("rear")
    assert used is not None
    project = CopyLayout(used.id, "rear-copy", "Leaves again").apply(project)
    project = SetChoice("layouts.rear-copy.rejected", "pads are too near the tank").apply(project)
    found = Study(project).propose("rear", "parallel_four_link_panhard", "rear-links", "Links instead")
    project = PutLayout(found.layout, found.joints, "Start").apply(project)
    return with_parts(project, rear_layout=used.id, rear_compare=None)


def test_each_is_as_if_it_were_in_use() -> None:
    project = three()
    found = options(Study(project), "rear")
    assert [one.layout.id for one in found][-1] == "rear-copy"  # rejected ones stand last
    assert {one.layout.id for one in found} == {x.id for x in project.linkage.layouts if x.end == "rear"}
    assert [one.layout.id for one in found if one.used] == [project.linkage.rear_layout]
    for one in found:
        alone = Study(with_parts(project, rear_layout=one.layout.id))
        assert {k: g.value for k, g in one.gauges.items()} == {g.id: g.value for g in alone.gauges("rear")}
        cost = alone.cost(project.donor("front"), project.donor("rear"), None)
        assert (one.cost, one.hours) == (cost.total, cost.hours)
        travel = alone.travel("rear")
        assert travel is not None
        assert one.free == pytest.approx(clear_part(travel_map(travel)))
        assert one.links == len(one.layout.links)
    by = {one.layout.id: one for one in found}
    assert "wrap" in by["rear-copy"].gauges
    assert "pinion" in by["rear-links"].gauges
    words = dict(option_rows(project, found))
    assert [c for c, _ in words["Rejected because"]][-1] == "pads are too near the tank"
    assert [c for c, _ in words["Links to cut"]] == [str(one.links) for one in found]


def test_the_command_says_the_same(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    project, path = three(), tmp_path / "p.stoutlink"
    write_project(project, path)
    assert main(["options", str(path), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    found = options(Study(project), "rear")
    assert [one["layout"] for one in data] == [one.layout.id for one in found]
    assert [one["numbers"]["drive"] for one in data] == [pytest.approx(one.gauges["drive"].value) for one in found]
    assert [one["cost_to_ready"] for one in data] == [one.cost for one in found]
    assert data[-1]["rejected_because"] == "pads are too near the tank"
    assert main(["options", str(path)]) == 0
    out = capsys.readouterr().out
    assert "Links instead" in out
    assert "Rejected because" in out


def test_links_at_the_other_end_mirror_about_the_axle() -> None:
    """A mirrored layout on a rig with the same tyres at both ends has the same side-view slopes: its distances to the
    axle are kept, ahead for behind."""
    project = read_project(demo_file("basalt.stoutlink"))
    study = Study(project)
    rig, old = study.true.rig, project.layout("rear")
    assert old is not None
    new = study.at_other_end(old, "front-copy", "Copy")
    assert new.end == "front"
    up = rig.front.loaded - rig.rear.loaded
    for a, b in zip(old.links, new.links, strict=True):
        for which in PIVOTS:
            p, q = np.array(a.pivot(which)), np.array(b.pivot(which))
            assert q == pytest.approx([rig.wheelbase_m - p[0], p[1], p[2] + up], abs=1e-5)
    after = PutLayout(new, (), "Copy").apply(project)
    assert after.linkage.front_layout == "front-copy"
    back = Study(after).at_other_end(new, "rear-again", "Back")
    for a, b in zip(old.links, back.links, strict=True):
        assert math.dist(a.frame_pivot_m, b.frame_pivot_m) < 1e-4
    for one, two in zip(old.brackets, back.brackets, strict=True):
        assert math.remainder(one.angle_rad - two.angle_rad, 2 * math.pi) == pytest.approx(0.0, abs=1e-5)
    motion = Study(after).motion("front")
    assert motion is not None


def test_a_leaf_pack_at_the_other_end() -> None:
    project = read_project(demo_file("tamarack.stoutlink"))
    study, old = Study(project), project.layout("rear")
    assert old is not None
    assert old.leaf is not None
    new = study.at_other_end(old, "front-leaf", "Leaves in front")
    assert new.leaf is not None
    assert new.leaf.leaves == old.leaf.leaves
    assert (new.leaf.front_m, new.leaf.rear_m) == (old.leaf.front_m, old.leaf.rear_m)
    up = study.true.rig.front.loaded - study.true.rig.rear.loaded
    assert new.leaf.seat_z_m - old.leaf.seat_z_m == pytest.approx(up, abs=1e-5)
    found = Study(PutLayout(new, (), "Copy").apply(project)).leaf("front")
    assert found is not None
    rear = study.leaf("rear")
    assert rear is not None
    assert found.halves.heave_rate == pytest.approx(rear.halves.heave_rate)


def test_a_panhard_beside_leaves_is_square_to_the_rig() -> None:
    project = read_project(demo_file("tamarack.stoutlink"))
    old = project.layout("rear")
    assert old is not None
    found = Study(project).with_panhard(old)
    (bar,) = found.layout.links
    assert bar.frame_pivot_m[0] == bar.axle_pivot_m[0]
    after = PutLayout(found.layout, found.joints, "Add a panhard").apply(project)
    leaf = Study(after).leaf("rear")
    assert leaf is not None
    assert leaf.panhard_pull is not None
    # its arc by hand: the axle's end over droop and bump, the bar as long as it is
    _, y, z = np.subtract(bar.axle_pivot_m, bar.frame_pivot_m)
    length = math.hypot(y, z)
    heights = z + np.array([-old.droop_m, 0.0, old.bump_m])
    shift = np.sqrt(length**2 - heights**2)
    assert leaf.panhard_pull == pytest.approx(float(shift.max() - shift.min()), abs=0.003)
    assert len(Study(after).with_panhard(found.layout).layout.links) == 1

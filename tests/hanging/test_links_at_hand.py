"""Links that are there already, turns a hole change asks for, brackets that are turned, joints with a built-in angle."""

from __future__ import annotations

import csv
import io
import math
from typing import Any

import msgspec
import numpy as np
import pytest
from scipy.optimize import minimize_scalar

from stoutlink.core.advice.layout_rules import cut_findings
from stoutlink.core.analysis.linkage.axle_motion import axle_motion
from stoutlink.core.analysis.linkage.cut_list import LinkCut, layout_cuts
from stoutlink.core.analysis.linkage.hole_map import hole_map, hole_reach, turns_of
from stoutlink.core.analysis.linkage.joint_misalignment import misalignment_over
from stoutlink.core.document.hole_points import with_holes
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import MovePivot
from stoutlink.core.editing.layout_edits import LockLength
from stoutlink.core.mechanics.link_cut import EndSet, Turns, cut_link, turns_for
from stoutlink.core.mechanics.linkage.misalignment import joint_misalignment, set_joint_misalignment
from stoutlink.core.reports.cut_list_csv import cut_list_csv, cut_list_text
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def threaded(hand: Any = "right") -> EndSet:
    return EndSet(0.08, 0.025, 0.002, hand, 0.03, 0.15)


def test_turns_by_hand() -> None:
    """Pitch times turns: a right- and a left-hand end give both pitches a turn, one end half its pitch a half turn."""
    both = cut_link(1.0, 0.05, 0.006, "steel", (threaded(), threaded("left")))
    assert turns_for(both, 0.010) == Turns(0.010, 2.5, 0.0, True)
    assert turns_for(both, -0.010).turns == pytest.approx(-2.5)
    # engaged 0.07 of 0.0375 needed: 32.5 mm a side out, 50 mm in
    assert turns_for(both, 0.0649).reaches
    assert not turns_for(both, 0.0651).reaches
    assert turns_for(both, -0.0999).reaches
    assert not turns_for(both, -0.1001).reaches
    one = cut_link(1.0, 0.05, 0.006, "steel", (threaded(), EndSet(0.05)))
    found = turns_for(one, 0.0033)
    assert (found.turns, round(found.left, 6)) == (1.5, 0.0003)
    welded = cut_link(1.0, 0.05, 0.006, "steel", (EndSet(0.05), EndSet(0.05)))
    assert [turns_for(welded, v).reaches for v in (0.0004, 0.0006)] == [True, False]


def basalt() -> tuple[Project, Layout]:
    project = read_project(demo_file("basalt.stoutlink"))
    layout = project.layout("rear")
    assert layout is not None
    return project, layout


def with_hand(off: float) -> tuple[Project, Layout, LinkCut]:
    project, layout = basalt()
    link = layout.links[0]
    length = math.dist(link.frame_pivot_m, link.axle_pivot_m)
    project = with_value(project, f"layouts.{layout.id}.links.{link.id}.in_hand_m", length - off)
    after = project.layout("rear")
    assert after is not None
    return project, after, layout_cuts(Study(project).true.rig, after, project.linkage.joints)[0]


def test_a_link_at_hand_is_turned_not_cut() -> None:
    project, layout, one = with_hand(0.004)
    assert one.at_hand
    assert one.turns.change == pytest.approx(0.004)
    assert one.turns.turns == pytest.approx(0.004 / one.cut.per_turn)
    cuts = layout_cuts(Study(project).true.rig, layout, project.linkage.joints)
    rows = list(csv.DictReader(io.StringIO(cut_list_csv(cuts, ()))))
    assert [r["link"] for r in rows] == [x.name for x in layout.links[1:]]
    assert "at hand, " in cut_list_text(cuts, (), "mm")
    assert not [f for f in cut_findings(cuts, "in") if f.code == "C206"]
    _, _, far = with_hand(far_off := one.cut.longer + 0.001)
    assert not far.turns.reaches
    assert [f.subject for f in cut_findings((far,), "in") if f.code == "C206"] == [f"{layout.id}.{far.link.id}"]
    assert far_off > 0.004


def test_kept_it_holds_the_length_at_hand() -> None:
    project, layout, one = with_hand(0.004)
    link = one.link
    project = LockLength(layout.id, link.id, True).apply(project)
    x, y, z = link.frame_pivot_m
    after = MovePivot(layout.id, link.id, "frame", (x, y, z + 0.03)).apply(project).layout("rear")
    assert after is not None
    moved = after.link(link.id)
    assert moved is not None
    assert math.dist(moved.frame_pivot_m, moved.axle_pivot_m) == pytest.approx(link.in_hand_m)


def test_a_dot_of_the_map_says_its_turns() -> None:
    project, layout = basalt()
    study = Study(project)
    found, cuts = study.hole_map("rear"), study.cuts_of("rear")
    assert found is not None
    assert turns_of(found, found.current, cuts) == ()
    row = next(i for i in range(len(found.holes)) if i != found.current)
    holes = [(b.id, int(h)) for b, h in zip(layout.brackets, found.holes[row], strict=True)]
    after = with_holes(layout, holes)
    changed = {
        x.id: math.dist(x.frame_pivot_m, x.axle_pivot_m)
        - math.dist(layout.link(x.id).frame_pivot_m, layout.link(x.id).axle_pivot_m)  # type: ignore[union-attr]
        for x in after.links
    }
    said = {one.link.id: turns for one, turns in turns_of(found, row, cuts)}
    assert set(said) == {k for k, v in changed.items() if abs(v) > 5e-5}
    for name, turns in said.items():
        assert turns.change == pytest.approx(changed[name])


def test_what_a_row_reaches_is_what_its_holes_give() -> None:
    """The range over one bracket's holes is that of the map with the others as they are; a row typed two holes longer
    reaches what two more were said to."""
    project, layout = basalt()
    study, bracket = Study(project), layout.brackets[0]
    rig, s = study.true.rig, project.settings
    found = {r.gauge: r for r in hole_reach(rig, layout, project.linkage.joints, s, bracket)}
    every = hole_map(rig, layout, project.linkage.joints, s)
    same = np.ones(len(every.holes), bool)
    for k, other in enumerate(layout.brackets):
        if other.id != bracket.id:
            same &= every.holes[:, k] == other.hole
    for name, one in found.items():
        assert (one.low, one.high) == pytest.approx((every.values[name][same].min(), every.values[name][same].max()))
        assert one.more_low <= one.low <= one.high <= one.more_high
    longer = msgspec.structs.replace(bracket, holes=bracket.holes + 2, hole=bracket.hole + 1)
    wide = with_value(project, f"layouts.{layout.id}.brackets.{bracket.id}", longer).layout("rear")
    assert wide is not None
    again = {r.gauge: r for r in hole_reach(rig, wide, project.linkage.joints, s, longer)}
    for name, one in found.items():
        assert (one.more_low, one.more_high) == pytest.approx((again[name].low, again[name].high))
    drive = found["drive"]
    assert drive.part((drive.low - 10, drive.high + 10)) == pytest.approx(
        (drive.high - drive.low) / (drive.high - drive.low + 20)
    )
    assert drive.part((drive.high + 1, drive.high + 2)) == 0.0


def test_a_turned_bracket_starts_the_lean() -> None:
    """A bracket turned in plan: at ride the lean is what is left of the angle between the bolt and a bore square to
    the link, its spin chosen for it when it was made."""
    project, layout = basalt()
    rig = Study(project).true.rig
    link = layout.links[0]
    at = f"layouts.{layout.id}.links.{link.id}.frame_end"
    turned = math.radians(9.0)
    leans = []
    for value in (0.0, turned):
        one = with_value(project, f"{at}.bolt_turned_rad", value).layout("rear")
        assert one is not None
        motion = axle_motion(rig, one, project.linkage.joints, one.droop_m, one.bump_m)
        ride = int(np.nanargmin(np.abs(motion.heave.poses.z - motion.centre[2])))
        leans.append(float(misalignment_over(motion, project.linkage.joints, motion.heave)[0, 0, ride]))
    u = np.array(link.axle_pivot_m) - np.array(link.frame_pivot_m)
    u /= np.linalg.norm(u)
    level = np.array([-u[1], u[0], 0.0]) / math.hypot(u[0], u[1])
    bolt = np.array(
        [math.cos(turned) * level[0] - math.sin(turned) * level[1], math.sin(turned) * level[0] + math.cos(turned) * level[1], 0.0]
    )  # fmt: skip
    assert leans[0] == pytest.approx(0.0, abs=1e-6)
    # spin free: the joint turns until only the bolt's part along the link is left
    assert leans[1] == pytest.approx(math.asin(abs(bolt @ u)), abs=1e-4)


def test_a_built_in_angle_against_a_search() -> None:
    rng = np.random.default_rng(11)
    u = rng.normal(size=(12, 3))
    bolts = [v / np.linalg.norm(v, axis=1)[:, None] for v in (rng.normal(size=(12, 3)), rng.normal(size=(12, 3)))]
    found = set_joint_misalignment(u, bolts[0], bolts[1], 0.3, (0.25, -0.15))
    straight = joint_misalignment(u, bolts[0], bolts[1], 0.3)
    same = set_joint_misalignment(u, bolts[0], bolts[1], 0.3, (0.0, 0.0))
    assert np.maximum(same.frame, same.axle) == pytest.approx(np.maximum(straight.frame, straight.axle), abs=3e-4)
    for k in range(12):
        w = u[k] / np.linalg.norm(u[k])
        e1 = np.cross([0.0, 0.0, 1.0], w) if abs(w[2]) < 0.9 else np.cross([1.0, 0.0, 0.0], w)
        e1 /= np.linalg.norm(e1)
        e2 = np.cross(w, e1)

        def worst(spin: float, e1: Any = e1, e2: Any = e2, w: Any = w, k: int = k) -> float:
            out = []
            for bolt, delta, at in ((bolts[0][k], 0.25, spin), (bolts[1][k], -0.15, spin + 0.3)):
                bore = math.cos(delta) * (math.cos(at) * e1 + math.sin(at) * e2) + math.sin(delta) * w
                out.append(math.acos(min(1.0, abs(float(bore @ bolt)))))
            return max(out)

        best = min(
            minimize_scalar(worst, bounds=(a, a + 0.4), method="bounded", options={"xatol": 1e-7}).fun
            for a in np.linspace(-math.pi, math.pi, 20)
        )
        assert max(found.frame[k], found.axle[k]) == pytest.approx(best, abs=3e-4)

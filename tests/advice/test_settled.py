"""When a cut list is settled: nothing of it a default, nothing it rests on a danger, and cycled."""

from __future__ import annotations

import csv
import io

import msgspec

from stoutlink.core.advice.layout_rules import default_findings
from stoutlink.core.document.link_defaults import OPEN_JOINT, default_parts
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Accepted, Project, with_parts
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.editing.layout_edits import SetTube
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.route_state import cut_state, rig_state
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def settled_but_for(project: Project, *codes: str) -> Project:
    """The project with every finding accepted but those of ``codes``."""
    study = Study(project)
    accepted = tuple(Accepted(code=f.key, when="today", why="looked at") for f in study.findings if f.code not in codes)
    return msgspec.structs.replace(project, accepted=accepted)


def test_settled_is_earned(basalt: Project) -> None:
    whole = settled_but_for(basalt)
    study = Study(whole)
    assert cut_state(study) == ("work", "not cycled yet")
    study.cycle()
    assert cut_state(study) == ("settled", "settled")
    assert study.cut_waits == ()


def test_a_danger_in_what_it_rests_on_keeps_it_open(basalt: Project) -> None:
    study = Study(settled_but_for(basalt, "T301"))
    study.cycle()
    state, word = cut_state(study)
    assert state == "work"
    assert word == f"{sum(f.code == 'T301' and f.severity == 'danger' for f in study.findings)} dangers open"
    assert study.cut_waits == (f"{word} in Travel",)
    rows = list(csv.DictReader(io.StringIO(cut_list_csv(study.cuts, study.cut_waits))))
    assert all(row["remark"] == f"not settled: {word} in Travel" for row in rows)
    donors = Study(settled_but_for(basalt, "K101"))  # an axle may break: nothing the cut of a tube rests on
    donors.cycle()
    assert cut_state(donors)[0] == "settled"


def test_what_is_as_proposed_is_not_settled(basalt: Project) -> None:
    """One card a layout, whatever the number of links; it goes with the last of them that is entered."""
    layout = basalt.layout("rear")
    assert layout is not None
    bare = msgspec.structs.replace(basalt, entries=())
    assert default_parts(bare, layout, layout.links[0]) == ("tube",)
    said = default_findings(bare, layout)
    assert [(f.code, f.step, f.subject) for f in said] == [("C205", "cut", "rear-a")]
    assert said[0].sentence == f"{layout.name}: tube of 2 of 4 links are as proposed; nobody has entered them."
    typed = SetNumber("layouts.rear-a.links.upper_left.tube_od_m", 0.04445, "1 3/4").apply(bare)
    assert default_findings(typed, layout) == ()  # mirrored: entered once for both
    picked = SetTube("rear-a", "upper_right", 0.04445, 0.00635).apply(bare)
    assert default_findings(picked, picked.layout("rear")) == ()  # type: ignore[arg-type]


def test_take_up_and_joint_count_as_well(basalt: Project) -> None:
    at = "layouts.rear-a.links.lower_left"
    proposed = with_value(basalt, f"{at}.frame_end.take_up_m", 0.065)
    layout = proposed.layout("rear")
    assert layout is not None
    link = layout.link("lower_left")
    assert link is not None
    assert default_parts(proposed, layout, link) == ("take-up",)
    example = with_parts(basalt, joints=tuple(msgspec.structs.replace(j, example=True) for j in basalt.linkage.joints))
    assert default_parts(example, basalt.layout("rear"), link)[-1:] == ("joint",)  # type: ignore[arg-type]
    mine = SetNumber(f"joints.{link.frame_end.joint}.shank_m", 0.13, "0.13 m").apply(example)
    assert "joint" in default_parts(mine, layout, link)  # the other end's is still an example's
    mine = SetNumber(f"joints.{link.axle_end.joint}.shank_m", 0.13, "0.13 m").apply(mine)
    assert "joint" not in default_parts(mine, layout, link)
    unchosen = with_parts(basalt, joints=(*basalt.linkage.joints, OPEN_JOINT))
    unchosen = with_value(unchosen, f"{at}.axle_end.joint", OPEN_JOINT.id)
    assert "joint" in default_parts(unchosen, unchosen.layout("rear"), unchosen.layout("rear").link("lower_left"))  # type: ignore[union-attr, arg-type]


def test_the_rig_says_how_much_is_left_to_enter(basalt: Project) -> None:
    empty = read_project(demo_file("starter.stoutlink"))
    assert rig_state(Study(empty)) == ("untouched", "12 to enter")
    begun = SetNumber("rig.wheelbase_m", 2.6, "2.6 m").apply(empty)
    assert rig_state(Study(begun)) == ("work", "11 to enter")
    assert rig_state(Study(basalt))[0] == "work"  # two estimates

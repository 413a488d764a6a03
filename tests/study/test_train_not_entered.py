"""What takes the engine's torque or the gears is withheld while they are not entered; what does not is given."""

from __future__ import annotations

import pytest

from stoutlink.core.document.placeholders import with_placeholders
from stoutlink.core.editing.edits import AcceptKnockOn
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

GEAR = "rig.drivetrain.gear_ratios.0"


def test_forces_travel_and_climbing_wait_for_the_drivetrain() -> None:
    study = Study(with_placeholders(read_project(demo_file("basalt.stoutlink")), [GEAR]))
    assert study.gauges("rear")[0].id == "drive"
    assert study.loads("rear") is None
    for ask in (lambda: study.travel("rear"), lambda: study.behaviour()):
        with pytest.raises(StoutError) as why:
            ask()
        assert why.value.code == "R130"
    study.cycle()
    assert study.cut_waits[-1] == "1 of the rig's numbers not entered"


def test_leaves_wait_for_it_as_they_wrap_under_torque() -> None:
    study = Study(with_placeholders(read_project(demo_file("tamarack.stoutlink")), [GEAR]))
    problem = study.axles["rear"].problem
    assert study.axles["rear"].gauges == ()
    with pytest.raises(StoutError):
        study.leaf("rear")
    assert problem is None or problem.code == "R130"


def test_what_nobody_entered_cannot_be_accepted_away() -> None:
    """A reason given for missing numbers leaves them open: `check` and the window go on naming them."""
    project = with_placeholders(read_project(demo_file("basalt.stoutlink")), [GEAR])
    missing = next(f for f in Study(project).findings_so_far if f.code == "R130")
    tried = AcceptKnockOn((missing.key,), "today", "never mind").apply(project)
    study = Study(tried)
    assert study.accepted(missing) is None
    assert missing.key in {f.key for f in study.open_so_far}

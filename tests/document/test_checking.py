"""What a project refuses, and that every number in it can be reached, named and explained."""

from __future__ import annotations

from typing import Any

import msgspec
import pytest

from stoutlink.core.document.checking import check_project
from stoutlink.core.document.paths import accept, field_info, get_value, with_value
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import TorquePoint, UseShares
from stoutlink.core.document.survey import BoxSolid, OutlineSolid, TubeSolid
from stoutlink.core.errors import ValueOutOfRange
from tests.walking import number_paths

BOX = BoxSolid(id="b", name="b", kind="other", low_m=(0, 0, 0), high_m=(1, 1, 1))


@pytest.mark.parametrize(
    ("path", "value", "code", "words"),
    [
        ("rig.front.tyre_free_radius_m", None, "", ""),  # the printed size stands in
        ("rig.uses", UseShares(), "D115", "all zero"),
        (
            "rig.drivetrain.torque_curve",
            (TorquePoint(rpm=2000, torque_nm=300), TorquePoint(rpm=1000, torque_nm=200)),
            "D116",
            "2000, 1000 rpm",
        ),
        ("rig.rear.roll_out_m", 2.0, "D106", "rolling radius of 4.18″"),
        ("rig.rear.loaded_radius_road_m", 0.2, "D106", "Loaded radius (rear) is 7.87″"),
        ("solids", (BOX, BOX), "D112", "“b” twice"),
        ("solids", (msgspec.structs.replace(BOX, high_m=(1, 0, 1)),), "D117", "along y"),
        (
            "solids",
            (TubeSolid(id="t", name="t", kind="exhaust", path_m=((0, 0, 0), (0, 0, 0)), diameter_m=0.05),),
            "D118",
            "same place",
        ),
        (
            "solids",
            (
                OutlineSolid(
                    id="o",
                    name="o",
                    kind="other",
                    view="side",
                    outline_m=((0, 0), (1, 0), (0, 1)),
                    low_m=0.2,
                    high_m=0.1,
                ),
            ),
            "D119",
            "3.94″",
        ),
    ],
)
def test_what_cannot_be_meant_is_named(basalt: Project, path: str, value: Any, code: str, words: str) -> None:
    changed = with_value(basalt, path, value)
    if not code:
        check_project(changed)
        return
    with pytest.raises(ValueOutOfRange) as told:
        check_project(changed)
    assert told.value.code == code
    assert words in told.value.sentence


def test_no_tyre_at_all_is_refused(basalt: Project) -> None:
    bare = with_value(
        with_value(basalt, "rig.front.tyre_free_radius_m", None), "rig.front.tyre_text", "black and round"
    )
    with pytest.raises(ValueOutOfRange, match="black and round"):
        check_project(bare)


def test_every_number_of_the_rig_and_its_solids_has_title_range_and_help(basalt: Project) -> None:
    seen = 0
    for path in number_paths(basalt):
        if not path.startswith(("rig.", "solids.", "layouts.")) or ".outline_m." in path:
            continue
        info = field_info(basalt, path)
        assert info.title, path
        assert info.help_text.endswith("."), path
        value = float(get_value(basalt, path))
        assert accept(basalt, path, value) == value, path
        with pytest.raises(ValueOutOfRange, match="accepted is"):
            accept(basalt, path, info.high * 2 + 1)
        seen += 1
    assert seen > 150


def test_paths_share_what_did_not_change(basalt: Project) -> None:
    after = with_value(basalt, "surveys.as-built.points.p8.height.0.value_m", 0.6)
    assert after.tape.surveys[0].points[7].height[0].value_m == 0.6
    assert after.tape.surveys[0].points[6] is basalt.tape.surveys[0].points[6]
    assert after.tape.surveys[1] is basalt.tape.surveys[1]
    assert after.rig is basalt.rig
    for gone in ("surveys.nowhere.name", "rig.front.colour", "rig.drivetrain.gear_ratios.9", "layouts.0.name"):
        with pytest.raises(KeyError):
            get_value(basalt, gone)

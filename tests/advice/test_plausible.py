"""Numbers that hardly any rig has are named, one finding each side of every band; the demo rigs have none."""

from __future__ import annotations

import math
from collections.abc import Callable

import pytest

from stoutlink.core.advice import plausible
from stoutlink.core.advice.plausible import BANDS, plausible_findings
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.paths import get_value, with_value
from stoutlink.core.document.project import Project
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

DEG = math.pi / 180.0


def said(project: Project) -> dict[str, str]:
    """Subject to sentence."""
    return {f.subject: f.sentence for f in plausible_findings(project, effective_vehicle(project))}


@pytest.mark.parametrize("name", ["basalt", "tamarack", "starter"])
def test_the_demo_rigs_are_plausible(name: str) -> None:
    assert said(read_project(demo_file(f"{name}.stoutlink"))) == {}


@pytest.fixture
def plain(basalt: Project) -> Project:
    """The demo with its stated numbers in force."""
    for name in ("mass_from", "along_from", "height_from"):
        basalt = with_value(basalt, f"rig.weight.{name}", "stated")
    return basalt


@pytest.mark.parametrize("band", BANDS, ids=lambda b: b.path)
def test_each_side_of_every_band(plain: Project, band: plausible.Band) -> None:
    step = 1e-4 * (band.high - band.low)
    speaks = [band.low - step, band.high + step]
    silent = [band.low + step, band.high - step]
    for value in speaks:
        assert band.path in said(with_value(plain, band.path, value)), value
    for value in silent:
        assert band.path not in said(with_value(plain, band.path, value)), value


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        ("rig.cg_height_m", 3.0, "Centre of gravity height is 118.11″; rigs have 19.69″ to 59.06″."),
        ("rig.cg_height_m", 0.45, "Centre of gravity height is 17.72″"),
        ("rig.drivetrain.gear_ratios", (0.3,), "First gear is 0.30:1; rigs have 1.60:1 to 8.50:1."),
        ("rig.drivetrain.transfer_low_ratio", 0.3, "Low range is 0.30:1"),
        ("rig.brake_front_share", 0.0, "Front share of the brakes is 0 %"),
        ("layouts.rear-a.links.upper_left.frame_pivot_m.2", -0.2, "frame pivot (rear) is −7.87″; rigs have 3.15″ to"),
        ("layouts.rear-a.pinion_up_rad", 46 * DEG, "Rear pinion above level is 46.0°; rigs have −6.0° to 30.0°."),
        ("rig.body.rail_height_m", 0.4, "Rail height is 15.75″"),
        ("rig.cg_ahead_of_rear_m", 0.2, "Centre of gravity ahead of the rear axle is 7.87″"),
        ("layouts.front-a.caster_rad", -0.1, "Caster is −5.7°; rigs have −2.0° to 15.0°."),
        ("layouts.rear-a.links.lower_left.frame_pivot_m.0", 4.0, "Left lower between its pivots (rear) is"),
    ],
)
def test_what_changed_results_without_a_word(plain: Project, path: str, value: object, words: str) -> None:
    """The slips of hands and units that were taken silently."""
    changed = with_value(plain, path, value)
    found = [s for s in said(changed).values() if words in s]
    assert len(found) == 1, said(changed)
    study = Study(changed)
    assert [f.severity for f in study.open_so_far if f.code == "R120" and words in f.sentence] == ["warn"]
    assert next(f.step for f in study.open_so_far if f.code == "R120") == (
        "rig" if path.startswith("rig") else "layout"
    )


def test_a_layout_not_in_use_is_left_alone(plain: Project) -> None:
    wild = with_value(plain, "layouts.rear-a.pinion_up_rad", 46 * DEG)
    assert said(wild)
    assert said(with_value(wild, "rear_layout", None)) == {}


@pytest.mark.parametrize(
    ("path", "change"),
    [("rig.drivetrain.front_output_m", lambda v: None), ("rig.front.wheel_mass_kg", lambda v: None)],
)
def test_what_is_not_entered_is_not_judged(plain: Project, path: str, change: Callable[[object], object]) -> None:
    assert said(with_value(plain, path, change(get_value(plain, path)))) == {}

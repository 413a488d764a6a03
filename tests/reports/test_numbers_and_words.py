"""Words and numbers of texts and papers that nothing else would miss if they were exchanged."""

from __future__ import annotations

import math

import msgspec
import pytest

from stoutlink.core.advice.off_run_rules import smooth_run_findings
from stoutlink.core.advice.pose_words import pose_words
from stoutlink.core.analysis.cycle.axle_springs import axle_springs
from stoutlink.core.analysis.cycle.steer_holes import best_holes
from stoutlink.core.analysis.survey.survey_points import place_survey
from stoutlink.core.analysis.swap.cost_to_ready import wants_speed_correction
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import Reading, Survey, SurveyPoint
from stoutlink.core.editing.edits import SetSource
from stoutlink.core.reports.analysis_text import analysis_text
from stoutlink.core.reports.results import results
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.route_state import layout_state, travel_state
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

DEG = math.pi / 180.0


@pytest.fixture
def leaves() -> Project:
    """The demo on leaf springs."""
    return read_project(demo_file("tamarack.stoutlink"))


@pytest.mark.parametrize(
    ("steer", "words"),
    [
        (20 * DEG, "at 1.0″ of bump, 5° left side up, steered 20° left"),
        (-20 * DEG, "at 1.0″ of bump, 5° left side up, steered 20° right"),
        (None, "at 1.0″ of bump, 5° left side up"),
    ],
)
def test_left_is_left(steer: float | None, words: str) -> None:
    """Positive steer turns the wheels to the left (vehicle axes: y to the left, z up)."""
    assert pose_words(0.0254, 5 * DEG, steer, "in") == words


def test_how_stiff_leaves_are_called(leaves: Project) -> None:
    """By how far the load pushes them from free: less than 70 mm is stiff, more than 160 mm soft (estimates)."""
    study = Study(leaves)
    found = study.leaf("rear")
    assert found is not None
    pushed = found.load / found.halves.heave_rate
    word = next(g.word for g in study.axles["rear"].gauges if g.id == "rate")
    assert word == ("stiff" if pushed < 0.07 else "soft" if pushed > 0.16 else "middling")
    path = f"layouts.{leaves.linkage.rear_layout}.leaf.measured_rate_n_per_m"
    for want, expected in ((0.06, "stiff"), (0.10, "middling"), (0.17, "soft")):
        changed = Study(with_value(leaves, path, found.load / want))
        again = changed.leaf("rear")
        assert again is not None
        now = again.load / again.halves.heave_rate
        assert ("stiff" if now < 0.07 else "soft" if now > 0.16 else "middling") == expected
        assert next(g.word for g in changed.axles["rear"].gauges if g.id == "rate") == expected


def test_places_in_the_text(basalt: Project) -> None:
    """Inches and degrees to a tenth, pounds, kilograms and millimetres whole."""
    inches = Study(basalt)
    text = analysis_text(inches, results(inches))
    assert "\n  CG height                              34.2″ ± 3.1″" in text
    assert "\n  Approach angle                         70.0° ± 2.8°" in text
    assert "\n  Weight, all up                         4312 lb ± 93 lb" in text
    metric = Study(with_value(basalt, "settings.units", "mm"))
    text = analysis_text(metric, results(metric))
    assert "\n  CG height                              870 mm ± 80 mm" in text
    assert "\n  Approach angle                         70.0° ± 2.8°" in text
    assert "\n  Weight, all up                         1956 kg ± 42 kg" in text


def test_how_far_the_mean_shifts_is_in_sigma(basalt: Project) -> None:
    """Pivots known to 40 mm only: the roll steer's mean is not where its first order says; told as a part of σ."""
    layout = basalt.layout("rear")
    assert layout is not None
    for link in layout.links:
        for end in ("frame", "axle"):
            for axis in range(3):
                path = f"layouts.{layout.id}.links.{link.id}.{end}_pivot_m.{axis}"
                basalt = SetSource(path, "measured", 0.04).apply(basalt)
    study = Study(basalt)
    motion = study.axles["rear"].motion
    assert motion is not None
    sure, said = study.sure(motion), results(study)["axles"]["rear"]["uncertainty_from"]
    told = {"lateral_hold": "hold", "roll_steer_deg_per_deg": "steer", "roll_centre_height_m": "roll_centre_height"}
    shifted = [name for name, key in told.items() if abs(sure[key].shift) > 1e-9]
    assert shifted
    for name in shifted:
        one = sure[told[name]]
        assert said[name]["mean_shift_in_sigma"] == pytest.approx(one.shift / one.sigma)


def test_a_speedometer_is_corrected_only_where_it_can_be_off(basalt: Project) -> None:
    """It counts driveshaft turns; ratio and tyre were 3.5 on 0.37 m, and more than 2 % in speed is too far."""
    rig, axle = basalt.rig, basalt.donor("rear")
    assert axle is not None
    assert axle.pair is not None
    rolling, ratio = rig.rear.rolling, axle.pair.ratio * axle.hub_ratio
    same = {"speed_pickup": "driveshaft", "old_ratio": ratio, "old_rolling_radius_m": rolling}
    for changes, wanted in (
        (same, False),
        (same | {"old_ratio": ratio * 1.03}, True),
        (same | {"old_ratio": ratio * 1.01}, False),
        (same | {"old_rolling_radius_m": rolling * 1.03}, True),
        (same | {"old_ratio": ratio * 1.03, "speed_pickup": "wheel"}, False),
        (same | {"old_ratio": None}, False),
        (same | {"old_rolling_radius_m": None}, False),
    ):
        fittings = msgspec.structs.replace(rig.fittings, **changes)
        assert wants_speed_correction(msgspec.structs.replace(rig, fittings=fittings), axle, None) is wanted, changes
    bare = msgspec.structs.replace(axle, ring_teeth=None, pinion_teeth=None)
    off = msgspec.structs.replace(rig, fittings=msgspec.structs.replace(rig.fittings, **same | {"old_ratio": 9.0}))
    assert wants_speed_correction(off, bare, None) is False
    assert wants_speed_correction(off, bare, axle.pair) is True


def test_both_leaves_carry_the_axle(leaves: Project) -> None:
    """A parallel pair: the axle's rate is twice that of one side."""
    travel = Study(leaves).travel("rear")
    assert travel is not None
    assert travel.leaf is not None
    springs = axle_springs(travel)
    assert springs is not None
    assert springs.sags(2.0 * travel.leaf.halves.heave_rate * 0.03) == pytest.approx(0.03)


@pytest.mark.parametrize("name", ["basalt", "tamarack"])
def test_the_best_steering_holes_are_those_of_this_axle(name: str) -> None:
    """On leaves the axle goes as its travel says, on links as its bars do."""
    project = read_project(demo_file(f"{name}.stoutlink"))
    study, layout = Study(project), project.layout("front")
    travel = study.travel("front")
    assert travel is not None
    assert layout is not None
    held = None if layout.leaf is None else travel.grid
    direct = best_holes(study.true.rig, layout, project.linkage.joints, layout.droop_m, layout.bump_m, held=held)
    assert study.best_steering_holes("front", travel) == direct
    assert direct


def test_the_route_says_whether_it_is_cycled(basalt: Project) -> None:
    """In work before both axles were cycled, whatever else is open."""
    quiet = with_value(basalt, "accepted", ())
    study = Study(quiet)
    assert not study.cycled
    before = travel_state(study)
    study.cycle()
    assert study.cycled
    after = travel_state(study)
    assert before == ("work", "cycling")
    assert after[1] != "cycling"


@pytest.mark.parametrize(("gone", "state"), [("rear", "set"), ("front", "set"), ("both", "untouched")])
def test_one_layout_is_a_layout(basalt: Project, gone: str, state: str) -> None:
    for end in ("rear", "front") if gone == "both" else (gone,):
        basalt = with_value(basalt, f"{end}_layout", None)
    assert (layout_state(Study(basalt))[0] == "untouched") is (state == "untouched")


@pytest.mark.parametrize(("across", "factor"), [("full", 2.0), ("left", 1.0)])
def test_a_width_off_the_run_is_told_as_it_was_taped(across: str, factor: float) -> None:
    """Rails 0.40 m from the middle, one reading 30 mm too wide: said as the tape reads it, whole or half."""
    points = []
    for n in range(9):
        half = 0.40 + (0.03 if n == 4 else 0.0)
        read = [(Reading(value_m=v),) for v in (0.3 * n, 0.6, factor * half)]
        points.append(
            SurveyPoint(id=f"p{n}", across=across, station=read[0], height=read[1], side=read[2])  # type: ignore[arg-type]
        )
    survey = Survey(id="s", name="s", points=tuple(points))
    (found,) = (f.finding for f in smooth_run_findings(survey, place_survey(survey, 3.0), 3.0, "mm"))
    assert found.code == "S103"
    name = "spread" if across == "full" else "offset"
    assert found.sentence.startswith(f"The {name} of the point at station 1200 mm, {factor * 430:.0f} mm, is about ")
    assert f"{factor * 30:.0f} mm wider than the run of the frame" in found.sentence
    assert f"about {factor * 400:.0f} mm" in found.why

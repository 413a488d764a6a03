"""What must hold for any survey and any weighing, whatever the numbers."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stoutlink.core.advice.survey_rules import survey_findings
from stoutlink.core.analysis.survey.survey_merge import merge_survey
from stoutlink.core.analysis.survey.survey_points import Placed, place_survey
from stoutlink.core.document.survey import Datum, Reading, Survey, SurveyPoint
from stoutlink.core.geometry.planar_fit import planar_fit
from stoutlink.core.mechanics.ground_angles import approach_angle, breakover_angle, tangent_angle
from stoutlink.core.mechanics.tape import hidden_centre, mean_reading
from stoutlink.core.mechanics.weighing import Lump, combined, height_by_tilting, level_scales

WHEELBASE = 2.75
few = settings(max_examples=60)
lengths = st.floats(-3, 3)
rises = st.floats(-0.4, 0.4)
frames = st.lists(
    st.tuples(st.floats(-0.5, 3.2), st.floats(0.3, 1.2), st.floats(0.3, 1.1)),
    min_size=2,
    max_size=9,
    unique_by=lambda p: round(p[0], 2),
)


def survey(points: list[tuple[float, float, float]], datum: Datum) -> Survey:
    made = tuple(
        SurveyPoint(
            id=f"p{i}",
            name=f"n{i}",
            station=(Reading(value_m=s),),
            height=(Reading(value_m=h),),
            side=(Reading(value_m=w),),
        )
        for i, (s, h, w) in enumerate(points)
    )
    return Survey(id="s", name="s", datum=datum, points=made)


def spots(placed: tuple[Placed, ...]) -> np.ndarray:
    return np.array([(p.x, p.z or 0.0) for p in placed])


@few
@given(frames, lengths, rises, rises)
def test_lifting_a_frame_keeps_its_shape(
    points: list[tuple[float, float, float]], zero: float, front: float, rear: float
) -> None:
    """Rises are a rigid motion: distances between frame points stay, and the axle points stay where they are."""
    plain = spots(place_survey(survey(points, Datum(zero_x_m=zero)), WHEELBASE))
    lifted = spots(place_survey(survey(points, Datum(zero_x_m=zero, front_rise_m=front, rear_rise_m=rear)), WHEELBASE))
    for a in range(len(points)):
        for b in range(a):
            assert np.linalg.norm(lifted[a] - lifted[b]) == pytest.approx(
                np.linalg.norm(plain[a] - plain[b]), abs=1e-12
            )
    if front == rear:
        assert lifted - plain == pytest.approx(np.tile([0.0, front], (len(points), 1)))


@few
@given(frames, lengths, st.floats(0, 6))
def test_the_way_the_tape_grows_does_not_matter(
    points: list[tuple[float, float, float]], zero: float, length: float
) -> None:
    """The same places read from the other end of a tape of any length."""
    there = place_survey(survey(points, Datum(zero_x_m=zero)), WHEELBASE)
    turned = [(length - s, h, w) for s, h, w in points]
    back = place_survey(survey(turned, Datum(zero_x_m=zero + length, direction="rearward")), WHEELBASE)
    assert spots(back) == pytest.approx(spots(there), abs=1e-9)
    assert [p.sides for p in back] == [p.sides for p in there]


@few
@given(frames, lengths, rises, rises, st.sampled_from(["forward", "rearward"]))
def test_a_survey_joins_itself_where_it_lies(
    points: list[tuple[float, float, float]], zero: float, front: float, rear: float, way: str
) -> None:
    one = survey(points, Datum(zero_x_m=zero, front_rise_m=front, rear_rise_m=rear, direction=way))  # type: ignore[arg-type]
    found = merge_survey(place_survey(one, WHEELBASE), one, WHEELBASE)
    assert found.rms < 1e-9
    again = place_survey(msgspec.structs.replace(one, datum=found.datum), WHEELBASE)
    assert spots(again) == pytest.approx(spots(place_survey(one, WHEELBASE)), abs=1e-7)


@few
@given(frames, st.floats(-1, 1), st.floats(-0.5, 0.5))
def test_findings_do_not_depend_on_where_the_tape_lay(
    points: list[tuple[float, float, float]], shift: float, up: float
) -> None:
    """Only what is outside the wheelbase may change when the same readings are shifted."""

    def found(datum: Datum) -> set[str]:
        return {f.key for f in survey_findings((survey(points, datum),), WHEELBASE, "mm") if f.code != "S105"}

    assert found(Datum(zero_x_m=shift, front_rise_m=up, rear_rise_m=up)) == found(Datum())


@given(st.floats(0.1, 2), st.floats(0.01, 0.2))
def test_both_edges_of_a_part_mean_the_same_centre(centre: float, width: float) -> None:
    for low, high in (("near", "far"), ("bottom", "top"), ("inside", "outside")):
        assert hidden_centre(centre - width / 2, low, width) == pytest.approx(centre)  # type: ignore[arg-type]
        assert hidden_centre(centre + width / 2, high, width) == pytest.approx(centre)  # type: ignore[arg-type]
    assert hidden_centre(centre + width, "outside", width, full=True) == pytest.approx(centre)
    with pytest.raises(ValueError, match="width"):
        hidden_centre(centre, "top", 0.0)


@given(st.lists(st.floats(-1, 1), min_size=1, max_size=12), st.floats(0.001, 0.01))
def test_more_readings_never_make_it_worse_than_their_scatter(values: list[float], sigma: float) -> None:
    mean, own, spread = mean_reading(tuple(values), sigma)
    assert min(values) - 1e-12 <= mean <= max(values) + 1e-12
    assert own >= sigma / math.sqrt(len(values)) - 1e-15
    assert spread == max(values) - min(values)


@few
@given(
    st.lists(st.tuples(st.floats(5, 500), lengths, lengths, lengths), min_size=1, max_size=8),
    st.floats(0.1, 10),
    lengths,
)
def test_common_centres_of_gravity(every: list[tuple[float, float, float, float]], factor: float, shift: float) -> None:
    """Heavier by a factor: same place. Moved together: moved as much. A mass at the centre: nothing moves."""
    lumps = [Lump(*one) for one in every]
    base = combined(lumps)
    assert combined([Lump(one.mass * factor, one.x, one.y, one.z) for one in lumps]).x == pytest.approx(base.x)
    assert combined([Lump(one.mass, one.x + shift, one.y, one.z) for one in lumps]).x == pytest.approx(base.x + shift)
    with_more = combined([*lumps, Lump(77.0, base.x, base.y, base.z)])
    assert (with_more.x, with_more.y, with_more.z) == pytest.approx((base.x, base.y, base.z))
    off_again = combined([*lumps, Lump(40.0, 1.0, 1.0, 1.0), Lump(-40.0, 1.0, 1.0, 1.0)])
    assert off_again.mass == pytest.approx(base.mass)
    assert off_again.z == pytest.approx(base.z)


@few
@given(
    st.floats(0.6, 2.0),
    st.floats(0.4, 1.4),
    st.floats(0.35, 0.55),
    st.floats(0.35, 0.55),
    st.floats(0.1, 0.7),
    st.booleans(),
)
def test_any_rig_is_found_again_by_tilting(
    x: float, h: float, front: float, rear: float, angle: float, nose: bool
) -> None:
    turn = angle if nose else -angle

    def share(phi: float) -> float:
        c, s = math.cos(phi), math.sin(phi)
        at = [a * c - b * s for a, b in ((WHEELBASE, front), (0.0, rear), (x, h))]
        return (at[2] - at[1]) / (at[0] - at[1])

    level, tilted = share(0.0), share(turn)
    if not (0.02 < tilted < 0.98 and 0.02 < level < 0.98):
        return
    found = height_by_tilting(
        (level, 1 - level), (tilted, 1 - tilted), angle, WHEELBASE, (front, rear), "front" if nose else "rear"
    )
    assert found.height == pytest.approx(h, abs=1e-9)
    assert found.along == pytest.approx(x, abs=1e-9)


@given(st.floats(100, 900), st.floats(100, 900), st.floats(100, 900), st.floats(100, 900))
def test_scales_swapped_left_to_right_mirror_the_balance_point(fl: float, fr: float, rl: float, rr: float) -> None:
    mass, x, y = level_scales((fl, fr, rl, rr), WHEELBASE, (1.6, 1.65))
    other = level_scales((fr, fl, rr, rl), WHEELBASE, (1.6, 1.65))
    assert other == pytest.approx((mass, x, -y), abs=1e-12)
    assert 0 < x < WHEELBASE


@few
@given(st.floats(0.35, 0.6), st.floats(0.0, 0.8), st.floats(0.25, 1.5))
def test_ground_angles_grow_with_height_and_shrink_with_overhang(radius: float, out: float, high: float) -> None:
    """A point higher up leaves a steeper plane; the same point further out a flatter one; a breakover needs both
    wheels.
    """
    out += radius + 0.05  # beyond the tyre: the plane leans forward
    here = approach_angle(WHEELBASE, radius, [(WHEELBASE + out, high)])
    assert here is not None
    assert tangent_angle(WHEELBASE, radius, (WHEELBASE + out, high + 0.05)) > here
    further = tangent_angle(WHEELBASE, radius, (WHEELBASE + out + 0.05, high))
    assert further < here + 1e-12
    middle = breakover_angle(WHEELBASE, (radius, radius), [(WHEELBASE / 2, high)])
    if middle is not None:
        assert middle == pytest.approx(2 * tangent_angle(0.0, radius, (WHEELBASE / 2, high)))


@few
@given(st.lists(st.tuples(lengths, lengths), min_size=2, max_size=8), st.floats(-3, 3), lengths, lengths)
def test_a_plane_motion_is_recovered(points: list[tuple[float, float]], angle: float, dx: float, dy: float) -> None:
    p = np.array(points)
    if np.ptp(p, axis=0).max() < 1e-2:
        return
    c, s = math.cos(angle), math.sin(angle)
    q = p @ np.array([[c, s], [-s, c]]) + np.array([dx, dy])
    fit = planar_fit(p, q)
    assert math.cos(fit.rotation - angle) == pytest.approx(1.0, abs=1e-9)
    assert np.abs(fit.residual).max() < 1e-9
    assert fit.move(p) == pytest.approx(q, abs=1e-9)

"""The search: every answer meets what it claims, is on whole readings and inside its boxes; what cannot be is said
with what to relax.
"""

from __future__ import annotations

import itertools
import math

import msgspec
import numpy as np
import pytest
from benchmarks.problems import problem

from stoutlink.core.advice.search_words import gives_up
from stoutlink.core.advice.verdict import gauge_values
from stoutlink.core.analysis.linkage.axle_motion import axle_motion
from stoutlink.core.analysis.linkage.many_layouts import Setting, numbers_of
from stoutlink.core.analysis.search.defaults import default_search
from stoutlink.core.analysis.search.find import APART, Answer, find_layouts
from stoutlink.core.analysis.search.proposals import CANNOT, STARTS, propose, switched
from stoutlink.core.analysis.search.question import ask
from stoutlink.core.analysis.survey.clearances import link_gap
from stoutlink.core.analysis.survey.rail_at import rail_at
from stoutlink.core.analysis.survey.survey_points import placed_points
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.checking import check_project
from stoutlink.core.document.headline import headline_words
from stoutlink.core.document.layout import Kind
from stoutlink.core.document.project import Project
from stoutlink.core.document.search import PivotBox, Search, Want
from stoutlink.core.editing.layout_edits import PutLayout
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.numerics.box_search import descend, spread_points
from stoutlink.core.study.study import Study
from tests.layouts import JOINT, PARALLEL, REDUNDANT, layout, rig


@pytest.mark.parametrize("seed", range(8))
def test_every_answer_meets_what_it_claims_when_analysed_afresh(seed: int) -> None:
    setting, search = problem(seed)
    found = find_layouts(setting, search)
    assert found.answers, seed  # each of these has a hidden layout that meets everything
    s = setting.settings
    for answer in found.answers:
        fresh = gauge_values(
            s, axle_motion(setting.rig, answer.layout, setting.joints, answer.layout.droop_m, answer.layout.bump_m)
        )
        for name in ("drive", "roll_centre", "steer", "hold", "pinion"):
            assert answer.values[name] == pytest.approx(fresh[name], rel=1e-6, abs=1e-9), name
        for want in search.wants:
            assert want.low <= answer.values[want.id] <= want.high, want.id
        assert fresh["travel"] > 0.999
        lengths = [float(np.linalg.norm(np.subtract(x.frame_pivot_m, x.axle_pivot_m))) for x in answer.layout.links]
        assert answer.values["longest"] == pytest.approx(max(lengths))
        assert (
            answer.values["clearance"]
            <= min(link_gap(x, sol) - sol.clearance_m for x in answer.layout.links for sol in setting.solids) + 1e-9
        )
        for box in search.boxes:
            name, _, which = box.id.rpartition(":")
            point = getattr(answer.layout.link(name), f"{which}_pivot_m")
            pair = any(side < 0 for _, side in answer.layout.moved_with(answer.layout.link(name), which))  # type: ignore[arg-type]
            for axis, step in enumerate((0.005, 0.0025 if pair else 0.005, 0.005)):
                assert box.low_m[axis] - 1e-9 <= point[axis] <= box.high_m[axis] + 1e-9
                assert point[axis] / step == pytest.approx(round(point[axis] / step), abs=1e-6)
    for one, two in itertools.combinations(found.answers, 2):
        assert np.abs(np.subtract(one.point, two.point)).max() > APART
    assert [a.ease for a in found.answers] == sorted((a.ease for a in found.answers), reverse=True)


def test_nothing_in_the_way_is_room_enough() -> None:
    """Without solids there is endless room: the search finds what it finds with a solid far off."""
    setting, search = problem(1)
    bare = msgspec.structs.replace(setting, solids=())
    found = find_layouts(bare, search, rounds=1)
    assert found.answers
    assert all(a.missed["clearance"] == 0.0 for a in found.answers)
    assert all(a.values["clearance"] == math.inf for a in found.answers)


def test_a_search_starts_with_the_verdict_s_own_bands(basalt: Project) -> None:
    layout_ = basalt.layout("rear")
    assert layout_ is not None
    wants = {w.id: (w.low, w.high) for w in default_search(basalt, layout_).wants}
    for gauge in Study(basalt).gauges("rear"):
        if gauge.id in wants and gauge.target is not None:
            assert wants[gauge.id] == pytest.approx((gauge.target.low, gauge.target.high)), gauge.id


def test_the_same_question_gives_the_same_answers() -> None:
    setting, search = problem(3)
    one, two = (find_layouts(setting, search, rounds=1) for _ in range(2))
    assert [a.layout for a in one.answers] == [a.layout for a in two.answers]


def test_what_cannot_be_says_what_to_relax(basalt: Project) -> None:
    """Less sideways force than any four links of these boxes give is not to be had: 1 kN in each of two links at 90°
    is the least there is.
    """
    layout_, rig_ = basalt.layout("rear"), effective_vehicle(basalt).rig
    assert layout_ is not None
    base = default_search(basalt, layout_)
    wants = tuple(msgspec.structs.replace(w, low=-1.0, high=0.5) if w.id == "hold" else w for w in base.wants)
    found = find_layouts(Setting.of(basalt, rig_, layout_), msgspec.structs.replace(base, wants=wants), rounds=1)
    assert not found.answers
    assert found.nearest is not None
    assert found.relax
    relax = found.relax[0]
    assert relax.want.id == "hold"
    assert relax.high == pytest.approx(0.5 + relax.by)
    wider = tuple(msgspec.structs.replace(w, high=relax.high + 1e-6) if w.id == "hold" else w for w in wants)
    again = find_layouts(Setting.of(basalt, rig_, layout_), msgspec.structs.replace(base, wants=wider), rounds=1)
    assert again.answers or again.relax[0].by < 0.05  # with that one band widened it is there, or a hair away


def test_giving_up_is_heard_at_once() -> None:
    setting, search = problem(0)
    told: list[float] = []

    def tell(part: float, answers: tuple[Answer, ...]) -> bool:
        told.append(part)
        return len(told) < 3

    found = find_layouts(setting, search, tell)
    assert found.stopped
    assert len(told) == 3
    assert all(0 <= part < 1 for part in told)
    assert (found.relax, found.nearest) == ((), None)  # nothing is claimed of a search that was not finished


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"boxes": (PivotBox(id="gone:frame", low_m=(0, 0, 0), high_m=(1, 1, 1)),)}, "no pivot gone:frame"),
        ({"boxes": (PivotBox(id="upper_left:frame", low_m=(1, 0, 0), high_m=(0, 1, 1)),)}, "must not be more"),
        ({"wants": ()}, "Nothing is wanted"),
        ({"wants": (Want(id="drive", low=100, high=100),)}, "must be less"),
        ({"boxes": ()}, "No pivot may move"),
        ({"boxes": tuple(PivotBox(id=f"upper_{s}:frame", low_m=(0.8, -0.5, 0.7), high_m=(0.9, 0.5, 0.8)) for s in ("left", "right"))}, "has a box already"),
    ],
)  # fmt: skip
def test_questions_that_cannot_be_asked(basalt: Project, change: dict[str, object], why: str) -> None:
    layout_ = basalt.layout("rear")
    assert layout_ is not None
    search = msgspec.structs.replace(default_search(basalt, layout_), **change)
    with pytest.raises(ValueOutOfRange, match=why):
        ask(Setting.of(basalt, effective_vehicle(basalt).rig, layout_), search)


def test_a_coordinate_without_room_stays(basalt: Project) -> None:
    layout_ = basalt.layout("rear")
    assert layout_ is not None
    box = PivotBox(id="upper_left:frame", low_m=(0.80, 0.40, 0.812), high_m=(1.0, 0.43, 0.812))
    search = Search(id="rear", boxes=(box,), wants=(Want(id="roll_centre", low=0.0, high=2.0),))
    found = find_layouts(Setting.of(basalt, effective_vehicle(basalt).rig, layout_), search, rounds=1)
    assert found.answers
    assert all(a.layout.link("upper_left").frame_pivot_m[2] == 0.812 for a in found.answers)  # type: ignore[union-attr]


def test_versions_that_hold_nothing_are_struck_out() -> None:
    """A parallel four-link without a panhard among others: no number for it, the right ones for its neighbours."""
    frame = np.array([[b[0] for b in PARALLEL], [b[0] for b in PARALLEL]])
    frame[1, :2, 1] *= 0.3
    axle = np.array([[b[1] for b in PARALLEL]] * 2)
    setting = Setting(
        rig(), layout(PARALLEL), (JOINT,), msgspec.structs.replace(Project(name="x", rig=rig()).settings, units="mm")
    )
    found = numbers_of(setting, frame, axle, ("drive", "hold", "pinion", "travel"))
    assert all(np.isnan(v[0]) for v in found.values())
    assert all(np.isfinite(v[1]) for v in found.values())
    ends = [np.array([[b[k] for b in REDUNDANT]]) for k in (0, 1)]
    five = numbers_of(Setting(rig(), layout(REDUNDANT), (JOINT,), setting.settings), ends[0], ends[1], ("bind",))
    m = axle_motion(rig(), layout(REDUNDANT), (JOINT,))
    worst = max(float(np.nanmax(np.abs(t.bar_error))) for t in (m.heave, m.roll))
    assert five["bind"][0] == pytest.approx(worst, rel=1e-3)


def test_least_squares_in_a_box() -> None:
    """Rosenbrock's valley in [0, 1]² scaled from [−2, 2]²: its one minimum; and a minimum outside the box ends on its
    face.
    """

    def rosenbrock(u: np.ndarray) -> np.ndarray:
        x, y = (4 * u - 2).T
        return np.stack([1 - x, 10 * (y - x * x)], axis=1)

    at, cost = descend(rosenbrock, spread_points(20, 2), 200)
    assert cost.min() < 1e-12
    assert 4 * at[cost.argmin()] - 2 == pytest.approx([1.0, 1.0], abs=1e-4)
    edge, _ = descend(lambda u: np.stack([u[:, 0] - 2.0, u[:, 1] - 0.25], axis=1), spread_points(4, 2), 60)
    assert edge[0] == pytest.approx([1.0, 0.25], abs=1e-6)


@pytest.mark.parametrize("end", ["rear", "front"])
@pytest.mark.parametrize("kind", [k for k, *_ in STARTS])
def test_every_kind_starts_on_the_surveyed_rig(basalt: Project, end: str, kind: Kind) -> None:
    """It holds the axle, keeps clear of the solids, its frame pivots stay about the rails, and what its kind can
    bring into a band is in it.
    """
    rig_ = effective_vehicle(basalt).rig
    made = propose(basalt, rig_, end, kind, "new")  # type: ignore[arg-type]
    project = PutLayout(made.layout, made.joints, "Start").apply(basalt)
    check_project(project)
    assert made.layout.kind == kind
    if kind == "leaf":
        return
    m = axle_motion(rig_, made.layout, project.linkage.joints)
    assert m.ride.singular > 0.05
    for link, solid in itertools.product(made.layout.links, project.tape.solids):
        assert link_gap(link, solid) >= solid.clearance_m - 2e-3, (link.id, solid.id)
    for link in made.layout.links:
        rail = rail_at(project, link.frame_pivot_m[0])
        if rail is not None and link.role != "panhard":
            assert abs(link.frame_pivot_m[1]) <= rail[0] + 0.07
    values = gauge_values(project.settings, m)
    assert (made.said == "") == (values["pinion"] <= 4.0 or "pinion" in CANNOT.get(kind, ()))
    if made.said:
        assert f"turns {values['pinion']:.1f}°" in made.said
        assert values["pinion"] <= 10.0
    if end == "rear" and "drive" not in CANNOT.get(kind, ()):
        assert 110 <= values["drive"] <= 150
    assert 0.75 <= values["roll_centre"] <= 1.0


def test_switching_kind_keeps_what_carries_over(basalt: Project) -> None:
    rear, rig_ = basalt.layout("rear"), effective_vehicle(basalt).rig
    assert rear is not None
    made = switched(basalt, rig_, rear, "parallel_four_link_panhard")
    assert [x.id for x in made.layout.links] == ["upper_left", "upper_right", "lower_left", "lower_right", "panhard"]
    for link in rear.links:
        kept = made.layout.link(link.id)
        assert kept == link
    assert made.layout.brackets == rear.brackets
    assert (made.layout.id, made.layout.name, made.layout.pinion_up_rad) == (rear.id, rear.name, rear.pinion_up_rad)
    leaf = switched(basalt, rig_, rear, "leaf")
    assert leaf.layout.leaf is not None
    assert leaf.layout.links == ()
    project = PutLayout(made.layout, made.joints, "Switch").apply(basalt)
    assert project.linkage.rear_layout == rear.id
    assert len(project.linkage.layouts) == len(basalt.linkage.layouts)


def test_rails_between_their_points(basalt: Project) -> None:
    run = sorted(
        (p.x, p.sides[0], p.z)
        for p in placed_points(basalt)
        if p.point.kind == "rail" and p.sides and p.z is not None and p.sides[0] > 0
    )
    (x0, y0, z0), (x1, y1, z1) = run[1], run[2]
    found = rail_at(basalt, 0.5 * (x0 + x1))
    assert found == pytest.approx((0.5 * (y0 + y1), 0.5 * (z0 + z1)), abs=0.02)
    assert rail_at(basalt, 50.0) is None


def test_words() -> None:
    setting, search = problem(1)
    answers = find_layouts(setting, search).answers
    assert headline_words("longest", 1.0, "mm") == "longest 1000 mm"
    assert headline_words("clearance", 9.0, "in") == "room plenty"
    best = min(answers, key=lambda a: a.values["hold"])
    assert "hold" not in gives_up(best, answers, "mm")

"""Load cases: the least energy of body, axles and springs by a minimiser, levers by hand, and the window."""

from __future__ import annotations

import json
import math
from pathlib import Path

import msgspec
import numpy as np
import pytest
from scipy.interpolate import CubicSpline
from scipy.optimize import minimize

from stoutlink.cli.main import main
from stoutlink.core.analysis.cycle.axle_springs import Axles
from stoutlink.core.analysis.cycle.laden import AS_IT_STANDS, Laden, laden, levelled
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.springing import AirSpring
from stoutlink.core.document.weight import LoadCase, LoadItem
from stoutlink.core.editing.edits import PutInList, SetNumber
from stoutlink.core.mechanics.attitude import AxleSprings, PlaneRig, stand_on_grade, straight
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

G = 9.80665


def _of(project: Project, *items: LoadItem, **more: object) -> Laden:
    case = LoadCase(id="one", name="One", items=items, **more)  # type: ignore[arg-type]
    study = Study(project)
    both = {end: study.travel(end) for end in ("front", "rear")}
    return laden(project, study.true.rig, both, case)


def _item(mass: float, x: float, z: float, on: str = "frame") -> LoadItem:
    return LoadItem(id=f"i{x}{z}", name="Load", mass_kg=mass, x_m=x, z_m=z, on=on)  # type: ignore[arg-type]


def test_as_it_stands_is_what_verdict_and_springs_say(basalt: Project) -> None:
    study = Study(basalt)
    found = study.laden()[0]
    assert found.case is AS_IT_STANDS
    for end in ("front", "rear"):
        axle, travel = found.axle(end), study.travel(end)
        assert axle is not None
        assert travel is not None
        assert axle.sag == pytest.approx(0.0, abs=1e-9)
        gauges = {g.id: g.value for g in study.axles[end].gauges}
        assert axle.drive == pytest.approx(gauges["drive"], abs=0.02)
        assert axle.brake == pytest.approx(gauges["brake"], abs=0.02)
        assert axle.frequency == pytest.approx(travel.springs.frequency, rel=2e-3)
    assert found.nose_up == pytest.approx(0.0, abs=1e-12)


def _energy_sags(project: Project, items: tuple[LoadItem, ...]) -> tuple[float, float]:
    """Travel of front and rear at the least of all weights' heights and both springs' energy."""
    study = Study(project)
    rig = study.true.rig
    base = rig.wheelbase_m
    own = {"front": rig.front.unsprung, "rear": rig.rear.unsprung}
    body = rig.mass_kg - sum(own.values())
    moment = rig.mass_kg * rig.cg_ahead_of_rear_m - own["front"] * base
    upward = rig.mass_kg * rig.cg_height_m - sum(own[e] * rig.end(e).loaded for e in own)
    lumps = [(body, moment / body, upward / body), *((i.mass_kg, i.x_m, i.z_m) for i in items)]
    ways = {}
    for end in ("front", "rear"):
        travel = study.travel(end)
        assert travel is not None
        s, row = travel.springs, travel.grid.ride[0]
        assert s.force is not None
        assert s.spring is not None
        good = np.isfinite(s.force) & np.isfinite(travel.grid.x[row])
        z = travel.grid.heave[good]
        work = CubicSpline(z, -2.0 * s.force[good] * np.gradient(s.spring[0, row][good], z, edge_order=2))
        ways[end] = (work.antiderivative(), CubicSpline(z, travel.grid.x[row][good]))

    def energy(at: np.ndarray) -> float:
        front, rear = float(at[0]), float(at[1])
        hub_f = float(ways["front"][1](front)), rig.front.loaded + front
        hub_r = float(ways["rear"][1](rear)), rig.rear.loaded + rear
        dx, dz = hub_f[0] - hub_r[0], hub_f[1] - hub_r[1]
        lift = rig.front.loaded - rig.rear.loaded
        nose = math.asin(lift / math.hypot(dx, dz)) - math.atan2(dz, dx)

        def height(x: float, z: float) -> float:
            return rig.rear.loaded + math.sin(nose) * (x - hub_r[0]) + math.cos(nose) * (z - hub_r[1])

        total = sum(m * G * height(x, z) for m, x, z in lumps)
        return total + float(ways["front"][0](front)) + float(ways["rear"][0](rear))

    done = minimize(energy, np.array([0.001, 0.001]), method="Nelder-Mead", options={"xatol": 1e-8, "fatol": 1e-10})
    return float(done.x[0]), float(done.x[1])


@pytest.mark.parametrize(
    "items",
    [(_item(240.0, -0.3, 1.1),), (_item(180.0, 2.9, 0.8), _item(150.0, 0.4, 1.3)), (_item(-160.0, 1.1, 1.0),)],
)
def test_a_load_sags_it_to_the_least_energy(basalt: Project, items: tuple[LoadItem, ...]) -> None:
    found = _of(basalt, *items)
    front, rear = _energy_sags(basalt, items)
    assert found.front is not None
    assert found.rear is not None
    assert found.front.sag == pytest.approx(front, abs=3e-4)
    assert found.rear.sag == pytest.approx(rear, abs=3e-4)
    assert found.front.load + found.rear.load == pytest.approx(found.mass * G)
    track = Study(basalt).true.rig.wheelbase_m
    assert found.nose_up == pytest.approx((found.rear.sag - found.front.sag) / track, abs=2e-4)


def test_levers_on_straight_springs_by_hand() -> None:
    """2400 kg, 1.2 m behind a 2.5 m base's front; 300 kg over the rear hub: all of it sags the rear by F/k."""
    k = 60_000.0
    springs = AxleSprings(lambda more: more / k, -0.2, 0.2, straight)
    before = PlaneRig(2400 * G, 1.2, 2.5, 0.7, (0.4, 0.4), (250 * G, 250 * G))
    rest = before.level[0] - 250 * G, before.level[1] - 250 * G
    after = PlaneRig(2700 * G, (1.2 * 2400 + 2.5 * 300) / 2700, 2.5, 0.7, (0.4, 0.4), (250 * G, 250 * G))
    on = stand_on_grade(after, 0.0, (springs, springs), 1.0, rest)
    over_hubs = (0.7 * 2700 - 0.4 * 500) / 2200 - 0.4
    shift = 2200 * G * over_hubs * (300 * G / k / 2.5) / 2.5  # the body leans back a little
    assert on.travel_front == pytest.approx(-shift / k, abs=2e-5)
    assert on.travel_rear == pytest.approx(300 * G / k + shift / k, abs=2e-4)
    unmoved = stand_on_grade(before, 0.0, (springs, springs), 1.0)
    assert (unmoved.travel_front, unmoved.travel_rear) == pytest.approx((0.0, 0.0), abs=1e-9)


def test_what_stands_it_level_does() -> None:
    """With the rear raised by that much, or on springs of that rate, the same load leaves the body level."""
    k = 60_000.0
    springs = AxleSprings(lambda more: more / k, -0.3, 0.3, straight)
    before = PlaneRig(2400 * G, 1.2, 2.5, 0.7, (0.4, 0.4), (250 * G, 250 * G))
    rest = before.level[0] - 250 * G, before.level[1] - 250 * G
    after = PlaneRig(3000 * G, (1.2 * 2400 + 2.0 * 600) / 3000, 2.5, 0.8, (0.4, 0.4), (250 * G, 250 * G))
    up, rate = levelled(after, (springs, springs), rest)
    assert stand_on_grade(after, 0.0, (springs, springs), 1.0, rest).nose_up > 0.005
    raised = AxleSprings(lambda more: more / k - up, -0.3, 0.3, straight)
    assert stand_on_grade(after, 0.0, (springs, raised), 1.0, rest).nose_up == pytest.approx(0.0, abs=1e-9)
    assert rate is not None
    stiff = AxleSprings(lambda more: more / (2 * rate), -0.3, 0.3, straight)
    assert stand_on_grade(after, 0.0, (springs, stiff), 1.0, rest).nose_up == pytest.approx(0.0, abs=1e-9)


def test_up_to_the_rating(basalt: Project) -> None:
    more = _item(50.0, 1.0, 1.0)
    found = _of(basalt, more, to_rating=True, fill_x_m=0.2, fill_z_m=1.0)
    rating = basalt.rig.weight.gvwr_kg
    assert rating is not None
    assert found.mass == pytest.approx(rating)
    assert found.rating_left == pytest.approx(0.0, abs=1e-9)
    assert found.filled == pytest.approx(rating - Study(basalt).true.rig.mass_kg - 50.0)
    whole = _of(basalt, more, _item(found.filled, 0.2, 1.0))
    assert whole.rear == found.rear  # nothing else than that much put there
    assert "where" in _of(basalt, to_rating=True).why
    assert "past its weight rating" in _of(basalt, _item(900.0, 1.0, 1.0), to_rating=True, fill_x_m=0, fill_z_m=1).why
    none = with_value(basalt, "rig.weight.gvwr_kg", None)
    assert "No weight rating" in _of(none, to_rating=True, fill_x_m=0.0, fill_z_m=1.0).why
    assert _of(none).rating_left is None


def test_what_is_on_an_axle_sags_no_spring(basalt: Project) -> None:
    found = _of(basalt, _item(60.0, 0.0, 0.5, "rear_axle"))
    assert found.rear is not None
    assert found.rear.sag == pytest.approx(0.0, abs=1e-6)
    plain = Study(basalt).laden()[0].rear
    assert plain is not None
    assert found.rear.load - plain.load == pytest.approx(60.0 * G)


def test_too_much_ends_at_the_stop_and_too_much_off_is_refused(basalt: Project) -> None:
    found = _of(basalt, _item(1500.0, -0.5, 1.2))
    assert found.rear is not None
    assert found.rear.stopped
    assert found.rear.sag == pytest.approx(Study(basalt).travel("rear").grid.limits[1])  # type: ignore[union-attr]
    assert found.rear.rate is None
    assert "more off" in _of(basalt, _item(-1500.0, 0.0, 0.9)).why


def _air(project: Project) -> Project:
    layout = project.layout("rear")
    assert layout is not None
    assert layout.shock is not None
    air = AirSpring(frame_m=layout.shock.frame_m, axle_m=layout.shock.axle_m, diameter_m=0.15, volume_m3=0.004)
    after = msgspec.structs.replace(layout, air=air, spring=None)
    return with_parts(project, layouts=tuple(after if x.id == layout.id else x for x in project.linkage.layouts))


def test_air_that_lifts_it_again(basalt: Project) -> None:
    """An air bag's force is pressure times area: what it carries more at ride height asks that much more pressure; slow
    air is softer than fast, so it sags more than its frequency's rate would say."""
    project = _air(basalt)
    study = Study(project)
    travel = study.travel("rear")
    assert isinstance(travel, AxleTravel)
    plain, found = study.laden()[0], _of(project, _item(120.0, 0.0, 0.9))
    assert plain.rear is not None
    assert found.rear is not None
    assert plain.rear.pressure == pytest.approx(travel.springs.pressure)
    own = Study(project).true.rig.rear.unsprung * G
    carried = [plain.rear.load - own, found.rear.load - own]
    assert found.rear.pressure == pytest.approx(float(plain.rear.pressure or 0.0) * carried[1] / carried[0])
    assert travel.springs.wheel_rate is not None
    fast = 2.0 * float(travel.springs.wheel_rate[travel.grid.ride[1]])
    assert found.rear.sag > (carried[1] - carried[0]) / fast


def test_leaves_sag_by_their_rate_and_stand_as_said_unladen() -> None:
    project = read_project(demo_file("tamarack.stoutlink"))
    assert "front axle's springs" in Study(project).laden()[0].why
    study = Study(project)
    rear = study.travel("rear")
    assert rear is not None
    assert rear.leaf is not None
    both: Axles = {"front": rear, "rear": rear}  # the same springs at both ends: only what the rear does is looked at
    rig = study.true.rig
    case = LoadCase(id="a", name="A", items=(_item(200.0, 0.0, 0.9),))
    plain, found = laden(project, rig, both, AS_IT_STANDS).rear, laden(project, rig, both, case).rear
    assert plain is not None
    assert found is not None
    gauges = {g.id: g.value for g in study.axles["rear"].gauges}
    assert plain.drive == pytest.approx(gauges["drive"], abs=0.05)
    assert found.sag == pytest.approx((found.load - plain.load) / (2 * rear.leaf.halves.heave_rate), rel=5e-3)


def test_what_nobody_entered_of_a_case_is_asked_for(basalt: Project) -> None:
    at = "load_cases"
    project = PutInList(at, LoadCase(id="new", name="New"), "Add").apply(basalt)
    item = LoadItem(id="box", name="Tool box", mass_kg=50.0)
    project = PutInList(f"{at}.new.items", item, "Add", guessed=("mass_kg", "x_m", "z_m")).apply(project)
    study = Study(project)
    assert study.laden()[-1].why == "Type the weight and place of Tool box."
    for name, value in (("mass_kg", 80.0), ("x_m", -0.4), ("z_m", 1.1)):
        project = SetNumber(f"{at}.new.items.box.{name}", value).apply(project)
    assert Study(project, study).laden()[-1].rear == _of(basalt, _item(80.0, -0.4, 1.1)).rear


def test_the_command_line_says_the_same(basalt: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "rig.stoutlink"
    write_project(basalt, file)
    assert main(["laden", str(file), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    found = Study(basalt).laden()
    assert [one["name"] for one in data] == [one.case.name for one in found]
    for one, case in zip(data, found, strict=True):
        assert case.rear is not None
        assert one["mass_kg"] == pytest.approx(case.mass)
        assert one["rear"]["sag_m"] == pytest.approx(case.rear.sag)
        assert one["nose_up_deg"] == pytest.approx(math.degrees(case.nose_up))
    assert main(["laden", str(file)]) == 0
    rows = [line.split("\t") for line in capsys.readouterr().out.splitlines()]
    assert rows[0][1:] == [one.case.name for one in found]
    weight = next(row for row in rows if row[0] == "Weight")
    assert weight[1:] == [f"{one.mass / 0.45359237:.0f} lb" for one in found]
    sag = next(row for row in rows if row[0] == "Rear: sags")
    assert sag[1] == "0.0″"
    assert sag[3] == f"{found[2].rear.sag / 0.0254:.1f}″"  # type: ignore[union-attr]

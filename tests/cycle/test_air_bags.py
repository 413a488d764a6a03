"""Air springs with a body: their width in the way, their shortest and longest, and the air they need."""

from __future__ import annotations

import msgspec
import numpy as np
import pytest

from stoutlink.core.analysis.cycle.springs import bag_radius
from stoutlink.core.analysis.cycle.travel import AxleTravel, axle_travel
from stoutlink.core.analysis.cycle.travel_map import travel_map
from stoutlink.core.analysis.swap.pick import rank_pairs
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.springing import AirSpring, BagOutside
from stoutlink.core.study.study import Study


def bags(project: Project, **more: object) -> Project:
    """The demo's rear coilovers given up for air springs straight over the tube, 0.20 m high at ride."""
    layout = project.layout("rear")
    assert layout is not None
    rig = Study(project).true.rig
    low = (0.0, 0.42, rig.rear.loaded + 0.05)
    air = AirSpring(
        frame_m=(0.0, 0.42, low[2] + 0.2),
        axle_m=low,
        diameter_m=0.14,
        volume_m3=0.005,
        **more,  # type: ignore[arg-type]
    )
    after = msgspec.structs.replace(layout, air=air, spring=None)
    return with_parts(project, layouts=tuple(after if x.id == layout.id else x for x in project.linkage.layouts))


def _travel(project: Project, *, touch: bool = False) -> AxleTravel:
    found = axle_travel(project, Study(project).true.rig, "rear", touch=touch)
    assert found is not None
    return found


def _least(travel: AxleTravel, other: str) -> float:
    return next(c.least for c in travel.interference.contacts if {"Left air spring", other} == {c.one, c.other})


def test_how_wide_it_is_at_a_height() -> None:
    rows = tuple(BagOutside(id=f"h{i}", height_m=h, outside_m=d) for i, (h, d) in enumerate(((0.3, 0.15), (0.1, 0.19))))
    air = AirSpring(frame_m=(0, 0, 1), axle_m=(0, 0, 0.8), diameter_m=0.14, volume_m3=0.005, outside=rows)
    assert bag_radius(air, np.array([0.25, 0.2, np.nan])) == pytest.approx(0.085)  # half of 0.17 at 0.20, by hand
    assert bag_radius(air, np.array([0.05])) == pytest.approx(0.095)
    half = msgspec.structs.replace(air, outside=(BagOutside(id="h", height_m=0.2),))
    assert bag_radius(half, np.array([0.2])) is None  # a row half typed says nothing


def test_a_wider_bag_comes_nearer_by_half_of_it(basalt: Project) -> None:
    """Against the upright face of a rail beside it, every bit of radius is a bit of distance."""
    slim, fat = (
        _travel(bags(basalt, outside=(BagOutside(id="a", height_m=0.2, outside_m=d),)), touch=True)
        for d in (0.14, 0.19)
    )
    assert _least(slim, "Left frame rail") - _least(fat, "Left frame rail") == pytest.approx(0.025, abs=3e-4)


def test_shortest_and_longest_end_it_where_its_seats_come_to_them(basalt: Project) -> None:
    project = bags(basalt, shortest_m=0.11, longest_m=0.27)
    found = _travel(project)
    said = dict(travel_map(found).runs_out)
    s, inside = found.springs.spring, found.grid.within
    assert s is not None
    i = found.grid.ride[0]
    for word, bad in (
        ("an air spring is shut", lambda length: length < 0.11),
        ("an air spring is pulled past its longest", lambda length: length > 0.27),
    ):
        assert (said[word] == ((bad(s[0]) | bad(s[1])) & inside)).all()
        assert said[word][i].any()
    level = s[0, i]
    heave = found.grid.heave
    assert float(np.interp(0.27, level[::-1], heave[::-1])) == pytest.approx(
        -0.07, abs=0.004
    )  # upright: 70 mm of droop
    loose = bags(basalt, longest_m=0.27, fixed_below=False)
    free = _travel(loose)
    assert "an air spring leaves its seat" in dict(travel_map(free).runs_out)
    assert free.springs.force is not None
    assert float(np.nanmax(free.springs.force[level > 0.2701])) == 0.0
    assert found.springs.force is not None
    assert float(np.nanmin(found.springs.force[level > 0.2701])) > 0.0
    assert {w for w, _ in travel_map(_travel(bags(basalt))).runs_out}.isdisjoint(said)


def test_they_need_air_said_and_charged_once(basalt: Project) -> None:
    none = with_value(basalt, "rig.fittings.air_supply", None)
    ranked: dict[bool | None, float] = {}
    for have, cost in ((None, 1), (False, 1), (True, 0)):
        project = with_value(bags(none), "rig.fittings.air_supply", have)
        study = Study(project)
        study.cycle()
        assert [f.severity for f in study.findings if f.code == "T331"] == ["warn"] * cost
        front, rear = project.donor("front"), project.donor("rear")
        bill = study.cost(front, rear, None)
        lines = [line for line in bill.lines if line.id == "air_supply"]
        assert len(lines) == cost
        assert front is not None
        assert rear is not None
        best = rank_pairs(project, study.true.rig, (front,), (rear,)).best[0]
        ranked[have] = best.numbers["cost"] - sum(line.amount or 0.0 for line in lines)
    assert ranked[None] == pytest.approx(ranked[True])  # the pick charges it too, and once
    assert ranked[False] == pytest.approx(ranked[True])

"""A third member in its housing: room on every side with its ±, the actuator at both ends of its way, holes."""

from __future__ import annotations

import math

import msgspec
import pytest

from stoutlink.core.advice.bench_words import case_words
from stoutlink.core.analysis.bench.case_fit import case_sheet
from stoutlink.core.document.bench import CaseFit, CaseHole
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import PutInList, SetNumber
from stoutlink.core.errors import StoutError
from stoutlink.core.study.study import Study

FIT = CaseFit(id="rear", left_cap_m=0.090, left_open_m=0.100, right_cap_m=0.090, right_open_m=0.100, wanted_m=0.002, sigma_m=0.0005)  # fmt: skip


def test_room_is_opening_less_cap_and_both_readings_count() -> None:
    found = case_sheet(FIT)
    assert [r.where for r in found.rooms] == ["left cap", "right cap"]
    assert found.rooms[0].room == pytest.approx(0.010)
    assert found.rooms[0].sigma == pytest.approx(0.0005 * math.sqrt(2))
    assert found.goes is True


@pytest.mark.parametrize(
    ("cap", "verdict", "goes"),
    [(0.0900, "goes", True), (0.0965, "goes", True), (0.0967, "tight", False), (0.0999, "tight", False), (0.1000, "touches", False), (0.1010, "touches", False)],
)  # fmt: skip
def test_it_goes_only_where_the_room_is_there_for_certain(cap: float, verdict: str, goes: bool) -> None:
    found = case_sheet(msgspec.structs.replace(FIT, left_cap_m=cap))
    room = found.rooms[0]
    assert room.verdict == verdict
    assert found.goes is goes
    # relieved by what it says, it goes with its ± to the dot
    after = msgspec.structs.replace(FIT, left_cap_m=cap - room.relieve)
    assert case_sheet(after).rooms[0].verdict in ("goes", "tight")
    assert case_sheet(msgspec.structs.replace(after, left_cap_m=cap - room.relieve - 1e-6)).rooms[0].verdict == "goes"


def test_the_actuator_is_looked_at_at_both_ends_of_its_way() -> None:
    fit = msgspec.structs.replace(FIT, actuator="left", reach_in_m=0.08, reach_out_m=0.099, space_m=0.1)
    found = case_sheet(fit)
    assert [(r.where, r.verdict) for r in found.rooms][2:] == [
        ("actuator released", "goes"),
        ("actuator engaged", "tight"),
    ]
    assert found.goes is False
    assert case_sheet(msgspec.structs.replace(fit, actuator="none")).goes is True


def test_what_is_not_measured_is_asked_for_and_never_passes() -> None:
    found = case_sheet(msgspec.structs.replace(FIT, right_cap_m=None))
    assert found.missing == ("right cap",)
    assert found.goes is None
    half = case_sheet(msgspec.structs.replace(FIT, actuator="left", space_m=0.1, reach_in_m=0.05))
    assert half.missing == ("actuator engaged",)
    assert half.goes is None
    assert case_sheet(CaseFit(id="rear")).goes is None


@pytest.mark.parametrize(
    ("hole", "wrong"),
    [
        (CaseHole(id="a", diameter_m=0.01, edge_m=0.015), ""),
        (CaseHole(id="a", diameter_m=0.01, edge_m=0.0149), "edge"),  # common practice: 1.5 diameters
        (CaseHole(id="a", diameter_m=0.01, edge_m=0.02, kind="thread"), "unread"),
        (CaseHole(id="a", diameter_m=0.01, edge_m=0.02, kind="thread", puddle_m=0.0051), ""),
        (CaseHole(id="a", diameter_m=0.01, edge_m=0.02, kind="thread", puddle_m=0.005), "weld"),
        (CaseHole(id="a", edge_m=0.02), "unread"),
    ],
)
def test_holes_keep_off_the_edge_and_threads_off_the_weld(hole: CaseHole, wrong: str) -> None:
    found = case_sheet(msgspec.structs.replace(FIT, holes=(hole,)))
    assert found.holes[0].wrong == wrong
    assert found.goes is (True if not wrong else None if wrong == "unread" else False)


def test_words_and_the_card_follow(basalt: Project) -> None:
    p = PutInList("cases", msgspec.structs.replace(FIT, left_cap_m=0.0995, contacts=("left cap bolt",)), "x").apply(
        basalt
    )
    words = list(case_words(Study(p).case_sheet("rear"), "mm"))
    assert words[0].startswith("Left cap: 0.50 mm ± 1.41 mm of room, too tight to be sure: relieve 2.91 mm.")
    assert words[-1] == "Try 1: touched left cap bolt."
    q = SetNumber("cases.rear.reach_in_m", 0.09).apply(p)
    with pytest.raises(StoutError) as why:
        SetNumber("cases.rear.reach_out_m", 0.08).apply(q)
    assert why.value.code == "D177"

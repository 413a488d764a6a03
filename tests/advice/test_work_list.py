"""Findings as a work list: one card for one cause, by the thing it is about, nothing lost."""

from __future__ import annotations

import itertools

import pytest

from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.advice.work_list import about, cards, counts, work_list
from stoutlink.core.document.project import Project
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def said(code: str, sentence: str, subject: str, severity: str = "warn", step: str = "layout") -> Finding:
    return Finding(code, severity, sentence, "", step, subject)  # type: ignore[arg-type]


def test_a_mirrored_pair_is_one_card() -> None:
    pair = [
        said("G205", "Left lower: the frame joint leans 31°; it allows 25°.", "a.lower_left frame"),
        said("G205", "Right lower: the frame joint leans 31°; it allows 25°.", "a.lower_right frame"),
    ]
    (card,) = cards(pair)
    assert card.sentence == "Left lower and Right lower: the frame joint leans 31°; it allows 25°."
    assert card.keys == ("G205 a.lower_left frame", "G205 a.lower_right frame")
    assert card.first is pair[0]


def test_other_numbers_or_another_end_are_another_card() -> None:
    one = said("G205", "Left lower: the frame joint leans 31°.", "a.lower_left frame")
    for other in (
        said("G205", "Right lower: the frame joint leans 29°.", "a.lower_right frame"),
        said("G205", "Right lower: the frame joint leans 31°.", "b.lower_right frame"),
        said("G206", "Right lower: the frame joint leans 31°.", "a.lower_right frame"),
        said("G205", "Right lower: the frame joint leans 31°.", "a.lower_right frame", "danger"),
    ):
        assert len(cards([one, other])) == 2, other


def test_what_touches_on_both_sides_is_one_card_and_another_part_is_not() -> None:
    left = said("T301", "Rear axle: Left lower runs 1″ into Left frame rail at 2″ of droop, 14° left side up.", "a x")
    right = said(
        "T301", "Rear axle: Right lower runs 1″ into Right frame rail at 2″ of droop, 14° right side up.", "a y"
    )
    tank = said("T301", "Rear axle: Left upper runs 1″ into Left frame rail at 2″ of droop, 14° left side up.", "a z")
    found = cards([left, right, tank])
    assert [len(c.findings) for c in found] == [2, 1]
    assert found[0].sentence == f"{left.sentence} The same on the other side."


def test_one_cause_at_several_parts_is_one_card() -> None:
    names = ("Left lower", "Right lower", "Panhard")
    hands = [said("K301", f"{n}: both joints have the same hand.", f"a.{n.lower()}", "note", "cut") for n in names]
    (card,) = cards(hands)
    assert card.sentence == "Left lower, Right lower and Panhard: both joints have the same hand."


@pytest.mark.parametrize("name", ["basalt", "tamarack"])
@pytest.mark.parametrize("step", ["rig", "donors", "tape", "layout", "travel", "cut"])
def test_nothing_is_lost_and_what_can_hurt_stands_first(name: str, step: str) -> None:
    project = read_project(demo_file(f"{name}.stoutlink"))
    found = Study(project).open
    groups = work_list(project, found, step)
    listed = [f for g in groups for c in g.cards for f in c.findings]
    assert sorted(f.key for f in listed) == sorted(f.key for f in found)
    for group in groups:
        ranks = [RANK[c.severity] for c in group.cards]
        assert ranks == sorted(ranks)
        assert {about(project, c.first) for c in group.cards} == {group.title}
    assert all(len({c.first.step == step for c in g.cards}) == 1 for g in groups)  # this step's own stand apart
    here = [g.cards[0].first.step == step for g in groups]
    assert here == sorted(here, reverse=True)
    for mine in (True, False):
        worst = [RANK[g.cards[0].severity] for g, h in zip(groups, here, strict=True) if h is mine]
        assert all(a <= b for a, b in itertools.pairwise(worst))
    whole = [c for g in groups for c in g.cards]
    assert sum(counts(whole).values()) == len(whole) < len(found)


def test_the_thing_is_called_by_its_name(basalt: Project) -> None:
    assert about(basalt, said("K101", "", "gs-30f")) == "Front: 30-spline middle front"
    assert about(basalt, said("K121", "", "gs-30f/vh-36r")) == "Both axles"
    assert about(basalt, said("T301", "", "rear-a Left lower Fuel tank")) == "Rear: Rear four-link, first cut"
    assert about(basalt, said("S103", "", "as-built/p8/height", step="tape")) == "As it stands"
    assert about(basalt, said("W101", "", "gvwr", step="rig")) == basalt.rig.name


def test_what_is_said_of_very_many_places_is_folded_and_none_is_lost() -> None:
    many = [Finding("S101", "warn", f"Station {i} was read twice.", "", "tape", f"s/q{i}") for i in range(130)]
    others = [Finding("S101", "warn", "Station 1 was read twice.", "", "tape", "t/q1"), many[0]]
    found = cards([*many, *others])
    assert [len(card.findings) for card in found] == [2, *[1] * 98, 31, 1]
    assert found[-2].causes == 31
    assert found[-2].sentence == "31 more like these, the first of them: Station 99 was read twice."
    assert found[-2].first == many[99]
    assert counts(found)["warn"] == 131
    assert sorted(key for card in found for key in card.keys) == sorted(f.key for f in [*many, *others])
    assert found[-2].can_be_accepted
    assert found[-2].can_be_planned
    very = [Finding("S101", "warn", f"Station {i} was read twice.", "", "tape", f"s/q{i}") for i in range(4200)]
    assert not cards(very)[-1].can_be_accepted
    assert not cards(very)[-1].can_be_planned
    assert cards(very[:4099])[-1].can_be_accepted
    assert cards(very[:159])[-1].can_be_planned
    assert not cards(very[:160])[-1].can_be_planned
    assert [card.causes for card in cards(many[:100])] == [1] * 100

"""Answers of a search are cycled: the free part and the nearest pair are the travel's own, the freest stand first."""

from __future__ import annotations

import json
import math
from pathlib import Path

import msgspec
import numpy as np
import pytest
from msgspec.structs import replace

from stoutlink.cli.main import main
from stoutlink.core.advice.search_words import free_words
from stoutlink.core.analysis.cycle.travel import axle_travel
from stoutlink.core.analysis.cycle.travel_map import FREE, travel_map
from stoutlink.core.analysis.search.defaults import default_search
from stoutlink.core.analysis.search.find import Answer, Found
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.storage.files import write_project
from stoutlink.core.study import find_free as module
from stoutlink.core.study.find_free import find_free
from stoutlink.core.study.room import Room, room_of, room_words
from stoutlink.core.study.study import Study


def _free(project: Project, layout: Layout) -> tuple[float, float]:
    """Free part and least distance from a travel made afresh, counted by hand."""
    others = tuple(x for x in project.linkage.layouts if x.id != layout.id)
    after = with_parts(project, layouts=(*others, layout), rear_layout=layout.id, rear_compare=None)
    travel = axle_travel(after, Study(after).true.rig, "rear")
    assert travel is not None
    states = travel_map(travel).states
    inside = travel.grid.within
    return float(np.sum((states == FREE) & inside) / np.sum(inside)), travel.interference.contacts[0].least


def test_answers_are_cycled_and_the_freest_stands_first(basalt: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    """The one in use collides with its rails at roll; narrower and lower it is free: whatever the search says of ease."""
    old = basalt.layout("rear")
    assert old is not None

    def moved(by: float) -> Layout:
        links = tuple(
            msgspec.structs.replace(
                x,
                frame_pivot_m=(
                    x.frame_pivot_m[0],
                    math.copysign(abs(x.frame_pivot_m[1]) - by, x.frame_pivot_m[1]),
                    x.frame_pivot_m[2],
                ),
            )
            if x.role == "lower"
            else x
            for x in old.links
        )
        return msgspec.structs.replace(old, links=links)

    made = tuple(
        Answer(moved(by), {"drive": 100.0}, {}, ease, ()) for by, ease in ((0.0, 9.0), (0.06, 1.0), (0.12, 0.5))
    )
    monkeypatch.setattr(Study, "find", lambda *_: Found(made))
    seen: list[float] = []
    search = default_search(basalt, old)

    def told(part: float, answers: tuple[Answer, ...]) -> bool:
        seen.append(part)
        return True

    found = find_free(Study(basalt), "rear", search, told)
    wanted = {id(a.layout): _free(basalt, a.layout) for a in made}
    for one in found.answers:
        free, least = wanted[id(one.layout)]
        assert one.free == pytest.approx(free)
        assert one.nearest is not None
        assert one.nearest[2] == pytest.approx(least)
        assert f"{free:.0%} of the travel free" in free_words(one, "in")
        assert (" into " if least < 0 else " from ") in free_words(one, "in")
    steps = [round((a.free or 0.0) / module.STEP) for a in found.answers]
    assert steps == sorted(steps, reverse=True)
    assert seen == sorted(seen)
    assert max(seen) <= 1.0


def test_of_two_as_free_the_one_farther_inside_its_bands(basalt: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    old = basalt.layout("rear")
    assert old is not None
    made = tuple(Answer(old, {}, {}, ease, ()) for ease in (0.2, 0.7, 0.4))
    monkeypatch.setattr(Study, "find", lambda *_: Found(made))
    answers = find_free(Study(basalt), "rear", default_search(basalt, old)).answers
    assert [a.ease for a in answers] == [0.7, 0.4, 0.2]


def test_given_up_while_cycling_keeps_what_is_found(basalt: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    old = basalt.layout("rear")
    assert old is not None
    monkeypatch.setattr(Study, "find", lambda *_: Found((Answer(old, {}, {}, 1.0, ()),) * 2))
    found = find_free(Study(basalt), "rear", default_search(basalt, old), lambda part, _: part < module.SEARCHING)
    assert len(found.answers) == 2
    assert found.answers[0].free is None
    assert free_words(found.answers[0], "in") == ""


def test_room_in_words(basalt: Project) -> None:
    study = Study(basalt)
    room = room_of(study, "rear")
    travel = study.travel("rear")
    assert travel is not None
    worst = travel.interference.contacts[0]
    assert room.nearest is worst
    words = room_words(room, "in")
    assert f"{worst.one} – {worst.other}" in words
    assert f"{abs(worst.least) / 0.0254:.2f}″ into each other." in words
    assert room_words(Room(None, 1.0), "mm") == "100% of its travel is free, lock to lock."
    apart = replace(room, nearest=replace(worst, least=0.012))
    assert room_words(apart, "mm").endswith("12 mm apart.")


def test_the_command_line_says_it_too(basalt: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "rig.stoutlink"
    write_project(basalt, file)
    main(["find", str(file), "--end", "rear", "--json"])
    answers = json.loads(capsys.readouterr().out)["answers"]
    assert answers
    steps = [round(one["free_part"] / module.STEP) for one in answers]
    assert steps == sorted(steps, reverse=True)
    assert len(answers[0]["nearest_pair"]) == 2

"""Refusals speak of fields and names, never of paths inside the file."""

from __future__ import annotations

import re

import pytest

from stoutlink.core.document.project import Project
from stoutlink.core.document.spoken import spoken
from stoutlink.core.errors import StoutError
from tests.advice.test_refusals import CASES

PATHS = re.compile(r"\b(rig|layouts|joints|solids|surveys)\.[a-z]|[a-z]_(m|pa|rad|kg)\b|\b(front|rear)_(donor|layout)")


@pytest.mark.parametrize(
    ("sentence", "words"),
    [
        ("rig.front.roll_out_m gives 9″", "Roll-out (front) gives 9″"),
        ("layouts.rear-a has neither", "Rear four-link, first cut has neither"),
        ("layouts.rear-a.links: two lie", "Rear four-link, first cut: two lie"),
        ("layouts.front-a.steering.kingpin_m lies", "Steering kingpin of Front three-link with panhard lies"),
        ("rear_layout names “x”", "Rear layout names “x”"),
        ("layouts.gone.links.x.tube_wall_m is", "Tube wall (gone links x) is"),
        ("nothing to say", "Nothing to say"),
    ],
)
def test_places(basalt: Project, sentence: str, words: str) -> None:
    assert spoken(basalt, sentence) == words


@pytest.mark.parametrize("code", sorted(c for c in CASES if c.startswith("D") and c not in ("D112", "D123", "D124")))
def test_no_refusal_of_what_a_project_may_hold_names_a_path(code: str, basalt: Project, tmp_path: object) -> None:
    with pytest.raises(StoutError) as told:
        CASES[code](basalt, tmp_path)  # type: ignore[arg-type]
    assert not PATHS.search(told.value.sentence), told.value.sentence
    assert told.value.sentence[0].isupper() or not told.value.sentence[0].isalpha()

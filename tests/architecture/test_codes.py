"""Codes: every one that is said is in the table with one meaning, and everything in the table is said somewhere."""

from __future__ import annotations

import ast
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

import pytest

import stoutlink
from stoutlink.core.codes import ROOMS, codes, findings_page

SOURCE = Path(stoutlink.__file__).parent
ROOT = SOURCE.parents[1]
SAID = ("Finding", "Rule", "PairRule")
MORE_PLACES_THAN_ONE = {
    "D112",
    "D123",
    "D124",
    "D126",
    "D127",
    "D135",
    "G120",
    "I111",
    "Q111",
    "S102",
    "S106",
}
"""Codes said in several places that mean one thing: the same refusal for two kinds of table, a name twice, too many, …"""


def said() -> Iterator[tuple[str, str]]:
    """Every code that stands in the source as the first word of a finding, rule or error, and where."""
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not isinstance(node, ast.Call) or not node.args or not isinstance(node.args[0], ast.Constant):
                continue
            word = node.args[0].value
            if isinstance(word, str) and len(word) == 4 and word[0].isupper() and word[1:].isdigit():
                yield word, f"{path.relative_to(SOURCE)}:{node.lineno}"


def test_what_is_said_and_what_is_listed_are_the_same() -> None:
    assert {code for code, _ in said()} == set(codes())


def test_no_code_has_two_meanings() -> None:
    places = defaultdict(list)
    for code, where in said():
        places[code].append(where)
    assert {code for code, where in places.items() if len(where) > 1} == MORE_PLACES_THAN_ONE


def test_titles_are_told_apart_and_every_entry_is_whole() -> None:
    titles = [one.title for one in codes().values()]
    assert len(set(titles)) == len(titles)
    assert list(codes()) == sorted(codes())
    for one in codes().values():
        assert one.code[0] in ROOMS
        for sentence in (one.means, one.rests_on, one.do):
            assert sentence.endswith((".", "?")), one.code
            assert (
                sentence[0].isupper()
                or sentence[0].isdigit()
                or sentence.startswith(("docs/", "--", "export", "import", "new "))
            ), one.code
        assert "safe" not in " ".join((one.means, one.do)).casefold().split()


def test_the_page_is_made_from_the_table() -> None:
    assert (ROOT / "docs" / "findings.md").read_text(encoding="utf-8") == findings_page()


@pytest.mark.parametrize("letter", sorted(ROOMS))
def test_every_room_has_codes(letter: str) -> None:
    assert any(code.startswith(letter) for code in codes())

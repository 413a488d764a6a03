"""Tables in and out: no cell is taken for a formula, none is lost, and no size or shape of table hangs or fails oddly."""

from __future__ import annotations

import csv
import io
import time
from pathlib import Path

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.storage.donor_table import read_donors, write_donors
from stoutlink.core.storage.spring_table import read_spring_file
from stoutlink.core.storage.survey_table import MOST_POINTS, read_survey, read_survey_file, write_survey
from stoutlink.core.study.study import Study
from stoutlink.core.tables import plain_cell, safe_cell

HOSTILE = ["=1+1", "+A1", "-cmd|' /C calc'!A0", "@SUM(A1)", "\t=1", "'=1", "''=1", "'t is", "-", "–5"]


@given(st.text())
def test_every_text_comes_back(text: str) -> None:
    assert plain_cell(str(safe_cell(text))) == text


@pytest.mark.parametrize("text", ["-12.5", "+3", "-1 1/2", "-0.0254 m", "1e-5", "-1.2e-5", "34 | -35", "-3 in"])
def test_numbers_go_out_as_they_are(text: str) -> None:
    assert safe_cell(text) == text


@pytest.mark.parametrize("name", HOSTILE)
def test_no_export_has_a_formula_and_none_loses_the_name(basalt: Project, name: str) -> None:
    """OWASP's four signs, in names that the user may give, through all tables that go out."""
    survey = msgspec.structs.replace(
        basalt.tape.surveys[0],
        name=name,
        points=(msgspec.structs.replace(basalt.tape.surveys[0].points[0], name=name),),
    )
    donor = msgspec.structs.replace(basalt.swap.donors[0], name=name, notes=name)
    layouts = tuple(
        msgspec.structs.replace(one, name=name, links=tuple(msgspec.structs.replace(k, name=name) for k in one.links))
        for one in basalt.linkage.layouts
    )
    tables = {
        "survey": write_survey(survey, "in"),
        "donors": write_donors((donor,)),
        "cuts": cut_list_csv(Study(with_parts(basalt, layouts=layouts)).cuts, ()),
    }
    for table in tables.values():
        cells = [cell for row in csv.reader(io.StringIO(table)) for cell in row]
        assert name.strip() in {plain_cell(cell).strip() for cell in cells}
        for cell in cells:
            assert not cell.startswith(("=", "@", "+", "\t")), cell
            assert not (cell.startswith("-") and any(c.isalpha() for c in cell.removesuffix(" m"))), cell
    assert read_survey(tables["survey"]).survey.points[0].name.strip() == name.strip()
    assert read_donors(tables["donors"]).axles[0].name.strip() == name.strip()


def test_a_long_survey_reads_in_a_moment_and_says_where_it_ends() -> None:
    """20,000 rows without ids took over a minute: each row looked at all names before it."""
    text = "name,station_in,height_in\n" + "".join(f"p,{n / 50:.2f},22\n" for n in range(20_000))
    began = time.process_time()
    table = read_survey(text)
    assert time.process_time() - began < 10
    assert len(table.survey.points) == MOST_POINTS == 5000
    assert len({p.id for p in table.survey.points}) == 5000
    assert table.problems == ("Line 5002 and what follows: 5000 stations are the most a survey takes.",)


def test_rows_with_and_without_names_never_collide() -> None:
    table = read_survey("id,station_in\np2,1\n,2\n,3\np1,4\n")
    assert [p.id for p in table.survey.points] == ["p2", "p1", "p3"]
    assert table.problems == ("Line 5, column id: “p1” stands twice.",)


@pytest.mark.parametrize("read", [read_survey_file, read_donors, read_spring_file])
def test_odd_tables_are_one_sentence(tmp_path: Path, read: object) -> None:
    path = tmp_path / "odd.csv"
    for data in (
        b"name,station_in\n" + b"x" * 140_000 + b",1\n",
        b"x" * 140_000,
        b"# survey," + b"y" * 140_000 + b"\nname,station_in\na,1\n",
        b"\x00\x00\n",
        b"name,station_in\r\n\x00,1\r\n",
        b"\n\n\n",
        b'"',
        b"name;station_in\n\xc3\xa9;1,5\n",
    ):
        path.write_bytes(data)
        try:
            if read is read_survey_file:
                read_survey_file(path, "in", "s")
            elif read is read_donors:
                read_donors(data.decode("utf-8"))
            else:
                read_spring_file(path)
        except StoutError as why:
            sentence = why.sentence
            assert len(sentence) <= 300
            assert "\n" not in sentence
    with path.open("wb") as out:
        out.truncate(17 * 1024 * 1024)
    if read is not read_donors:
        with pytest.raises(StoutError, match="larger than 16 MiB"):
            read_spring_file(path)

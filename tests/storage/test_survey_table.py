"""Survey tables and outlines: round trips, bad rows, real DXF files."""

from __future__ import annotations

import math
import string
from pathlib import Path

import pytest
from ezdxf.filemanagement import new as new_drawing
from hypothesis import given, settings
from hypothesis import strategies as st

from stoutlink.core.document.survey import Datum, Reading, Survey, SurveyPoint
from stoutlink.core.errors import CatalogueError, FileError
from stoutlink.core.quantity.length_text import parse_length
from stoutlink.core.storage.dxf_outline import area, read_outlines
from stoutlink.core.storage.survey_table import read_survey, read_survey_file, write_survey

lengths = st.floats(-100, 100, allow_nan=False, allow_infinity=False)
typed = st.sampled_from(["815 mm", "3' 5 1/2\"", "22 3/4 in"]).map(
    lambda t: Reading(value_m=parse_length(t, "in"), text=t)
)
readings = st.lists(st.builds(lambda v: Reading(value_m=v), lengths) | typed, max_size=3).map(tuple)
names = st.text(string.ascii_letters + string.digits + " ,;\"'|-°½#\\", max_size=20).map(str.strip)
notes = st.text('ab ,;"#\\nr\n\r\u2028\x0c', max_size=20)
points = st.builds(
    lambda n, k, a, r1, r2, r3, e, d, g, s: SurveyPoint(
        id="x", name=n, kind=k, across=a, station=r1, height=r2, side=r3, station_edge=e, diameter_m=d, angle_rad=g, height_sigma_m=s
    ),
    names, st.sampled_from(["rail", "tower", "axle"]), st.sampled_from(["full", "left", "right", "middle"]), readings, readings, readings,
    st.sampled_from(["centre", "near", "far"]), st.none() | st.floats(0.001, 1.4), st.none() | st.floats(-1.5, 1.5), st.none() | st.floats(0, 1),
)  # fmt: skip


@settings(max_examples=250)
@given(
    st.lists(points, max_size=6),
    st.sampled_from(["in", "mm"]),
    st.floats(-11, 11),
    st.sampled_from(["forward", "rearward"]),
    names.filter(bool),
    notes,
)
def test_round_trip_loses_nothing(
    every: list[SurveyPoint], unit: str, zero: float, way: str, name: str, said: str
) -> None:
    numbered = tuple(
        SurveyPoint(**{f: getattr(p, f) for f in p.__struct_fields__} | {"id": f"p{i}"}) for i, p in enumerate(every)
    )
    survey = Survey(id="s", name=name, notes=said, datum=Datum(zero_x_m=zero, direction=way), points=numbered)  # type: ignore[arg-type]
    table = read_survey(write_survey(survey, unit), "mm" if unit == "in" else "in", survey_id="s")  # type: ignore[arg-type]
    assert table.problems == ()
    assert table.survey == survey


def test_texts_as_typed_survive() -> None:
    survey = Survey(
        id="s",
        name="s",
        points=(
            SurveyPoint(
                id="a", station=(Reading(value_m=0.8509, text="33 1/2"), Reading(value_m=0.815, text="815 mm"))
            ),
        ),
    )
    text = write_survey(survey, "in")
    assert "33 1/2 | 815 mm" in text
    assert read_survey(text, "mm", survey_id="s").survey == survey


def test_bad_rows_name_line_and_column_and_the_rest_is_offered() -> None:
    text = (
        "\ufeffname;station [in];height (mm);spread_cm;across\n"
        "good;12,5;600;84;full\nbad height;20;33 1/;84;full\nbad word;21;600;84;sideways\nshort;22\ntoo far;99999;1;1;full\n;23;;;left\n"
    )
    table = read_survey(text)
    assert [p.name for p in table.survey.points] == ["good", ""]
    assert table.survey.points[0].station[0].value_m == pytest.approx(12.5 * 0.0254)
    assert table.survey.points[0].side[0].value_m == pytest.approx(0.84)
    assert [p.split(",")[0] for p in table.problems] == ["Line 3", "Line 4", "Line 5", "Line 6"]
    assert "column height (mm)" in table.problems[0]
    assert "33 1/" in table.problems[0]
    assert "sideways" in table.problems[1]
    assert "99999" in table.problems[3]


@pytest.mark.parametrize(
    ("text", "words"),
    [("", "empty"), ("a,b\n1,2\n", "not known"), ("name,height\nx,1\n", "no column for station"), ("station,station_in\n1,2\n", "two columns"),
     ('station,name\n1,"open\n', "not CSV"), ("# zero_x_m,far away\nstation\n1\n", "“# zero_x_m” holds “far away”; accepted is a number from -12 to 12")],
)  # fmt: skip
def test_tables_that_are_none_say_why(text: str, words: str) -> None:
    with pytest.raises(CatalogueError, match=words):
        read_survey(text)


def test_files_that_cannot_be_read(tmp_path: Path) -> None:
    with pytest.raises(CatalogueError, match="cannot be opened"):
        read_survey_file(tmp_path / "none.csv", "in", "s")
    (tmp_path / "bin.csv").write_bytes(b"station\n\xff\xfe")
    with pytest.raises(CatalogueError, match="UTF-8"):
        read_survey_file(tmp_path / "bin.csv", "in", "s")


def _drawing(path: Path, units: int) -> None:
    made = new_drawing("R2010")
    made.header["$INSUNITS"] = units
    space = made.modelspace()
    space.add_lwpolyline([(0, 0), (20, 0), (20, 10), (0, 10)], close=True)
    space.add_circle((50, 50), 2)
    for a, b in (((0, 20), (4, 20)), ((4, 23), (4, 20)), ((4, 23), (0, 20))):
        space.add_line(a, b)
    space.add_line((90, 90), (95, 95))
    made.saveas(path)


@pytest.mark.parametrize(("units", "scale"), [(1, 0.0254), (4, 0.001), (0, 0.0254)])
def test_outlines_of_a_real_drawing(tmp_path: Path, units: int, scale: float) -> None:
    """Areas by hand: a 20 × 10 rectangle, a circle of radius 2, a triangle of loose lines 4 × 3 / 2."""
    _drawing(tmp_path / "a.dxf", units)
    got = [abs(area(o)) / scale**2 for o in read_outlines(tmp_path / "a.dxf", "in")]
    wanted = [200.0, math.pi * 4, 6.0]
    if scale == 0.001:
        assert got[0] == pytest.approx(200.0)
    else:
        assert got == pytest.approx(wanted, rel=0.02)


def test_drawings_that_cannot_be_used(tmp_path: Path) -> None:
    (tmp_path / "no.dxf").write_text("hello")
    _drawing(tmp_path / "odd.dxf", 21)
    new_drawing().saveas(tmp_path / "void.dxf")
    for name, words in (
        ("no.dxf", "DXF"),
        ("odd.dxf", "unit"),
        ("void.dxf", "no closed outline"),
        ("gone.dxf", "cannot be opened"),
    ):
        with pytest.raises(FileError, match=words):
            read_outlines(tmp_path / name)

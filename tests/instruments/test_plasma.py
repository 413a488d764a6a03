"""The plasma table that ships with the program, over its pseudo-terminal: what it makes of the demo's plates, measured
another way, and what it refuses by name.
"""

from __future__ import annotations

import contextlib
import io
import itertools
import math
import os
import pty
import threading
import time
import tty
from collections.abc import Iterator
from typing import Any

import ezdxf
import msgspec
import pytest
from ezdxf import path as dxf_path
from shapely.geometry import Polygon

from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.instruments import plasma_line
from stoutlink.core.instruments.plasma_job import CannotCut, feed, look_at
from stoutlink.core.instruments.plasma_line import SimulatedTable, TableSays, ask_table
from stoutlink.core.instruments.plasma_table import PlasmaTable
from stoutlink.core.instruments.protocol import InstrumentError, line_of
from stoutlink.core.reports.part_files import plate_dxf
from stoutlink.core.study.study import Study

PLATE = (1.2, 0.6)


@pytest.fixture(scope="module")
def table() -> Iterator[SimulatedTable]:
    out = SimulatedTable()
    yield out
    out.close()
    assert not os.path.exists(out.path) or out._process.poll() is not None


def drawing(*shapes: tuple[str, Any], unit: int = 4) -> bytes:
    """A drawing: ``("line", points)``, ``("shut", points)``, ``("circle", (x, y, r))``, ``("name", (x, y, words))``."""
    doc = ezdxf.new("R2000")  # type: ignore[attr-defined]
    doc.header["$INSUNITS"] = unit
    space = doc.modelspace()
    for kind, what in shapes:
        if kind == "circle":
            x, y, r = what
            space.add_circle((x, y), r, dxfattribs={"layer": "CUT"})
        elif kind == "name":
            x, y, words = what
            space.add_text(words, height=3, dxfattribs={"layer": "NOTE"}).set_placement((x, y))
        else:
            space.add_lwpolyline(what, close=kind == "shut", dxfattribs={"layer": "CUT"})
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


def square(x: float, y: float, side: float) -> list[tuple[float, float]]:
    return [(x, y), (x + side, y), (x + side, y + side), (x, y + side)]


def ask(table: SimulatedTable, data: bytes, thickness: float = 0.006, amps: float = 45.0) -> TableSays:
    out = ask_table(table.path, 9600, data, thickness, amps, PLATE, lambda _: True)
    assert out is not None
    return out


@pytest.mark.parametrize("unit", ["in", "mm"])
def test_the_demos_plates_are_cut_as_long_as_they_are_drawn(table: SimulatedTable, basalt: Project, unit: str) -> None:
    """Pierces and length against the same drawing read by ezdxf and measured by shapely, in both units."""
    wide = msgspec.structs.replace(basalt.fabrication.plate, amps=100.0)
    plans = Study(with_parts(basalt, plate=wide)).plate_plan()
    cut = 0
    for plan in plans:
        for number in range(plan.nested.plates):
            data = plate_dxf(plan, number, wide, unit)  # type: ignore[arg-type]
            doc = ezdxf.read(io.StringIO(data.decode()))  # type: ignore[attr-defined]
            scale = 25.4 if unit == "in" else 1.0
            rings = [
                Polygon([(p.x * scale, p.y * scale) for p in dxf_path.make_path(e).flattening(0.001)])
                for e in doc.modelspace().query('*[layer=="CUT"]')
            ]
            said = ask_table(
                table.path, 9600, data, plan.thickness, 100.0, (wide.length_m, wide.width_m), lambda _: True
            )
            assert said is not None
            broken = [(a, b) for a, b in itertools.combinations(rings, 2) if a.boundary.crosses(b.boundary)]
            if broken:  # the demo's lower tab, whose hole breaks out at its saddle
                assert said.job is None
                assert any("Lower, tube, tab" in one and "overlap" in one for one in said.refused)
                continue
            cut += 1
            assert said.job is not None, said.refused
            assert said.job.pierces == len(rings)
            assert said.job.length * 1000 == pytest.approx(sum(r.length for r in rings), rel=1e-3)
    assert cut >= 1


def test_pierces_length_and_time_by_hand(table: SimulatedTable) -> None:
    """A square of 100 mm with a hole of 30 in 6 mm plate at 45 A: 400 + 30π mm at 1125 mm/min, two pierces of 0.98 s, and
    the way of the torch between them at 8 m/min."""
    data = drawing(("shut", square(10, 10, 100)), ("circle", (60, 60, 15)))
    said = ask(table, data)
    assert said.job is not None
    assert said.job.pierces == 2
    length = 400 + 30 * math.pi
    assert said.job.length * 1000 == pytest.approx(length, abs=0.2)
    way = math.hypot(10, 10) + math.hypot(75 - 10, 60 - 10)
    assert said.job.seconds == pytest.approx(60 * length / 1125 + 2 * 0.98 + 60 * way / 8000, abs=0.15)
    assert feed(6.0, 90.0) == 2 * feed(6.0, 45.0)


SQUARE = ("shut", square(10, 10, 100))


@pytest.mark.parametrize(
    ("shapes", "words"),
    [
        ([("line", square(10, 10, 100)), ("name", (10, 4, "Gusset"))], "open outline that begins at 10, "),
        ([SQUARE, ("name", (10, 4, "Gusset")), ("circle", (60, 60, 2.5))], "hole in Gusset of 5.0 mm is smaller"),
        (
            [SQUARE, ("name", (10, 4, "Left")), ("shut", square(80, 80, 100)), ("name", (80, 74, "Right"))],
            "Left and Right overlap",
        ),
        ([SQUARE, SQUARE], "overlap"),
        ([SQUARE, ("shut", square(110.6, 10, 50))], "leave 0.6 mm between them"),
        ([("shut", square(-3, 10, 50)), ("name", (-3, 4, "Tab"))], "Tab lies off the plate"),
        ([("shut", square(1190, 10, 50))], "outline at 1190, 10 mm lies off the plate"),
        ([("shut", square(10, 580, 50))], "lies off the plate"),
        ([("name", (10, 4, "Nothing"))], "no outline to cut"),
    ],
)
def test_what_cannot_be_cut_is_refused_by_name(
    table: SimulatedTable, shapes: list[tuple[str, Any]], words: str
) -> None:
    said = ask(table, drawing(*shapes))
    assert said.job is None
    assert any(words in one for one in said.refused), said.refused


def test_thick_plate_wants_more_current(table: SimulatedTable) -> None:
    data = drawing(SQUARE)
    assert ask(table, data, 0.012, 45.0).refused == ("12.0 mm plate is too thick for 45 A",)
    assert ask(table, data, 0.012, 85.0).job is not None


def test_a_part_in_the_hole_of_another_is_a_part(table: SimulatedTable) -> None:
    """Even-odd: a disc in a large hole is cut as a part of its own, and may be smaller than the plate is thick."""
    said = ask(table, drawing(SQUARE, ("circle", (60, 60, 40)), ("circle", (60, 60, 2.5))))
    assert said.job is not None
    assert said.job.pierces == 3


def test_loose_lines_of_another_program_close(table: SimulatedTable) -> None:
    corners = square(10, 10, 60)
    sides = [("line", [corners[k], corners[(k + 1) % 4]]) for k in (2, 0, 3)] + [("line", [corners[2], corners[1]])]
    said = ask(table, drawing(*sides))
    assert said.job is not None
    assert (said.job.pierces, round(said.job.length, 4)) == (1, 0.24)


@pytest.mark.parametrize("data", [b"", b"not a drawing", b"0\nSECTION\n2\nENTITIES\n0\n", drawing(SQUARE, unit=14)])
def test_a_bad_drawing_is_refused_in_words(data: bytes) -> None:
    with pytest.raises(CannotCut) as why:
        look_at(data, 6.0, 45.0, (1200.0, 600.0))
    assert why.value.why[0] in ("a drawing that cannot be read, or whose unit is not known", "no outline to cut")


def test_what_comes_in_garbled_is_not_cut() -> None:
    one = PlasmaTable()
    assert one.answer("G 00000000") == [line_of("E no settings yet")]
    assert one.answer("S 6 45 1200 600") == [line_of("K")]
    assert one.answer("S 6 45 1200") == [line_of("E settings are thickness, amps, plate length and width")]
    assert one.answer("S 6 45 1200 0") == [line_of("E settings out of range")]
    assert one.answer("F 8") == [line_of("K")]
    assert one.answer("B AAAA") == []
    assert one.answer("G 00000000") == [line_of("E the drawing came in garbled")]
    assert one.answer("Q") == [line_of("E unknown command Q")]


def test_given_up_on_the_way_nothing_comes_back(table: SimulatedTable) -> None:
    assert ask_table(table.path, 9600, drawing(SQUARE), 0.006, 45.0, PLATE, lambda _: False) is None
    assert ask(table, drawing(SQUARE)).job is not None  # and the next one is heard


def answering(said: bytes) -> tuple[str, int]:
    """A line at which one thing is said to whatever comes."""
    master, slave = pty.openpty()
    tty.setraw(slave)

    def serve() -> None:
        os.read(master, 100)
        os.write(master, said)

    threading.Thread(target=serve, daemon=True).start()
    return os.ttyname(slave), master


@pytest.mark.parametrize(
    ("said", "code", "words"),
    [
        (line_of("I scales four scales"), "I106", "four scales"),
        (line_of("E no"), "I106", "something else"),
        (line_of("I plasma a table") + line_of("E the lid is open"), "I108", "the lid is open"),
        (b"", "I107", "went silent"),
    ],
)
def test_a_line_that_is_none_or_refuses(monkeypatch: pytest.MonkeyPatch, said: bytes, code: str, words: str) -> None:
    monkeypatch.setattr(plasma_line, "PATIENCE", 0.3)
    path, _ = answering(said)
    with pytest.raises(InstrumentError, match=words) as why:
        ask_table(path, 9600, drawing(SQUARE), 0.006, 45.0, PLATE, lambda _: True)
    assert why.value.code == code


def chattering(said: bytes, first: bytes = b"") -> str:
    """A line at which one thing is said over and over."""
    master, slave = pty.openpty()
    tty.setraw(slave)

    def serve() -> None:
        with contextlib.suppress(OSError):
            os.read(master, 100)
            os.write(master, first)
            while True:
                os.write(master, said)
                time.sleep(0.001)

    threading.Thread(target=serve, daemon=True).start()
    return os.ttyname(slave)


def test_a_table_that_refuses_without_end_is_given_up(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(plasma_line, "PATIENCE", 0.2)
    path = chattering(line_of("X too thin"), line_of("I plasma a table") + line_of("K") + line_of("K"))
    began = time.monotonic()
    with pytest.raises(InstrumentError, match="went silent"):
        ask_table(path, 9600, drawing(SQUARE), 0.006, 45.0, PLATE, lambda _: True)
    assert time.monotonic() - began < 10


def test_a_silent_table_is_given_up_as_soon_as_nobody_wants_it(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(plasma_line, "PATIENCE", 60.0)
    path, _ = answering(line_of("I plasma a table"))
    asked: list[float] = []

    def wanted(part: float) -> bool:
        asked.append(part)
        return len(asked) < 20

    began = time.monotonic()
    assert ask_table(path, 9600, drawing(SQUARE), 0.006, 45.0, PLATE, wanted) is None
    assert time.monotonic() - began < 20

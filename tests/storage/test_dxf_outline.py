"""Drawings: blocks where they are put, loose lines in any order, and nothing that hangs, swells or fails otherwise.

The drawings are written by ezdxf, a general library; sizes are by hand.
"""

from __future__ import annotations

import math
import random
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import ezdxf
import pytest

from stoutlink.core.errors import FileError
from stoutlink.core.storage import read_apart
from stoutlink.core.storage.dxf_apart import DrawingReader
from stoutlink.core.storage.dxf_outline import area, read_outlines


def drawn(folder: Path, draw: Callable[[Any, Any], object], unit: int = 4) -> Path:
    """A drawing in millimetres (unit 4) as ``draw`` makes it."""
    made = ezdxf.new()  # type: ignore[attr-defined]
    made.header["$INSUNITS"] = unit
    draw(made, made.modelspace())
    made.saveas(folder / "a.dxf")
    return folder / "a.dxf"


def test_a_block_is_read_where_it_is_put(tmp_path: Path) -> None:
    """A 50 × 30 tab with an 8 mm hole, twice the size, a quarter turn, at (100, 100)."""

    def draw(made: Any, space: Any) -> None:
        tab = made.blocks.new("TAB")
        tab.add_lwpolyline([(0, 0), (50, 0), (50, 30), (0, 30)], close=True)
        tab.add_circle((25, 15), 8)
        outer = made.blocks.new("PAIR")
        outer.add_blockref("TAB", (0, 0), dxfattribs={"rotation": 90, "xscale": 2, "yscale": 2})
        space.add_blockref("PAIR", (100, 100))

    plate, hole = read_outlines(drawn(tmp_path, draw))
    assert sorted((round(x, 6), round(y, 6)) for x, y in plate) == [(0.04, 0.1), (0.04, 0.2), (0.1, 0.1), (0.1, 0.2)]
    assert abs(area(hole)) == pytest.approx(math.pi * 0.016**2, rel=0.1)
    assert max(x for x, _ in hole) == pytest.approx(0.086)


def test_lines_in_any_order_and_direction_close(tmp_path: Path) -> None:
    """A ring of 3000 lines, 1 m in radius, shuffled and half of them turned round."""
    ring = [(1000 * math.cos(a * math.tau / 3000), 1000 * math.sin(a * math.tau / 3000)) for a in range(3000)]
    lines = list(zip(ring, ring[1:] + ring[:1], strict=True))
    rng = random.Random(3)
    rng.shuffle(lines)

    def draw(_: Any, space: Any) -> None:
        for a, b in lines:
            space.add_line(*((a, b) if rng.random() < 0.5 else (b, a)))

    (one,) = read_outlines(drawn(tmp_path, draw))
    assert len(one) == 3000
    assert abs(area(one)) == pytest.approx(math.pi, rel=1e-5)


def _bomb(made: Any, space: Any) -> None:
    made.blocks.new("B0").add_circle((0, 0), 1)
    for k in range(1, 9):
        block = made.blocks.new(f"B{k}")
        for j in range(10):
            block.add_blockref(f"B{k - 1}", (j, 0))
    space.add_blockref("B8", (0, 0))


def _array(made: Any, space: Any) -> None:
    made.blocks.new("B0").add_circle((0, 0), 1)
    space.add_blockref("B0", (0, 0)).grid((30_000, 30_000), (1, 1))


@pytest.mark.parametrize(
    ("draw", "code"),
    [
        (lambda made, space: space.add_circle((0, 0), 1e10), "F143"),
        (lambda made, space: [space.add_line((3 * i, 0), (3 * i + 1, 5)) for i in range(6000)], "F143"),
        (lambda made, space: [space.add_point((i, 0)) for i in range(20_001)], "F144"),
        (_bomb, "F144"),
        (_array, "F144"),
        (lambda made, space: space.add_ellipse((0, 0), (1e300, 0), 1e-12), "F143"),
        (lambda made, space: space.add_circle((1e9, 0), 5), "F143"),
    ],
)
def test_what_is_out_of_measure_is_refused_soon(tmp_path: Path, draw: Callable[[Any, Any], object], code: str) -> None:
    path = drawn(tmp_path, draw)
    began = time.process_time()
    with pytest.raises(FileError) as told:
        read_outlines(path)
    assert told.value.code == code
    assert time.process_time() - began < 20  # hung for good before


def test_torn_and_changed_drawings_are_read_or_refused(tmp_path: Path) -> None:
    """Lines of a drawing taken out, doubled, exchanged and spoilt: an outline or one sentence, nothing else."""

    def draw(made: Any, space: Any) -> None:
        space.add_lwpolyline([(0, 0), (500, 0), (500, 300), (0, 300)], close=True)
        space.add_circle((100, 100), 40)
        space.add_spline([(0, 0), (10, 40), (30, 10), (0, 0)])
        space.add_arc((0, 0), 50, 0, 300)

    whole = drawn(tmp_path, draw).read_text(encoding="utf-8").splitlines()
    rng = random.Random(11)
    odd = ["", "-1", "1e308", "nan", "99999999999999999999", "ENDSEC", "INSERT", "\u0000", "0", "SECTION", "1e-320"]
    path = tmp_path / "b.dxf"
    for _ in range(60):
        lines = list(whole)
        for _ in range(rng.randint(1, 6)):
            at = rng.randrange(len(lines))
            change = rng.random()
            if change < 0.2:
                del lines[at]
            elif change < 0.3:
                lines.insert(at, lines[at])
            elif change < 0.4:
                del lines[at:]
                lines.append("0")
            else:
                lines[at] = rng.choice(odd)
        path.write_text("\n".join(lines), encoding="utf-8")
        try:
            assert read_outlines(path)
        except FileError as why:
            told = why.code
            assert told in ("F141", "F142", "F143", "F144")


def test_read_apart_it_is_the_same_and_can_be_given_up(tmp_path: Path) -> None:
    path = drawn(tmp_path, lambda made, space: space.add_lwpolyline([(0, 0), (500, 0), (500, 300)], close=True))
    reader = DrawingReader(path, "mm")
    while not reader.done():
        time.sleep(0.01)
    assert reader.outlines() == read_outlines(path)
    reader = DrawingReader(tmp_path / "-none.dxf", "in")
    with pytest.raises(FileError, match="no such file"):
        reader.outlines()
    reader = DrawingReader(path, "mm")
    reader.stop()
    assert reader.done()
    with pytest.raises(FileError) as told:
        reader.outlines()
    assert told.value.code == "F146"


def test_a_drawing_that_swells_is_stopped(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(read_apart, "MEMORY", 30_000_000)  # too little to begin with
    path = drawn(tmp_path, lambda made, space: space.add_circle((0, 0), 100))
    with pytest.raises(FileError, match="GB to read"):
        DrawingReader(path, "mm").outlines()

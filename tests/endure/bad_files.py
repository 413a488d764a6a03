"""Torn, twisted and hostile files through every reader. Each is either read or refused with one sentence: no other exception, no
hang, no runaway memory, and what is said is in words for the user.
"""

from __future__ import annotations

import copy
import csv
import io
import json
import random
import re
import resource
import signal
import time
import traceback
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import ezdxf
import trimesh

from stoutlink.core.errors import StoutError
from stoutlink.core.instruments.protocol import Lines, line_of, parse_line
from stoutlink.core.storage.donor_table import read_donor_file
from stoutlink.core.storage.dxf_outline import read_outlines
from stoutlink.core.storage.files import read_project
from stoutlink.core.storage.lock import holder_of, lock_of
from stoutlink.core.storage.mesh_file import read_mesh
from stoutlink.core.storage.parts_table import COLUMNS, read_parts
from stoutlink.core.storage.photos import add_photo
from stoutlink.core.storage.recovery import Recovery
from stoutlink.core.storage.spring_table import read_spring_file
from stoutlink.core.storage.survey_table import read_survey_file, write_survey
from stoutlink.core.storage.table_file import read_table_text
from stoutlink.demo import demo_file

SECONDS = 20.0
"""CPU seconds one file may take, on a slow machine too."""
MEMORY_MB = 900
"""What reading one file may add to what a process holds."""
LONGEST = 300
_WORDS = r"regex|sigma\b|Traceback|NoneType|msgspec|object at 0x|\[\d+\]|\\u|\$\.|Struct|`"
NOT_SAID = re.compile(rf"_(?:m|pa|rad|kg|nm|mm|m3|m2|n_per_m|kpa|deg|s|h)\b|{_WORDS}")
NOT_SAID_OF_TABLES = re.compile(_WORDS)
"""Words of the program that no refusal may use."""
ODD: tuple[Any, ...] = (
    None, True, False, 0, -1, 10**30, 2**63, -(10**400), 1e308, -1e308, 1e-308, 0.1, "", "x" * 5000, "\ud83d", "a\nb", "\x00", "../../etc/passwd", "=1+1", [], {},
    [[]], [1, 2], {"id": "a"}, {"id": "a" * 400}, "\u202e", "-0", "NaN", "é" * 90, 1e17, 3.5, 7,
)  # fmt: skip
BYTES = (
    b"",
    b"\x00",
    b"\xff\xfe",
    b"\xef\xbb\xbf",
    b"{",
    b"[" * 2000,
    b'"',
    b"\n",
    b",",
    b";",
    b"1e999",
    b"-",
    b"\xf0\x9f",
    b"NaN",
    b"\\ud800",
    b"9" * 600,
)


@dataclass
class Tried:
    """What came of many files of one kind."""

    kind: str
    tried: int = 0
    read: int = 0
    refused: int = 0
    faults: list[str] = field(default_factory=list)
    slowest: float = 0.0
    failing: list[tuple[bytes, str]] = field(default_factory=list)
    """Bytes of what failed, and how."""


# Twisting ------------------------------------------------------------------


def torn(data: bytes, rng: random.Random) -> bytes:
    """Bytes cut, doubled, flipped or replaced in a few places."""
    out = bytearray(data)
    for _ in range(rng.choice((1, 1, 2, 5))):
        at, far = rng.randrange(len(out) + 1), rng.choice((1, 4, 60, 3000))
        kind = rng.randrange(6)
        if kind == 0:
            del out[at:]
        elif kind == 1:
            del out[at : at + far]
        elif kind == 2:
            out[at:at] = out[at : at + far]
        elif kind == 3:
            out[at:at] = rng.choice(BYTES)
        elif kind == 4:
            out[at : at + far] = bytes(rng.randrange(256) for _ in range(min(far, 60)))
        elif out:
            out[min(at, len(out) - 1)] ^= 1 << rng.randrange(8)
    return bytes(out)


def _places(value: Any, rng: random.Random) -> tuple[Any, Any] | None:
    """A container and a key in it, somewhere in plain data."""
    here, found = value, None
    while isinstance(here, dict | list) and here:
        key: Any = rng.choice(list(here)) if isinstance(here, dict) else rng.randrange(len(here))
        found = (here, key)
        if rng.random() < 0.12:
            break
        here = here[key]
    return found


def twisted(plain: Any, rng: random.Random) -> bytes:
    """Plain data of a project with a few values, keys or whole parts put in the wrong place."""
    raw = json.loads(json.dumps(plain))
    for _ in range(rng.choice((1, 1, 1, 2, 4))):
        at = _places(raw, rng)
        if at is None:
            continue
        owner, key = at
        kind = rng.randrange(8)
        if kind <= 2:
            owner[key] = copy.deepcopy(rng.choice(ODD))  # what is put in may be twisted in turn
        elif kind == 3 and isinstance(owner[key], int | float) and not isinstance(owner[key], bool):
            owner[key] = owner[key] * rng.choice((-1, 0, 1e3, 1e-6, 1e12))
        elif kind == 4:
            other = _places(raw, rng)
            if other is not None:
                owner[key] = json.loads(json.dumps(other[0][other[1]]))
        elif kind == 5 and isinstance(owner, dict):
            owner[rng.choice(("x" * 200, "id", "name", "", "a.b", "é", str(key) + "_m"))] = owner.pop(key)
        elif kind == 6 and isinstance(owner, list):
            owner[key:key] = [json.loads(json.dumps(owner[key]))] * rng.choice((1, 3, 3000 if len(json.dumps(owner[key])) < 400 else 1))  # fmt: skip
        else:
            del owner[key]
    return json.dumps(raw).encode()


def shuffled(table: bytes, rng: random.Random) -> bytes:
    """A table with cells, rows and columns that are wrong."""
    rows = list(csv.reader(io.StringIO(table.decode("utf-8-sig"))))
    for _ in range(rng.choice((1, 2, 4))):
        row = rng.choice(rows)
        if not row:
            continue
        kind = rng.randrange(6)
        if kind == 0:
            row[rng.randrange(len(row))] = str(rng.choice(ODD))
        elif kind == 1:
            row[rng.randrange(len(row))] = rng.choice(
                ("1e400", "nan", "-5", "12 parsecs", "1/0", "½", "  ", "'=x", "3 ± 900", "9" * 500, "\x00")
            )
        elif kind == 2:
            del row[rng.randrange(len(row))]
        elif kind == 3:
            row.extend(["x"] * rng.choice((1, 400)))
        elif kind == 4:
            rows.insert(rng.randrange(len(rows)), list(row))
        else:
            rows[0] = [str(rng.choice(ODD)) if rng.random() < 0.3 else c for c in rows[0]]
    out = io.StringIO()
    csv.writer(out, delimiter=rng.choice((",", ",", ",", ";", "\t"))).writerows(rows)
    return out.getvalue().encode("utf-8", "surrogatepass")


def swapped(drawing: bytes, rng: random.Random) -> bytes:
    """A drawing with wrong group codes and values."""
    lines = drawing.split(b"\n")
    for _ in range(rng.choice((1, 2, 5, 12))):
        at = rng.randrange(len(lines))
        lines[at] = rng.choice((
            b"0", b"-1", b"1e308", b"-1e308", b"1e20", b"nan", b"inf", b"999999999", b"2147483648", b"x", b"", b"INSERT", b"SPLINE", b"ELLIPSE", b"LWPOLYLINE",
            b"SECTION", b"ENDSEC", b" 10", b" 40", b" 70", b" 90", b"*Model_Space", b"A", b"\xff", b"1e-300", b"100000", b"0.0", rng.choice(lines),
        ))  # fmt: skip
    return b"\n".join(lines)


# Readers -------------------------------------------------------------------


def _drawing(folder: Path) -> bytes:
    """Every kind of curve, blocks in blocks, rows of a block."""
    doc = ezdxf.new(units=4)  # type: ignore[attr-defined]
    inner = doc.blocks.new("B")
    inner.add_circle((0, 0), 3)
    outer = doc.blocks.new("A")
    outer.add_lwpolyline([(0, 0), (50, 0), (50, 20), (0, 20)], close=True)
    outer.add_blockref("B", (9, 9))
    msp = doc.modelspace()
    msp.add_blockref("A", (10, 10), {"row_count": 2, "column_count": 3, "row_spacing": 30, "column_spacing": 60})
    msp.add_arc((0, 0), 20, 0, 270)
    msp.add_ellipse((0, 0), (30, 5), 0.4)
    msp.add_spline([(0, 0), (10, 9), (20, -4), (40, 3)])
    msp.add_polyline2d([(0, 0), (5, 0), (5, 8)], close=True)
    msp.add_lwpolyline([(0, 0, 0.5), (30, 0, -0.2), (30, 30, 0)], format="xyb", close=True)
    for a, b in (((0, 0), (9, 0)), ((9, 0), (9, 9)), ((9, 9), (0, 0))):
        msp.add_line(a, b)
    path = folder / "whole.dxf"
    doc.saveas(path)
    return path.read_bytes()


OBJ = b"o plate\nv 0 0 0\nv 40 0 0\nv 40 30 0\nv 0 30 0\nvn 0 0 1\nf 1//1 2//1 3//1\nf 1//1 3//1 4//1\n"


def _mesh(folder: Path) -> bytes:
    """A box as a binary STL."""
    path = folder / "whole.stl"
    trimesh.creation.box((40.0, 30.0, 20.0)).export(path)
    return path.read_bytes()


def _photo(folder: Path, data: bytes) -> None:
    there = folder / "p.png"
    there.write_bytes(data)
    add_photo(folder / "rig.stoutlink", there)


def _left(folder: Path, data: bytes) -> None:
    """Kept work and a lock as somebody may have left them."""
    kept = Recovery(folder / "kept")
    (folder / "kept").mkdir(exist_ok=True)
    there = folder / "kept" / "unsaved-1.json"
    there.write_bytes(data)
    there.with_suffix(".note").write_bytes(data[:4000])
    lock_of(folder / "rig").write_bytes(data[:4000])
    holder_of(folder / "rig")
    kept.leftovers()
    for _, why in kept.unreadable():
        raise why


def _instrument(folder: Path, data: bytes) -> None:
    for line in Lines().feed(data + b"\n")[:50]:
        parse_line(line)


def _in_file(read: Callable[[Path], object], suffix: str) -> Callable[[Path, bytes], object]:
    def run(folder: Path, data: bytes) -> object:
        path = folder / f"odd{suffix}"
        path.write_bytes(data)
        return read(path)

    return run


@dataclass(frozen=True)
class Reader:
    """A kind of file: how it is read, whole ones, and how it is twisted besides being torn."""

    kind: str
    read: Callable[[Path, bytes], object]
    whole: tuple[bytes, ...]
    twist: Callable[[bytes, random.Random], bytes]
    table: bool = False
    """Its own heading may be quoted to who wrote it."""


def readers(folder: Path) -> list[Reader]:
    """Every reader of the program."""
    projects = tuple(demo_file(f"{n}.stoutlink").read_bytes() for n in ("basalt", "tamarack", "starter"))
    plain = {data: json.loads(data) for data in projects}
    basalt = read_project(demo_file("basalt.stoutlink"))
    survey = write_survey(basalt.tape.surveys[0], "in").encode()
    parts = ",".join(COLUMNS).encode() + b"\n" + b"".join(
        f"line-{n},,Rod {n},2,pieces,,24.0,estimated,12.5,,,,,,,ordered,a seller,note,2026-11-01,10,2026-12-01,2026-12-04,2026-12-20,,,,,\n".encode()
        for n in range(6)
    )  # fmt: skip
    photo = b"\x89PNG\r\n\x1a\n" + bytes(range(256))

    def twist(data: bytes, rng: random.Random) -> bytes:
        return twisted(plain[data], rng)

    return [
        Reader("project", _in_file(read_project, ".stoutlink"), projects, twist),
        Reader("survey", _in_file(lambda p: read_survey_file(p, "in", "s"), ".csv"), (survey,), shuffled, True),
        Reader("donors", _in_file(read_donor_file, ".csv"), (demo_file("donors.csv").read_bytes(),), shuffled, True),
        Reader("springs", _in_file(read_spring_file, ".csv"), (demo_file("springs.csv").read_bytes(),), shuffled, True),
        Reader("parts", _in_file(lambda p: read_parts(read_table_text(p), {}), ".csv"), (parts,), shuffled, True),
        Reader("drawing", _in_file(read_outlines, ".dxf"), (_drawing(folder),), swapped),
        Reader("photo", _photo, (photo,), torn),
        Reader("mesh", _in_file(lambda path: read_mesh(path, "mm"), ".stl"), (_mesh(folder),), torn),
        Reader("mesh, text", _in_file(lambda path: read_mesh(path, "mm"), ".obj"), (OBJ,), torn),
        Reader("left by others", _left, (projects[2],), twist),
        Reader(
            "instrument",
            _instrument,
            (
                b"".join(
                    line_of(x)
                    for x in ("R FL 512.400 kg S", "K", "I scales four", "E no", "J 3 120.5 9.0", "X too thin")
                ),
            ),
            torn,
        ),
    ]


class _WithoutEnd(BaseException):  # so that no reader takes it for a failure of its own
    """It was given twice the time it may take."""


def judge(run: Callable[[], object], *, table: bool = False) -> tuple[bool, str, float]:
    """Whether it was read, what is wrong with how it went (nothing: ""), and the CPU seconds it took."""

    def never(*_: object) -> None:
        raise _WithoutEnd

    signal.signal(signal.SIGVTALRM, never)
    began, held = time.process_time(), resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    read, wrong = True, ""
    try:
        signal.setitimer(signal.ITIMER_VIRTUAL, 2 * SECONDS)
        run()
    except _WithoutEnd:
        read = False
    except StoutError as why:
        read = False
        said = f"{why.sentence} {why.hint}".strip()
        if len(why.sentence) > LONGEST or len(why.hint) > LONGEST or "\n" in said:
            wrong = f"too long or broken: {said}"
        elif not why.sentence.endswith((".", "?", "…")):
            wrong = f"no sentence: {said}"
        elif found := (NOT_SAID_OF_TABLES if table else NOT_SAID).search(re.sub(r"“[^”]*”", "", said)):
            wrong = f"says {found[0]!r}: {said}"
    except Exception:
        read, wrong = False, traceback.format_exc(limit=-4)
    finally:
        signal.setitimer(signal.ITIMER_VIRTUAL, 0)
    took = time.process_time() - began
    more = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - held) / 1024
    if took > SECONDS:
        wrong = f"took {took:.1f} s. {wrong}"
    if more > MEMORY_MB:
        wrong = f"took {more:.0f} MB more. {wrong}"
    return read, wrong, took


def try_reader(reader: Reader, folder: Path, seed: int, count: int, most_faults: int = 20) -> Tried:
    """So many bad files through one reader."""
    out = Tried(reader.kind)
    for n in range(count):
        rng = random.Random(f"{reader.kind} {seed} {n}")
        whole = rng.choice(reader.whole)
        data = torn(whole, rng) if rng.random() < 0.35 else reader.twist(whole, rng)
        read, wrong, took = judge(lambda data=data: reader.read(folder, data), table=reader.table)  # type: ignore[misc]
        out.tried += 1
        out.read += read
        out.refused += not read
        out.slowest = max(out.slowest, took)
        if wrong:
            out.faults.append(f"{reader.kind}, seed {seed}, file {n}: {wrong}")
            out.failing.append((data, wrong))
            if len(out.faults) >= most_faults:
                break
    return out

"""The arrows, the size of files, and that docstrings say what signatures say."""

from __future__ import annotations

import ast
import importlib
import inspect
import pkgutil
import re
import subprocess
import sys
import textwrap
from pathlib import Path

import pytest

import stoutlink
import stoutlink.core

SOURCE = Path(stoutlink.__file__).parent
FILES = sorted(SOURCE.rglob("*.py"))
CORE = [m.name for m in pkgutil.walk_packages(stoutlink.core.__path__, "stoutlink.core.")]


def _imports(path: Path) -> set[str]:
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {a.name for a in node.names}
        elif isinstance(node, ast.ImportFrom):
            found.add(node.module or "")
    return found


def test_no_interface_below_the_app() -> None:
    for path in FILES:
        if "app" not in path.relative_to(SOURCE).parts:
            assert not {i.split(".")[0] for i in _imports(path)} & {"PyQt6", "pyqtgraph", "tkinter"}, path


def test_the_core_loads_without_qt_or_scipy() -> None:
    code = f"import sys, importlib; [importlib.import_module(m) for m in {CORE!r}]; print([m for m in sys.modules if m.split('.')[0] in ('PyQt6', 'pyqtgraph', 'scipy')])"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def test_files_stay_small() -> None:
    for path in FILES:
        lines = [
            x
            for x in path.read_text(encoding="utf-8").splitlines()
            if x.strip() and not x.strip().startswith(("#", ">>>"))
        ]
        assert len(lines) <= 450, path


@pytest.mark.parametrize("module", [m for m in CORE if not m.endswith("__main__")])
def test_public_things_have_docstrings(module: str) -> None:
    loaded = importlib.import_module(module)
    assert loaded.__doc__
    for name, thing in vars(loaded).items():
        if name.startswith("_") or getattr(thing, "__module__", None) != module:
            continue
        if inspect.isfunction(thing) or inspect.isclass(thing):
            assert inspect.getdoc(thing), f"{module}.{name}"


def test_mechanics_docstrings_name_units_or_point_to_what_does() -> None:
    """A public function of mechanics with parameters says more than one line about them."""
    for name in CORE:
        if ".mechanics." not in name:
            continue
        loaded = importlib.import_module(name)
        for key, thing in vars(loaded).items():
            if inspect.isfunction(thing) and thing.__module__ == name and not key.startswith("_"):
                assert len((inspect.getdoc(thing) or "").split()) >= 8, f"{name}.{key}"


FORMULAS = [m for m in CORE if m.split(".")[2] in ("quantity", "geometry", "numerics", "mechanics")]
UNITS = re.compile(
    r"\b(m|mm|in|N|Pa|kg|rad|s|Hz|metres|seconds|inches)\b|m²|m³|m⁴|N·m|N/m|rad/s|%|``\([^)]+\)``|text|SI value|"
    r"\b[Rr]atio|unit vector|sentence|key|[Ww]hether|1: "
)
"""A unit, a shape in double ticks, or that it is a text, a bare ratio, a yes or no."""
SOURCES = re.compile(r"[Ss]ources?\b|common practice|ISO \d|SAE|NIST|Shigley|Gillespie|Milliken")


@pytest.mark.parametrize("module", FORMULAS)
def test_a_formula_says_what_goes_in_what_comes_out_and_where_it_is_from(module: str) -> None:
    """Read from signature and docstring: every parameter by its name, an example that doctest runs, the unit or shape,
    and a source, the function's own or that of its file. Functions without a parameter that can fail say what they raise.
    """
    loaded = importlib.import_module(module)
    for key, thing in vars(loaded).items():
        if key.startswith("_") or not inspect.isfunction(thing) or thing.__module__ != module:
            continue
        text = inspect.getdoc(thing) or ""
        for name in inspect.signature(thing).parameters:
            assert re.search(rf"\b{name}\b", text), f"{module}.{key} does not say what {name} is"
        assert ">>> " in text, f"{module}.{key} has no example"
        assert UNITS.search(text), f"{module}.{key} names no unit and no shape"
        assert SOURCES.search(text) or SOURCES.search(loaded.__doc__ or ""), f"{module}.{key} has no source"
        body = ast.parse(textwrap.dedent(inspect.getsource(thing))).body[0]
        raised = {
            n.exc.func.id
            for n in ast.walk(body)
            if isinstance(n, ast.Raise) and isinstance(n.exc, ast.Call) and isinstance(n.exc.func, ast.Name)
        }
        for error in raised - {"not_understood", "AssertionError"}:
            assert error in text or "Raise" in text, f"{module}.{key} does not say that it raises {error}"


PROPOSALS = {
    "air_for", "arm_holes_for", "bar_for", "bracket_for", "carrier_search", "coil_for", "coilover_for", "default_search", "drag_link_beside", "first_anchors",
    "front_output_for", "line_for", "next_anchor", "next_gear", "next_torque_point", "output_for", "rank_springs", "sector_of", "shock_for", "tie_rod_behind", "tubes_for",
}  # fmt: skip
"""Something new to start from, made when a button is pressed."""
READERS = {
    "as_cut", "as_drawn", "bag_radius", "case_words", "circles_differ", "clear_part", "combinations", "heavier_axle", "on_the_same", "place_point",
    "levelled", "low_points", "moment", "on_rig", "patch_words", "placed_lines", "plan_angle_words", "read_point", "reused", "roll_stiffness", "said_at", "sharp_points", "steer_range", "steering_holes",
    "turns_of", "wheel_turns", "why_ahead", "free_mark", "moved", "day_of", "next_order", "way_back", "proposed_parts",
    "between", "due_of", "later", "packing", "minute_of", "comes_on", "conflicts",
    "hit_rate", "own_bands", "schools_of", "bearings_of", "then",
}  # fmt: skip
"""One thing read off an answer or a record that is there already, or a word for it."""


def test_a_sheet_asks_the_study() -> None:
    """Whatever is worked out of a project is asked of the study, which remembers it for everybody."""
    called = set()
    for path in FILES:
        if "app" not in path.relative_to(SOURCE).parts:
            continue
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("stoutlink.core.analysis"):
                called |= {a.name for a in node.names if a.name[0].islower()}
    known = PROPOSALS | READERS
    assert called <= known, called - known  # a question is missing in the study
    assert known <= called, known - called


def test_what_only_drawings_need_is_loaded_with_a_drawing() -> None:
    """The start loads neither the reader and writer of drawings nor that of paper: a third of its time."""
    code = (
        "import sys, stoutlink.app.main; "
        "print([n for n in ('ezdxf', 'reportlab', 'scipy', 'serial.tools') if n in sys.modules])"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def test_every_painter_ends_whatever_happens() -> None:
    """One that is left open by a fault keeps the window from being painted: it is made in a ``with`` of its own."""
    made = [
        f"{path.name}: {line.strip()}"
        for path in (SOURCE / "app").rglob("*.py")
        for line in path.read_text(encoding="utf-8").splitlines()
        if "QPainter(" in line and not line.strip().startswith("with QPainter(")
    ]
    assert made == []

"""The start: something is shown at once, the size follows the system, and the window takes over."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from stoutlink.app.start import scale_of

START = [sys.executable, "-m", "stoutlink.app.start"]


def _stands(pid: int) -> bool:
    """Whether a process answers to being asked to end, which it does once its window stands."""
    caught = next(line for line in Path(f"/proc/{pid}/status").read_text().splitlines() if line.startswith("SigCgt"))
    return bool(int(caught.split()[1], 16) >> (signal.SIGTERM - 1) & 1)


def test_what_is_shown_first_needs_little(tmp_path: Path) -> None:
    """The small picture comes before what takes its time is loaded."""
    code = "import sys, stoutlink.app.start; print([n for n in ('numpy', 'stoutlink.core.study', 'stoutlink.app.main') if n in sys.modules])"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


@pytest.mark.parametrize(("points", "scale"), [(9.0, 1.0), (11.5, 1.0), (12.0, 1.2), (14.0, 1.4), (60.0, 2.5)])
def test_all_is_drawn_as_large_as_the_systems_text(points: float, scale: float) -> None:
    assert scale_of(points) == pytest.approx(scale)


def test_questions_that_need_no_window_are_answered_without(tmp_path: Path) -> None:
    for word in ("--version", "--help"):
        env = {**os.environ, "QT_QPA_PLATFORM": "none-such"}
        done = subprocess.run([*START, word], capture_output=True, text=True, env=env, check=True)
        assert "stout-link-app" in done.stdout


def test_a_whole_start_with_a_chosen_size_ends_well_and_remembers(tmp_path: Path) -> None:
    folder = tmp_path / "stout-link"
    folder.mkdir()
    (folder / "window.json").write_text(json.dumps({"scale": 1.25, "units": "mm"}))
    env = {**os.environ, "XDG_CONFIG_HOME": str(tmp_path), "QT_QPA_PLATFORM": "offscreen"}
    env.pop("QT_SCALE_FACTOR", None)
    running = subprocess.Popen(START, env=env, stderr=subprocess.PIPE, text=True)
    try:
        began = time.monotonic()
        while not _stands(running.pid) and running.poll() is None and time.monotonic() - began < 40:
            time.sleep(0.01)  # asked to end at the first moment it listens
        assert running.poll() is None
    finally:
        running.send_signal(signal.SIGTERM)
        _, said = running.communicate(timeout=20)
    assert running.returncode == 0
    assert "Traceback" not in said
    kept = json.loads((folder / "window.json").read_text())
    assert (kept["scale"], kept["units"]) == (1.25, "mm")

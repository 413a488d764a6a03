"""Once on a real X server: the application started as a process, its window found, a picture taken."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

DRIVE = """
import sys
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from stoutlink.app.main import make_app, make_window
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
app = make_app("dark")
assert app.platformName() == "xcb", app.platformName()
window = make_window(read_project(demo_file("basalt.stoutlink")), None, "dark")
window.resize(1280, 800)
window.show_step("layout")
window.show()
assert QTest.qWaitForWindowExposed(window)
views = window.sheet(LayoutSheet).views
start = views.handle_at(("lower_left", "frame"), "side")
before = window.workspace.project
QTest.mousePress(views, Qt.MouseButton.LeftButton, pos=start.toPoint())
for i in (10, 20, 30):
    QTest.mouseMove(views, (start + QPointF(i, -i / 2)).toPoint())
QTest.mouseRelease(views, Qt.MouseButton.LeftButton, pos=(start + QPointF(30, -15)).toPoint())
assert window.workspace.project != before
window.undo()
assert window.workspace.project == before
window.show_step("tape")
strip = window.sheet(TapeSheet).strip
strip.go(7, 1)
QTest.keyClicks(strip.editor, "23-5/8")
QTest.keyClick(strip.editor, Qt.Key.Key_Enter)
assert window.workspace.project.tape.surveys[0].points[7].height[0].text == "23-5/8"
assert window.sheet(TapeSheet).view.suspects() == set()
app.processEvents()
screen = window.screen().grabWindow(window.winId())
assert screen.width() >= 1000 and screen.save(sys.argv[1])
print("drawn")
"""


@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="no virtual X server on this machine")
def test_drag_and_tape_on_a_real_x_server(tmp_path: Path) -> None:
    read_end, write_end = os.pipe()
    command = ["Xvfb", "-displayfd", str(write_end), "-screen", "0", "1400x900x24", "-nolisten", "tcp"]
    with subprocess.Popen(command, pass_fds=[write_end], stderr=subprocess.DEVNULL) as server:
        os.close(write_end)
        try:
            with os.fdopen(read_end) as told:
                display = told.readline().strip()
            env = {**os.environ, "DISPLAY": f":{display}", "QT_QPA_PLATFORM": "xcb"}
            shot = tmp_path / "screen.png"
            done = subprocess.run(
                [sys.executable, "-c", DRIVE, str(shot)],
                env=env,
                capture_output=True,
                text=True,
                timeout=90,
                check=False,
            )
        finally:
            server.terminate()
    assert done.stdout.strip() == "drawn", done.stderr
    assert shot.stat().st_size > 20_000

"""The round view: pictures a second for both demo rigs with parts and beads, and against the other way to draw it, a painter
over the same triangles sorted by depth (which shows bodies that run into each other wrong).
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QImage, QPainter, QPolygonF

from stoutlink.app.main import make_app
from stoutlink.core.drawing.assembly import Assembly, at_ride
from stoutlink.core.drawing.round_paint import ON_PAPER, pixels
from stoutlink.core.drawing.round_view import Eye, Scene, fitted
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

WIDE, HIGH = 700, 520
TURNS = np.linspace(0.0, 2 * np.pi, 13)[:-1]


def by_painter(scene: Scene, eye: Eye) -> QImage:
    """The other way: faces that look here, the farthest first."""
    front = np.flatnonzero(scene.normals @ eye.ways[2] > 0.0)
    at = eye.onto(scene.mesh.points, WIDE, HIGH)[scene.mesh.triangles[front]]
    out = QImage(WIDE, HIGH, QImage.Format.Format_ARGB32_Premultiplied)
    out.fill(0)
    roles = [scene.things[k].role for k in scene.owner[front]]
    with QPainter(out) as p:
        for k in np.argsort(at[:, :, 2].mean(axis=1)):
            p.setBrush(QColor(*ON_PAPER[roles[k]]))
            p.drawPolygon(QPolygonF([QPointF(x, y) for x, y, _ in at[k]]))
    return out


def median_ms(task: Callable[[float], object]) -> float:
    """Of a look from each side, after one to warm up."""
    task(0.1)
    took = []
    for turn in TURNS:
        began = time.perf_counter()
        task(float(turn))
        took.append(time.perf_counter() - began)
    return 1000 * statistics.median(took)


def measure(name: str) -> None:
    """One demo rig."""
    study = Study(read_project(demo_file(f"{name}.stoutlink")))
    assembly, ride = Assembly(), at_ride(study)
    scene = assembly.scene(study, ride)
    eye = fitted(Eye(), scene.things, WIDE, HIGH)
    looked = median_ms(lambda turn: pixels(scene.look(eye.turned(turn, 0.0), WIDE, HIGH), frozenset(), ON_PAPER))
    painted = median_ms(lambda turn: by_painter(scene, eye.turned(turn, 0.0)))
    coarse = median_ms(lambda turn: pixels(scene.look(eye.turned(turn, 0.0), WIDE, HIGH, 0.5), frozenset(), ON_PAPER))
    travel = study.travel("rear")
    assert travel is not None
    row, column = travel.grid.ride

    def moved(turn: float) -> object:
        there = study.posed_in(travel, row, column + int(turn), 0.0)
        every = [p for p in (there, *ride[1:]) if p is not None]
        made = assembly.scene(study, every)
        return made.mesh, made.normals, made.owner

    rebuilt = median_ms(moved)
    print(
        f"{name:9s} {len(scene.things):4d} bodies {len(scene.mesh.triangles):6d} triangles: {looked:6.1f} ms a look, {1000 / looked:5.0f} a second "
        f"(wanted 30), {1000 / coarse:.0f} as it is turned on a slow machine; painter by depth {painted / looked:5.1f} x as long; another pose {rebuilt / looked:4.2f} x a look"
    )


if __name__ == "__main__":
    make_app("dark")
    for each in ("basalt", "tamarack"):
        measure(each)

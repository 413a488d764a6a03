"""Travel: the whole of both axles against one sweep of one axle, and a step of the scrub against a frame of a 60 Hz
screen. Ratios within one run.
"""

from __future__ import annotations

import time
from collections.abc import Callable

from PyQt6.QtWidgets import QApplication

from stoutlink.app.main import make_app, make_window
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.core.analysis.cycle.grid import axle_grid
from stoutlink.core.analysis.cycle.travel import axle_travel
from stoutlink.core.analysis.linkage.axle_motion import axle_motion
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.paths import with_value
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file

FRAME = 1.0 / 60.0


def best(what: Callable[[], object], times: int = 3) -> float:
    """Least of a few runs, s."""
    out = []
    for _ in range(times):
        start = time.perf_counter()
        what()
        out.append(time.perf_counter() - start)
    return min(out)


def main() -> None:
    """Print the ratios."""
    project = read_project(demo_file("basalt.stoutlink"))
    rig = effective_vehicle(project).rig
    layout = project.layout("rear")
    assert layout is not None

    def fresh(work: Callable[[], object]) -> Callable[[], object]:
        def run() -> object:
            axle_grid.cache_clear()
            return work()

        return run

    one = best(lambda: axle_motion.__wrapped__(rig, layout, project.linkage.joints, layout.droop_m, layout.bump_m))
    grid = best(fresh(lambda: axle_grid(rig, layout, project.linkage.joints, layout.droop_m, layout.bump_m)))
    deep = with_value(project, f"layouts.{layout.id}.links.upper_left.frame_pivot_m.2", -1.9).layout("rear")
    assert deep is not None
    binding = best(fresh(lambda: axle_grid(rig, deep, project.linkage.joints, layout.droop_m, layout.bump_m)), 2)
    print(f"travel: a layout of which most rows end, over one that goes all the way {binding / grid:.1f}")
    poses = best(fresh(lambda: [axle_travel(project, rig, end, touch=False) for end in ("rear", "front")]))
    whole = best(fresh(lambda: [axle_travel(project, rig, end) for end in ("rear", "front")]), 2)
    print(
        f"travel: 121 x 41 poses of one axle over one sweep of 121 {grid / one:.1f}; both axles with curves {poses / one:.1f}, with everything that touches {whole / one:.0f}"
    )
    print(f"travel: both axles, everything, over the 250 ms wanted {whole / 0.25:.1f}")

    app = make_app("dark")
    window = make_window(project, None, "dark")
    window.resize(1280, 800)
    window.show()
    window.show_step("travel")
    while window.sheet(TravelSheet).travel is None:
        app.processEvents()
    for look in ("touching", "curves", "springs"):
        window.sheet(TravelSheet).look(look)

        def scrub() -> None:
            for column in range(20, 80):
                window.sheet(TravelSheet).go_to(window.sheet(TravelSheet).row, column)
                QApplication.processEvents()

        print(f"travel: a step of the scrub with {look} open, over a frame of 1/60 s {best(scrub, 2) / 60 / FRAME:.2f}")
    window.close()


if __name__ == "__main__":
    main()

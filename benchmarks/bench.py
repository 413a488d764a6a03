"""Speed as ratios within one run: ``./run bench``.

Stations a second of the position solver, for one layout and for a batch, against scipy.optimize.root called
station by station on the same problem (default method, warm started from the station before, no Jacobian given);
then drag event to repainted window, all pairs of a large catalogue ranked, and start to first painted window.
"""

from __future__ import annotations

import datetime
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable

import msgspec
import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from scipy.optimize import root

from stoutlink.app.main import make_app, make_window
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.core.analysis.linkage.weld_order import best_order
from stoutlink.core.analysis.log.as_built import as_built
from stoutlink.core.analysis.log.built_model import BuiltPoints, model_of
from stoutlink.core.analysis.log.built_readings import built_observations
from stoutlink.core.analysis.log.hill import drive_hill, hill_rig
from stoutlink.core.analysis.plan.plan_sheet import plan_chance, plan_sheet
from stoutlink.core.analysis.swap.ladder import ladder
from stoutlink.core.analysis.swap.pick import rank_pairs
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.log import Hill
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.survey import Reading, Survey, SurveyPoint
from stoutlink.core.document.welding import OwnSeam, WeldPlan
from stoutlink.core.editing.edits import MovePivot
from stoutlink.core.editing.swap_edits import ImportDonors
from stoutlink.core.mechanics.adjustment import adjusted
from stoutlink.core.mechanics.hill_ground import hub_way
from stoutlink.core.mechanics.hill_statics import HillRig, drive_over
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.position import sweep
from stoutlink.core.reports.packet import packet_pdf
from stoutlink.core.storage.donor_table import read_donors, write_donors
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

Array = NDArray[np.float64]


def best(task: Callable[[], object], times: int) -> float:
    """Median seconds of a task after one warm-up."""
    task()
    took = []
    for _ in range(times):
        start = time.perf_counter()
        task()
        took.append(time.perf_counter() - start)
    return statistics.median(took)


def by_root(bars: Bars, stations: Array) -> Array:
    """The same heave sweep with scipy, station by station outward from ride."""
    local, frame, length, centre = bars.local, bars.frame, bars.length, bars.centre

    def gap(q: Array, heave: float) -> Array:
        cy, sy, cp, sp = np.cos(q[2]), np.sin(q[2]), np.cos(q[3]), np.sin(q[3])
        turn = np.array([[cy * cp, -sy, cy * sp], [sy * cp, cy, sy * sp], [-sp, 0.0, cp]])
        d = centre + np.array([q[0], q[1], heave]) + local @ turn.T - frame
        out: Array = np.sqrt((d * d).sum(axis=1)) - length
        return out

    found = np.zeros((len(stations), 4))
    for side in (np.flatnonzero(stations >= 0), np.flatnonzero(stations < 0)[::-1]):
        q = np.zeros(4)
        for i in side:
            q = root(gap, q, args=(stations[i],), tol=1e-11).x
            found[i] = q
    return found


def solver() -> None:
    """One sweep and one batch against scipy."""
    project = read_project(demo_file("basalt.stoutlink"))
    layout = project.layout("rear")
    assert layout is not None
    centre = (0.0, 0.0, project.rig.rear.loaded)
    frame, axle = np.array([x.frame_pivot_m for x in layout.links]), np.array([x.axle_pivot_m for x in layout.links])
    one = Bars.of(centre, frame, axle)
    fine, coarse = np.linspace(-0.15, 0.15, 121), np.linspace(-0.15, 0.15, 21)
    flat = np.zeros_like
    apart = np.abs(by_root(one, fine)[:, 0] - (sweep(one, fine, flat(fine)).x - centre[0])).max()
    rng = np.random.default_rng(7)
    many = Bars.of(
        centre, frame + rng.uniform(-0.04, 0.04, (10_000, 4, 3)), axle + rng.uniform(-0.04, 0.04, (10_000, 4, 3))
    )
    reached = sweep(many, coarse, flat(coarse)).reached.mean()
    rounds = []
    for _ in range(9):  # side by side, so that a machine that changes speed changes all three
        each = best(lambda: by_root(one, fine), 1) / 121
        rounds.append(
            (
                each,
                best(lambda: sweep(one, fine, flat(fine)), 25) / 121,
                best(lambda: sweep(many, coarse, flat(coarse)), 1) / 210_000,
            )
        )
    scipy_each, ours, batch = (statistics.median(v) for v in zip(*rounds, strict=True))
    sweep_ratio = statistics.median(r[0] / r[1] for r in rounds)
    batch_ratio = statistics.median(r[0] / r[2] for r in rounds)
    print(f"scipy.optimize.root      {1 / scipy_each:12,.0f} stations/s   (answers agree to {apart:.1e} m)")
    print(f"one sweep, 121 stations  {1 / ours:12,.0f} stations/s   {sweep_ratio:7.0f} x scipy   (wanted 100)")
    print(
        f"10,000 layouts x 21      {1 / batch:12,.0f} stations/s   {batch_ratio:7.0f} x scipy   (wanted 1500; {reached:.2%} reached)"
    )


def drag(project: Project) -> None:
    """From a pivot's mouse move to repainted views and numbers: with the nearest pair of the travel following the hand,
    and with nothing worked out beside."""
    app = make_app("dark")
    window = make_window(project, None, "dark")
    window.resize(1280, 800)
    window.show_step("layout")
    window.show()
    app.processEvents()
    views = window.sheet(LayoutSheet).views
    took: dict[str, list[float]] = {"pivots": [], "sideways": []}
    rooms = 0
    for _ in range(3):
        for look, times in took.items():
            window.sheet(LayoutSheet).look(look)
            app.processEvents()
            start = views.handle_at(("lower_left", "frame"), "side")
            assert start is not None
            QTest.mousePress(views, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start.toPoint())
            for i in range(40):
                target = (start + QPointF(i * 0.7 + 2, i * 0.4)).toPoint()
                before = time.perf_counter()
                QTest.mouseMove(views, target)
                app.processEvents()
                times.append(time.perf_counter() - before)
            QTest.mouseRelease(views, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start.toPoint())
            rooms += look == "pivots" and window.sheet(LayoutSheet).pivot_look.near.room is not None
            window.undo()
    moved = window.workspace.session.redo_label is not None
    window.workspace.session.mark_saved()
    window.close()
    on, off = (statistics.median(times) * 1000 for times in took.values())
    print(
        f"drag, nearest pair following {on:8.1f} ms median   (wanted 16; the pivot {'moved' if moved else 'DID NOT MOVE'}; told in {rooms} of 3)"
    )
    print(f"drag, nothing beside         {off:8.1f} ms median   following costs {on / off:.2f} x")


def tape(project: Project) -> None:
    """From a keystroke in the tape strip to the repainted sheet, in a short survey and in one of 500 stations."""
    app = make_app("dark")
    medians = []
    for stations in (12, 500):
        points = tuple(
            SurveyPoint(
                id=f"q{i}",
                station=_read(2.6 * i / stations),
                height=_read(0.6 + 0.1 * np.sin(8.0 * i / stations)),
                side=_read(0.84),
            )
            for i in range(stations)
        )
        window = make_window(with_parts(project, surveys=(Survey(id="s", name="s", points=points),)), None, "dark")
        window.resize(1280, 800)
        window.show_step("tape")
        window.show()
        app.processEvents()
        strip = window.sheet(TapeSheet).strip
        strip.go(stations // 2, 1)
        typed, taken = [], []
        for i in range(40):
            for key in ("2", "3", ".", str(i % 9)):
                before = time.perf_counter()
                QTest.keyClick(strip.editor, key)
                app.processEvents()
                typed.append(time.perf_counter() - before)
            before = time.perf_counter()
            strip.take()
            app.processEvents()
            taken.append(time.perf_counter() - before)
            strip.go(stations // 2, 1)
        medians.append((statistics.median(typed) * 1000, statistics.median(taken) * 1000))
        window.workspace.session.mark_saved()
        window.close()
    (short, short_taken), (long, long_taken) = medians
    print(
        f"keystroke in the tape    {long:12.1f} ms median with 500 stations, {long / short:.1f} x one with 12   (wanted 16)"
    )
    print(
        f"reading taken            {long_taken:12.1f} ms median with 500 stations, {long_taken / short_taken:.1f} x one with 12"
    )


def _read(value: float) -> tuple[Reading, ...]:
    return (Reading(value_m=float(value)),)


def ranking(project: Project) -> None:
    """All pairs of 500 front and 500 rear axles ranked, against the same demand worked out pair by pair with the
    ladder.
    """
    rng = np.random.default_rng(3)
    donors = []
    for end in ("front", "rear"):
        known = [d for d in project.swap.donors if d.end == end]
        for n in range(500):
            base = known[int(rng.integers(len(known)))]
            donors.append(
                msgspec.structs.replace(
                    base, id=f"{end}-{n}", price=float(rng.uniform(100, 4000)), spline_teeth=int(rng.integers(26, 42))
                )
            )
    text = write_donors(tuple(donors))
    imported = ImportDonors(read_donors(text).axles).apply(
        with_parts(project, donors=(), front_donor=None, rear_donor=None, entries=(), inspections=())
    )
    fronts, rears = ([d for d in imported.swap.donors if d.end == end] for end in ("front", "rear"))
    rig = effective_vehicle(imported).rig
    took = best(lambda: rank_pairs(imported, rig, fronts, rears), 3)
    one = (
        best(
            lambda: [ladder(rig, d, imported.plan(d.end), imported.swap.choosing) for d in (*fronts[:20], *rears[:20])],
            3,
        )
        / 40
    )
    pairs = len(fronts) * len(rears)
    print(
        f"500 x 500 pairs ranked   {took:12.2f} s, {one * 2 * pairs / took:.0f} x ladder by ladder, pair by pair   (wanted under 1 s)"
    )


def parts(project: Project) -> None:
    """All parts of plate made anew after a pivot was moved, against the layout's own motion."""
    layout = project.layout("rear")
    assert layout is not None
    link = layout.links[0]
    took, moves = [], []
    for i in range(12):
        x, y, z = link.frame_pivot_m
        moved = MovePivot(layout.id, link.id, "frame", (x + 1e-4 * (i + 1), y, z)).apply(project)
        study = Study(moved)
        _ = study.true, study.needs
        before = time.perf_counter()
        made = [study.parts(end) for end in ("front", "rear")]
        took.append(time.perf_counter() - before)
        before = time.perf_counter()
        study.motion("rear")
        moves.append(time.perf_counter() - before)
    count = sum(len(one) for one in made)
    each = statistics.median(took)
    print(
        f"{count} parts of plate made anew {each * 1000:9.1f} ms   {each / statistics.median(moves):5.2f} x the rear axle's motion   (wanted 50 ms)"
    )


def welds_and_paper(project: Project) -> None:
    """The order of 60 beads against laying them once, and the shop packet against the travel of both axles."""
    seams = tuple(
        OwnSeam(id=f"s{k}", name=f"S{k}", kind="truss", at_m=0.0, around_rad=around, length_m=30 * 0.0698)
        for k, around in enumerate((0.6, 5.7))
    )
    plan = WeldPlan(id="rear", span_m=3.0, seams=seams)
    whole = with_parts(project, welding=(plan,), made_parts=(), rear_layout=None)
    base = Study(whole).weld_base("rear")
    assert base is not None
    field = base.field
    assert field is not None
    order = best_order(field)
    each, once = best(lambda: best_order(field), 3), best(lambda: field.run(order), 5)
    print(
        f"order of {len(base.beads)} beads         {each * 1000:9.0f} ms   {each / once:5.1f} x laying them once   (wanted 1 s)"
    )
    before = time.perf_counter()
    study = Study(project)
    study.cycle()
    travel = time.perf_counter() - before
    before = time.perf_counter()
    data = packet_pdf(study, "rig", "2026-01-01", "A4")
    paper = time.perf_counter() - before
    assert data is not None
    print(
        f"shop packet, {len(data) // 1000} kB      {paper * 1000:9.0f} ms   {paper / travel:5.2f} x the travel of both axles   (wanted 2 s for 20 pages)"
    )


def plan_and_parts(project: Project) -> None:
    """A new schedule of all tasks against laying them once in a given order; 2,000 draws and the parts list against the schedule."""
    study = Study(project)
    tasks, build = study.tasks, project.build
    sheet = plan_sheet(tasks, build)
    today = datetime.date.fromisoformat(build.begin)
    study.parts_list_of(sheet, today)
    anew, once = best(lambda: plan_sheet(tasks, build), 5), best(lambda: plan_sheet(tasks, build, 0, sheet), 5)
    left = sum(not r.over for r in sheet.rows)
    print(
        f"schedule of {left} tasks    {anew * 1000:9.0f} ms   {anew / once:5.1f} x laying them in a given order   (wanted 100 ms for 120)"
    )
    draws = best(lambda: plan_chance(sheet), 3)
    moved = MovePivot("rear-a", "upper_left", "frame", (0.9, 0.42, 0.82)).apply(project)
    other = Study(moved)
    fresh, _ = plan_sheet(other.tasks, build), other.findings_so_far
    before = time.perf_counter()
    other.parts_list_of(fresh, today)
    lines = time.perf_counter() - before
    print(
        f"2,000 draws              {draws * 1000:9.0f} ms   {draws / anew:5.2f} x the schedule; parts list made anew {lines / anew:5.2f} x   (wanted 1 s)"
    )


def log(project: Project) -> None:
    """The hill at all its places together against one after the other; an axle as built against its fit alone."""
    study = Study(project)
    study.cycle()
    rig = hill_rig(project, study.true.rig, {end: study.travel(end) for end in ("front", "rear")}, study.locked)
    assert isinstance(rig, HillRig)
    hill = Hill(kind="ledge", high_m=0.3)
    whole = best(lambda: drive_hill(project, rig, hill), 3)
    found = drive_hill(project, rig, hill)
    way = tuple(hub_way(found.left, a.radius) for a in (rig.front, rig.front, rig.rear, rig.rear))
    some = found.run.at[:: max(1, len(found.run.at) // 20)]
    alone = best(lambda: [drive_over(rig, way, np.array([x])) for x in some], 1) / len(some)
    places = len(found.run.at)
    print(
        f"hill, {places} places         {whole * 1000:9.0f} ms   {alone * places / whole:5.1f} x faster than one after the other   (wanted 1 s for 300)"
    )
    layout = project.layout("rear")
    assert layout is not None
    built = best(lambda: as_built(project, study.true.rig, layout), 3)
    points = BuiltPoints(study.true.rig, layout)
    taken = built_observations(points, layout, project.log.built, None)
    model, read, sigma = model_of(points, taken), np.array([o.value for o in taken]), np.array([o.sigma for o in taken])
    fit = best(lambda: adjusted(model, points.start, read, sigma, np.full(len(points.free), 0.01)), 3)
    print(f"as built, {len(taken)} readings    {built * 1000:9.0f} ms   {built / fit:5.1f} x one fit of them")


def start_up() -> None:
    """Process start to first painted window, warm."""
    code = "import sys; from stoutlink.app.main import main; sys.exit(main(['--demo', '--shot', sys.argv[1]]))"
    took = []
    for _ in range(4):
        before = time.perf_counter()
        subprocess.run([sys.executable, "-c", code, os.devnull + ".png"], check=False, capture_output=True)
        took.append(time.perf_counter() - before)
    print(f"start, paint, exit       {statistics.median(took[1:]):12.2f} s    (wanted 1.5 to the first painted window)")


if __name__ == "__main__":
    solver()
    drag(read_project(demo_file("basalt.stoutlink")))
    parts(read_project(demo_file("basalt.stoutlink")))
    welds_and_paper(read_project(demo_file("basalt.stoutlink")))
    plan_and_parts(read_project(demo_file("basalt.stoutlink")))
    log(read_project(demo_file("basalt.stoutlink")))
    tape(read_project(demo_file("basalt.stoutlink")))
    ranking(read_project(demo_file("basalt.stoutlink")))
    start_up()

"""Papers read back as a stranger would, against the geometry of the project and nothing the papers' own code worked out."""

from __future__ import annotations

import csv
import io
import math
import re
from statistics import fmean

import numpy as np
import pytest
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from stoutlink.core.document.layout import Joint, Layout, Link, LinkEnd
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetChoice, SetNumber
from stoutlink.core.mechanics.linkage.bars import bar_stiffness
from stoutlink.core.quantity.length_text import parse_length
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.reports.results import results
from stoutlink.core.reports.shaft_sheet import shaft_rows, shaft_sheet
from stoutlink.core.reports.travel_csv import travel_csv
from stoutlink.core.study.study import Study

ENGAGE = {"steel": 1.5, "aluminium": 2.0}
"""Diameters of thread wanted in the tube's material: common practice."""


def table(project: Project) -> dict[tuple[str, str], dict[str, str]]:
    """The cut list by layout and link, read by the standard library."""
    rows = csv.DictReader(io.StringIO(cut_list_csv(Study(project).cuts, ())))
    return {(row["layout"], row["link"]): row for row in rows}


def links(project: Project) -> list[tuple[Layout, Link]]:
    return [
        (layout, link)
        for end in ("front", "rear")
        if (layout := project.layout(end)) is not None and layout.leaf is None
        for link in layout.links
    ]


def ends_of(project: Project, link: Link) -> list[tuple[LinkEnd, Joint]]:
    by_id = {one.id: one for one in project.linkage.joints}
    return [(end, by_id[end.joint]) for end in (link.frame_end, link.axle_end)]


def test_every_tube_is_as_long_as_its_pivots_ask(basalt: Project) -> None:
    """Pythagoras over both pivots, or what was read pin to pin, less what each joint takes up; the inches and the
    sixteenths are the same length.
    """
    rows = table(basalt)
    wanted = links(basalt)
    assert len(rows) == len(wanted) >= 8
    assert {bool(link.readings) for _, link in wanted} == {True, False}
    for layout, link in wanted:
        row = rows[layout.name, link.name]
        apart = math.dist(link.frame_pivot_m, link.axle_pivot_m)
        if link.readings:
            apart = fmean(r.value_m for r in link.readings)
        tube = apart - link.frame_end.take_up_m - link.axle_end.take_up_m
        assert float(row["centre_to_centre_m"]) == pytest.approx(apart, abs=6e-6)
        assert float(row["tube_cut_m"]) == pytest.approx(tube, abs=6e-6)
        assert float(row["tube_cut_in"]) * 0.0254 == pytest.approx(tube, abs=2e-6)
        assert parse_length(row["tube_cut_in_sixteenths"], "in") == pytest.approx(tube, abs=0.0254 / 32 + 1e-9)
        assert float(row["tube_bore_m"]) == pytest.approx(link.tube_od_m - 2 * link.tube_wall_m, abs=6e-6)
        assert (row["axle"], row["material"]) == (layout.end, link.material)


def test_longer_is_what_the_thread_can_come_out_and_shorter_what_it_can_go_in(basalt: Project) -> None:
    """Coming out leaves less thread engaged, so what makes the link *longer* is what is engaged beyond the need; going
    in ends at the jam nut. With a right- and a left-hand end the tube turns until the first end runs out.
    """
    rows = table(basalt)
    seen = set()
    for layout, link in links(basalt):
        row = rows[layout.name, link.name]
        ends = [(end, joint) for end, joint in ends_of(basalt, link) if joint.thread_diameter_m is not None]
        out, into = [], []
        for end, joint in ends:
            assert joint.thread_diameter_m is not None
            out.append(joint.shank_m - end.take_up_m - ENGAGE[link.material] * joint.thread_diameter_m)
            into.append(end.take_up_m - joint.neck_m - joint.jam_nut_m)
        if len(ends) == 2 and len({j.hand for _, j in ends}) == 2:
            pitches = [j.thread_pitch_m or 0.0 for _, j in ends]
            turns_out = min(o / p for o, p in zip(out, pitches, strict=True))
            turns_in = min(i / p for i, p in zip(into, pitches, strict=True))
            assert float(row["length_per_turn_m"]) == pytest.approx(sum(pitches), abs=1e-6)
            assert float(row["adjust_longer_m"]) == pytest.approx(turns_out * sum(pitches), abs=1e-5)
            assert float(row["adjust_shorter_m"]) == pytest.approx(turns_in * sum(pitches), abs=1e-5)
            assert abs(turns_out - turns_in) > 0.5, "a link that could not tell longer from shorter"
            assert row["turn"] == "turn the tube"
            seen.add("tube")
        elif ends:
            half = [(j.thread_pitch_m or 1.0) / 2 for _, j in ends]
            whole = sum(math.floor(o / h + 1e-9) * h for o, h in zip(out, half, strict=True))
            assert float(row["adjust_longer_m"]) == pytest.approx(whole, abs=1e-5)
            seen.add("half turns")
    assert "tube" in seen


def test_a_remark_says_when_it_does_not_go_together(basalt: Project) -> None:
    layout = basalt.layout("rear")
    assert layout is not None
    link = layout.links[0]
    joint = ends_of(basalt, link)[0][1]
    at = f"layouts.{layout.id}.links.{link.id}"
    assert table(basalt)[layout.name, link.name]["remark"] == ""
    far_out = SetNumber(f"{at}.frame_end.take_up_m", joint.shank_m - 0.005).apply(basalt)
    row = table(far_out)[layout.name, link.name]
    assert float(row["adjust_longer_m"]) < 0 < float(row["adjust_shorter_m"])
    assert row["remark"] == "thread runs out as set"
    assert float(row["frame_thread_engaged_m"]) == pytest.approx(0.005, abs=1e-6)
    far_in = SetNumber(f"{at}.frame_end.take_up_m", joint.neck_m + joint.jam_nut_m - 0.003).apply(basalt)
    row = table(far_in)[layout.name, link.name]
    assert float(row["adjust_shorter_m"]) < 0 < float(row["adjust_longer_m"])
    assert row["remark"] == "thread runs out as set"


def test_joints_in_series_give_with_the_least_work(basalt: Project) -> None:
    """A bar's misfit spreads over frame joint, tube and axle joint so that the work done is least (theorem of least
    work): found by search, held against what the over-constraint of a five-link says of each end.
    """
    k1, k2, tube, misfit = 4.0e6, 9.0e6, 3.1e8, 0.002
    found = least_squares(
        lambda d: [math.sqrt(k1) * d[0], math.sqrt(k2) * d[1], math.sqrt(tube) * (misfit - d[0] - d[1])],
        [0.0, 0.0],
        x_scale=1e-4,
        xtol=1e-15,
        ftol=1e-15,
        gtol=1e-15,
    )
    force = k1 * found.x[0]
    length, modulus = 0.9, 207e9
    k = bar_stiffness(k1, k2, length, tube * length / modulus, modulus)
    assert force == pytest.approx(k * misfit, rel=1e-6)
    assert found.x[0] == pytest.approx(k / k1 * misfit, rel=1e-6)
    assert found.x[1] == pytest.approx(k / k2 * misfit, rel=1e-6)
    # and by the energy: ½·k·misfit² is what is stored in all three together
    stored = 0.5 * (k1 * found.x[0] ** 2 + k2 * found.x[1] ** 2 + tube * (misfit - found.x.sum()) ** 2)
    assert stored == pytest.approx(0.5 * k * misfit**2, rel=1e-6)


def test_the_travel_table_is_where_the_links_put_the_axle(basalt: Project) -> None:
    """Stations of the table against poses solved by a general least-squares of the links' lengths: wheelbase change and
    side shift are where the centre went, pinion change is how the housing turned.
    """
    study = Study(basalt)
    travel = study.travel("rear")
    layout = basalt.layout("rear")
    assert travel is not None
    assert layout is not None
    rows = list(csv.DictReader(io.StringIO(travel_csv(travel).split("\n\n")[0])))
    over = [row for row in rows if row["over"] == "heave"]
    frame = np.array([link.frame_pivot_m for link in layout.links])
    axle = np.array([link.axle_pivot_m for link in layout.links])
    motion = study.axles["rear"].motion
    assert motion is not None
    centre = np.asarray(motion.centre)
    lengths = np.linalg.norm(frame - axle, axis=1)

    def pose(heave: float) -> np.ndarray:
        def off(u: np.ndarray) -> np.ndarray:
            at = centre + np.array([u[0], u[1], heave])
            turned = Rotation.from_euler("ZXY", [u[2], 0.0, u[3]]).apply(axle - centre)
            return np.asarray(np.linalg.norm(at + turned - frame, axis=1) - lengths)

        return np.asarray(least_squares(off, np.zeros(4), xtol=1e-14, ftol=1e-14, gtol=1e-14).x)

    checked = 0
    for row in over[:: max(1, len(over) // 7)]:
        if not row["pinion_up_deg"]:
            continue
        x, y, _, pitch = pose(float(row["heave_mm"]) / 1000)
        checked += 1
        assert float(row["wheelbase_mm"]) == pytest.approx(-x * 1000, abs=0.02), "longer as the rear axle goes back"
        assert float(row["side_shift_mm"]) == pytest.approx(y * 1000, abs=0.02)
        assert float(row["pinion_up_deg"]) - float(over[len(over) // 2]["pinion_up_deg"]) == pytest.approx(
            -math.degrees(pitch), abs=0.02
        )
    assert checked >= 5


def test_the_shaft_sheet_adds_up(basalt: Project) -> None:
    """Shortest, ride and longest lengths against each other and against the slip; angles within what was cycled; the
    same numbers whichever unit they are read in.
    """
    inch, metric = (Study(SetChoice("settings.units", unit).apply(basalt)) for unit in ("in", "mm"))

    def sheet(study: Study) -> dict[str, str]:
        travel = study.travel("front")
        assert travel is not None
        text = shaft_sheet(study.project, travel)
        rows = shaft_rows(study.project, travel)
        assert all(any(word in line and value in line for line in text.splitlines()) for word, value in rows)
        assert "Measured at ride height, before ordering" in text
        return dict(rows)

    one, two = sheet(inch), sheet(metric)

    def metres(text: str) -> list[float]:
        return [parse_length(x) for x in re.findall(r"[\d.]+ ?(?:″|mm)", text.replace("″", " in").replace(" in", "″"))]

    for rows in (one, two):
        ride = metres(rows["Length at ride, joint centre to joint centre"])[0]
        short, less = metres(rows["Shortest over the travel"])
        long, more = metres(rows["Longest over the travel"])
        slip = metres(rows["Slip it must have, without reserve"])[0]
        assert short < ride < long
        assert ride - short == pytest.approx(less, abs=2e-4)
        assert long - ride == pytest.approx(more, abs=2e-4)
        assert less + more == pytest.approx(slip, abs=2e-4)
    for word in ("Length at ride, joint centre to joint centre", "Slip it must have, without reserve"):
        assert metres(one[word])[0] == pytest.approx(metres(two[word])[0], abs=1e-4)
    ride_angles, largest = (
        [float(x) for x in re.findall(r"([\d.]+)°", one[word])]
        for word in ("Joint angles at ride, case to axle", "Largest joint angles over the travel")
    )
    assert all(a <= b + 0.05 for a, b in zip(ride_angles, largest, strict=True))


def test_what_halving_a_doubt_leaves_goes_by_the_squares(basalt: Project) -> None:
    """First-order propagation (GUM, JCGM 100): with a share s of the variance, halving that reading's σ leaves
    sqrt(1 − 3s/4) of the whole; the three named stand largest first and claim no more than all of it.
    """
    checked = 0
    for axle in results(Study(basalt))["axles"].values():
        for one in axle["uncertainty_from"].values():
            if one["method"] != "first order":
                continue
            shares = [part["share"] for part in one["parts"]]
            assert shares == sorted(shares, reverse=True)
            assert 0 < sum(shares) <= 1 + 1e-9
            for part in one["parts"]:
                assert part["if_halved"] == pytest.approx(math.sqrt(1 - 0.75 * part["share"]), rel=2e-3)
                assert part["better"]
                checked += 1
    assert checked >= 10

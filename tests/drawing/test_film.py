"""Films of the travel: every pose within the stops, one smooth round, read again by an image library."""

from __future__ import annotations

import io
import itertools
import math
import zipfile

import msgspec
import numpy as np
import pytest
from PIL import Image

from stoutlink.core.analysis.cycle.steer import steer_range
from stoutlink.core.drawing.on_hill import carried, ground_things, posed_on
from stoutlink.core.drawing.round_paint import ON_PAPER
from stoutlink.core.drawing.round_view import Eye
from stoutlink.core.reports.film import MOTIONS, Motion, frames_of, gif_bytes, hill_frames, png_zip, way_of
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

SIDE = Eye(turn=0.0, tilt=0.0)


@pytest.fixture(scope="module", params=["basalt", "tamarack"])
def study(request: pytest.FixtureRequest) -> Study:
    return Study(read_project(demo_file(f"{request.param}.stoutlink")))


@pytest.mark.parametrize("motion", list(MOTIONS))
@pytest.mark.parametrize("end", ["rear", "front"])
def test_every_pose_is_within_the_stops_and_one_follows_the_other(study: Study, motion: Motion, end: str) -> None:
    travel = study.travel(end)
    assert travel is not None
    g = travel.grid
    way = way_of(travel, motion, 48)
    assert all(g.within[r, c] for r, c, _ in way)
    heave = np.array([g.heave[c] for _, c, _ in way])
    roll = np.array([g.roll[r] for r, _, _ in way])
    steer = np.array([s for _, _, s in way])
    for one, span in ((heave, np.ptp(g.heave)), (roll, np.ptp(g.roll)), (steer, 2.0)):
        assert np.abs(np.diff(np.append(one, one[0]))).max() < 0.25 * span  # the last leads to the first
    level = g.heave[g.within[g.ride[0]]]
    if motion in ("travel", "heave"):
        assert heave.max() == pytest.approx(level.max(), abs=0.01)
        assert heave.min() == pytest.approx(level.min(), abs=0.01)
    else:
        assert not heave.any()
    assert (np.ptp(roll) > math.radians(4)) == (motion in ("travel", "roll"))
    assert (np.ptp(steer) > math.radians(20)) == (motion == "steer" and end == "front")
    donor = study.project.donor(end)
    if motion == "steer" and end == "front" and donor is not None:  # to the lock of this axle, no other
        steered = [s for _, _, s in way_of(travel, motion, 48, donor)]
        assert (min(steered), max(steered)) == pytest.approx(steer_range(travel.steer, donor), abs=0.02)
        less = msgspec.structs.replace(donor, steer_lock_rad=0.3)
        assert max(abs(s) for _, _, s in way_of(travel, motion, 48, less)) <= 0.3 + 1e-9


def test_frames_show_the_axle_move() -> None:
    study = Study(read_project(demo_file("basalt.stoutlink")))
    travel = study.travel("rear")
    assert travel is not None
    told: list[float] = []

    def tell(part: float) -> bool:
        told.append(part)
        return True

    frames = list(frames_of(study, [travel], "heave", SIDE, (240, 160), 8, tell))
    assert [f.shape for f in frames] == [(160, 240, 3)] * 8
    assert told == pytest.approx([k / 8 for k in range(8)])
    paper = np.array(ON_PAPER["sheet"])

    def lowest(frame: np.ndarray, part: slice) -> int:
        return int(np.flatnonzero((frame[:, part] != paper).any(axis=(1, 2)))[-1])

    rear, front = slice(0, 110), slice(140, 240)
    ride, up, down = frames[0], frames[2], frames[6]
    assert lowest(up, rear) < lowest(ride, rear) < lowest(down, rear)
    assert lowest(up, front) == lowest(ride, front) == lowest(down, front)
    stopped = list(frames_of(study, [travel], "heave", SIDE, (240, 160), 8, lambda part: part < 0.3))
    assert len(stopped) == 3


def test_gif_and_archive_are_read_again() -> None:
    rng = np.random.default_rng(3)
    colours = rng.integers(0, 255, (6, 3))
    frames = [colours[(np.arange(40 * 60).reshape(40, 60) // 150 + k) % 6].astype(np.uint8) for k in range(6)]
    film = Image.open(io.BytesIO(gif_bytes(frames, 80)))
    assert (film.format, film.size, film.n_frames, film.info["loop"]) == ("GIF", (60, 40), 6, 0)  # type: ignore[attr-defined]
    for k, frame in enumerate(frames):
        film.seek(k)
        assert film.info["duration"] == 80
        assert np.abs(np.asarray(film.convert("RGB"), dtype=int) - frame).max() < 12
    with zipfile.ZipFile(io.BytesIO(png_zip(frames))) as archive:
        assert archive.namelist() == [f"{k:03d}.png" for k in range(6)]
        for k, frame in enumerate(frames):
            assert (np.asarray(Image.open(io.BytesIO(archive.read(f"{k:03d}.png")))) == frame).all()


@pytest.fixture(scope="module")
def basalt() -> Study:
    return Study(read_project(demo_file("basalt.stoutlink")))


def test_on_the_hill_the_wheels_are_where_the_statics_have_them(basalt: Study) -> None:
    """The statics move each axle by its slopes at ride; here it is posed from its travel, and then carried with the body: hubs
    must come out in the same places."""
    found = basalt.hill()
    assert not isinstance(found, str)
    run = found.run
    travels = {end: basalt.travel(end) for end in ("front", "rear")}
    known = {end: one for end, one in travels.items() if one is not None}
    assert np.ptp(run.over[:, 1]) > 0.02
    seen = 0
    for k in np.flatnonzero(run.rests)[::11]:
        for posed in posed_on(basalt, known, run, int(k)):
            end, centre = posed.grid.layout.end, posed.grid.centre
            half = 0.5 * basalt.true.rig.end(end).track_m
            for n, side in ((0, 1.0), (1, -1.0)):
                hub = carried(posed.carry((centre[0], side * half, centre[2]))[None], run, int(k))[0]
                wheel = n + (0 if end == "front" else 2)
                assert hub[0] == pytest.approx(run.hub_along[k, wheel], abs=0.006)
                assert hub[2] == pytest.approx(run.hub_high[k, wheel], abs=0.006)
                seen += 1
    assert seen > 60


def test_ground_lies_under_both_sides(basalt: Study) -> None:
    found = basalt.hill()
    assert not isinstance(found, str)
    left, right = ground_things(found, 0.8)
    for thing, profile, side in ((left, found.left, 1.0), (right, found.right, -1.0)):
        assert thing.mesh.closed
        assert thing.mesh.volume > 0
        assert (side * thing.mesh.points[:, 1]).max() == pytest.approx(0.8 + 0.45)
        assert (side * thing.mesh.points[:, 1]).min() == pytest.approx(0.0)
        assert thing.mesh.points[:, 2].max() == pytest.approx(max(z for _, z in profile))


def test_the_film_goes_along_with_the_rig(basalt: Study) -> None:
    found = basalt.hill()
    assert not isinstance(found, str)
    frames = list(hill_frames(basalt, found, SIDE, (240, 160), 5))
    assert [f.shape for f in frames] == [(160, 240, 3)] * 5
    paper = np.array(ON_PAPER["sheet"])
    for frame in frames:  # the rig is in the middle of every one of them
        seen = np.flatnonzero((frame != paper).any(axis=2).any(axis=0))
        assert seen[0] < 60
        assert seen[-1] > 180
    assert any((a != b).any() for a, b in itertools.pairwise(frames))
    assert list(hill_frames(basalt, found, SIDE, (240, 160), 5, lambda part: False)) == []

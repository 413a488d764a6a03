"""A film of an axle's travel in the round, for showing to somebody: frames, as an animated GIF or a folder of PNGs."""

from __future__ import annotations

import io
import math
import zipfile
from collections.abc import Callable, Iterator, Sequence
from typing import Any, Literal

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.posed import Posed
from stoutlink.core.analysis.cycle.steer import steer_range
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.log.hill import HillFound
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.drawing.assembly import Assembly, at_ride
from stoutlink.core.drawing.on_hill import carried, ground_things, moved, posed_on
from stoutlink.core.drawing.round_paint import ON_PAPER, pixels
from stoutlink.core.drawing.round_view import Eye, Scene, fitted
from stoutlink.core.study.study import Study
from stoutlink.core.study.vehicle import ENDS

Motion = Literal["travel", "heave", "roll", "steer"]
OVER_HILL = "hill"
MOTIONS: dict[Motion, str] = {
    "travel": "Travel: bump, crossed, droop, crossed the other way",
    "heave": "Heave: from ride into bump, into droop, and back",
    "roll": "Roll: one side up, then the other",
    "steer": "Steer: lock to lock at ride height",
}
FRAMES, FRAME_MS = 48, 60
"""Frames of a film, and how long each stands, ms."""
Frame = NDArray[np.uint8]


def way_of(
    travel: AxleTravel, motion: Motion, frames: int, donor: DonorAxle | None = None
) -> tuple[tuple[int, int, float], ...]:
    """Row, column and steer (rad) of each frame: once round, so that the last leads to the first. Every pose lies within the
    stops of both sides; a front axle alone steers, to the lock of its ``donor``.
    """
    g = travel.grid
    i, j = g.ride
    out = []
    for k in range(frames):
        phase = 2.0 * math.pi * k / frames
        row, column, steer = i, j, 0.0
        if motion in ("travel", "heave"):
            part = math.cos(phase) if motion == "travel" else math.sin(phase)
            column = _column(travel, part)
        if motion in ("travel", "roll"):
            inside = np.flatnonzero(g.within[:, column])
            most = float(g.roll[inside].max()) if inside.size else 0.0
            row = int(np.abs(g.roll - math.sin(phase) * most).argmin())
        if motion == "steer" and g.layout.end == "front":
            low, high = steer_range(travel.steer, donor)
            steer = math.sin(phase) * (high if math.sin(phase) > 0 else -low)
        out.append((row, column, steer))
    return tuple((r, c, s) if g.within[r, c] else (i, j, s) for r, c, s in out)


def _column(travel: AxleTravel, part: float) -> int:
    """The station of heave at a part of bump (+) or droop (−), as far as it is reached level."""
    g = travel.grid
    level = g.heave[g.within[g.ride[0]]]
    wanted = part * (float(level.max()) if part > 0 else -float(level.min()))
    return int(np.abs(g.heave - wanted).argmin())


def frames_of(
    study: Study,
    travels: Sequence[AxleTravel],
    motion: Motion,
    eye: Eye,
    size: tuple[int, int],
    frames: int = FRAMES,
    going: Callable[[float], bool] = lambda part: True,
) -> Iterator[Frame]:
    """The frames, ``(high, wide, 3)`` each, of the axles in ``travels`` moving together; the others stand at ride. The eye
    keeps its direction and takes in all of the film. Ends early when ``going`` says no."""
    ends = [t.grid.layout.end for t in travels]
    others = [p for p in at_ride(study) if p.grid.layout.end not in ends]
    ways = [way_of(t, motion, frames, study.project.donor(t.grid.layout.end)) for t in travels]
    assembly = Assembly()

    def scene(k: int) -> Scene:
        moved = [study.posed_in(t, *way[k]) for t, way in zip(travels, ways, strict=True)]
        every: list[Posed] = [p for p in moved if p is not None] + others
        return assembly.scene(study, every)

    far = [scene(k) for k in sorted({0, frames // 4, frames // 2, 3 * frames // 4})]
    eye = fitted(eye, tuple(t for one in far for t in one.things), *size)
    wide, high = size
    for k in range(frames):
        if not going(k / frames):
            return
        fine = pixels(scene(k).look(eye, wide, high, 2), frozenset(), ON_PAPER)
        yield _on_paper(fine)


def hill_frames(
    study: Study,
    found: HillFound,
    eye: Eye,
    size: tuple[int, int],
    frames: int = FRAMES,
    going: Callable[[float], bool] = lambda part: True,
) -> Iterator[Frame]:
    """The rig over the test hill, every place of the run at which it rests being as likely to be seen; the eye goes along with
    it. Raises :class:`ValueError` for a run that nowhere rests; ends early when ``going`` says no."""
    run, travels = found.run, {end: study.travel(end) for end in ENDS}
    both: dict[str, AxleTravel] = {end: one for end, one in travels.items() if one is not None}
    rests = np.flatnonzero(run.rests)
    if len(both) < 2 or not rests.size:
        raise ValueError("the rig rests nowhere on this hill")
    far = np.linspace(run.at[rests[0]], run.at[rests[-1]], frames)
    places = [int(rests[np.abs(run.at[rests] - at).argmin()]) for at in far]
    ground = ground_things(found, 0.25 * (run.rig.front.track + run.rig.rear.track))
    assembly = Assembly()
    wide, high = size
    rig = assembly.scene(study, at_ride(study), welds=False)
    eye = fitted(eye, rig.things, wide, high)
    middle = np.array([eye.middle])
    for n, k in enumerate(places):
        if not going(n / frames):
            return
        things = moved(assembly.scene(study, posed_on(study, both, run, k), welds=False).things, run, k)
        x, _, z = carried(middle, run, k)[0]
        here = replace(eye, middle=(float(x), 0.0, float(z)))
        look = Scene(things + ground).look(here, wide, high, 2)
        yield _on_paper(pixels(look, frozenset(), ON_PAPER))


def _on_paper(fine: NDArray[np.uint32]) -> Frame:
    """Four pixels to one, over the paper."""
    high, wide = fine.shape
    seen = (fine >> 24 > 0)[..., None]
    rgb = np.stack([(fine >> s) & 255 for s in (16, 8, 0)], axis=-1)
    rgb = np.where(seen, rgb, np.array(ON_PAPER["sheet"], dtype=np.uint32))
    return np.asarray(rgb.reshape(high // 2, 2, wide // 2, 2, 3).mean(axis=(1, 3)).round().astype(np.uint8))


def gif_bytes(frames: Sequence[Frame], ms: int = FRAME_MS) -> bytes:
    """An animated GIF that runs on and on, on one palette (of frames all over it) so that nothing flickers."""
    images = [_image(f) for f in frames]
    some = np.concatenate([frames[k * len(frames) // 4] for k in range(4)])
    palette = _image(some).quantize(128, method=0, dither=0)
    flat = [one.quantize(palette=palette, dither=0) for one in images]
    out = io.BytesIO()
    flat[0].save(out, "GIF", save_all=True, append_images=flat[1:], duration=ms, loop=0, optimize=False, disposal=1)
    return out.getvalue()


def png_bytes(frame: Frame) -> bytes:
    """One frame as PNG."""
    out = io.BytesIO()
    _image(frame).save(out, "PNG")
    return out.getvalue()


def png_zip(frames: Sequence[Frame]) -> bytes:
    """Every frame as PNG in an archive, numbered."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        for k, one in enumerate(frames):
            archive.writestr(zipfile.ZipInfo(f"{k:03d}.png", (1980, 1, 1, 0, 0, 0)), png_bytes(one))
    return out.getvalue()


def _image(frame: Frame) -> Any:
    from PIL import Image  # noqa: PLC0415 - slow to load

    return Image.fromarray(frame)

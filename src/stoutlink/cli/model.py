"""``stout-link model`` and ``stout-link film``: the rig in the round as a file for CAD, and its travel as a film."""

from __future__ import annotations

import argparse
import math
from collections.abc import Callable
from pathlib import Path
from typing import Any

from stoutlink.core.analysis.cycle.posed import Posed
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.drawing.assembly import Assembly, at_ride
from stoutlink.core.drawing.round_view import Eye
from stoutlink.core.errors import FileError
from stoutlink.core.reports.film import FRAMES, MOTIONS, OVER_HILL, frames_of, gif_bytes, hill_frames, png_bytes
from stoutlink.core.reports.model_files import SUFFIXES, model_bytes
from stoutlink.core.storage.disk import write_bytes
from stoutlink.core.study.study import Study
from stoutlink.core.study.vehicle import ENDS

Open = Callable[[Path], Study]
LARGEST = 1600


def add_model(commands: Any, open_study: Open) -> None:
    """Both commands and their arguments."""
    one = commands.add_parser(
        "model", help="write rig, axles, links, parts and welds as bodies for a CAD program, in mm"
    )
    one.add_argument("file", type=Path)
    one.add_argument("out", type=Path, metavar=f"OUT{{{','.join(SUFFIXES)}}}")
    one.add_argument("--end", choices=ENDS, default="rear", help="the axle that is posed")
    one.add_argument("--pose", type=float, nargs=3, metavar=("HEAVE_MM", "ROLL_DEG", "STEER_DEG"), help="at a pose of its travel instead of ride; the nearest station is taken and said")  # fmt: skip
    one.add_argument("--no-parts", action="store_true", help="without parts of plate")
    one.add_argument("--no-welds", action="store_true", help="without beads")
    one.set_defaults(run=lambda args: _model(args, open_study))
    one = commands.add_parser("film", help="write the travel as an animated GIF, or a folder of PNGs")
    one.add_argument("file", type=Path)
    one.add_argument("out", type=Path, metavar="OUT.gif", help="without .gif: a folder")
    one.add_argument("--end", choices=(*ENDS, "both"), default="rear")
    one.add_argument("--of", choices=(*MOTIONS, OVER_HILL), default="travel")
    one.add_argument("--frames", type=int, default=FRAMES, metavar="N", help="4 to 400")
    one.add_argument("--size", default="640x420", metavar="WxH")
    one.add_argument("--eye", type=float, nargs=2, default=(-35.0, 22.0), metavar=("TURN", "TILT"), help="where it is seen from, degrees: 0 0 from the right, -90 0 from behind, 0 90 from above")  # fmt: skip
    one.set_defaults(run=lambda args: _film(args, open_study))


def _model(args: argparse.Namespace, open_study: Open) -> int:
    suffix = args.out.suffix.lower()
    if suffix not in SUFFIXES:
        raise FileError(
            "F153", f"A model is not written as “{args.out.name}”; accepted endings are {', '.join(SUFFIXES)}."
        )
    study = open_study(args.file)
    study.require("stance")
    posed, said = list(at_ride(study)), "at ride height"
    if args.pose is not None:
        one, said = _posed(study, args.end, *args.pose)
        posed = [one if p.grid.layout.end == args.end else p for p in posed]
    groups = Assembly().groups(study, posed, parts=not args.no_parts, welds=not args.no_welds)
    write_bytes(model_bytes(suffix, groups, posed, study.project.name), args.out)
    print(f"{sum(len(things) for _, things in groups)} bodies {said} written to {args.out}, in mm")
    return 0


def travel_of(study: Study, end: str) -> AxleTravel:
    """The travel of an axle. Raises :class:`~stoutlink.core.errors.FileError` where none is laid out."""
    travel = study.travel(end)
    if travel is None:
        raise FileError("F135", f"The project has no {end} layout in use, so there is no travel to cycle.")
    return travel


def _posed(study: Study, end: str, heave: float, roll: float, steer: float) -> tuple[Posed, str]:
    travel = travel_of(study, end)
    g = travel.grid
    row = int(abs(g.roll - math.radians(roll)).argmin())
    column = int(abs(g.heave - heave / 1000.0).argmin())
    if abs(steer) > 60 or (steer and end == "rear"):
        raise _no_pose(f"Steer {steer:g}° is out of range; accepted is within ±60° for the front axle, 0 for the rear.")
    posed = study.posed_in(travel, row, column, math.radians(steer)) if g.within[row, column] else None
    off = abs(g.heave[column] - heave / 1000.0) > 0.005 or abs(math.degrees(g.roll[row]) - roll) > 1.0
    if posed is None or off:
        low, high = g.limits
        raise _no_pose(f"The {end} axle does not get to {heave:g} mm and {roll:g}° of roll; its travel is {1000 * low:.0f} to {1000 * high:.0f} mm on each side.")  # fmt: skip
    return posed, f"at {1000 * g.heave[column]:.1f} mm of heave and {math.degrees(g.roll[row]):.1f}° of roll"


def _film(args: argparse.Namespace, open_study: Open) -> int:
    if not 4 <= args.frames <= 400:
        raise _no_film(f"--frames {args.frames} is out of range; accepted is 4 to 400.")
    wide, high = _size(args.size)
    _check_name(args.out)
    study = open_study(args.file)
    ends = ENDS if args.end == "both" else (args.end,)
    if args.of == "steer" and "front" not in ends:
        raise _no_film("--of steer with --end rear: the rear axle does not steer; accepted is --end front or both.")
    turn, tilt = (math.radians(v) for v in args.eye)
    eye = Eye(turn=turn, tilt=tilt)
    if args.of == OVER_HILL:
        found = study.hill()
        if isinstance(found, str) or not found.run.rests.any():
            raise _no_film(
                found if isinstance(found, str) else "The rig rests nowhere on this hill, so it cannot be filmed there."
            )
        made = hill_frames(study, found, eye, (wide, high), args.frames)
    else:
        travels = [travel_of(study, end) for end in ends]
        made = frames_of(study, travels, args.of, eye, (wide, high), args.frames)
    film = args.out.suffix.lower() == ".gif"
    if not film:
        _make_folder(args.out)  # before the work, which takes its time
    frames = list(made)
    if film:
        write_bytes(gif_bytes(frames), args.out)
    else:
        for k, one in enumerate(frames):
            write_bytes(png_bytes(one), args.out / f"{k:03d}.png")
    print(f"{len(frames)} frames written to {args.out}")
    return 0


def _check_name(out: Path) -> None:
    """Whether a film or a folder of single pictures can be called this; raises F155."""
    if out.suffix and out.suffix.lower() != ".gif" and not out.is_dir():
        raise _no_film(
            f"A film is not written as “{out.name}”; accepted are a name that ends in .gif, or a folder for single pictures, whose name has no ending."
        )


def _make_folder(out: Path) -> None:
    """A folder for single pictures; raises F155."""
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError:
        raise _no_film(
            f"{out} is no folder and cannot be made one; accepted are a folder that may be written to, or a name that ends in .gif."
        ) from None


def _no_pose(words: str) -> FileError:
    return FileError("F154", words)


def _no_film(words: str) -> FileError:
    return FileError("F155", words)


def _size(text: str) -> tuple[int, int]:
    parts = text.lower().split("x")
    if len(parts) != 2 or not all(p.isdigit() for p in parts) or not all(64 <= int(p) <= LARGEST for p in parts):
        raise _no_film(f"--size {text} is not a size; accepted is such as 640x420, each 64 to {LARGEST}.")
    return int(parts[0]), int(parts[1])

"""``./run endure``: all of it in its long form, several jobs at a time; prints figures, exits 1 on any fault.

``./run endure PART [--seed S] [--count N]`` does one job. What failed among bad files is written to ``endure-failing/``: the
smallest of them belong into ``tests/corpus``.
"""

from __future__ import annotations

import argparse
import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file

LONG: tuple[tuple[str, int, int], ...] = (
    ("days", 5, 20_000), ("kills", 5, 200), ("text", 1, 22), ("readers", 5, 2000), ("absurd", 5, 60), ("instruments", 5, 400), ("disk", 1, 1),
)  # fmt: skip
"""Part, seeds, and how many of its own for each seed; the longest first."""


def days(folder: Path, seed: int, count: int) -> tuple[str, list[str]]:
    """Random hands."""
    from tests.endure.long_days import MOST_GROWTH, Hands  # noqa: PLC0415 - a window

    long = count >= 2000
    day = Hands(seed, folder, tell=long).live(count, every=1000 if long else max(1, count // 2), looks=5 if long else 1)
    if day.growth > MOST_GROWTH:
        day.faults.append(f"memory grows by {day.growth:.1f} MB per 1,000 actions")
    peak = max((mb for _, mb in day.memory), default=0.0)
    went = " ".join(f"{mb:.0f}" for n, mb in day.memory if n % 2000 == 0)
    held = " ".join(f"{mb:.0f}" for n, mb in day.held if n % 2000 == 0)
    return (
        f"{day.actions} actions in {day.seconds:.0f} s, {day.undone} steps undone to the start, {day.compared} words held against a fresh "
        f"computation, {peak:.0f} MB at most ({went}), {day.growth:+.2f} MB per 1,000 actions in like states ({held})"
    ), day.faults


def kills(folder: Path, seed: int, count: int) -> tuple[str, list[str]]:
    """``SIGKILL``."""
    from tests.endure.kills import kill_often  # noqa: PLC0415

    out = kill_often(folder, seed, count)
    return (
        f"{out.kills} kills, {out.inside} of them inside a save, {out.saves} saves, {out.edits} edits, work offered {out.recovered} times, {out.worst_s:.2f} s of it lost at worst"
    ), out.faults


def text(folder: Path, seed: int, count: int) -> tuple[str, list[str]]:
    """Hostile texts through everything that is written."""
    from tests.endure.hostile_text import TEXTS, Written, write_everything  # noqa: PLC0415

    out = Written()
    for n, words in enumerate(TEXTS[:count]):
        for name in ("basalt", "tamarack"):
            write_everything(read_project(demo_file(f"{name}.stoutlink")), words, folder / f"{name} {n}", out)
    return (
        f"{out.texts} projects, {out.commands} commands, {out.files} files opened again, {out.cells} cells",
        out.faults,
    )


def readers(folder: Path, seed: int, count: int) -> tuple[str, list[str]]:
    """Bad files."""
    from tests.endure.bad_files import readers as every  # noqa: PLC0415
    from tests.endure.bad_files import try_reader  # noqa: PLC0415

    faults: list[str] = []
    said = []
    for reader in every(folder):
        out = try_reader(reader, folder, seed, count)
        said.append(f"{out.kind} {out.tried} ({out.read} read, slowest {out.slowest:.2f} s)")
        faults += out.faults
        for n, (data, _) in enumerate(out.failing):
            there = Path("endure-failing")
            there.mkdir(exist_ok=True)
            (there / f"{out.kind.replace(' ', '-')}-{seed}-{n}").write_bytes(data)
    return ", ".join(said), faults


def absurd(folder: Path, seed: int, count: int) -> tuple[str, list[str]]:
    """Numbers at the ends of their ranges."""
    from tests.endure.absurd import try_absurd  # noqa: PLC0415

    out = try_absurd(seed, count)
    return f"{out.projects} projects, {out.numbers} numbers, {out.refused} values refused on the way", out.faults


def instruments(folder: Path, seed: int, count: int) -> tuple[str, list[str]]:
    """Mad instruments."""
    from stoutlink.app.main import make_app, make_window  # noqa: PLC0415
    from tests.endure.mad_instruments import go_mad, odd_devices  # noqa: PLC0415

    app = make_app("dark")
    window = make_window(read_project(demo_file("basalt.stoutlink")), None, "dark")
    window.show()
    out = go_mad(window, seed, count)
    out.faults += odd_devices(folder)
    window.workspace.session.mark_saved()
    window.close()
    app.processEvents()
    return (
        f"{out.tried} instruments, {out.kept} readings kept, all true, {out.lost} lost; window held {out.longest_s:.3f} s at most"
    ), out.faults


def disk(folder: Path, seed: int, count: int) -> tuple[str, list[str]]:
    """A disk that refuses."""
    from tests.endure.refusing_disk import refuse_everything  # noqa: PLC0415

    out = refuse_everything(folder, read_project(demo_file("starter.stoutlink")))
    return f"{out.tried} writes, {out.refused} refused", out.faults


PARTS: dict[str, Callable[[Path, int, int], tuple[str, list[str]]]] = {
    "days": days, "kills": kills, "text": text, "readers": readers, "absurd": absurd, "instruments": instruments, "disk": disk,
}  # fmt: skip


def one_job(part: str, seed: int, count: int) -> int:
    """One job in this process: a line of JSON on the standard output."""
    with tempfile.TemporaryDirectory() as name:
        for key in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "HOME"):
            os.environ[key] = name
        words, faults = PARTS[part](Path(name), seed, count)
    print(json.dumps({"part": part, "seed": seed, "words": words, "faults": faults}), flush=True)
    return 1 if faults else 0


def _apart(job: tuple[str, int, int]) -> tuple[str, list[str]]:
    """One job in a process of its own."""
    part, seed, count = job
    began = time.monotonic()
    command = [sys.executable, "-m", "tests.endure", part, "--seed", str(seed), "--count", str(count)]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    try:
        said = json.loads(done.stdout.strip().splitlines()[-1])
        words, faults = said["words"], said["faults"]
    except (ValueError, IndexError, KeyError):
        words, faults = "ended", [f"exit {done.returncode}: {done.stderr[-2000:]}"]
    line = f"{part}, seed {seed}: {words} ({time.monotonic() - began:.0f} s): {len(faults)} faults"
    print("\n".join([line, *(f"    {one[:1500]}" for one in faults[:10])]), flush=True)
    return line, faults


def main() -> int:
    """All, or one job."""
    parser = argparse.ArgumentParser(prog="run endure", description=__doc__)
    parser.add_argument("part", nargs="?", choices=PARTS)
    parser.add_argument("--seed", type=int, default=None, help="of one job; without it all seeds")
    parser.add_argument("--count", type=int, default=None, help="of one job; without it the long form's")
    args = parser.parse_args()
    if args.part is not None and args.seed is not None:
        count = args.count or next(n for part, _, n in LONG if part == args.part)
        return one_job(args.part, args.seed, count)
    jobs = [
        (part, seed, args.count or count)
        for part, seeds, count in LONG
        for seed in range(1, seeds + 1)
        if args.part in (None, part)
    ]
    with ThreadPoolExecutor(os.cpu_count() or 1) as pool:
        out = list(pool.map(_apart, jobs))
    faults = sum(len(one) for _, one in out)
    print(f"{len(jobs)} jobs, {faults} faults")
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())

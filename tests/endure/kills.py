"""Killed at any moment: a program that edits, saves, autosaves, copies photos and writes archives as fast as it can is ended by
``SIGKILL`` over and over. Every file must open, be no older than the last completed save, keep its previous version, and nothing half
written may stay behind once somebody has saved again.
"""

from __future__ import annotations

import hashlib
import io
import os
import random
import select
import signal
import time
import traceback
import zipfile
from dataclasses import dataclass, field
from pathlib import Path

from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.main import make_app
from stoutlink.core.document.project import Project
from stoutlink.core.document.weight import WeightItem
from stoutlink.core.editing.edits import PutInList, SetChoice
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.disk import previous_of, write_bytes
from stoutlink.core.storage.files import read_project
from stoutlink.core.storage.lock import holder_of, lock_of
from stoutlink.core.storage.own_files import write_own
from stoutlink.core.storage.photos import add_photo, photo_folder
from stoutlink.core.storage.recovery import Recovery
from stoutlink.demo import demo_file

LOST_S = 2.5
"""Seconds of work that may be lost: two, and half a second for a machine that is busy."""


@dataclass
class Killed:
    """What came of it."""

    kills: int = 0
    saves: int = 0
    edits: int = 0
    inside: int = 0
    """Kills that came while a save was under way."""
    recovered: int = 0
    """Times that unsaved work was offered afterwards."""
    worst_s: float = 0.0
    """Seconds of work lost at worst."""
    faults: list[str] = field(default_factory=list)


def _work(folder: Path, tell: int, seed: int) -> None:
    """The program at work, until it is killed."""
    from PyQt6.QtCore import QTimer  # noqa: PLC0415

    rng = random.Random(seed)
    app = make_app("dark")
    path = folder / "rig.stoutlink"
    if path.exists():
        work = Workspace(read_project(path))
        work.open(path)
    else:
        work = Workspace(read_project(demo_file("starter.stoutlink")))
        work.save(path)
    number = _number(work.project)
    often = rng.choice(
        (0.0, 0.0, 0.02, 0.12)
    )  # some save all the time, some never: then only the autosave keeps anything

    def say(what: str) -> None:
        os.write(tell, f"{what} {number} {time.monotonic()}\n".encode())

    def step() -> None:
        nonlocal number
        for _ in range(rng.randrange(1, 4)):
            number += 1
            work.do(SetChoice("notes", f"{number}"))
            say("edit")
        if rng.random() < 0.1 and len(work.project.rig.weight.items) < 180:
            item = WeightItem(
                id=f"i{number}", name=f"Thing {number} " + "x" * 80, mass_kg=3.0, x_m=0.1, y_m=0.0, z_m=0.5
            )
            work.do(PutInList("rig.weight.items", item, "Add it"))
        kind = rng.random()
        if kind < often:
            say("saving")
            work.save(path)
            say("saved")
        elif kind < often + 0.02:
            photo = folder / f"take-{os.getpid()}.png"
            photo.write_bytes(b"\x89PNG\r\n\x1a\n" + rng.randbytes(rng.choice((1000, 400_000))))
            say("saving")
            add_photo(path, photo)
            photo.unlink()
        elif kind < often + 0.04:
            out = io.BytesIO()
            with zipfile.ZipFile(out, "w") as archive:
                archive.writestr("a/b.txt", rng.randbytes(300_000))
            say("saving")
            write_bytes(out.getvalue(), folder / "hand-over.zip")

    timer = QTimer()
    timer.timeout.connect(step)
    timer.start(12)
    app.exec()


def _number(project: Project) -> int:
    return int(project.notes) if project.notes.isdigit() else 0


def _born(folder: Path, seed: int) -> tuple[int, int]:
    """A process at work, and where it tells what it does."""
    here, there = os.pipe()
    child = os.fork()
    if child:
        os.close(there)
        return child, here
    try:
        os.close(here)
        quiet = os.open(os.devnull, os.O_WRONLY)
        os.dup2(quiet, 2)
        _work(folder, there, seed)
    except BaseException:
        os.write(there, f"broken {traceback.format_exc(limit=-5)!r}\n".encode())
    finally:
        os._exit(1)


def _killed(child: int, pipe: int, rng: random.Random) -> tuple[list[list[str]], float]:
    """Kill it at a moment by chance, often inside a save; what it told, and when it was killed."""
    text, until = b"", time.monotonic() + rng.uniform(0.3, 3.2)
    inside = rng.random() < 0.6
    while time.monotonic() < until + (2.0 if inside else 0.0):
        ready, _, _ = select.select([pipe], [], [], 0.02)
        if ready:
            new = os.read(pipe, 65536)
            if not new:
                break
            text += new
            if inside and time.monotonic() > until and b"saving" in new:
                time.sleep(rng.uniform(0, 0.05))
                break
    os.kill(child, signal.SIGKILL)
    when = time.monotonic()
    os.waitpid(child, 0)
    while more := os.read(pipe, 65536):
        text += more
    os.close(pipe)
    return [line.split(" ", 2) for line in text.decode().splitlines()], when


def _look(folder: Path, told: list[list[str]], when: float, out: Killed, saved: int) -> int:
    """What is on the disk after a kill; returns the number of the last completed save."""
    path = folder / "rig.stoutlink"
    done = [int(n) for what, n, *_ in told if what == "saved"]
    last = max([saved, *done])
    edits = [(int(n), float(t)) for what, n, t in told if what == "edit"]
    out.edits += len(edits)
    out.saves += len(done)
    out.inside += bool(told) and told[-1][0] == "saving"
    for line in told:
        if line[0] == "broken":
            out.faults.append(f"kill {out.kills}: {line}")
    if not path.exists():
        if saved or done:
            out.faults.append(f"kill {out.kills}: the file is gone")
        return last
    try:
        here = _number(read_project(path))
    except StoutError as why:
        out.faults.append(f"kill {out.kills}: {why}")
        return last
    if here < last:
        out.faults.append(f"kill {out.kills}: the file holds {here}, saved was {last}")
    if out.saves > 1:
        try:
            read_project(previous_of(path))
        except StoutError as why:
            out.faults.append(f"kill {out.kills}: previous version: {why}")
    kept = here
    for left in Recovery(folder / "state" / "stout-link" / "recovery").leftovers():
        kept = max(kept, _number(left.project))
        out.recovered += 1
        Recovery(folder / "state" / "stout-link" / "recovery").forget(left.kept)
    lost = [t for n, t in edits if n > kept]
    if lost:
        out.worst_s = max(out.worst_s, when - min(lost))
        if when - min(lost) > LOST_S:
            out.faults.append(f"kill {out.kills}: {when - min(lost):.1f} s of work lost")
    if photo_folder(path).is_dir():
        for photo in photo_folder(path).glob("*.png"):
            if hashlib.sha256(photo.read_bytes()).hexdigest() != photo.stem:
                out.faults.append(f"kill {out.kills}: photo torn")
    if (folder / "hand-over.zip").exists() and zipfile.ZipFile(folder / "hand-over.zip").testzip() is not None:
        out.faults.append(f"kill {out.kills}: archive torn")
    if holder_of(path) is not None:
        out.faults.append(f"kill {out.kills}: a gone process still has the file")
    return max(last, here)


def kill_often(folder: Path, seed: int, count: int) -> Killed:
    """So many kills of one program after another on the same files."""
    os.environ.update(
        XDG_STATE_HOME=str(folder / "state"), XDG_CONFIG_HOME=str(folder / "config"), QT_QPA_PLATFORM="offscreen"
    )
    out, rng, saved = Killed(), random.Random(seed), 0
    for n in range(count):
        child, pipe = _born(folder, seed * 100_000 + n)
        told, when = _killed(child, pipe, rng)
        out.kills += 1
        saved = _look(folder, told, when, out, saved)
        for taken in folder.glob("take-*.png"):  # the phone's, not the program's
            taken.unlink()
        if len(out.faults) > 20:
            break
    _after(folder, out)
    return out


def _after(folder: Path, out: Killed) -> None:
    """Somebody saves, keeps and copies once more: then nothing half written is left anywhere."""
    path = folder / "rig.stoutlink"
    project = read_project(path)
    write_bytes(path.read_bytes(), path, keep_previous=True)
    photo = folder / "take.png"
    photo.write_bytes(b"\x89PNG\r\n\x1a\n last")
    add_photo(path, photo)
    photo.unlink()
    recovery = Recovery(folder / "state" / "stout-link" / "recovery")
    recovery.keep(project, path)
    recovery.clear()
    recovery.leftovers()
    write_own(b"[]", folder / "state" / "stout-link" / "recent.json")  # as every save does
    left = [str(p.relative_to(folder)) for p in folder.rglob("*.part")]
    if left:
        out.faults.append(f"left behind: {len(left)} part files, {left[:3]}")
    notes = [p.name for p in (folder / "state" / "stout-link" / "recovery").glob("*.note")]
    if notes:
        out.faults.append(f"left behind: {len(notes)} notes without work, {notes[:3]}")
    known = {
        "rig.stoutlink",
        previous_of(path).name,
        "rig.photos",
        "hand-over.zip",
        "state",
        "config",
        lock_of(path).name,
    }
    odd = [p.name for p in folder.iterdir() if p.name not in known]
    if odd:
        out.faults.append(f"left behind: {odd}")

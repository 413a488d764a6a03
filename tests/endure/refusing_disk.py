"""A disk that refuses: at every single call to the system in turn, with every reason it may have. What was there before is there
still, whole, with its previous version; what is said is one sentence; nothing half written stays.
"""

from __future__ import annotations

import errno
import os
import resource
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import msgspec

from stoutlink.core.document.project import Project
from stoutlink.core.errors import FileError
from stoutlink.core.storage import disk
from stoutlink.core.storage.disk import previous_of, write_bytes
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.storage.lock import lock_of, release, take_lock
from stoutlink.core.storage.own_files import append_own, read_own, write_own
from stoutlink.core.storage.photos import add_photo, is_whole, photo_folder
from stoutlink.core.storage.recovery import Recovery

REASONS = (errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EIO, errno.EACCES, errno.EPERM)
CALLS = ("open", "fsync", "link", "replace", "chmod", "unlink", "fstat", "lstat", "access", "mkdir", "write", "scandir")
PHOTO = b"\x89PNG\r\n\x1a\n" + b"y" * 5000


@dataclass
class Refused:
    """What came of it."""

    tried: int = 0
    refused: int = 0
    faults: list[str] = field(default_factory=list)


@contextmanager
def refusing(nth: int, why: int) -> Iterator[list[int]]:
    """The nth call to the system that has to do with files fails; counts them."""
    seen, real = [0], {name: getattr(os, name) for name in CALLS}

    def wrap(name: str) -> Callable[..., Any]:
        def call(*args: Any, **more: Any) -> Any:
            seen[0] += 1
            if seen[0] == nth:
                raise OSError(why, os.strerror(why))
            return real[name](*args, **more)

        return call

    try:
        for name in CALLS:
            setattr(os, name, wrap(name))
        yield seen
    finally:
        for name, one in real.items():
            setattr(os, name, one)


@contextmanager
def quota(most: int) -> Iterator[None]:
    """No file of this process may be longer, as the kernel has it."""
    soft, hard = resource.getrlimit(resource.RLIMIT_FSIZE)
    resource.setrlimit(resource.RLIMIT_FSIZE, (most, hard))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, (soft, hard))


@dataclass(frozen=True)
class Deed:
    """Something that is written: how, and what must hold afterwards whether or not it was."""

    name: str
    do: Callable[[Path], object]
    holds: Callable[[Path, bool], str]
    """What is wrong then, given whether it was said to be done."""


def deeds(one: Project, two: Project) -> tuple[Deed, ...]:
    """Everything the program writes."""

    def project_holds(folder: Path, done: bool) -> str:
        path = folder / "rig.stoutlink"
        now, before = read_project(path), read_project(previous_of(path))
        if now != (two if done else one) and not (now == two and not done):
            return "another project stands there"
        if now == two and before not in (one,):
            return "the previous version is not the one before"
        return ""

    def photo_holds(folder: Path, done: bool) -> str:
        there = list(photo_folder(folder / "rig.stoutlink").glob("*.png"))
        return "a torn photo" if not all(is_whole(p) for p in there) or (done and len(there) != 1) else ""

    def recovery_holds(folder: Path, done: bool) -> str:
        kept = Recovery(folder / "state" / "recovery")
        found = list((folder / "state" / "recovery").glob("unsaved-*.json"))
        bad = kept.unreadable()
        return f"{bad}" if bad else "nothing is kept" if not found else ""

    def own_holds(folder: Path, done: bool) -> str:
        found = read_own(folder / "state" / "recent.json")
        return "" if found in ((b"[2]",) if done else (b"[1]", b"[2]")) else f"holds {found!r}"

    def keep(folder: Path) -> None:
        there = folder / "state" / "recovery"
        slot = Recovery(there)
        slot.slot = next(there / name for name in os.listdir(there) if name.endswith(".json"))
        slot.keep(two, None)

    def said(done: bool) -> None:
        if not done:
            raise FileError("F122", "It was not written.")

    return (
        Deed("project", lambda f: write_project(two, f / "rig.stoutlink"), project_holds),
        Deed("photo", lambda f: add_photo(f / "rig.stoutlink", f / "phone.png"), photo_holds),
        Deed("recovery", keep, recovery_holds),
        Deed("own file", lambda f: said(write_own(b"[2]", f / "state" / "recent.json")), own_holds),
        Deed("log", lambda f: said(append_own("x\n", f / "state" / "faults.log")), lambda f, d: ""),
        Deed("lock", lambda f: said(take_lock(f / "rig.stoutlink")), lambda f, d: ""),
        Deed("export", lambda f: write_bytes(b"two", f / "out.csv"), lambda f, d: "" if (f / "out.csv").read_bytes() in (b"one", b"two") else "torn"),
    )  # fmt: skip


def prepare(folder: Path, one: Project) -> None:
    """What was there before."""
    folder.mkdir(parents=True)
    zero = msgspec.structs.replace(one, name="zero")
    write_project(zero, folder / "rig.stoutlink")
    write_project(one, folder / "rig.stoutlink")
    (folder / "phone.png").write_bytes(PHOTO)
    (folder / "out.csv").write_bytes(b"one")
    write_own(b"[1]", folder / "state" / "recent.json")
    Recovery(folder / "state" / "recovery").keep(one, None)


def _try(deed: Deed, folder: Path, out: Refused, where: str) -> bool:
    """Whether it was done, by what was said."""
    done = True
    try:
        deed.do(folder)
    except FileError as why:
        done = False
        out.refused += 1
        if len(why.sentence) > 300 or "\n" in why.sentence or not why.sentence.endswith("."):
            out.faults.append(f"{where}: says {why.sentence!r}")
    except Exception as why:
        out.faults.append(f"{where}: {type(why).__name__}: {why}")
        done = False
    out.tried += 1
    return done


def _look(deed: Deed, folder: Path, out: Refused, where: str, done: bool) -> None:
    try:
        wrong = deed.holds(folder, done)
    except Exception as why:
        wrong = f"{type(why).__name__}: {why}"
    if wrong:
        out.faults.append(f"{where}: {wrong}")


def refuse_everything(folder: Path, project: Project, reasons: tuple[int, ...] = REASONS) -> Refused:
    """Every deed, with its every call refused in turn for each reason; then with a limit on how long a file may be."""
    out = Refused()
    one, two = (msgspec.structs.replace(project, name=n) for n in ("one", "two"))
    size = len(disk.read_bytes(_sized(folder, one)))
    for deed in deeds(one, two):
        for why in reasons:
            nth = 0
            while True:
                nth += 1
                here = folder / f"{deed.name} {why} {nth}"
                prepare(here, one)
                before = set(here.rglob("*.part"))
                where = f"{deed.name}, call {nth}, {errno.errorcode[why]}"
                with refusing(nth, why) as seen:
                    done = _try(deed, here, out, where)
                _look(deed, here, out, where, done)
                stray = set(here.rglob("*.part")) - before
                if stray and why not in (errno.EIO, errno.EROFS, errno.EACCES, errno.EPERM):
                    out.faults.append(f"{deed.name}, call {nth}: left {stray}")
                release(here / "rig.stoutlink")
                if lock_of(here / "rig.stoutlink").exists() and deed.name == "lock" and seen[0] < nth:
                    out.faults.append("the lock stays")
                if seen[0] < nth:
                    break
        for most in (0, 100, size // 2, size - 1):
            here = folder / f"{deed.name} quota {most}"
            prepare(here, one)
            where = f"{deed.name}, files of at most {most} bytes"
            with quota(most):
                done = _try(deed, here, out, where)
            _look(deed, here, out, where, done)
            if deed.name in ("project", "recovery") and done:
                out.faults.append(f"{deed.name}: the limit was not felt")
            if left := list(here.rglob("*.part")):
                out.faults.append(f"{deed.name}, quota {most}: left {left}")
    return out


def _sized(folder: Path, one: Project) -> Path:
    path = folder / "sized"
    write_project(one, path)
    return path

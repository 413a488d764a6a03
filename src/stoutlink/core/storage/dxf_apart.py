"""Reading a drawing in a process of its own, with a limit on its memory and time, that can be given up at once."""

from __future__ import annotations

import json
import os
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from stoutlink.core.errors import FileError

Flat = tuple[float, float]
MEMORY, SECONDS = 1_500_000_000, 15
ALONE = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "MALLOC_ARENA_MAX": "2"}
"""One thread is enough: a pool for every core would reserve more than the limit on a large machine before it begins."""


class DrawingReader:
    """Reads the closed outlines of a DXF drawing (see :func:`.dxf_outline.read_outlines`) beside whoever asks."""

    def __init__(self, path: Path, unit: str) -> None:
        self._path = path
        self._until = time.monotonic() + SECONDS
        self._said = tempfile.TemporaryFile("w+", encoding="utf-8")  # noqa: SIM115 - closed with the answer
        command = [sys.executable, "-m", "stoutlink.core.storage.dxf_outline", "--", str(path), unit]
        self._process = subprocess.Popen(
            command,
            stdout=self._said,
            stderr=subprocess.DEVNULL,
            stdin=subprocess.DEVNULL,
            env={**os.environ, **ALONE},
        )
        resource.prlimit(self._process.pid, resource.RLIMIT_AS, (MEMORY, MEMORY))

    def done(self) -> bool:
        """Whether it has ended, or has been at it for too long and is stopped."""
        if self._process.poll() is None and time.monotonic() > self._until:
            self.stop()
        return self._process.poll() is not None

    def stop(self) -> None:
        """Give it up."""
        self._process.kill()
        self._process.wait()

    def outlines(self) -> list[tuple[Flat, ...]]:
        """The outlines, m, once it is done; raises :class:`FileError` for what cannot be read."""
        self._process.wait()
        with self._said as said:
            said.seek(0)
            try:
                found = json.loads(said.read())
            except ValueError:
                raise FileError(
                    "F146",
                    f"{self._path.name} takes more than {SECONDS} s or {MEMORY / 1e9:.1f} GB to read.",
                    "Save the outline alone in a drawing of its own.",
                ) from None
        if "refused" in found:
            raise FileError(*found["refused"])
        return [tuple((x, y) for x, y in one) for one in found["outlines"]]

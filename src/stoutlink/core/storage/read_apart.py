"""Reading a foreign file in a process of its own, with a limit on its memory and time, that can be given up at once."""

from __future__ import annotations

import json
import os
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from stoutlink.core.errors import FileError

MEMORY = 1_500_000_000
ALONE = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "MALLOC_ARENA_MAX": "2"}
"""One thread is enough: a pool for every core would reserve more than the limit on a large machine before it begins."""


class ReadApart:
    """Runs ``module`` on a file beside whoever asks; it prints one JSON object, with ``refused`` (code, sentence, hint) for what cannot be read."""

    def __init__(self, module: str, path: Path, *words: str, seconds: int) -> None:
        self._path, self._seconds = path, seconds
        self._until = time.monotonic() + seconds
        self._said = tempfile.TemporaryFile("w+", encoding="utf-8")  # noqa: SIM115 - closed with the answer
        self._process = subprocess.Popen(
            [sys.executable, "-m", module, "--", str(path), *words],
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
        self._said.close()

    def answer(self, hint: str) -> dict[str, Any]:
        """What it said, once it is done; raises :class:`FileError` for what cannot be read, with a ``hint`` for what took too much."""
        self._process.wait()
        try:  # what was given up has closed its answer
            with self._said as said:
                said.seek(0)
                found: dict[str, Any] = json.loads(said.read())
        except ValueError:
            raise FileError(
                "F146", f"{self._path.name} takes more than {self._seconds} s or {MEMORY / 1e9:.1f} GB to read.", hint
            ) from None
        if "refused" in found:
            raise FileError(*found["refused"])
        return found

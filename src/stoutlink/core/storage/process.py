"""Which process something belongs to, so that another with the same number later is not taken for it."""

from __future__ import annotations

import contextlib
import hashlib
import os
import socket
from pathlib import Path

import msgspec

MOST_NUMBER = 2**31 - 1


class Owner(msgspec.Struct, frozen=True):
    """A process: the machine it runs on, its number, and when it began (text that only has to be the same again)."""

    host: str
    number: int
    began: str

    @property
    def runs(self) -> bool:
        """Whether that very process still runs. Of another machine nobody here can tell, so it is taken to run."""
        if self.host != socket.gethostname():
            return True
        return runs_here(self.number) and began(self.number) == self.began


def this_process() -> Owner:
    """The process that asks."""
    return Owner(socket.gethostname(), os.getpid(), began(os.getpid()))


def began(number: int) -> str:
    """When a process began, as the kernel counts, with the mark of this start of the machine; empty when unknown."""
    with contextlib.suppress(OSError, IndexError, ValueError):
        ticks = (
            Path(f"/proc/{number}/stat").read_text(encoding="ascii", errors="replace").rpartition(")")[2].split()[19]
        )
        return f"{Path('/proc/sys/kernel/random/boot_id').read_text(encoding='ascii').strip()} {ticks}"
    return ""


def runs_here(number: int) -> bool:
    """Whether a process with this number runs on this machine; any number at all may be asked about.

    >>> runs_here(os.getpid()), runs_here(10**30), runs_here(-1)
    (True, False, False)
    """
    if not 0 < number <= MOST_NUMBER:
        return False
    try:
        os.kill(number, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


def host_mark() -> str:
    """Four letters that stand for this machine in a file's name."""
    return hashlib.sha256(socket.gethostname().encode("utf-8", "replace")).hexdigest()[:4]

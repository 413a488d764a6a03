"""One step of a bench card, as the axle's record makes it: what is done, what is read, what must come before."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from stoutlink.core.document.bench import ReadingKind

Feeds = Literal["", "ratio", "weight"]
Shims = Literal["", "pinion", "ring"]


class CardStep(Struct, frozen=True):
    """A step by its ``key``. ``kind`` is what is read, ``least`` at how many places; ``needs`` are steps that must be done
    first; ``found`` is the state where it is known from elsewhere (``None``: ticked by hand), and ``where`` says from where.
    ``shims``: which shims, moved later, reopen it. ``feel``: it may be written down as done by feel.
    """

    key: str
    phase: str
    title: str
    why: str
    kind: ReadingKind | None = None
    least: int = 1
    unit: str = ""
    needs: tuple[str, ...] = ()
    tools: tuple[str, ...] = ()
    caution: str = ""
    found: bool | None = None
    where: str = ""
    feeds: Feeds = ""
    shims: Shims = ""
    feel: bool = False
    wants_window: bool = True
    window: tuple[float | None, float | None, float | None] = (None, None, None)
    """Least, most and spread that stand elsewhere in the project; else those of the card's own record are used."""
    source: str = ""

    @property
    def may_lack(self) -> bool:
        """Whether it can be said that this axle does not have it: never of a test, of what is known from elsewhere, or of
        closing."""
        return self.found is None and self.phase not in ("Locker", "Test") and self.key not in ("sealed", "oil")

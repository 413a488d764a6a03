"""What the rest of the project knows, from which tasks are made."""

from __future__ import annotations

from msgspec import Struct


class Piece(Struct, frozen=True):
    """A part of plate: how many, how thick (m), where it is welded, whether it is cut."""

    key: str
    name: str
    count: int
    thickness: float
    on_frame: bool
    cut: bool


class WeldGroup(Struct, frozen=True):
    """Seams of one thing on a housing: beads to lay, beads laid, beads only tacked."""

    key: str
    name: str
    beads: int
    laid: int
    tacked: int


class Bar(Struct, frozen=True):
    """A link: whether it is at hand already, and how far it has come."""

    key: str
    name: str
    role: str
    at_hand: bool
    stage: str
    needs: tuple[str, ...] = ()
    """Lines of the parts list it is made of."""


class AxleWork(Struct, frozen=True):
    """One axle that is worked on. ``hours`` by line of the cost list; ``lines`` of it that are bought (id, title); ``passed``
    steps of its bench card; ``links`` none for leaves."""

    end: str
    name: str
    stays: bool
    bought: bool
    leaf: bool
    links: tuple[Bar, ...]
    pieces: tuple[Piece, ...]
    welds: tuple[WeldGroup, ...]
    hours: dict[str, float]
    lines: tuple[tuple[str, str], ...]
    steps: tuple[str, ...]
    passed: frozenset[str]
    gears: bool
    locker: str


class RigWork(Struct, frozen=True):
    """The whole: axles, whether the front is steered and has a panhard, what the cards of brakes, steering and driveline have
    passed, places torqued of all, gates open, whether the frame is notched or plated."""

    axles: tuple[AxleWork, ...]
    steering: bool
    surveyed: bool
    passed: frozenset[str]
    """Card and step with a colon between: ``brakes:bleed``."""
    lines: tuple[str, ...]
    """Lines for both axles: wheels, tools, air."""
    bolts_open: int
    gates_open: int
    held: dict[str, str]
    """Tasks a gate holds, with why: nobody can call them done before it opens."""
    released: bool


def plate_key(thickness: float) -> str:
    """The line of the parts list of plate of a thickness, m.

    >>> plate_key(0.00635)
    'plate-6350'
    """
    return f"plate-{round(thickness * 1e6)}"

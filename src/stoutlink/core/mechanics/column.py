"""What a link tube carries: as a column, bent, across, and what its bolt carries. SI throughout."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.mechanics.shaft import SHEAR


class Section(Struct, frozen=True):
    """A round tube's section: area m², second moment m⁴, elastic and plastic section modulus m³, radius of gyration
    m, outer radius m.
    """

    area: float
    inertia: float
    elastic: float
    plastic: float
    gyration: float
    outer: float


def round_section(outside: float, wall: float) -> Section:
    """Section of a tube, or of a solid bar when the wall is half the outside; m. Raises ``ValueError`` for a wall
    that does not fit.

    Source: AISC, properties of round hollow sections: Z plastic = (D³ − d³)/6.

    >>> s = round_section(0.05, 0.025); round(s.area * 1e4, 4), round(s.gyration * 1e3, 3)
    (19.635, 12.5)
    """
    inside = outside - 2.0 * wall
    if not -1e-12 <= inside < outside:
        raise ValueError("the wall must be positive and at most half the outside diameter")
    inside = max(0.0, inside)
    area = math.pi / 4 * (outside**2 - inside**2)
    inertia = math.pi / 64 * (outside**4 - inside**4)
    return Section(
        area, inertia, 2 * inertia / outside, (outside**3 - inside**3) / 6, math.sqrt(inertia / area), outside / 2
    )


def column_load(section: Section, length: float, strength: float, modulus: float, bend: float = 0.0) -> float:
    """Compression at which a pinned column gives way, N.

    λ = L/k against λ_t = sqrt(2π²E/S_y): above it Euler π²EI/L², up to it Johnson A·[S_y − (S_y·λ/2π)²/E]; both give
    A·S_y/2 at λ_t. With a ``bend`` e (m, the middle off the line of the pivots) the secant formula S_y = P/A·[1 +
    (e·c/k²)·sec(L/(2k)·sqrt(P/(E·A)))] as well, the lesser of both. Raises ``ValueError`` unless length, strength and
    modulus are positive. Source: Shigley's Mechanical Engineering Design, ch. 4 (Euler, Johnson, secant formula).
    ``section`` of the tube.

    >>> round(column_load(round_section(0.05, 0.006), 1.0, 350e6, 207e9) / 1e3, 1)
    239.8
    """
    if min(length, strength, modulus) <= 0 or bend < 0:
        raise ValueError("length, strength and modulus must be positive, a bend not negative")
    slender = length / section.gyration
    turn = math.sqrt(2 * math.pi**2 * modulus / strength)
    euler = math.pi**2 * modulus * section.inertia / length**2
    straight = (
        euler if slender > turn else section.area * (strength - (strength * slender / (2 * math.pi)) ** 2 / modulus)
    )
    if bend == 0.0:
        return straight
    low, high = 0.0, min(euler, section.area * strength)
    for _ in range(80):
        load = 0.5 * (low + high)
        angle = slender / 2 * math.sqrt(load / (modulus * section.area))
        stress = (
            math.inf
            if angle >= math.pi / 2
            else load / section.area * (1 + bend * section.outer / section.gyration**2 / math.cos(angle))
        )
        low, high = (load, high) if stress < strength else (low, load)
    return min(straight, low)


def strike_load(section: Section, length: float, strength: float, *, plastic: bool = False) -> float:
    """Force across the middle of a link at which it stays bent, N: 4·S_y·Z/L; ``plastic`` with the plastic modulus.

    Source: simply supported beam with a load in its middle, M = P·L/4 (Shigley). ``section`` of the tube, ``length``
    between pivots m, yield ``strength`` Pa.

    >>> round(strike_load(round_section(0.05, 0.006), 1.0, 350e6) / 1e3, 2)
    11.45
    """
    return 4.0 * strength * (section.plastic if plastic else section.elastic) / length


def bolt_double_shear(diameter: float, strength: float) -> float:
    """Load on a bolt across two planes at shear yield of its plain shank, N: 2·A·0.577·S_y. Source: Shigley, bolted
    joints in shear.

    ``diameter`` of the shank m, yield ``strength`` Pa.

    >>> round(bolt_double_shear(0.016, 640e6) / 1e3, 1)
    148.5
    """
    return 2.0 * math.pi / 4 * diameter**2 * SHEAR * strength


def tab_load(thickness: float, bolt: float, edge: float | None, strength: float) -> float:
    """Load two tabs carry at the bolt, N: bearing 2·t·d·S_y, and where the hole's distance to the edge is known
    tearing out of four planes, 4·t·(e − d/2)·0.577·S_y, the lesser. Source: Shigley, bearing and edge shearing of
    bolted members.

    ``thickness`` of one tab m, yield ``strength`` Pa.

    >>> round(tab_load(0.006, 0.016, None, 250e6), 1)
    48000.0
    """
    bearing = 2.0 * thickness * bolt * strength
    if edge is None:
        return bearing
    return min(bearing, 4.0 * thickness * max(0.0, edge - bolt / 2) * SHEAR * strength)

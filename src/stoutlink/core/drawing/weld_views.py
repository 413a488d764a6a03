"""The skin of a housing unrolled, with its beads: across it the housing seen from behind, left to the left; down it round
the tube, from the top over front, bottom and rear back to the top.
"""

from __future__ import annotations

import math

from stoutlink.core.analysis.linkage.weld_run import Run
from stoutlink.core.analysis.linkage.weld_seams import QUARTERS, Bead, Housing
from stoutlink.core.drawing.shapes import Flat, Line, Note, Shape, Text, box

TURN = 2.0 * math.pi
NEAR = 0.03
"""Beads across nearer than this, m, have their numbers on either side."""
CUT = 0.25 * math.pi
"""The skin is slit this far before its top, so that each quarter stays whole."""


def down(around: float) -> float:
    """How far down the unrolled skin a place round the tube lies, 0 to 1.

    >>> [round(down(math.radians(v)), 3) for v in (0, 90, 180, 270, 314.9)]
    [0.125, 0.375, 0.625, 0.875, 1.0]
    """
    return ((around + CUT) % TURN) / TURN


def bead_strokes(bead: Bead, od: float) -> tuple[tuple[Flat, Flat], ...]:
    """A bead on the unrolled skin: (across, m, to the right; down, 0 to 1); one that crosses the slit is in two."""
    if bead.seam.runs == "along":
        at = down(bead.around)
        return (((-bead.ends, at), (-bead.begins, at)),)
    share = min(bead.length / (math.pi * od), 1.0)
    low = down(bead.around) - 0.5 * share
    out = []
    for shift in (-1.0, 0.0, 1.0):
        a, b = max(0.0, low + shift), min(1.0, low + share + shift)
        if b > a + 1e-9:
            out.append(((-bead.at, a), (-bead.at, b)))
    return tuple(out)


def skin_sheet(run: Run, housing: Housing, high: float) -> list[Shape]:
    """The skin with every bead and its number in the order, ``high`` m for once round, for paper."""
    out: list[Shape] = [box((-housing.left, -high), (-housing.right, 0.0), "cut")]
    out.append(box((-housing.inner_left, -high), (-housing.inner_right, 0.0), "solid"))
    for k, word in enumerate(QUARTERS):
        out.append(Text((-housing.left - 0.01, -high * (k + 0.6) / 4), word, 0.022, "mark", "right"))
        if k:
            y = -high * k / 4
            out.append(Line(((-housing.left, y), (-housing.right, y)), "construction"))
    across = {-step.bead.at for step in run.steps if step.bead.seam.runs == "across"}
    for number, step in enumerate(run.steps, 1):
        strokes = bead_strokes(step.bead, housing.od)
        out += [Line(((a[0], -high * a[1]), (b[0], -high * b[1])), "link_upper") for a, b in strokes]
        (x0, y0), (x1, y1) = strokes[0]
        beside = step.bead.seam.runs == "across" and any(0.0 < at - x0 < NEAR for at in across)
        place = (0.5 * (x0 + x1) + (-0.004 if beside else 0.004), -high * 0.5 * (y0 + y1) + 0.003)
        out.append(Text(place, str(number), 0.016, "dimension", "right" if beside else "left"))
    out.append(Note((-housing.left, 0.006), "left end", "dimension"))
    return out

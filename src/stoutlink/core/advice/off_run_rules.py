"""Heights and widths off the run of the frame: a slip of unit, half for whole, or something to measure again."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from msgspec import Struct

from stoutlink.core.advice.finding import Severity
from stoutlink.core.advice.survey_words import Found, as_read, by_much, label, make
from stoutlink.core.analysis.survey.survey_points import Placed, rail_run
from stoutlink.core.document.survey import Survey
from stoutlink.core.mechanics.smooth_run import spikes
from stoutlink.core.quantity.length_text import UnitSystem

SAME_PLACE = 0.004
"""Two stations nearer than this, m, are the same station."""
FACTORS = (
    (25.4, "looks like inches read as millimetres"), (1 / 25.4, "looks like millimetres read as inches"), (10.0, "looks like centimetres read as millimetres"),
    (0.1, "looks like millimetres read as centimetres"), (12.0, "looks like feet read as inches"), (1 / 2.54, "looks like centimetres read as inches"),
)  # fmt: skip
GROSS = 6.0
"""A reading this many times larger or smaller than its neighbours is not a mark in the frame."""
NEAR = 0.12
"""A slip of units or of half and full is named when it brings the reading this near (as a part) to what the others
say.
"""


def _slip(value: float, wanted: float) -> str:
    """Which slip of units turns a reading into what the others say, or nothing."""
    if value == 0 or wanted == 0:
        return ""
    best = min(FACTORS, key=lambda f: abs(value * f[0] / wanted - 1.0))
    return best[1] if abs(value * best[0] / wanted - 1.0) < NEAR else ""


def smooth_run_findings(
    survey: Survey, placed: tuple[Placed, ...], wheelbase: float, unit: UnitSystem
) -> Iterator[Found]:
    """Heights and widths off the run of the frame, on either side."""
    done: set[tuple[str, str]] = set()
    for side in (1.0, -1.0):
        run = strict_run(rail_run(placed, side))
        yield from _off_run(
            survey,
            run,
            "height",
            [p.read.height.centre if p.read.height else 0.0 for p in run],
            [p.sigma[2] for p in run],
            unit,
            done,
        )
        wide = [p for p in run if p.read.half is not None and p.point.across != "middle"]
        yield from _off_run(
            survey,
            wide,
            "width",
            [abs(p.read.half.centre) if p.read.half else 0.0 for p in wide],
            [p.sigma[1] for p in wide],
            unit,
            done,
        )


def strict_run(run: tuple[Placed, ...]) -> list[Placed]:
    """The run without points at the same station as the one before (duplicates have a finding of their own)."""
    out: list[Placed] = []
    for one in run:
        if not out or one.x - out[-1].x > SAME_PLACE:
            out.append(one)
    return out


class _Off(Struct, frozen=True):
    """A height or width that is off the run of its neighbours, as read and as the run has it (m, as it was taped)."""

    survey: Survey
    one: Placed
    what: str
    read: float
    wanted: float
    worth: float
    unit: UnitSystem

    @property
    def name(self) -> str:
        """What it is called on the tape."""
        return self.what if self.what == "height" else ("spread" if self.one.point.across == "full" else "offset")

    @property
    def said(self) -> str:
        return f"The {self.name} of {label(self.one.point, self.unit)}"

    def found(self, code: str, severity: Severity, sentence: str, advice: str, worth: float | None = None) -> Found:
        worth = self.worth if worth is None else worth
        return make(code, severity, sentence, advice, self.survey, (self.one.point.id,), self.name, worth)


def _gross(off: _Off) -> Found:
    """A reading many times larger or smaller than its neighbours."""
    read, wanted, unit = off.read, off.wanted, off.unit
    factor, words = min(FACTORS, key=lambda f: abs(math.log(abs(read * f[0] / wanted))))
    slip = abs(math.log(abs(read * factor / wanted))) < 0.5
    tail = f": it {words}" if slip else ""
    again = f"It would be {as_read(read * factor, unit)}. " if slip else ""
    return off.found(
        "S106",
        "danger",
        f"{off.said}, {as_read(read, unit)}, does not go with its neighbours, about {as_read(wanted, unit)}{tail}.",
        f"{again}Measure that {off.name} again first.",
        400.0,
    )


def _off_by_slip(off: _Off) -> Found | None:
    """A slip of the pen or of the unit explains it."""
    slip = _slip(off.read, off.wanted)
    if not slip:
        return None
    wanted = as_read(off.wanted, off.unit)
    return off.found(
        "S106",
        "danger",
        f"{off.said}, {as_read(off.read, off.unit)}, does not go with its neighbours: it {slip}.",
        f"The run of the frame there is about {wanted}. Measure that {off.name} again first.",
        max(off.worth, 100.0),
    )


def _off_by_half(off: _Off) -> Found | None:
    """Half the width for the whole, or the other way round."""
    part = off.read / off.wanted
    if off.what != "width" or not (abs(part - 2.0) < 2 * NEAR or abs(part - 0.5) < NEAR / 2):
        return None
    half, wanted = off.read < off.wanted, as_read(off.wanted, off.unit)
    how = "an offset from the centreline entered as full width" if half else "a full width entered as one side"
    return off.found(
        "S107",
        "danger",
        f"{off.said}, {as_read(off.read, off.unit)}, is {'half' if half else 'twice'} its neighbours': {how}.",
        f"The run there is about {wanted}. Say whether it is full or half, or measure it again first.",
        max(off.worth, 100.0),
    )


def _off_the_run(off: _Off) -> Found:
    """Nothing explains it but the reading, or the frame."""
    gap, wanted = off.read - off.wanted, as_read(off.wanted, off.unit)
    side = ("above", "below") if off.what == "height" else ("wider than", "narrower than")
    return off.found(
        "S103",
        "warn",
        f"{off.said}, {as_read(off.read, off.unit)}, is about {by_much(gap, off.unit)} {side[gap <= 0]} the run of the frame.",
        f"Its neighbours say about {wanted}. Measure that {off.name} again first; if it is right, the frame has a mark there.",
    )


def _off_run(
    survey: Survey,
    run: list[Placed],
    what: str,
    values: list[float],
    sigma: list[float],
    unit: UnitSystem,
    done: set[tuple[str, str]],
) -> Iterator[Found]:
    """First what is senseless beside its neighbours, which would spoil the run; then what lies off the run."""
    run, values, sigma = list(run), list(values), list(sigma)

    def off(one: Placed, wanted: float | None, gap: float, worth: float) -> _Off:
        factor = 2.0 if what == "width" and one.point.across == "full" else 1.0
        read = (one.point.side if what == "width" else one.point.height)[0].value_m
        return _Off(survey, one, what, read, read - factor * gap if wanted is None else factor * wanted, worth, unit)

    for i in reversed(range(len(run))):
        others = values[max(0, i - 3) : i] + values[i + 1 : i + 4]
        middle = sorted(others)[len(others) // 2] if len(others) >= 2 else 0.0
        if middle and values[i] and not 1 / GROSS < values[i] / middle < GROSS:
            done.add((run[i].point.id, what))
            yield _gross(off(run[i], middle, 0.0, 400.0))
            del run[i], values[i], sigma[i]
    for spike in spikes(np.array([p.x for p in run]), np.array(values), np.array(sigma)):
        one = run[spike.index]
        if (one.point.id, what) in done:
            continue
        done.add((one.point.id, what))
        found = off(one, None, spike.off, abs(spike.off) / sigma[spike.index])
        yield _off_by_slip(found) or _off_by_half(found) or _off_the_run(found)

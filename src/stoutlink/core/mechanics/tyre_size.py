"""Printed tyre sizes: flotation ``37x12.50R17`` and metric ``315/70R17``.

Size arithmetic in the manner of the tyre and rim associations (common practice): a metric size gives section width in
mm, aspect ratio in %, rim in inches; a flotation size gives overall diameter, section width and rim in inches.
"""

from __future__ import annotations

import re
from functools import lru_cache

from msgspec import Struct

from stoutlink.core.quantity.constants import INCH

_FLOTATION = re.compile(
    r"(?:LT)?\s*(\d{2}(?:\.\d{1,2})?)\s*[X×*]\s*(\d{1,2}(?:\.\d{1,2})?)\s*(?:-|/|\s)?\s*(?:Z?R|B|D|-)?\s*(\d{2}(?:\.5)?)\s*(?:LT|C)?(?:\s.*)?"
)
_METRIC = re.compile(
    r"(?:LT|P|ST|T)?\s*(\d{3})\s*/\s*(\d{2,3})\s*(?:Z?R|B|D|-)?\s*(?:F\s*)?(\d{2}(?:\.5)?)\s*(?:LT|C|XL)?(?:\s.*)?"
)


class TyreSize(Struct, frozen=True):
    """What the sidewall promises, m: overall diameter, section width, rim diameter."""

    diameter: float
    width: float
    rim: float


@lru_cache(maxsize=64)
def parse_tyre_size(text: str) -> TyreSize | None:
    """Read a printed size; ``None`` when it is not one (nothing is guessed).

    Metric: D = rim + 2·width·aspect. The tyre as made may differ by up to 1 1/2 in (common practice): measure it.
    ``text`` as printed on the side wall.

    >>> round(parse_tyre_size("37x12.50R17").diameter / INCH, 6)
    37.0
    >>> round(parse_tyre_size("LT315/70R17").diameter, 4)
    0.8728
    >>> parse_tyre_size("big ones") is None
    True
    """
    plain = text.strip().upper()
    if match := _FLOTATION.fullmatch(plain):
        diameter, width, rim = (float(g) * INCH for g in match.groups())
    elif match := _METRIC.fullmatch(plain):
        width, rim = float(match[1]) / 1000.0, float(match[3]) * INCH
        diameter = rim + 2.0 * width * float(match[2]) / 100.0
    else:
        return None
    sensible = 0.4 <= diameter <= 1.6 and rim < diameter and 0.08 <= width <= 0.7 and rim >= 8 * INCH
    return TyreSize(diameter, width, rim) if sensible else None

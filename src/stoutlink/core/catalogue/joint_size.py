"""What tells one driveshaft joint from another: how its series is called, and its caps and span under the caliper."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.quantity.shown import show_both

SAME_CAP, SAME_SPAN = 0.0002, 0.0006
"""Caps and spans within this of each other, m, are of one size (common practice: a caliper on used caps)."""


class JointSize(Struct, frozen=True):
    """A series by its name and its measured sizes, m; empty or ``None`` where not known."""

    series: str = ""
    cap: float | None = None
    span: float | None = None

    @property
    def known(self) -> bool:
        """Whether anything is known to tell it by."""
        return bool(self.series) or (self.cap is not None and self.span is not None)

    @property
    def words(self) -> str:
        """Its name, else its sizes."""
        if self.series:
            return self.series
        parts = [f"{show_both(v, 'length')} {w}" for v, w in ((self.cap, "caps"), (self.span, "span")) if v is not None]
        return " and ".join(parts) or "not known"


def same_joint(one: JointSize, two: JointSize) -> bool | None:
    """Whether two joints are of one size. Measured sizes count before names, since one name is given to several sizes:
    a cap or a span that differs tells them apart, both alike make them one. With no size on both sides the names
    decide, large and small letters and blanks left aside; ``None`` where neither is known.

    >>> same_joint(JointSize("A", 0.027, 0.092), JointSize("B", 0.0271, 0.0921)), same_joint(JointSize("a 1"), JointSize("A1"))
    (True, True)
    >>> same_joint(JointSize("A", 0.027), JointSize("A", 0.030)), same_joint(JointSize("A"), JointSize())
    (False, None)
    """
    cap = None if one.cap is None or two.cap is None else abs(one.cap - two.cap) <= SAME_CAP
    span = None if one.span is None or two.span is None else abs(one.span - two.span) <= SAME_SPAN
    if cap is False or span is False:
        return False
    if cap and span:
        return True
    if one.series and two.series:
        return one.series.casefold().replace(" ", "") == two.series.casefold().replace(" ", "")
    return None

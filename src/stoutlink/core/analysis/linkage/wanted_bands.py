"""The bands the schools want: one place for the verdict and for what a search starts with."""

from __future__ import annotations

Band = tuple[float, float]
ANTI_BANDS: dict[str, Band] = {"first_trail": (70.0, 90.0), "steep_technical": (110.0, 150.0), "neutral": (90.0, 110.0)}
"""Rear anti-squat in % by use (common practice)."""
FRONT_BAND: Band = (20.0, 90.0)
"""Front anti-lift under drive in % that a search starts with; no band is agreed on (estimate)."""
ROLL_BANDS: dict[str, Band] = {"high": (0.75, 1.0), "low": (0.45, 0.75)}
"""Roll centre as part of the CG height: three quarters and up (common practice), or lower."""
STEER_BAND: Band = (-0.10, 0.05)
HOLD_BAND: Band = (0.0, 4.0)
PINION_BAND: Band = (0.0, 4.0)
"""Roll steer °/°, largest link force per side force, pinion change in degrees over the travel (estimates)."""

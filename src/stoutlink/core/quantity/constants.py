"""Constants of physics and of measure, each once; all exact by definition.

International inch, foot, mile and pound: agreement of 1959 (NIST SP 811, appendix B). Standard gravity: 3rd CGPM,
1901 (ISO 80000-3).
"""

from __future__ import annotations

INCH = 0.0254
"""m."""
FOOT = 0.3048
"""m."""
MILE = 1609.344
"""m."""
POUND = 0.45359237
"""kg."""
GRAVITY = 9.80665
"""Standard gravity, m/s²."""
POUND_FORCE = 4.4482216152605
"""N: a pound at standard gravity."""

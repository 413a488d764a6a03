"""The way in: a small picture at once, then the rest of the program, which takes most of a second to load.

Text and all else are drawn as large as the system's own text is, unless somebody has chosen a size.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QApplication, QSplashScreen

from stoutlink.app.desk import theme
from stoutlink.app.desk.memory import recalled

AT_ONCE = ("--shot", "--version", "--help", "-h", "--install-desktop", "--remove-desktop")
"""What needs no window, or only for a picture."""
USUAL_POINTS, LARGE_POINTS = 10.0, 11.6
"""The text size sheets are made for, and the system's from which on all is drawn larger."""
SCALE = "QT_SCALE_FACTOR"


def scale_of(points: float) -> float:
    """How large to draw for the system's text size in points; 1 up to what is usual.

    >>> scale_of(9.0), scale_of(11.0), scale_of(15.0)
    (1.0, 1.0, 1.5)
    """
    return 1.0 if points < LARGE_POINTS else round(min(2.5, points / USUAL_POINTS), 2)


def main(argv: Sequence[str] | None = None) -> int:
    """Show that it is starting, then start."""
    words = list(sys.argv[1:] if argv is None else argv)
    splash = None
    if not any(word.split("=", maxsplit=1)[0] in AT_ONCE for word in words):
        chosen = recalled().scale
        if chosen is not None:
            os.environ.setdefault(SCALE, str(chosen))
        app = QApplication(sys.argv[:1])
        wanted = scale_of(app.font().pointSizeF())
        if SCALE not in os.environ and wanted > 1.0:
            os.environ[SCALE] = str(wanted)  # it is read once, before anything is made
            os.execv(sys.executable, [sys.executable, "-m", "stoutlink.app.start", *words])
        splash = starting(app)
    from stoutlink.app.main import main as run  # noqa: PLC0415 - what takes its time

    return run(words, splash)


def starting(app: QApplication) -> QSplashScreen:
    """A small picture that says what is starting; the window takes it away."""
    theme.load_fonts(app)
    t = theme.DARK
    picture = QPixmap(320, 96)
    picture.fill(t.plate)
    splash = QSplashScreen(picture)
    splash.setObjectName("starting")
    splash.setFont(theme.font(13, bold=True))
    splash.showMessage("Stout Link is starting …", Qt.AlignmentFlag.AlignCenter, t.text)
    splash.show()
    app.processEvents()
    return splash


if __name__ == "__main__":
    raise SystemExit(main())

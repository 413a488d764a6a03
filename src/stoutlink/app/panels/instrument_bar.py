"""A slim bar under a sheet: what the instruments show, zero, connect, and how far a reading has come."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QPushButton, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_desk import KIND_WORDS, SIMULATED, InstrumentDesk, parse_device
from stoutlink.core.instruments.port import BAUDS
from stoutlink.core.quantity.shown import Kind, show, unit_name

QUANTITY: dict[str, tuple[Kind, str, int | None]] = {
    "scales": ("mass", "Scales", 0), "angle": ("angle", "Angle", 1), "caliper": ("fine_length", "Caliper", None),
    "indicator": ("fine_length", "Indicator", None), "feeler": ("fine_length", "Gap", None), "wrench": ("torque", "Wrench", 0), "gauge": ("pressure", "Gauge", None),
}  # fmt: skip
"""What an instrument reads, what it is called, and to how many places it is shown."""
FLAG_MARK = {"steady": "●", "moving": "◌", "over": "▲"}


class InstrumentBar(QWidget):
    """Live values of instruments of some kinds with their buttons."""

    def __init__(
        self,
        workspace: Workspace,
        desk: InstrumentDesk,
        parent: QWidget | None = None,
        kinds: tuple[str, ...] = ("scales", "angle"),
    ) -> None:
        super().__init__(parent)
        self.setObjectName("instrument_bar")
        self.setAccessibleName("Instruments")
        self._workspace, self._desk, self.kinds = workspace, desk, kinds
        self._theme: Theme | None = None
        self.setFixedHeight(36)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 2, 12, 2)
        row.setSpacing(8)
        self._only = ""
        self._labels: dict[str, QLabel] = {}
        self._zeros: dict[str, QPushButton] = {}
        self._connects: dict[str, QPushButton] = {}
        for kind in self.kinds:
            label = Label("", self)
            label.setObjectName(f"live_{kind}")
            label.setFont(font(9))
            zero = QPushButton("Zero", self)
            zero.setObjectName(f"zero_{kind}")
            zero.setProperty("flat", True)
            zero.setFont(font(8.5))
            zero.setToolTip(f"Press the zero button of the {KIND_WORDS[kind]}.")
            zero.clicked.connect(lambda _=False, k=kind: desk.zero(k))
            connect = QPushButton(self)
            connect.setObjectName(f"connect_{kind}")
            connect.setProperty("flat", True)
            connect.setFont(font(8.5))
            connect.clicked.connect(lambda _=False, k=kind: self._choose(k))
            row.addWidget(label)
            row.addWidget(zero)
            row.addWidget(connect)
            row.addSpacing(10)
            self._labels[kind], self._zeros[kind], self._connects[kind] = label, zero, connect
        row.addStretch(1)
        self._hint = Label("", self)
        self._hint.setFont(font(8.5))
        self._hint.setProperty("quiet", True)
        row.addWidget(self._hint)
        desk.changed.connect(self._show)

    def only(self, kind: str) -> None:
        """Show one of its instruments alone."""
        self._only = kind

    def refresh(self, theme: Theme) -> None:
        """Show the present state."""
        self._theme = theme
        self._show()

    def _show(self) -> None:
        if not self.isVisible() and self._theme is None:
            return
        unit = self._workspace.unit
        for kind in self.kinds:
            line = self._desk.lines.get(kind)
            shown = self._only in ("", kind)
            self._zeros[kind].setVisible(line is not None and shown)
            self._connects[kind].setVisible(shown)
            self._connects[kind].setText("Off" if line is not None else f"Connect {KIND_WORDS[kind]}…")
            if line is None:
                self._labels[kind].setText("")
                self._labels[kind].setVisible(False)
                continue
            quantity, called, places = QUANTITY[kind]
            name = unit_name(quantity, unit)
            scales = kind == "scales"
            parts = [
                f"{FLAG_MARK[s.flag]}{c + ' ' if scales else ''}{show(s.si, quantity, unit, decimals=places).removesuffix(f' {name}')}"
                for c, s in sorted(line.values.items())
            ]
            what = f"{called}{', simulated' if line.device == SIMULATED else ''}{', ' + name if scales else ''}"
            self._labels[kind].setText(f"{what}:  " + ("  ".join(parts) or line.trouble or "waiting"))
            self._labels[kind].setVisible(shown)
        self._hint.setText(
            "steadying…" if self._desk.taking else "Space reads" if set(self._desk.lines) & set(self.kinds) else ""
        )
        self.update()

    def _choose(self, kind: str) -> None:
        if kind in self._desk.lines:
            self._desk.disconnect_from(kind)
            return
        menu = QMenu(self)
        self.fill_menu(menu, kind)
        menu.exec(self._connects[kind].mapToGlobal(self._connects[kind].rect().topLeft()))

    def fill_menu(self, menu: QMenu, kind: str) -> None:
        """Choices of what to connect."""
        simulated = menu.addAction(f"Simulated {KIND_WORDS[kind]}")
        known = self._desk.settings.get(kind, {})
        if simulated is not None:
            simulated.triggered.connect(lambda: self._desk.connect_to(kind, SIMULATED))
        if known.get("device") not in (None, SIMULATED):
            again = menu.addAction(f"{known['device']} at {known.get('baud', 9600)} baud")
            if again is not None:
                again.triggered.connect(
                    lambda: self._desk.connect_to(kind, str(known["device"]), int(str(known.get("baud", 9600))))
                )
        other = menu.addAction("A device…")
        if other is not None:
            other.triggered.connect(lambda: self.ask_device(kind))

    def ask_device(self, kind: str) -> None:
        """Ask for device path and baud."""
        text = dialogs.ask_text(
            self, "Connect", f"Device path and baud of the {KIND_WORDS[kind]}, such as /dev/ttyUSB0 9600:"
        )
        if text is None or not text.strip():
            return
        found = parse_device(text.strip())
        if found is None:
            self._workspace.said.emit(
                f"“{text}” is not a device path with a baud; accepted baud: {', '.join(map(str, BAUDS))}.", True
            )
            return
        self._desk.connect_to(kind, *found)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self._theme
        if t is None:
            return
        with QPainter(self) as p:
            p.fillRect(self.rect(), t.plate)
            p.fillRect(QRectF(0, 0, self.width(), 1), t.edge)
            if self._desk.taking:
                p.fillRect(QRectF(0, self.height() - 4, self.width() * self._desk.progress, 4), t.dye)

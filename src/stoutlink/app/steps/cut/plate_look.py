"""Plate: every plate as it will be cut, one thickness after the other, true shapes in their places."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QVBoxLayout, QWidget

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk import dialogs
from stoutlink.app.desk.background import ASKED, Background, Progress
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_desk import parse_device
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled
from stoutlink.core.advice.weld_words import clock_words
from stoutlink.core.analysis.linkage.plate_plan import PlatePlan
from stoutlink.core.drawing.part_views import pattern_shapes
from stoutlink.core.errors import StoutError
from stoutlink.core.geometry.pattern import Pattern, extent
from stoutlink.core.instruments.plasma_line import SimulatedTable, TableSays, ask_table
from stoutlink.core.instruments.port import BAUDS
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.reports.part_files import plate_dxf


class PlateLook(Look):
    """``out`` asks for every plate as DXF."""

    out = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "cut_plate", "Plate", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.picture = Picture("plate_picture", "Plates as they will be cut", self)
        outer.addWidget(scrolled(self.picture, self), 1)
        self.drawer = PathDrawer(workspace, "plate_drawer", 4, self)
        self.drawer.setContentsMargins(12, 4, 12, 2)
        outer.addWidget(self.drawer)
        row = QHBoxLayout()
        row.setContentsMargins(12, 2, 12, 8)
        button = self.put_button(
            "plate_dxf", "All plates as DXF…", "One drawing, plate beside plate, at true scale.", row
        )
        button.clicked.connect(lambda _=False: self.out.emit())
        self.ask = self.put_button(
            "ask_table",
            "Ask a plasma table",
            "Send every plate to the table: how often it pierces, how far it cuts, how long it takes, or what it refuses.",
            row,
        )
        menu = QMenu(self.ask)
        for words, do in (("Simulated plasma table", partial(self.ask_table, "")), ("A device…", self._ask_device)):
            action = menu.addAction(words)
            if action is not None:
                action.triggered.connect(lambda _=False, do=do: do())
        self.ask.setMenu(menu)
        self.halt = self.put_button("stop_table", "Stop", "Leave off asking the table.", row)
        self.halt.clicked.connect(lambda _=False: self._halt())
        self.halt.hide()
        row.addStretch(1)
        outer.addLayout(row)
        self.plans: tuple[PlatePlan, ...] = ()
        self.work: Background[dict[tuple[int, int], TableSays]] = Background(self, ASKED)
        self.said: dict[tuple[int, int], TableSays] = {}
        self._said_of: tuple[object, ...] = ()

    @property
    def answers(self) -> dict[tuple[int, int], TableSays]:
        """What the table said of each plate (which thickness, which plate), for as long as they are these very plates."""
        now = (self.plans, self.workspace.project.fabrication.plate)
        same = len(self._said_of) == 2 and self._said_of[0] is now[0] and self._said_of[1] is now[1]
        return self.said if same else {}

    def _ask_device(self) -> None:
        words = dialogs.ask_text(self, "Plasma table", "Device path and baud, such as /dev/ttyUSB0 115200:")
        if words is None or not words.strip():
            return
        found = parse_device(words.strip())
        if found is None:
            accepted = ", ".join(map(str, BAUDS))
            self.workspace.said.emit(f"“{words}” is not a device path with a baud; accepted baud: {accepted}.", True)
            return
        self.ask_table(*found)

    def ask_table(self, device: str, baud: int = 9600) -> None:
        """Send every plate to a table beside the window; the simulated one without a device."""
        w, plans = self.workspace, self.plans
        if not plans:
            w.said.emit("There is nothing to cut from plate.", True)
            return
        plate, unit = w.project.fabrication.plate, w.unit
        every = [(k, n) for k, plan in enumerate(plans) for n in range(plan.nested.plates)]

        def work(tell: Progress) -> dict[tuple[int, int], TableSays] | None:
            table = SimulatedTable() if not device else None
            try:
                path = device if table is None else table.path
                out: dict[tuple[int, int], TableSays] = {}
                for i, (k, n) in enumerate(every):
                    drawing, size = plate_dxf(plans[k], n, plate, unit), (plate.length_m, plate.width_m)

                    def part(share: float, i: int = i) -> bool:
                        return tell((i + share) / len(every))

                    one = ask_table(path, baud, drawing, plans[k].thickness, plate.amps, size, part)
                    if one is None:
                        return None
                    out[k, n] = one
                return out
            finally:
                if table is not None:
                    table.close()

        def done(out: dict[tuple[int, int], TableSays]) -> None:
            self.said, self._said_of = out, (plans, plate)
            self._asked()

        def failed(why: StoutError) -> None:
            words = why.words
            w.said.emit(words, True)
            self._asked()

        self.halt.show()
        self.ask.setEnabled(False)
        self.work.start(work, done, lambda part: self.halt.setText(f"Stop ({part:.0%})"), failed)

    def _asked(self) -> None:
        self.halt.hide()
        self.ask.setEnabled(True)
        if self.theme is not None:
            self.refresh(self.theme)

    def _halt(self) -> None:
        self.work.drop()
        self._asked()

    def stop(self) -> None:
        self.work.stop()

    def prepare(self) -> None:
        w = self.workspace
        self.plans = () if w.study.needed("stance", "weight") else w.study.plate_plan()
        words = (
            ("length_m", "plate length"),
            ("width_m", "plate width"),
            ("spacing_m", "between parts"),
            ("border_m", "off the edge"),
            ("amps", "torch, amps"),
        )
        self.drawer.show_entries([Entry(f"plate.{key}", word) for key, word in words])
        assert self.theme is not None
        self.picture.show_with(self.theme, self._paint)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, y = float(picture.width()), 8.0
        plate, unit = self.workspace.project.fabrication.plate, self.workspace.unit
        if not self.plans:
            words = "Nothing to cut from plate: no parts yet, or all of them are cut."
            y += flow(p, QRectF(16, y, w - 32, 40), words, t.quiet, size=11)
        scale = (w - 40) / plate.length_m
        for k, plan in enumerate(self.plans):
            for sentence, bad in [*plate_words(plan, unit), *table_words(plan, k, self.answers, unit)]:
                y += (
                    flow(p, QRectF(16, y, w - 32, 36), sentence, t.torch if bad else t.text, size=10 if not bad else 9)
                    + 3
                )
            for number in range(plan.nested.plates):
                box = QRectF(16, y + 2, plate.length_m * scale, plate.width_m * scale)
                p.fillRect(box, t.raised)
                p.setPen(QPen(t.edge, 1))
                p.drawRect(box)
                frame = Frame(box.bottomLeft(), scale)
                for part, pattern in plan.on(number):
                    paint(p, pattern_shapes(Pattern(pattern.outline, pattern.holes)), frame, t)
                    (x0, y0), (x1, y1) = extent(pattern.outline)
                    place = QRectF(frame.at((x0, y1)), frame.at((x1, y0)))
                    picture.hits.append(Hit(place, f"{part.name}, {show(part.thickness, 'fine_length', unit)}"))
                y += box.height() + 12
            y += 6
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def as_text(self) -> str:
        lines = []
        for k, plan in enumerate(self.plans):
            lines += [words for words, _ in plate_words(plan, self.workspace.unit)]
            lines += [words for words, _ in table_words(plan, k, self.answers, self.workspace.unit)]
            for number in range(plan.nested.plates):
                names = [part.name for part, _ in plan.on(number)]
                lines.append(
                    "\t".join([f"plate {number + 1}", *(f"{names.count(n)} × {n}" for n in dict.fromkeys(names))])
                )
        return "\n".join(lines) or "Nothing to cut from plate yet."


def plate_words(plan: PlatePlan, unit: UnitSystem) -> list[tuple[str, bool]]:
    """What is cut from plate of one thickness; what no plate is large enough for."""
    plates = plan.nested.plates
    many = f"{plates} plate{'s' if plates != 1 else ''}"
    out = [
        (
            f"{show(plan.thickness, 'fine_length', unit)} plate: {len(plan.nested.laid)} parts on {many}, {plan.used:.0%} used",
            False,
        )
    ]
    if plan.nested.too_large:
        names = dict.fromkeys(plan.pieces[i].name for i in plan.nested.too_large)
        out.append((f"No plate is large enough for {', '.join(names)}.", True))
    return out


def table_words(
    plan: PlatePlan, which: int, answers: dict[tuple[int, int], TableSays], unit: UnitSystem
) -> list[tuple[str, bool]]:
    """What the table said of the plates of one thickness."""
    out: list[tuple[str, bool]] = []
    for n in range(plan.nested.plates):
        said = answers.get((which, n))
        if said is None:
            continue
        plate = f"Plate {n + 1} on the table"
        if said.job is not None:
            length = show(said.job.length, "length", unit, decimals=0)
            words = f"{plate}: {said.job.pierces} pierces, {length} of cut, about {clock_words(said.job.seconds)}."
            out.append((words, False))
        else:
            out.append((f"{plate} refused: {'; '.join(said.refused)}.", True))
    return out

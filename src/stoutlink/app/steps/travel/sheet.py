"""The travel step: scrub an axle through heave, roll and steer; the map shows where anything touches, binds or
runs out.
"""

from __future__ import annotations

import math
from typing import Any

from PyQt6.QtCore import QSignalBlocker, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSlider, QStackedWidget, QVBoxLayout, QWidget

from stoutlink.app.desk.background import Background
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.drawing_desk import DrawingDesk, DrawingSheet
from stoutlink.app.steps.travel.bump_look import BumpLook
from stoutlink.app.steps.travel.climb_look import ClimbLook
from stoutlink.app.steps.travel.curve_look import CurveLook
from stoutlink.app.steps.travel.driveline_look import DrivelineLook
from stoutlink.app.steps.travel.interference_look import InterferenceLook
from stoutlink.app.steps.travel.look import Shown, TravelLook
from stoutlink.app.steps.travel.reach_look import ReachLook
from stoutlink.app.steps.travel.spring_look import SpringLook
from stoutlink.app.steps.travel.steer_look import SteerLook
from stoutlink.app.steps.travel.travel_map_view import TravelMapView
from stoutlink.app.steps.travel.views import CycleViews
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.pose_words import heave_words, roll_words
from stoutlink.core.analysis.cycle.curve_sure import Bands
from stoutlink.core.analysis.cycle.posed import Posed
from stoutlink.core.analysis.cycle.steer import steer_range
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.cycle.travel_map import said_at
from stoutlink.core.analysis.vehicle.lacking import NotEntered

LOOKS: tuple[tuple[str, str, str], ...] = (
    ("touching", "Touch", "What comes near what, the nearest first."),
    ("curves", "Curves", "Every number over heave or roll."),
    ("steering", "Steer", "Bump and roll steer of both wheels, lock to lock, best holes."),
    ("driveline", "Shaft", "Joint angles, wave, slip, whirl, length to order."),
    ("springs", "Springs", "Shocks, springs, anti-roll bar and stops over the travel."),
    ("lines", "Lines", "Hoses, cables and wires that must reach over the whole travel."),
    ("bump_sheet", "Sheet", "What to measure at ride, at both stops and crossed."),
    ("climb", "Climb", "Grade, ledge, braking, side slope, ramp."),
)
DEALS_WITH: dict[str, tuple[str, ...]] = {
    "driveline": ("T310", "T311", "T312"),
    "steering": ("T320",),
    "springs": ("T304", "T330"),
    "lines": ("T340", "T341"),
}
"""Which look deals with a finding, by its code; what touches with the others."""
MAP_HIGH = 150
PLAY_MS = 16


CYCLING = "Cycling both axles…"


class TravelSheet(DrawingSheet):
    """Cycle it before it is welded. ``export_table``, ``export_shaft`` and ``export_bump`` ask for the travel table,
    the shaft's sheet and the full-bump sheet as files, ``import_springs`` for a list of springs."""

    export_table = pyqtSignal()
    export_shaft = pyqtSignal()
    export_bump = pyqtSignal()
    import_springs = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_travel")
        self._workspace = workspace
        self._theme: Theme | None = None
        self.views = CycleViews(workspace, self)
        self.travel_map = TravelMapView(workspace, self)
        self._corner = QWidget()
        inside = QVBoxLayout(self._corner)
        inside.setContentsMargins(12, 8, 12, 6)
        inside.setSpacing(5)
        self.state = Label("", self._corner)
        self.state.setObjectName("travel_state")
        self.state.setFont(font(9.5, bold=True))
        self.state.setWordWrap(True)
        inside.addWidget(self.state)
        self.asked: dict[str, QuantityField] = {}
        self.heave, self.roll, self.steer = self._sliders(inside)
        self.looks: dict[str, TravelLook] = {
            "touching": InterferenceLook(workspace, self),
            "curves": CurveLook(workspace, self),
            "steering": SteerLook(workspace, self),
            "driveline": DrivelineLook(workspace, self),
            "springs": SpringLook(workspace, self),
            "lines": ReachLook(workspace, self),
            "bump_sheet": BumpLook(workspace, self),
            "climb": ClimbLook(workspace, self),
        }
        self.bar = LookBar(LOOKS, "travel", 4, self._corner)
        self.bar.picked.connect(self.look)
        inside.addWidget(self.bar)
        self.stack = QStackedWidget(self._corner)
        keep = self.stack.sizePolicy()
        keep.setRetainSizeWhenHidden(True)
        self.stack.setSizePolicy(keep)
        for one in self.looks.values():
            self.stack.addWidget(one)
        inside.addWidget(self.stack, 1)
        self.travel_map.setFixedHeight(MAP_HIGH)
        self.desk = DrawingDesk(workspace, "travel", self._corner, self.views, self.travel_map, self)
        self.views.enlarge.connect(self.desk.arrange)
        self.making: Background[Any] = Background(self)
        """A model or a film being made."""
        self.current = "touching"
        self.views.moved.connect(self.go_to)
        self.travel_map.moved.connect(self.go_to)
        touch, curves, shaft, springs = (self.looks[key] for key in ("touching", "curves", "driveline", "springs"))
        assert isinstance(touch, InterferenceLook)
        assert isinstance(curves, CurveLook)
        assert isinstance(shaft, DrivelineLook)
        assert isinstance(springs, SpringLook)
        bump = self.looks["bump_sheet"]
        assert isinstance(bump, BumpLook)
        bump.sheet.connect(self.export_bump)
        shaft.sheet.connect(self.export_shaft)
        springs.offers.connect(self.import_springs)
        touch.go.connect(self._go_steered)
        curves.moved.connect(self._along)
        curves.export.connect(self.export_table)
        self._last: dict[str, AxleTravel] = {}
        """The travel shown before at each end, drawn faint while a new one is worked out."""
        workspace.cycling.moved.connect(self._progress)
        workspace.cycling.done.connect(self._done)
        self.row = self.column = 0
        self._placed = False
        self._wanted = ""
        """Subject of the finding whose pose is to be shown once the travel is known."""
        self._play = QTimer(self)
        self._play.setInterval(PLAY_MS)
        self._play.timeout.connect(self._step)
        self._phase = 0.0

    def _sliders(self, inside: QVBoxLayout) -> tuple[QSlider, QSlider, QSlider]:
        rows = [QHBoxLayout(), QHBoxLayout()]
        self._heave_row = rows[0]
        out = []
        for k, name, words, tip in (
            (0, "scrub_heave", "Heave", "Droop to bump; Page Up and Page Down."),
            (1, "scrub_roll", "Roll", "Right side up to left side up."),
            (1, "scrub_steer", "Steer", "Front tyres, lock to lock."),
        ):
            label = Label(words, self._corner)
            label.setFont(font(8.5))
            rows[k].addWidget(label)
            slider = QSlider(Qt.Orientation.Horizontal, self._corner)
            slider.setObjectName(name)
            slider.setAccessibleName(words)
            slider.setToolTip(tip)
            slider.valueChanged.connect(self._slid)
            rows[k].addWidget(slider, 1)
            out.append(slider)
        self.play = self._hand("play", "▶ Play", "Run through bump, droop and roll; again to hold.", rows[0])
        self.play.setCheckable(True)
        self.play.toggled.connect(self._playing)
        self.home = self._hand("to_ride", "Ride", "Back to ride height, level, wheels straight (Home).", rows[1])
        self.home.clicked.connect(self.to_ride)
        for row in rows:
            inside.addLayout(row)
        out[2].setRange(-20, 20)
        return out[0], out[1], out[2]

    def _show_asked(self) -> None:
        """How far this axle is to be cycled, in fields at both ends of the heave slider."""
        layout = self._workspace.project.layout(self._workspace.end)
        for key, title, at in (("droop_m", "Droop to cycle", 1), ("bump_m", "Bump to cycle", 3)):
            if key not in self.asked and layout is not None:
                field = QuantityField(self._workspace, f"layouts.{layout.id}.{key}", self._corner, title=title)
                field.setObjectName(f"asked_{key}")
                field.setFont(font(8.5))
                field.setFixedWidth(58)
                self._heave_row.insertWidget(at, field)
                self.asked[key] = field
        for key, field in self.asked.items():
            field.setVisible(layout is not None)
            if layout is not None:
                field.set_path(f"layouts.{layout.id}.{key}")
                field.refresh()

    def _hand(self, name: str, words: str, tip: str, row: QHBoxLayout) -> QPushButton:
        out = QPushButton(words, self._corner)
        out.setObjectName(name)
        out.setFont(font(8.5))
        out.setStyleSheet("padding: 2px 8px;")
        out.setToolTip(tip)
        row.addWidget(out)
        return out

    # What is shown

    @property
    def travel(self) -> AxleTravel | None:
        """The travel of the axle in work, once it is worked out for the project as it is."""
        w = self._workspace
        return w.study.travel_known(w.end) if w.cycling.known else None

    @property
    def working(self) -> bool:
        """Whether the travel of the project as it is now is still being worked out."""
        return not self._workspace.cycling.known

    @property
    def bands(self) -> Bands | None:
        """1 σ of the curves shown, once somebody has looked at them."""
        one = self.looks["curves"]
        return one.bands if isinstance(one, CurveLook) and one.shown.travel is self.travel else None

    @property
    def curves_working(self) -> bool:
        """Whether the ± of the curves in view is being worked out."""
        one = self.looks[self.current]
        return isinstance(one, CurveLook) and one.working is not None

    def refresh(self, theme: Theme) -> None:
        """Show the current project; what is not worked out yet is, beside the window."""
        self._theme = theme
        self._workspace.cycling.now()
        if not self._placed:
            self._place()
        self._show()

    def _progress(self, part: float) -> None:
        if self.isVisible() and self.travel is None:
            self.state.setText(f"{CYCLING} {part:.0%}")

    def _done(self) -> None:
        self._place()
        if self.isVisible():
            self._show()
            if self._wanted:
                self._show_pair(self._wanted)
                self._wanted = ""

    def _place(self) -> None:
        """Sliders for the travel in work, at ride height the first time."""
        t = self.travel
        if t is None:
            return
        rows, columns = t.grid.reached.shape
        with QSignalBlocker(self.heave), QSignalBlocker(self.roll):
            self.heave.setRange(0, columns - 1)
            self.roll.setRange(0, rows - 1)
            if not self._placed:
                self.row, self.column = t.grid.ride
                self._placed = True
            self.row, self.column = min(self.row, rows - 1), min(self.column, columns - 1)
            self.heave.setValue(self.column)
            self.roll.setValue(self.row)

    def steered(self) -> float:
        """Steer asked for of the served wheel, rad, left +."""
        if self._workspace.end != "front":
            return 0.0
        low, high = self._steer_range()
        part = self.steer.value() / 20.0
        return part * high if part > 0 else -part * low

    def _steer_range(self) -> tuple[float, float]:
        travel = self.travel
        return steer_range(None if travel is None else travel.steer, self._workspace.project.donor("front"))

    def shown(self) -> Shown:
        """What is on the table."""
        study, end = self._workspace.study, self._workspace.end
        travel = self.travel
        if travel is not None:
            self._last[end] = travel
        both: dict[str, AxleTravel | None] = {}
        if self._workspace.cycling.known:
            both |= {one: study.travel_known(one) for one in ("rear", "front")}
            both |= {f"{one} compared": study.travel_compared_known(one) for one in ("rear", "front")}
        found = None if travel is None else study.map_of(travel)
        return Shown(travel, both, both.get(f"{end} compared"), found, self.row, self.column, self.steered())

    def _show(self) -> None:
        if self._theme is None:
            return
        self._show_asked()
        shown = self.shown()
        travel, found = shown.travel, shown.found
        self.bar.show_picked(self.current)
        self.stack.setCurrentWidget(self.looks[self.current])
        before = self._before() if travel is None else None
        there = travel is not None or before is not None
        self.stack.setVisible(there)
        for hand in (self.heave, self.roll, self.play, self.home, *self.bar.buttons.values()):
            hand.setEnabled(there)
        self.steer.setEnabled(there and self._workspace.end == "front")
        marked: tuple[str, ...] = ()
        if travel is not None and found is not None:
            g, unit = travel.grid, self._workspace.unit
            where, lean = heave_words(float(g.heave[self.column]), unit), roll_words(float(g.roll[self.row]))
            self.state.setText(
                f"{travel.layout.end.capitalize()} axle at {where}{', ' + lean if lean else ''}: {said_at(travel, found, self.row, self.column)[0]}"
            )
            marked = tuple(
                name
                for c in travel.interference.contacts
                if c.room_at(self.row, self.column) < 0
                for name in (c.one, c.other)
            )
        elif self.working and self._workspace.project.layout(self._workspace.end) is not None:
            if not self.state.text().startswith(CYCLING):  # what was said of a pose is not of now any more
                self.state.setText(CYCLING)
        else:
            axle = self._workspace.study.axles[self._workspace.end]
            needs = self._workspace.study.needs
            why = (
                axle.problem.sentence
                if axle.problem is not None
                else NotEntered(needs).sentence
                if needs and axle.layout is not None
                else f"Nothing hangs the {self._workspace.end} axle yet: start from a kind in Layout."
            )
            self.state.setText(why)
        self._refresh_look(shown)
        self.views.show_at(
            self._theme, travel or before, self.row, self.column, shown.steer, marked, before is not None
        )
        self.travel_map.show_at(
            self._theme,
            travel or before,
            found or (self._workspace.study.map_of(before) if before is not None else None),
            self.row,
            self.column,
            before is not None,
        )

    def _refresh_look(self, shown: Shown) -> None:
        assert self._theme is not None
        look = self.looks[self.current]
        look.shown = shown
        look.refresh(self._theme)

    def _before(self) -> AxleTravel | None:
        """The travel of this same layout as it was, to be drawn faint while the new one is worked out."""
        now = self._workspace.project.layout(self._workspace.end)
        last = self._last.get(self._workspace.end) if self.working else None
        return last if last is not None and now is not None and last.layout.id == now.id else None

    def look(self, key: str) -> None:
        """Put a look up."""
        self.current = key
        self._show()

    # Hands

    def go_to(self, row: int, column: int) -> None:
        """Go to a pose."""
        self.row, self.column = row, column
        with QSignalBlocker(self.heave), QSignalBlocker(self.roll):
            self.heave.setValue(column)
            self.roll.setValue(row)
        self._show()

    def go(self, finding: Finding) -> None:
        """Put up the look that deals with a finding; for parts that touch, the pose at which they do."""
        self.look(next((look for look, codes in DEALS_WITH.items() if finding.code in codes), "touching"))
        self._place()
        waits = not self._show_pair(finding.subject) and self.travel is None
        self._wanted = finding.subject if waits else ""

    def _show_pair(self, subject: str) -> bool:
        """Go to the pose of a pair that touches, once its travel is known."""
        touch = self.looks["touching"]
        assert isinstance(touch, InterferenceLook)
        there = touch.show_pair(subject)
        if there:
            self.views.fly()
        return there

    def _go_steered(self, row: int, column: int, steer: float) -> None:
        low, high = self._steer_range()
        with QSignalBlocker(self.steer):
            self.steer.setValue(round(20 * steer / high if steer > 0 else -20 * steer / low))
        self.go_to(row, column)

    def _along(self, station: int, heaving: bool) -> None:
        self.go_to(self.row if heaving else station, station if heaving else self.column)

    def _slid(self) -> None:
        self.row, self.column = self.roll.value(), self.heave.value()
        self._show()

    def move_axle(self, stations: int) -> None:
        """Steps of heave."""
        self.heave.setValue(self.heave.value() + stations)

    def pose(self, heave: int, roll: int) -> None:
        """Go to a pose: stations of heave and roll from ride."""
        if self.travel is not None:
            row, column = self.travel.grid.ride
            self.go_to(row + roll, column + heave)

    def fit(self) -> None:
        """Bring everything into the views."""
        self.views.fit()
        self.views.round.fit()

    def zoom(self, factor: float) -> None:
        """Draw larger or smaller."""
        self.views.zoom(factor)

    def ready(self) -> bool:
        """Whether the travel and the ± of the curves in view are worked out, and the round view is as fine as it will be."""
        return not (self.working or self.curves_working) and self.views.ready()

    def to_ride(self) -> None:
        """Back to ride height, level, straight."""
        t = self.travel
        self.play.setChecked(False)
        with QSignalBlocker(self.steer):
            self.steer.setValue(0)
        if t is not None:
            self.go_to(*t.grid.ride)

    def _playing(self, on: bool) -> None:
        self.play.setText("❚❚ Hold" if on else "▶ Play")
        if on:
            self._play.start()
        else:
            self._play.stop()

    def _step(self) -> None:
        """Along the edge of what the stops allow, slowly: bump, cross-axled, droop, cross-axled the other way."""
        t = self.travel
        if t is None:
            return
        self._phase = (self._phase + 0.012) % (2 * math.pi)
        low, high = t.grid.limits
        part = math.cos(self._phase)
        heave = 0.95 * (high if part > 0 else -low) * part
        wanted = math.sin(self._phase) * 0.95
        column = int(abs(t.grid.heave - heave).argmin())
        inside = t.grid.roll[t.grid.within[:, column]]
        most = float(inside.max()) if len(inside) else 0.0
        self.go_to(int(abs(t.grid.roll - wanted * most).argmin()), column)

    def end_changed(self) -> None:
        """Another axle: at ride height."""
        self._placed = False
        self._place()
        self.to_ride()

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""
        self._play.stop()
        for one in self.looks.values():
            one.stop()
        self.making.stop()
        self.views.stop()

    def posed(self) -> Posed | None:
        """The axle in work at the pose picked, as the project is now; ``None`` while its travel is not known or it does not
        get there."""
        t = self.travel
        return None if t is None else self._workspace.study.posed_in(t, self.row, self.column, self.steered())

    def where(self) -> str:
        """The pose shown, in words."""
        t = self.travel
        if t is None or self.posed() is None:
            return "at ride height"
        unit = self._workspace.unit
        lean = roll_words(float(t.grid.roll[self.row]))
        return f"at {heave_words(float(t.grid.heave[self.column]), unit)}{', ' + lean if lean else ''}"

    def as_text(self) -> str:
        """The look in view as text; while there is no travel, why not."""
        return self.state.text() if self.travel is None else self.looks[self.current].as_text()

    def hideEvent(self, event: object) -> None:
        self._wanted = ""  # whoever comes back later did not ask for that pose any more
        self.play.setChecked(False)

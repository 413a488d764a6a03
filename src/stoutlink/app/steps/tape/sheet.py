"""The tape step: where the tape lay, the drawing, the strip to type in, and what is in the way."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import QSignalBlocker, QSize, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QMenu, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_bar import InstrumentBar
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.steps.step import Sheet, focus_field
from stoutlink.app.steps.tape.mesh_pointing import MeshPointing
from stoutlink.app.steps.tape.photo_look import PhotoLook
from stoutlink.app.steps.tape.tape_drawer import TapeDrawer
from stoutlink.app.steps.tape.tape_strip import TapeStrip
from stoutlink.app.steps.tape.tape_view import TapeView
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.survey_words import merge_words
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import BUMP
from stoutlink.core.document.survey import SOLID_NAMES, BoxSolid, Solid, SolidKind, Survey, TubeSolid
from stoutlink.core.editing.edits import PutInList, SetChoice, TakeFromList
from stoutlink.core.errors import StoutError

LOOKS = (
    ("tape", "Tape", "The frame as the tape finds it, and what is in the way."),
    ("photo", "Photo", "Places measured in a photograph, where the tape does not reach."),
)
STOOD = (("ride", "at ride height"), ("bump", "at full bump"), ("stands", "on stands"))
WAYS = (("forward", "grows forward"), ("rearward", "grows rearward"))


class TapeSheet(Sheet):
    """One survey at a time, all of them drawn."""

    outline_wanted = pyqtSignal()
    mesh_wanted = pyqtSignal()

    def __init__(self, workspace: Workspace, desk: InstrumentDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_tape")
        self._workspace = workspace
        self._theme: Theme | None = None
        self.survey_id: str | None = None
        self._joined: tuple[Survey, ...] = ()
        """The surveys as they were when the drawer's report on a fit was made."""
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(14, 8, 14, 4)
        self.looks = LookBar(LOOKS, "tape_looks", 8, self)
        self.looks.picked.connect(self.look)
        head.addWidget(self.looks)
        self._of_tape = QWidget(self)
        self._of_tape.setLayout(self._head())
        head.addSpacing(10)
        head.addWidget(self._of_tape, 1)
        outer.addLayout(head)
        self._stack = QStackedWidget(self)
        outer.addWidget(self._stack, 1)
        self.taped = QWidget(self)
        self._stack.addWidget(self.taped)
        self.photo = PhotoLook(workspace, self)
        self._stack.addWidget(self.photo)
        outer = QVBoxLayout(self.taped)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addLayout(self._datum_row())
        middle = QHBoxLayout()
        middle.setSpacing(0)
        self.view = TapeView(workspace, self)
        self.drawer = TapeDrawer(workspace, self)
        self.pointing = MeshPointing(workspace, self)
        middle.addWidget(self.view, 1)
        middle.addWidget(self.pointing, 1)
        middle.addWidget(self.drawer)
        outer.addLayout(middle, 1)
        self.strip = TapeStrip(workspace, self)
        outer.addWidget(self.strip)
        self.bar = InstrumentBar(workspace, desk, self)
        outer.addWidget(self.bar)
        self.strip.make_survey = self._first_survey
        self.strip.typing.connect(self.view.preview)
        self.strip.moved.connect(self._moved)
        self.view.picked.connect(self._picked)
        self.view.picked_solid.connect(self.pick_solid)
        self.drawer.picked_solid.connect(self.pick_solid)
        self.drawer.point_at.connect(self.point_at)
        self.pointing.done.connect(self._pointed)
        self.photo.solid_wanted.connect(self._to_solid)
        self.photo.survey_wanted.connect(self._to_survey)
        self.shown = "tape"

    def look(self, key: str) -> None:
        """Put a look up."""
        self.shown = key
        self._again()

    def point_at(self, anchor_id: str) -> None:
        """Have a place of the mesh in hand pointed at, in the place of the drawing."""
        self.pointing.begin(self.drawer.solid_id or "", anchor_id)
        self._again()
        self.pointing.pane.setFocus()

    def _pointed(self) -> None:
        """The first place of the mesh in hand that nobody has said yet is typed next."""
        self._again()
        self.drawer.focus_open()

    def _to_solid(self, solid_id: str) -> None:
        self.look("tape")
        self.pick_solid(solid_id)

    def _to_survey(self, survey_id: str) -> None:
        self.look("tape")
        self.show_survey(survey_id)

    def ready(self) -> bool:
        """Whether what is in view is worked out."""
        pointed = not self.pointing.isVisible() or self.pointing.pane.ready()
        return self.photo.ready() and not self.view.under.busy and pointed

    def stop(self) -> None:
        """Leave off work beside the window."""
        self.photo.stop()
        self.view.under.stop()
        self.pointing.pane.stop()

    def as_text(self) -> str:
        """The look in words."""
        return self.photo.as_text() if self.shown == "photo" else ""

    def in_view(self, path: str) -> bool:
        """Whether what a path is about is to be seen as it is."""
        return path.startswith("photos.") == (self.shown == "photo")

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        self.surveys = StillBox(self)
        self.surveys.setObjectName("surveys")
        self.surveys.setAccessibleName("Survey")
        self.surveys.setMinimumWidth(170)
        self.surveys.activated.connect(lambda i: self.show_survey(self.surveys.itemData(i)))
        row.addWidget(self.surveys)
        self.buttons: dict[str, QPushButton] = {}
        for name, text, tip, slot in (
            ("new_survey", "New survey", "Start another session with the tape, say after stripping.", self.new_survey),
            ("name_survey", "Name…", "Give this survey another name.", self.rename_survey),
            ("join_survey", "Join to first", "Lay this survey onto the first one by the points both have.", self.join),
            ("remove_survey", "Remove", "Take this survey out of the project.", self.remove_survey),
        ):
            button = QPushButton(text, self)
            button.setObjectName(name)
            button.setToolTip(tip)
            button.setFont(font(9))
            button.clicked.connect(lambda _=False, s=slot: s())
            row.addWidget(button)
            self.buttons[name] = button
        row.addStretch(1)
        self.add = QPushButton("Add what is in the way", self)
        self.add.setObjectName("add_solid")
        self.add.setFont(font(9))
        menu = QMenu(self.add)
        for kind, word in SOLID_NAMES.items():
            action = menu.addAction(
                f"{word[:1].upper()}{word[1:]}{' (tube)' if kind in ('driveshaft', 'exhaust') else ''}"
            )
            if action is not None:
                action.triggered.connect(lambda _=False, k=kind: self.add_solid(k))
        outline = menu.addAction("Outline from a DXF drawing…")
        if outline is not None:
            outline.triggered.connect(self.outline_wanted)
        mesh = menu.addAction("Mesh from a CAD program…")
        if mesh is not None:
            mesh.triggered.connect(self.mesh_wanted)
        self.add.setMenu(menu)
        row.addWidget(self.add)
        return row

    def _datum_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(14, 0, 14, 6)
        row.setSpacing(5)
        self._datum_fields: dict[str, QuantityField] = {}
        self._datum_labels: list[QLabel] = []
        self._datum_slots: dict[str, tuple[QHBoxLayout, str]] = {}
        self.way = self._box("datum_direction", WAYS, "direction")
        self.stood = self._box("datum_stood", STOOD, "stood")
        for key, caption in (
            ("zero_x_m", "tape zero at"),
            ("zero_sigma_m", "±"),
            ("front_rise_m", "rises front"),
            ("rear_rise_m", "rear"),
            ("centre_offset_m", "middle off"),
        ):
            label = Label(caption, self)
            label.setFont(font(8.5))
            label.setProperty("quiet", True)
            self._datum_labels.append(label)
            row.addWidget(label)
            slot = QHBoxLayout()
            row.addLayout(slot)
            self._datum_slots[key] = (slot, caption)
        row.addWidget(self.way)
        row.addWidget(self.stood)
        row.addStretch(1)
        return row

    def _box(self, name: str, choices: tuple[tuple[str, str], ...], key: str) -> QComboBox:
        box = StillBox(self)
        box.setObjectName(name)
        box.setAccessibleName({"direction": "Which way stations grow", "stood": "How the frame stood"}[key])
        box.setFont(font(9))
        for value, word in choices:
            box.addItem(word, value)
        box.activated.connect(lambda i: self._datum_choice(key, box.itemData(i)))
        return box

    def fit(self) -> None:
        """Bring all of the survey, or of the photo, into view."""
        if self.shown == "photo":
            self.photo.canvas.fit()
        elif self.pointing.isVisible():
            self.pointing.pane.fit()
        else:
            self.view.fit()

    def zoom(self, factor: float) -> None:
        """Draw larger or smaller."""
        if self.shown == "photo":
            self.photo.canvas.zoom(factor)
        elif self.pointing.isVisible():
            self.pointing.pane.zoom(factor)

    # What is shown

    def minimumSizeHint(self) -> QSize:
        """Small enough for a small screen; what does not fit is cut at the right."""
        return QSize(480, 360)

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        project = self._workspace.project
        self.looks.show_picked(self.shown)
        self._of_tape.setVisible(self.shown == "tape")
        self._stack.setCurrentWidget(self.photo if self.shown == "photo" else self.taped)
        if self.shown == "photo":
            self.photo.refresh(theme)
            return
        if project.tape.surveys is not self._joined:
            self.drawer.report = ""  # what was left over belongs to readings and places that have changed since
        known = [s.id for s in project.tape.surveys]
        if self.survey_id not in known:
            self.survey_id = known[0] if known else None
            self.drawer.point_id = None
        survey = project.survey(self.survey_id) if self.survey_id else None
        with QSignalBlocker(self.surveys):
            self.surveys.clear()
            for one in project.tape.surveys:
                self.surveys.addItem(f"{one.name} ({len(one.points)})", one.id)
            if not project.tape.surveys:
                self.surveys.addItem("no survey yet", None)
            self.surveys.setCurrentIndex(max(0, self.surveys.findData(self.survey_id)))
        self.buttons["join_survey"].setEnabled(len(known) > 1 and self.survey_id != known[0])
        self.buttons["remove_survey"].setEnabled(survey is not None)
        self.buttons["name_survey"].setEnabled(survey is not None)
        for box, value in (
            (self.way, survey.datum.direction if survey else None),
            (self.stood, survey.datum.stood if survey else None),
        ):
            box.setEnabled(survey is not None)
            if value is not None:
                with QSignalBlocker(box):
                    box.setCurrentIndex(box.findData(value))
        self._datum_values(survey)
        self.view.survey_id = self.strip.survey_id = self.drawer.survey_id = self.survey_id
        self.strip.suspects = self.view.suspects()
        self.view.selected, self.view.selected_solid = self.drawer.point_id, self.drawer.solid_id
        if self.pointing.solid_id != self.drawer.solid_id:
            self.pointing.begin("", "")  # another thing, or a station, is in hand
        points = self.pointing.solid() is not None
        self.view.setVisible(not points)
        self.pointing.setVisible(points)
        if points:
            self.pointing.refresh(theme)
        self.view.refresh(theme)
        self.strip.refresh(theme)
        self.drawer.refresh(theme)
        self.bar.refresh(theme)

    def _datum_values(self, survey: Survey | None) -> None:
        for one in (*self._datum_labels, self.way, self.stood):
            one.setVisible(survey is not None)
        for key, (slot, caption) in self._datum_slots.items():
            field = self._datum_fields.get(key)
            if survey is None:
                if field is not None:
                    field.hide()
                continue
            path = f"surveys.{survey.id}.datum.{key}"
            if field is None:
                title = "Tape zero, plus or minus" if caption == "±" else caption.capitalize()
                field = QuantityField(self._workspace, path, self, title=title, dim=False)
                field.setFixedWidth(56 if caption == "±" else 74)
                field.setFont(font(9))
                slot.addWidget(field)
                self._datum_fields[key] = field
            elif field.path != path:
                field.setModified(False)
                field.set_path(path)
            field.show()
            field.setObjectName(f"datum_{key}")
            field.refresh()

    def show_survey(self, survey_id: str | None) -> None:
        """Work on another survey; what is being typed is taken first, or kept where it was typed."""
        self.strip.take()
        self.strip.editor.setModified(False)
        self.shown = "tape"
        self.survey_id = survey_id
        self.drawer.point_id = None
        self.strip.column = self.strip.row = 0
        self.drawer.report = ""
        self._again()

    def show_field(self, path: str) -> bool:
        """Put the survey, station or solid of a path in hand."""
        parts = path.split(".")
        if parts[0] == "photos":
            self.look("photo")
            self.photo.show_path(path)
            return focus_field(self, path)
        self.look("tape")
        if parts[0] == "solids" and len(parts) > 1:
            self.pick_solid(parts[1])
        elif parts[0] == "surveys" and len(parts) > 1:
            self.show_survey(parts[1])
            if len(parts) > 3 and parts[2] == "points":
                self._picked(parts[3])
        return focus_field(self, path)

    def go(self, finding: Finding) -> None:
        """Bring the reading of a finding into view."""
        parts = finding.subject.split("/")
        if parts[0].startswith("solid:"):
            self.pick_solid(parts[0].removeprefix("solid:"))
            return
        if parts[0].startswith("photo:"):
            key = parts[0].removeprefix("photo:")
            one = self._workspace.project.photo(key)
            marks = () if one is None else tuple(m.id for m in one.marks)
            kind = "marks" if parts[-1] in marks else "traced"
            self.look("photo")
            self.photo.show_path(f"photos.{key}" + (f".{kind}.{parts[1]}" if len(parts) > 1 else ""))
            return
        self.look("tape")
        if len(parts) >= 2 and self._workspace.project.survey(parts[0]) is not None:
            self.show_survey(parts[0])
            self._picked(parts[1].split("+")[0])

    def _again(self) -> None:
        if self._theme is not None:
            self.refresh(self._theme)

    def _moved(self, point_id: str) -> None:
        self.drawer.solid_id = None
        self.drawer.point_id = point_id or None
        self.view.selected, self.view.selected_solid = self.drawer.point_id, None
        if self._theme is not None:
            self.drawer.refresh(self._theme)
        self.view.update()

    def _picked(self, point_id: str) -> None:
        self.strip.go_to(point_id)
        self._moved(point_id)

    def pick_solid(self, solid_id: str | None) -> None:
        """Show a solid in the drawer."""
        self.shown = "tape"
        self.drawer.solid_id = solid_id
        self._again()

    # Hands

    def new_survey(self) -> None:
        """Start a survey; the first station can be typed at once."""
        new = free_id("survey-", (s.id for s in self._workspace.project.tape.surveys))
        survey = Survey(id=new, name=new.replace("-", " ").capitalize())
        if self._workspace.do(PutInList("surveys", survey, "Start a survey")):
            self.show_survey(survey.id)
            self.strip.go(0, 0)

    def rename_survey(self) -> None:
        """Ask for another name."""
        survey = self._workspace.project.survey(self.survey_id) if self.survey_id else None
        if survey is None:
            return
        name = dialogs.ask_text(self, "Name the survey", f"Another name for “{survey.name}”:")
        if name is not None and name.strip():
            self._workspace.do(
                PutInList("surveys", msgspec.structs.replace(survey, name=name.strip()[:120]), "Name the survey")
            )

    def _first_survey(self) -> str | None:
        """A survey to type into when there is none yet."""
        if self._workspace.do(PutInList("surveys", Survey(id="survey-1", name="Survey 1"), "Start a survey")):
            self.survey_id = "survey-1"
        return self.survey_id

    def remove_survey(self) -> None:
        """Take the survey out (undo brings it back)."""
        survey = self._workspace.project.survey(self.survey_id) if self.survey_id else None
        if survey is not None:
            self._workspace.do(TakeFromList("surveys", (survey.id,), f"Remove {survey.name}"))

    def _datum_choice(self, key: str, value: str) -> None:
        survey = self._workspace.project.survey(self.survey_id) if self.survey_id else None
        if survey is None:
            return
        if key == "direction":
            self._workspace.do(SetChoice(f"surveys.{survey.id}.datum.direction", value, "way of the tape"))
            return
        changes: dict[str, object] = {"stood": value}
        for end in ("front", "rear") if value in ("ride", "bump") else ():
            layout = self._workspace.project.layout(end)
            bump = BUMP if layout is None else layout.bump_m
            changes[f"{end}_rise_m"] = bump if value == "bump" else 0.0
        datum = msgspec.structs.replace(survey.datum, **changes)
        self._workspace.do(
            PutInList("surveys", msgspec.structs.replace(survey, datum=datum), "Say how the frame stood")
        )

    def join(self) -> None:
        """Fit this survey onto the first one and show what is left over."""
        project = self._workspace.project
        survey = project.survey(self.survey_id) if self.survey_id else None
        if survey is None or survey.id == project.tape.surveys[0].id:
            return
        try:
            found = self._workspace.study.merged(survey.id)
        except (StoutError, ValueError) as why:
            self._workspace.said.emit(
                why.words if isinstance(why, StoutError) else f"The surveys cannot be joined: {why}.",
                True,
            )
            return
        if self._workspace.do(
            PutInList("surveys", msgspec.structs.replace(survey, datum=found.datum), f"Join {survey.name}")
        ):
            self.drawer.report, self._joined = (
                merge_words(found, self._workspace.unit),
                self._workspace.project.tape.surveys,
            )
            self.drawer.point_id = self.drawer.solid_id = None
            self._again()

    def add_solid(self, kind: SolidKind) -> None:
        """Put a new solid where such a part usually sits, to be given its own numbers."""
        project = self._workspace.project
        new = free_id(f"{kind.replace('_', '-')}-", (s.id for s in project.tape.solids))
        length, high = project.rig.wheelbase_m, max(project.rig.front.loaded, project.rig.rear.loaded)
        name = SOLID_NAMES[kind][:1].upper() + SOLID_NAMES[kind][1:]
        solid: Solid
        if kind in ("driveshaft", "exhaust"):
            y = 0.0 if kind == "driveshaft" else -0.3
            solid = TubeSolid(
                id=new,
                name=name,
                kind=kind,
                path_m=((0.30, y, high), (round(0.5 * length, 3), y, round(high + 0.1, 3))),
                diameter_m=0.0762,
            )
        else:
            x = round(0.5 * length, 3)
            solid = BoxSolid(
                id=new,
                name=name,
                kind=kind,
                low_m=(x - 0.15, -0.15, round(high, 3)),
                high_m=(x + 0.15, 0.15, round(high + 0.25, 3)),
            )
        if self._workspace.do(PutInList("solids", solid, f"Add {SOLID_NAMES[kind]}")):
            self.pick_solid(new)

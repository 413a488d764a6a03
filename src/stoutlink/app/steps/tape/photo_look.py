"""Photo: places measured in a photograph of a plane. Marks whose places are known settle the plane, what is traced in it is given to pivots,
to the tape, or put in the way."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import cast

import msgspec
from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.app.steps.tape.photo_canvas import Hand, PhotoCanvas, Shown, Spot
from stoutlink.app.steps.tape.photo_fields import CAUTION, GROUPS, HANDS, NET, NO_PHOTO, entries, names_of, picked_words
from stoutlink.app.steps.tape.photo_file import PhotoFile
from stoutlink.app.steps.tape.photo_give import Give, pivots_to_give, to_pivot, to_solids, to_tape
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.app.widgets.path_drawer import PathDrawer
from stoutlink.app.widgets.photos import Photos
from stoutlink.core.advice.picture_rules import fit_words, odd_marks, traced_words
from stoutlink.core.analysis.survey.traced import TracedPlaces
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.plane_picture import PictureMark, PlanePicture, Traced, TracedKind
from stoutlink.core.drawing.picture_plane import net_lines
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.editing.picture_edits import StandOn
from stoutlink.core.editing.pivots import Pivot
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.shown import show
from stoutlink.core.storage.photos import find_photo, photo_facts


class PhotoLook(Look):
    """The photos of a project, one at a time. ``solid_wanted``: one was made and is to be shown in the tape's drawer."""

    solid_wanted = pyqtSignal(str)
    survey_wanted = pyqtSignal(str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "photo_look", "Photo", parent)
        self.setAcceptDrops(True)
        self.key, self.hand, self.group = "", "", "picture"
        self.picked: Spot | None = None
        self.photos = Photos(self, workspace, lambda: self._take)
        self.file = PhotoFile(workspace, self)
        self.file.ready.connect(self._again)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(2)
        outer.addLayout(self._top())
        middle = QHBoxLayout()
        middle.setSpacing(0)
        self.canvas = PhotoCanvas(self)
        middle.addWidget(self.canvas, 1)
        middle.addWidget(self._column())
        outer.addLayout(middle, 1)
        self.canvas.put.connect(self._put)
        self.canvas.drawn.connect(self._drawn)
        self.canvas.picked.connect(self.pick)
        self.canvas.moved.connect(self._moved)
        self.canvas.removed.connect(self._remove_picked)

    def _top(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(14, 0, 14, 4)
        self.box = StillBox(self)
        self.box.setObjectName("plane_photos")
        self.box.setAccessibleName("Photo")
        self.box.setMinimumWidth(170)
        self.box.activated.connect(lambda i: self.show_picture(self.box.itemData(i)))
        row.addWidget(self.box)
        self.add = self.put_button("add_plane_photo", "Photo…", "Put a photo of the rig beside the project.", row)
        self.add.clicked.connect(lambda _=False: self.photos.choose("A photo to measure in"))
        self.hands = LookBar(HANDS, "photo_hand", 8, self)
        self.hands.picked.connect(self.take_hand)
        row.addWidget(self.hands)
        row.addStretch(1)
        self.gone = self.put_button(
            "remove_plane_photo", "Remove", "Take this photo and its marks away; undo brings them back.", row
        )
        self.gone.clicked.connect(lambda _=False: self._remove_picture())
        return row

    def _column(self) -> QWidget:
        inside = QWidget(self)
        inside.setObjectName("photo_column")
        column = QVBoxLayout(inside)
        column.setContentsMargins(10, 4, 10, 4)
        column.setSpacing(5)
        self.now, self.more = Label("", inside), Label("", inside)
        for label, part, size in ((self.now, "now", 10), (self.more, "more", 9)):
            label.setObjectName(f"photo_{part}")
            label.setFont(font(size, bold=part == "now"))
            label.setWordWrap(True)
            column.addWidget(label)
        self.groups = LookBar(GROUPS, "photo_group", 8, inside)
        self.groups.picked.connect(self.show_group)
        column.addWidget(self.groups)
        self.known = StillBox(inside)
        self.known.setObjectName("mark_stands_on")
        self.known.setAccessibleName("What the mark stands on")
        self.known.setToolTip("Places in this plane that the rig or the tape knows already.")
        self.known.setFont(font(9))
        self.known.activated.connect(self._stand_on)
        column.addWidget(self.known)
        self.drawer = PathDrawer(self.workspace, "photo_drawer", 1, inside, wide=118)
        column.addWidget(self.drawer)
        self.gives: dict[str, QPushButton] = {}
        for name, words, tip in (
            ("to_pivot", "To a pivot", "Moves a pivot to where this point is seen, carried to the pivot's own distance across."),
            ("to_tape", "To the tape", "Puts its corners among the stations, with their ±."),
            ("to_solids", "In the way", "Makes it something in the way; its ± is added to the clearance wanted."),
        ):  # fmt: skip
            self.gives[name] = self.put_button(name, words, tip, column)
        self.menu = QMenu(self.gives["to_pivot"])
        self.menu.aboutToShow.connect(self._fill_menu)
        self.gives["to_pivot"].setMenu(self.menu)
        self.gives["to_tape"].clicked.connect(lambda _=False: self._give(to_tape, self.survey_wanted.emit))
        self.gives["to_solids"].clicked.connect(lambda _=False: self._give(to_solids, self.solid_wanted.emit))
        self.drop = self.put_button(
            "remove_spot", "Take it away", "Takes away the mark or what is traced that is picked.", column
        )
        self.drop.clicked.connect(lambda _=False: self._remove_picked())
        column.addStretch(1)
        self.caution = Label(CAUTION, inside)
        self.caution.setObjectName("photo_caution")
        self.caution.setFont(font(8.5))
        self.caution.setProperty("quiet", True)
        self.caution.setWordWrap(True)
        column.addWidget(self.caution)
        area = QScrollArea(self)
        area.setObjectName("photo_column_area")
        area.setWidget(inside)
        area.setWidgetResizable(True)
        area.setFixedWidth(286)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        return area

    # What is shown

    @property
    def picture(self) -> PlanePicture | None:
        """The photo in view."""
        every = self.workspace.project.tape.photos
        return next((one for one in every if one.id == self.key), every[0] if every else None)

    @property
    def mark(self) -> PictureMark | None:
        """The mark picked."""
        one, spot = self.picture, self.picked
        if one is None or spot is None or spot.kind != "mark":
            return None
        return next((m for m in one.marks if m.id == spot.id), None)

    @property
    def traced(self) -> Traced | None:
        """What is traced and picked."""
        one, spot = self.picture, self.picked
        if one is None or spot is None or spot.kind != "traced":
            return None
        return next((m for m in one.traced if m.id == spot.id), None)

    def prepare(self) -> None:
        one, study, unit = self.picture, self.workspace.study, self.workspace.unit
        if self.mark is None and self.traced is None:
            self.picked = None
        with QSignalBlocker(self.box):
            self.box.clear()
            for each in self.workspace.project.tape.photos:
                self.box.addItem(each.name, each.id)
            if one is None:
                self.box.addItem("no photo yet", None)
            else:
                self.box.setCurrentIndex(self.box.findData(one.id))
        self.hands.show_picked(self.hand)
        self.hands.setEnabled(one is not None)
        self.gone.setEnabled(one is not None)
        self.groups.setVisible(one is not None)
        self.groups.show_picked(self.group)
        found = None if one is None else study.picture(one.id)
        places = () if one is None else study.traced(one.id)
        self.now.setText("" if found is None else fit_words(found))
        self.now.setVisible(found is not None)
        mark, traced = self.mark if self.group == "mark" else None, self.traced if self.group == "traced" else None
        self.more.setText(
            NO_PHOTO if one is None or found is None else picked_words(one, found, places, mark, traced, unit)
        )
        self.more.setVisible(bool(self.more.text()))
        self.drawer.show_entries(() if one is None else entries(one, self.group, self.mark, self.traced))
        self._show_known()
        had = next((p for p in places if traced is not None and p.traced.id == traced.id), None)
        for name, button in self.gives.items():
            button.setVisible(traced is not None)
            button.setEnabled(_fits(name, had) if found is not None else False)
        self.drop.setVisible(self.group in ("mark", "traced") and self.picked is not None)
        assert self.theme is not None
        image, waiting = (None, "") if one is None else self.file.of(one)
        fit = None if found is None else found.fit
        self.canvas.show_with(
            self.theme,
            Shown(
                one,
                image,
                waiting,
                self.picked,
                cast(Hand, self.hand),
                names_of(one, places),
                ()
                if fit is None or found is None
                else tuple((m.id, (float(r[0]), float(r[1]))) for m, r in zip(found.marks, fit.residual, strict=True)),
                frozenset() if found is None else frozenset(m.id for m in odd_marks(found)),
                () if found is None else net_lines(found, NET[unit]),
            ),
        )

    def _show_known(self) -> None:
        one, mark = self.picture, self.mark if self.group == "mark" else None
        self.known.setVisible(one is not None and mark is not None)
        if one is None or mark is None:
            return
        with QSignalBlocker(self.known):
            self.known.clear()
            self.known.addItem("stands on…", None)
            for k, known in enumerate(self.workspace.study.known_places(one.id)):
                self.known.addItem(known.name, k)
            if self.known.count() == 1:
                self.known.addItem("nothing known lies in this plane", None)

    def show_picture(self, key: str | None) -> None:
        """Have another photo in view."""
        if key is not None:
            self.key, self.picked = key, None
            self._again()

    def show_group(self, key: str) -> None:
        """Other fields."""
        self.group = key
        one = self.picture
        if key != "picture" and one is not None and (self.picked is None or self.picked.kind != key):
            first = one.marks[:1] if key == "mark" else one.traced[:1]
            self.picked = Spot(key, first[0].id) if first else None  # type: ignore[arg-type]
        self._again()

    def pick(self, spot: Spot) -> None:
        """Have a mark or something traced picked."""
        self.picked, self.group = spot, spot.kind
        self._again()

    def take_hand(self, key: str) -> None:
        """What a click does from now on."""
        self.hand = key
        self._again()

    def show_path(self, path: str) -> None:
        """Have the field of a path in view."""
        parts = path.split(".")
        if len(parts) < 2:
            return
        self.key, self.group = parts[1], "picture"
        if len(parts) > 3 and parts[2] in ("marks", "traced"):
            kind = "mark" if parts[2] == "marks" else "traced"
            self.picked, self.group = Spot(kind, parts[3]), kind  # type: ignore[arg-type]
        self._again()

    def _again(self) -> None:
        if self.theme is not None:
            self.refresh(self.theme)

    def ready(self) -> bool:
        """Whether the photo is unpacked."""
        return not self.file.busy

    def stop(self) -> None:
        """Leave off work beside the window."""
        self.photos.stop()
        self.file.stop()

    def as_text(self) -> str:
        """Photo, marks and what is traced, in words."""
        one, unit = self.picture, self.workspace.unit
        if one is None:
            return "No photo yet."
        found = self.workspace.study.picture(one.id)
        lines = [one.name, "" if found is None else fit_words(found)]
        for p in self.workspace.study.traced(one.id):
            lines.append(f"{p.traced.name or p.traced.id}: {traced_words(p, one, unit)}")
            if len(p.places) > 1 and p.why is None:
                lines += [
                    "  " + ", ".join(f"{show(v, 'length', unit)} ± {show(2 * s, 'length', unit)}" for v, s in zip(q.at, q.sigma, strict=True))
                    for q in p.places
                ]  # fmt: skip
        return "\n".join([*lines, CAUTION])

    # Hands

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        self.photos.drag(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        self.photos.drop(event)

    def _take(self, name: str) -> None:
        """A photo lies beside the project: it comes in."""
        path = find_photo(self.workspace.photo_home, name)
        if path is None:
            return
        try:
            facts = photo_facts(path)
        except StoutError as why:
            self.workspace.said.emit(why.words, True)
            return
        key = free_id("photo-", (p.id for p in self.workspace.project.tape.photos))
        picture = PlanePicture(
            id=key,
            name=f"Photo {len(self.workspace.project.tape.photos) + 1}",
            photo=name,
            wide_px=facts.wide,
            high_px=facts.high,
            focal_mm=facts.focal_mm,
        )
        if self.workspace.do(PutInList("photos", picture, "Take a photo in")):
            self.key, self.picked, self.hand, self.group = key, None, "mark", "picture"
            self._again()

    def _put(self, pixel: tuple[float, float]) -> None:
        one = self.picture
        if one is None:
            return
        if self.hand == "mark":
            mark = PictureMark(id=free_id("m", (m.id for m in one.marks)), pixel=pixel)
            if self.workspace.do(PutInList(f"photos.{one.id}.marks", mark, "Set a mark")):
                self.pick(Spot("mark", mark.id))
        else:
            self._drawn((pixel,))

    def _drawn(self, pixels: tuple[tuple[float, float], ...]) -> None:
        one = self.picture
        if one is None or self.hand not in ("point", "line", "outline"):
            return
        kind = cast(TracedKind, self.hand)
        key = free_id("t", (m.id for m in one.traced))
        traced = Traced(id=key, name=f"{kind.capitalize()} {key[1:]}", kind=kind, pixels=pixels)
        if self.workspace.do(PutInList(f"photos.{one.id}.traced", traced, f"Trace a {kind}")):
            self.pick(Spot("traced", key))

    def _moved(self, spot: Spot, pixel: tuple[float, float], gesture: str) -> None:
        one = self.picture
        if one is None:
            return
        if spot.kind == "mark":
            mark = next((m for m in one.marks if m.id == spot.id), None)
            if mark is not None:
                new = msgspec.structs.replace(mark, pixel=pixel)
                self.workspace.do(PutInList(f"photos.{one.id}.marks", new, "Move a mark", gesture=gesture))
            return
        traced = next((m for m in one.traced if m.id == spot.id), None)
        if traced is not None and spot.corner < len(traced.pixels):
            pixels = tuple(pixel if k == spot.corner else px for k, px in enumerate(traced.pixels))
            changed = msgspec.structs.replace(traced, pixels=pixels)
            self.workspace.do(PutInList(f"photos.{one.id}.traced", changed, "Move what is traced", gesture=gesture))

    def _remove_picked(self) -> None:
        one, spot = self.picture, self.picked
        if one is None or spot is None:
            return
        where = "marks" if spot.kind == "mark" else "traced"
        self.picked = None
        self.workspace.do(TakeFromList(f"photos.{one.id}.{where}", (spot.id,), "Take away from the photo"))

    def _remove_picture(self) -> None:
        one = self.picture
        if one is not None:
            self.picked = None
            self.workspace.do(TakeFromList("photos", (one.id,), f"Remove {one.name}"))

    def _stand_on(self, i: int) -> None:
        one, mark, k = self.picture, self.mark, self.known.itemData(i)
        if one is None or mark is None or k is None:
            return
        known = self.workspace.study.known_places(one.id)[k]
        self.workspace.do(StandOn(one.id, mark.id, known.name, known.at, known.sigma))

    # What is traced goes where it belongs

    def _had(self) -> tuple[PlanePicture, TracedPlaces] | None:
        one, traced = self.picture, self.traced
        if one is None or traced is None:
            return None
        had = next((p for p in self.workspace.study.traced(one.id) if p.traced.id == traced.id), None)
        return None if had is None else (one, had)

    def _give(self, how: Give, after: Callable[[str], object]) -> None:
        got = self._had()
        if got is not None and (name := how(self.workspace, *got)) is not None:
            after(name)

    def _fill_menu(self) -> None:
        self.menu.clear()
        for words, layout, pivot in pivots_to_give(self.workspace.project):
            action = self.menu.addAction(words)
            if action is not None:
                action.triggered.connect(partial(self.to_pivot, layout, pivot))
        if self.menu.isEmpty():
            action = self.menu.addAction("No layout yet: start one in Layout")
            if action is not None:
                action.setEnabled(False)

    def to_pivot(self, layout: Layout, pivot: Pivot, *_: object) -> None:
        """Move a pivot to where it is seen."""
        got = self._had()
        if got is not None:
            to_pivot(self.workspace, *got, layout, pivot)


def _fits(button: str, had: TracedPlaces | None) -> bool:
    """Whether something traced can go there."""
    if had is None or had.why is not None:
        return False
    kind = had.traced.kind
    return (
        had.across is not None
        and {"to_pivot": kind == "point", "to_tape": kind != "outline", "to_solids": kind == "outline"}[button]
    )

"""Find me a layout: what is wanted, where pivots may lie, the search beside the window, its answers."""

from __future__ import annotations

from functools import partial

import msgspec
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, bar, flow, plate, quiet_label, scrolled, text
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.advice.search_words import free_words, gives_up
from stoutlink.core.analysis.search.defaults import default_search
from stoutlink.core.analysis.search.find import Answer, Found, Relax
from stoutlink.core.document.headline import HEADLINES, WANT_IDS, headline_words
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.search import Search
from stoutlink.core.drawing.axle_views import link_shapes, ride_pose_of
from stoutlink.core.drawing.layout_views import search_shapes
from stoutlink.core.drawing.shapes import Line, Shape, ViewName
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.editing.layout_edits import PutLayout
from stoutlink.core.editing.pivots import of_link
from stoutlink.core.errors import StoutError
from stoutlink.core.study.find_free import find_free


class FindLook(LayoutLook):
    """Bands and weights above, answers below; the boxes stand in the views."""

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "find", "Find me a layout", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        row = QHBoxLayout()
        self.go, self.stop_button, self.anew = (
            QPushButton("Find me a layout", self),
            QPushButton("Give up", self),
            QPushButton("Boxes and bands anew", self),
        )
        for one, name, tip, slot in (
            (
                self.go,
                "find_go",
                "Search the boxes for layouts that meet every band; the window stays free.",
                self.search,
            ),
            (self.stop_button, "find_stop", "Leave off; what was found so far stays.", self._give_up),
            (
                self.anew,
                "find_anew",
                "Boxes around the pivots as they are now, as far as rails, belly and tyres let them go; bands of your schools.",
                self._anew,
            ),
        ):
            one.setObjectName(name)
            one.setToolTip(tip)
            one.setFont(font(9))
            one.clicked.connect(slot)
            row.addWidget(one)
        row.addStretch(1)
        inside.addLayout(row)
        self.wants = QWidget(self)
        self.wants.setObjectName("find_wants")
        self._grid = QGridLayout(self.wants)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(6)
        self._grid.setVerticalSpacing(2)
        inside.addWidget(self.wants)
        self._fields: list[QuantityField] = []
        self._listed: tuple[str, ...] = ()
        self.drawer = PathDrawer(workspace, "find_drawer", 2, self)
        inside.addWidget(self.drawer)
        self.list = Picture("find_answers", "Layouts found", self)
        self.area = scrolled(self.list, self)
        inside.addWidget(self.area, 1)
        self.work: Background[Found] = Background(self)
        self.found: Found | None = None
        self.part: float | None = None
        self._some: tuple[Answer, ...] = ()
        self._shown: int | None = None
        self._asked: tuple[object, object] | None = None
        views.selected_changed.connect(self._again)

    def _again(self) -> None:
        if self.theme is not None and self.isVisible():
            self.refresh(self.theme)

    def prepare(self) -> None:
        layout, project = self.layout_shown, self.workspace.project
        search = project.search(self.workspace.end)
        usable = layout is not None and layout.leaf is None
        if self._asked is not None and (layout is None or self._asked != (layout, search)) and self.part is None:
            self.found, self._some, self._shown, self._asked = None, (), None, None
        self.go.setEnabled(usable and self.part is None)
        self.anew.setEnabled(usable and self.part is None)
        self.stop_button.setVisible(self.part is not None)
        self._show_wants(search if usable else None)
        self._show_box(search)
        assert self.theme is not None
        self.list.show_with(self.theme, self._paint)

    def _show_wants(self, search: Search | None) -> None:
        listed = tuple(w.id for w in search.wants) if search is not None else ()
        key = (self.workspace.end, *listed)
        if key != self._listed:
            self._listed = key
            self._fields = []
            while (item := self._grid.takeAt(0)) is not None:
                gone = item.widget()
                if gone is not None:
                    gone.hide()
                    gone.deleteLater()
            if search is not None:
                for column, word in enumerate(("wanted", "from", "to", "weight")):
                    self._grid.addWidget(quiet_label(word, self.wants), 0, column)
                for i, name in enumerate(listed):
                    self._grid.addWidget(quiet_label(HEADLINES[name].field, self.wants), i + 1, 0)
                    for column, key_name in enumerate(("low", "high", "weight")):
                        field = QuantityField(
                            self.workspace, f"searches.{search.id}.wants.{name}.{key_name}", self.wants
                        )
                        field.setFixedSize(72, 20)
                        self._grid.addWidget(field, i + 1, column + 1)
                        self._fields.append(field)
        for field in self._fields:
            field.refresh()
        self.wants.setVisible(bool(listed))

    def _show_box(self, search: Search | None) -> None:
        """The box of the pivot picked."""
        layout, chosen = self.layout_shown, self.views.selected
        entries: tuple[Entry, ...] = ()
        if (
            search is not None
            and layout is not None
            and chosen is not None
            and of_link(chosen)
            and (link := layout.link(chosen[0])) is not None
        ):
            names = {f"{name}:{chosen[1]}" for name, _ in layout.moved_with(link, chosen[1])}
            box = next((b for b in search.boxes if b.id in names), None)
            if box is not None:
                at = f"searches.{search.id}.boxes.{box.id}"
                entries = tuple(
                    Entry(f"{at}.{end}.{i}", f"{word} {'from' if end == 'low_m' else 'to'}")
                    for i, word in enumerate(("station", "side", "height"))
                    for end in ("low_m", "high_m")
                )
        self.drawer.show_entries(entries)

    def overlay(self, view: ViewName) -> list[Shape]:
        search = self.workspace.project.search(self.workspace.end)
        layout = self.layout_shown
        out: list[Shape] = (
            search_shapes(search, view) if search is not None and layout is not None and layout.leaf is None else []
        )
        answers = self.answers()
        if self._shown is not None and self._shown < len(answers):
            ride = ride_pose_of(self.workspace.rig, self.workspace.end)
            out += [
                Line(one.points, "compared")
                for one in link_shapes(answers[self._shown].layout, view, ride, ride.centre)
            ]
        return out

    def answers(self) -> tuple[Answer, ...]:
        """What there is so far."""
        return self.found.answers if self.found is not None else self._some

    def _anew(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.workspace.do(
                PutInList("searches", default_search(self.workspace.project, layout), "Boxes and bands of the search")
            )

    def search(self) -> None:
        """Search beside the window."""
        layout, project = self.layout_shown, self.workspace.project
        if layout is None:
            return
        if project.search(layout.end) is None:
            self._anew()
            project = self.workspace.project
        search = project.search(layout.end)
        if search is None:
            return
        study = self.workspace.study
        self.found, self._some, self._shown, self._asked, self.part = None, (), None, (layout, search), 0.0

        def work(tell: Progress) -> Found:
            def told(part: float, answers: tuple[Answer, ...]) -> bool:
                self._some = answers
                return tell(part)

            return find_free(study, layout.end, search, told)

        self.work.start(work, self._done, self._moved, self._failed)
        self._again()

    def _moved(self, part: float) -> None:
        self.part = part
        self.list.update()

    def _failed(self, why: StoutError) -> None:
        self.part = None
        self.workspace.said.emit(why.words, True)
        self._again()

    def _done(self, found: Found) -> None:
        self.found, self.part = found, None
        self._again()
        count = len(found.answers)
        words = (
            f"{count} layout{'s' if count != 1 else ''} found in {found.seconds:.1f} s."
            if count
            else "Nothing meets every band; what to relax stands in Find."
        )
        self.workspace.said.emit(words, not count)
        self.views.update()

    def _give_up(self) -> None:
        some = self._some
        self.work.stop()
        self.part = None
        self.found = Found(some, stopped=True)
        self._again()

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, y = float(picture.width()), 2.0
        layout = self.layout_shown
        if layout is None or layout.leaf is not None:
            flow(p, QRectF(6, 6, w - 12, 60), "Leaf springs have no pivots to search for.", t.quiet, size=10)
            return
        if self.part is not None:
            bar(p, t, QRectF(4, y + 2, w - 8, 8), self.part, t.dye)
            y += 16
        elif self.found is None:
            y += (
                flow(
                    p,
                    QRectF(4, y, w - 8, 80),
                    "Boxes, dashed in the views, say where each pivot may lie; bands what the numbers shall be. Every answer is rounded to whole tape readings and judged afresh.",
                    t.quiet,
                    size=8.5,
                )
                + 4
            )
        answers = self.answers()
        for i, one in enumerate(answers):
            y = self._answer(p, t, picture, i, one, answers, y)
        if self.found is not None and not answers and not self.found.stopped:
            y = self._nothing(p, t, picture, self.found, y)
        if self.found is not None and self.found.stopped and not answers:
            y += flow(p, QRectF(4, y, w - 8, 40), "Given up before anything was found.", t.quiet, size=9)
        if picture.minimumHeight() != int(y + 6):
            picture.setMinimumHeight(int(y + 6))

    def _answer(
        self, p: QPainter, t: Theme, picture: Picture, i: int, one: Answer, answers: tuple[Answer, ...], y: float
    ) -> float:
        w = float(picture.width())
        words = ", ".join(
            headline_words(name, one.values[name], self.workspace.unit)
            for name in one.values
            if name in WANT_IDS and name not in ("travel", "clearance")
        )
        gives = " ".join(
            x for x in (free_words(one, self.workspace.unit), gives_up(one, answers, self.workspace.unit)) if x
        )
        box = QRectF(2, y, w - 4, 48 if gives else 34)
        plate(p, t, box, raised=True, picked=self._shown == i)
        text(p, QRectF(10, y + 2, 24, 16), f"{i + 1}", t.dye, size=11, bold=True)
        p.save()
        p.setClipRect(box)
        flow(p, QRectF(30, y + 2, w - 98, 30), words, t.text, size=8)
        if gives:
            text(p, QRectF(30, y + 31, w - 98, 14), gives, t.quiet, size=8, elide=True)
        p.restore()
        picture.hits.append(
            Hit(box, f"{words}. {gives} Click to see it in the views.", partial(self._show, i), f"answer {i}")
        )
        take = QRectF(w - 62, y + 6, 54, 22)
        plate(p, t, take, raised=True)
        text(p, take, "Take", t.text, size=9, align="centre")
        picture.hits.append(
            Hit(
                take,
                "Take it in as a layout of its own, held against the one in work.",
                partial(self.take, one),
                f"take {i}",
            )
        )
        return y + box.height() + 4

    def _nothing(self, p: QPainter, t: Theme, picture: Picture, found: Found, y: float) -> float:
        w, unit = float(picture.width()), self.workspace.unit
        y += flow(p, QRectF(4, y, w - 8, 40), "Nothing in these boxes meets every band.", t.torch, size=9.5) + 4
        for one in found.relax:
            words = f"{HEADLINES[one.want.id].field}: {headline_words(one.want.id, one.low, unit)} to {headline_words(one.want.id, one.high, unit)} would do"
            box = QRectF(2, y, w - 4, 24)
            plate(p, t, box, raised=True)
            text(p, QRectF(8, y, w - 90, 24), words, t.text, size=8.5, elide=True)
            text(p, QRectF(w - 82, y, 74, 24), "Widen to that", t.dye, size=8.5, align="right")
            picture.hits.append(
                Hit(box, f"{words}, everything else held.", partial(self._widen, one), f"relax {one.want.id}")
            )
            y += 28
        if found.nearest is not None:
            missed = ", ".join(
                headline_words(k, found.nearest.values[k], unit)
                for k, v in found.nearest.missed.items()
                if v > 0 and k in WANT_IDS
            )
            lead = "No single band is enough. " if not found.relax else ""
            y += flow(p, QRectF(4, y, w - 90, 60), f"{lead}The nearest is out with {missed}.", t.quiet, size=8.5) + 4
            take = QRectF(w - 62, y - 24, 54, 22)
            plate(p, t, take, raised=True)
            text(p, take, "Take", t.text, size=9, align="centre")
            nearest = found.nearest
            picture.hits.append(
                Hit(take, "Take the nearest in as a layout of its own.", lambda: self.take(nearest), "take nearest")
            )
        return y

    def _show(self, i: int) -> None:
        self._shown = None if self._shown == i else i
        self.list.update()
        self.views.update()

    def take(self, answer: Answer) -> None:
        """Take an answer in as a new layout."""
        layout, project = self.layout_shown, self.workspace.project
        if layout is None:
            return
        taken = [one.name for one in project.linkage.layouts]
        name = next(n for i in range(1, 1000) if (n := f"{layout.name[:100]}, found {i}") not in taken)
        new = msgspec.structs.replace(
            answer.layout, id=free_id(f"{layout.end}-", (one.id for one in project.linkage.layouts)), name=name
        )
        self.views.select(None)
        self.workspace.do(PutLayout(new, (), "Take a layout that was found"))

    def _widen(self, one: Relax) -> None:
        search = self.workspace.project.search(self.workspace.end)
        if search is None:
            return
        pad = 0.02 * (one.high - one.low)
        wants = tuple(
            msgspec.structs.replace(
                w,
                low=min(w.low, one.low - (pad if one.low < w.low else 0.0)),
                high=max(w.high, one.high + (pad if one.high > w.high else 0.0)),
            )
            if w.id == one.want.id
            else w
            for w in search.wants
        )
        if self.workspace.do(PutInList("searches", msgspec.structs.replace(search, wants=wants), "Widen a band")):
            self.search()

    def stop(self) -> None:
        self.work.stop()

    def as_text(self) -> str:
        lines = []
        for i, one in enumerate(self.answers()):
            lines.append(
                f"{i + 1}\t"
                + "\t".join(headline_words(k, v, self.workspace.unit) for k, v in one.values.items() if k in WANT_IDS)
            )
        return "\n".join(lines)

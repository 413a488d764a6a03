"""Care: what is due by distance and by date, what broke beside what the ladder had said, spares."""

from __future__ import annotations

from functools import partial
from typing import Literal

import msgspec
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, bar, flow, plate, text
from stoutlink.core.advice.log_words import CARE_CAUTION, care_words
from stoutlink.core.analysis.log.care import CareDue
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.log import CARE_WORDS, Broken, CareDone, CareItem, CareKind, Spare
from stoutlink.core.editing.edits import PutInList, ReplaceList, TakeFromList
from stoutlink.core.editing.log_edits import CareWasDone
from stoutlink.core.quantity.shown import show
from stoutlink.core.reports.log_results import broken_words, log_text

GROUPS = (
    ("care", "Care", "What it is, how often, whose interval that is."),
    ("broken", "Broken", "A part that broke, beside what the ladder had said."),
    ("spare", "Spares", "What is along, and what should be."),
)
ENDS = (("front", "front"), ("rear", "rear"))
KINDS = tuple(CARE_WORDS.items())


class CareLook(WorkingLook):
    """One list of each; the line picked has its fields below."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "care", "Care", GROUPS, "Care, broken, spares", parent, columns=3, wide=170)
        self.done = self.large(
            "care_done", "Done today", "Writes down that it was looked after today, at the distance driven.", self._done
        )
        self.top.addStretch(1)
        self.add = self.small("add_care", "One more", "A line of the kind whose fields are shown.", self._add)
        self.usual = self.small(
            "usual_care",
            "The usual ones",
            "Bolts, oil, ends, bearings, brakes: common practice, to be changed.",
            self._usual,
        )
        self.gone = self.small("remove_care", "Remove", "Take the line away; undo brings it back.", self._remove)
        self.foot.addStretch(1)
        self.keys = {"care": "", "broken": "", "spare": ""}

    @property
    def due(self) -> tuple[CareDue, ...]:
        """What is to be looked after, what is over first."""
        return self.workspace.study.care(self.workspace.today())

    def _items(self, group: str) -> tuple[CareItem | Broken | Spare, ...]:
        log = self.workspace.project.log
        return log.care if group == "care" else log.broken if group == "broken" else log.spares

    def picked(self, group: str) -> CareItem | Broken | Spare | None:
        """The line picked of a group."""
        items = self._items(group)
        return next((x for x in items if x.id == self.keys[group]), items[0] if items else None)

    def prepare(self) -> None:
        due = self.due
        over, soon = [d for d in due if d.due], [d for d in due if d.soon]
        driven = show(self.workspace.project.bench.first_drive.driven_m, "distance", self.workspace.unit)
        self.done.setVisible(self.group == "care" and bool(due))
        self.usual.setVisible(not due)
        self.gone.setVisible(self.picked(self.group) is not None)
        if not due and not self._items("broken") and not self._items("spare"):
            self.show_frame(
                "Nothing to look after is written down.",
                "“The usual ones” puts down what wants looking after on most rigs.",
            )
            return
        now = (
            f"{len(over)} due, {len(soon)} soon; driven {driven}." if over or soon else f"Nothing due; driven {driven}."
        )
        self.show_frame(now, "; ".join(care_words(d, self.workspace.unit) for d in over[:2]))

    def entries(self) -> list[Entry]:
        """Fields of the line picked."""
        one = self.picked(self.group)
        if one is None:
            return [Entry("first_drive.driven_m", "driven")] if self.group == "care" else []
        if isinstance(one, CareItem):
            at = f"log.care.{one.id}"
            return [
                Entry(f"{at}.name", "what", "text"),
                Entry(f"{at}.kind", "kind", "choice", KINDS),
                Entry(f"{at}.every_m", "every"),
                Entry(f"{at}.every_days", "or every, days"),
                Entry(f"{at}.source", "whose interval", "text"),
                Entry(f"{at}.since", "days count from", "text"),
                Entry("first_drive.driven_m", "driven"),
            ]
        if isinstance(one, Broken):
            at = f"log.broken.{one.id}"
            return [
                Entry(f"{at}.name", "part", "text"),
                Entry(f"{at}.end", "end", "choice", ENDS),
                Entry(f"{at}.when", "day", "text"),
                Entry(f"{at}.driven_m", "driven then"),
                Entry(f"{at}.how", "how", "text"),
            ]
        at = f"log.spares.{one.id}"
        return [
            Entry(f"{at}.name", "part", "text"),
            Entry(f"{at}.count", "there"),
            Entry(f"{at}.wanted", "wanted"),
            Entry(f"{at}.place", "where", "text"),
        ]

    def take_rung(self, part: str, margin: float) -> None:
        """Say which rung of the ladder it was, and keep what the ladder says of it now."""
        one = self.picked("broken")
        if isinstance(one, Broken):
            new = msgspec.structs.replace(one, part=part, margin=margin)
            self.workspace.do(PutInList("log.broken", new, "Say which part broke"))

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        group = {"care": "care", "broken": "broken", "spares": "spare"}.get(parts[1] if len(parts) > 1 else "", "care")
        if len(parts) > 2:
            self.keys[group] = parts[2]
        self.show_group(group)

    def pick(self, group: str, key: str) -> None:
        """Work on a line."""
        self.keys[group] = key
        self.show_group(group)

    def _done(self) -> None:
        one = self.picked("care")
        if isinstance(one, CareItem):
            people = self.workspace.project.build.people
            done = CareDone(
                when=self.workspace.today().isoformat(),
                driven_m=self.workspace.project.bench.first_drive.driven_m,
                by=people[0].name if people else "",
            )
            self.workspace.do(CareWasDone(one.id, done))

    def _add(self) -> None:
        group = self.group
        key = free_id(f"{group}-", (x.id for x in self._items(group)))
        today = self.workspace.today().isoformat()
        end: Literal["front", "rear"] = "front" if self.workspace.end == "front" else "rear"
        new: CareItem | Broken | Spare
        if group == "care":
            new, path = CareItem(id=key, name="Look after", since=today), "log.care"
        elif group == "broken":
            new, path = (
                Broken(
                    id=key, name="Part", end=end, when=today, driven_m=self.workspace.project.bench.first_drive.driven_m
                ),
                "log.broken",
            )
        else:
            new, path = Spare(id=key, name="Spare"), "log.spares"
        if self.workspace.do(PutInList(path, new, "One more line")):
            self.pick(group, key)

    def _usual(self) -> None:
        today = self.workspace.today().isoformat()
        usual: tuple[tuple[str, CareKind, float, int | None], ...] = (
            ("Every bolt of axles and links", "torque", 800e3, None), ("Gear oil, both ends", "oil", 24e6, 365), ("Link ends: play, jam nuts", "joint", 1600e3, 180),
            ("Hub bearings: play and heat", "bearing", 8e6, 365), ("Brakes: pads, hoses, fluid", "brake", 8e6, 365),
        )  # fmt: skip
        items = tuple(
            CareItem(
                id=f"care-{n}",
                name=name,
                kind=kind,
                every_m=far,
                every_days=days,
                source="common practice",
                since=today,
            )
            for n, (name, kind, far, days) in enumerate(usual, 1)
        )
        self.workspace.do(ReplaceList("log.care", items, "The usual care"))

    def _remove(self) -> None:
        one = self.picked(self.group)
        if one is not None:
            path = {"care": "log.care", "broken": "log.broken", "spare": "log.spares"}[self.group]
            self.workspace.do(TakeFromList(path, (one.id,), "Remove a line"))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """What is due with what is left; broken and spares beside it."""
        w, unit = float(picture.width()), self.workspace.unit
        y = self._head(p, t, "To look after", 14, 4.0)
        mine = self.picked("care")
        for d in self.due:
            box = QRectF(14, y, 0.56 * w - 20, 40)
            plate(p, t, box, picked=self.group == "care" and d.item is mine)
            colour = t.oxide if d.due else t.torch if d.soon else t.zinc
            text(p, QRectF(22, y + 2, 20, 18), "▲" if d.due else "◷" if d.soon else "✓", colour, size=11, bold=True)
            text(p, QRectF(44, y + 2, 0.56 * w - 170, 18), d.item.name, t.text, size=9.5, elide=True, bold=d.due)
            words = care_words(d, unit)
            text(p, QRectF(44, y + 20, 0.56 * w - 80, 16), words.partition("), ")[2], t.quiet, size=8.5, elide=True)
            bar(p, t, QRectF(0.56 * w - 120, y + 7, 100, 9), 1.0 - d.part, colour)
            picture.hits.append(
                Hit(box, f"{words}. Click to work on it.", partial(self.pick, "care", d.item.id), f"care {d.item.id}")
            )
            y += 44
        z = self._head(p, t, "Broken, beside what the ladder had said", 0.57 * w, 4.0)
        for b in self.workspace.project.log.broken:
            z = self._row(p, t, picture, broken_words(self.workspace.study, b.id), "broken", b.id, 0.57 * w, z, w)
        z = self._ladder(p, t, picture, 0.57 * w, z, w)
        z = self._head(p, t, "Spares", 0.57 * w, z + 6)
        for s in self.workspace.project.log.spares:
            lacks = s.count < s.wanted
            words = f"{'▲ ' if lacks else ''}{s.name}: {s.count} of {s.wanted}{', ' + s.place if s.place else ''}"
            z = self._row(p, t, picture, words, "spare", s.id, 0.57 * w, z, w, bad=lacks)
        y = max(y, z) + 4
        y += flow(p, QRectF(14, y, w - 28, 40), CARE_CAUTION, t.quiet, size=8.5) + 8
        self.tall(y)

    def _ladder(self, p: QPainter, t: Theme, picture: Picture, x: float, y: float, w: float) -> float:
        """Rungs of the ladder to say which one the broken part was."""
        one = self.picked("broken")
        if self.group != "broken" or not isinstance(one, Broken):
            return y
        found = self.workspace.study.rungs(one.end)
        words = (
            "Which part was it? What the ladder says of it now is kept."
            if found
            else "The ladder has nothing to say of this end yet (Donors)."
        )
        text(p, QRectF(x + 6, y, w - x - 20, 16), words, t.quiet, size=8.5, elide=True)
        y += 18
        for key, title, margin in found:
            box = QRectF(x + 6, y, w - x - 22, 18)
            text(
                p,
                box,
                f"{'●' if key == one.part else '○'} {title}: {margin:.2f} × what is asked",
                t.dye if key == one.part else t.text,
                size=9,
                elide=True,
            )
            picture.hits.append(
                Hit(box, f"It was this: {title}. Click to say so.", partial(self.take_rung, key, margin), f"rung {key}")
            )
            y += 19
        return y + 4

    def _head(self, p: QPainter, t: Theme, words: str, x: float, y: float) -> float:
        text(p, QRectF(x, y, 420, 18), words, t.text, size=10, bold=True)
        return y + 22

    def _row(
        self,
        p: QPainter,
        t: Theme,
        picture: Picture,
        words: str,
        group: str,
        key: str,
        x: float,
        y: float,
        w: float,
        *,
        bad: bool = False,
    ) -> float:
        high = max(18.0, flow(p, QRectF(x + 6, y + 2, w - x - 30, 60), words, t.torch if bad else t.text, size=9) + 4)
        box = QRectF(x, y, w - x - 14, high)
        one = self.picked(group)
        if self.group == group and one is not None and one.id == key:
            plate(p, t, box, picked=True)
            flow(p, QRectF(x + 6, y + 2, w - x - 30, 60), words, t.torch if bad else t.text, size=9)
        picture.hits.append(
            Hit(box, f"{words}. Click to work on it.", partial(self.pick, group, key), f"{group} {key}")
        )
        return y + high + 4

    def as_text(self) -> str:
        lines = log_text(self.workspace.study, self.workspace.today())
        return f"{self.now.text()}\n{lines}"

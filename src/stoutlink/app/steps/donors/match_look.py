"""What fits what: places of both axles down, parts of both axles, vehicle and shelf across."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.analysis.swap.braking import Keeps
from stoutlink.core.analysis.swap.fitted import OUT_KINDS, FittedSet
from stoutlink.core.analysis.swap.match_matrix import Cell, Matrix
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import End
from stoutlink.core.document.swap import ShelfPart
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.editing.swap_edits import FitPart

SIGN_OF = {True: "✓", False: "▲", None: "?"}
SIGNS = {"fits": "✓", "bridged": "⇄", "no": "✗", "unknown": "?"}
WORDS = {"fits": "fits", "bridged": "does not fit; can be bridged", "no": "does not fit", "unknown": "not known"}
KINDS = (
    ("side_gears", "side gears"), ("inner_shaft", "inner shaft"), ("stub", "stub"), ("hub", "hub"), ("locker", "locker"), ("gear_set", "gear set"),
    ("joint", "joint"), ("driveshaft", "driveshaft"), ("adapter", "wheel adapter"), ("brake_line", "brake line"), ("brakes", "brakes"), ("other", "other"),
)  # fmt: skip


UNKNOWN = (None, "not known")
PARKING = (UNKNOWN, ("drum_cable", "to drums"), ("caliper_cable", "to calipers"), ("in_hat_cable", "in the disc"), ("none", "none"))  # fmt: skip
VEHICLE = (
    Entry("rig.fittings.brake_thread", "brake line thread", "text"), Entry("rig.fittings.front_joint_series", "front joint series", "text"),
    Entry("rig.fittings.rear_joint_series", "rear joint series", "text"), Entry("rig.fittings.output_rating_nm", "output rated"),
    Entry("rig.fittings.front_joint_cap_m", "its caps"), Entry("rig.fittings.front_joint_span_m", "its span"),
    Entry("rig.fittings.rear_joint_cap_m", "rear caps"), Entry("rig.fittings.rear_joint_span_m", "rear span"),
    Entry("rig.fittings.wheel_bolt_count", "wheels' bolts"), Entry("rig.fittings.wheel_bolt_circle_m", "wheels' circle"),
    Entry("rig.fittings.parking_brake", "parking brake", "choice", PARKING),
    Entry("rig.fittings.parking_cable_end", "its cable's end", "text"),
    Entry("rig.fittings.anti_lock", "anti-lock", "choice", (UNKNOWN, ("fitted", "fitted"), ("removed", "removed"), ("never", "never had"))),
)  # fmt: skip
ROOTS = (
    UNKNOWN,
    ("45_flat", "45° flat root"),
    ("30_flat", "30° flat root"),
    ("30_fillet", "30° fillet root"),
    ("37_fillet", "37.5° fillet"),
)
SPLINE = (("spline_teeth", "teeth", "number"), ("spline_pitch_per_in", "pitch", "number"))
CIRCLE = (("bolt_count", "bolts", "number"), ("bolt_circle_m", "bolt circle", "number"))
ASKED: dict[str, tuple[tuple[str, str, str], ...]] = {
    "side_gears": SPLINE, "inner_shaft": SPLINE, "stub": SPLINE, "hub": (*SPLINE, *CIRCLE), "locker": (*SPLINE, ("lowest_ratio", "from ratio", "number"), ("highest_ratio", "to ratio", "number")),
    "gear_set": (("gears", "teeth", "pair"),), "joint": (
        ("series", "series", "text"), ("cap_m", "caps", "number"), ("span_m", "span", "number"),
        ("other_series", "other series", "text"), ("other_cap_m", "other caps", "number"), ("other_span_m", "other span", "number"),
    ),
    "driveshaft": (("series", "series", "text"), ("cap_m", "caps", "number"), ("span_m", "span", "number")),
    "brakes": (
        ("rotor_m", "disc or drum", "number"), ("piston_m", "piston", "number"), ("piston_count", "pistons a side", "number"), ("parking_cable_end", "cable end", "text"),
        ("thread", "line thread", "text"), ("least_wheel_m", "least wheel", "number"), ("weight_kg", "weight", "number"), *CIRCLE,
    ),
    "adapter": (*CIRCLE, ("other_bolt_count", "wheel's bolts", "number"), ("other_bolt_circle_m", "wheel's circle", "number")), "brake_line": (("thread", "thread", "text"),), "other": (),
}  # fmt: skip
"""What a part of each kind is matched by."""


def part_entries(part: ShelfPart) -> list[Entry]:
    """The drawer of a shelf part: its name, its kind, and what that kind is matched by."""
    at = f"shelf.{part.id}"
    asked = [Entry(f"{at}.{key}", word, kind) for key, word, kind in ASKED[part.kind]]
    if ASKED[part.kind][: len(SPLINE)] == SPLINE:
        asked.append(Entry(f"{at}.spline_root", "root", "choice", ROOTS))
    if part.kind == "brakes":
        asked.append(Entry(f"{at}.brake", "brakes", "choice", (UNKNOWN, ("disc", "disc"), ("drum", "drum"))))
        asked.append(Entry(f"{at}.parking_brake", "parking", "choice", PARKING))
    return [
        Entry(f"{at}.name", "name", "text"),
        Entry(f"{at}.kind", "kind", "choice", KINDS),
        *asked,
        Entry(f"{at}.price", "price"),
    ]


def set_lines(sets: tuple[FittedSet, ...]) -> list[tuple[str, bool]]:
    """The planned sets in a line each, and whether something in it does not go together."""
    out = []
    for one in sets:
        mates = "; ".join(f"{SIGN_OF[m.fits]} {m.title} ({m.why})" for m in one.mates)
        free = "; ".join(f"{f.part.name}{', ' + f.serves if f.serves else ''}" for f in one.freed)
        end = one.end.capitalize()
        out.append(
            (f"{end} as planned: {mates or 'nothing in it meets anything'}.", any(m.fits is False for m in one.mates))
        )
        out.append((f"{end} frees {free or 'nothing'}.", False))
    return out


KEPT = {"kept": "✓", "look": "?", "lost": "✗"}


def road_lines(keeps: tuple[Keeps, ...], share: float | None) -> list[tuple[str, bool]]:
    """What the rig must keep on the road in a line, and how the brakes share in another."""
    out = []
    if keeps:
        said = "; ".join(
            f"{KEPT[k.state]} {k.what} ({k.why})"
            for k in sorted(keeps, key=lambda k: -len(k.state) + 5 * (k.state == "kept"))
        )
        out.append((f"On the road it must keep: {said}. Local codes decide.", any(k.state == "lost" for k in keeps)))
    if share is not None:
        out.append((f"Brakes by disc and piston: {share:.0%} in front, before any valve, same pads.", False))
    return out


class MatchLook(DonorLook):
    """The matrix, the cell looked at in words, and the shelf part picked as fields."""

    pair = True

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "match", "Match matrix", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.picture = Picture("match_picture", "Match matrix", self)
        outer.addWidget(self.picture, 1)
        row = QHBoxLayout()
        row.setContentsMargins(12, 2, 12, 6)
        add = QPushButton("Add a part from the shelf", self)
        add.setObjectName("add_shelf_part")
        add.setToolTip("Put a part you have into the matrix.")
        add.clicked.connect(self._add)
        row.addWidget(add)
        self.gone = QPushButton("Remove", self)
        self.gone.setObjectName("remove_shelf_part")
        self.gone.setToolTip("Take this part off the shelf.")
        self.gone.clicked.connect(self._remove)
        row.addWidget(self.gone)
        self.goes = StillBox(self)
        self.goes.setObjectName("shelf_part_goes")
        self.goes.setAccessibleName("Where this part goes")
        self.goes.setToolTip("Plan this part into an axle: it is then held against the other parts planned there.")
        for value, words in (
            (None, "stays on the shelf"),
            ("front", "into the front axle"),
            ("rear", "into the rear axle"),
        ):
            self.goes.addItem(words, value)
        self.goes.activated.connect(lambda i: self._goes(self.goes.itemData(i)))
        row.addWidget(self.goes)
        self.freed = QPushButton("What it frees, onto the shelf", self)
        self.freed.setObjectName("freed_to_shelf")
        self.freed.setToolTip(
            "Put the part that comes out on the shelf; give it its value there, or plan it into the other axle."
        )
        self.freed.clicked.connect(self._free)
        row.addWidget(self.freed)
        row.addStretch(1)
        outer.addLayout(row)
        self.drawer = PathDrawer(workspace, "match_drawer", 4, self)
        self.drawer.setContentsMargins(12, 0, 12, 8)
        outer.addWidget(self.drawer)
        self.found: Matrix | None = None
        self.cell: Cell | None = None
        self.part: str | None = None
        self.sets: tuple[FittedSet, ...] = ()
        self.road: list[tuple[str, bool]] = []

    def prepare(self) -> None:
        w = self.workspace
        project = w.project
        self.found = w.study.matrix()
        if self.cell is not None:
            self.cell = self.found.cell(self.cell.place, self.cell.part)
        if self.part != "vehicle" and all(s.id != self.part for s in project.swap.shelf):
            self.part = None
        part = next((s for s in project.swap.shelf if s.id == self.part), None)
        self.gone.setVisible(part is not None)
        fits = part is not None and part.kind in OUT_KINDS
        self.goes.setVisible(fits)
        self.sets = w.study.fitted_sets()
        self.road = road_lines(w.study.road_keeps(), w.study.brake_share())
        end = next((e for e in ("front", "rear") if self.part in project.plan(e).fitted), None)
        with QSignalBlocker(self.goes):
            self.goes.setCurrentIndex(self.goes.findData(end))
        self.freed.setVisible(fits and self._out() is not None)
        self.drawer.show_entries(VEHICLE if self.part == "vehicle" else [] if part is None else part_entries(part))
        if self.theme is not None:
            self.picture.show_with(self.theme, self._draw)

    def _add(self) -> None:
        new = free_id("part-", (s.id for s in self.workspace.project.swap.shelf))
        if self.workspace.do(
            PutInList(
                "shelf", ShelfPart(id=new, name="Part from the shelf", kind="inner_shaft"), "Add a part from the shelf"
            )
        ):
            self.pick(new)

    def pick(self, part: str) -> None:
        """Show a shelf part's fields."""
        self.part = part
        if self.theme is not None:
            self.refresh(self.theme)

    def _remove(self) -> None:
        if self.part is not None:
            self.workspace.do(TakeFromList("shelf", (self.part,), "Take a part off the shelf"))

    def _goes(self, end: End | None) -> None:
        if self.part is not None:
            self.workspace.do(FitPart(self.part, end))

    def _out(self) -> ShelfPart | None:
        """What the part picked sets free, where it is not on the shelf yet."""
        project = self.workspace.project
        picked = next((s for s in project.swap.shelf if s.id == self.part), None)
        for one in self.sets:
            for freed in one.freed:
                if picked in one.parts and picked is not None and freed.part.kind == picked.kind:
                    return None if any(s.id == freed.part.id for s in project.swap.shelf) else freed.part
        return None

    def _free(self) -> None:
        out = self._out()
        if out is not None and self.workspace.do(PutInList("shelf", out, "Put what comes out on the shelf")):
            self.pick(out.id)

    def _look(self, cell: Cell) -> None:
        self.cell = cell
        if cell.part == "vehicle" or cell.part.startswith("shelf "):
            self.pick(cell.part.removeprefix("shelf "))
        self.picture.update()

    def _draw(self, p: QPainter, t: Theme, picture: Picture) -> None:
        found = self.found
        if found is None or not found.places:
            text(
                p,
                QRectF(30, 30, picture.width() - 60, 60),
                "Choose an axle at one end or both: their splines, circles and threads are then held against each other and against the shelf.",
                t.quiet,
                size=11,
                align="centre",
                wrap=True,
            )
            return
        left, top = 242.0, 58.0
        each = min(120.0, (picture.width() - left - 14) / max(1, len(found.parts)))
        lines = [*set_lines(self.sets), *self.road]
        wide, size = picture.width() - 28, 9.0
        metrics = QFontMetricsF(font(size))
        flags = int(Qt.TextFlag.TextWordWrap)
        talls = [metrics.boundingRect(QRectF(0, 0, wide, 400), flags, words).height() + 2 for words, _ in lines]
        row = min(30.0, (picture.height() - top - 110 - sum(talls)) / len(found.places))
        for j, (key, title) in enumerate(found.parts):
            box = QRectF(left + j * each, 4, each, 50)
            text(
                p,
                box.adjusted(4, 0, -4, 0),
                title if len(title) <= 30 else f"{title[:29]}…",
                t.text if self.part != key.removeprefix("shelf ") else t.dye,
                size=8.5,
                align="centre",
                wrap=True,
            )
            if key == "vehicle" or key.startswith("shelf "):
                picture.hits.append(
                    Hit(box, f"{title}: click to change it.", partial(self.pick, key.removeprefix("shelf ")), key)
                )
        for i, place in enumerate(found.places):
            y = top + i * row
            p.setPen(QPen(t.edge, 2 if i and found.places[i - 1].end != place.end else 1))
            p.drawLine(QPointF(10, y), QPointF(left + each * len(found.parts), y))
            text(p, QRectF(12, y, left - 20, row), place.title, t.text, size=9.5)
            for j, (key, _) in enumerate(found.parts):
                cell = found.cell(place, key)
                box = QRectF(left + j * each + 2, y + 2, each - 4, row - 4)
                if cell is None:
                    continue
                colour = {"fits": t.soap, "bridged": t.torch, "no": t.oxide, "unknown": t.quiet}[cell.state]
                if cell == self.cell:
                    p.setPen(QPen(t.dye, 2))
                    p.setBrush(t.raised)
                    p.drawRoundedRect(box, 3, 3)
                elif cell.state in ("bridged", "no"):
                    p.setPen(
                        QPen(colour, 1, Qt.PenStyle.DashLine if cell.state == "bridged" else Qt.PenStyle.SolidLine)
                    )
                    p.setBrush(Qt.BrushStyle.NoBrush)
                    p.drawRoundedRect(box, 3, 3)
                text(p, box, SIGNS[cell.state], colour, size=12, bold=True, align="centre")
                picture.hits.append(
                    Hit(
                        box,
                        f"{place.title}, {key}: {WORDS[cell.state]}. {cell.why}",
                        partial(self._look, cell),
                        f"{place.end} {place.kind} {key}",
                    )
                )
        y = top + len(found.places) * row + 8
        titles = dict(found.parts)
        chosen = self.cell if self.cell is not None and self.cell.part in titles else None
        said = chosen or next((c for c in found.cells if c.state in ("no", "bridged")), None)
        if said is not None:
            title = titles[said.part]
            told = [f"{said.place.title}, from {title}: {WORDS[said.state]}. {said.why[:1].upper() + said.why[1:]}."]
            if said.bridge:
                told.append(f"What bridges it: {said.bridge}.")
            text(p, QRectF(14, y, picture.width() - 28, 44), "\n".join(told), t.text, size=10, wrap=True)
        y += 48
        for (words, bad), tall in zip(lines, talls, strict=True):
            box = QRectF(14, y, wide, tall)
            flow(p, box, words, t.torch if bad else t.text, size=size)
            picture.hits.append(Hit(box, words))
            y += tall
        counts = {s: sum(c.state == s for c in found.cells) for s in SIGNS}
        key = "   ".join(f"{SIGNS[s]} {WORDS[s]} ({n})" for s, n in counts.items())
        text(p, QRectF(14, picture.height() - 22, picture.width() - 28, 18), key, t.quiet, size=8.5)

    def as_text(self) -> str:
        if self.found is None or not self.found.places:
            return "No axles chosen."
        names = dict(self.found.parts)
        sets = [words for words, _ in (*set_lines(self.sets), *self.road)]
        return (
            "\n".join(sets)
            + ("\n" if sets else "")
            + "\n".join(
                f"{c.place.title}\t{names[c.part]}\t{WORDS[c.state]}\t{c.why}\t{c.bridge}" for c in self.found.cells
            )
        )

"""The tyre look: both ends' tyres with their radii kept apart, and what each radius serves."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.lettering import dimension, words
from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.rig.board import Board, Spot
from stoutlink.app.widgets.picture import flow
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.document.rig import Rig
from stoutlink.core.drawing.shapes import Line, Oval
from stoutlink.core.quantity.shown import Kind, show

ENDS = ("rear", "front")


def _spots() -> list[Spot]:
    return [spot for end in ENDS for spot in _end_spots(end)]


def _end_spots(end: str) -> list[Spot]:
    at, here = f"rig.{end}.", (0.0, 0.0)

    def spot(
        key: str, caption: str, shift: tuple[float, float], fallback: Callable[[Rig], float] | None = None
    ) -> Spot:
        basis = (
            None
            if key != "rolling_radius_m"
            else lambda r: "measured" if r.end(end).rolled is not None else "estimated"
        )
        return Spot(f"{at}{key}", caption, end, lambda r: here, shift, None, (), fallback, basis)

    return [
        spot("tyre_free_radius_m", "free radius", (142, -186), lambda r: r.end(end).free),
        spot("loaded_radius_m", "loaded, trail", (142, -138), lambda r: r.end(end).loaded),
        spot("loaded_radius_road_m", "loaded, road", (142, -90), lambda r: r.end(end).loaded_road),
        spot("rolling_radius_m", "rolling radius", (142, -42), lambda r: r.end(end).rolling),
        spot("trail_pressure_pa", "trail pressure", (-158, 84)),
        spot("road_pressure_pa", "road pressure", (-56, 84)),
        spot("wheel_mass_kg", "one wheel with tyre", (46, 84)),
        spot("roll_out_m", "roll-out distance", (-158, 40)),
        spot("roll_out_turns", "wheel turns", (-56, 40)),
        *((spot("dual_m", "two a side, apart", (46, 40)),) if end == "rear" else ()),
    ]


class TyreBoard(Board):
    """Rear tyre left, front tyre right."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "tyres", _spots(), parent)
        self.sizes: dict[str, WordField] = {}
        for end in ENDS:
            size = WordField(
                workspace,
                f"rig.{end}.tyre_text",
                f"Printed size of the {end} tyre",
                self,
                example="37x12.50R17 or 315/70R17 on the sidewall",
                name=f"tyre_text_{end}",
            )
            size.setPlaceholderText("37x12.50R17")
            self.sizes[end] = size

    def frames(self) -> dict[str, Frame]:
        w = self.width()
        big = max(self.rig.front.free, self.rig.rear.free, 0.3)
        scale = 132.0 / big
        return {end: Frame(QPointF(w * (0.27 if end == "rear" else 0.75), 316.0), scale) for end in ENDS}

    def arrange(self) -> None:
        super().arrange()
        for end, frame in self.frames().items():
            self.sizes[end].setGeometry(int(frame.origin.x() - 205), 10, 210, 26)

    def refresh(self, theme: Theme) -> None:
        super().refresh(theme)
        for size in self.sizes.values():
            size.refresh()

    def paint_board(self, p: QPainter, t: Theme) -> None:
        unit = self.workspace.unit
        for end, f in self.frames().items():
            w = self.rig.end(end)
            middle = QPointF(f.origin.x() - 72, f.origin.y())
            g = Frame(middle, f.scale)
            words(p, t, QRectF(f.origin.x() + 16, 12, 190, 22), f"{end.capitalize()} tyre", size=11, bold=True)
            printed = w.printed
            said = (
                f"printed: {show(printed.diameter, 'length', unit, decimals=1)} across, {show(printed.width, 'length', unit, decimals=1)} wide, rim {show(printed.rim, 'length', 'in')}"
                if printed is not None
                else f"“{w.tyre_text[:24]}” is not a printed size; the measured radius counts"
                if w.tyre_text
                else "no printed size"
            )
            words(p, t, QRectF(f.origin.x() - 205, 38, 400, 18), said, size=8.5, quiet=True)
            hub = (0.0, w.loaded)
            paint(
                p,
                [
                    Line(((-0.55, 0.0), (0.62, 0.0)), "ground"),
                    Oval(hub, (w.free, w.free), "tyre"),
                    Oval(hub, (0.5 * w.free, 0.5 * w.free), "tyre"),
                    Oval(hub, (0.04, 0.04), "axle"),
                ],
                g,
                t,
            )
            p.setPen(QPen(t.quiet, 1, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            c = g.at(hub)
            p.drawEllipse(c, w.rolling * g.scale, w.rolling * g.scale)
            dimension(p, t, g.at((w.free + 0.05, w.loaded)), g.at((w.free + 0.05, 0.0)))
            needs = self.workspace.study.needed("stance", "train")
            unknown = any(n.path == f"rig.{end}.tyre_free_radius_m" for n in needs)
            words(
                p,
                t,
                QRectF(c.x() - 60, c.y() + 16, 120, 30),
                "" if unknown else f"stands {show(w.loaded, 'length', unit, decimals=1)} high",
                size=8.5,
                centre=True,
            )
            words(
                p,
                t,
                QRectF(c.x() - 75, c.y() - 0.78 * w.free * g.scale, 150, 14),
                "dashed: rolls as this circle",
                size=8,
                quiet=True,
                centre=True,
            )
            y = f.origin.y() + 112.0
            if unknown:
                said = "Not entered yet: type the size printed on the sidewall above, or measure the free radius."
                flow(p, QRectF(f.origin.x() - 205, y, 400, 40), said, t.quiet, size=9)
                continue
            for name, (value, source, sigma) in self.workspace.study.tyre_numbers(end).items():
                places = 2 if unit == "in" else 0
                words(
                    p,
                    t,
                    QRectF(f.origin.x() - 205, y, 400, 18),
                    f"{name.capitalize()} {show(value, 'length', unit, decimals=places)} ± {show(2 * sigma, 'length', unit, decimals=places)}, {source}",
                    size=9,
                    bold=source in ("measured", "roll-out"),
                )
                y += 19
            y += 8
            words(p, t, QRectF(f.origin.x() - 205, y, 400, 16), "Which radius serves which number", size=9, quiet=True)
            y += 20
            if needs:
                said = f"shown once entered: {', '.join(n.words for n in needs)}"
                flow(p, QRectF(f.origin.x() - 205, y, 400, 60), said, t.quiet, size=9)
                continue
            for e in self.workspace.study.tyre_effects(end):
                kind: Kind = e.kind  # type: ignore[assignment]
                places = 1 if kind == "length" and unit == "in" else 0
                words(
                    p,
                    t,
                    QRectF(f.origin.x() - 205, y, 300, 17),
                    f"{e.what}: {show(e.value, kind, unit, decimals=places)}",
                    size=9.5,
                    bold=True,
                )
                words(
                    p,
                    t,
                    QRectF(f.origin.x() - 205, y + 17, 410, 16),
                    f"uses the {e.uses}; the {e.instead} would say {show(e.other, kind, unit, decimals=places)} ({e.off:+.1%})".replace(
                        "-", "−"
                    ),
                    size=8.5,
                    quiet=True,
                )
                y += 38

"""What the painters are given of a survey, and that paper and screen get the same tubes."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtWidgets import QApplication

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import THEMES
from stoutlink.core.analysis.survey.survey_points import place_survey
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import BoxSolid, Datum, OutlineSolid, Reading, Survey, SurveyPoint, TubeSolid
from stoutlink.core.drawing.shapes import Line, ViewName
from stoutlink.core.drawing.survey_views import point_marks, rail_shapes, solid_middle, solid_shapes, surveyed_shapes


def rail(i: int, x: float, z: float, y: float, across: str) -> SurveyPoint:
    return SurveyPoint(
        id=f"p{i}",
        station=(Reading(value_m=x),),
        height=(Reading(value_m=z),),
        side=(Reading(value_m=y),),
        across=across,  # type: ignore[arg-type]
    )


def test_mirrored_rails_are_one_line_from_the_side_and_two_from_above() -> None:
    points = tuple(rail(i, 0.5 * i, 0.6 + 0.01 * i, 0.84, "full") for i in (2, 0, 1))
    placed = place_survey(Survey(id="s", name="s", points=points), 2.7)
    side, plan = rail_shapes(placed, "side"), rail_shapes(placed, "plan")
    assert [s.points for s in side if isinstance(s, Line)] == [((0.0, 0.6), (0.5, 0.61), (1.0, 0.62))]
    assert [s.points for s in plan if isinstance(s, Line)] == [
        ((0.0, 0.42), (0.5, 0.42), (1.0, 0.42)),
        ((0.0, -0.42), (0.5, -0.42), (1.0, -0.42)),
    ]


def test_rails_that_differ_are_both_drawn_the_right_one_dashed() -> None:
    points = (
        rail(0, 0, 0.6, 0.4, "left"),
        rail(1, 1, 0.6, 0.4, "left"),
        rail(2, 0, 0.62, 0.4, "right"),
        rail(3, 1, 0.62, 0.4, "right"),
    )
    side = rail_shapes(place_survey(Survey(id="s", name="s", points=points), 2.7), "side")
    assert [(s.role, s.points[0]) for s in side if isinstance(s, Line)] == [
        ("rail", (0.0, 0.6)),
        ("rail_far", (0.0, 0.62)),
    ]


def test_a_stray_reading_does_not_blow_the_drawing_up() -> None:
    points = (rail(0, 0, 0.6, 0.8, "full"), rail(1, 1, 0.6, 0.8, "full"), rail(2, 90.0, 0.6, 0.8, "full"))
    placed = place_survey(Survey(id="s", name="s", datum=Datum(), points=points), 2.7)
    assert all(abs(x) < 20 for s in rail_shapes(placed, "side") if isinstance(s, Line) for x, _ in s.points)
    assert {i for _, i in point_marks(placed, "side")} == {0, 1}


@pytest.mark.parametrize("view", ["side", "plan", "rear"])
def test_solids_in_every_view(view: ViewName) -> None:
    box = BoxSolid(id="b", name="b", kind="fuel_tank", low_m=(0, -0.2, 0.5), high_m=(1, 0.3, 0.8))
    corners = {"side": ((0, 0.5), (1, 0.8)), "plan": ((0, -0.2), (1, 0.3)), "rear": ((-0.3, 0.5), (0.2, 0.8))}[view]
    (shape,) = solid_shapes(box, view)
    assert isinstance(shape, Line)
    assert shape.points[0] == pytest.approx(corners[0])
    assert shape.points[2] == pytest.approx(corners[1])
    tube = TubeSolid(
        id="t", name="t", kind="exhaust", path_m=((0, 0.1, 0.6), (1, 0.1, 0.6), (1, 0.5, 0.6)), diameter_m=0.06
    )
    assert [s.width for s in solid_shapes(tube, view) if isinstance(s, Line)] == [0.06, 0.06]
    flat = OutlineSolid(
        id="o",
        name="o",
        kind="room_kept",
        view="rear",
        outline_m=((0.1, 0.5), (0.3, 0.5), (0.3, 0.7)),
        low_m=1.0,
        high_m=1.1,
    )
    (outline,) = solid_shapes(flat, view)
    assert isinstance(outline, Line)
    assert outline.role == "room"
    if view == "rear":
        assert outline.points[0] == (-0.1, 0.5)  # seen from behind, left is on the left
    assert solid_middle(flat) == pytest.approx((1.05, 0.2, 0.6))


def test_the_layout_stands_on_everything_that_was_measured(basalt: Project) -> None:
    shapes = surveyed_shapes(basalt, "side")
    assert sum(isinstance(s, Line) and s.role == "rail" for s in shapes) == 2
    assert sum(isinstance(s, Line) and s.role in ("solid", "room") for s in shapes) >= len(basalt.tape.solids)


def test_a_tube_is_as_wide_as_it_says_and_filled(qapp: QApplication) -> None:
    """Counted pixels across a level tube: outline, fill, outline."""
    assert qapp is not None
    t = THEMES["dark"]
    image = QImage(200, 60, QImage.Format.Format_RGB32)
    image.fill(QColor("black"))
    p = QPainter(image)
    paint(p, [Line(((0.1, 0.3), (1.9, 0.3)), "link_lower", width=0.2)], Frame(QPointF(0, 60), 100.0), t)
    p.end()
    lit = [y for y in range(60) if image.pixelColor(100, y).lightness() > 10]
    assert len(lit) == 20
    assert image.pixelColor(100, 30) != image.pixelColor(100, lit[0])
    assert image.pixelColor(5, 30).lightness() < 10

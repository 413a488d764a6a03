"""What can be found by typing a few letters of it: fields, parts of the project, knock-ons."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from msgspec import Struct
from PyQt6.QtWidgets import QAbstractItemView, QAbstractScrollArea, QAbstractSlider, QApplication, QWidget

from stoutlink.app.shell.hands import Hands
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.advice.work_list import work_list


class Thing(Struct, frozen=True):
    """Something to go to: its name, one line on it, and the way there."""

    name: str
    detail: str
    go: Callable[[], object]


def things(window: Hands) -> Iterator[Thing]:
    """Everything of the project in the window: parts by their names, fields by their titles, knock-ons by what they
    say."""
    w = window.workspace
    project = w.project
    for donor in project.swap.donors:
        yield Thing(donor.name, f"Axle, {donor.end}", partial(w.go_to.emit, f"donors.{donor.id}.weight_kg"))
    for layout in (used for end in ("rear", "front") if (used := project.layout(end)) is not None):
        yield Thing(layout.name, f"Layout, {layout.end}", partial(w.go_to.emit, f"layouts.{layout.id}"))
        for link in layout.links:
            way = partial(w.go_to.emit, f"layouts.{layout.id}.links.{link.id}")
            yield Thing(link.name, f"Link of {layout.name}", way)
    for survey in project.tape.surveys:
        yield Thing(survey.name, "Survey", partial(w.go_to.emit, f"surveys.{survey.id}"))
        for point in survey.points:
            if point.name:
                way = partial(w.go_to.emit, f"surveys.{survey.id}.points.{point.id}")
                yield Thing(point.name, f"Station of {survey.name}", way)
    for solid in project.tape.solids:
        yield Thing(solid.name, "In the way", partial(w.go_to.emit, f"solids.{solid.id}"))
    yield from _fields(window)
    for group in work_list(project, w.study.open_so_far):
        for card in group.cards:
            yield Thing(card.sentence, f"Knock-on, {group.title}", partial(window.go_to_finding, card.first))


def _fields(window: Hands) -> Iterator[Thing]:
    """Every field there is a line to type in for, by step."""
    seen = set()
    for sheet in window.sheets.values():
        for field in sheet.findChildren(KeptLine):
            if field.title and field.place and field.place not in seen:
                seen.add(field.place)
                yield Thing(field.title, f"Field: {field.text() or 'empty'}", partial(window.go_to_field, field.place))


def page(pages: int, otherwise: Callable[[], object]) -> None:
    """Page Up or Down (−1, 1), Home (0) where the keys are: in a list or in what scrolls; ``otherwise`` elsewhere."""
    here: QWidget | None = QApplication.focusWidget()
    while here is not None and not here.isWindow():
        bar = here.verticalScrollBar() if isinstance(here, QAbstractScrollArea) else None
        if isinstance(here, QAbstractItemView) and here.model() is not None:
            _row(here, pages)
            return
        if bar is not None and bar.maximum() > bar.minimum():
            action = QAbstractSlider.SliderAction
            step = {1: action.SliderPageStepAdd, -1: action.SliderPageStepSub, 0: action.SliderToMinimum}[pages]
            bar.triggerAction(step)
            return
        here = here.parentWidget()
    otherwise()


def _row(view: QAbstractItemView, pages: int) -> None:
    """Another row of a list: the first, or as many on as are in view."""
    model = view.model()
    assert model is not None
    at, last = view.currentIndex(), model.rowCount() - 1
    high = max(1, view.sizeHintForRow(0))
    port = view.viewport()
    many = max(1, (port.height() if port is not None else 100) // high)
    row = 0 if pages == 0 else min(last, max(0, at.row() + pages * many))
    view.setCurrentIndex(model.index(row, 0))

"""The questions a study answers, with arguments, for tests that go through all of them."""

from __future__ import annotations

import datetime
from collections.abc import Callable, Iterator
from typing import Any

from stoutlink.core.document.project import Project
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.bench_results import bench_text
from stoutlink.core.reports.hand_over import approvals, owner_pages
from stoutlink.core.reports.log_results import log_json, runs_csv
from stoutlink.core.reports.parts_results import parts_text
from stoutlink.core.reports.plan_results import day_text
from stoutlink.core.study.study import Study

DAY = datetime.date(2026, 9, 21)
Asked = tuple[str, tuple[Any, ...]]


def questions(project: Project) -> Iterator[Asked]:
    """Name and arguments of everything that can be asked without an answer of another study in hand."""
    for name in (
        "_true",
        "rig_numbers",
        "low_points",
        "matrix",
        "fitted_sets",
        "road_keeps",
        "brake_share",
        "_rig_findings",
        "_plausible",
        "_survey_findings",
        "_swap_findings",
    ):
        yield name, ()
    for end in ("rear", "front"):
        for name in (
            *("tyre_numbers", "tyre_effects", "surveyed_ride", "motion", "leaf", "gauges", "compared", "loads"),
            *("over_constraint", "steer", "cuts_of", "fit", "hole_map", "travel", "travel_compared", "axle_findings"),
            "drive_over_heave",
            "parts",
            *(
                "as_built",
                "next_readings",
                "station_sheet",
                "weld_base",
                "weld_sheet",
                "weld_readings",
                "set_out",
                "gear_sheet",
                "case_sheet",
            ),
        ):
            yield name, (end,)
        axle = project.donor(end)
        if axle is not None:
            yield "in_rig", (axle.id,)
            for name in (
                *("in_rig_planned", "ladder", "ladder_sure", "upgrade_path", "stronger_axles", "lockers", "gears"),
                *("fit_up", "narrowed", "donor_sure", "judged", "donor_findings", "upgrade_effects"),
            ):
                yield name, (axle,)
    made = {row.id for row in project.swap.made}
    for axle in project.swap.donors:
        if axle.id in made:
            yield "made_of", (axle,)
    for name in ("_fasteners", "_brake_sheet", "_bench", "_tasks"):
        yield name, ()
    yield "tuning", ("rear", "hops", "less support")
    yield "_log_findings", ()
    yield "stock_plan", ()
    yield "plate_plan", ()
    yield "parts_list_of", (None, DAY)
    for survey in project.tape.surveys:
        yield "placed", (survey.id,)
    for picture in project.tape.photos:
        for name in ("picture", "traced", "known_places"):
            yield name, (picture.id,)
    yield "_picture_findings", ()
    yield "_mesh_findings", ()
    for survey in project.tape.surveys[1:]:
        yield "merged", (survey.id,)
    front, rear = project.donor("front"), project.donor("rear")
    yield "cost", (front, rear, None)
    few = {end: tuple(d for d in project.swap.donors if d.end == end)[:3] for end in ("front", "rear")}
    yield "ranking", (few["front"], few["rear"], 5)


def gathered() -> Iterator[Asked]:
    """What is put together of answers each time it is asked for."""
    for name in (
        "due",
        "hoses",
        "bench_words",
        "plan_sheet",
        "plan_chance",
        "part_states",
        "day_words",
        "log_words",
        "rig_built",
    ):
        yield name, ()


def asked_of_answers(study: Study) -> Iterator[Asked]:
    """What is asked of an answer this study has given."""
    for end in ("rear", "front"):
        one = study.axles[end]
        if one.motion is not None:
            yield "sure", (one.motion,)
            yield "panhard", (one.motion,)
        if one.leaf is not None:
            yield "leaf_sure", (one.leaf,)
        if one.problem is None and (travel := study.travel(end)) is not None:
            yield "map_of", (travel,)
            layout = study.project.layout(end)
            arms = None if layout is None else layout.steering
            if arms is not None and (arms.pitman_holes or arms.knuckle_holes) is not None:
                yield "best_steering_holes", (end, travel)
            yield "_travel_findings", (travel,)
            yield "bump_sheet", (travel,)
            yield "curve_sure", (travel,)
    if all(study.axles[end].problem is None for end in ("rear", "front")):
        yield "_behaviour", (study.travel("front"), study.travel("rear"))
        yield "_laden", (study.travel("front"), study.travel("rear"))
        yield "hill_of", (study.travel("front"), study.travel("rear"), study.locked)
    for end in ("rear", "front"):
        built = None if study.axles[end].problem is not None else study.as_built(end)
        if built is not None:
            yield "_built_findings", (built,)


def asked_of_the_plan(study: Study) -> Iterator[Asked]:
    """What is asked of a schedule; each takes a moment."""
    sheet = study.plan_sheet()
    if sheet is not None:
        yield "plan_chance_of", (sheet, 0)
        yield "sooner", (study.tasks, sheet, 0)
        yield "parts_list_of", (sheet, DAY)


def answer(study: Study, name: str, args: tuple[Any, ...]) -> Any:
    """The answer, or what was raised in its place."""
    try:
        if name == "day_words":
            plan = study.project.build
            return day_text(study, DAY), parts_text(study.parts_list(DAY), plan, study.project.swap.choosing.currency)
        if name == "log_words":
            pages = [
                p
                for p in owner_pages(study)
                if p.title in ("Care", "How it drove", "What was changed", "Alignment and brakes")
            ]
            said = study.project.log.hand_over
            return log_json(study, DAY), runs_csv(study), pages, said.owner, said.builder, said.when, approvals(study)
        if name == "bench_words":
            parts = [str(p) for c in study.project.bench.cards for p in c.parts]
            return bench_text(study), parts
        ask: Callable[..., Any] = getattr(study, name)
        return ask(*args) if callable(ask) else ask
    except (StoutError, ValueError) as why:
        return type(why), str(why)

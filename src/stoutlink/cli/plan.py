"""``stout-link plan``: tasks from the choices, when they are done, what sets the date; as text, JSON, table, calendar, paper."""

from __future__ import annotations

import argparse
import datetime
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from stoutlink.cli.parts_list import today_of
from stoutlink.core.analysis.plan.shop_hours import day_of
from stoutlink.core.errors import FileError
from stoutlink.core.reports.pdf_writer import PAPERS
from stoutlink.core.reports.plan_results import (
    NO_PLAN,
    day_json,
    day_pages,
    day_text,
    plan_csv,
    plan_ics,
    plan_json,
    plan_pages,
    plan_text,
)
from stoutlink.core.reports.written_pdf import written_pdf
from stoutlink.core.storage.disk import write_bytes
from stoutlink.core.study.study import Study


def add_plan(commands: Any, open_study: Callable[[Path], Study]) -> None:
    """The command and its arguments."""
    one = commands.add_parser("plan", help="tasks made from the choices, when each is done, what sets the date")
    one.add_argument("file", type=Path)
    one.add_argument("--json", action="store_true", help="as JSON, hours and ISO days")
    one.add_argument("--today", metavar="YYYY-MM-DD", help="schedule what is left from this day on")
    one.add_argument(
        "--day",
        action="store_true",
        help="only that day: what is on, tacked, held up, short, what comes first next time",
    )
    one.add_argument("--csv", type=Path, metavar="OUT.csv", help="tasks as a table")
    one.add_argument("--ics", type=Path, metavar="OUT.ics", help="tasks as a calendar")
    one.add_argument("--pdf", type=Path, metavar="OUT.pdf", help="the wall sheet; with --day the day sheet")
    one.add_argument("--paper", choices=PAPERS, default="A4", help="paper of --pdf")
    one.set_defaults(run=lambda args: _plan(args, open_study))


def _plan(args: argparse.Namespace, open_study: Callable[[Path], Study]) -> int:
    study = open_study(args.file)
    study.cycle()
    plan, now = study.project.build, 0
    first = day_of(plan.begin)
    today = today_of(args) if args.today is not None or first is None or args.day else first
    if first is not None:
        now = max(0, (today - first).days) * 24 * 60
    sheet = study.plan_sheet(now)
    wrote = False
    ways: tuple[tuple[Path | None, Callable[[], bytes]], ...] = (
        (args.csv, lambda: plan_csv(sheet).encode()),  # type: ignore[arg-type]
        (args.ics, lambda: plan_ics(sheet, study.project.name, datetime.datetime.now(datetime.UTC))),  # type: ignore[arg-type]
        (
            args.pdf,
            lambda: written_pdf(
                day_pages(study, today) if args.day else plan_pages(study, now),
                "Plan",
                study.project.name,
                args.file.name,
                args.paper,
            ),
        ),
    )
    for out, made in ways:
        if out is not None:
            if sheet is None:
                raise FileError("F152", f"{args.file.name} has no plan.", NO_PLAN)
            write_bytes(made(), out)
            print(f"{out} written")
            wrote = True
    if not wrote and args.day:
        print(json.dumps(day_json(study, today), indent=1) if args.json else day_text(study, today))
    elif not wrote:
        print(json.dumps(plan_json(study, now), indent=1) if args.json else plan_text(study, now))
    return 1 if sheet is not None and (sheet.no_day or sheet.circle or (sheet.late_days or 0) > 0) else 0

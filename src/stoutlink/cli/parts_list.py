"""``stout-link parts-list``: everything the build takes, its money, what is late; as text, JSON, a table, paper, or held against
another build."""

from __future__ import annotations

import argparse
import datetime
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from stoutlink.core.advice.parts_words import due_lines, line_words
from stoutlink.core.analysis.plan.parts_list import between
from stoutlink.core.analysis.plan.shop_hours import day_of
from stoutlink.core.document.plan_checks import FIRST_YEAR, LAST_YEAR
from stoutlink.core.errors import FileError
from stoutlink.core.reports.parts_results import (
    between_json,
    between_text,
    parts_csv,
    parts_json,
    parts_pages,
    parts_text,
)
from stoutlink.core.reports.pdf_writer import PAPERS
from stoutlink.core.reports.written_pdf import written_pdf
from stoutlink.core.storage.disk import write_bytes
from stoutlink.core.study.study import Study


def today_of(args: argparse.Namespace) -> datetime.date:
    """The day of ``--today``, else this one; raises :class:`FileError` for one on no calendar."""
    if args.today is None:
        return datetime.date.today()
    day = day_of(args.today)
    if day is None or not FIRST_YEAR <= day.year <= LAST_YEAR:
        why = "is on no calendar" if day is None else "cannot be meant"
        hint = f"Use year-month-day, as 2026-05-04, in a year from {FIRST_YEAR} to {LAST_YEAR}."
        raise FileError("F151", f"--today {args.today} {why}.", hint)
    return day


def add_parts_list(commands: Any, open_study: Callable[[Path], Study]) -> None:
    """The command and its arguments."""
    one = commands.add_parser("parts-list", help="everything the build takes, its money, what is late, another build")
    one.add_argument("file", type=Path)
    one.add_argument("--json", action="store_true", help="as JSON, ISO days")
    one.add_argument("--today", metavar="YYYY-MM-DD", help="as it stands on this day")
    one.add_argument(
        "--due",
        action="store_true",
        help="only what is late, wrong or to be ordered by that day; exit code 1 when anything is",
    )
    one.add_argument("--against", type=Path, metavar="OTHER", help="two builds: lines of one, of the other, of both")
    one.add_argument("--csv", type=Path, metavar="OUT.csv", help="as a table that import --parts reads back")
    one.add_argument("--pdf", type=Path, metavar="OUT.pdf", help="the list on paper")
    one.add_argument("--paper", choices=PAPERS, default="A4", help="paper of --pdf")
    one.set_defaults(run=lambda args: _parts_list(args, open_study))


def _parts_list(args: argparse.Namespace, open_study: Callable[[Path], Study]) -> int:
    study, today = open_study(args.file), today_of(args)
    found, project = study.parts_list(today), study.project
    currency = project.swap.choosing.currency
    if args.against is not None:
        two = between(found, open_study(args.against).parts_list(today))
        print(
            json.dumps(between_json(two), indent=1)
            if args.json
            else between_text(two, args.file.name, args.against.name)
        )
        return 0
    if args.csv is not None:
        write_bytes(parts_csv(found, project).encode(), args.csv)
        print(f"{args.csv} written")
    if args.pdf is not None:
        pages = parts_pages(found, project.build, currency, today)
        write_bytes(written_pdf(pages, "Parts list", project.name, args.file.name, args.paper), args.pdf)
        print(f"{args.pdf} written")
    if args.csv is not None or args.pdf is not None:
        return 0
    if args.due:
        due = due_lines(found, today)
        if args.json:
            print(json.dumps({"due": [{"line": x.key, "why": why} for x, why in due]}, indent=1))
        else:
            print("\n".join(f"{why}: {line_words(x)}" for x, why in due) or "Nothing is late, wrong or to be ordered.")
        return 1 if due else 0
    print(
        json.dumps(parts_json(found, currency), indent=1) if args.json else parts_text(found, project.build, currency)
    )
    return 0

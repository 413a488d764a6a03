"""``stout-link bench``: cards, bolts, brakes, what is due, the first-drive sheet; as text, JSON, a table or paper."""

from __future__ import annotations

import argparse
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from stoutlink.core.reports.bench_paper import bench_csv, bench_pdf
from stoutlink.core.reports.bench_results import bench_json, bench_text, due_text
from stoutlink.core.reports.pdf_writer import PAPERS
from stoutlink.core.storage.disk import write_bytes
from stoutlink.core.study.study import Study


def add_bench(commands: Any, open_study: Callable[[Path], Study]) -> None:
    """The command and its arguments."""
    one = commands.add_parser("bench", help="cards of every assembly, bolts, brakes, what is undone, the first drive")
    one.add_argument("file", type=Path)
    one.add_argument("--json", action="store_true", help="as JSON, SI")
    one.add_argument("--due", action="store_true", help="only what is due now; exit code 1 when anything is")
    one.add_argument("--csv", type=Path, metavar="OUT.csv", help="steps and bolts as a table")
    one.add_argument("--pdf", type=Path, metavar="OUT.pdf", help="cards, bolts and the first-drive sheet on paper")
    one.add_argument("--paper", choices=PAPERS, default="A4", help="paper of --pdf")
    one.set_defaults(run=lambda args: _bench(args, open_study))


def _bench(args: argparse.Namespace, open_study: Callable[[Path], Study]) -> int:
    study = open_study(args.file)
    study.cycle()
    if args.csv is not None:
        write_bytes(bench_csv(study).encode(), args.csv)
        print(f"{args.csv} written")
    if args.pdf is not None:
        write_bytes(bench_pdf(study, args.file.name, args.paper), args.pdf)
        print(f"{args.pdf} written")
    if args.csv is not None or args.pdf is not None:
        return 0
    found = study.due
    if args.json:
        whole = bench_json(study)
        print(json.dumps({"due": whole["due"]} if args.due else whole, indent=1))
    else:
        print(due_text(study) if args.due else bench_text(study))
    return 1 if args.due and found else 0

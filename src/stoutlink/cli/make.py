"""``stout-link make``: one axle of several records, written into the project."""

from __future__ import annotations

import argparse
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from stoutlink.core.catalogue.parts_of_axle import AXLE_PARTS, PART_WORDS
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.editing.swap_edits import MakeOf, StartMade
from stoutlink.core.reports.part_results import made_results
from stoutlink.core.storage.files import Stamp, read_stamped
from stoutlink.core.study.study import Study

WriteBack = Callable[[Project, Path, Stamp], Stamp]


def add_make(commands: Any, write_back: WriteBack) -> None:
    """The command and its arguments."""
    one = commands.add_parser(
        "make", help="make one axle of several records; says what meets, what is new and what to measure"
    )
    one.add_argument("file", type=Path)
    one.add_argument("--of", required=True, metavar="ID", help="the axle that every part is from unless said")
    for part in AXLE_PARTS:
        one.add_argument(f"--{part}", metavar="ID", help=f"the axle whose {PART_WORDS[part]} it gets")
    one.add_argument("--name", help="what it is called")
    one.add_argument("--json", action="store_true", help="as JSON")
    one.set_defaults(run=lambda args: _make(args, write_back))


def _make(args: argparse.Namespace, write_back: WriteBack) -> int:
    project, stamp = read_stamped(args.file)
    new = free_id("made-", (d.id for d in project.swap.donors))
    project = StartMade(new, args.of).apply(project)
    for part in AXLE_PARTS:
        source = getattr(args, part)
        if source is not None:
            project = MakeOf(new, part, source).apply(project)
    if args.name:
        project = SetChoice(f"donors.{new}.name", args.name, "name").apply(project)
    write_back(project, args.file, stamp)
    found = made_results(Study(project), new)
    if args.json:
        print(json.dumps(found, indent=1))
        return 0
    print(f"{new} written into {args.file.name}")
    for mate in found["meets"]:
        print(
            f"  {'fits' if mate['fits'] else 'open' if mate['fits'] is None else 'does not fit'}: {mate['which']}: {mate['why']}"
        )
    for one in found["new"]:
        print(f"  new: {one['what']} ({one['why']})")
    for words in found["to_measure"]:
        print(f"  measure: {words}")
    return 0

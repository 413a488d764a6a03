"""The codes of findings and refusals: each one meaning, in one table that ships with the program (``codes.csv``).

The letter says the room: C tables and cut cards, D what a project may hold, F files and command line, G layouts,
I instruments, K knock-ons, L holes and searches, Q typed text, R stance, S survey, T tyres and travel, W weight.
"""

from __future__ import annotations

import argparse
import csv
import sys
from functools import cache
from importlib.resources import files
from pathlib import Path

from msgspec import Struct

ROOMS = {
    "B": "Bench", "C": "Tables and cut cards", "D": "What a project may hold", "F": "Files and the command line", "G": "Layouts",
    "I": "Instruments", "K": "Knock-ons", "L": "Holes and searches", "Q": "Typed text", "R": "Stance", "S": "Survey",
    "T": "Tyres and travel", "V": "As built, runs, care", "W": "Weight",
}  # fmt: skip


class Code(Struct, frozen=True):
    """What one code means, what it rests on, and what to do about it."""

    code: str
    title: str
    means: str
    rests_on: str
    do: str


@cache
def codes() -> dict[str, Code]:
    """Every code there is, in order.

    >>> codes()["T301"].title, len(codes()) > 200
    ('Touches in travel', True)
    """
    text = files("stoutlink.core").joinpath("codes.csv").read_text(encoding="utf-8")
    return {row["code"]: Code(**row) for row in csv.DictReader(text.splitlines())}


def findings_page() -> str:
    """The page of all codes, as Markdown (docs/findings.md)."""
    out = [
        "# Findings and refusals",
        "",
        "Every code the program can say, what it means, what it rests on and what to do. Made from the table that ships with "
        "the program: `python -m stoutlink.core.codes docs/findings.md`.",
    ]
    room = ""
    for one in codes().values():
        if one.code[0] != room:
            room = one.code[0]
            out += ["", f"## {room}: {ROOMS[room]}"]
        out += ["", f"### {one.code} {one.title}", ""]
        out += [one.means, "", f"- Rests on: {one.rests_on}", f"- Do: {one.do}"]
    return "\n".join(out) + "\n"


def main() -> int:
    """Write the page, or compare it with a file."""
    parser = argparse.ArgumentParser(description="The page of all codes")
    parser.add_argument("file", type=Path)
    parser.add_argument("--check", action="store_true")
    args = parser.parse_args()
    text = findings_page()
    if not args.check:
        args.file.write_text(text, encoding="utf-8")
        return 0
    same = args.file.exists() and args.file.read_text(encoding="utf-8") == text
    if not same:
        print(f"{args.file} is stale: run python -m stoutlink.core.codes {args.file}", file=sys.stderr)
    return 0 if same else 1


if __name__ == "__main__":
    sys.exit(main())

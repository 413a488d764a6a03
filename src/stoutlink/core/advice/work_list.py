"""Findings as a work list: one card for one cause, grouped by the thing it is about, what can hurt first.

A mirrored pair is one card, and so is one cause at several parts. A card keeps its findings, so that accepting it
accepts each of them, by the same keys as ever.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable
from typing import get_args

from msgspec import Struct

from stoutlink.core.advice.finding import RANK, Finding, Severity, Step
from stoutlink.core.document.build_plan import MOST_SETTLED, Lane
from stoutlink.core.document.project import MOST_ACCEPTED, Project

MOST = 100
"""Cards of one kind about one thing; no list of more is gone through one by one."""
ALIKE = 4
"""As much of a cause as tells its kind: code, severity, step and thing."""
STEP_ORDER: tuple[Step, ...] = get_args(Step)


class Card(Struct, frozen=True):
    """One cause: its findings (at least one, all of one code, severity and step) and one sentence for all of them."""

    findings: tuple[Finding, ...]
    sentence: str
    causes: int = 1
    """How many causes it stands for: more than one where the same is said of very many places of one thing."""

    @property
    def first(self) -> Finding:
        """The finding that stands for the others: where *Go* leads."""
        return self.findings[0]

    @property
    def severity(self) -> Severity:
        """How bad it is."""
        return self.first.severity

    @property
    def can_be_accepted(self) -> bool:
        """Whether one reason may be given for all of it: not for what never may be, nor for more than are kept."""
        return self.first.can_be_accepted and len(self.findings) <= MOST_ACCEPTED

    @property
    def can_be_planned(self) -> bool:
        """Whether one task may settle all of it."""
        return self.first.can_be_accepted and len(self.findings) <= MOST_SETTLED

    @property
    def keys(self) -> tuple[str, ...]:
        """What accepting it accepts."""
        return tuple(f.key for f in self.findings)


class Group(Struct, frozen=True):
    """What is said of one thing: its title and its cards, what can hurt first."""

    title: str
    cards: tuple[Card, ...]


def cards(findings: Iterable[Finding]) -> tuple[Card, ...]:
    """One card for one cause, in the order of their first findings; of what is said of more than :data:`MOST` places of
    one thing, the first have a card each and the others one together.

    >>> twin = [Finding("G210", "warn", f"{s} lower: weak.", "", "layout", f"a.lower_{s.lower()}") for s in ("Left", "Right")]
    >>> [card.sentence for card in cards(twin)]
    ['Left lower and Right lower: weak.']
    """
    causes: dict[tuple[str, ...], list[Finding]] = {}
    for one in findings:
        causes.setdefault(_cause(one), []).append(one)
    alike = Counter(cause[:ALIKE] for cause in causes)
    out: dict[tuple[str, ...], Card] = {}
    told: Counter[tuple[str, ...]] = Counter()
    others: dict[tuple[str, ...], list[list[Finding]]] = {}
    for cause, found in causes.items():
        kind = cause[:ALIKE]
        told[kind] += 1
        if alike[kind] <= MOST or told[kind] < MOST:
            out[cause] = Card(tuple(found), _together(found))
        else:
            others.setdefault(kind, []).append(found)
            out.setdefault(kind, Card((), ""))  # its place
    for kind, several in others.items():
        words = f"{len(several)} more like these, the first of them: {_together(several[0])}"
        out[kind] = Card(tuple(f for one in several for f in one), words, len(several))
    return tuple(out.values())


def work_list(project: Project, findings: Iterable[Finding], step: str = "") -> tuple[Group, ...]:
    """Cards by the thing they are about: those dealt with at ``step`` first, then the others; the worse things before
    the others, and within each what can hurt first.
    """
    things: dict[tuple[bool, str], list[Card]] = {}
    for card in cards(findings):
        things.setdefault((card.first.step == step, about(project, card.first)), []).append(card)
    groups = [Group(title, tuple(sorted(held, key=lambda c: RANK[c.severity]))) for (_, title), held in things.items()]
    return tuple(sorted(groups, key=lambda g: _place(g, step)))


def counts(found: Iterable[Card]) -> dict[Severity, int]:
    """How many causes there are of each severity."""
    out: dict[Severity, int] = {"danger": 0, "warn": 0, "note": 0}
    for card in found:
        out[card.severity] += card.causes
    return out


def about(project: Project, finding: Finding) -> str:
    """The thing a finding is about, as a heading: an axle by name, both axles, a layout, a survey, the rig."""
    name = _NAME.split(finding.subject, maxsplit=1)[0]
    if "/" in finding.subject and all(
        any(d.id == part for d in project.swap.donors) for part in finding.subject.split("/")
    ):
        return "Both axles"
    for kind in (project.swap.donors, project.linkage.layouts, project.tape.surveys):
        found = next((one for one in kind if one.id == name), None)
        if found is not None:
            end = getattr(found, "end", "")
            return f"{end.capitalize()}: {found.name}" if end else found.name
    return {"rig": project.rig.name, "tape": "Tape", "donors": "Axles"}.get(finding.step, finding.step.capitalize())


BRAKE_CODES = ("K125", "K143", "K144", "K145", "K158", "K159", "K171")
SHAFT_CODES = ("K139", "K140", "K141")


def lane_of(project: Project, card: Card) -> Lane:
    """The lane of the plan a card belongs to: brakes and driveshafts by what it says, else the end it is about, else the frame."""
    code, name = card.first.code, _NAME.split(card.first.subject, maxsplit=1)[0]
    if code in BRAKE_CODES:
        return "brakes"
    if code in SHAFT_CODES:
        return "driveline"
    for kind in (project.swap.donors, project.linkage.layouts):
        end = next((one.end for one in kind if one.id == name), "")
        if end and "/" not in card.first.subject:
            return "front" if end == "front" else "rear"
    return "front" if name == "front" else "rear" if name == "rear" else "brakes" if name == "brakes" else "frame"


def _place(group: Group, step: str) -> tuple[int, int, int]:
    first = min(STEP_ORDER.index(card.first.step) for card in group.cards)
    return 0 if group.cards[0].first.step == step else 1, RANK[group.cards[0].severity], first


_NAME = re.compile(r"[ ./]")
_SIDE = re.compile(r"\b(left|right)\b|_(left|right)\b", re.IGNORECASE)


def _cause(one: Finding) -> tuple[str, ...]:
    """What makes two findings one card: the same said of mirrored parts, or of several parts of one thing."""
    name = _NAME.split(one.subject, maxsplit=1)[0]
    head, colon, rest = one.sentence.partition(": ")
    same_end = colon and "." in one.subject  # "Left lower: …" of a link
    said = rest if same_end else _SIDE.sub("◊", one.sentence)
    return one.code, one.severity, one.step, name, said, "" if same_end else _SIDE.sub("◊", head)


def _together(found: list[Finding]) -> str:
    """One sentence for all findings of a cause."""
    first = found[0].sentence
    if len(found) == 1:
        return first
    _, colon, rest = first.partition(": ")
    heads = [one.sentence.partition(": ")[0] for one in found]
    if colon and len(set(heads)) == len(heads):
        return f"{', '.join(heads[:-1])} and {heads[-1]}: {rest}"
    return (
        f"{first} The same on the other side." if len(found) == 2 else f"{first} So are {len(found) - 1} more like it."
    )

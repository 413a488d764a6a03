"""What was seen before a choice: as rows of words, and as plain data. What a seller says is called that."""

from __future__ import annotations

from typing import Any

from stoutlink.core.document.project import Project
from stoutlink.core.document.swap import Seen

OUTCOMES = {"open": "open", "bought": "bought", "passed": "passed over", "gone": "gone"}
ORDER = ("bought", "open", "passed", "gone")


def seen_of(project: Project, axle: str | None = None) -> tuple[Seen, ...]:
    """What was seen, of one axle or all, what was bought first; else in the order of the project."""
    return tuple(
        sorted(
            (one for one in project.swap.seen if axle is None or one.axle == axle), key=lambda x: ORDER.index(x.outcome)
        )
    )


def seen_words(project: Project, one: Seen) -> str:
    """A line: what, where, when, how much, what became of it."""
    currency = project.swap.choosing.currency
    price = "" if one.price is None else f"{one.price:.0f} {currency}".strip()
    return ", ".join(x for x in (one.name, one.source, one.when, price, OUTCOMES[one.outcome]) if x)


def seen_text(project: Project) -> str:
    """All of it as text to keep or send."""
    out = []
    for one in seen_of(project):
        out.append(seen_words(project, one))
        said = (("seller says", one.claim), ("for it", one.reason), ("against it", one.doubt))
        out += [f"  {word}: {text}" for word, text in said if text]
    return "\n".join(out)


def seen_results(project: Project) -> list[dict[str, Any]]:
    """JSON-ready."""
    return [
        {
            "id": one.id,
            "name": one.name,
            "axle_record": one.axle or None,
            "source": one.source,
            "seen_when": one.when,
            "asked": one.price,
            "seller_says": one.claim,
            "for_it": one.reason,
            "against_it": one.doubt,
            "outcome": one.outcome,
        }
        for one in seen_of(project)
    ]

"""Which link comes from which bar, in words."""

from __future__ import annotations

from stoutlink.core.analysis.linkage.stock_plan import TubePlan
from stoutlink.core.document.layout import MATERIAL_WORDS
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


def plan_words(plan: TubePlan, unit: UnitSystem, currency: str) -> list[tuple[str, bool]]:
    """A kind of tube: what is cut of it and bought; what is wrong with it."""
    size = f"{show(plan.od, 'length', unit)} × {show(plan.wall, 'fine_length', unit)} {MATERIAL_WORDS[plan.material]}"
    names = {b.id: b.name for b in plan.bars}
    buy = ", ".join(f"{count} × {names[name]}" for name, count in plan.to_buy.items())
    shelf = sum(used.offcut for used in plan.plan.bars)
    parts = [f"{len(plan.pieces)} to cut"]
    if plan.plan.bars:
        parts.append(f"buy {buy}" if buy else "nothing to buy")
    if shelf:
        parts.append(f"{shelf} offcut{'s' if shelf > 1 else ''} from the shelf")
    if plan.cost:
        parts.append(f"{plan.cost:.2f} {currency}".strip())
    if plan.plan.bars and not plan.plan.proved:
        parts.append("longest first; not proved the best")
    out = [(f"{size}: {', '.join(parts)}", False)]
    if plan.plan.too_long:
        what = ", ".join(f"{plan.pieces[i].name} ({plan.pieces[i].axle})" for i in plan.plan.too_long)
        why = "No bar of this tube is named yet" if not plan.bars and not plan.offcuts else "No bar is long enough"
        out.append((f"{why} for {what}.", True))
    return out


def stock_text(plans: tuple[TubePlan, ...], unit: UnitSystem, currency: str) -> str:
    """The cutting plan in words, a line a bar, columns apart by tabs."""
    lines = []
    for plan in plans:
        lines += [words for words, _ in plan_words(plan, unit, currency)]
        for used in plan.plan.bars:
            cuts = [
                f"{plan.pieces[i].name} {plan.pieces[i].axle} {show(plan.pieces[i].length, 'length', unit, decimals=3 if unit == 'in' else 1)}"
                for i in used.pieces
            ]
            lines.append(
                "\t".join([plan.bar_of(used).name, *cuts, f"left {show(used.left, 'length', unit, decimals=1)}"])
            )
    return "\n".join(lines)

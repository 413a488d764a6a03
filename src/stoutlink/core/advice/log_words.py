"""As built, runs, advice, hill and care in words."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

from stoutlink.core.analysis.log.as_built import BuiltAxle, BuiltNumber, BuiltPlace, Judged
from stoutlink.core.analysis.log.bearings import ELSEWHERE, SURE_WORDS, Bearing
from stoutlink.core.analysis.log.care import CareDue
from stoutlink.core.analysis.log.hill import HillFound
from stoutlink.core.analysis.log.next_reading import NextReading
from stoutlink.core.analysis.log.rig_built import RigRow, ScaleMiss, WheelStands
from stoutlink.core.analysis.log.runs import Band, BarBack, HitRate
from stoutlink.core.analysis.log.tuning import Elsewhere, Tuning, Way
from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.document.log import ANGLES, CARE_WORDS, FELT_WORDS, HILL_WORDS, SEEN, BuiltOf, Felt, Hill, Run
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

BUILT_CAUTION = "Read at ride height on its own wheels, on a level floor. A rig on stands under its axles can roll or slip: chocks, and nobody underneath while it is pushed."
FALSE_ALARM = "One good reading in a thousand is called wrong by chance, and an error smaller than what stands beside a reading would not be seen."
HILL_CAUTION = "Slow and in balance only: no speed, no bounce, no loose ground. What it stands on here it may still fall from; this is no leave to drive it."
TUNE_CAUTION = "One change at a time, loosened bolts torqued again and on the list, and the first run after it slow."
CARE_CAUTION = "Intervals are yours or common practice; the maker's book and the local inspection come before them."
_AXES = ("fore and aft", "side to side", "height")
OTHER_WORDS = {"pinion_up": "pinion", "bump_steer": "bump steer"}


def fine(value: float, of: BuiltOf, unit: UnitSystem) -> str:
    """A reading's size."""
    if of in ANGLES:
        return show(value, "angle", unit, decimals=2)
    return show(value, "length", unit, decimals=3 if unit == "in" else 1)


def judged_words(one: Judged, unit: UnitSystem) -> str:
    """A reading against the rest."""
    read, of = fine(one.one.value, one.one.of, unit), one.one.of
    if one.standing == "doubtful" and one.error is None:
        return f"{one.one.name} reads {read}: doubtful, it or one of these cannot be right, and nothing says which: {'; '.join(one.either)}."
    if one.standing in ("wrong", "doubtful"):
        assert one.error is not None
        assert one.error_sigma is not None
        off = f"{one.one.name} reads {read}: {fine(abs(one.error), of, unit)} ± {fine(2 * one.error_sigma, of, unit)} too {'much' if one.error > 0 else 'little'} by the others"
        if one.either:
            return f"{off}; or it is one of these, which cannot be told from it: {'; '.join(one.either)}."
        return f"{off}. It is left out; read it again."
    if one.standing == "unchecked":
        return f"{one.one.name} reads {read}: unchecked, no other reading says anything of it."
    least = "" if math.isinf(one.least) else f"; an error under {fine(one.least, of, unit)} would not be seen"
    if one.standing == "hardly":
        return f"{one.one.name} reads {read}: hardly checked{least}."
    return f"{one.one.name} reads {read}: agrees to {fine(abs(one.residual), of, unit)}{least}."


def number_name(name: str, end: str) -> str:
    """What a number as built is called."""
    if name in HEADLINES:
        return HEADLINES[name].title[0 if end == "rear" else 1]
    return OTHER_WORDS.get(name, name).capitalize()


def number_text(name: str, value: float, unit: UnitSystem) -> str:
    """A number as built in its own unit."""
    if name in HEADLINES:
        return HEADLINES[name].text(value, unit)
    return f"{value:.2f}°".replace("-", "−")


def apart_words(one: BuiltNumber, end: str, unit: UnitSystem) -> str:
    """Planned and as built of a number."""
    moved = one.built - one.planned
    two = 2.0 * one.sigma
    told = "as planned within its ±" if abs(moved) <= two else "not as planned"
    rests = f"; {one.rests:.0%} of that ± is places nobody read" if one.rests >= 0.05 else ""
    return f"{number_name(one.id, end)}: planned {number_text(one.id, one.planned, unit)}, as built {number_text(one.id, one.built, unit)} ± {number_text(one.id, two, unit)}, {told}{rests}."


def place_words(one: BuiltPlace, unit: UnitSystem) -> str:
    """Planned and as built of a bolt's place."""
    if one.point == "pinion":
        built = fine(one.built, "pinion", unit)
        sure = "not read" if one.sigma is None else f"± {fine(2 * one.sigma, 'pinion', unit)}"
        return f"Pinion: planned {fine(one.planned, 'pinion', unit)}, as built {built} ({sure})."
    sure = "not read" if one.sigma is None else f"± {fine(2 * one.sigma, 'up', unit)}"
    return f"{one.name}, {_AXES[one.axis]}: planned {fine(one.planned, 'up', unit)}, as built {fine(one.built, 'up', unit)} ({sure})."


def next_words(one: NextReading, end: str, unit: UnitSystem) -> str:
    """What to read next and what it gains."""
    name = number_name(one.number, end)
    gain = f"takes the bolts' part of the ± of {name.lower()} from ± {number_text(one.number, 2 * one.before, unit)} to ± {number_text(one.number, 2 * one.after, unit)} (−{1.0 - one.after / one.before:.0%})"
    checks = (
        f", and checks {len(one.checks)} reading{'s' if len(one.checks) != 1 else ''} nothing checks now"
        if one.checks
        else ""
    )
    return f"{one.one.name} (about {fine(one.one.value, one.one.of, unit)}): {gain}{checks}."


def next_short(one: NextReading, end: str, unit: UnitSystem) -> tuple[str, str]:
    """The same for a narrow place: what to read, and what it gains."""
    before, after = (number_text(one.number, 2 * v, unit).removesuffix(" of CG") for v in (one.before, one.after))
    checks = f"; checks {len(one.checks)} more" if one.checks else ""
    gain = f"{number_name(one.number, end)}, bolts' part: ± {before} → ± {after} (−{1.0 - one.after / one.before:.0%}){checks}"
    return f"{one.one.name} (about {fine(one.one.value, one.one.of, unit)})", gain


def built_lines(found: BuiltAxle, following: tuple[NextReading, ...], unit: UnitSystem) -> Iterator[str]:
    """Everything of an axle as built."""
    spare = found.found.fit.spare
    yield f"{found.end.capitalize()} axle, {len(found.observations)} readings, {spare:.1f} more than it takes."
    for one in found.judged:
        yield judged_words(one, unit)
    yield "Planned and as built:"
    for number in found.numbers:
        yield apart_words(number, found.end, unit)
    for length in found.lengths:
        link = found.layout.link(length.id)
        yield f"{length.id if link is None else link.name}: planned {fine(length.planned, 'up', unit)}, as built {fine(length.built, 'up', unit)} ± {fine(2 * length.sigma, 'up', unit)}."
    for place in found.places:
        if place.sigma is not None:
            yield place_words(place, unit)
    if following:
        yield "To read next:"
    for more in following:
        yield next_words(more, found.end, unit)
    yield FALSE_ALARM


def rig_lines(
    rows: Iterable[RigRow], misses: Iterable[ScaleMiss], wheels: Iterable[WheelStands], unit: UnitSystem
) -> Iterator[str]:
    """The rig as it stands beside what was stated."""
    for row in rows:
        stated, read = (show(v, row.kind, unit) for v in (row.stated, row.read))  # type: ignore[arg-type]
        sure = show(2.0 * row.sigma, row.kind, unit)  # type: ignore[arg-type]
        yield f"{row.title}: stated {stated}, by the scales {read} ± {sure}, {'not as stated' if row.apart else 'as stated within their ±'}."
    for miss in misses:
        off, sure = show(abs(miss.off), "mass", unit), show(2.0 * miss.sigma, "mass", unit)
        told = "one of the three cannot be right: weigh again" if miss.wrong else "they agree"
        yield f"{miss.end.capitalize()} wheels apart against their axle as a whole: {off} {'more' if miss.off > 0 else 'less'}, ± {sure}: {told}."
    for w in wheels:
        ways = "in" if w.toe >= 0 else "out", "out" if w.camber >= 0 else "in"
        yield f"{w.end.capitalize()} {w.side} wheel, housing {w.stage}: toe {math.degrees(abs(w.toe)):.2f}° {ways[0]}, top {math.degrees(abs(w.camber)):.2f}° {ways[1]} (planned 0), twice that for an even bow."


def felt_words(one: Felt, unit: UnitSystem) -> str:
    """One thing felt or seen."""
    much = {1: "a little", 2: "plainly", 3: "badly"}[one.much]
    at = f" at {show(one.speed_m_per_s, 'speed', unit)}" if one.speed_m_per_s is not None else ""
    return f"{FELT_WORDS[one.id]} {much}{at}{' (seen)' if one.id in SEEN else ''}"


def run_number_words(key: str, value: float, unit: UnitSystem) -> tuple[str, str]:
    """A run's number: its name and its value."""
    end, _, name = key.partition("-")
    return f"{end} {number_name(name, end).lower()}", number_text(name, value, unit)


def run_lines(run: Run, unit: UnitSystem) -> Iterator[str]:
    """A run in lines."""
    where = ", ".join(w for w in (run.when, run.place, run.obstacle) if w)
    yield f"{run.name}: {where}" if where else run.name
    set_as = [
        f"{run.range} range, gear {run.gear}",
        f"front {'locked' if run.front_locked else 'open'}, rear {'locked' if run.rear_locked else 'open'}",
    ]
    if run.load:
        set_as.append(f"load {run.load}")
    for end, value in (("front", run.front_pressure_pa), ("rear", run.rear_pressure_pa)):
        if value is not None:
            set_as.append(f"{end} tyres {show(value, 'pressure', unit)}")
    for hung in run.ends:
        if hung.holes:
            set_as.append(f"{hung.id} holes {', '.join(f'{h.id} {h.hole}' for h in hung.holes)}")
    for end_name, what in (("front", "bump"), ("front", "rebound"), ("rear", "bump"), ("rear", "rebound")):
        clicks = getattr(run, f"{end_name}_{what}_clicks")
        if clicks is not None:
            set_as.append(f"{end_name} {what} {clicks} clicks")
    yield "  set: " + "; ".join(set_as)
    for number in run.numbers:
        name, value_text = run_number_words(number.id, number.value, unit)
        yield f"  {name} {value_text}" + (
            "" if number.sigma is None else f" ± {run_number_words(number.id, 2 * number.sigma, unit)[1]}"
        )
    yield "  felt and seen: " + ("; ".join(felt_words(f, unit) for f in run.felt) or "nothing written down")
    if run.verdict:
        yield f"  called {run.verdict}"
    if run.trial is not None:
        yield f"  tried: {run.trial.change}; promised {run.trial.promise or 'nothing said'}; it was {run.trial.verdict or 'not judged yet'}"
    if run.note:
        yield f"  {run.note}"


def back_words(one: BarBack, unit: UnitSystem) -> str:
    """What a bar asks for to be as in a run."""
    change = f"{show(abs(one.change), 'length', unit, decimals=3 if unit == 'in' else 1)} {'longer' if one.change > 0 else 'shorter'}"
    if not one.turns.turns:
        return f"{one.name}: {change}; " + ("nothing to turn" if one.turns.reaches else "no thread to turn: made anew")
    turned = f"{abs(one.turns.turns):.2f}".rstrip("0").rstrip(".")
    return f"{one.name}: {change}, {turned} turns {'out' if one.turns.turns > 0 else 'in'}" + (
        "" if one.turns.reaches else ": its thread does not reach"
    )


def band_words(one: Band, unit: UnitSystem) -> str:
    """A band of one's own."""
    name, low = run_number_words(one.id, one.low, unit)
    return f"{name}: {low} to {run_number_words(one.id, one.high, unit)[1]} over {one.count} good runs (spread {run_number_words(one.id, one.spread, unit)[1]})"


def band_short(one: Band, unit: UnitSystem) -> str:
    """The same for a narrow place."""
    name, low = run_number_words(one.id, one.low, unit)
    return f"{name} {low.removesuffix(' of CG')} to {run_number_words(one.id, one.high, unit)[1]}"


def hit_words(one: HitRate) -> str:
    """How often what was advised came out."""
    if not one.judged:
        return "No advice has been tried and judged yet."
    few = "; too few to say more" if one.judged < 5 else ""
    return f"{one.better} of {one.judged} tries judged were better, {one.worse} worse{few}."


def bearing_words(one: Bearing) -> str:
    """A number that bears on it, and why."""
    way = {"up": "up", "down": "down", "zero": "toward 0"}[one.way]
    return f"{one.end} {number_name(one.number, one.end).lower()} {way}: {one.why} ({SURE_WORDS[one.sure]})"


def else_words(one: Elsewhere, end: str, unit: UnitSystem) -> str:
    """What a way does elsewhere."""
    name = "bump steer" if one.number == "bump_steer" else number_name(one.number, end).lower()
    return f"{name} {number_text(one.number, one.before, unit)} → {number_text(one.number, one.after, unit)}"


def cost_words(way: Way, end: str, unit: UnitSystem) -> Iterator[str]:
    """What a way costs elsewhere, where it shows in the number as it is written."""
    for e in way.elsewhere:
        if e.cost >= 0.05 and number_text(e.number, e.before, unit) != number_text(e.number, e.after, unit):
            yield else_words(e, end, unit)


def way_lines(one: Way, end: str, unit: UnitSystem) -> Iterator[str]:
    """One way to bolt it."""
    moved = "; ".join(
        f"{number_name(b.number, end).lower()} {number_text(b.number, x, unit)} → {number_text(b.number, y, unit)}"
        for b, x, y in one.moved
    )
    yield f"{one.words}: {moved}. Gain {one.gain:.1f}, costs {one.cost:.1f} usual differences elsewhere."
    costs = list(cost_words(one, end, unit))
    yield "  elsewhere: " + ("; ".join(costs) or "nothing worth a word")
    turns = [
        f"{name} {abs(t):.1f} turns {'out' if t > 0 else 'in'}{'' if ok else ', its thread does not reach'}"
        for name, t, ok in one.turned
    ]
    yield "  to turn: " + ("; ".join(turns) or "no bar")


def tuning_lines(found: Tuning | None, felt: str, unit: UnitSystem) -> Iterator[str]:
    """Advice for what was felt, at one axle by one school."""
    if found is None:
        yield ELSEWHERE.get(felt, "No hole at this end bears on it.")  # type: ignore[call-overload]
        return
    school = f", school “{found.school}”" if found.school else ""
    yield f"{found.end.capitalize()} axle {FELT_WORDS[found.felt]}{school}:"
    for bearing in found.bearings:
        yield f"  {bearing_words(bearing)}"
    for n, way in enumerate(found.ways, 1):
        first, *rest = way_lines(way, found.end, unit)
        yield f" {n}. {first}"
        yield from (f"   {line}" for line in rest)
    if not found.ways:
        yield "  No combination of holes moves it enough: other brackets, or leave it."
    more = ELSEWHERE.get(found.felt)
    if more:
        yield f"  {more}"


def hill_name(hill: Hill, unit: UnitSystem) -> str:
    """The profile in a few words."""
    high, slope = show(hill.high_m, "length", unit), f"{math.degrees(hill.slope_rad):.0f}°"
    sizes = {
        "ledge": high, "steps": f"{hill.count} × {high}", "grade": slope, "side": slope, "ditch": f"{high} deep, sides {slope}", "own": f"{len(hill.points)} points",
    }  # fmt: skip
    return f"{HILL_WORDS[hill.kind]}, {sizes[hill.kind]}"


def hill_lines(found: HillFound | str, unit: UnitSystem) -> Iterator[str]:
    """What became of a setting on the hill."""
    if isinstance(found, str):
        yield found
        return
    where = show(found.needs_at, "length", unit)
    yield f"Most grip used: {found.needs:.2f} at the {found.needs_wheel} tyre, {where} along; there is {found.friction:.2f}."
    if found.wall:
        yield "A step is as high as a hub or higher: a wheel does not roll over it (Travel, Climb says what grip could)."
    if found.slides is not None:
        yield f"▲ It slides: more grip is wanted than there is from {show(found.slides, 'length', unit)} along."
    if found.tips is not None:
        yield f"▲ A whole side or end has no weight on it at {show(found.tips, 'length', unit)} along: there it tips."
    if found.lifts is not None:
        yield f"The {found.lifts[0]} wheel lifts first, {show(found.lifts[1], 'length', unit)} along."
    for touch in found.touches:
        room = show(abs(touch.room), "length", unit)
        yield (
            f"▲ The {touch.name} hangs up, {room} deep"
            if touch.room <= 0
            else f"Least room under the {touch.name}: {room}"
        ) + f", {show(touch.at, 'length', unit)} along."
    if not found.touches:
        yield "No low points are entered (Rig, Stance): whether it hangs up is not known."
    low, high, side = (show(v, "angle", unit) for v in (*found.nose_up, max(abs(v) for v in found.leans)))
    yield f"Body from {low} to {high} nose up, leans {side} at most."
    if found.lost:
        yield f"At {found.lost} places nothing holds it in balance: it goes over them in one movement."
    yield "Places are where the rear axle is; the obstacle begins at 0. Taken: " + "; ".join(found.assumed) + "."


def care_words(one: CareDue, unit: UnitSystem) -> str:
    """One thing to look after."""
    parts = []
    if one.left_m is not None:
        parts.append(f"{show(abs(one.left_m), 'distance', unit)} {'left' if one.left_m > 0 else 'over'}")
    if one.left_days is not None:
        parts.append(
            f"{abs(one.left_days)} day{'s' if abs(one.left_days) != 1 else ''} {'left' if one.left_days > 0 else 'over'}"
        )
    state = "DUE" if one.due else "soon" if one.soon else "later"
    return f"{state}: {one.item.name} ({CARE_WORDS[one.item.kind]}), {', '.join(parts) or 'no interval said'}{', never done yet' if one.never else ''}"

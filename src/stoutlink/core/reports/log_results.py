"""The log as plain data and as text: as built, runs, advice, the hill, care."""

from __future__ import annotations

import datetime
import math
from typing import Any

import numpy as np

from stoutlink.core.advice.log_words import (
    BUILT_CAUTION,
    CARE_CAUTION,
    HILL_CAUTION,
    TUNE_CAUTION,
    band_words,
    built_lines,
    care_words,
    hill_lines,
    hill_name,
    hit_words,
    rig_lines,
    run_lines,
    tuning_lines,
)
from stoutlink.core.analysis.log.as_built import BuiltAxle, BuiltNumber
from stoutlink.core.analysis.log.bearings import BEARINGS
from stoutlink.core.analysis.log.hill import WHEELS, HillFound
from stoutlink.core.analysis.log.runs import hit_rate, own_bands
from stoutlink.core.analysis.log.tuning import Tuning, schools_of
from stoutlink.core.document.log import FELT_WORDS, FeltWord, Run
from stoutlink.core.errors import StoutError
from stoutlink.core.study.study import Study
from stoutlink.core.study.vehicle import ENDS
from stoutlink.core.tables import table_text

NO_READING = "Nothing has been read of it as built: Log, As built takes heights, pin to pin, diagonals."


def _finite(value: float | None) -> float | None:
    return None if value is None or not math.isfinite(value) else value


def built_json(study: Study) -> dict[str, Any]:
    """Both axles as built, SI; angles in rad, numbers in their own unit."""
    rows, misses, wheels = study.rig_built
    return {end: _built(study, end) for end in ENDS} | {
        "rig": [{"id": r.id, "stated": r.stated, "stated_sigma": r.stated_sigma, "read": r.read, "sigma": r.sigma, "apart": r.apart} for r in rows],
        "scales": [{"end": m.end, "off_kg": m.off, "sigma": m.sigma, "wrong": m.wrong} for m in misses],
        "wheels": [{"end": w.end, "side": w.side, "stage": w.stage, "toe_rad": w.toe, "camber_rad": w.camber} for w in wheels],
    }  # fmt: skip


def _built(study: Study, end: str) -> dict[str, Any] | None:
    found = study.as_built(end)
    if found is None:
        return None
    return {
        "readings": [
            {
                "key": j.one.key, "name": j.one.name, "of": j.one.of, "a": j.one.a, "b": j.one.b, "read": j.one.value, "sigma": j.one.sigma, "source": j.one.source, "standing": j.standing,
                "residual": _finite(j.residual), "redundancy": j.redundancy, "w": _finite(j.w), "error": j.error, "error_sigma": j.error_sigma, "least_seen": _finite(j.least), "or_one_of": list(j.either),
            }
            for j in found.judged
        ],
        "spare": found.found.fit.spare,
        "unit_sigma": found.found.fit.unit_sigma,
        "places": [{"point": p.point, "axis": "xyz"[p.axis] if p.point != "pinion" else "angle", "planned": p.planned, "built": p.built, "sigma": p.sigma} for p in found.places],
        "numbers": [_number(n) for n in found.numbers],
        "lengths": [_number(n) for n in found.lengths],
        "next": [
            {"of": n.one.of, "a": n.one.a, "b": n.one.b, "name": n.one.name, "about": n.one.value, "number": n.number, "sigma_before": n.before, "sigma_after": n.after, "checks": list(n.checks)}
            for n in study.next_readings(end)
        ],
    }  # fmt: skip


def _number(n: BuiltNumber) -> dict[str, Any]:
    return {
        "id": n.id,
        "planned": _finite(n.planned),
        "built": _finite(n.built),
        "sigma": _finite(n.sigma),
        "not_read": n.rests,
    }


def built_text(study: Study) -> str:
    """Both axles as built, in words."""
    unit = study.project.settings.units
    lines: list[str] = []
    for end in ENDS:
        found = study.as_built(end)
        if found is not None:
            lines += [*built_lines(found, study.next_readings(end), unit), ""]
    lines += rig_lines(*study.rig_built, unit)
    return "\n".join([*lines, BUILT_CAUTION]) if lines else NO_READING


def built_wrong(study: Study) -> bool:
    """Whether a reading as built cannot be right."""
    found: list[BuiltAxle | None] = [study.as_built(end) for end in ENDS]
    return any(one is not None and one.suspects for one in found) or any(m.wrong for m in study.rig_built[1])


def log_json(study: Study, today: datetime.date) -> dict[str, Any]:
    """Runs, bands of one's own, hit rate, care, what broke, spares."""
    log = study.project.log
    rate = hit_rate(log.runs)
    return {
        "driven_m": study.project.bench.first_drive.driven_m,
        "runs": [_run(r) for r in log.runs],
        "bands": [{"id": b.id, "low": b.low, "high": b.high, "mean": b.mean, "spread": b.spread, "runs": b.count} for b in own_bands(log.runs)],
        "tries": {"judged": rate.judged, "better": rate.better, "worse": rate.worse, "open": rate.open},
        "care": _care(study, today),
        "broken": [{"id": b.id, "name": b.name, "end": b.end, "part": b.part, "when": b.when, "driven_m": b.driven_m, "how": b.how, "ladder_said": b.margin} for b in log.broken],
        "spares": [{"id": s.id, "name": s.name, "there": s.count, "wanted": s.wanted, "place": s.place} for s in log.spares],
    }  # fmt: skip


def _care(study: Study, today: datetime.date) -> list[dict[str, Any]]:
    return [
        {"id": d.item.id, "name": d.item.name, "kind": d.item.kind, "left_m": d.left_m, "left_days": d.left_days, "due": d.due, "soon": d.soon, "never": d.never}
        for d in study.care(today)
    ]  # fmt: skip


def due_json(study: Study, today: datetime.date) -> dict[str, Any]:
    """Care that is due or soon."""
    bolts = [b.place.name for b in study.fasteners if b.standing == "again"]
    return {"care": [c for c in _care(study, today) if c["due"] or c["soon"]], "bolts": bolts}


def _run(r: Run) -> dict[str, Any]:
    return {
        "id": r.id, "name": r.name, "when": r.when, "place": r.place, "obstacle": r.obstacle, "load": r.load, "range": r.range, "gear": r.gear,
        "front_locked": r.front_locked, "rear_locked": r.rear_locked, "front_pressure_pa": r.front_pressure_pa, "rear_pressure_pa": r.rear_pressure_pa,
        "clicks": {k: getattr(r, f"{k}_clicks") for k in ("front_bump", "front_rebound", "rear_bump", "rear_rebound")},
        "holes": {e.id: {h.id: h.hole for h in e.holes} for e in r.ends}, "layouts": {e.id: e.layout for e in r.ends},
        "numbers": {n.id: {"value": n.value, "sigma": n.sigma} for n in r.numbers},
        "felt": [{"what": f.id, "much": f.much, "speed_m_per_s": f.speed_m_per_s} for f in r.felt], "verdict": r.verdict, "note": r.note, "photos": list(r.photos),
        "trial": None if r.trial is None else {"after": r.trial.after, "felt": r.trial.felt, "change": r.trial.change, "promise": r.trial.promise, "verdict": r.trial.verdict},
    }  # fmt: skip


def log_text(study: Study, today: datetime.date) -> str:
    """The log in words."""
    log, unit = study.project.log, study.project.settings.units
    lines = [line for run in log.runs for line in run_lines(run, unit)]
    bands = own_bands(log.runs)
    if bands:
        lines += ["Your own bands, from runs you called good:", *(f"  {band_words(b, unit)}" for b in bands)]
    if log.runs:
        lines.append(hit_words(hit_rate(log.runs)))
    lines += [care_words(d, unit) for d in study.care(today)]
    lines += [broken_words(study, b.id) for b in log.broken]
    lines += [f"Spare: {s.name}, {s.count} of {s.wanted}{', ' + s.place if s.place else ''}" for s in log.spares]
    return "\n".join([*lines, CARE_CAUTION] if lines else ["Nothing in the log yet."])


def broken_words(study: Study, key: str) -> str:
    """A broken part beside what the ladder had said of it."""
    one = next(b for b in study.project.log.broken if b.id == key)
    said = (
        "the ladder said nothing of it"
        if one.margin is None
        else f"the ladder had said {one.margin:.2f} × what was asked of it"
    )
    return f"Broken: {one.name} ({one.end}){', ' + one.when if one.when else ''}: {said}{'; ' + one.how if one.how else ''}"


def due_text(study: Study, today: datetime.date) -> str:
    """Care that is due or soon, in words."""
    unit = study.project.settings.units
    lines = [care_words(d, unit) for d in study.care(today) if d.due or d.soon]
    lines += [f"DUE: torque again: {b.place.name}" for b in study.fasteners if b.standing == "again"]
    return "\n".join([*lines, CARE_CAUTION]) if lines else "Nothing is due."


def runs_csv(study: Study) -> str:
    """Runs as a table: settings, numbers, what was felt."""
    runs = study.project.log.runs
    keys = tuple(dict.fromkeys(n.id for r in runs for n in r.numbers))
    rows: list[tuple[str, ...]] = [("run", "name", "when", "place", "obstacle", "front_pressure_pa", "rear_pressure_pa", "range", "gear", "holes", "felt", "verdict", *keys)]  # fmt: skip
    for r in runs:
        holes = "; ".join(f"{h.id} {h.hole}" for e in r.ends for h in e.holes)
        felt = "; ".join(f"{f.id} {f.much}" for f in r.felt)
        numbers = {n.id: n.value for n in r.numbers}
        pressures = ["" if p is None else repr(p) for p in (r.front_pressure_pa, r.rear_pressure_pa)]
        rows.append((r.id, r.name, r.when, r.place, r.obstacle, *pressures, r.range, str(r.gear), holes, felt, r.verdict, *("" if k not in numbers else repr(numbers[k]) for k in keys)))  # fmt: skip
    return table_text(rows)


def advice(study: Study, felt: FeltWord, only: str | None = None) -> list[tuple[str, str, Tuning | None, str]]:
    """Advice by end and school: (end, school, what can be done, why nothing)."""
    out: list[tuple[str, str, Tuning | None, str]] = []
    for end in ENDS:
        if only not in (None, end):
            continue
        for school in schools_of(felt, end):
            try:
                found, why = study.tuning(end, felt, school), ""
            except StoutError as problem:
                found, why = None, problem.sentence
            layout = study.project.layout(end)
            if found is not None and not found.ways:
                why = "no combination of holes moves it enough"
            if found is None and not why:
                why = (
                    "no layout"
                    if layout is None
                    else "no bracket of this end has a row of holes"
                    if not layout.brackets
                    else "none of its holes bears on it"
                )
            out.append((end, school, found, why))
    return out


def tune_json(study: Study, felt: FeltWord, only: str | None = None) -> dict[str, Any]:
    """Advice for what was felt."""
    return {
        "felt": felt,
        "bears": [{"end": b.end, "number": b.number, "way": b.way, "why": b.why, "sure": b.sure, "school": b.school} for b in BEARINGS[felt]],
        "advice": [
            {
                "end": end, "school": school, "why_none": why,
                "ways": [] if found is None else [
                    {
                        "holes": w.words, "gain": w.gain, "cost": w.cost, "reaches": w.reaches,
                        "moved": [{"number": b.number, "before": x, "after": y} for b, x, y in w.moved],
                        "elsewhere": [{"number": e.number, "before": _finite(e.before), "after": _finite(e.after), "cost": e.cost} for e in w.elsewhere],
                        "turns": [{"bar": n, "turns": t, "reaches": ok} for n, t, ok in w.turned],
                    }
                    for w in found.ways
                ],
            }
            for end, school, found, why in advice(study, felt, only)
        ],
    }  # fmt: skip


def tune_text(study: Study, felt: FeltWord, only: str | None = None) -> str:
    """Advice for what was felt, in words."""
    unit = study.project.settings.units
    lines: list[str] = []
    for end, school, found, why in advice(study, felt, only):
        lines += (
            [f"{end.capitalize()} axle{', school “' + school + '”' if school else ''}: {why}."]
            if found is None
            else list(tuning_lines(found, felt, unit))
        )
    if not lines:
        lines = list(tuning_lines(None, felt, unit))
    return "\n".join([f"{FELT_WORDS[felt].capitalize()}.", *lines, TUNE_CAUTION])


def hill_json(found: HillFound | str) -> dict[str, Any]:
    """A setting on the hill, SI; wheels front left, front right, rear left, rear right."""
    if isinstance(found, str):
        return {"driven": False, "why": found}
    run = found.run
    used = np.where(run.rests[:, None], run.used, np.nan)

    def rows(values: Any) -> list[Any]:
        return [[_finite(float(v)) for v in np.atleast_1d(row)] for row in values]

    return {
        "driven": True, "over": found.over, "needs": found.needs, "needs_wheel": found.needs_wheel, "needs_at_m": _finite(found.needs_at), "grip": found.friction,
        "slides_at_m": found.slides, "tips_at_m": found.tips, "lifts": None if found.lifts is None else {"wheel": found.lifts[0], "at_m": found.lifts[1]},
        "touches": [{"point": t.name, "room_m": t.room, "at_m": t.at} for t in found.touches], "wall": found.wall, "no_rest": found.lost, "taken": list(found.assumed),
        "force_left_n": float(run.left_over[run.rests].max(initial=0.0)), "work_j": float(run.work[-1]), "energy_j": float(run.energy[-1]),
        "wheels": list(WHEELS), "at_m": [float(v) for v in run.at], "rests": [bool(v) for v in run.rests],
        "pitch_rad": [float(v) for v in run.pitch], "roll_rad": [float(v) for v in run.roll], "normal_n": rows(run.normal), "drive_n": rows(run.drive), "used": rows(used),
    }  # fmt: skip


def hill_text(study: Study, found: HillFound | str) -> str:
    """A setting on the hill in words."""
    unit = study.project.settings.units
    return "\n".join([f"Test hill: {hill_name(study.project.log.hill, unit)}.", *hill_lines(found, unit), HILL_CAUTION])

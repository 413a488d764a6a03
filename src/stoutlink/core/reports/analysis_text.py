"""The analysis as a page of plain text for a terminal."""

from __future__ import annotations

from typing import Any

from stoutlink.core.quantity.length_text import format_fraction, format_length
from stoutlink.core.quantity.shown import show
from stoutlink.core.study.study import Study


def analysis_text(study: Study, data: dict[str, Any]) -> str:
    """Headline numbers, poses, cut list and findings in the project's unit."""
    unit = study.project.settings.units
    lines = [f"{study.project.name}: {study.project.rig.name}"]
    for n in study.rig_numbers().values():
        if n.value is not None:
            places = 1 if n.kind == "angle" or (n.kind == "length" and unit == "in") else 0
            lines.append(
                f"  {n.title:<38} {show(n.value, n.kind, unit, decimals=places)} ± {show(2 * n.sigma, n.kind, unit, decimals=places)}  {n.source}".rstrip()
            )
    if study.needs:
        lines.append(f"  not entered yet: {', '.join(n.words for n in study.needs)}")
    for end, axle in study.axles.items():
        layout = study.project.layout(end)
        if layout is not None and axle.problem is not None:
            lines += ["", f"{end.capitalize()}: {layout.name}", f"  no numbers: {axle.problem.sentence}"]
        if layout is None or not axle.gauges:
            continue
        lines += ["", f"{end.capitalize()}: {layout.name}"]
        for g in axle.gauges:
            lines.append(f"  {g.title:<38} {g.text:<26} {g.sure:<27} {g.word}".rstrip())
        for pose in data["axles"][end].get("poses", ()):
            where = f"heave {pose['heave_m'] * 1000:g} mm, roll {pose['roll_deg']:g}°"
            if pose["reached"]:
                x, y, z = pose["axle_centre_m"]
                lines.append(
                    f"  at {where}: centre {x:.4f} {y:.4f} {z:.4f} m, yaw {pose['yaw_deg']:.3f}°, pitch {pose['pitch_deg']:.3f}°"
                )
            else:
                lines.append(f"  at {where}: not reached, {pose['why']}")
        for load in axle.loads.links if axle.loads is not None else ():
            w = load.weakest
            if w is not None and w.margin is not None:
                lines.append(f"  {load.link.name:<38} {show(load.worst, 'force', unit):<26} {w.margin:.2f} × {w.what}")
    if study.cuts:
        lines += ["", "Cut list"]
    for c in study.cuts:
        cut = (
            f"{format_length(c.cut.tube, 'in', decimals=3)} ({format_fraction(c.cut.tube)})"
            if unit == "in"
            else format_length(c.cut.tube, "mm")
        )
        lines.append(f"  {c.layout.end:<6} {c.link.name:<18} cut {cut}")
    if study.open:
        lines += ["", "Open findings"]
        lines += [f"  {f.code} {f.severity}: {f.sentence}" for f in study.open]
    return "\n".join(lines)

"""What the rig's numbers force: the weight rating, sources that disagree, tyres that are not what they say,
clearance.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.survey.clearances import too_near
from stoutlink.core.analysis.vehicle.effective_vehicle import EffectiveVehicle, scaled_mass
from stoutlink.core.analysis.vehicle.lacking import NotEntered, lacking
from stoutlink.core.analysis.vehicle.stance import low_points, surveyed_ride
from stoutlink.core.document.default_sigma import CG_HEIGHT, sigma_of
from stoutlink.core.document.placeholders import is_placeholder
from stoutlink.core.document.project import Project
from stoutlink.core.mechanics.weighing import LEAST_TILT
from stoutlink.core.quantity.shown import show

RIDE_AGREES = 0.015
"""Ride height stated and surveyed may differ by this, m (about 2 σ of tape, loaded radius and rail height)."""
PRINTED_OFF = 0.0381
"""A tyre further from its printed diameter than this, m, is worth a word (common practice: up to 1 1/2 in)."""

LARGE = 0.86
"""A tyre taller than this, m, changes enough of the vehicle to be asked about at an inspection (estimate)."""


def rig_findings(project: Project, true: EffectiveVehicle) -> tuple[Finding, ...]:
    """Everything the rig step has to say."""
    return (
        *_lacking(project, true),
        *_sources(project, true),
        *_weight(project, true),
        *_tyres(project),
        *_stance(project, true),
        *_drivetrain(project),
    )


def _lacking(project: Project, true: EffectiveVehicle) -> Iterator[Finding]:
    needs = lacking(project, true)
    if needs:
        said = NotEntered(needs)
        why = f"No result is given that would rest on them. {said.hint}"
        yield Finding(said.code, "warn", said.sentence, why, "rig", needs[0].field)


def _sources(project: Project, true: EffectiveVehicle) -> Iterator[Finding]:
    meanwhile = (
        "" if any(n.group == "weight" for n in lacking(project, true)) else "The stated number counts meanwhile."
    )
    for problem in true.problems:
        yield Finding(
            problem.code,
            "warn",
            problem.sentence,
            f"{problem.hint} {meanwhile}".strip(),
            "rig",
            problem.code,
        )
    tilt = true.rig.weight.tilt
    if true.height_from == "tilt" and tilt.angle_rad is not None and abs(tilt.angle_rad) < LEAST_TILT:
        yield Finding(
            "W120",
            "warn",
            f"It was tilted by only {math.degrees(abs(tilt.angle_rad)):.1f}°; 10° or more is wanted.",
            "With little tilt a kilogram on the scales moves the height a lot. Chain the raised end, keep everybody clear of it, and never get under it.",
            "rig",
            "tilt",
        )


def _weight(project: Project, true: EffectiveVehicle) -> Iterator[Finding]:
    unit, book, rig = project.settings.units, project.rig.weight, true.rig
    needs = lacking(project, true)
    weighed = not any(n.group == "weight" for n in needs)
    if weighed and book.gvwr_kg is not None and rig.mass_kg > book.gvwr_kg:
        yield Finding(
            "W101",
            "danger",
            f"At {show(rig.mass_kg, 'mass', unit)} it is {show(rig.mass_kg - book.gvwr_kg, 'mass', unit)} over its weight rating of {show(book.gvwr_kg, 'mass', unit)}.",
            "The rating is the vehicle's: brakes, frame and tyres are part of it, and a stronger axle does not raise it. Local rules decide.",
            "rig",
            "gvwr",
        )
    scaled = scaled_mass(project.rig)
    if book.mass_from == "stated" and scaled is not None:
        yield Finding(
            "W105",
            "warn",
            f"The scales give {show(scaled, 'mass', unit)}, but the stated {show(project.rig.mass_kg, 'mass', unit)} count.",
            "Choose the scales as the source of weight and balance point, or empty them if they were read at another time.",
            "rig",
            "scales",
        )
    if (
        book.mass_from != "stated"
        and true.mass_from != "stated"
        and not is_placeholder(project, "rig.mass_kg")
        and abs(true.rig.mass_kg - project.rig.mass_kg) > 0.04 * project.rig.mass_kg
    ):
        words = {"scales": "the scales", "items": "curb weight and items"}[true.mass_from]
        yield Finding(
            "W102",
            "note",
            f"The stated weight is {show(project.rig.mass_kg, 'mass', unit)}, {words} give {show(true.rig.mass_kg, 'mass', unit)}.",
            "What was found out counts; the stated number is only kept.",
            "rig",
            "mass",
        )
    if true.height_from != "stated" and not is_placeholder(project, "rig.cg_height_m"):
        stated, found = project.rig.cg_height_m, rig.cg_height_m
        sigma = math.hypot(sigma_of("rig.cg_height_m", stated, project.entries) or CG_HEIGHT, 0.05)
        if abs(stated - found) > 3.0 * sigma:
            yield Finding(
                "W103",
                "warn",
                f"The stated CG height is {show(stated, 'length', unit, decimals=1)}, the readings give {show(found, 'length', unit, decimals=1)}.",
                "One thing found two ways does not agree: read the tilted scales and the angle again first.",
                "rig",
                "cg_height",
            )
    for end in ("front", "rear"):
        own = project.rig.end(end)
        if own.unsprung_mass_kg is not None and project.donor(end) is not None and own.wheel_mass_kg is not None:
            donor = project.donor(end)
            parts = (donor.weight_kg or 0.0 if donor else 0.0) + own.wheels * own.wheel_mass_kg
            if abs(parts - own.unsprung_mass_kg) > 0.15 * parts:
                yield Finding(
                    "W104",
                    "note",
                    f"The {end} unsprung weight is stated as {show(own.unsprung_mass_kg, 'mass', unit)}; axle and wheels give {show(parts, 'mass', unit)}.",
                    "Empty the stated number to let the chosen axle and the wheels count.",
                    "rig",
                    end,
                )


def _tyres(project: Project) -> Iterator[Finding]:
    unit = project.settings.units
    for end in ("front", "rear"):
        w = project.rig.end(end)
        printed = w.printed
        if (
            printed is not None
            and w.tyre_free_radius_m is not None
            and abs(2 * w.free - printed.diameter) > PRINTED_OFF
        ):
            yield Finding(
                "T101",
                "warn",
                f"The {end} tyre is printed {show(printed.diameter, 'length', unit, decimals=1)} and measures {show(2 * w.free, 'length', unit, decimals=1)} across.",
                "A printed size may be off by up to 1 1/2 in (common practice); more than that is the wrong size or a slip of the tape: measure it again first.",
                "rig",
                end,
            )
        if not w.loaded <= w.rolling + 0.002 <= w.free + 0.004:
            yield Finding(
                "T102",
                "warn",
                f"The {end} rolling radius, {show(w.rolling, 'length', unit, decimals=2)}, is not between loaded, {show(w.loaded, 'length', unit, decimals=2)}, and free, {show(w.free, 'length', unit, decimals=2)}.",
                "A tyre rolls a little less far than its free size and further than its loaded height: count the turns and measure the roll-out again first.",
                "rig",
                end,
            )
        if w.rolled is not None and w.rolling_radius_m is not None and abs(w.rolled / w.rolling_radius_m - 1) > 0.01:
            yield Finding(
                "T103",
                "warn",
                f"The {end} roll-out gives a rolling radius of {show(w.rolled, 'length', unit, decimals=2)}, the typed one is {show(w.rolling_radius_m, 'length', unit, decimals=2)}.",
                "The roll-out counts. Check the turns and the distance, or empty the typed radius.",
                "rig",
                end,
            )
        if (
            w.loaded_radius_m is not None
            and w.loaded_radius_road_m is not None
            and w.loaded_radius_m > w.loaded_radius_road_m + 0.002
        ):
            yield Finding(
                "T104",
                "note",
                f"The {end} tyre stands higher at trail pressure than at road pressure.",
                "Aired down it should stand lower: look whether the two readings changed places.",
                "rig",
                end,
            )


def _stance(project: Project, true: EffectiveVehicle) -> Iterator[Finding]:
    if any(n.group == "stance" for n in lacking(project, true)):
        return
    unit, wanted, at = project.settings.units, project.rig.stance.belly_wanted_m, low_points(true.rig)
    if wanted is not None and at.belly_clearance is not None and at.belly_clearance < wanted - 1e-6:
        yield Finding(
            "R101",
            "warn",
            f"The belly stands {show(at.belly_clearance, 'length', unit, decimals=1)} high; {show(wanted, 'length', unit, decimals=1)} is wanted.",
            "Taller tyres, more ride height (the CG rises with it) or a flatter belly. Height changes: check local codes.",
            "rig",
            "belly",
        )
    for end in ("front", "rear"):
        typed, found = getattr(project.rig.stance, f"ride_{end}_m"), surveyed_ride(project, end)
        if typed is not None and found is not None and abs(typed - found) > RIDE_AGREES:
            yield Finding(
                "R102",
                "warn",
                f"The frame over the {end} axle is stated as {show(typed, 'length', unit, decimals=1)}; the survey has {show(found, 'length', unit, decimals=1)}.",
                "One thing measured two ways does not agree: measure it again straight over the axle first, then the tape's heights there.",
                "rig",
                end,
            )
    for one in too_near(project):
        who, gap = f"{one.link.name} ({one.layout.end})", show(abs(one.gap), "length", unit, decimals=2)
        near = f"comes within {gap} of {one.solid.name}; {show(one.solid.clearance_m, 'length', unit, decimals=2)} is wanted"
        yield Finding(
            "K210",
            "danger" if one.gap <= 0 else "warn",
            f"{who} {near if one.gap > 0 else f'runs {gap} into {one.solid.name}'}, at ride height.",
            "Move a pivot or the part. Bump, droop and steering need room as well.",
            "layout",
            f"{one.layout.id}.{one.link.id}/{one.solid.id}",
        )


def _drivetrain(project: Project) -> Iterator[Finding]:
    train = project.rig.drivetrain
    if train.output_m is not None:
        y = train.output_m[1]
        side = "left" if y > 0.03 else "right" if y < -0.03 else "centre"
        if side != train.output_side:
            yield Finding(
                "R110",
                "warn",
                f"The output is said to be {train.output_side}, but it was measured {side if side == 'centre' else f'on the {side}'}.",
                "The driveshaft and every upper link depend on its side: look once more.",
                "rig",
                "output",
            )
    if project.rig.road_legal and any(2 * project.rig.end(end).free > LARGE for end in ("front", "rear")):
        yield Finding(
            "R111",
            "note",
            "It must stay road legal on large tyres: brakes, height, track and fender cover change with them.",
            "Have the brakes tested and balanced after an axle or tyre change, and ask the local inspection before buying.",
            "rig",
            "road",
        )

"""Which radius serves which number, and what mixing them up would do."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import planned_gears
from stoutlink.core.mechanics.gearing import engine_rpm
from stoutlink.core.quantity.constants import GRAVITY


class Effect(Struct, frozen=True):
    """A number with the radius it uses (m) and the radius often used instead: both values in SI, ``kind`` for
    display.
    """

    what: str
    uses: str
    radius: float
    value: float
    kind: str
    instead: str
    other: float

    @property
    def off(self) -> float:
        """How far off the number would be with the other radius, as a part."""
        return self.other / self.value - 1.0 if self.value else 0.0


def tyre_effects(project: Project, rig: Rig, end: str) -> tuple[Effect, ...]:
    """Gearing, strength and geometry at one end with the radius that belongs to each. Gears need a chosen axle there."""
    w, train, donor = rig.end(end), rig.drivetrain, project.donor(end)
    printed = 0.5 * w.printed.diameter if w.printed is not None else w.free
    basis = "printed size" if w.printed is not None else "free radius"
    out = []
    pair = None if donor is None else planned_gears(donor, project.plan(end))
    if donor is not None and pair is not None:
        total = pair.ratio * donor.hub_ratio * train.top_ratio * train.transfer_high_ratio
        speed = rig.road_speed_m_per_s
        out.append(
            Effect(
                "Engine at road speed",
                "rolling radius",
                w.rolling,
                engine_rpm(speed, w.rolling, total),
                "rpm",
                basis,
                engine_rpm(speed, printed, total),
            )
        )
    grip = project.swap.choosing.friction * rig.mass_kg * GRAVITY * load_share(rig, end)
    out.append(
        Effect("Torque the tyres can hold", "loaded radius", w.loaded, grip * w.loaded, "torque", basis, grip * printed)
    )
    out.append(Effect("Axle centre above ground", "loaded radius", w.loaded, w.loaded, "length", basis, printed))
    if w.loaded_radius_road_m is not None:
        out.append(
            Effect(
                "Axle centre at road pressure",
                "loaded radius at road pressure",
                w.loaded_road,
                w.loaded_road,
                "length",
                "trail one",
                w.loaded,
            )
        )
    return tuple(out)

"""What of the rig nobody has entered yet, and what cannot be said without it.

A result needs groups of numbers: the ``stance`` (wheelbase, tracks, tyres), the ``weight`` with its balance point, the
``train`` (torque and gears). A number found out another way, weight from scales say, is not lacking.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from stoutlink.core.analysis.vehicle.effective_vehicle import EffectiveVehicle
from stoutlink.core.document.paths import field_info, get_value
from stoutlink.core.document.placeholders import placeholder_paths
from stoutlink.core.document.project import Project
from stoutlink.core.errors import StoutError

Group = Literal["stance", "weight", "train"]
GROUPS: tuple[Group, ...] = ("stance", "weight", "train")
FOR = {
    "stance": "every length, angle and clearance",
    "weight": "anti-squat, anti-dive, roll, loads and climbing",
    "train": "what the axle is asked to carry, gears and speeds",
}
"""What each group is for."""
_WORDS = {
    "rig.wheelbase_m": "Wheelbase",
    "rig.front.track_m": "Front track",
    "rig.rear.track_m": "Rear track",
    "rig.front.tyre_free_radius_m": "Front tyre",
    "rig.rear.tyre_free_radius_m": "Rear tyre",
    "rig.mass_kg": "Weight",
    "rig.cg_ahead_of_rear_m": "Balance point along the rig",
    "rig.cg_height_m": "CG height",
    "rig.drivetrain.engine_torque_nm": "Engine torque",
    "rig.drivetrain.transfer_low_ratio": "Low range",
    "rig.drivetrain.transfer_high_ratio": "High range",
}
_ENTER = {
    "rig.front.tyre_free_radius_m": "rig.front.tyre_text",
    "rig.rear.tyre_free_radius_m": "rig.rear.tyre_text",
}
"""Where it is entered most easily, if not in its own field."""


class Need(Struct, frozen=True):
    """A number nobody has entered: its path, words for it, the group that needs it, and the field to enter it in."""

    path: str
    words: str
    group: Group
    field: str


class NotEntered(StoutError):
    """A result that would rest on numbers nobody has entered."""

    def __init__(self, needs: tuple[Need, ...]) -> None:
        names = ", ".join(n.words[:1].lower() + n.words[1:] if not n.words.startswith("CG") else n.words for n in needs)
        super().__init__(
            "R130", f"Not entered yet: {names}.", "Enter what is known; ~ before a number makes it an estimate."
        )
        self.needs = needs


def lacking(project: Project, true: EffectiveVehicle) -> tuple[Need, ...]:
    """Every number a result would rest on that nobody has entered, in the order it is best entered.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
    >>> p = read_project(demo_file("starter.stoutlink")); lacking(p, effective_vehicle(p))[0].words
    'Wheelbase'
    """
    held = placeholder_paths(project.entries)
    if not held:
        return ()
    return tuple(
        Need(path, _words(project, path), group, _ENTER.get(path, path))
        for group, path in _asked(project, true)
        if path in held
    )


def _words(project: Project, path: str) -> str:
    if path in _WORDS:
        return _WORDS[path]
    where, _, key = path.rpartition(".")
    if where == "rig.drivetrain.gear_ratios":
        return "First gear" if key == "0" else f"Gear {int(key) + 1}"
    if where.startswith("rig.drivetrain.torque_curve."):
        number = int(where.rpartition(".")[2]) + 1
        return f"{'Speed' if key == 'rpm' else 'Torque'} of curve point {number}"
    if where.startswith("rig.weight.items."):
        return f"Weight of {get_value(project, where).name}"
    return field_info(project, path).title


def _asked(project: Project, true: EffectiveVehicle) -> Iterator[tuple[Group, str]]:
    """Every number in force, with the group that needs it."""
    rig = project.rig
    yield "stance", "rig.wheelbase_m"
    for end in ("front", "rear"):
        yield "stance", f"rig.{end}.tyre_free_radius_m"
    for end in ("front", "rear"):
        yield "stance", f"rig.{end}.track_m"
    for source, key in (
        (true.mass_from, "mass_kg"),
        (true.along_from, "cg_ahead_of_rear_m"),
        (true.height_from, "cg_height_m"),
    ):
        if source == "stated":
            yield "weight", f"rig.{key}"
    for item in rig.weight.items:
        yield "weight", f"rig.weight.items.{item.id}.mass_kg"
    train = rig.drivetrain
    if not train.torque_curve:
        yield "train", "rig.drivetrain.engine_torque_nm"
    for i in range(len(train.torque_curve)):
        yield "train", f"rig.drivetrain.torque_curve.{i}.rpm"
        yield "train", f"rig.drivetrain.torque_curve.{i}.torque_nm"
    for i in range(len(train.gear_ratios)):
        yield "train", f"rig.drivetrain.gear_ratios.{i}"
    yield "train", "rig.drivetrain.transfer_low_ratio"
    yield "train", "rig.drivetrain.transfer_high_ratio"

"""The rig step, registered."""

from __future__ import annotations

from stoutlink.app.steps.rig.sheet import LOOKS, RigSheet
from stoutlink.app.steps.step import Step
from stoutlink.core.study.route_state import rig_state

STEP = Step(
    "rig",
    "Rig",
    "The vehicle as it really is: weight, tyres, gears, balance point.",
    lambda shell: RigSheet(shell.workspace, shell.instruments),
    RigSheet,
    rig_state,
    LOOKS,
    owns=("rig",),
)

"""The steps of the route, in the order practitioners work: one line each."""

from __future__ import annotations

from stoutlink.app.steps.bench.step import STEP as BENCH
from stoutlink.app.steps.cut.step import STEP as CUT
from stoutlink.app.steps.donors.step import STEP as DONORS
from stoutlink.app.steps.layout.step import STEP as LAYOUT
from stoutlink.app.steps.log.step import STEP as LOG
from stoutlink.app.steps.plan.step import STEP as PLAN
from stoutlink.app.steps.rig.step import STEP as RIG
from stoutlink.app.steps.step import Step
from stoutlink.app.steps.tape.step import STEP as TAPE
from stoutlink.app.steps.travel.step import STEP as TRAVEL

STEPS: tuple[Step, ...] = (RIG, DONORS, TAPE, LAYOUT, TRAVEL, CUT, BENCH, PLAN, LOG)
BY_ID = {one.id: one for one in STEPS}

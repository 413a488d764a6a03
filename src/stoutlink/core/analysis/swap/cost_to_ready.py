"""Cost to ready: everything a pair of axles drags in until it drives, tools apart from what stays, against the
budget.
"""

from __future__ import annotations

from collections.abc import Generator, Iterator
from dataclasses import dataclass
from typing import Protocol

from stoutlink.core.analysis.swap.fit_up import narrowing
from stoutlink.core.analysis.swap.gear_choice import matching_sets
from stoutlink.core.analysis.swap.inspection import judge
from stoutlink.core.catalogue.donor import LOCKER_WORDS, DonorAxle, ToothPair
from stoutlink.core.catalogue.prices import BY_ID, Group
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.gearing import speedometer

SPEED_OFF = 0.02
GROUP_TITLES: dict[str, str] = {
    "axle": "Axles", "part": "Parts that stay in", "work": "Work bought and done", "consumable": "Used up", "tool": "Tools, bought once",
}  # fmt: skip


@dataclass(frozen=True)
class CostLine:
    """One line: what, for which end (or both), why, how many, amount for all (None: not known yet), hours for all,
    and whose price it is.
    """

    id: str
    end: str
    title: str
    why: str
    group: Group
    count: int
    amount: float | None
    hours: float
    own: bool


@dataclass(frozen=True)
class Cost:
    """All lines. ``total`` is what it costs to ready with the user's own hours counted if they have a price, tools
    not in it; ``unknown`` lines have no price yet, so the total is "at least"."""

    lines: tuple[CostLine, ...]
    total: float
    tools: float
    hours: float
    unknown: tuple[str, ...]
    left: float | None

    def of(self, group: str) -> float:
        """Sum of a group's known amounts."""
        return sum(line.amount or 0.0 for line in self.lines if line.group == group)


def cost_to_ready(
    project: Project,
    rig: Rig,
    front: DonorAxle | None,
    rear: DonorAxle | None,
    gears: dict[str, ToothPair | None] | None = None,
) -> Cost:
    """Everything a pair needs. ``gears`` are the sets per end; else the planned ones, else those that make the two
    ends match.
    """
    if gears is None and front is not None and rear is not None:
        sets = [(p,) if (p := project.plan(a.end).gears_for(a)) is not None else a.offers for a in (front, rear)]
        gears = dict(zip(("front", "rear"), matching_sets(rig, front, rear, sets[0], sets[1]), strict=True))
    lines = list(_lines(project, rig, front, rear, gears or {}))
    unknown = tuple(f"{line.title}, {line.end}" for line in lines if line.amount is None)
    hours = sum(line.hours for line in lines)
    total = sum(line.amount or 0.0 for line in lines if line.group != "tool") + hours * project.choosing.hour_price
    tools = sum(line.amount or 0.0 for line in lines if line.group == "tool")
    budget = project.choosing.budget
    return Cost(tuple(lines), total, tools, hours, unknown, None if budget is None else budget - total - tools)


class MakeLine(Protocol):
    """Makes one line of the price list."""

    def __call__(self, name: str, end: str, why: str, count: int = 1, title: str = "") -> CostLine: ...


def line_maker(project: Project) -> MakeLine:
    """Lines at the user's prices, else at the estimates that ship."""
    own = {p.id: p for p in project.prices}

    def line(name: str, end: str, why: str, count: int = 1, title: str = "") -> CostLine:
        known, mine = BY_ID[name], own.get(name)
        amount = known.amount if mine is None or mine.amount is None else mine.amount
        hours = known.hours if mine is None or mine.hours is None else mine.hours
        return CostLine(
            name, end, title or known.title, why, known.group, count, amount * count, hours * count, mine is not None
        )

    return line


def _lines(
    project: Project, rig: Rig, front: DonorAxle | None, rear: DonorAxle | None, gears: dict[str, ToothPair | None]
) -> Iterator[CostLine]:
    line = line_maker(project)
    axles = [a for a in (front, rear) if a is not None]
    opened = False
    for axle in axles:
        opened = (
            yield from axle_lines(
                project, rig, axle, gears.get(axle.end) or project.plan(axle.end).gears_for(axle), line
            )
        ) or opened
    if axles:
        yield from _both_lines(rig, front, rear, line)
    if rear is not None and wants_speed_correction(
        rig, rear, gears.get("rear") or project.plan("rear").gears_for(rear)
    ):
        yield line("speed_correction", "rear", "the speedometer counts driveshaft turns")
    if opened:
        yield line("tool_setup", "both", "gears are set up once per opening")
    if any(wants_hub_tool(a) for a in axles):
        yield line("tool_hub", "both", "hubs come apart")
    if any(wants_bar(project, a) for a in axles):
        yield line("tool_bar", "both", "straightness before and after welding")


def axle_lines(
    project: Project, rig: Rig, axle: DonorAxle, gears: ToothPair | None, line: MakeLine
) -> Generator[CostLine, None, bool]:
    """Lines of one axle; returns whether the gears come out."""
    end, plan, fit = axle.end, project.plan(axle.end), rig.fittings
    yield CostLine("axle", end, axle.name, axle.maker or "the axle itself", "axle", 1, axle.price, 0.0, True)
    yield line("swap", end, "every swap")
    judged = judge(axle, next((i for i in project.inspections if i.id == axle.id), None))
    if judged.cost > 0:
        yield CostLine(
            "repair",
            end,
            "Repairs found on inspection",
            "; ".join(w for w, _ in judged.repairs),
            "part",
            1,
            judged.cost,
            0.0,
            True,
        )
    if axle.missing:
        yield line("missing", end, f"missing: {axle.missing}")
    regear = gears is not None and gears != axle.pair
    locker = plan.locker if plan.locker not in (None, axle.locker) else None
    if regear:
        yield line(
            "gear_set",
            end,
            f"{gears} instead of {axle.pair or 'what is in it'}"
            + (": both ends match then, near the old feel" if plan.gears_for(axle) is None else ""),
            title=f"Ring and pinion {gears}",
        )
        if (
            gears
            and axle.carrier_break_ratio is not None
            and axle.ratio is not None
            and not locker
            and (gears.ratio > axle.carrier_break_ratio) != (axle.ratio > axle.carrier_break_ratio)
        ):
            yield line("carrier", end, f"the gears cross the carrier break at {axle.carrier_break_ratio:.2f}")
    if locker is not None:
        yield line(f"locker_{locker}", end, f"planned: {LOCKER_WORDS[locker]}")
        if locker == "air" and not fit.air_supply:
            yield line("air_supply", end, "no air on board")
        if locker == "electric" and not fit.spare_circuit:
            yield line("wiring", end, "no spare circuit")
    opened = regear or (locker is not None and locker != "drop_in")
    if opened:
        yield line("gear_kit", end, "one opening for gears and locker")
        yield line("gear_setup", end, "depth, backlash, preload, pattern")
    for name in plan.upgrades:
        yield line(name, end, "planned upgrade")
    if axle.c_clips:
        yield line("c_clip_conversion", end, "C-clip shafts can leave with their wheel")
    if axle.brake in (None, "none"):
        yield line("brakes", end, "comes without brakes" if axle.brake == "none" else "brakes not known")
    if fit.brake_thread != axle.brake_thread or not fit.brake_thread:
        yield line(
            "brake_lines",
            end,
            "threads differ" if fit.brake_thread and axle.brake_thread else "threads not known to match",
        )
    if end == "rear" and (
        axle.parking_brake in (None, "none")
        or (fit.parking_brake is not None and fit.parking_brake != axle.parking_brake)
    ):
        yield line("parking_brake", end, "it must hold on a slope")
    yield line("driveshaft", end, "length and joint change with the axle")
    theirs = fit.joint_series(end)
    if theirs and axle.pinion_joint_series and theirs != axle.pinion_joint_series:
        yield line("joint_conversion", end, f"{theirs} at the transfer case, {axle.pinion_joint_series} at the pinion")
    layout = project.layout(end)
    if layout is not None and not axle.link_brackets:
        yield line("link_brackets", end, f"{layout.name}: no brackets on this axle")
    if layout is None and axle.spring_pads in (None, "none"):
        yield line("spring_pads", end, "pads at this rig's spacing")
    if end == "front" and axle.steering_arms in (None, "none"):
        yield line("steering_arms", end, "no arms on it" if axle.steering_arms == "none" else "arms not known")
    if plan.width_m is not None and axle.width_m is not None and abs(plan.width_m - axle.width_m) > 1e-6:
        cut = narrowing(project, axle, plan.width_m, centre_pinion=plan.centre_pinion)
        yield line("narrow_housing", end, f"to {plan.width_m * 1e3:.0f} mm over the faces")
        for shaft in (cut.left_shaft, cut.right_shaft) if cut else ():
            if shaft.how == "none":
                continue
            yield line("respline" if shaft.how in ("respline", "spline") else "custom_shaft", end, shaft.why)
    if plan.shaved:
        yield line("shave", end, "clearance under the housing")
    yield line("fluids", end, "every axle")
    yield line("discs", end, "every axle")
    return opened


def lone_lines(rig: Rig, axle: DonorAxle, line: MakeLine) -> Iterator[CostLine]:
    """Lines that an axle makes with the wheels at hand."""
    fit = rig.fittings
    have = (fit.wheel_bolt_count, fit.wheel_bolt_circle_m)
    if (
        None not in have
        and axle.bolt_count is not None
        and axle.bolt_circle_m is not None
        and not same_circle(axle, have)
    ):
        yield line("adapters", axle.end, "the wheels you have are of another bolt circle")


def wants_speed_correction(rig: Rig, axle: DonorAxle, gears: ToothPair | None) -> bool:
    """Whether a speedometer that counts at the rear driveshaft is off by more than 2 % with these gears and tyres."""
    fit, pair = rig.fittings, gears or axle.pair
    if (
        axle.end != "rear"
        or fit.speed_pickup != "driveshaft"
        or fit.old_ratio is None
        or fit.old_rolling_radius_m is None
        or pair is None
    ):
        return False
    shown = speedometer(
        fit.old_ratio, pair.ratio * axle.hub_ratio, fit.old_rolling_radius_m, rig.rear.rolling, "driveshaft"
    )
    return abs(shown - 1.0) > SPEED_OFF


def _both_lines(rig: Rig, front: DonorAxle | None, rear: DonorAxle | None, line: MakeLine) -> Iterator[CostLine]:
    """Lines that axles make with the vehicle and with each other."""
    for one in (front, rear):
        if one is not None:
            yield from lone_lines(rig, one, line)
    fit = rig.fittings
    unsaid = fit.wheel_bolt_count is None or fit.wheel_bolt_circle_m is None
    if unsaid and front is not None and rear is not None and circles_differ(front, rear):
        yield line("adapters", "both", "bolt circles differ front to rear")


def wants_hub_tool(axle: DonorAxle) -> bool:
    """Whether hubs come apart."""
    return axle.floating == "full" or axle.end == "front"


def wants_bar(project: Project, axle: DonorAxle) -> bool:
    """Whether the housing is welded on, so that its straightness is checked."""
    plan = project.plan(axle.end)
    return plan.width_m is not None or "truss" in plan.upgrades


def same_circle(axle: DonorAxle, have: tuple[int | None, float | None]) -> bool:
    """Whether wheels of a bolt circle go on an axle."""
    return axle.bolt_count == have[0] and abs((axle.bolt_circle_m or 0.0) - (have[1] or 0.0)) <= 0.0005


def circles_differ(front: DonorAxle, rear: DonorAxle) -> bool:
    """Whether two axles take different wheels; False when either is not known."""
    if None in (front.bolt_count, front.bolt_circle_m, rear.bolt_count, rear.bolt_circle_m):
        return False
    return not same_circle(front, (rear.bolt_count, rear.bolt_circle_m))

"""Cost to ready: everything a pair of axles drags in until it drives, tools apart from what stays, against the
budget.
"""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterator
from dataclasses import dataclass
from typing import Protocol

from stoutlink.core.analysis.swap.fit_up import narrowing
from stoutlink.core.analysis.swap.gear_choice import matching_sets
from stoutlink.core.analysis.swap.inspection import judge
from stoutlink.core.catalogue.donor import LOCKER_WORDS, DonorAxle, ToothPair
from stoutlink.core.catalogue.prices import BY_ID, Group
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan
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
    """Lines of one axle, rule by rule; returns whether the gears come out."""
    case = _Case(project, rig, axle, gears, line)
    for rule in _AXLE_RULES:
        yield from rule(case)
    return case.opened


@dataclass(frozen=True)
class _Case:
    """One axle, what is planned for it, and the price list."""

    project: Project
    rig: Rig
    axle: DonorAxle
    gears: ToothPair | None
    make: MakeLine

    @property
    def end(self) -> str:
        return self.axle.end

    @property
    def plan(self) -> AxlePlan:
        return self.project.plan(self.axle.end)

    @property
    def regear(self) -> bool:
        return self.gears is not None and self.gears != self.axle.pair

    @property
    def locker(self) -> str | None:
        """The locker that is bought: planned, and not in it already."""
        return self.plan.locker if self.plan.locker not in (None, self.axle.locker) else None

    @property
    def opened(self) -> bool:
        """Whether the gears come out."""
        return self.regear or (self.locker is not None and self.locker != "drop_in")

    def line(self, name: str, why: str, title: str = "") -> CostLine:
        """One line for this end."""
        return self.make(name, self.end, why, title=title)


def _itself(c: _Case) -> Iterator[CostLine]:
    axle = c.axle
    yield CostLine("axle", c.end, axle.name, axle.maker or "the axle itself", "axle", 1, axle.price, 0.0, True)
    yield c.line("swap", "every swap")


def _repairs(c: _Case) -> Iterator[CostLine]:
    found = judge(c.axle, next((i for i in c.project.inspections if i.id == c.axle.id), None))
    if found.cost > 0:
        why = "; ".join(w for w, _ in found.repairs)
        yield CostLine("repair", c.end, "Repairs found on inspection", why, "part", 1, found.cost, 0.0, True)
    if c.axle.missing:
        yield c.line("missing", f"missing: {c.axle.missing}")


def _gears(c: _Case) -> Iterator[CostLine]:
    if not c.regear or c.gears is None:
        return
    why = f"{c.gears} instead of {c.axle.pair or 'what is in it'}"
    if c.plan.gears_for(c.axle) is None:
        why += ": both ends match then, near the old feel"
    yield c.line("gear_set", why, f"Ring and pinion {c.gears}")
    at, now = c.axle.carrier_break_ratio, c.axle.ratio
    if at is not None and now is not None and not c.locker and (c.gears.ratio > at) != (now > at):
        yield c.line("carrier", f"the gears cross the carrier break at {at:.2f}")


def _locker(c: _Case) -> Iterator[CostLine]:
    if c.locker is None:
        return
    yield c.line(f"locker_{c.locker}", f"planned: {LOCKER_WORDS[c.locker]}")
    if c.locker == "air" and not c.rig.fittings.air_supply:
        yield c.line("air_supply", "no air on board")
    if c.locker == "electric" and not c.rig.fittings.spare_circuit:
        yield c.line("wiring", "no spare circuit")


def _opening(c: _Case) -> Iterator[CostLine]:
    if c.opened:
        yield c.line("gear_kit", "one opening for gears and locker")
        yield c.line("gear_setup", "depth, backlash, preload, pattern")


def _upgrades(c: _Case) -> Iterator[CostLine]:
    for name in c.plan.upgrades:
        yield c.line(name, "planned upgrade")
    if c.axle.c_clips:
        yield c.line("c_clip_conversion", "C-clip shafts can leave with their wheel")


def _brakes(c: _Case) -> Iterator[CostLine]:
    axle, fit = c.axle, c.rig.fittings
    if axle.brake in (None, "none"):
        yield c.line("brakes", "comes without brakes" if axle.brake == "none" else "brakes not known")
    if fit.brake_thread != axle.brake_thread or not fit.brake_thread:
        both = fit.brake_thread and axle.brake_thread
        yield c.line("brake_lines", "threads differ" if both else "threads not known to match")
    other = fit.parking_brake is not None and fit.parking_brake != axle.parking_brake
    if c.end == "rear" and (axle.parking_brake in (None, "none") or other):
        yield c.line("parking_brake", "it must hold on a slope")


def _driveshaft(c: _Case) -> Iterator[CostLine]:
    yield c.line("driveshaft", "length and joint change with the axle")
    theirs, ours = c.rig.fittings.joint_series(c.end), c.axle.pinion_joint_series
    if theirs and ours and theirs != ours:
        yield c.line("joint_conversion", f"{theirs} at the transfer case, {ours} at the pinion")


def _hung_on(c: _Case) -> Iterator[CostLine]:
    """Brackets where the layout is of links, pads where it is of leaves or not laid out yet."""
    layout = c.project.layout(c.end)
    if layout is not None and layout.leaf is None:
        if not c.axle.link_brackets:
            yield c.line("link_brackets", f"{layout.name}: no brackets on this axle")
    elif c.axle.spring_pads in (None, "none"):
        yield c.line("spring_pads", "pads at this rig's spacing")


def _steering(c: _Case) -> Iterator[CostLine]:
    if c.end == "front" and c.axle.steering_arms in (None, "none"):
        yield c.line("steering_arms", "no arms on it" if c.axle.steering_arms == "none" else "arms not known")


def _width(c: _Case) -> Iterator[CostLine]:
    wanted, now = c.plan.width_m, c.axle.width_m
    if wanted is not None and now is not None and abs(wanted - now) > 1e-6:
        cut = narrowing(c.project, c.axle, wanted, centre_pinion=c.plan.centre_pinion)
        yield c.line("narrow_housing", f"to {wanted * 1e3:.0f} mm over the faces")
        for shaft in (cut.left_shaft, cut.right_shaft) if cut else ():
            if shaft.how != "none":
                yield c.line("respline" if shaft.how in ("respline", "spline") else "custom_shaft", shaft.why)


def _finish(c: _Case) -> Iterator[CostLine]:
    if c.plan.shaved:
        yield c.line("shave", "clearance under the housing")
    yield c.line("fluids", "every axle")
    yield c.line("discs", "every axle")


_AXLE_RULES: tuple[Callable[[_Case], Iterator[CostLine]], ...] = (
    _itself, _repairs, _gears, _locker, _opening, _upgrades, _brakes, _driveshaft, _hung_on, _steering, _width, _finish,
)  # fmt: skip
"""What one axle costs, in the order of the list."""


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

"""Cost to ready: everything a pair of axles drags in until it drives, tools apart from what stays, against the
budget.
"""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterator

from msgspec import Struct
from msgspec.structs import replace

from stoutlink.core.analysis.swap.bolt_circles import same_circle, shelf_adapter, wants_pair_adapters
from stoutlink.core.analysis.swap.cost_line import Basis, CostLine, MakeLine, common_lines, line_maker, priced
from stoutlink.core.analysis.swap.gear_choice import asked_ratio, matching_sets
from stoutlink.core.analysis.swap.inspection import judge
from stoutlink.core.analysis.swap.made import several
from stoutlink.core.analysis.swap.narrowed import narrowing
from stoutlink.core.catalogue.donor import LOCKER_WORDS, DonorAxle, ToothPair
from stoutlink.core.catalogue.joint_size import JointSize, same_joint
from stoutlink.core.document.fitted_axle import as_fitted, fitted_parts
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan, ShelfPart
from stoutlink.core.mechanics.gearing import speedometer
from stoutlink.core.quantity.money import to_cents, total
from stoutlink.core.quantity.shown import show

SPEED_OFF = 0.02
GROUP_TITLES: dict[str, str] = {
    "axle": "Axles", "part": "Parts that stay in", "work": "Work bought and done", "consumable": "Used up", "tool": "Tools, bought once",
}  # fmt: skip


class Cost(Struct, frozen=True):
    """All lines. ``total`` is what it costs to ready with the user's own hours counted if they have a price, tools
    not in it; ``unknown`` lines have no price yet, so the total is "at least"."""

    lines: tuple[CostLine, ...]
    total: float
    tools: float
    hours: float
    unknown: tuple[str, ...]
    left: float | None

    @property
    def paid(self) -> float:
        """What is paid already, tools with it."""
        return total(line.paid for line in self.lines)

    @property
    def to_pay(self) -> float:
        """What is left to pay, tools with it, your own hours left out."""
        return total(x for line in self.lines for x in (line.amount or 0.0, -line.paid))

    def of(self, group: str) -> float:
        """Sum of a group's known amounts."""
        return total(line.amount or 0.0 for line in self.lines if line.group == group)


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
    front, rear = (None if a is None else as_fitted(project, a) for a in (front, rear))
    if gears is None and front is not None and rear is not None:
        sets = [(p,) if (p := project.plan(a.end).gears_for(a)) is not None else a.offers for a in (front, rear)]
        line = line_maker(project)

        def spend(axle: DonorAxle, pair: ToothPair) -> float:
            amount, hours = regear(project, rig, axle, pair, line)
            return amount + hours * project.swap.choosing.hour_price

        both = matching_sets(rig, asked_ratio(project, rig), front, rear, sets[0], sets[1], spend)
        gears = dict(zip(("front", "rear"), both, strict=True))
    lines = list(_lines(project, rig, front, rear, gears or {}))
    unknown = tuple(f"{line.title}, {line.end}" for line in lines if line.amount is None)
    hours = sum(line.hours for line in lines)
    whole = (
        total(line.amount or 0.0 for line in lines if line.group != "tool") + hours * project.swap.choosing.hour_price
    )
    tools = total(line.amount or 0.0 for line in lines if line.group == "tool")
    budget = project.swap.choosing.budget
    return Cost(tuple(lines), whole, tools, hours, unknown, None if budget is None else budget - whole - tools)


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
        yield from _both_lines(project, rig, front, rear, line)
    if any(wants_air(project, rig, a) for a in axles):
        yield line("air_supply", "both", "no air on board, one for the rig")
    if rear is not None and wants_speed_correction(
        rig, rear, gears.get("rear") or project.plan("rear").gears_for(rear)
    ):
        yield line("speed_correction", "rear", "the speedometer counts driveshaft turns")
    if opened:
        yield line("tool_setup", "both", "gears are set up once per opening")
    if any(a.floating == "full" or a.end == "front" for a in axles):
        yield line("tool_hub", "both", "hubs come apart")
    if any(wants_bar(project, a) for a in axles):
        yield line("tool_bar", "both", "straightness before and after welding")
    yield from common_lines(project, line)


def axle_lines(
    project: Project, rig: Rig, axle: DonorAxle, gears: ToothPair | None, line: MakeLine
) -> Generator[CostLine, None, bool]:
    """Lines of one axle, rule by rule; returns whether the gears come out."""
    case = _Case(project, rig, axle, gears, line)
    for rule in _AXLE_RULES:
        yield from rule(case)
    return case.opened


class _Case(Struct, frozen=True):
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
    def stays(self) -> bool:
        """Whether it is under it already."""
        return self.project.stays(self.end)

    @property
    def regear(self) -> bool:
        return self.gears is not None and self.gears != self.axle.pair

    @property
    def locker(self) -> str | None:
        """The locker that is bought: planned, and not in it already."""
        return self.plan.locker if self.plan.locker not in (None, self.axle.locker) else None

    @property
    def opened(self) -> bool:
        """Whether the gears come out, or come from another axle."""
        return (
            self.regear or self.locker not in (None, "drop_in") or several(self.project, self.axle, "housing", "gears")
        )

    @property
    def oiled(self) -> bool:
        """Whether it gets fresh oil: every axle that comes in or is opened."""
        return self.opened or not self.stays

    def line(self, name: str, why: str, title: str = "", *, part: str = "") -> CostLine:
        """One line for this end; where a part of that kind is planned from the shelf, its price is left out."""
        made = self.make(name, self.end, why, title=title)
        there = fitted_parts(self.project, self.end).get(part) if part and self.chosen else None
        return (
            made
            if there is None
            else replace(made, amount=0.0, why=f"from the shelf: {there.name}", own=True, basis="free")
        )

    @property
    def chosen(self) -> bool:
        """Whether it is the axle chosen for its end, into which parts of the shelf are planned."""
        used = self.project.donor(self.end)
        return used is not None and used.id == self.axle.id


def _itself(c: _Case) -> Iterator[CostLine]:
    axle = c.axle
    if c.stays:
        yield CostLine("axle", c.end, axle.name, "already under it", "axle", 1, 0.0, 0.0, True, 0.0, "free")
        return
    there = c.plan.bought and c.chosen
    why = "in the shop" if there else axle.maker or "the axle itself"
    amount = None if axle.price is None else to_cents(axle.price)
    basis: Basis = "unknown" if amount is None else "paid" if there else "asked"
    itself = CostLine(
        "axle", c.end, axle.name, why, "axle", 1, amount, 0.0, True, (amount or 0.0) if there else 0.0, basis
    )
    mine = next((p for p in c.project.swap.prices if p.id == itself.key), None) if c.chosen else None
    yield priced(itself, mine)
    yield c.line("swap", "every swap")


def _repairs(c: _Case) -> Iterator[CostLine]:
    found = judge(c.axle, next((i for i in c.project.swap.inspections if i.id == c.axle.id), None))
    repairs = [(w, cost) for look, w, cost in found.repairs if look != "oil" or not c.oiled]
    if sum(cost for _, cost in repairs) > 0:
        why = "; ".join(w for w, _ in repairs)
        amount = total(cost for _, cost in repairs)
        yield CostLine("repair", c.end, "Repairs found on inspection", why, "part", 1, amount, 0.0, True, basis="asked")
    if c.axle.missing:
        yield c.line("missing", f"missing: {c.axle.missing}")


def _gears(c: _Case) -> Iterator[CostLine]:
    if not c.regear or c.gears is None:
        return
    why = f"{c.gears} instead of {c.axle.pair or 'what is in it'}"
    if c.plan.gears_for(c.axle) is None:
        why += ": both ends match then, near the old feel"
    shelf = fitted_parts(c.project, c.end).get("gear_set")
    mine = shelf is not None and shelf.gears == c.gears
    yield c.line("gear_set", why, f"Ring and pinion {c.gears}", part="gear_set" if mine else "")
    at, now = c.axle.carrier_break_ratio, c.axle.ratio
    if at is not None and now is not None and c.locker in (None, "drop_in") and (c.gears.ratio > at) != (now > at):
        yield c.line("carrier", f"the gears cross the carrier break at {at:.2f}")


def _locker(c: _Case) -> Iterator[CostLine]:
    if c.locker is not None:
        yield c.line(f"locker_{c.locker}", f"planned: {LOCKER_WORDS[c.locker]}", part="locker")
    if new_locker(c.project, c.axle) == "electric" and not c.rig.fittings.spare_circuit:
        yield c.line("wiring", "no spare circuit")


def _opening(c: _Case) -> Iterator[CostLine]:
    if c.opened:
        yield c.line("gear_kit", "one opening for gears and locker")
        yield c.line("gear_setup", "depth, backlash, preload, pattern")


def _upgrades(c: _Case) -> Iterator[CostLine]:
    for name in c.plan.upgrades:
        yield c.line(name, "planned upgrade", part={"shafts": "inner_shaft", "stubs": "stub"}.get(name, ""))
    if c.axle.c_clips:
        yield c.line("c_clip_conversion", "C-clip shafts can leave with their wheel")


def _brakes(c: _Case) -> Iterator[CostLine]:
    axle, fit = c.axle, c.rig.fittings
    if c.stays:
        return
    if axle.brake in (None, "none"):
        yield c.line("brakes", "comes without brakes" if axle.brake == "none" else "brakes not known", part="brakes")
    if fit.brake_thread != axle.brake_thread or not fit.brake_thread:
        both = fit.brake_thread and axle.brake_thread
        yield c.line("brake_lines", "threads differ" if both else "threads not known to match")
    if c.end == "rear" and (axle.parking_brake in (None, "none") or cable_fits(c.rig, axle) is False):
        yield c.line("parking_brake", "it must hold on a slope")


def _driveshaft(c: _Case) -> Iterator[CostLine]:
    if c.stays:
        return
    yield c.line("driveshaft", "length and joint change with the axle")
    theirs, ours = c.rig.fittings.joint(c.end), c.axle.pinion_joint
    if same_joint(theirs, ours) is False:
        line = c.line("joint_conversion", f"{theirs.words} at the transfer case, {ours.words} at the pinion")
        joint = conversion_joint(c.project, theirs, ours)
        yield (
            line
            if joint is None
            else replace(line, amount=0.0, why=f"from the shelf: {joint.name}", own=True, basis="free")
        )


def _hung_on(c: _Case) -> Iterator[CostLine]:
    """Brackets where the layout is of links, pads where it is of leaves or not laid out yet."""
    layout = c.project.layout(c.end)
    if c.stays:
        return
    if layout is not None and layout.leaf is None:
        if not c.axle.link_brackets:
            line = c.line("link_brackets", f"{layout.name}: no brackets on this axle")
            plate = any(p.id.startswith("plate-") and p.whole()[0] is not None for p in c.project.swap.prices)
            made = plate and line.basis == "estimate"
            yield (
                replace(line, amount=0.0, why="made of plate, priced in the parts list", own=True, basis="free")
                if made
                else line
            )
    elif c.axle.spring_pads in (None, "none"):
        yield c.line("spring_pads", "pads at this rig's spacing")


def _steering(c: _Case) -> Iterator[CostLine]:
    if c.end == "front" and not c.stays and c.axle.steering_arms in (None, "none"):
        yield c.line("steering_arms", "no arms on it" if c.axle.steering_arms == "none" else "arms not known")


def _width(c: _Case) -> Iterator[CostLine]:
    wanted, now = c.plan.width_m, c.axle.width_m
    if wanted is not None and now is not None and abs(wanted - now) > 1e-6:
        cut = narrowing(c.project, c.axle, wanted, centre_pinion=c.plan.centre_pinion)
        assert cut is not None
        to = f"to {show(wanted, 'length', c.project.settings.units)} over the faces"
        yield c.line("widen_housing" if cut.wider else "narrow_housing", to)
        for shaft in (cut.left_shaft, cut.right_shaft):
            if shaft.how != "none":
                yield c.line(_SHAFT_LINE.get(shaft.how, "custom_shaft"), shaft.why)


def _made(c: _Case) -> Iterator[CostLine]:
    """What an axle made of several takes besides: its ends put on, its shafts made to length."""
    if c.stays:
        return
    if several(c.project, c.axle, "housing", "outers") and "housing_work" not in c.plan.extras:
        yield c.line("housing_work", "ends of another axle go onto these tubes")
    if several(c.project, c.axle, "housing", "shafts", "outers") and c.plan.width_m is None:
        have = {getattr(c.axle, f"shaft_{side}_m") is not None for side in ("left", "right")}
        if have == {False}:
            yield c.make("custom_shaft", c.end, "tubes and ends are not from one axle", count=2)


def _finish(c: _Case) -> Iterator[CostLine]:
    if c.plan.shaved:
        yield c.line("shave", "clearance under the housing")
    for name in c.plan.extras:
        yield c.line(name, "planned", part="brakes" if name == "disc_conversion" else "")
    if c.oiled:
        yield c.line("fluids", "every axle that is opened or comes in")
    if not c.stays or c.plan.extras or c.plan.upgrades or c.plan.width_m is not None:
        yield c.line("discs", "every axle that is worked on")


_SHAFT_LINE = {"respline": "respline", "spline": "cut_shaft"}
_AXLE_RULES: tuple[Callable[[_Case], Iterator[CostLine]], ...] = (
    _itself, _repairs, _gears, _locker, _opening, _upgrades, _brakes, _driveshaft, _hung_on, _steering, _width, _made, _finish,
)  # fmt: skip
"""What one axle costs, in the order of the list."""


def regear(project: Project, rig: Rig, axle: DonorAxle, pair: ToothPair, line: MakeLine) -> tuple[float, float]:
    """What running a gear set adds to an axle as planned without one, money and hours: the set, setting up, a carrier
    for the other side of the break, the speedometer.
    """

    def whole(gears: ToothPair | None) -> tuple[float, float]:
        lines = [*axle_lines(project, rig, axle, gears, line)]
        if wants_speed_correction(rig, axle, gears):
            lines.append(line("speed_correction", "rear", ""))
        return sum(x.amount or 0.0 for x in lines), sum(x.hours for x in lines)

    with_it, without = whole(pair), whole(None)
    return with_it[0] - without[0], with_it[1] - without[1]


def cable_fits(rig: Rig, axle: DonorAxle) -> bool | None:
    """Whether the parking brake cable at hand hooks onto an axle: by its end where both are known, else by the kind of
    brake it was made for; None while that is not known either.
    """
    fit = rig.fittings
    if fit.parking_cable_end and axle.parking_cable_end:
        return fit.parking_cable_end.casefold() == axle.parking_cable_end.casefold()
    if fit.parking_brake in (None, "none") or axle.parking_brake in (None, "none"):
        return None
    return fit.parking_brake == axle.parking_brake


def wants_air(project: Project, rig: Rig, axle: DonorAxle) -> bool:
    """Whether an axle's locker, or air springs of the rig, need the air that is not on board; one supply serves all."""
    if rig.fittings.air_supply:
        return False
    used = (project.layout(end) for end in ("front", "rear"))
    if any(one is not None and one.air is not None for one in used):
        return True
    return new_locker(project, axle) == "air"


def new_locker(project: Project, axle: DonorAxle) -> str | None:
    """The locker that is new to the rig: planned, or the one that comes in the axle; ``None`` for one that is under it already."""
    planned = project.plan(axle.end).locker
    if planned in (None, axle.locker):
        return None if project.stays(axle.end) else axle.locker
    return planned


def lone_lines(project: Project, rig: Rig, axle: DonorAxle, line: MakeLine) -> Iterator[CostLine]:
    """Lines that an axle makes with the wheels at hand; none where other wheels are bought or an adapter is there."""
    fit = rig.fittings
    have = (fit.wheel_bolt_count, fit.wheel_bolt_circle_m)
    if (
        None not in have
        and axle.bolt_count is not None
        and axle.bolt_circle_m is not None
        and not same_circle(axle, have)
        and "wheels" not in project.swap.choosing.buys
        and shelf_adapter(project, axle, have) is None
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


def conversion_joint(project: Project, one: JointSize, other: JointSize) -> ShelfPart | None:
    """A joint on the shelf that takes both sizes."""
    for part in project.swap.shelf:
        if part.kind == "joint" and part.joint.known and part.other_joint.known:
            sides = (part.joint, part.other_joint)
            if any(same_joint(a, one) and same_joint(b, other) for a, b in (sides, sides[::-1])):
                return part
    return None


def _both_lines(
    project: Project, rig: Rig, front: DonorAxle | None, rear: DonorAxle | None, line: MakeLine
) -> Iterator[CostLine]:
    """Lines that axles make with the vehicle and with each other."""
    for one in (front, rear):
        if one is not None:
            yield from lone_lines(project, rig, one, line)
    fit = rig.fittings
    unsaid = fit.wheel_bolt_count is None or fit.wheel_bolt_circle_m is None
    if unsaid and front is not None and rear is not None and wants_pair_adapters(project, front, rear):
        yield line("adapters", "both", "bolt circles differ front to rear")


def wants_bar(project: Project, axle: DonorAxle) -> bool:
    """Whether the housing is welded on, so that its straightness is checked."""
    plan = project.plan(axle.end)
    return plan.width_m is not None or "truss" in plan.upgrades or several(project, axle, "housing", "outers")

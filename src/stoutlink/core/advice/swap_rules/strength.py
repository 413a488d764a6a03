"""What breaks, and how the parts are driven."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.advice.finding import Severity
from stoutlink.core.advice.swap_rules.rule import Rule, RuleCase, Said
from stoutlink.core.analysis.swap.ladder import CASES
from stoutlink.core.analysis.swap.locker_advice import SMALL_FRONT
from stoutlink.core.mechanics.axle_torque import drives_on_coast


def _weakest_part(s: RuleCase) -> Iterator[Said]:
    weak = s.ladder.weakest
    if weak is None or weak.margin >= 1.0:
        return
    shock = s.project.swap.choosing.shock
    kind: Severity = "danger" if weak.margin < 1.0 / shock else "warn"
    extra = " even without the shock factor" if kind == "danger" else f" with the shock factor of {shock:g} (estimate)"
    yield (
        kind,
        f"{weak.title} holds {s.show(weak.carries, 'torque')} and is asked for {s.show(weak.demand, 'torque')}, {CASES[weak.case]}{extra}.",
        "The tyre's grip and the low gears reach it before anything slips. Another locker, less tyre, an upgrade or a bigger axle: the ladder shows what each gains.",
    )


def _little_known(s: RuleCase) -> Iterator[Said]:
    names = [u.title.lower() for u in s.ladder.unknown if u.part not in ("output", "knuckle")]
    if len(names) >= 3:
        yield (
            "note",
            f"{len(names)} parts of it cannot be judged yet: {', '.join(names[:3])}{' …' if len(names) > 3 else ''}.",
            "Measure or look them up on the axle's picture; the ladder is only as good as what is in it.",
        )


def _bound_wheel(s: RuleCase) -> Iterator[Said]:
    worst = min((r for r in s.ladder.rungs if r.wedged == r.wedged), key=lambda r: r.wedged, default=None)
    if worst is not None and 0.0 < worst.wedged < 0.25 and s.locker != "open" and not s.locker_guessed:
        yield (
            "note",
            f"With a wheel wedged, {worst.title.lower()} is asked for {1 / worst.wedged:.1f} times what it holds.",
            "A wedged wheel has no tyre to slip. Light throttle, or unlock it, when a wheel is stuck hard.",
        )


def _coast_flank(s: RuleCase) -> Iterator[Said]:
    cut = s.donor.cut
    if cut is not None and drives_on_coast(s.donor.end, cut):
        front = s.donor.end == "front"
        yield (
            "note",
            f"Going forward this {s.donor.end} axle drives on the coast flank of its ring gear.",
            "The coast flank carries about three quarters of the drive flank (0.65–0.85, common practice). "
            + (
                "A reverse-cut high-pinion front drives on the strong flank."
                if front
                else "Reverse-cut gears belong in a front axle."
            ),
        )


def _upside_down(s: RuleCase) -> Iterator[Said]:
    if s.donor.cut == "standard" and s.donor.pinion_height == "high":
        yield (
            "danger",
            "Standard-cut gears with the pinion above the centre: the housing is upside down and would drive backwards.",
            "Only reverse-cut gears run above the centre. Look at the record again, or at the axle: a wheel that turns the wrong way shows it.",
        )


def _pitch_unclear(s: RuleCase) -> Iterator[Said]:
    if s.it.pitch_asked and s.donor.spline_major_diameter_m is not None:
        yield (
            "warn",
            f"{s.donor.spline_teeth} teeth on {s.show(s.donor.spline_major_diameter_m, 'length')} match no standard pitch within 1 %.",
            "Count the teeth again, measure over the spline with a caliper, or ask the seller for the pitch.",
        )


def _c_clips(s: RuleCase) -> Iterator[Said]:
    if s.donor.c_clips:
        yield (
            "warn",
            "The shafts are held by C-clips: a broken shaft can leave the housing with its wheel.",
            "Retention at the bearing or a full-floating axle keeps the wheel on. Have the conversion done and inspected by a qualified shop.",
        )


def _semi_float(s: RuleCase) -> Iterator[Said]:
    if s.donor.floating == "semi" and (s.rig.uses.part("rock") > 0.3 or s.rig.uses.part("tow") > 0.1):
        yield (
            "note",
            "Semi-floating: the shaft carries the wheel as well as driving it.",
            "A broken shaft stops the vehicle where it stands, and bending comes on top of torque. A full-floating axle drives on to the road with the shaft pulled.",
        )


def _small_front_lock(s: RuleCase) -> Iterator[Said]:
    teeth = s.donor.spline_teeth
    if (
        s.donor.end == "front"
        and s.locker in ("spool", "automatic", "drop_in")
        and not s.locker_guessed
        and teeth is not None
        and teeth < SMALL_FRONT
    ):
        yield (
            "warn",
            f"A lock that is always there on {teeth}-spline front shafts breaks them at steering lock.",
            "Common practice: spools and automatics are not for small fronts. A selectable one, or bigger shafts and joints.",
        )


def _spool_bolts(s: RuleCase) -> Iterator[Said]:
    if s.locker == "spool" and not s.locker_guessed:
        yield (
            "note",
            "A spool's ring gear bolts work loose under shock.",
            "Thread lock, the right torque, and a look at the first oil change (common practice).",
        )


def _hub_gears(s: RuleCase) -> Iterator[Said]:
    if s.donor.hub_ratio > 1.001:
        drop = s.donor.hub_drop_m
        lift = (
            f" The housing stands {s.show(drop, 'length')} higher, and takes that from the way up to the bump stop."
            if drop
            else ""
        )
        yield (
            "note",
            f"Hub gears of {s.donor.hub_ratio:.2f} multiply after the shafts: they see less, the hubs see all.",
            f"Everything inboard is spared by that ratio; wheel offset, brakes and hub oil become the questions.{lift}",
        )


def _unit_bearings(s: RuleCase) -> Iterator[Said]:
    wheel = s.rig.end(s.donor.end)
    if s.donor.wheel_bearing == "unit" and wheel.free > 0.445:
        yield (
            "note",
            f"Unit bearings under tyres of {s.show(2 * wheel.free, 'length')} wear fast.",
            "They cannot be adjusted or packed (common practice). A spindle and hub conversion, or spares in the box.",
        )


RULES: tuple[Rule, ...] = (
    Rule("K101", "donors", _weakest_part),
    Rule("K102", "donors", _c_clips),
    Rule("K105", "donors", _coast_flank),
    Rule("K106", "donors", _pitch_unclear),
    Rule("K107", "donors", _upside_down),
    Rule("K108", "donors", _little_known),
    Rule("K109", "donors", _semi_float),
    Rule("K110", "donors", _small_front_lock),
    Rule("K111", "donors", _unit_bearings),
    Rule("K112", "donors", _bound_wheel),
    Rule("K113", "donors", _spool_bolts),
    Rule("K114", "donors", _hub_gears),
)

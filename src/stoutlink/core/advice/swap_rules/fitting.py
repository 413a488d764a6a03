"""What it touches on the vehicle: widths, wheels, driveshaft, brakes, brackets, steering, weight, the record itself."""

from __future__ import annotations

import math
from collections.abc import Iterator

from stoutlink.core.advice.swap_rules.rule import Rule, RuleCase, Said
from stoutlink.core.analysis.swap.bolt_circles import same_circle, shelf_adapter
from stoutlink.core.analysis.swap.cost_to_ready import cable_fits, conversion_joint
from stoutlink.core.analysis.vehicle.axle_place import axle_track
from stoutlink.core.catalogue.joint_size import same_joint

STEEP, SHORT = math.radians(20.0), 0.6
"""Driveshaft first estimates worth a word: steeper than 20° or shorter than 0.6 m (common practice, weak)."""
NEAR_FRAME = 0.025
HEAVIER, TALLER = 30.0, 1.08
LOW = 0.254
TRACK_AGREES = 0.02


def _poke(s: RuleCase) -> Iterator[Said]:
    value = s.fit.poke
    if value is not None and value > 0.003:
        yield (
            "warn",
            f"The {s.donor.end} tyres stand {'about ' if s.fit.about else ''}{s.show(value, 'length')} a side outside the fenders.",
            "Less width, more backspacing or a flare. Many places want the tread covered: local codes decide.",
        )


def _at_lock(s: RuleCase) -> Iterator[Said]:
    room = s.fit.room_at_lock
    if room is not None and room < NEAR_FRAME:
        words = "touch" if room < 0 else f"come within {s.show(room, 'length')} of"
        yield (
            "danger" if room < 0 else "warn",
            f"At lock the front tyres {words} frame or springs (first estimate).",
            "More wheel offset outward, a wider axle, or stops that limit the lock. Check it through the travel before welding.",
        )


def _straight_room(s: RuleCase) -> Iterator[Said]:
    room = s.fit.room_straight
    if room is not None and room < NEAR_FRAME and s.donor.end == "rear":
        yield (
            "danger" if room < 0 else "warn",
            f"The rear tyres stand {s.show(abs(room), 'length')} {'inside' if room < 0 else 'beside'} frame or springs.",
            "A wider axle, less backspacing, or an adapter pair; adapters load studs and bearings.",
        )


def _clearance(s: RuleCase) -> Iterator[Said]:
    value = s.fit.under_housing
    if value is not None and value < LOW:
        yield (
            "note",
            f"Only {s.show(value, 'length')} under the {s.donor.end} housing.",
            "A smaller ring gear, a shaved housing, hub gears or taller tyres; each has its price.",
        )


def _wheels_at_hand(s: RuleCase) -> Iterator[Said]:
    fit, d = s.rig.fittings, s.donor
    if (
        fit.wheel_bolt_count is None
        or fit.wheel_bolt_circle_m is None
        or d.bolt_count is None
        or d.bolt_circle_m is None
    ):
        return
    have = (fit.wheel_bolt_count, fit.wheel_bolt_circle_m)
    if not same_circle(d, have) and shelf_adapter(s.project, d, have) is None:
        yield (
            "warn",
            f"Your wheels are {fit.wheel_bolt_count} on {s.show(fit.wheel_bolt_circle_m, 'length')}, this axle takes {d.bolt_count} on {s.show(d.bolt_circle_m, 'length')}.",
            "Adapters (load studs and bearings, widen it), other hubs, or other wheels.",
        )


def _adapters(s: RuleCase) -> Iterator[Said]:
    thick = s.rig.end(s.donor.end).adapter_m
    if thick > 0:
        yield (
            "note",
            f"{s.show(thick, 'length')} adapters a side load studs and wheel bearings.",
            "Torque them again after the first miles; some places forbid them. Check local rules.",
        )


def _other_side(s: RuleCase) -> Iterator[Said]:
    a, b = s.fit.pinion_side, s.fit.output_side
    if s.donor.end == "front" and {a, b} == {"left", "right"}:
        yield (
            "danger",
            f"The pinion is on the {a}, the transfer case gives out on the {b}.",
            "The driveshaft would cross under the engine. Another axle, another transfer case, or the housing turned end for end where its gears allow it.",
        )
    elif s.donor.end == "rear" and s.fit.shaft_plan_angle is not None and s.fit.shaft_plan_angle > math.radians(7):
        yield (
            "note",
            f"Seen from above, the rear driveshaft stands {math.degrees(s.fit.shaft_plan_angle):.0f}° sideways.",
            "Judge its joints by the combined angle of both views; narrow one side more to bring the pinion over.",
        )


def _joint_series(s: RuleCase) -> Iterator[Said]:
    here, there = s.donor.pinion_joint, s.rig.fittings.joint(s.donor.end)
    if same_joint(here, there) is False and conversion_joint(s.project, here, there) is None:
        yield (
            "warn",
            f"The pinion takes joints of series {here.words}, the driveshaft has {there.words}.",
            "A conversion joint, another yoke, or a new shaft end; the smaller of the two sets the strength.",
        )


def _steep_shaft(s: RuleCase) -> Iterator[Said]:
    angle, length = s.fit.shaft_angle, s.fit.shaft_length
    if angle is not None and (angle > STEEP or (length is not None and length < SHORT)):
        yield (
            "warn",
            f"First estimate of the {s.donor.end} driveshaft: {s.show(length, 'length')} between joints at {math.degrees(angle):.0f}°.",
            "Short and steep shafts shake and run out of slip. A shorter snout, a high pinion or a double joint; measure again at ride height.",
        )


def _brake_threads(s: RuleCase) -> Iterator[Said]:
    here, there = s.donor.brake_thread, s.rig.fittings.brake_thread
    if here and there and here.casefold() != there.casefold():
        yield (
            "note",
            f"Brake lines: {there} on the vehicle, {here} on the axle.",
            "Adapter fittings and a new hose, flared properly; never a cut line joined with a clamp.",
        )


def _no_brakes(s: RuleCase) -> Iterator[Said]:
    if s.donor.brake == "none":
        yield (
            "warn",
            "It comes without brakes.",
            "Calipers or drums, backing plates, hoses, and parts for the parking brake: look for all of them before buying.",
        )


def _parking_brake(s: RuleCase) -> Iterator[Said]:
    have, axle = s.rig.fittings.parking_brake, s.donor.parking_brake
    if s.donor.end != "rear" or axle is None:
        return
    words = {
        "drum_cable": "drums",
        "caliper_cable": "calipers",
        "in_hat_cable": "a drum in the disc",
        "none": "nothing",
    }
    if axle == "none":
        yield (
            "warn",
            "No parking brake on this axle.",
            "It must hold on a slope, and the law asks for one: plan it before the axle goes in.",
        )
        return
    ends = s.rig.fittings.parking_cable_end, s.donor.parking_cable_end
    fits = cable_fits(s.rig, s.donor)
    if fits is False and all(ends):
        yield (
            "note",
            f"The parking brake cable ends in “{ends[0]}”, the axle takes “{ends[1]}”.",
            "Another cable or an adapter end; try that it holds on a slope.",
        )
    elif fits is False:
        yield (
            "note",
            f"The parking brake cable is made for {words[have or 'none']}, the axle has {words[axle]}.",
            "Compare the cable's end with what the lever on the axle takes, and its pull; try that it holds on a slope.",
        )


def _tyre_and_brakes(s: RuleCase) -> Iterator[Said]:
    old = s.rig.fittings.old_rolling_radius_m
    now = s.rig.end(s.donor.end).rolling
    if s.donor.end == "front" and old is not None and now > TALLER * old:
        yield (
            "warn",
            f"The tyres are {now / old - 1:.0%} taller than the brakes were made for.",
            "Stopping force falls by as much, heat rises. Bigger brakes, and check the balance front to rear after axle and tyre change.",
        )


def _anti_lock(s: RuleCase) -> Iterator[Said]:
    if s.rig.fittings.anti_lock == "fitted" and s.donor.abs_sensor != "wheel" and s.donor.abs_sensor is not None:
        yield (
            "danger" if s.rig.road_legal else "warn",
            "The vehicle's anti-lock brakes would lose their wheel sensors.",
            "Deleting anti-lock may be unlawful; tone rings and sensors can often be carried over. Local codes decide.",
        )


def _brackets(s: RuleCase) -> Iterator[Said]:
    if s.linked and s.donor.link_brackets is not True:
        yield (
            "note",
            "Link brackets have to go on this housing.",
            "Axle welds are work for a qualified welder: spread the heat, check straightness before and after. Brackets before paint.",
        )


def _old_pads(s: RuleCase) -> Iterator[Said]:
    if s.linked and s.donor.spring_pads in ("over", "under"):
        yield (
            "note",
            "The spring pads come off for links.",
            "Cut them clear of the tube and grind; keep the punch marks outside the weld zone until the pinion angle is set.",
        )


def _pads_missing(s: RuleCase) -> Iterator[Said]:
    if not s.linked and s.donor.spring_pads == "none":
        yield (
            "note",
            "There are no spring pads on this axle.",
            "New pads at this rig's spacing, set with the pinion angle, tacked at ride height or at full bump: both are done.",
        )


def _arms(s: RuleCase) -> Iterator[Said]:
    if s.donor.end == "front" and s.donor.steering_arms == "none":
        yield (
            "warn",
            "No steering arms on these knuckles.",
            "Arms, tie rod and drag link for this rig; steering parts are never welded at home. Inspection by licensed people.",
        )


def _lock_outs(s: RuleCase) -> Iterator[Said]:
    if (
        s.donor.end == "front"
        and s.donor.lockouts in ("none", "drive_flange")
        and s.rig.uses.part("road") + s.rig.uses.part("tow") > 0.2
    ):
        yield (
            "note",
            "Without hub lock-outs the front turns on every road mile.",
            "More wear, drag and noise; a broken front shaft cannot be unlocked to drive home.",
        )


def _heavier(s: RuleCase) -> Iterator[Said]:
    old, new = s.rig.end(s.donor.end).old_axle_mass_kg, s.donor.weight_kg
    if old is not None and new is not None and new - old > HEAVIER:
        yield (
            "note",
            f"It is {s.show(new - old, 'mass')} heavier than the axle that comes out, all of it unsprung.",
            "Springs and shocks feel it; the weight rating stays the vehicle's and does not grow with the axle.",
        )


def _missing(s: RuleCase) -> Iterator[Said]:
    if s.donor.missing:
        yield "warn", f"Not there: {s.donor.missing}.", "Find it before buying, or take it off the price."


def _unseen_claim(s: RuleCase) -> Iterator[Said]:
    if s.donor.basis == "claim" and s.judged is None:
        yield (
            "note",
            "All that is known of it is the seller's claim.",
            "Count teeth, turns and studs on delivery: the inspection sheet leads through it.",
        )


def _inspected(s: RuleCase) -> Iterator[Said]:
    j = s.judged
    if j is None:
        return
    if j.verdict == "walk away":
        yield "danger", f"Inspection: walk away. {j.why}", "The sheet says what was found."
    elif j.repairs:
        yield (
            "note",
            f"Inspection: repairs of about {j.cost:.0f} found so far.",
            "They are in the cost to ready: " + "; ".join(w for _, w, _ in j.repairs) + ".",
        )


def _counted(s: RuleCase) -> Iterator[Said]:
    if s.judged is not None and s.judged.ratio_trouble:
        yield "warn", s.judged.ratio_trouble, "Count teeth with the cover off before ordering gears for the other end."


def _narrowing_caution(s: RuleCase) -> Iterator[Said]:
    n = s.narrowed
    if n is None or abs(n.total) < 1e-6:
        return
    if n.wider:
        yield (
            "warn",
            f"{s.show(-n.total, 'length')} wider than it is: that takes longer tubes and both shafts to length.",
            "Adapters, wheels of less offset or another axle are the usual ways to width; housing tubes by a qualified welder.",
        )
        return
    custom = [side for side, cut in (("left", n.left_shaft), ("right", n.right_shaft)) if cut.how == "custom"]
    words = f"; the {' and '.join(custom)} shaft has to be ordered to length" if custom else ""
    yield (
        "warn",
        f"Narrowing takes {s.show(n.left, 'length')} off the left and {s.show(n.right, 'length')} off the right{words}.",
        "A shaft is never cut and welded in the middle. Housing ends by a qualified welder in a jig, straightness checked before and after.",
    )


def _already_right(s: RuleCase) -> Iterator[Said]:
    if s.narrowed is not None and s.narrowed.alternatives:
        names = ", ".join(a.name for a in s.narrowed.alternatives[:2])
        yield (
            "note",
            f"Of the wanted width already: {names}.",
            "Often cheaper than narrowing, and nothing has to be welded.",
        )


def _track(s: RuleCase) -> Iterator[Said]:
    entered = s.project.rig.end(s.donor.end)
    now, said = axle_track(entered, s.donor, s.plan), entered.track_m
    if now is not None and abs(now - said) > TRACK_AGREES:
        yield (
            "note",
            f"This axle on your wheels has a track of {s.show(now, 'length')}; the rig says {s.show(said, 'length')}.",
            "The axle's own counts, for side slope and tip too; say “as measured” in Fit-up if the rig's does."
            if entered.track_from == "axle"
            else "The measured one counts, as you said in Fit-up; side slope and tip go by it.",
        )


RULES: tuple[Rule, ...] = (
    Rule("K115", "donors", _missing),
    Rule("K116", "donors", _unseen_claim),
    Rule("K117", "donors", _inspected),
    Rule("K118", "donors", _counted),
    Rule("K119", "donors", _narrowing_caution),
    Rule("K134", "rig", _heavier),
    Rule("K135", "donors", _clearance),
    Rule("K136", "donors", _poke),
    Rule("K137", "donors", _at_lock),
    Rule("K138", "donors", _straight_room),
    Rule("K139", "donors", _other_side),
    Rule("K140", "donors", _joint_series),
    Rule("K141", "donors", _steep_shaft),
    Rule("K142", "donors", _already_right),
    Rule("K143", "donors", _brake_threads),
    Rule("K144", "donors", _parking_brake),
    Rule("K145", "donors", _anti_lock),
    Rule("K146", "layout", _brackets),
    Rule("K147", "layout", _old_pads),
    Rule("K148", "donors", _arms),
    Rule("K149", "donors", _wheels_at_hand),
    Rule("K150", "donors", _adapters),
    Rule("K151", "donors", _lock_outs),
    Rule("K158", "donors", _no_brakes),
    Rule("K159", "donors", _tyre_and_brakes),
    Rule("K162", "rig", _track),
    Rule("K160", "layout", _pads_missing),
)

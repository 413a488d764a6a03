"""Every bolt that matters, place by place, made from axles and layouts: thread, grade, torque and its source, how far done."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.bench import Assembly, Fastener, FirstDrive, Tightened
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.mechanics.bolt_torque import DRY, OILED, Thread, coarse_thread, grade_of, torque
from stoutlink.core.mechanics.thread_text import thread_of

Done = Literal["open", "part", "undone", "out", "again", "done"]
OFF = 0.15
"""A torque put down that is off its target by more than this share is not the one that was wanted."""
LINK_YIELD, U_BOLT_YIELD = 895e6, 560e6
"""Yield strength of a bolt nobody named, Pa: of a link, of a U-bolt."""


class Place(Struct, frozen=True):
    """Bolts of one place as axles and layouts make them; what is not known is ``None`` or empty. ``again``: it settles, and
    is torqued again after the first distance. ``estimate``: the formula speaks for it (not for a jam nut or a sleeve)."""

    key: str
    name: str
    assembly: Assembly
    count: int | None = None
    thread: Thread | None = None
    grade: str = ""
    assumed: bool = False
    """The grade is the program's guess."""
    estimate: bool = True
    gate: str = ""


class BoltLine(Struct, frozen=True):
    """One line of the list: the place, what the user wrote of it, thread, grade, count, torque and where it is from."""

    place: Place
    work: Fastener | None
    thread: Thread | None
    grade: str
    count: int | None
    oiled: bool
    target: float | None
    estimated: bool
    source: str
    done: int
    """How many are tight."""
    standing: Done
    read: float | None
    """What was put down last."""

    @property
    def passed(self) -> bool:
        """Whether they are all tight, to what they should be."""
        return self.standing == "done"


def places_of(
    axles: dict[str, DonorAxle | None], layouts: dict[str, Layout | None], joints: tuple[Joint, ...]
) -> tuple[Place, ...]:
    """Places of both ends, steering, brakes and driveline."""
    out: list[Place] = []
    for end in ("front", "rear"):
        axle, layout = axles.get(end), layouts.get(end)
        if axle is not None:
            out += _axle(end, axle)
        if layout is not None:
            out += _layout(end, layout, joints)
    front = layouts.get("front")
    if front is not None and front.steering is not None:
        out += [
            Place("steering-box", "Steering box to frame", "steering", 4),
            Place("steering-pitman", "Pitman arm nut", "steering", 1, estimate=False),
            Place("steering-drag", "Drag link ends", "steering", 2, estimate=False),
            Place("steering-tie", "Tie rod ends", "steering", 2, estimate=False),
        ]
    return tuple(out)


def _axle(end: Assembly, axle: DonorAxle) -> Iterator[Place]:
    name = end.capitalize()
    yield Place(f"{end}-caps", f"{name}: bearing caps", end, 4)
    yield Place(f"{end}-ring", f"{name}: ring gear bolts", end)
    if axle.third_member:
        yield Place(f"{end}-case", f"{name}: third member to housing", end)
    else:
        yield Place(f"{end}-cover", f"{name}: cover", end)
    if axle.floating == "full" and axle.flange_bolt_count is not None:
        thread = None if axle.flange_bolt_diameter_m is None else coarse_thread(axle.flange_bolt_diameter_m)
        grade = (axle.flange_bolt_class or "") if thread is not None and thread.metric else ""
        yield Place(f"{end}-flange", f"{name}: drive flanges", end, 2 * axle.flange_bolt_count, thread, grade)
    if axle.wheel_bearing == "unit":
        yield Place(f"{end}-hub", f"{name}: bearing units", end)
    if axle.knuckle in ("kingpin", "ball_joint"):
        yield Place(f"{end}-knuckle", f"{name}: knuckles", end, estimate=False)
    count = None if axle.bolt_count is None else 2 * axle.bolt_count
    yield Place(f"{end}-wheels", f"{name}: wheel nuts", end, count, thread_of(axle.stud_thread))
    if axle.brake == "disc":
        yield Place(f"{end}-caliper", f"{name}: caliper brackets", "brakes", 4)
    yield Place(f"{end}-joint", f"{name} driveshaft: at the axle", "driveline", 4)
    yield Place(f"{end}-output", f"{name} driveshaft: at the case", "driveline", 4)


def _layout(end: Assembly, layout: Layout, joints: tuple[Joint, ...]) -> Iterator[Place]:
    name = end.capitalize()
    known = {one.id: one for one in joints}
    for link in layout.links:
        for at, fit in (("frame", link.frame_end), ("axle", link.axle_end)):
            joint = known.get(fit.joint)
            thread = None if joint is None or joint.bolt_m is None else coarse_thread(joint.bolt_m)
            partner = layout.partner(link)
            mine = (link.id, link.id if partner is None else partner.id)
            bracket = next((b for b in layout.brackets if b.end == at and b.link in mine), None)
            strength = None if bracket is None else bracket.bolt_yield_pa
            grade = "" if thread is None else grade_of(strength or LINK_YIELD, thread.metric)
            key = f"{end}-{link.id}-{at}"
            yield Place(key, f"{name}: {link.name}, {at}", end, 1, thread, grade, strength is None)
    if layout.leaf is not None:
        thread = coarse_thread(layout.leaf.u_bolt_m)
        grade = "" if thread is None else grade_of(U_BOLT_YIELD, thread.metric)
        yield Place(f"{end}-u-bolts", f"{name}: U-bolts", end, 8, thread, grade, True)
        yield Place(f"{end}-eyes", f"{name}: spring eyes and shackles", end, 6)
    yield Place(f"{end}-shocks", f"{name}: shocks", end, 4)


def bolt_lines(places: tuple[Place, ...], works: tuple[Fastener, ...], first_drive: FirstDrive) -> tuple[BoltLine, ...]:
    """Every line: places of the build with what was written of them, then the user's own."""
    by_id = {one.id: one for one in works}
    keys = {p.key for p in places}
    own = tuple(Place(w.id, w.name or w.id, w.assembly, w.count) for w in works if w.id not in keys)
    return tuple(_line(p, by_id.get(p.key), first_drive) for p in (*places, *own))


def _line(place: Place, work: Fastener | None, first: FirstDrive) -> BoltLine:
    thread, grade, count, oiled = place.thread, place.grade, place.count, False
    target, source = None, ""
    if work is not None:
        count, oiled, grade = work.count or count, work.oiled, work.grade or grade
        if work.diameter_m is not None:
            thread = _typed_thread(work.diameter_m, work.pitch_m)
        target, source = work.target_nm, work.source
    estimated = target is None
    if target is None and place.estimate and thread is not None and grade and _fits(grade, thread):
        target = torque(thread, grade, OILED if oiled else DRY)
        assumed = ", grade assumed" if place.assumed and (work is None or not work.grade) else ""
        source = f"estimate, {'oiled' if oiled else 'dry'}{assumed}"
    done, standing, read = _how_far(work, count, target, first)
    return BoltLine(
        place, work, thread, grade, count, oiled, target, estimated and target is not None, source, done, standing, read
    )


def _fits(grade: str, thread: Thread) -> bool:
    """Inch grades are for inch threads, classes for metric ones."""
    return grade.startswith("grade") != thread.metric


def _typed_thread(diameter: float, pitch: float | None) -> Thread | None:
    coarse = coarse_thread(diameter)
    if pitch is None:
        return coarse
    metric = abs(diameter * 1e3 - round(diameter * 1e3)) < 0.02 if coarse is None else coarse.metric
    name = f"M{diameter * 1e3:g} × {pitch * 1e3:.3g}" if metric else f"{diameter / 0.0254:.4g}-{round(0.0254 / pitch)}"
    return Thread(name, diameter, pitch, metric)


def _how_far(
    work: Fastener | None, count: int | None, target: float | None, first: FirstDrive
) -> tuple[int, Done, float | None]:
    if work is None or not work.tight:
        return 0, "undone" if work is not None and work.undone else "open", None
    read = work.tight[-1].torque_nm
    valid = work.tight[work.void :]
    wanted = 1 if count is None else count
    total, rounds, since = 0, 0, 0.0
    now: list[Tightened] = []
    whole: list[Tightened] = []
    for one in valid:
        total += one.count
        now.append(one)
        if total >= wanted:
            rounds, total, since, whole, now = rounds + 1, 0, one.driven_m, now, []
    done = wanted if rounds else total
    if work.undone:
        return 0, "undone", read
    if not rounds:
        return done, "part" if done else "open", read
    put_down = [t.torque_nm for t in whole if t.torque_nm is not None]
    if target is not None and any(abs(t - target) > OFF * target for t in put_down):
        return done, "out", read
    again = work.again_m if work.again_m is not None else first.again_m
    if again is not None and rounds == 1 and first.driven_m - since >= again:
        return done, "again", read
    return done, "done", read

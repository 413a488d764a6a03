"""Will it fit, before it is bought: joint in bracket, bolt, wrench, bracket on rail or tube, nut plate, insert in
tube, room kept for other parts.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from stoutlink.core.analysis.survey.clearances import extent, segment_to_outline
from stoutlink.core.analysis.survey.mesh_place import gap_to
from stoutlink.core.document.bracket import MOUNTED_WORDS, Bracket
from stoutlink.core.document.layout import Joint, Layout, Link, LinkEnd, PivotEnd
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import BoxSolid, MeshSolid, OutlineSolid, Solid, TubeSolid
from stoutlink.core.geometry.distances import between_segments, point_to_box
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

LOOSE, TIGHT = 0.001, 0.0003
"""A joint this much narrower than its gap is shimmed, this much wider goes in with a tap, m (estimates)."""
BOLT_PLAY = 0.0008
"""A bolt hole this much over the bolt still locates it, m (estimate)."""
SLIP = 0.00013
"""Least difference of bore and insert for a slip fit, m: weld seam and tolerance take more than nothing (common
practice).
"""
WOBBLE = 0.0008
"""Most difference before an insert stands crooked in its bore, m (estimate)."""
SOCKET = 0.9
"""Outside radius of a socket over the bolt's thread diameter (from memory)."""
NUT, WASHER, PITCHES = 1.0, 0.0025, 0.006
"""A nut as high as its thread, one washer under it, and thread that stands out, m (common practice)."""
HowItFits = Literal["fits", "tight", "misfit", "unknown"]


class Fit(Struct, frozen=True):
    """One thing that has to go with another. ``by`` how far it is off, m (None: fits, or a size is missing);
    ``order`` what to buy instead.
    """

    link: Link
    end: PivotEnd
    what: str
    how: HowItFits
    sentence: str
    by: float | None = None


class _At(Struct, frozen=True):
    """An end being looked at: makes its lines and writes its lengths."""

    link: Link
    end: PivotEnd
    unit: UnitSystem

    def fit(self, what: str, how: HowItFits, sentence: str, by: float | None = None) -> Fit:
        return Fit(self.link, self.end, what, how, sentence, by)

    def say(self, v: float) -> str:
        return show(v, "length", self.unit, decimals=3 if self.unit == "in" else 1)


def will_it_fit(project: Project, layout: Layout) -> tuple[Fit, ...]:
    """Every check of every end, those that do not fit first."""
    known = {j.id: j for j in project.linkage.joints}
    out: list[Fit] = []
    for link, which, together in layout.pivots_apart():
        own = [
            name for name, side in together if side > 0
        ]  # several links on one bolt are looked at each, the mirrored side is not
        for one in (x for x in layout.links if x.id in own):
            end = one.frame_end if which == "frame" else one.axle_end
            out += _end(project, layout, one, which, end, known.get(end.joint), layout.bracket(link.id, which))
    rank = {"misfit": 0, "tight": 1, "unknown": 2, "fits": 3}
    return tuple(sorted(out, key=lambda f: rank[f.how]))


def _end(
    project: Project,
    layout: Layout,
    link: Link,
    which: PivotEnd,
    end: LinkEnd,
    joint: Joint | None,
    bracket: Bracket | None,
) -> Iterator[Fit]:
    at = _At(link, which, project.settings.units)
    if joint is not None:
        yield _insert(at, link, end, joint)
    if bracket is None:
        yield at.fit("bracket", "unknown", "No bracket described here yet.")
    elif joint is not None:
        yield from _in_bracket(at, joint, bracket)
    if bracket is not None:
        yield from _on_its_place(project, layout, at, which, bracket)
    yield from _room_kept(project, at, link, which, joint)


def _in_bracket(at: _At, joint: Joint, bracket: Bracket) -> Iterator[Fit]:
    wide = None if joint.ball_width_m is None else joint.ball_width_m + 2 * joint.spacer_m
    if wide is None or bracket.gap_m is None:
        missing = "the joint's ball width" if wide is None else "the gap between its tabs"
        yield at.fit("joint in gap", "unknown", f"Enter {missing}.")
    else:
        left = bracket.gap_m - wide
        if left < -TIGHT:
            yield at.fit(
                "joint in gap",
                "misfit",
                f"Ball and spacers are {at.say(wide)} wide, {at.say(-left)} more than the gap of {at.say(bracket.gap_m)}.",
                -left,
            )
        elif left > LOOSE:
            yield at.fit(
                "joint in gap",
                "tight",
                f"Ball and spacers leave {at.say(left)} of the gap: washers of {at.say(left / 2)} a side, or the bolt bends the tabs in.",
                left,
            )
        else:
            yield at.fit("joint in gap", "fits", f"{at.say(wide)} in a gap of {at.say(bracket.gap_m)}.")
    if joint.body_width_m is not None and bracket.gap_m is not None and joint.body_width_m > bracket.gap_m:
        over = joint.body_width_m - bracket.gap_m
        yield at.fit("body in gap", "misfit", f"The joint's body is {at.say(over)} wider than the gap.", over)
    bolt = joint.bolt_m
    if bolt is None:
        yield at.fit("bolt", "unknown", "Enter the joint's bolt.")
        return
    if bracket.bolt_hole_m is not None:
        play = bracket.bolt_hole_m - bolt
        if play < 0:
            yield at.fit(
                "bolt hole",
                "misfit",
                f"The hole of {at.say(bracket.bolt_hole_m)} is {at.say(-play)} too small for the joint's {at.say(bolt)} bolt.",
                -play,
            )
        elif play > BOLT_PLAY:
            yield at.fit(
                "bolt hole",
                "tight",
                f"The hole is {at.say(play)} over the bolt: it will hammer loose; bush it or take the next bolt.",
                play,
            )
        else:
            yield at.fit("bolt hole", "fits", f"{at.say(bolt)} bolt in a {at.say(bracket.bolt_hole_m)} hole.")
    if bracket.gap_m is not None and bracket.tab_m is not None:
        yield from _bolt(at, bolt, bracket, bracket.gap_m + 2 * bracket.tab_m)
    room = [v for v in (0.5 * joint.body_od_m if joint.body_od_m is not None else None, SOCKET * bolt) if v is not None]
    if bracket.reach_m is not None:
        least, what = (
            max(room),
            "the joint's body"
            if joint.body_od_m is not None and 0.5 * joint.body_od_m >= SOCKET * bolt
            else "a socket",
        )
        short = least - bracket.reach_m
        if short > 0:
            yield at.fit(
                "wrench room",
                "misfit",
                f"The hole stands {at.say(bracket.reach_m)} off the face; {what} needs {at.say(least)}: {at.say(short)} short.",
                short,
            )
        else:
            yield at.fit("wrench room", "fits", f"{at.say(-short)} between {what} and the face.")


def _bolt(at: _At, bolt: float, bracket: Bracket, clamped: float) -> Iterator[Fit]:
    order = clamped + 2 * WASHER + NUT * bolt + PITCHES
    if bracket.bolt_length_m is None:
        yield at.fit(
            "bolt length",
            "unknown",
            f"Order at least {at.say(order)} under the head, plain to {at.say(clamped + WASHER - (bracket.tab_m or 0.0))} or more.",
        )
        return
    short = order - bracket.bolt_length_m
    if short > 5e-4:
        yield at.fit(
            "bolt length",
            "misfit",
            f"The bolt is {at.say(short)} too short: tabs, washers and nut take {at.say(order)}.",
            short,
        )
    else:
        yield at.fit("bolt length", "fits", f"{at.say(bracket.bolt_length_m)} for {at.say(order)}.")
    if bracket.bolt_grip_m is None:
        return
    shear, top = clamped + WASHER - (bracket.tab_m or 0.0), clamped + 2 * WASHER
    if bracket.bolt_grip_m < shear - 5e-4:
        yield at.fit(
            "bolt grip",
            "misfit",
            f"The plain shank ends {at.say(shear - bracket.bolt_grip_m)} short of the far tab: thread stands in the shear plane.",
            shear - bracket.bolt_grip_m,
        )
    elif bracket.bolt_grip_m > top + 5e-4:
        yield at.fit(
            "bolt grip",
            "misfit",
            f"The plain shank is {at.say(bracket.bolt_grip_m - top)} too long: the nut runs out of thread before it clamps.",
            bracket.bolt_grip_m - top,
        )
    else:
        yield at.fit("bolt grip", "fits", f"Plain shank of {at.say(bracket.bolt_grip_m)} through both tabs.")


def _insert(at: _At, link: Link, end: LinkEnd, joint: Joint) -> Fit:
    bore = end.bore_m if end.bore_m is not None else link.tube_od_m - 2 * link.tube_wall_m
    if joint.thread_diameter_m is None:
        return at.fit("insert", "fits", "A joint without a thread: nothing to put in the tube.")
    if bore < 1e-4:
        return at.fit("insert", "fits", "Solid bar: tapped, no insert.")
    if end.insert_od_m is None:
        return at.fit("insert", "unknown", f"The tube's bore is {at.say(bore)}; enter the insert's outside.")
    play = bore - end.insert_od_m
    if play < 0:
        return at.fit(
            "insert", "misfit", f"The insert is {at.say(-play)} larger than the bore of {at.say(bore)}.", -play
        )
    if play < SLIP:
        return at.fit(
            "insert",
            "tight",
            f"Insert and bore are both {at.say(bore)} by name: the weld seam and the tolerance make it a press fit; measure and ream before it is forced, a forced one seizes the joint.",
            SLIP - play,
        )
    if play > WOBBLE:
        return at.fit(
            "insert", "misfit", f"The insert is {at.say(play)} smaller than the bore and will stand crooked.", play
        )
    return at.fit("insert", "fits", f"{at.say(end.insert_od_m)} in a bore of {at.say(bore)}.")


def _on_its_place(project: Project, layout: Layout, at: _At, which: PivotEnd, bracket: Bracket) -> Iterator[Fit]:
    body = project.rig.body
    place = MOUNTED_WORDS[bracket.mounted_on]
    if bracket.mounted_on in ("rail_side", "rail_top_or_bottom"):
        face = body.rail_height_m if bracket.mounted_on == "rail_side" else body.rail_width_m
        word = "high" if bracket.mounted_on == "rail_side" else "wide"
        if face is None or bracket.foot_m is None:
            yield at.fit(
                "foot on rail",
                "unknown",
                f"Enter {'how ' + word + ' the rail is' if face is None else 'how wide the foot is'}.",
            )
        elif bracket.foot_m > face + 5e-4:
            over = bracket.foot_m - face
            yield at.fit(
                "foot on rail",
                "misfit",
                f"The foot is {at.say(bracket.foot_m)} and the {place} {at.say(face)} {word}: it hangs over by {at.say(over)}.",
                over,
            )
        else:
            yield at.fit("foot on rail", "fits", f"{at.say(bracket.foot_m)} on a face of {at.say(face)}.")
    if bracket.nut_plate_m is not None:
        if body.rail_width_m is None or body.rail_wall_m is None:
            yield at.fit("nut plate", "unknown", "Enter the rail's width and wall.")
        else:
            inside = (
                body.rail_height_m
                if bracket.mounted_on == "rail_side" and body.rail_height_m is not None
                else body.rail_width_m
            ) - 2 * body.rail_wall_m
            over = bracket.nut_plate_m - inside
            if over > 0:
                yield at.fit(
                    "nut plate",
                    "misfit",
                    f"The nut plate is {at.say(bracket.nut_plate_m)}; inside the rail there is {at.say(inside)}: {at.say(over)} too wide.",
                    over,
                )
            else:
                yield at.fit("nut plate", "fits", f"{at.say(-over)} to spare inside the rail.")
    if bracket.mounted_on in ("tube", "axle_tube"):
        yield from _saddle(project, layout, at, bracket)


def _saddle(project: Project, layout: Layout, at: _At, bracket: Bracket) -> Iterator[Fit]:
    tube = None
    if bracket.mounted_on == "axle_tube":
        donor = project.donor(layout.end)
        tube = donor.tube_od_m if donor is not None else None
        missing = "the axle's tube diameter in Donors"
    else:
        tube = _frame_tube(project, layout, bracket)
        missing = "the frame tube as a solid in Tape, near this pivot"
    if bracket.saddle_m is None or tube is None:
        yield at.fit(
            "on the tube", "unknown", f"Enter {'what tube it is notched for' if bracket.saddle_m is None else missing}."
        )
        return
    off = bracket.saddle_m - tube
    if abs(off) <= 0.001:
        yield at.fit("on the tube", "fits", f"Notched for {at.say(bracket.saddle_m)}, tube {at.say(tube)}.")
    elif off > 0:
        yield at.fit(
            "on the tube",
            "tight" if off < 0.006 else "misfit",
            f"Notched for {at.say(bracket.saddle_m)}; the tube of {at.say(tube)} leaves a gap: {at.say(off)} in diameter to close.",
            off,
        )
    else:
        yield at.fit(
            "on the tube",
            "misfit",
            f"Notched for {at.say(bracket.saddle_m)}; it does not go over a tube of {at.say(tube)}: {at.say(-off)} in diameter.",
            -off,
        )


def _frame_tube(project: Project, layout: Layout, bracket: Bracket) -> float | None:
    """Diameter of the surveyed tube nearest to the pivot, within 150 mm."""
    link = layout.link(bracket.link)
    assert link is not None
    at = link.pivot(bracket.end)
    best: tuple[float, float] | None = None
    for solid in project.tape.solids:
        if isinstance(solid, TubeSolid) and solid.kind in ("cross_member", "other"):
            apart = min(between_segments(at, at, a, b) for a, b in zip(solid.path_m, solid.path_m[1:], strict=False))
            if apart < 0.15 and (best is None or apart < best[0]):
                best = (apart, solid.diameter_m)
    return None if best is None else best[1]


def _room_kept(project: Project, at: _At, link: Link, which: PivotEnd, joint: Joint | None) -> Iterator[Fit]:
    """The joint's body against everything in the way, room kept for parts not fitted yet included."""
    radius = 0.5 * joint.body_od_m if joint is not None and joint.body_od_m is not None else 0.5 * link.tube_od_m
    place = link.pivot(which)
    for solid in placed_solids(project):
        low, high = extent(solid)
        if point_to_box(place, low, high) > radius:
            continue
        gap = _point_gap(place, solid) - radius
        if gap < 0:
            word = "the room kept for" if solid.kind == "room_kept" else "the place of"
            yield at.fit("room", "misfit", f"The joint reaches {at.say(-gap)} into {word} {solid.name}.", -gap)


def _point_gap(at: tuple[float, float, float], solid: Solid) -> float:
    if isinstance(solid, BoxSolid):
        return point_to_box(at, solid.low_m, solid.high_m)
    if isinstance(solid, TubeSolid):
        return (
            min(between_segments(at, at, a, b) for a, b in zip(solid.path_m, solid.path_m[1:], strict=False))
            - 0.5 * solid.diameter_m
        )
    if isinstance(solid, MeshSolid):
        return gap_to(solid, at, at)
    assert isinstance(solid, OutlineSolid)
    return segment_to_outline(at, at, solid)

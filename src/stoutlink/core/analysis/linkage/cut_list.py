"""How long to cut each tube, how much thread is engaged, and what a turn of the link does to the pinion."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from stoutlink.core.analysis.linkage.bar_set import link_length
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Joint, Layout, Link, LinkEnd
from stoutlink.core.document.link_work import is_cut
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.link_cut import Cut, EndSet, Turns, cut_link, turns_for
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.position import sweep


class LinkCut(Struct, frozen=True):
    """One link of the cut list; lengths in m."""

    layout: Layout
    link: Link
    frame_joint: Joint | None
    axle_joint: Joint | None
    cut: Cut
    rig: Rig

    @property
    def at_hand(self) -> bool:
        """Whether it is a link that is there already and is not cut."""
        return self.link.in_hand_m is not None

    @property
    def made(self) -> bool:
        """Whether its tube is cut."""
        return not self.at_hand and is_cut(self.link.stage)

    @property
    def there(self) -> bool:
        """Whether its length is what it is: at hand, or cut."""
        return self.at_hand or self.made

    @property
    def asked(self) -> float:
        """Pin to pin that the layout asks for, m."""
        return link_length(self.link)

    @property
    def turns(self) -> Turns:
        """What takes one that is there, or measured for, to the length the layout asks for; none for one that is cut to
        it."""
        return turns_for(self.cut, link_length(self.link) - self.cut.centre_to_centre)

    @property
    def now(self) -> Cut:
        """As it stands once turned to the layout's length: what thread is engaged and what adjustment is left; as set
        for a link that is still cut to it. A tube between a right- and a left-hand thread turns on both by their
        pitches, else the end with the finer thread is turned alone.
        """
        change = self.turns.turns * self.cut.per_turn
        if not self.there or change == 0.0:
            return self.cut
        joints = (self.frame_joint, self.axle_joint)
        pitches = [
            0.0 if fit is None or j is None else j.thread_pitch_m or 0.0
            for fit, j in zip(self.cut.ends, joints, strict=True)
        ]
        if self.cut.how != "tube":
            finest = min((p for p in pitches if p > 0), default=0.0)
            first = next((k for k, p in enumerate(pitches) if p == finest), 0)
            pitches = [p if k == first else 0.0 for k, p in enumerate(pitches)]
        whole = sum(pitches)
        ends = [
            None
            if fit is None
            else replace(fit, engaged=fit.engaged - part, longer=fit.longer - part, shorter=fit.shorter + part)
            for fit, part in (
                (f, change * p / whole if whole else 0.0) for f, p in zip(self.cut.ends, pitches, strict=True)
            )
        ]
        return replace(
            self.cut, ends=(ends[0], ends[1]), longer=self.cut.longer - change, shorter=self.cut.shorter + change
        )

    @property
    def pinion_per_turn(self) -> float | None:
        """See :func:`pinion_per_turn`; solved when asked for."""
        return pinion_per_turn(self.rig, self.layout, (self.link.id, self.cut.per_turn))


@lru_cache(maxsize=16)
def layout_cuts(rig: Rig, layout: Layout, joints: tuple[Joint, ...]) -> tuple[LinkCut, ...]:
    """Cut cards of one layout."""
    known = {j.id: j for j in joints}
    cuts = []
    for link in layout.links:
        ends = (_end(link.frame_end, known), _end(link.axle_end, known))
        cuts.append(
            cut_link(
                link_length(link) if link.settled_m is None else link.settled_m,
                link.tube_od_m,
                link.tube_wall_m,
                "aluminium" if link.material == "aluminium" else "steel",
                ends,
            )
        )
    return tuple(
        LinkCut(layout, link, known.get(link.frame_end.joint), known.get(link.axle_end.joint), cut, rig)
        for link, cut in zip(layout.links, cuts, strict=True)
    )


def _end(end: LinkEnd, joints: dict[str, Joint]) -> EndSet:
    joint = joints.get(end.joint)
    if joint is None:
        return EndSet(take_up=end.take_up_m)
    return EndSet(
        end.take_up_m,
        joint.thread_diameter_m,
        joint.thread_pitch_m,
        joint.hand,
        joint.neck_m,
        joint.shank_m,
        joint.jam_nut_m,
        end.insert_shoulder_m,
    )


@lru_cache(maxsize=64)
def pinion_per_turn(rig: Rig, layout: Layout, turned: tuple[str, float]) -> float | None:
    """Pinion change, rad, nose up +, when a link (its id, and m for one full turn) and its mirrored partner get a
    turn longer.

    The pose is solved again at constant axle height. ``None`` for a link that does not turn or bars that do not close.
    """
    link_id, longer = turned
    link = layout.link(link_id)
    if link is None or longer == 0 or len(layout.links) < 4:
        return None
    partner = layout.partner(link)
    base = Bars.of(
        axle_centre(rig, layout.end), [x.frame_pivot_m for x in layout.links], [x.axle_pivot_m for x in layout.links]
    )
    longer_ones = [one.id == link_id or (partner is not None and one.id == partner.id) for one in layout.links]
    bars = Bars.of(base.centre, base.frame, base.axle, None, base.length + longer * np.array(longer_ones))
    pitch = float(sweep(bars, np.zeros(1), np.zeros(1)).pitch[0])
    nose_up = -pitch if layout.end == "rear" else pitch
    return nose_up if np.isfinite(nose_up) else None

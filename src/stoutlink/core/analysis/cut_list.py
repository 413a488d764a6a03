"""How long to cut each tube, how much thread is engaged, and what a turn of the link does to the pinion."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from stoutlink.core.analysis.bar_set import axle_centre, link_length
from stoutlink.core.document.layout import Joint, Layout, Link, LinkEnd
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.link_cut import Cut, EndSet, cut_link
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.position import sweep


@dataclass(frozen=True)
class LinkCut:
    """One link of the cut list; lengths in m. ``pinion_per_turn`` rad, nose up +, for lengthening by one full turn."""

    layout: Layout
    link: Link
    frame_joint: Joint | None
    axle_joint: Joint | None
    cut: Cut
    pinion_per_turn: float | None


def cut_list(project: Project) -> tuple[LinkCut, ...]:
    """All links of the layouts in use, rear first."""
    out: list[LinkCut] = []
    for end in ("rear", "front"):
        layout = project.layout(end)
        if layout is not None:
            out.extend(layout_cuts(project.rig, layout, project.joints))
    return tuple(out)


@lru_cache(maxsize=16)
def layout_cuts(rig: Rig, layout: Layout, joints: tuple[Joint, ...]) -> tuple[LinkCut, ...]:
    """Cut cards of one layout."""
    known = {j.id: j for j in joints}
    cuts = []
    for link in layout.links:
        ends = (_end(link.frame_end, known), _end(link.axle_end, known))
        cuts.append(cut_link(link_length(link), link.tube_od_m, link.tube_wall_m, link.material, ends))
    turned = _pinion_per_turn(rig, layout, [c.per_turn for c in cuts])
    return tuple(
        LinkCut(layout, link, known.get(link.frame_end.joint), known.get(link.axle_end.joint), cut, pinion)
        for link, cut, pinion in zip(layout.links, cuts, turned, strict=True)
    )


def _end(end: LinkEnd, joints: dict[str, Joint]) -> EndSet:
    joint = joints.get(end.joint)
    if joint is None:
        return EndSet(take_up=end.take_up_m)
    return EndSet(end.take_up_m, joint.thread_diameter_m, joint.thread_pitch_m, joint.hand, joint.neck_m, joint.shank_m, joint.jam_nut_m)


def _pinion_per_turn(rig: Rig, layout: Layout, per_turn: list[float]) -> list[float | None]:
    """Re-solve the pose at constant axle height with each link (and its mirrored partner) one turn longer."""
    points = [[link.frame_pivot_m for link in layout.links], [link.axle_pivot_m for link in layout.links]]
    base = Bars.of(axle_centre(rig, layout.end), *points)
    if base.count < 4:
        return [None] * base.count
    index = {link.id: i for i, link in enumerate(layout.links)}
    lengths = np.tile(base.length, (base.count, 1))
    for i, link in enumerate(layout.links):
        partner = layout.partner(link)
        for j in {i, index[partner.id] if partner else i}:
            lengths[i, j] += per_turn[i]
    turned = Bars.of(base.centre, np.tile(base.frame, (base.count, 1, 1)), np.tile(base.axle, (base.count, 1, 1)), None, lengths)
    poses = sweep(turned, np.zeros(1), np.zeros(1))
    nose_up = (-1.0 if layout.end == "rear" else 1.0) * poses.pitch[:, 0]
    return [float(a) if turn and np.isfinite(a) else None for a, turn in zip(nose_up, per_turn, strict=True)]

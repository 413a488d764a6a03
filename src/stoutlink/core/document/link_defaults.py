"""Tube, take-up and joint a proposed link starts with, and which of them nobody has entered since."""

from __future__ import annotations

from stoutlink.core.document.layout import Joint, Layout, Link
from stoutlink.core.document.project import Project

TAKE_UP = 0.065
"""Joint centre to tube face, m (estimate)."""
UPPER_TUBE, LOWER_TUBE, BAR_TUBE = (0.04445, 0.00635), (0.0508, 0.00635), (0.0381, 0.00635)
"""Outside diameter and wall, m (common practice)."""
OPEN_JOINT = Joint(id="joint-open", name="Joint not chosen yet", kind="spherical")
_JOINT_SIZES = ("thread_diameter_m", "thread_pitch_m", "neck_m", "shank_m", "jam_nut_m")


def default_parts(project: Project, layout: Layout, link: Link) -> tuple[str, ...]:
    """What of a link is as it was proposed, in words: ``tube``, ``take-up``, ``joint``; nothing where all of it was
    entered or chosen. Mirrored links are entered as one.
    """
    noted = {e.field for e in project.entries}
    partner = layout.partner(link) if layout.mirrored else None
    heads = [f"layouts.{layout.id}.links.{one.id}" for one in (link, partner) if one is not None]

    def entered(*keys: str) -> bool:
        return any(f"{head}.{key}" in noted for head in heads for key in keys)

    out = []
    if (link.tube_od_m, link.tube_wall_m) in (UPPER_TUBE, LOWER_TUBE, BAR_TUBE) and not entered(
        "tube_od_m", "tube_wall_m"
    ):
        out.append("tube")
    if any(
        end.take_up_m == TAKE_UP and not entered(f"{name}.take_up_m")
        for name, end in (("frame_end", link.frame_end), ("axle_end", link.axle_end))
    ):
        out.append("take-up")
    if any(_open(project.joint(end.joint), noted) for end in (link.frame_end, link.axle_end)):
        out.append("joint")
    return tuple(out)


def _open(joint: Joint | None, noted: set[str]) -> bool:
    """Whether a joint was never chosen, or has an example's sizes of which none was entered."""
    if joint is None or joint.id == OPEN_JOINT.id:
        return True
    return joint.example and not any(f"joints.{joint.id}.{key}" in noted for key in _JOINT_SIZES)

"""Bolt circles of wheels and axles, and the adapters between them."""

from __future__ import annotations

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.swap import ShelfPart

SAME_CIRCLE = 0.0005
"""Bolt circles within this of each other, m, are one."""


def same_circle(axle: DonorAxle, have: tuple[int | None, float | None]) -> bool:
    """Whether wheels of a bolt circle go on an axle."""
    return axle.bolt_count == have[0] and abs((axle.bolt_circle_m or 0.0) - (have[1] or 0.0)) <= SAME_CIRCLE


def circles_differ(front: DonorAxle, rear: DonorAxle) -> bool:
    """Whether two axles take different wheels; False when either is not known."""
    if None in (front.bolt_count, front.bolt_circle_m, rear.bolt_count, rear.bolt_circle_m):
        return False
    return not same_circle(front, (rear.bolt_count, rear.bolt_circle_m))


def shelf_adapter(project: Project, axle: DonorAxle, wheel: tuple[int | None, float | None]) -> ShelfPart | None:
    """An adapter on the shelf that goes on this axle and takes a wheel of that bolt circle."""
    return next(
        (
            part
            for part in project.swap.shelf
            if part.kind == "adapter"
            and same_circle(axle, (part.bolt_count, part.bolt_circle_m))
            and part.other_bolt_count == wheel[0]
            and abs((part.other_bolt_circle_m or 0.0) - (wheel[1] or 0.0)) <= SAME_CIRCLE
        ),
        None,
    )


def wants_pair_adapters(project: Project, front: DonorAxle, rear: DonorAxle) -> bool:
    """Whether two axles of other bolt circles need adapters bought: not with new wheels, nor where an adapter on the
    shelf brings one to the other.
    """
    return (
        circles_differ(front, rear)
        and "wheels" not in project.swap.choosing.buys
        and shelf_adapter(project, front, (rear.bolt_count, rear.bolt_circle_m)) is None
        and shelf_adapter(project, rear, (front.bolt_count, front.bolt_circle_m)) is None
    )

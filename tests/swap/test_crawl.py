"""A crawl ratio asked for: gears are chosen for it, and pairs that do not reach it come behind all that do."""

from __future__ import annotations

import msgspec
import pytest

from stoutlink.core.analysis.swap.cost_to_ready import cost_to_ready
from stoutlink.core.analysis.swap.gear_choice import gear_key, least_ratio
from stoutlink.core.analysis.swap.pick import rank_pairs
from stoutlink.core.document.project import Project, with_parts
from tests.swap.rigs import plain_axle, plain_front, plain_project
from tests.swap.test_choice import sets


def asking(project: Project, crawl: float | None) -> Project:
    return with_parts(project, choosing=msgspec.structs.replace(project.swap.choosing, least_crawl=crawl))


def test_gears_are_as_deep_as_asked_for() -> None:
    ratios = sets("40/10", "41/9", "43/8")
    front, rear = plain_front(ratios=ratios), plain_axle(ratios=ratios)
    project = plain_project(front, rear)
    train = project.rig.drivetrain
    base = train.first_ratio * train.transfer_low_ratio
    for asked, wanted in ((None, 4.0), (base * 4.5, 41 / 9), (base * 5.0, 43 / 8), (base * 9.0, 43 / 8)):
        one = asking(project, asked)
        (best,) = rank_pairs(one, one.rig, [front], [rear]).best
        assert best.gears[1] is not None
        assert best.gears[1].ratio == pytest.approx(wanted)
        assert best.crawl == pytest.approx(base * wanted)
        bought = [x for x in cost_to_ready(one, one.rig, front, rear).lines if x.id == "gear_set"]
        assert len(bought) == (0 if wanted == 4.0 else 2)  # the cost list takes the same sets
    assert least_ratio(asking(project, base * 4.5), project.rig) == pytest.approx(4.5)


def test_what_does_not_reach_it_comes_behind() -> None:
    deep = plain_axle(id="deep", name="Deep", ratios=sets("43/8"), ring_teeth=43, pinion_teeth=8, price=5000.0)
    front = plain_front(ratios=sets("40/10", "43/8"))
    project = plain_project(front, plain_axle(ratios=sets("40/10")))
    train = project.rig.drivetrain
    asked = asking(project, 5.0 * train.first_ratio * train.transfer_low_ratio)
    rears = [plain_axle(ratios=sets("40/10")), deep]
    assert [b.rear.id for b in rank_pairs(asked, asked.rig, [front], rears).best if b.rear] == ["deep", rears[0].id]
    free = rank_pairs(project, project.rig, [front], rears).best
    assert free[0].rear is not None
    assert free[0].rear.id == rears[0].id


def test_the_deepest_of_what_is_short_comes_first() -> None:
    keys = gear_key([0.0, 0.0, 300.0], [4.0, 4.5, 5.0], None, 6.0)
    assert list(keys) == sorted(keys, reverse=True)


def test_the_deepest_that_both_ends_take() -> None:
    """Of the sets within 1 % of each other the deepest, whatever they cost: by hand 43/8, though 56/10 is deeper at one
    end alone; in the ranking and in the cost list alike."""
    front = plain_front(ratios=sets("40/10", "41/9", "43/8"))
    rear = plain_axle(ratios=sets("40/10", "41/9", "43/8", "56/10"))
    project = plain_project(front, rear)
    deep = with_parts(project, choosing=msgspec.structs.replace(project.swap.choosing, gearing="deepest"))
    for one, wanted in ((project, 4.0), (deep, 43 / 8)):
        (best,) = rank_pairs(one, one.rig, [front], [rear]).best
        assert [g.ratio for g in best.gears if g is not None] == pytest.approx([wanted, wanted])
        bill = cost_to_ready(one, one.rig, front, rear)
        assert bill.total == pytest.approx(best.numbers["cost"])
        assert len([x for x in bill.lines if x.id == "gear_set"]) == (0 if wanted == 4.0 else 2)

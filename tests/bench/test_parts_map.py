"""Parts of an axle: listed by its record, out in order and back the other way, marks told apart, pairs kept together."""

from __future__ import annotations

import msgspec
import pytest

from stoutlink.core.analysis.bench.parts_list import free_mark, next_order, proposed_parts, way_back
from stoutlink.core.document.bench import BenchCard, Mark, MarkedPart
from stoutlink.core.document.bench_checks import mark_words
from stoutlink.core.document.project import Project
from stoutlink.core.editing.bench_edits import ToOtherAxle
from stoutlink.core.editing.edits import PutInList, SetChoice
from stoutlink.core.errors import StoutError
from stoutlink.core.study.study import Study
from tests.bench.places import bare, rear, standing


def names(project: Project, locker: str = "open") -> list[str]:
    axle = Study(project).axles_there["rear"]
    assert axle is not None
    return [p.id for p in proposed_parts(axle, locker)]


def test_the_list_is_the_axles_own(basalt: Project) -> None:
    assert {"clip-left", "cross-pin"} <= set(names(rear(basalt, c_clips=True)))
    assert "clip-left" not in names(rear(basalt, c_clips=False))
    assert "case" in names(rear(basalt, third_member=True))
    assert "cover" not in names(rear(basalt, third_member=True))
    assert "half-left" in names(rear(basalt), "drop_in")
    assert "half-left" not in names(rear(basalt), "spool")
    assert "drum-left" in names(rear(basalt, brake="drum"))
    assert "disc-left" not in names(rear(basalt, brake="drum"))
    for record in ({}, {"c_clips": True}, {"third_member": True}):
        ids = names(rear(basalt, **record))
        assert len(set(ids)) == len(ids)


def test_out_in_order_back_in_reverse() -> None:
    a, b, c = (MarkedPart(id=k, name=k, order=n, state=s) for k, n, s in (("a", 1, "out"), ("b", 2, "out"), ("c", 0, "in")))  # type: ignore[arg-type]  # fmt: skip
    assert [p.id for p in way_back((a, b, c))] == ["b", "a"]
    assert next_order((a, b, c)) == 3
    back = msgspec.structs.replace(b, state="back")
    assert [p.id for p in way_back((a, back, c))] == ["a"]


def _with(project: Project, **marks: Mark) -> Project:
    parts = tuple(MarkedPart(id=k.replace("_", "-"), name=k, mark=m) for k, m in marks.items())
    return PutInList("cards", BenchCard(id="rear", parts=parts), "x").apply(bare(project))


def test_the_same_mark_twice_is_refused_in_the_whole_shop(basalt: Project) -> None:
    p = _with(basalt, one=Mark(count=2))
    with pytest.raises(StoutError) as why:
        PutInList("cards.rear.parts", MarkedPart(id="two", name="Two", mark=Mark(count=2)), "x").apply(p)
    assert why.value.code == "D171"
    assert "2 punch marks" in why.value.sentence
    assert "“one”" in why.value.sentence
    with pytest.raises(StoutError):  # on the other axle as well: caps get mixed on one bench
        PutInList("cards", BenchCard(id="front", parts=(MarkedPart(id="x", name="X", mark=Mark(count=2)),)), "x").apply(
            p
        )
    for other in (Mark(count=3), Mark(kind="scribe", count=2), Mark(kind="paint", count=2, colour="red")):
        PutInList("cards.rear.parts", MarkedPart(id="two", name="Two", mark=other), "x").apply(p)
    q = _with(basalt, one=Mark(kind="paint", count=1, colour="Red "))
    with pytest.raises(StoutError):
        PutInList("cards.rear.parts", MarkedPart(id="two", name="Two", mark=Mark(kind="paint", colour="red")), "x").apply(q)  # fmt: skip


def test_a_cap_and_its_seat_may_share_a_mark_the_other_cap_not(basalt: Project) -> None:
    cap = MarkedPart(id="cap-left", name="Cap", pair="left", mark=Mark(count=1))
    seat = MarkedPart(id="seat-left", name="Seat", pair="left", mark=Mark(count=1))
    p = PutInList("cards", BenchCard(id="rear", parts=(cap, seat)), "x").apply(bare(basalt))
    with pytest.raises(StoutError):
        PutInList("cards.rear.parts", MarkedPart(id="cap-right", name="Right", pair="right", mark=Mark(count=1)), "x").apply(p)  # fmt: skip


def test_a_free_mark_is_one_nobody_carries(basalt: Project) -> None:
    assert free_mark(()) == Mark(count=1)
    assert free_mark((MarkedPart(id="a", name="a", mark=Mark(count=1)),)) == Mark(count=2)
    p = _with(basalt, one=free_mark(()))
    assert mark_words(free_mark(p.bench.cards[0].parts)) == "2 punch marks"


def test_a_part_goes_to_the_other_axle_with_its_pair_and_history(basalt: Project) -> None:
    ring, pinion = (MarkedPart(id=k, name=k, pair="gears", state="in", order=4) for k in ("ring", "pinion"))
    p = PutInList("cards", BenchCard(id="rear", parts=(ring, pinion)), "x").apply(bare(basalt))
    p = ToOtherAxle("rear", "ring", "1 May").apply(p)
    front, back = p.card("front"), p.card("rear")
    assert front is not None
    assert back is not None
    assert [x.id for x in front.parts] == ["ring", "pinion"]
    assert back.parts == ()
    assert front.parts[0].history == "from the rear axle, 1 May"
    assert front.parts[0].order == 0
    p = PutInList("cards", BenchCard(id="rear", parts=(ring,)), "x").apply(p)
    with pytest.raises(StoutError) as why:
        ToOtherAxle("rear", "ring").apply(p)
    assert why.value.code == "D178"
    with pytest.raises(StoutError) as why:
        ToOtherAxle("rear", "yoke").apply(p)
    assert why.value.code == "D180"


def test_marked_caps_open_the_card(basalt: Project) -> None:
    caps = tuple(MarkedPart(id=f"cap-{s}", name=s) for s in ("left", "right"))
    p = PutInList("cards", BenchCard(id="rear", parts=caps), "x").apply(bare(basalt))
    assert standing(p, "marked") == "open"
    one = msgspec.structs.replace(caps[0], mark=Mark(count=1))
    assert standing(PutInList("cards.rear.parts", one, "x").apply(p), "marked") == "open"
    two = msgspec.structs.replace(caps[1], mark=Mark(count=2))
    p = PutInList("cards.rear.parts", two, "x").apply(PutInList("cards.rear.parts", one, "x").apply(p))
    assert standing(p, "marked") == "done"
    assert standing(SetChoice("cards.rear.parts.cap-left.mark", None, "mark").apply(p), "marked") == "open"

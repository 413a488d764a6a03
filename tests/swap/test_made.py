"""An axle made of several, by hand: which numbers come along, what meets, what is new, what it costs."""

from __future__ import annotations

import itertools

import msgspec
import pytest

from stoutlink.core.analysis.swap.cost_to_ready import cost_to_ready
from stoutlink.core.analysis.swap.made import made_of
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.parts_of_axle import ACROSS, OF_ITSELF, PART_FIELDS, PINION
from stoutlink.core.document.project import Entry, Project, with_parts
from stoutlink.core.editing.swap_edits import MakeOf, StartMade, TakeDonor
from stoutlink.core.errors import StoutError
from stoutlink.core.study.study import Study
from tests.swap.rigs import plain_axle, plain_front, plain_project

WIDE = plain_axle(id="wide", name="Wide", width_m=1.9, tube_od_m=0.09, ring_diameter_m=0.26, ring_teeth=38, pinion_teeth=9, price=500.0, ratios=(), spline_teeth=33, outer_spline_teeth=33, shaft_left_m=0.8, shaft_right_m=0.9, bolt_count=8)  # fmt: skip
NARROW = plain_axle(id="narrow", name="Narrow", width_m=1.5, shaft_left_m=0.6, shaft_right_m=0.7, price=300.0, outer_spline_teeth=30)  # fmt: skip


def several(**parts: str) -> tuple[Project, DonorAxle]:
    """The wide one with parts of the narrow one."""
    project = plain_project(rear=WIDE, donors=(plain_front(), WIDE, NARROW))
    project = StartMade("new", "wide").apply(project)
    for part, source in parts.items():
        project = MakeOf("new", part, source).apply(project)  # type: ignore[arg-type]
    return project, next(d for d in project.swap.donors if d.id == "new")


def test_every_number_of_a_record_belongs_to_one_part() -> None:
    parts = (OF_ITSELF, PINION, tuple(ACROSS), *PART_FIELDS.values())
    every = list(itertools.chain(*parts))
    assert len(every) == len(set(every))
    assert set(every) == set(DonorAxle.__struct_fields__)


def test_as_begun_it_is_the_axle_it_is_of() -> None:
    project, made = several()
    same = [n for n in DonorAxle.__struct_fields__ if n not in OF_ITSELF]
    assert [getattr(made, n) for n in same] == [getattr(WIDE, n) for n in same]
    found = made_of(project, made)
    assert found is not None
    assert found.mates == ()
    assert found.to_measure == ()
    assert [n.what for n in found.new] == ["gaskets, sealant, oil", "brake hoses and fluid"]
    assert made_of(project, WIDE) is None


def test_ends_of_another_bring_their_circle_and_leave_width_and_shafts_to_the_tape() -> None:
    project, made = several(outers="narrow")
    assert (made.bolt_count, made.tube_od_m, made.ring_teeth, made.spline_teeth) == (6, 0.09, 38, 33)
    assert (made.width_m, made.shaft_left_m, made.shaft_right_m, made.weight_kg) == (None, None, None, None)
    assert made.price == 800.0  # both are bought
    found = made_of(project, made)
    assert found is not None
    told = {m.title: (m.fits, m.why) for m in found.mates}
    assert told["ends on the tubes"][0] is False
    assert told["ends on the tubes"][1] == "made for 3.15″ (80 mm), on 3.54″ (90 mm): a turned sleeve or others"
    assert told["shafts in the drive plates"] == (False, "33 teeth against 30")
    assert found.to_measure == ("width over the wheel faces", "left shaft", "right shaft", "weight")
    assert any(n.what.startswith("both shafts") for n in found.new)


def test_gears_of_another_ring_do_not_go_in() -> None:
    project, made = several(gears="narrow")
    assert (made.ring_teeth, made.pinion_teeth, made.ring_diameter_m) == (40, 10, 0.22)
    assert made.width_m == 1.9
    assert made.snout_length_m == WIDE.snout_length_m
    found = made_of(project, made)
    assert found is not None
    mates = {m.title: m for m in found.mates}
    assert mates["gears in the housing"].fits is False
    assert "8.66″ (220 mm) into one made for 10.24″ (260 mm)" in mates["gears in the housing"].why
    assert mates["shafts in the side gears"].fits is False
    sentences = [f.sentence for f in Study(project).donor_findings(made)]
    assert any(s.startswith("Made of several: gears in the housing do not go together") for s in sentences)


@pytest.mark.parametrize(
    ("housing", "gears", "fits", "words"),
    [
        ({"third_member": True}, {"third_member": True}, None, "lay bolt circle"),
        ({"third_member": True}, {"third_member": False}, False, "one takes a third member"),
        ({"ring_diameter_m": 0.22}, {"ring_diameter_m": 0.2215}, None, "of one size"),
        ({"ring_diameter_m": 0.22}, {"ring_diameter_m": 0.2225}, False, "a ring gear of"),
        ({"ring_diameter_m": None}, {}, None, "measure both ring gears"),
        ({"cut": "reverse"}, {}, False, "standard cut into a housing for reverse cut"),
    ],
)
def test_what_gears_and_housing_say_of_each_other(
    housing: dict[str, object], gears: dict[str, object], fits: bool | None, words: str
) -> None:
    one, two = plain_axle(id="one", **housing), plain_axle(id="two", **gears)
    project = StartMade("new", "one").apply(plain_project(rear=one, donors=(plain_front(), one, two)))
    project = MakeOf("new", "gears", "two").apply(project)
    found = made_of(project, next(d for d in project.swap.donors if d.id == "new"))
    assert found is not None
    mate = next(m for m in found.mates if m.title == "gears in the housing")
    assert mate.fits is fits
    assert words in mate.why


def test_a_third_member_brings_its_pinion_along() -> None:
    one = plain_axle(id="one", third_member=True, snout_length_m=0.30, pinion_rise_m=0.0, pinion_height="low")
    two = plain_axle(id="two", third_member=True, snout_length_m=0.24, pinion_rise_m=0.03, pinion_height="high")
    project = StartMade("new", "one").apply(plain_project(rear=one, donors=(plain_front(), one, two)))
    project = MakeOf("new", "gears", "two").apply(project)
    made = next(d for d in project.swap.donors if d.id == "new")
    assert (made.snout_length_m, made.pinion_rise_m, made.pinion_height) == (0.24, 0.03, "high")


def test_front_ends_meet_the_shafts_by_the_outer_joint() -> None:
    one, two = plain_front(id="one", outer_joint_class="J4"), plain_front(id="two", outer_joint_class="J5")
    project = plain_project(front=one, donors=(one, two, plain_axle()))
    project = MakeOf("new", "outers", "two").apply(StartMade("new", "one").apply(project))
    found = made_of(project, next(d for d in project.swap.donors if d.id == "new"))
    assert found is not None
    mate = next(m for m in found.mates if m.title == "inner shafts to stubs")
    assert (mate.fits, mate.why) == (False, "J4 on the shaft, J5 on the stub")
    assert {"ball joints or kingpin bearings", "joints between inner shafts and stubs"} <= {n.what for n in found.new}


def test_what_it_costs_besides() -> None:
    """Two axles bought, ends put on in a jig, two shafts made to length, the bar that checks it."""
    project, made = several(outers="narrow")
    project = with_parts(project, rear_donor="new")
    cost = cost_to_ready(project, project.rig, None, made)
    lines = {line.id: line for line in cost.lines}
    assert lines["axle"].amount == 800.0
    assert lines["custom_shaft"].count == 2
    assert {"housing_work", "tool_bar"} <= set(lines)
    measured = msgspec.structs.replace(made, shaft_left_m=0.7, shaft_right_m=0.7)
    again = cost_to_ready(project, project.rig, None, measured)
    assert "custom_shaft" not in {line.id for line in again.lines}  # they are there
    project, made = several(gears="narrow")
    opened = {line.id for line in cost_to_ready(project, project.rig, None, made).lines}
    assert {"gear_kit", "gear_setup"} <= opened


def test_a_price_of_its_own_stays_and_notes_go_with_the_part() -> None:
    project, made = several()
    note = Entry(field="donors.new.tube_od_m", basis="measured", text="3 1/2")
    circle = Entry(field="donors.new.bolt_count", basis="measured")
    project = msgspec.structs.replace(project, entries=(*project.entries, note, circle))
    own = msgspec.structs.replace(made, price=650.0)
    project = with_parts(project, donors=tuple(own if d.id == "new" else d for d in project.swap.donors))
    after = MakeOf("new", "outers", "narrow").apply(project)
    assert next(d for d in after.swap.donors if d.id == "new").price == 650.0
    assert after.entry("donors.new.tube_od_m") == note
    assert after.entry("donors.new.bolt_count") is None


def test_a_record_that_is_gone_is_said() -> None:
    project, _ = several(outers="narrow")
    after = TakeDonor("narrow").apply(project)
    found = made_of(after, next(d for d in after.swap.donors if d.id == "new"))
    assert found is not None
    assert dict(found.origins)["outers"] is None
    assert "no longer in the catalogue" in found.mates[0].why
    assert TakeDonor("new").apply(after).swap.made == ()


def test_what_cannot_be_made_is_refused() -> None:
    project, _ = several()
    with pytest.raises(StoutError, match="D156 There is no axle “nowhere”"):
        StartMade("two", "nowhere").apply(project)
    with pytest.raises(StoutError, match="D158 “wide” is not an axle made of several"):
        MakeOf("wide", "gears", "narrow").apply(project)

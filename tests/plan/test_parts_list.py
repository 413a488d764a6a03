"""The parts list: one place for cost, list and tasks; money to the cent; by month; two builds; a table both ways."""

from __future__ import annotations

import csv
import datetime
import io
from decimal import ROUND_HALF_UP, Decimal

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from stoutlink.core.advice.forced_lines import LINES_OF, forced
from stoutlink.core.advice.parts_words import due_lines, line_words, list_words, shopping
from stoutlink.core.analysis.plan.arrivals import comes_on, due_of, order_by
from stoutlink.core.analysis.plan.parts_list import PartsList, between
from stoutlink.core.document.build_plan import BuildPlan, PartRecord
from stoutlink.core.document.groups import Swap
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.swap import OwnCost, Price
from stoutlink.core.editing.plan_edits import TakeParts
from stoutlink.core.errors import CatalogueError, StoutError
from stoutlink.core.quantity.money import cents, to_cents, total
from stoutlink.core.reports.parts_results import between_json, parts_csv, parts_json
from stoutlink.core.storage.parts_table import COLUMNS, read_parts
from stoutlink.core.study.study import Study

TODAY = datetime.date(2026, 9, 21)


def listed(project: Project, today: datetime.date = TODAY) -> PartsList:
    return Study(project).parts_list(today)


def bare(project: Project, **changes: object) -> Project:
    """Without prices, records and own lines of the demo."""
    plan = msgspec.structs.replace(project.build, arrivals=(), ceiling=None, month_ceiling=None)
    return with_parts(project, **{"build": plan, "prices": (), "own_costs": (), **changes})


def money(found: PartsList, key: str) -> tuple[float | None, str]:
    line = found.line(key)
    assert line is not None, key
    return line.amount, line.wanted.basis


@given(st.decimals(min_value=-10_000, max_value=10_000, allow_nan=False, places=4))
def test_an_amount_is_rounded_as_a_till_does(amount: Decimal) -> None:
    """Against the decimal arithmetic of the standard library (half up is away from zero there, as for a credit)."""
    assert cents(float(amount)) == int((amount * 100).quantize(Decimal(1), ROUND_HALF_UP))


@given(st.lists(st.decimals(min_value=-999, max_value=999, allow_nan=False, places=2), max_size=60))
def test_no_cent_is_lost_in_a_sum(amounts: list[Decimal]) -> None:
    assert Decimal(repr(total(float(a) for a in amounts))).quantize(Decimal("0.01")) == sum(amounts, Decimal(0))


def test_list_and_cost_say_the_same_to_the_cent(basalt: Project, tamarack: Project) -> None:
    for p in (basalt, tamarack, bare(basalt), bare(tamarack)):
        study, found = Study(p), listed(p)
        cost = study.cost(p.donor("front"), p.donor("rear"), None)
        hours = cost.hours * p.swap.choosing.hour_price
        assert found.axles == pytest.approx(cost.total + cost.tools - hours, abs=1e-6)
        mine = {x.key: x.amount for x in found.lines if x.wanted.of_axles}
        assert mine == {x.key: x.amount for x in cost.lines if x.group != "work" or x.amount}
        by_hand = sum(Decimal(repr(x.amount or 0.0)) for x in found.lines)
        assert Decimal(repr(found.total)) == by_hand
        assert found.paid == pytest.approx(sum(x.wanted.paid for x in found.lines), abs=1e-9)
        assert found.to_pay == pytest.approx(found.total - found.paid, abs=1e-9)


def test_paid_counts_where_known_else_asked_else_the_estimate(basalt: Project) -> None:
    p = bare(basalt)
    assert money(listed(p), "gear_set-rear") == (265.0, "estimate")
    for price, amount, basis in (
        (Price(id="gear_set-rear", amount=231.455), 231.46, "asked"),
        (Price(id="gear_set-rear", amount=231.455, paid=100.0), 231.46, "asked"),
        (Price(id="gear_set-rear", amount=231.455, paid=219.0, settled=True), 219.0, "paid"),
        (Price(id="gear_set-rear", paid=210.004), 210.0, "paid"),
        (Price(id="gear_set-rear", amount=200.0, paid=212.5), 212.5, "paid"),
        (Price(id="gear_set", amount=250.0), 250.0, "asked"),
    ):
        found = listed(with_parts(p, prices=(price,)))
        assert money(found, "gear_set-rear") == (amount, basis), price
        other = (250.0, "asked") if price.id == "gear_set" else (265.0, "estimate")
        assert money(found, "gear_set-front") == other, "one price a line and end"
    both = (Price(id="gear_set", amount=250.0), Price(id="gear_set-rear", paid=80.0))
    found = listed(with_parts(p, prices=both))
    assert money(found, "gear_set-rear") == (250.0, "asked"), "a deposit at one end keeps the price said for both"
    assert found.paid == 80.0


def test_a_line_of_ones_own_has_one_name_at_any_end(basalt: Project) -> None:
    for end in ("both", "front", "rear"):
        own = OwnCost(id="own-7", title="Freight", amount=40.0, end=end)
        record = PartRecord(id="own-7", state="here", note="paid at the door")
        plan = msgspec.structs.replace(bare(basalt).build, arrivals=(record,))
        p = with_parts(bare(basalt), own_costs=(own,), build=plan, prices=(Price(id="own-7", paid=15.0),))
        found = [x for x in listed(p).lines if x.wanted.title == "Freight"]
        assert [(x.key, x.state, x.amount, x.wanted.paid) for x in found] == [("own-7", "here", 40.0, 15.0)]


def test_made_lines_have_a_price_each_and_the_axles_their_record(basalt: Project) -> None:
    p = bare(basalt)
    found = listed(p)
    assert money(found, "joint-rod-100-r") == (None, "unknown")
    assert "joint-rod-100-r" in found.unknown
    priced = listed(with_parts(p, prices=(Price(id="joint-rod-100-r", amount=33.335),)))
    line = priced.line("joint-rod-100-r")
    assert line is not None
    assert line.amount == to_cents(33.335 * line.wanted.count) == 133.34
    axle = p.donor("front")
    assert axle is not None
    assert money(found, "axle-front")[0] == axle.price


def test_what_is_on_the_shelf_made_or_freed_is_free_until_a_price_is_typed(basalt: Project) -> None:
    p = bare(basalt)
    for source in ("shelf", "made", "freed"):
        one = with_value(p, "build.arrivals.driveshaft-rear.source", source)
        assert money(listed(one), "driveshaft-rear") == (0.0, "free")
        line = listed(one).line("driveshaft-rear")
        assert line is not None
        assert not line.to_order
        typed = with_value(one, "prices.driveshaft-rear.amount", 40.0)
        assert money(listed(typed), "driveshaft-rear") == (40.0, "asked")
        plate = with_value(p, "build.arrivals.plate-6350.source", source)
        assert money(listed(plate), "plate-6350") == (0.0, "free")
    for source in ("", "new", "used"):
        assert money(listed(with_value(p, "build.arrivals.driveshaft-rear.source", source)), "driveshaft-rear")[1] == "estimate"  # fmt: skip


def test_plate_with_a_price_takes_the_place_of_the_estimate_for_brackets(basalt: Project) -> None:
    p = bare(basalt)
    assert money(listed(p), "link_brackets-front")[1] == "estimate"
    priced = with_value(p, "prices.plate-6350.amount", 60.0)
    assert money(listed(priced), "link_brackets-front") == (0.0, "free")
    mine = with_value(priced, "prices.link_brackets-front.amount", 90.0)
    assert money(listed(mine), "link_brackets-front") == (90.0, "asked")


def test_what_is_sold_is_money_back_in_list_and_cost(basalt: Project) -> None:
    p = bare(basalt)
    before = listed(p)
    record = PartRecord(id="gear_set-rear", name="Old set", state="sold", sold_for=70.255, sold_on="2026-10-02")
    after = msgspec.structs.replace(p, build=msgspec.structs.replace(p.build, arrivals=(record,)))
    found = listed(after)
    assert found.total == to_cents(before.total - 70.26)
    credit = found.line("sold-gear_set-rear")
    assert credit is not None
    assert (credit.amount, credit.pay_day) == (-70.26, "2026-10-02")
    study = Study(after)
    cost = study.cost(after.donor("front"), after.donor("rear"), None)
    assert cost.of("part") == to_cents(Study(p).cost(p.donor("front"), p.donor("rear"), None).of("part") - 70.26)


def test_tube_and_plate_agree_with_the_cut_plans(basalt: Project) -> None:
    p = bare(basalt)
    study, found = Study(p), listed(p)
    bought = {f"tube-{name}": n for plan in study.stock_plan() for name, n in plan.to_buy.items()}
    assert bought
    for key, count in bought.items():
        line = found.line(key)
        assert line is not None
        assert line.wanted.count == count
        bar = next(b for b in p.fabrication.stock if f"tube-{b.id}" == key)
        assert line.amount == (None if bar.price is None else to_cents(bar.price * count))
    offcuts = [plan.bar_of(b).id for plan in study.stock_plan() for b in plan.plan.bars if b.offcut]
    assert offcuts, "the demo has an offcut on its shelf, and it is used first"
    for name in offcuts:
        line = found.line(f"tube-{name}")
        assert line is not None
        assert (line.amount, line.wanted.count, line.state) == (0.0, offcuts.count(name), "here")
    for plate in study.plate_plan():
        line = found.line(f"plate-{round(plate.thickness * 1e6)}")
        assert line is not None
        assert line.wanted.count == plate.nested.plates
        assert line.wanted.detail.startswith(f"{len(plate.pieces)} part")
    links = [x for end in ("front", "rear") for x in p.layout(end).links if x.in_hand_m is None]  # type: ignore[union-attr]
    joints = [x for x in found.lines if x.key.startswith("joint-")]
    assert sum(x.wanted.count for x in joints) == 2 * len(links), "a joint for each end of each link"


def test_a_bar_no_stock_is_long_enough_for_is_said_and_has_no_price(tamarack: Project) -> None:
    found = listed(bare(tamarack))
    missing = [x for x in found.lines if x.key.startswith("tube-none-")]
    assert missing
    assert all(x.amount is None and "no bar on the list" in x.wanted.why for x in missing)


def test_every_line_a_task_needs_is_a_line_or_covered_by_an_offcut(basalt: Project, tamarack: Project) -> None:
    for p in (basalt, tamarack):
        study = Study(p)
        lines = {x.key for x in study.parts_list(TODAY).lines}
        needs = {n for t in study.tasks for n in t.needs if not n.startswith("tube-")}
        assert needs <= lines, needs - lines
        asked = {n for t in study.tasks for n in t.needs}
        loose = {x.key for x in study.parts_list(TODAY).lines if x.wanted.of_axles and x.wanted.end != "both" and x.wanted.kind != "work"} - asked  # fmt: skip
        assert not loose, "every part of an axle is needed somewhere"


def test_a_knock_on_that_forces_a_part_has_its_line(basalt: Project, tamarack: Project) -> None:
    """Cost, knock-ons and list never say different things, also with other choices."""
    seen = set()
    for p in (basalt, tamarack):
        for end in ("front", "rear"):
            for axle in [d for d in p.swap.donors if d.end == end]:
                for locker in ("air", "electric", "drop_in", None):
                    one = with_value(with_value(p, f"{end}_donor", axle.id), f"{end}_plan.locker", locker)
                    one = with_value(one, f"{end}_plan.fitted", ())
                    study = Study(one)
                    if study.needs or one.stays(end):
                        continue
                    keys = frozenset(x.key for x in study.cost(one.donor("front"), one.donor("rear"), None).lines)
                    found = [f for f in study._swap_findings() if f.subject == axle.id]
                    for f in found:
                        if f.code not in LINES_OF or f.code in ("K102", "K117", "K119", "K144"):
                            continue
                        if (
                            f.code == "K133"
                            and any(k == "gear_set-rear" for k in keys)
                            and one.plan("rear").gears is None
                        ):
                            continue  # said of the gears in it, and the cost counts on others
                        seen.add(f.code)
                        assert forced([f], {axle.id: end}, keys), (f.code, f.sentence, axle.name)
    assert {"K143", "K146", "K152", "K155"} <= seen


@pytest.mark.parametrize(
    ("record", "day"),
    [
        (PartRecord(id="a", likely="2026-10-05"), ("2026-10-05", "2026-10-05", "2026-10-05", False)),
        (PartRecord(id="a", earliest="2026-10-01", likely="2026-10-05", latest="2026-10-09"), ("2026-10-01", "2026-10-05", "2026-10-09", False)),
        (PartRecord(id="a", state="ordered", ordered="2026-09-18", lead_days=10), ("2026-09-28", "2026-09-28", "2026-09-28", False)),
        (PartRecord(id="a", lead_days=10), ("2026-10-01", "2026-10-01", "2026-10-01", False)),
        (PartRecord(id="a", state="ordered", likely="2026-09-10"), ("2026-09-21", "2026-09-21", "2026-09-21", True)),
        (PartRecord(id="a", state="wrong", likely="2026-10-05"), ("2026-10-05", "2026-10-05", "2026-10-05", False)),
        (PartRecord(id="a", state="wrong", likely="2026-09-10"), None),
        (PartRecord(id="a", state="wrong", ordered="2026-09-01", lead_days=10), ("2026-10-01", "2026-10-01", "2026-10-01", False)),
        (PartRecord(id="a", state="wrong", likely="2026-09-10", lead_days=4), ("2026-09-25", "2026-09-25", "2026-09-25", False)),
        (PartRecord(id="a", state="here", likely="2026-10-05"), None),
        (PartRecord(id="a"), None),
    ],
)  # fmt: skip
def test_when_a_part_comes(record: PartRecord, day: tuple[str, str, str, bool] | None) -> None:
    due = due_of(record, TODAY)
    found = (
        None if due is None else (due.earliest.isoformat(), due.likely.isoformat(), due.latest.isoformat(), due.overdue)
    )
    assert found == day


def test_the_last_day_to_order_leaves_the_lead_time_before_the_need() -> None:
    need = datetime.date(2026, 10, 20)
    assert order_by(PartRecord(id="a", lead_days=9), need, TODAY) == datetime.date(2026, 10, 10)
    assert order_by(PartRecord(id="a", lead_days=60), need, TODAY) == TODAY
    assert order_by(PartRecord(id="a", lead_days=9, state="ordered"), need, TODAY) is None
    assert order_by(PartRecord(id="a"), need, TODAY) is None
    assert order_by(None, need, TODAY) is None


def test_a_part_put_on_another_day_takes_its_spread_along() -> None:
    old = PartRecord(id="a", state="late", earliest="2026-10-01", likely="2026-10-05", latest="2026-10-09")
    new = comes_on(old, "a", datetime.date(2026, 10, 12), TODAY)
    assert (new.earliest, new.likely, new.latest, new.state) == ("2026-10-08", "2026-10-12", "2026-10-16", "ordered")
    assert comes_on(None, "b", datetime.date(2026, 10, 12), TODAY).likely == "2026-10-12"
    past = PartRecord(id="a", earliest="2026-09-01", likely="2026-09-05", latest="2026-09-07")
    assert comes_on(past, "a", datetime.date(2026, 9, 25), TODAY).likely == "2026-09-25"


def test_late_wrong_and_unlike_are_due_and_what_is_here_is_not(basalt: Project) -> None:
    p = bare(basalt)

    def why(**said: object) -> list[str]:
        record = PartRecord(id="gear_set-rear", **said)  # type: ignore[arg-type]
        one = msgspec.structs.replace(p, build=msgspec.structs.replace(p.build, arrivals=(record,)))
        return [words for x, words in due_lines(listed(one), TODAY) if x.key == "gear_set-rear"]

    assert why(state="wrong") == ["Came wrong"]
    assert why(state="here", ordered_as="43/10", came_as="41/11") == ["Came as another than ordered"]
    assert why(state="here", ordered_as="43/10  Standard", came_as="43/10 standard") == []
    assert why(state="ordered", likely="2026-09-18") == ["Late"]
    assert why(state="late") == ["Late"]
    assert why(state="ordered", likely="2027-02-01") == [], "the task waits for it, so it is not needed before"
    assert why(lead_days=3) == []
    assert why(lead_days=60) == ["To be ordered"]
    assert why(state="fitted") == []


def test_money_by_month(basalt: Project) -> None:
    """By hand: what was paid on its day, the rest when the part comes or is needed, and nothing where no day is known."""
    prices = (
        Price(id="driveshaft-rear", amount=400.0, paid=100.0, paid_on="2026-08-30"),
        Price(id="gear_set-rear", amount=250.0, paid=250.0, paid_on="2026-09-02"),
        Price(id="own-1", paid=33.33, settled=True, paid_on="2026-11-05"),
    )
    arrivals = (PartRecord(id="driveshaft-rear", state="ordered", likely="2026-10-24"),)
    plan = BuildPlan(arrivals=arrivals, month_ceiling=299.99)
    own = (OwnCost(id="own-1", title="Freight", amount=40.0),)
    p = with_parts(basalt, build=plan, prices=prices, own_costs=own)
    found = listed(p)
    months = {m.name: (m.paid, m.to_pay, m.over) for m in found.months}
    assert months == {"2026-08": (100.0, 0.0, 0.0), "2026-09": (250.0, 0.0, 0.0), "2026-10": (0.0, 300.0, 0.01), "2026-11": (33.33, 0.0, 0.0)}  # fmt: skip
    assert total([*(m.whole for m in found.months), found.undated]) == found.total
    assert found.line("own-1").amount == 33.33  # type: ignore[union-attr]


def test_months_of_the_demo_hold_all_of_its_money(basalt: Project, tamarack: Project) -> None:
    for p in (basalt, tamarack):
        found = listed(p)
        assert total([*(m.whole for m in found.months), found.undated]) == found.total
        assert len({m.name for m in found.months}) == len(found.months)


def test_a_ceiling_for_all_of_it(basalt: Project) -> None:
    p = bare(basalt)
    whole = listed(p).total
    under, over = (listed(with_value(p, "build.ceiling", whole + by)) for by in (10.0, -0.01))
    assert (under.left, over.left) == (10.0, -0.01)
    assert any("10 cr left of the ceiling" in w for w in list_words(under, p.build, "cr"))
    assert any("Over the ceiling by 0.01 cr" in w for w in list_words(over, p.build, "cr"))


def test_two_builds_to_the_cent(basalt: Project) -> None:
    a = bare(basalt)
    b = with_value(with_value(a, "prices.driveshaft-rear.amount", 379.995), "rear_plan.shaved", True)
    b = with_parts(b, own_costs=(OwnCost(id="own-1", title="Tax", amount=12.34),))
    one, two = listed(a), listed(b)
    found = between(one, two)
    assert [x.key for x in found.only_a] == []
    assert {x.key for x in found.only_b} == {"shave-rear", "own-1"}
    differing = {x.key: (x.amount, y.amount) for x, y in found.both if x.amount != y.amount}
    assert differing == {"driveshaft-rear": (380.0, 380.0)} or differing == {}
    by_hand = Decimal(repr(two.line("shave-rear").amount)) + Decimal("12.34")  # type: ignore[union-attr]
    assert Decimal(repr(found.difference)) == by_hand
    assert found.total_a == total([*(x.amount or 0 for x in found.only_a), *(x.amount or 0 for x, _ in found.both)])
    assert found.total_b == total([*(x.amount or 0 for x in found.only_b), *(y.amount or 0 for _, y in found.both)])
    assert between_json(found)["b_costs_more"] == found.difference


def test_what_is_no_longer_asked_for_stays_while_money_is_in_it(basalt: Project) -> None:
    p = bare(basalt)
    one = with_value(with_value(p, "prices.shave-rear.paid", 55.5), "build.arrivals.shave-rear.state", "here")
    found = listed(one)
    line = found.line("shave-rear")
    assert line is not None
    assert line.gone
    assert found.total == to_cents(listed(p).total + 55.5)
    assert "nothing asks for it any more" in line_words(line)
    assert listed(with_value(p, "build.arrivals.shave-rear.note", "maybe")).line("shave-rear") is None


def test_a_table_out_and_in_again_changes_nothing(basalt: Project, tamarack: Project) -> None:
    for p in (basalt, tamarack):
        study = Study(p)
        table = read_parts(parts_csv(study.parts_list(TODAY), p), study.part_states)
        assert table.problems == ()
        again = TakeParts(tuple((r.line, r.item, r.values) for r in table.rows)).apply(p)
        assert again == p


def test_a_spreadsheet_takes_nothing_for_a_formula(basalt: Project) -> None:
    """Cells that a spreadsheet would work out leave as text and come back as they were (OWASP, CSV Injection)."""
    evil = ("=1+1", "+cmd|' /C calc'!A0", "-2+3+cmd", "@SUM(A1)", "\tx")
    p = bare(basalt)
    for k, words in enumerate(evil):
        own = OwnCost(id=f"own-{k + 1}", title=f"x{words}", amount=1.0)
        p = with_parts(p, own_costs=(*p.swap.own_costs, own))
        p = with_value(p, f"build.arrivals.own-{k + 1}.note", words.strip("\t"))
        p = with_value(p, f"build.arrivals.own-{k + 1}.ordered_as", words.strip("\t"))
    study = Study(p)
    text = parts_csv(study.parts_list(TODAY), p)
    rows = list(csv.DictReader(io.StringIO(text)))
    for row in rows:
        assert not any(cell[:1] in "=+@\t" for cell in row.values() if cell), row
        assert all(cell[:1] != "-" or cell[1:2].isdigit() for cell in row.values() if cell), row
    table = read_parts(text, study.part_states)
    back = {r.line: r.values["note"] for r in table.rows if r.line.startswith("own-")}
    assert [back[f"own-{k + 1}"] for k in range(len(evil))] == [w.strip("\t") for w in evil]


def test_what_is_changed_in_a_spreadsheet_comes_in_as_one_step(basalt: Project) -> None:
    p = bare(basalt)
    known = Study(p).part_states
    text = "line;item;price_each;paid;paid_in_full;paid_on;state;lead_days\ngear_set-rear;;1.234,50;1200;yes;2026-09-30;here;\n;Freight;-12,5;;;;;\n"
    table = read_parts("\ufeff" + text, known)
    assert table.problems == ()
    after = TakeParts(tuple((r.line, r.item, r.values) for r in table.rows)).apply(p)
    price = next(x for x in after.swap.prices if x.id == "gear_set-rear")
    assert (price.amount, price.paid, price.settled, price.paid_on) == (1234.5, 1200.0, True, "2026-09-30")
    assert after.build.part("gear_set-rear").state == "here"  # type: ignore[union-attr]
    assert [(o.title, o.amount) for o in after.swap.own_costs] == [("Freight", -12.5)]
    assert money(listed(after), "gear_set-rear") == (1200.0, "paid")


@pytest.mark.parametrize(
    ("row", "says"),
    [
        ("shave-rear,x,,,", "nothing asks for “shave-rear”"),
        ("gear_set-rear,,12.345,,", "money is written as 1234.50"),
        ("gear_set-rear,,1.234,,", "money is written as 1234.50"),
        ("gear_set-rear,,-5,,", "only a line of your own may be a credit"),
        ("gear_set-rear,,,shipped,", "accepted are needed, ordered"),
        ("gear_set-rear,,,,2026-02-30", "a day as 2026-05-04"),
        ("gear_set-rear,,,,30.2.2026", "a day as 2026-05-04"),
        (",,,,", ""),
    ],
)
def test_a_bad_row_is_told_and_the_others_kept(basalt: Project, row: str, says: str) -> None:
    text = f"line,item,price_each,state,likely\n{row}\ndriveshaft-rear,,90,ordered,2026-10-01\n"
    table = read_parts(text, Study(bare(basalt)).part_states)
    assert [r.line for r in table.rows] == ["driveshaft-rear"]
    assert (len(table.problems), all(says in x and x.startswith("Line 2: ") for x in table.problems)) == (
        bool(says),
        True,
    )


def test_a_line_twice_and_what_is_no_parts_list() -> None:
    table = read_parts("line,paid\na,1\na,2\n", {"a": "needed"})
    assert (len(table.rows), "stands there twice" in table.problems[0]) == (1, True)
    with pytest.raises(CatalogueError, match="no column “line”"):
        read_parts("item,paid\nx,1\n", {})
    with pytest.raises(CatalogueError, match="cannot be read") as found:
        read_parts('line,paid\n"a,1\n', {"a": "needed"})
    assert found.value.code == "C117"
    assert COLUMNS[0] == "line"


def test_shopping_is_what_nobody_has_ordered_the_first_to_order_first(basalt: Project) -> None:
    found = listed(basalt)
    todo = shopping(found)
    assert {x.key for x in todo} == {x.key for x in found.lines if x.state in ("needed", "wrong") and x.wanted.basis != "free" and x.wanted.kind != "work"}  # fmt: skip
    days = [x.order_by or x.needed for x in todo]
    known = [d for d in days if d is not None]
    assert known == sorted(known)
    assert days[: len(known)] == known


def test_without_a_rig_the_list_says_what_it_waits_for(basalt: Project) -> None:
    empty = Project(
        name="New",
        rig=msgspec.structs.replace(basalt.rig),
        swap=Swap(own_costs=(OwnCost(id="own-1", title="Trailer", amount=60.0),)),
    )
    found = listed(empty)
    assert [x.key for x in found.lines] == ["own-1"]
    words = list(list_words(found, empty.build, ""))
    assert found.total == 60.0
    assert found.waits == () or any("until the rig has" in w for w in words)
    nothing = listed(Project(name="New", rig=basalt.rig))
    assert next(list_words(nothing, BuildPlan(), "")).startswith("No part yet: choose an axle")


def test_wrong_days_are_refused_in_one_sentence(basalt: Project) -> None:
    from stoutlink.core.editing.edits import SetChoice  # noqa: PLC0415

    for path, value, says in (
        ("build.arrivals.gear_set-rear.likely", "2026-02-30", "on no calendar"),
        ("prices.gear_set-rear.paid_on", "2026-02-30", "on no calendar"),
        ("build.arrivals.driveshaft-rear.latest", "2026-10-01", "lies before"),
        ("build.arrivals.gear_set-rear.ordered", "2026-12-01", "lies before"),
    ):
        with pytest.raises(StoutError, match=says) as found:
            SetChoice(path, value, "day").apply(basalt)
        assert len(found.value.sentence) < 200


def test_json_has_what_the_list_shows(basalt: Project) -> None:
    found = listed(basalt)
    data = parts_json(found, "cr")
    assert data["total"] == found.total
    assert [x["line"] for x in data["lines"]] == [x.key for x in found.lines]
    assert sum(cents(x["amount"] or 0.0) for x in data["lines"]) == cents(data["total"])
    unlike = [x["line"] for x in data["lines"] if x["unlike"]]
    assert unlike == ["gear_kit-rear"]

"""The line protocol, averaging, and the stand-ins over a real pseudo-terminal."""

from __future__ import annotations

import functools
import math
import operator
import random
import select
from collections.abc import Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stoutlink.core.instruments.averaging import WINDOW, Averager, Taken
from stoutlink.core.instruments.port import Port
from stoutlink.core.instruments.protocol import (
    Answer,
    Identity,
    InstrumentError,
    Lines,
    Message,
    Sample,
    line_of,
    parse_line,
    reading_line,
)
from stoutlink.core.instruments.stand_in import StandIn


def test_the_check_is_an_exclusive_or() -> None:
    """The usual check of instrument lines: exclusive-or of all bytes before the star."""
    body, _, check = reading_line(Sample("FL", 512.4, "kg", "steady")).decode().strip().rpartition("*")
    assert int(check, 16) == functools.reduce(operator.xor, body.encode())


@given(
    st.sampled_from(["FL", "A"]),
    st.floats(-5000, 5000),
    st.sampled_from(["kg", "deg"]),
    st.sampled_from(["steady", "moving", "over"]),
)
def test_readings_survive_the_line(channel: str, value: float, unit: str, flag: str) -> None:
    back = parse_line(reading_line(Sample(channel, value, unit, flag)))  # type: ignore[arg-type]
    assert isinstance(back, Sample)
    assert back.value == pytest.approx(value, abs=5.1e-4)
    assert (back.channel, back.unit, back.flag) == (channel, unit, flag)


@pytest.mark.parametrize(
    "line",
    [
        b"",
        b"R FL 1.0 kg S",
        b"R FL 1.0 kg S*00",
        b"\xff\xfe*12",
        line_of("R FL nan kg S"),
        line_of("R FL 1.0 lb S"),
        line_of("HELLO"),
    ],
)
def test_garbage_is_refused(line: bytes) -> None:
    with pytest.raises(InstrumentError):
        parse_line(line)


def test_lines_are_put_together_and_endless_ones_thrown_away() -> None:
    lines = Lines()
    whole = line_of("K")
    assert lines.feed(whole[:2]) == []
    assert lines.feed(whole[2:] + b"\r\n" + whole) == [whole.strip(), whole.strip()]
    assert lines.feed(b"x" * 5000) == []
    assert lines.feed(b"\n" + whole) == [whole.strip()]
    assert parse_line(line_of("E no")) == Answer(False, "no")


def _feed(values: list[float], unit: str = "kg") -> Taken | None:
    averager = Averager("A")
    for v in values:
        got = averager.add(Sample("A", v, unit, "steady"))  # type: ignore[arg-type]
        if got is not None:
            return got
    return None


def test_a_steady_load_is_averaged_and_a_drifting_one_waits() -> None:
    rng = random.Random(3)
    got = _feed([400 + rng.gauss(0, 0.25) for _ in range(200)])
    assert got is not None
    assert got.count == WINDOW
    assert got.mean == pytest.approx(400, abs=4 * 0.25 / math.sqrt(WINDOW))
    assert got.sigma == pytest.approx(got.spread / math.sqrt(WINDOW))
    assert _feed([400 + 0.2 * i + rng.gauss(0, 0.1) for i in range(60)]) is None
    assert _feed([400 + rng.gauss(0, 5) for _ in range(300)]) is None
    settling = [
        500 * (1 - math.exp(-i / 25)) + rng.gauss(0, 0.25) for i in range(400)
    ]  # a load that creeps to its place
    crept = _feed(settling)
    assert crept is not None
    assert crept.mean == pytest.approx(500, abs=0.6)
    degrees = _feed([12.0 + rng.gauss(0, 0.02) for _ in range(200)], "deg")
    assert degrees is not None
    assert degrees.mean == pytest.approx(math.radians(12.0), abs=math.radians(0.03))


def test_over_the_range_starts_over_and_other_channels_pass_by() -> None:
    averager = Averager("FL")
    for _ in range(2 * WINDOW - 1):
        averager.add(Sample("FL", 1.0, "kg", "steady"))
    assert averager.add(Sample("FR", 1.0, "kg", "steady")) is None
    averager.add(Sample("FL", 9999.0, "kg", "over"))
    assert averager.progress == 0.0


@pytest.fixture
def scales() -> Iterator[StandIn]:
    made = StandIn("scales", rate=100.0, seed=5)
    made.plug_in()
    yield made
    made.unplug()


def collect(device: StandIn, port: Port, wanted: type, most: int = 4000) -> list[Message]:
    """Messages up to and with the first of a type, the device given time in between."""
    out: list[Message] = []
    for _ in range(most):
        device.tick()
        ready, _, _ = select.select([port], [], [], 0.005)
        if ready:
            out += port.read()
        if any(isinstance(m, wanted) for m in out):
            return out
    raise AssertionError(wanted)


def test_four_scales_over_a_pseudo_terminal(scales: StandIn) -> None:
    port = Port(scales.path, 9600)
    port.say("?")
    who = next(m for m in collect(scales, port, Identity) if isinstance(m, Identity))
    assert who.kind == "scales"
    loads = {"FL": 501.0, "FR": 489.0, "RL": 470.0, "RR": 466.0}
    scales.put(loads)
    averagers = {c: Averager(c) for c in loads}
    taken: dict[str, Taken] = {}
    while len(taken) < 4:
        for m in collect(scales, port, Sample):
            if isinstance(m, Sample) and m.channel not in taken and (got := averagers[m.channel].add(m)) is not None:
                taken[m.channel] = got
    for channel, load in loads.items():
        assert taken[channel].mean == pytest.approx(load, rel=0.008), channel
    port.say("Z FL")
    assert any(m == Answer(True) for m in collect(scales, port, Answer))
    again = Averager("FL")
    zeroed: Taken | None = None
    while zeroed is None:
        zeroed = next(
            (got for m in collect(scales, port, Sample) if isinstance(m, Sample) and (got := again.add(m)) is not None),
            None,
        )
    assert abs(zeroed.mean) < 2.0
    port.say("DANCE")
    assert any(isinstance(m, Answer) and not m.done for m in collect(scales, port, Answer))
    port.close()


def test_a_pulled_plug_is_noticed(scales: StandIn) -> None:
    port = Port(scales.path)
    collect(scales, port, Sample)
    scales.unplug()

    def read_on() -> None:
        for _ in range(50):
            select.select([port], [], [], 0.5)
            port.read()

    with pytest.raises(InstrumentError, match="lost"):
        read_on()
    port.close()
    with pytest.raises(InstrumentError, match="no such device"):
        Port("/dev/there-is-none")


def test_drift_walks_and_noise_stays() -> None:
    """Noise and drift by their own statistics, without a clock."""
    made = StandIn("angle", seed=9)
    made.put({"A": 5.0})
    first = [made.sample("A", 0.5).value for _ in range(60)][20:]
    assert sum(first) / len(first) == pytest.approx(5.0, abs=0.02)
    assert 0.01 < math.sqrt(sum((v - 5.0) ** 2 for v in first) / len(first)) < 0.04
    ends = []
    for seed in range(12):
        one = StandIn("angle", seed=seed)
        for _ in range(20):
            last = one.sample("A", 1e4).value  # 200 000 s in all: the walk has σ 0.0004·√200000 = 0.18°
        ends.append(last)
    assert 0.09 < math.sqrt(sum(v * v for v in ends) / 12) < 0.30


@pytest.mark.parametrize(
    ("kind", "channel", "value", "si", "fine"),
    [
        ("caliper", "C", 28.62, 28.62e-3, 2e-5),
        ("indicator", "D", 0.183, 0.183e-3, 4e-6),
        ("feeler", "F", 0.254, 0.254e-3, 1.5e-5),
        ("wrench", "T", 94.0, 94.0, 0.5),
        ("gauge", "P", 12.0, 12e3, 2e3),
    ],
)
def test_every_bench_instrument_settles_on_what_it_measures(kind: str, channel: str, value: float, si: float, fine: float) -> None:  # fmt: skip
    """Read over its own protocol until steady: noise averaged, the change of its reading never taken for steady."""
    made = StandIn(kind, seed=4)
    made.put({channel: value})
    averager = Averager(channel)
    for k in range(400):
        back = parse_line(reading_line(made.sample(channel, 1 / 12)))
        assert isinstance(back, Sample)
        got = averager.add(back)
        if got is not None:
            assert k > 20, "it was still settling"
            assert got.mean == pytest.approx(si, abs=fine)
            return
    pytest.fail("it never came to rest")


def test_an_indicator_that_is_still_being_moved_is_not_steady() -> None:
    """A caliper would call a creep of 0.02 mm over the window steady; an indicator does not."""
    averager = Averager("D")
    for k in range(200):
        assert averager.add(Sample("D", 0.1 + 0.0015 * k, "mm", "steady")) is None


@pytest.mark.parametrize(("kind", "channel", "most"), [("wrench", "T", 900.0), ("gauge", "P", 30000.0), ("feeler", "F", 4.0), ("indicator", "D", 20.0)])  # fmt: skip
def test_off_its_scale_nothing_is_taken(kind: str, channel: str, most: float) -> None:
    made = StandIn(kind, seed=4)
    made.put({channel: most})
    averager = Averager(channel)
    samples = [made.sample(channel, 1 / 12) for _ in range(100)]
    assert samples[-1].flag == "over"
    assert all(averager.add(s) is None for s in samples[-60:])

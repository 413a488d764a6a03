"""Instruments that stop, garble, answer as another kind or in another unit, or are held by somebody else."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel
from pytestqt.qtbot import QtBot

from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.editing.edits import TakeFromList
from stoutlink.core.instruments.port import Port
from stoutlink.core.instruments.protocol import InstrumentError, line_of
from stoutlink.core.instruments.stand_in import StandIn

FIELD = "field_rig.weight.scales.rear_left_kg"


class Mad(StandIn):
    """A stand-in that says what it is told to."""

    lines: tuple[bytes, ...] = ()

    def tick(self) -> None:
        for line in self.lines:
            self._send(line)


@pytest.fixture
def desk(window: MainWindow) -> Iterator[InstrumentDesk]:
    """The window's instruments on the weight look."""
    window.show_step("rig")
    window.sheet(RigSheet).look("weight")
    yield window.instruments
    window.instruments.close()


def connected(desk: InstrumentDesk, kind: str, *lines: bytes) -> Mad:
    """A mad instrument plugged in where one of this kind is wanted."""
    assert desk.connect_to(kind, "simulated")
    made = Mad(kind)
    made.lines = lines
    line = desk.lines[kind]
    assert line.stand_in is not None
    made._master, made._slave = line.stand_in._master, line.stand_in._slave
    line.stand_in = made
    return made


def said(window: MainWindow) -> str:
    """The message."""
    return window._said.toolTip()


def live(window: MainWindow, kind: str = "scales") -> str:
    """What the bar shows of an instrument."""
    return max((label.text() for label in window.findChildren(QLabel, f"live_{kind}")), key=len)


def test_a_reading_that_is_not_renewed_is_not_shown(qtbot: QtBot, window: MainWindow, desk: InstrumentDesk) -> None:
    made = connected(desk, "scales", line_of("R FL 512.400 kg S"), line_of("R FR 500.000 kg S"))
    qtbot.waitUntil(lambda: set(desk.lines["scales"].values) == {"FL", "FR"}, timeout=5000)
    assert "●FL 1130" in live(window)  # 512.4 kg in lb
    desk.patience_ms = 50
    made.lines = (line_of("R FR 500.000 kg S"),)
    desk._ages.setInterval(20)
    qtbot.waitUntil(lambda: set(desk.lines["scales"].values) == {"FR"}, timeout=5000)
    assert "FL" not in live(window)
    made.lines = ()
    qtbot.waitUntil(lambda: desk.lines["scales"].values == {}, timeout=5000)
    assert live(window).endswith("silent")
    made.lines = (b"R FL 5\xff2.4 kg S*00\n",)
    qtbot.waitUntil(lambda: live(window).endswith("garbled"), timeout=5000)
    made.lines = (line_of("R FL 512.400 kg S"),)
    qtbot.waitUntil(lambda: "●FL 1130" in live(window), timeout=5000)


def test_degrees_never_become_kilograms(qtbot: QtBot, window: MainWindow, desk: InstrumentDesk) -> None:
    """I103: scales that send degrees are put off the line, and the field keeps what it had."""
    before = window.workspace.project
    connected(desk, "scales", line_of("R RL 34.900 deg S"))
    with qtbot.waitSignal(desk.lost, timeout=5000):
        desk.take("rig.weight.scales.rear_left_kg", ("RL",))
    assert window.workspace.project is before
    assert "They sent 34.9 deg, where kg is read" in said(window)
    assert "scales" not in desk.lines


def test_the_wrong_instrument_is_not_accepted(qtbot: QtBot, window: MainWindow, desk: InstrumentDesk) -> None:
    """I104."""
    with qtbot.waitSignal(desk.lost, timeout=5000):
        connected(desk, "scales", line_of("I angle digital level"))
    assert "“digital level”, which is another kind of instrument" in said(window)
    assert "scales" not in desk.lines


def test_garbled_is_called_garbled(qtbot: QtBot, window: MainWindow, desk: InstrumentDesk) -> None:
    """I105, not that it went silent."""
    connected(desk, "scales", b"R RL 34.900 kg S*00\n", b"\xfe\xff\n")
    desk.patience_ms = 200
    one = window.findChild(QuantityField, FIELD)
    assert one is not None
    with qtbot.waitSignal(desk.lost, timeout=5000):
        qtbot.keyClick(one, Qt.Key.Key_Space)
    assert "What the scales send is garbled" in said(window)
    assert "silent" not in said(window)


def test_thousands_of_channels_are_passed_over(qtbot: QtBot, window: MainWindow, desk: InstrumentDesk) -> None:
    made = connected(desk, "scales", *(line_of(f"R C{n} 1.000 kg S") for n in range(300)))
    made.lines = (*made.lines[:60], line_of("R FL 512.400 kg S"))
    qtbot.waitUntil(lambda: "FL" in desk.lines["scales"].values, timeout=5000)
    assert set(desk.lines["scales"].values) == {"FL"}


def test_what_the_reading_was_for_is_gone(qtbot: QtBot, window: MainWindow, desk: InstrumentDesk) -> None:
    """An item is removed while its reading is being taken."""
    item = window.workspace.project.rig.weight.items[0]
    connected(desk, "scales", *[line_of("R FL 512.400 kg S")] * 4)
    desk.take(f"rig.weight.items.{item.id}.mass_kg", ("FL",))
    window.workspace.do(TakeFromList("rig.weight.items", (item.id,), "Remove it"))
    before = window.workspace.project
    qtbot.waitUntil(lambda: desk.taking is None, timeout=5000)
    assert window.workspace.project is before
    assert "is gone" in said(window)


def test_two_windows_do_not_share_a_device() -> None:
    """I110: whoever comes second is told that somebody has it."""
    made = StandIn("scales")
    path = made.plug_in()
    first = Port(path)
    with pytest.raises(InstrumentError, match="another window or program has it") as told:
        Port(path)
    assert told.value.code == "I110"
    first.close()
    Port(path).close()
    made.unplug()

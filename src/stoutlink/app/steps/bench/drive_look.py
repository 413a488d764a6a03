"""First drive: gates to sign on the left, everything left undone on the right; a gate is passed by a reason with a name."""

from __future__ import annotations

import datetime
from functools import partial

import msgspec
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.bench_words import CAUTION, drive_words, gate_stands, gate_words
from stoutlink.core.analysis.bench.first_drive import DriveSheet, Gate
from stoutlink.core.document.bench import ASSEMBLIES, ASSEMBLY_WORDS, LOOSE_WORDS, DriveGate, LooseEnd
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.bench_edits import SignGate
from stoutlink.core.editing.edits import PutInList, SetChoice

GROUPS = (
    ("drive", "Drive", "Who signs, how far it was driven, when bolts are torqued again."),
    ("loose", "Left undone", "What was taken loose, tacked, or only put together to be opened again."),
)
MARKS = {"shut": "·", "to sign": "○", "signed": "✓", "let through": "!", "lapsed": "▲"}


class DriveLook(WorkingLook):
    """Gates and register of the whole rig."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(
            workspace, "bench_drive", "First drive", GROUPS, "Gates and what is left undone", parent, wide=130
        )
        self.sign = self.large("sign_gate", "Sign it", "It holds, and you have seen it.", self._sign)
        self.through = self.large("let_through", "Let it through…", "It does not hold, and it is driven all the same: with a reason and a name.", self._through)  # fmt: skip
        self.back = self.large("take_signature", "Take back", "Take the signature of this gate back.", self._back)
        self.release = self.large("release", "Release for driving", "Every gate is signed or let through.", self._release)  # fmt: skip
        self.close_ = self.large("close_loose", "It is done", "What was left undone is finished.", self._close)
        self.top.addStretch(1)
        self.add = self.small("add_loose", "Add something left undone", "Loose, tacked, temporary, reserved, by feel.", self._add)  # fmt: skip
        self.foot.addStretch(1)
        self.gate, self.loose = "", ""

    @property
    def sheet(self) -> DriveSheet:
        """The first-drive sheet."""
        return self.workspace.study.drive_sheet

    @property
    def picked(self) -> Gate | None:
        """The gate picked."""
        return self.sheet.gate(self.gate)

    def prepare(self) -> None:
        sheet, gate = self.sheet, self.picked
        end = next((e for e in self.workspace.project.bench.loose_ends if e.id == self.loose), None)
        self.sign.setVisible(gate is not None and gate.standing in ("to sign", "lapsed"))
        self.sign.setEnabled(gate is not None and gate.holds)
        self.through.setVisible(gate is not None and gate.standing in ("shut", "lapsed"))
        self.back.setVisible(gate is not None and gate.signed is not None)
        released = self.workspace.project.bench.first_drive.released
        self.release.setVisible(sheet.may and not released)
        self.close_.setVisible(end is not None and not end.closed and gate is None)
        words = list(drive_words(sheet, self.workspace.unit))
        now = f"Released on {released}." if released and sheet.may else words[0]
        self.show_frame(now, gate_words(gate) if gate is not None else "Pick a gate to sign it.")

    def entries(self) -> list[Entry]:
        """Who signs and how far; or the loose end picked."""
        if self.group == "drive":
            at = "first_drive"
            gate = [Entry(f"{at}.gates.{self.gate}.read", "what was read", "text")] if self.picked is not None and self.picked.signed is not None else []  # fmt: skip
            return [Entry(f"{at}.driver", "who signs", "text"), Entry(f"{at}.again_m", "first re-torque after"), Entry(f"{at}.driven_m", "driven"), *gate]  # fmt: skip
        ends = self.workspace.project.bench.loose_ends
        if all(e.id != self.loose for e in ends):
            self.loose = ends[-1].id if ends else ""
        if not self.loose:
            return []
        at = f"loose_ends.{self.loose}"
        return [
            Entry(f"{at}.name", "what", "text"),
            Entry(f"{at}.kind", "how", "choice", tuple(LOOSE_WORDS.items())),
            Entry(f"{at}.assembly", "belongs to", "choice", tuple((a, ASSEMBLY_WORDS[a]) for a in ASSEMBLIES)),
            Entry(f"{at}.why", "why", "text"),
        ]

    def pick(self, gate: str) -> None:
        """Work on a gate."""
        self.gate, self.group = gate, "drive"
        self.show_group("drive")

    def pick_loose(self, key: str) -> None:
        """Work on a loose end."""
        self.gate, self.loose = "", key
        self.show_group("loose")

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        if parts[0] == "loose_ends":
            self.loose = parts[1] if len(parts) > 1 else self.loose
            self.show_group("loose")
            return
        if len(parts) > 2 and parts[1] == "gates":
            self.gate = parts[2]
        self.show_group("drive")

    def _who(self) -> str:
        """Who signs; asked for once, and kept."""
        who = self.workspace.project.bench.first_drive.driver
        if who:
            return who
        given = dialogs.ask_text(self, "Who signs", "Name of who signs:")
        if given is None or not given.strip():
            self.workspace.said.emit("Nobody signed: a gate wants a name.", True)
            return ""
        self.workspace.do(SetChoice("first_drive.driver", given.strip()[:60], "who signs"))
        return given.strip()[:60]

    def _sign(self) -> None:
        gate, who = self.picked, self._who()
        if gate is not None and who:
            self.workspace.do(SignGate(DriveGate(id=gate.key, by=who, when=_today())))

    def _through(self) -> None:
        gate = self.picked
        if gate is None:
            return
        reason = dialogs.ask_text(self, "Let it through", f"{gate.title} does not hold. Why is it driven all the same?")
        if reason is None or not reason.strip():
            self.workspace.said.emit("It stays shut: a gate is let through by a reason only.", True)
            return
        who = self._who()
        if who:
            self.workspace.do(SignGate(DriveGate(id=gate.key, by=who, when=_today(), reason=reason.strip()[:400])))

    def _back(self) -> None:
        gate = self.picked
        if gate is not None:
            self.workspace.do(SignGate(DriveGate(id=gate.key)))

    def _release(self) -> None:
        if self.sheet.may:
            self.workspace.do(SetChoice("first_drive.released", _today(), "release for driving"))

    def _add(self) -> None:
        new = free_id("loose-", (e.id for e in self.workspace.project.bench.loose_ends))
        end = "front" if self.workspace.end == "front" else "rear"
        if self.workspace.do(PutInList("loose_ends", LooseEnd(id=new, name="Something", assembly=end, when=_today()), "Leave something undone")):  # type: ignore[arg-type]  # fmt: skip
            self.pick_loose(new)

    def _close(self) -> None:
        end = next((e for e in self.workspace.project.bench.loose_ends if e.id == self.loose), None)
        if end is not None:
            who = next((c.who for c in self.workspace.project.bench.cards if c.id == end.assembly and c.who), "")
            new = msgspec.structs.replace(end, closed=_today(), closed_by=who)
            self.workspace.do(PutInList("loose_ends", new, "Finish what was left undone"))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Gates left, register right."""
        w, y, sheet = float(picture.width()), 4.0, self.sheet
        half = 0.56 * w
        text(p, QRectF(14, y, half, 20), "Before it is driven", t.text, size=11, bold=True)
        y += 24
        for gate in sheet.gates:
            box = QRectF(12, y, half - 20, 40)
            if gate.key == self.gate:
                p.setPen(QPen(t.dye, 2))
                p.setBrush(t.raised)
                p.drawRoundedRect(box, 3, 3)
            colour = _colour(gate, t)
            text(p, QRectF(18, y, 22, 22), MARKS[gate.standing], colour, size=12, bold=True)
            text(p, QRectF(42, y, half - 70, 22), gate.title, t.text if gate.open else t.quiet, size=10.5, elide=True)
            text(p, QRectF(42, y + 20, half - 70, 18), gate_stands(gate), colour, size=8.5, elide=True)  # fmt: skip
            picture.hits.append(Hit(box, f"{gate_words(gate)}. Click to sign it.", partial(self.pick, gate.key), f"gate {gate.key}"))  # fmt: skip
            y += 42
        end = y
        y = 4.0
        open_ = self.workspace.study.undone
        text(p, QRectF(half, y, w - half - 10, 20), f"Left undone: {len(open_)}", t.text, size=11, bold=True)
        y += 24
        if not open_:
            y += flow(p, QRectF(half, y, w - half - 14, 40), "Nothing is known to be open.", t.quiet, size=9.5) + 4
        for one in open_:
            words = f"{ASSEMBLY_WORDS[one.assembly]}: {one.words}" + (f" ({one.why})" if one.why else "")
            box = QRectF(half - 4, y, w - half - 8, 32)
            if one.source == "own" and one.key == self.loose and self.group == "loose":
                p.setPen(QPen(t.dye, 2))
                p.drawRoundedRect(box, 3, 3)
            high = flow(p, QRectF(half, y + 2, w - half - 16, 46), words, t.torch, size=9.5)
            act = partial(self.pick_loose, one.key) if one.source == "own" else None
            picture.hits.append(Hit(box, words, act, f"undone {one.key}"))
            y += max(high + 6, 24)
        y = max(y, end)
        y += flow(p, QRectF(14, y + 4, w - 28, 60), CAUTION, t.quiet, size=8.5) + 10
        self.tall(y)

    def as_text(self) -> str:
        open_ = [f"{ASSEMBLY_WORDS[u.assembly]}: {u.words}" for u in self.workspace.study.undone]
        lines = [*drive_words(self.sheet, self.workspace.unit), f"Left undone: {len(open_)}.", *open_, CAUTION]
        return "\n".join(lines)


def _colour(gate: Gate, t: Theme) -> QColor:
    return {"shut": t.quiet, "to sign": t.dye, "signed": t.zinc, "let through": t.torch, "lapsed": t.oxide}[
        gate.standing
    ]


def _today() -> str:
    return datetime.date.today().isoformat()

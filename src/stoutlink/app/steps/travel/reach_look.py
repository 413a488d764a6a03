"""Lines: hoses, cables and wires between frame and axle, how far their ends come apart, and how long they must be."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.travel.line_look import LineLook, LookLine
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.advice.pose_words import pose_words
from stoutlink.core.analysis.cycle.line_proposal import line_for
from stoutlink.core.analysis.cycle.reach import LineReach, placed_lines
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.edits import PutInList, TakeFromList

ON = (("axle", "axle"), ("left_knuckle", "left knuckle"), ("right_knuckle", "right knuckle"))
AXES = ("station", "side", "height")


class ReachLook(LineLook):
    """Lines above, the one picked in fields below."""

    caution = "A brake hose pulled tight tears off, one too long is caught by the tyre: hang it by hand at full bump, full droop and both locks before the first drive. Hoses, fittings and flares as your local code asks."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "lines", "Lines that must reach", parent)
        self.picked = ""
        self.add_button(
            "add_line",
            "+ Line",
            "A hose, cable, wire or breather from the frame to the axle; its ends are a usual place until you type yours.",
            self._add,
        )
        self.take = self.add_button("take_line", "Take it away", "The line picked leaves.", self._take)
        self.buttons.addStretch(1)

    def _add(self) -> None:
        layout = self.layout_shown
        if layout is None:
            return
        name = free_id("line-", (one.id for one in layout.lines))
        line = line_for(self.workspace.project, self.workspace.rig, layout, name)
        at = f"layouts.{layout.id}.lines"
        self.picked = name
        self.workspace.do(
            PutInList(at, line, "Add a line", guessed=tuple(f"{k}.{i}" for k in ("frame_m", "far_m") for i in range(3)))
        )

    def _take(self) -> None:
        layout = self.layout_shown
        if layout is not None and self._line() is not None:
            self.workspace.do(TakeFromList(f"layouts.{layout.id}.lines", (self._line() or "",), "Take a line away"))

    def _line(self) -> str | None:
        """The line in the fields: the one picked, else the first."""
        layout = self.layout_shown
        known = () if layout is None else tuple(one.id for one in layout.lines)
        return self.picked if self.picked in known else known[0] if known else None

    def pick(self, name: str) -> None:
        """Put a line into the fields."""
        self.picked = name
        self._filled = None
        if self.theme is not None:
            self.prepare()

    def entries(self) -> tuple[Entry, ...]:
        layout, name = self.layout_shown, self._line()
        self.take.setVisible(name is not None)
        if layout is None or name is None:
            return ()
        at = f"layouts.{layout.id}.lines.{name}"
        on = ON if layout.end == "front" else ON[:1]
        return (
            Entry(f"{at}.name", "name", "text"),
            Entry(f"{at}.rides_on", "far end on", "choice", on),
            *(Entry(f"{at}.frame_m.{i}", f"frame {word}") for i, word in enumerate(AXES)),
            *(Entry(f"{at}.far_m.{i}", f"far {word}") for i, word in enumerate(AXES)),
            Entry(f"{at}.slack_m", "slack"),
            Entry(f"{at}.own_m", "length at hand"),
        )

    def lines(self) -> list[LookLine]:
        travel, layout = self.shown.travel, self.layout_shown
        if travel is None or layout is None or not layout.lines:
            return [
                LookLine(
                    "No line yet. + Line puts in a brake hose, cable, breather or wire; its two ends are then placed, and the longest and shortest way between them over heave, roll and steer stands here."
                )
            ]
        out: list[LookLine] = []
        known = {one.line.id: one for one in travel.lines}
        placed = {one.id for one in placed_lines(self.workspace.project, layout)}
        for line in layout.lines:
            if line.id in known:
                out += self._of(known[line.id])
                continue
            why = "no pose within the stops is reached" if line.id in placed else "type where both ends are"
            words = f"{line.name}: {why}; until then nothing is said of it."
            act = partial(self.pick, line.id)
            out.append(LookLine(words, tip="A click puts it into the fields.", act=act, name=f"line {line.id}"))
        return out

    def _of(self, one: LineReach) -> list[LookLine]:
        unit, line = self.workspace.unit, one.line
        picked = partial(self.pick, line.id)
        name = f"line {line.id}"
        spare = one.spare
        out = [
            LookLine(
                line.name,
                f"{self.say(one.needed, 'length')} needed",
                "The longest way between its ends within the stops, and the slack asked for; a click puts it into the fields.",
                spare is not None and spare < line.slack_m,
                act=picked,
                name=name,
                strong=line.id == self._line(),
            )
        ]
        if spare is not None:
            short = spare < 0
            words = f"{self.say(abs(spare), 'length')} {'too short' if short else 'spare'}"
            out.append(LookLine("  at hand", words, "What yours is longer than the longest way.", spare < line.slack_m))
        for word, found in (("longest", one.longest), ("shortest", one.shortest)):
            where = pose_words(found.heave, found.roll, found.steer, unit)
            out.append(
                LookLine(f"  {word}", f"{self.say(found.length, 'length')} {where}", "Between both ends.", left=0.16)
            )
        out.append(
            LookLine("  hangs at the shortest", self.say(one.hangs, "length"), "Slack that must not reach the tyre.")
        )
        return out

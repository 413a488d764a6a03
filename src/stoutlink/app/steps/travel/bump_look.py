"""Bump sheet: what to measure with the springs out, at ride, at both stops and crossed."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.travel.line_look import LineLook, LookLine
from stoutlink.core.reports.bump_sheet import bump_words


class BumpLook(LineLook):
    """``sheet`` asks for the sheet as a file."""

    sheet = pyqtSignal()
    caution = "Springs out: axle on stands and chained, rig on stands of its own, nobody under it while it moves."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "bump_sheet", "Full-bump sheet", parent)
        self.write = self.add_button(
            "write_bump_sheet",
            "Full-bump sheet…",
            "A table with every distance at ride, full bump, full droop and crossed, and room for what is measured.",
            self.sheet.emit,
        )
        self.buttons.addStretch(1)

    def lines(self) -> list[LookLine]:
        travel = self.shown.travel
        if travel is None:
            return []
        project = self.workspace.project
        sheet = self.workspace.study.bump_sheet(travel)
        heads = [word for word, _, _ in sheet.poses]
        out = [
            LookLine("To measure", ", ".join(heads[:3]), "The sheet has the crossed poses too.", strong=True, left=0.42)
        ]
        for one in sheet.rows:
            values = bump_words(project, one)
            poses = "; ".join(f"{w} {v}" for w, v in zip(heads, values, strict=True))
            out.append(LookLine(one.words, ", ".join(values[:3]), f"{one.how} {poses}.", left=0.42))
        return out

    def as_text(self) -> str:
        travel = self.shown.travel
        if travel is None:
            return ""
        sheet = self.workspace.study.bump_sheet(travel)
        rows = [["", *(word for word, _, _ in sheet.poses)]]
        rows += [[one.words, *bump_words(self.workspace.project, one)] for one in sheet.rows]
        return "\n".join("\t".join(row) for row in rows)

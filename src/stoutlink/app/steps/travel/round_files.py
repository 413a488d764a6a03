"""The rig in the round as a file for CAD, and the travel as a film: both made beside the window, with progress and a stop."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from stoutlink.app.desk.background import ASKED, Progress
from stoutlink.app.steps.step import Shell
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.core.drawing.assembly import Assembly, at_ride
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.film import MOTIONS, Motion, frames_of, gif_bytes, hill_frames, png_zip
from stoutlink.core.reports.model_files import model_bytes

Film = tuple[bytes, bytes] | str
"""A film and its single pictures, or why there is none."""
FORMATS = {"STL": ".stl", "glTF": ".glb", "DXF": ".dxf"}
SHORT: dict[str, Motion] = {"Travel": "travel", "Heave": "heave", "Roll": "roll", "Steer": "steer"}
SIZE = (720, 480)
NOTHING = "Nothing stands in the round yet: enter the rig and choose axles."
HILL = "Test hill"
NO_TRAVEL = "There is no travel to film yet: lay out the axle, and cycle it in Travel."


def _make(
    shell: Shell, sheet: TravelSheet, what: str, work: Callable[[Progress], Any], done: Callable[[Any], None]
) -> None:
    """Make something beside the window; the button over the drawing says how far it is and stops it."""
    making = sheet.making

    def end() -> None:
        sheet.desk.busy("", None)

    def finished(found: object) -> None:
        end()
        done(found)

    def failed(why: StoutError) -> None:
        end()
        shell.say(f"{what} cannot be made: {why.words}", True)

    def halt() -> None:
        making.drop()
        end()
        shell.say(f"{what} was not made.")

    making.priority = ASKED
    sheet.desk.busy(what, halt)
    making.start(work, finished, lambda part: sheet.desk.moved(part), failed)


def export_model(shell: Shell) -> None:
    """Rig, axles, links, parts and welds at the pose that Travel shows, as bodies in millimetres."""
    study, sheet = shell.workspace.study, shell.sheet(TravelSheet)
    shown = sheet.posed()
    others = [p for p in at_ride(study) if shown is None or p.grid.layout.end != shown.grid.layout.end]
    posed = others if shown is None else [shown, *others]
    if not posed:
        shell.say(NOTHING, True)
        return
    answer = shell.ask("Model for CAD", f"Which kind of file? Everything stands {sheet.where()}.", (*FORMATS, "Cancel"))
    if answer == "Cancel":
        return
    suffix = FORMATS[answer]

    def work(going: Progress) -> bytes | None:
        groups = Assembly().groups(study, posed)
        return model_bytes(suffix, groups, posed, study.project.name) if going(0.2) else None

    def done(data: bytes) -> None:
        shell.write("Model for CAD", f"rig{suffix}", f"Models (*{suffix})", data)

    _make(shell, sheet, "The model", work, done)


def export_film(shell: Shell) -> None:
    """The travel of the axle in work from where the round view looks, as GIF or as single pictures in an archive."""
    study, sheet = shell.workspace.study, shell.sheet(TravelSheet)
    travel, eye = sheet.travel, sheet.views.round.eye
    if travel is None:
        shell.say(NO_TRAVEL, True)
        return
    motions = [word for word, key in SHORT.items() if key != "steer" or travel.grid.layout.end == "front"]
    told = "\n".join(f"{word}: {MOTIONS[SHORT[word]].partition(': ')[2]}." for word in motions)
    told += f"\n{HILL}: both axles over the hill that Log has."
    answer = shell.ask(
        "Film of the travel",
        f"What is to be seen, from where the round view looks?\n\n{told}",
        (*motions, HILL, "Cancel"),
    )
    if answer == "Cancel":
        return

    def work(going: Progress) -> Film | None:
        stopped = False

        def tell(part: float) -> bool:
            nonlocal stopped
            stopped = not going(0.85 * part)
            return not stopped

        if answer == HILL:
            found = study.hill()
            if isinstance(found, str) or not found.run.rests.any():
                return found if isinstance(found, str) else "The rig rests nowhere on this hill."
            frames = list(hill_frames(study, found, eye, SIZE, going=tell))
        else:
            frames = list(frames_of(study, [travel], SHORT[answer], eye, SIZE, going=tell))
        if stopped:
            return None
        film = gif_bytes(frames)
        made: Film = (film, png_zip(frames))
        return made if going(0.95) else None

    def done(data: Film) -> None:
        if isinstance(data, str):
            shell.say(f"The film cannot be made: {data}", True)
            return
        name = f"travel-{travel.layout.end}-{answer.lower().replace(' ', '-')}.gif"
        kinds = "Film (*.gif);;Single pictures (*.zip)"
        shell.write_as("Film of the travel", name, kinds, lambda suffix: data[1] if suffix == ".zip" else data[0])

    _make(shell, sheet, "The film", work, done)

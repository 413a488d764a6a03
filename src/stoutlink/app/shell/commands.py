"""Everything the user can do, by name: the one list behind menus, shortcuts, command box and help."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from stoutlink.app.desk.actions import Command
from stoutlink.app.steps.donors.sheet import LOOKS as DONOR_LOOKS
from stoutlink.app.steps.layout.sheet import LOOKS as LAYOUT_LOOKS
from stoutlink.app.steps.rig.sheet import LOOKS
from stoutlink.app.steps.travel.sheet import LOOKS as TRAVEL_LOOKS
from stoutlink.core.editing.edits import SetChoice

if TYPE_CHECKING:
    from stoutlink.app.shell.window import MainWindow


def command_list(window: MainWindow) -> list[Command]:
    """All commands of a window, in menu order."""
    w = window.workspace

    def step(name: str) -> Callable[[], object]:
        return lambda: window.show_step(name)

    def look(name: str) -> Callable[[], object]:
        def show() -> None:
            window.rig.look(name)
            window.show_step("rig")

        return show

    def donor_look(name: str) -> Callable[[], object]:
        def show() -> None:
            window.donors.look(name)
            window.show_step("donors")

        return show

    def layout_look(name: str) -> Callable[[], object]:
        def show() -> None:
            window.layout_sheet.look(name)
            window.show_step("layout")

        return show

    def travel_look(name: str) -> Callable[[], object]:
        def show() -> None:
            window.travel.look(name)
            window.show_step("travel")

        return show

    def heave(by: int) -> Callable[[], object]:
        return lambda: window.travel.step(by) if window.step == "travel" else window.layout_sheet.travel.step(by)

    def to_ride() -> None:
        (window.travel if window.step == "travel" else window.layout_sheet.travel).to_ride()

    def fit() -> None:
        (
            window.tape.view
            if window.step == "tape"
            else window.travel.views
            if window.step == "travel"
            else window.layout_sheet.views
        ).fit()

    return [
        Command("new", "New project", "File", "Ctrl+N", "Start from placeholders to measure over.", window.files.new),
        Command("open", "Open project…", "File", "Ctrl+O", "Open a project file.", window.files.open),
        Command(
            "open_demo",
            "Open the demo rig Basalt",
            "File",
            "",
            "The invented crawler on links.",
            lambda: window.files.open_demo("basalt"),
        ),
        Command(
            "open_tamarack",
            "Open the demo rig Tamarack",
            "File",
            "",
            "The invented pickup: front links, leaves behind.",
            lambda: window.files.open_demo("tamarack"),
        ),
        Command(
            "save",
            "Save",
            "File",
            "Ctrl+S",
            "Write the project; the previous file is kept beside it.",
            window.files.save,
        ),
        Command(
            "save_as", "Save as…", "File", "Ctrl+Shift+S", "Write the project under another name.", window.files.save_as
        ),
        Command(
            "import_donors",
            "Import donor catalogue…",
            "File",
            "",
            "Add donor axles from a CSV table.",
            window.files.import_donors,
        ),
        Command(
            "export_donors",
            "Export donor catalogue…",
            "File",
            "",
            "Write the project's donor axles as a CSV table.",
            window.files.export_donors,
        ),
        Command(
            "export_cuts",
            "Export cut list…",
            "File",
            "Ctrl+E",
            "Write the cut list of both axles as a CSV table.",
            window.files.export_cuts,
        ),
        Command(
            "import_springs",
            "Read a list of springs…",
            "File",
            "",
            "Springs on offer as a CSV table, ranked in Travel, Springs.",
            window.files.import_springs,
        ),
        Command(
            "export_shaft_sheet",
            "Sheet for the shaft shop…",
            "File",
            "",
            "Write what the driveshaft of the axle in work is to be ordered by.",
            window.files.export_shaft_sheet,
        ),
        Command(
            "export_travel",
            "Export travel table…",
            "File",
            "",
            "Write the travel of the axle in work as a CSV table.",
            window.files.export_travel,
        ),
        Command(
            "import_survey",
            "Import survey…",
            "File",
            "Ctrl+I",
            "Take in a tape survey from a CSV table.",
            window.files.import_survey,
        ),
        Command(
            "export_survey",
            "Export survey…",
            "File",
            "",
            "Write the survey in view as a CSV table.",
            window.files.export_survey,
        ),
        Command(
            "import_outline",
            "Import outline from DXF…",
            "File",
            "",
            "Take in closed outlines as something that is in the way.",
            window.files.import_outline,
        ),
        Command(
            "print",
            "Print sheet to PDF…",
            "File",
            "Ctrl+P",
            "Write the sheet in view as a page in black on white.",
            window.files.print_sheet,
        ),
        Command("quit", "Quit", "File", "Ctrl+Q", "Close the window; unsaved work is asked about.", window.close),
        Command("undo", "Undo", "Edit", "Ctrl+Z", "Take back the last change.", window.undo),
        Command("redo", "Redo", "Edit", "Ctrl+Shift+Z or Ctrl+Y", "Bring back what was undone.", window.redo),
        Command(
            "copy_numbers",
            "Copy all numbers as text",
            "Edit",
            "Ctrl+Shift+C",
            "Put the whole analysis on the clipboard.",
            window.copy_numbers,
        ),
        Command(
            "copy_cuts", "Copy cut list as text", "Edit", "", "Put the cut list on the clipboard.", window.copy_cuts
        ),
        Command(
            "copy_donors",
            "Copy the donors look as text",
            "Edit",
            "",
            "Put what the donors step shows on the clipboard.",
            window.copy_donors,
        ),
        Command(
            "copy_layout_look",
            "Copy the layout look as text",
            "Edit",
            "",
            "Put what the layout step shows on the clipboard.",
            window.copy_layout_look,
        ),
        Command(
            "copy_survey",
            "Copy survey as text",
            "Edit",
            "",
            "Put the survey in view on the clipboard.",
            window.copy_survey,
        ),
        Command("rig", "Go to Rig", "View", "Ctrl+1", "The vehicle.", step("rig")),
        Command("donors", "Go to Donors", "View", "Ctrl+2", "Candidate axles.", step("donors")),
        Command("tape", "Go to Tape", "View", "Ctrl+3", "The survey of the frame.", step("tape")),
        Command("layout", "Go to Layout", "View", "Ctrl+4", "Links in three views.", step("layout")),
        Command("travel", "Go to Travel", "View", "Ctrl+5", "Cycle an axle.", step("travel")),
        Command("cut", "Go to Cut", "View", "Ctrl+6", "The cut list.", step("cut")),
        *(Command(f"look_{key}", f"Rig: {title}", "View", "", tip, look(key)) for key, title, tip in LOOKS),
        *(
            Command(f"donors_look_{key}", f"Donors: {title}", "View", "", tip, donor_look(key))
            for key, title, tip in DONOR_LOOKS
        ),
        *(
            Command(f"layout_look_{key}", f"Layout: {title}", "View", "", tip, layout_look(key))
            for key, title, tip in LAYOUT_LOOKS
        ),
        *(
            Command(f"travel_look_{key}", f"Travel: {title}", "View", "", tip, travel_look(key))
            for key, title, tip in TRAVEL_LOOKS
        ),
        Command(
            "play",
            "Play the travel",
            "View",
            "Ctrl+Space",
            "Run through bump, droop and roll; again to hold.",
            window.travel.play.toggle,
        ),
        Command(
            "other_end",
            "Switch rear and front axle",
            "View",
            "Ctrl+B",
            "Judge and work on the other axle.",
            lambda: w.set_end("front" if w.end == "rear" else "rear"),
        ),
        Command(
            "units",
            "Switch inches and millimetres",
            "View",
            "Ctrl+U",
            "Show and read the project in the other unit.",
            window.switch_units,
        ),
        Command(
            "theme",
            "Switch dark and light",
            "View",
            "Ctrl+D",
            "Steel plate or butcher paper.",
            lambda: window.set_theme("light" if window.theme.name == "dark" else "dark"),
        ),
        Command("fit", "Fit the drawing", "View", "Ctrl+0", "Bring everything into the views.", fit),
        Command(
            "zoom_in",
            "Zoom in",
            "View",
            "Ctrl++ or Ctrl+=",
            "Draw larger.",
            lambda: window.layout_sheet.views.zoom(1.25),
        ),
        Command("zoom_out", "Zoom out", "View", "Ctrl+-", "Draw smaller.", lambda: window.layout_sheet.views.zoom(0.8)),
        Command("bump", "Step into bump", "View", "PgUp", "Move the axle up one step.", heave(5)),
        Command("droop", "Step into droop", "View", "PgDown", "Move the axle down one step.", heave(-5)),
        Command("ride", "Back to ride height", "View", "Home", "Put the axle back at ride height.", to_ride),
        *_schools(window),
        Command(
            "command_box",
            "Command box",
            "Help",
            "Ctrl+K",
            "Do anything by typing its name.",
            lambda: window.box.popup(),
        ),
        Command("keys", "Keys and gestures", "Help", "F1", "What the keys and the mouse do.", window.show_keys),
        Command("about", "About Stout Link", "Help", "", "What this is and what it is not.", window.about),
    ]


def _schools(window: MainWindow) -> list[Command]:
    """Choices where practitioners disagree, recorded in the project."""
    table = (
        ("thrust_school", "full_thrust", "Thrust: each axle as if it made all of it", "Common practice."),
        (
            "thrust_school",
            "shared_locked",
            "Thrust: shared by load, locked transfer case",
            "What both axles do together in four-wheel drive.",
        ),
        ("thrust_school", "shared_open", "Thrust: half each, open centre", "What an open centre differential does."),
        ("height_school", "whole_vehicle", "Height: the whole rig's centre of gravity", "Common practice."),
        ("height_school", "sprung_mass", "Height: the sprung mass's centre of gravity", "What the springs carry."),
        ("anti_target", "first_trail", "Anti-squat wanted: 70–90 %", "Calm on a first trail build."),
        ("anti_target", "neutral", "Anti-squat wanted: near 100 %", "Neither squats nor lifts."),
        ("anti_target", "steep_technical", "Anti-squat wanted: 110–150 %", "For steep technical climbs."),
        ("roll_centre_target", "high", "Roll centre wanted: ¾ of CG height and up", "Leans little."),
        ("roll_centre_target", "low", "Roll centre wanted: lower", "Less side jolt, more lean."),
    )

    def choose(key: str, value: str, name: str) -> Callable[[], object]:
        return lambda: window.workspace.do(SetChoice(f"settings.{key}", value, name))

    return [
        Command(f"{key}_{value}", name, "Schools", "", why, choose(key, value, name)) for key, value, name, why in table
    ]

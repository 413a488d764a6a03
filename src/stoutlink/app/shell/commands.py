"""Everything the user can do, by name: the one list behind menus, shortcuts, command box and help."""

from __future__ import annotations

from collections.abc import Callable

from stoutlink.app.canvas.view_geometry import Large
from stoutlink.app.desk.actions import Command
from stoutlink.app.shell.finder import page
from stoutlink.app.shell.hands import Hands
from stoutlink.app.steps import registry
from stoutlink.app.steps.step import Sheet
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.papers import PAPERS

LARGE: tuple[tuple[Large, str, str], ...] = (
    ("side", "Side view large", "Show the side view large, the others small beside it."),
    ("plan", "Plan large", "Show the plan large, the others small beside it."),
    ("rear", "View from behind large", "Show the view from behind large, the others small beside it."),
    ("round", "Round view large", "Show the whole rig in the round, to be turned by hand."),
    ("all", "Four views alike", "Show all four views on one scale."),
)
"""Which view is large, by function key from F5 on."""


def command_list(window: Hands) -> list[Command]:
    """All commands of a window, in menu order."""
    w, files = window.workspace, window.files

    def step(name: str) -> Callable[[], object]:
        return lambda: window.show_step(name)

    def look(of: str, key: str) -> Callable[[], object]:
        def show() -> None:
            window.sheets[of].look(key)
            window.show_step(of)

        return show

    def read(name: str) -> Callable[[], object]:
        return lambda: window.read_paper(name)

    def here() -> Sheet:
        return window.sheets[window.step]

    def arrange(large: Large) -> Callable[[], object]:
        return lambda: here().arrange(large)

    own = [one for kind in registry.STEPS for one in kind.commands(window)]
    view = [
        Command(one.id, f"Go to {one.title}", "View", f"Ctrl+{n}" if n < 10 else "", one.help_text, step(one.id))
        for n, one in enumerate(registry.STEPS, 1)
    ]
    looks = [
        Command(f"{one.id}_look_{key}", f"{one.title}: {title}", "View", "", tip, look(one.id, key))
        for one in registry.STEPS
        for key, title, tip in one.looks
    ]

    return [
        Command("new", "New project", "File", "Ctrl+N", "Start an empty project.", files.new),
        Command("open", "Open project…", "File", "Ctrl+O", "Open a project file.", files.open),
        Command(
            "reopen",
            "Open the last project",
            "File",
            "Ctrl+Shift+O",
            "Go on with the project that was open last.",
            files.reopen,
        ),
        Command(
            "open_demo",
            "Open the demo rig Basalt",
            "File",
            "",
            "The invented crawler on links.",
            lambda: files.open_demo("basalt"),
        ),
        Command(
            "open_tamarack",
            "Open the demo rig Tamarack",
            "File",
            "",
            "The invented pickup: front links, leaves behind.",
            lambda: files.open_demo("tamarack"),
        ),
        Command(
            "save",
            "Save",
            "File",
            "Ctrl+S",
            "Write the project; the previous file is kept beside it.",
            files.save,
        ),
        Command("save_as", "Save as…", "File", "Ctrl+Shift+S", "Write the project under another name.", files.save_as),
        Command(
            "rename",
            "Rename project…",
            "File",
            "",
            "Give the project another name; it titles window, file and prints.",
            files.rename,
        ),
        *(one for one in own if one.menu == "File"),
        Command(
            "print",
            "Print…",
            "File",
            "Ctrl+P",
            "Look at the sheet in view as it prints, then print it or write it as PDF; A4, Letter or other paper.",
            files.print_preview,
        ),
        Command(
            "print_pdf",
            "Print sheet to PDF…",
            "File",
            "",
            "Write the sheet in view as a PDF, in black on white.",
            files.print_sheet,
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
        *(one for one in own if one.menu == "Edit"),
        *view,
        *looks,
        *(one for one in own if one.menu not in ("File", "Edit")),
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
            lambda: window.choose_theme("light" if window.theme.name == "dark" else "dark"),
        ),
        Command(
            "theme_system",
            "Light or dark as the system has it",
            "View",
            "",
            "Follow the system from now on; switching dark and light ends that.",
            lambda: window.choose_theme("system"),
        ),
        Command(
            "larger",
            "Everything larger",
            "View",
            "",
            "Draw text and all else larger from the next start on.",
            lambda: window.rescale(1.15),
        ),
        Command(
            "smaller",
            "Everything smaller",
            "View",
            "",
            "Draw text and all else smaller from the next start on.",
            lambda: window.rescale(1 / 1.15),
        ),
        Command("fit", "Fit the drawing", "View", "Ctrl+0", "Bring everything into the views.", lambda: here().fit()),
        Command(
            "zoom_in",
            "Zoom in",
            "View",
            "Ctrl++ or Ctrl+=",
            "Draw larger.",
            lambda: here().zoom(1.25),
        ),
        Command("zoom_out", "Zoom out", "View", "Ctrl+-", "Draw smaller.", lambda: here().zoom(0.8)),
        *(
            Command(f"large_{key}", words, "View", f"F{k}", tip, arrange(key))
            for k, (key, words, tip) in enumerate(LARGE, 5)
        ),
        Command(
            "fold_results",
            "Results beside the drawing",
            "View",
            "F4",
            "Fold the results away, or bring them back.",
            lambda: here().fold(),
        ),
        Command(
            "bump",
            "Step into bump",
            "View",
            "PgUp",
            "Move the axle up one step.",
            lambda: page(-1, lambda: here().move_axle(5)),
        ),
        Command(
            "droop",
            "Step into droop",
            "View",
            "PgDown",
            "Move the axle down one step.",
            lambda: page(1, lambda: here().move_axle(-5)),
        ),
        Command(
            "ride",
            "Back to ride height",
            "View",
            "Home",
            "Put the axle back at ride height.",
            lambda: page(0, lambda: here().to_ride()),
        ),
        *_schools(window),
        Command(
            "command_box",
            "Command box",
            "Help",
            "Ctrl+K",
            "Do anything, or go to any field, part or knock-on, by typing its name.",
            window.show_box,
        ),
        *(
            Command(f"read_{name}", f"Read: {title}", "Help", "", f"The paper {name}.md.", read(name))
            for name, title in PAPERS.items()
        ),
        Command("keys", "Keys and gestures", "Help", "F1", "What the keys and the mouse do.", window.show_keys),
        Command("about", "About Stout Link", "Help", "", "What this is and what it is not.", window.about),
    ]


def _schools(window: Hands) -> list[Command]:
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

"""What hands can do beside pressing buttons, for the list of keys and gestures."""

from __future__ import annotations

GESTURES = (
    ("Everywhere", "Tab goes on, Enter takes what is typed, Esc brings the old back; ~ before a number makes it an estimate, ± after it says how sure."),
    ("Lists and cards", "Page Up, Page Down and Home turn pages where the keys are; the menu key or the right button opens what can be done there."),
    ("Layout", "drag a pivot, Alt drags freely; arrow keys nudge 1/16 in or 1 mm, Shift eight times as far; comma and period pick the next pivot; the wheel zooms, dragging empty space pans, a double-click fits or makes a small view large."),
    ("Round view", "drag turns the rig, Shift and drag moves it, the wheel zooms, arrows turn it; pivots are dragged in the plane chosen below."),
    ("Tape", "Enter goes on, station, height, width; + between readings keeps them all, * says full width, left, right or middle; Insert puts a station in, Ctrl+Delete takes one out, Ctrl+Home and Ctrl+End go to the ends; rows of a spreadsheet are pasted from the cell in hand on."),
    ("Travel", "drag the axle, on the map or the sliders; Shift and drag moves the drawing; Page Up and Page Down step through bump and droop, Home is ride height."),
    ("Fields that an instrument feeds", "Space takes the reading."),
)  # fmt: skip
"""What hands can do, place by place."""

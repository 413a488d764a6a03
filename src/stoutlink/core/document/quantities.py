"""The number types of the project file: each carries its range, its unit and one plain sentence of help.

One declaration serves the decoder (range check), the JSON Schema, the edit fields and the messages.
"""

from __future__ import annotations

from typing import Annotated

import msgspec
from msgspec import Meta


class Frozen(msgspec.Struct, frozen=True, forbid_unknown_fields=True, kw_only=True):
    """Base of all project values: immutable, keyword only, unknown keys refused."""

    def kind_of(self, key: str) -> str | None:
        """The kind of one of its numbers where that depends on the value itself; ``None`` for the one declared."""
        return None


def _meta(title: str, kind: str, low: float, high: float, help_text: str) -> Meta:
    return Meta(title=title, description=help_text, ge=low, le=high, extra={"kind": kind})


Identifier = Annotated[
    str, Meta(pattern="^[a-z0-9][a-z0-9_-]{0,47}$", description="Short lower-case name, unique in its list.")
]
Name = Annotated[str, Meta(min_length=1, max_length=120)]
Date = Annotated[str, Meta(pattern="^$|^[0-9]{4}-[0-9]{2}-[0-9]{2}$", description="Year, month, day; empty: not said.")]
Text = Annotated[str, Meta(max_length=4000)]
Coordinate = Annotated[
    float,
    _meta(
        "Coordinate",
        "length",
        -12.0,
        12.0,
        "Vehicle axes at ride height: x forward of the rear axle, y left, z up from the ground.",
    ),
]
Point = tuple[Coordinate, Coordinate, Coordinate]

Wheelbase = Annotated[
    float, _meta("Wheelbase", "length", 1.0, 8.0, "Rear to front axle centre, level along the floor.")
]
Mass = Annotated[
    float, _meta("Weight", "mass", 100.0, 12000.0, "The rig as it will really be driven, people and fuel included.")
]
EndMass = Annotated[
    float, _meta("Unsprung weight", "mass", 10.0, 3000.0, "Axle, wheels and half of what hangs between axle and frame.")
]
AxleMass = Annotated[float, _meta("Axle weight", "mass", 10.0, 1500.0, "The complete axle without wheels.")]
CgHeight = Annotated[
    float,
    _meta("Centre of gravity height", "length", 0.2, 3.0, "Height of the whole rig's balance point above the ground."),
]
CgAhead = Annotated[
    float,
    _meta(
        "Centre of gravity ahead of rear axle",
        "length",
        0.05,
        7.9,
        "How far the balance point lies in front of the rear axle.",
    ),
]
Track = Annotated[float, _meta("Track", "length", 0.8, 3.5, "Between the middles of the left and right tyre prints.")]
FreeRadius = Annotated[
    float, _meta("Tyre free radius", "length", 0.2, 1.2, "Half the tyre's diameter with no weight on it.")
]
LoadedRadius = Annotated[
    float,
    _meta("Loaded radius", "length", 0.15, 1.2, "Hub height above the ground with the weight on, at trail pressure."),
]
RollingRadius = Annotated[
    float, _meta("Rolling radius", "length", 0.15, 1.2, "Distance rolled in one wheel turn, divided by two pi.")
]
EngineTorque = Annotated[
    float, _meta("Engine torque", "torque", 20.0, 3000.0, "The most the engine gives, at its flywheel.")
]
GearRatio = Annotated[float, _meta("Gear ratio", "ratio", 0.3, 12.0, "Turns in for one turn out.")]
StallRatio = Annotated[
    float, _meta("Converter stall ratio", "ratio", 1.0, 4.0, "Torque multiplication at stall; 1 for a clutch.")
]
HubRatio = Annotated[float, _meta("Hub ratio", "ratio", 0.5, 4.0, "Gear reduction in the hub; 1 without one.")]
RoadSpeed = Annotated[float, _meta("Road speed", "speed", 2.0, 60.0, "The steady speed it has to hold on the road.")]
EngineSpeed = Annotated[float, _meta("Engine speed", "rpm", 200.0, 12000.0, "Turns a minute at the crankshaft.")]
Share = Annotated[float, _meta("Share", "share", 0.0, 1.0, "A part of the whole.")]
Deviation = Annotated[
    float,
    _meta(
        "Uncertainty (1 σ)",
        "number",
        0.0,
        1e12,
        "About two readings in three fall within this; in the number's own SI unit.",
    ),
]
TapeDeviation = Annotated[
    float,
    _meta("Uncertainty of the tape (1 σ)", "fine_length", 0.0, 1.0, "About two readings in three fall within this."),
]
Elevation = Annotated[
    float, _meta("Pinion angle", "angle", -0.8, 0.8, "How far the pinion points up from level at ride height.")
]
Caster = Annotated[float, _meta("Caster", "angle", -0.4, 0.4, "How far the kingpin leans back at ride height.")]
TubeOd = Annotated[float, _meta("Tube outside diameter", "length", 0.01, 0.2, "Outside of the link tube.")]
TubeWall = Annotated[
    float, _meta("Tube wall", "fine_length", 0.0005, 0.1, "Wall thickness; half the outside diameter is a solid bar.")
]
TakeUp = Annotated[float, _meta("Take-up", "length", 0.0, 0.5, "Joint centre to the face of the tube, as set.")]
ThreadDiameter = Annotated[
    float, _meta("Thread diameter", "length", 0.003, 0.08, "Outside diameter of the joint's thread.")
]
ThreadPitch = Annotated[float, _meta("Thread pitch", "fine_length", 0.0003, 0.006, "Travel for one turn.")]
JointLength = Annotated[float, _meta("Joint length", "length", 0.0, 0.6, "Along the joint, from its centre.")]
Stiffness = Annotated[float, _meta("Stiffness", "number", 1e3, 1e12, "Force for one metre of give, N/m.")]
AxleWidth = Annotated[
    float, _meta("Width over wheel faces", "length", 0.8, 3.5, "Between the faces the wheels bolt to.")
]
RingDiameter = Annotated[float, _meta("Ring gear diameter", "length", 0.1, 0.6, "Outside of the ring gear.")]
Diameter = Annotated[float, _meta("Diameter", "fine_length", 0.005, 0.5, "A measured diameter.")]
BoltCircle = Annotated[
    float, _meta("Bolt circle", "length", 0.06, 0.5, "Diameter of the circle through the wheel studs.")
]
SplinePitch = Annotated[float, _meta("Spline pitch", "number", 2.5, 128.0, "Teeth per inch of pitch diameter.")]
Strength = Annotated[float, _meta("Yield strength", "stress", 5e7, 3e9, "Stress at which the steel stays bent.")]
Torque = Annotated[float, _meta("Torque rating", "torque", 50.0, 1e6, "As stated on the part's record.")]
WheelLoad = Annotated[
    float, _meta("Wheel scale", "mass", 5.0, 6000.0, "Reading of the scale under this tyre, standing level.")
]
AxleLoad = Annotated[float, _meta("Axle scale", "mass", 10.0, 12000.0, "Weight on both tyres of this axle.")]
CurbMass = Annotated[
    float, _meta("Curb weight", "mass", 100.0, 12000.0, "The vehicle empty with full tanks, before any change.")
]
WeightLimit = Annotated[
    float,
    _meta(
        "Weight rating (GVWR)",
        "mass",
        100.0,
        15000.0,
        "The limit on the vehicle's plate; a stronger axle does not raise it.",
    ),
]
ItemMass = Annotated[
    float, _meta("Weight of the item", "mass", -3000.0, 3000.0, "What it adds; negative for what comes off.")
]
WheelMass = Annotated[float, _meta("One wheel with tyre", "mass", 5.0, 300.0, "Weight of one wheel and tyre, mounted.")]
TiltAngle = Annotated[
    float, _meta("Tilt angle", "angle", -0.8, 0.8, "How far the whole vehicle was tilted from level; 10° or more.")
]
Height = Annotated[float, _meta("Height", "length", 0.0, 4.0, "Above the floor.")]
Overhang = Annotated[
    float, _meta("Station", "length", -6.0, 12.0, "How far ahead of the rear axle, level along the floor.")
]
Pressure = Annotated[float, _meta("Tyre pressure", "pressure", 10e3, 900e3, "Cold, by the gauge.")]
RollOut = Annotated[
    float, _meta("Roll-out", "length", 0.5, 100.0, "Distance along the floor between the first and last tyre mark.")
]
RollTurns = Annotated[
    float, _meta("Turns rolled", "number", 0.5, 20.0, "How many full wheel turns lie between the marks.")
]
OutputAngle = Annotated[
    float,
    _meta("Output shaft angle", "angle", -0.5, 0.5, "How far the transfer case output points down toward the axle."),
]
FrontOutputAngle = Annotated[
    float,
    _meta(
        "Front output angle",
        "angle",
        -0.5,
        0.5,
        "How far the output to the front points down toward the front axle; left open, the rear's line carried through.",
    ),
]
UseShare = Annotated[float, _meta("Share of use", "share", 0.0, 1.0, "How much of its life the rig does this.")]
TapeReading = Annotated[float, _meta("Reading", "length", -130.0, 130.0, "As read off the tape.")]
Angle = Annotated[float, _meta("Angle", "angle", -1.6, 1.6, "As read off the angle finder, nose of the part up.")]
Clearance = Annotated[
    float, _meta("Clearance wanted", "length", 0.0, 0.5, "Nothing that moves should come nearer than this.")
]
PartDiameter = Annotated[float, _meta("Diameter", "fine_length", 0.0005, 1.5, "Outside of the round part.")]
RideHeight = Annotated[
    float,
    _meta(
        "Frame over axle",
        "length",
        -0.5,
        1.5,
        "Underside of the frame rail above the axle centre, straight over the axle, at ride height.",
    ),
]
LevelShift = Annotated[
    float,
    _meta(
        "Frame goes up by", "length", -1.0, 1.0, "How far the frame rises from where it was measured to ride height."
    ),
]
Teeth = Annotated[int, Meta(ge=3, le=120, title="Teeth", extra={"kind": "number"})]
Count = Annotated[int, Meta(ge=0, le=100, title="Count", extra={"kind": "number"})]

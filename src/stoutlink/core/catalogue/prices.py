"""What things usually cost: lines of the cost list with an invented estimate each, to be replaced by the user's own
prices.

All amounts and hours are estimates in no particular currency; a line says what it is counted in and whether it stays
in the axle, is used up, is work, or is a tool bought once.
"""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

Group = Literal["axle", "part", "work", "consumable", "tool"]


class PriceLine(Struct, frozen=True):
    """One line: id, what, group, estimate of price and of the user's hours, and what one of it is."""

    id: str
    title: str
    group: Group
    amount: float
    hours: float
    per: str = "axle"


LINES: tuple[PriceLine, ...] = (
    PriceLine("gear_set", "Ring and pinion", "part", 265, 0.0),
    PriceLine("gear_kit", "Bearings, seals, shims", "part", 145, 0.0),
    PriceLine("gear_setup", "Setting up gears", "work", 0, 9.0),
    PriceLine("carrier", "Carrier for the other side of the break", "part", 190, 0.0),
    PriceLine("locker_limited_slip", "Limited slip", "part", 430, 1.0),
    PriceLine("locker_torque_sensing", "Torque-sensing differential", "part", 560, 1.0),
    PriceLine("locker_drop_in", "Drop-in automatic locker", "part", 320, 3.0),
    PriceLine("locker_automatic", "Full automatic locker", "part", 540, 1.0),
    PriceLine("locker_selectable", "Selectable locker", "part", 890, 2.0),
    PriceLine("locker_air", "Air locker", "part", 930, 3.0),
    PriceLine("locker_electric", "Electric locker", "part", 880, 3.0),
    PriceLine("locker_spool", "Spool", "part", 170, 1.0),
    PriceLine("locker_open", "Open carrier", "part", 130, 1.0),
    PriceLine("air_supply", "Compressor, tank, lines", "part", 310, 4.0, "rig"),
    PriceLine("wiring", "Wiring, switch, relay", "part", 45, 2.0),
    PriceLine("shafts", "Inner shafts, through-hardened", "part", 520, 1.0),
    PriceLine("joints", "Outer joints, larger or full circle", "part", 240, 2.0),
    PriceLine("stubs", "Stub shafts, through-hardened", "part", 410, 2.0),
    PriceLine("lockouts", "Stronger lock-outs or drive flanges", "part", 280, 1.0),
    PriceLine("flange_bolts", "Studs of a higher class", "part", 60, 1.0),
    PriceLine("truss", "Truss and sleeves", "part", 210, 12.0),
    PriceLine("cover", "Thick cover with a guard", "part", 140, 0.5),
    PriceLine("adapters", "Wheel adapters or spacers", "part", 150, 1.0, "pair"),
    PriceLine("wheels", "Wheels", "part", 640, 2.0, "set of four"),
    PriceLine("tyres", "Tyres, mounted", "part", 1180, 1.5, "set of four"),
    PriceLine("disc_conversion", "Disc conversion", "part", 295, 5.0),
    PriceLine("housing_work", "Old brackets off, housing made good", "work", 85, 6.0),
    PriceLine("cleaning", "Degreasing, blasting, paint", "work", 70, 5.0),
    PriceLine("brakes", "Brakes complete", "part", 330, 6.0),
    PriceLine("brake_lines", "Brake lines, hose, fittings", "part", 55, 2.0),
    PriceLine("parking_brake", "Parking brake cable or conversion", "part", 120, 3.0),
    PriceLine("driveshaft", "Driveshaft to length", "part", 380, 1.0),
    PriceLine("joint_conversion", "Joint between two series", "part", 48, 0.5),
    PriceLine("link_brackets", "Link brackets for the housing", "part", 165, 10.0),
    PriceLine("spring_pads", "Spring pads and U-bolts", "part", 70, 4.0),
    PriceLine("steering_arms", "Steering arms, drag link, tie rod", "part", 420, 5.0),
    PriceLine("c_clip_conversion", "Retention at the bearing instead of C-clips", "part", 230, 4.0),
    PriceLine("missing", "Missing parts", "part", 250, 1.0),
    PriceLine("repair", "Repairs found on inspection", "part", 0, 0.0),
    PriceLine("narrow_housing", "Narrowing the housing in a jig", "work", 260, 8.0),
    PriceLine("widen_housing", "Longer tubes into the housing", "work", 340, 10.0),
    PriceLine("cut_shaft", "Cutting a shaft inside its unused spline", "work", 15, 0.5, "shaft"),
    PriceLine("respline", "Cutting a shaft and splining it again", "work", 95, 0.5, "shaft"),
    PriceLine("custom_shaft", "Shaft to length", "part", 290, 0.5, "shaft"),
    PriceLine("shave", "Shaving the housing and its cover", "work", 130, 5.0),
    PriceLine("speed_correction", "Speedometer correction", "part", 85, 1.0, "rig"),
    PriceLine("swap", "Axle out, axle in", "work", 0, 10.0),
    PriceLine("fluids", "Oil, grease, sealant, cleaner", "consumable", 62, 0.5),
    PriceLine("discs", "Grinding discs, wire, gas", "consumable", 40, 0.0),
    PriceLine("tool_setup", "Setting-up tools: dial stand, spreader, inch-pound wrench", "tool", 210, 0.0, "once"),
    PriceLine("tool_hub", "Hub socket and seal drivers", "tool", 48, 0.0, "once"),
    PriceLine("tool_bar", "Alignment bar and pucks", "tool", 180, 0.0, "once"),
)  # fmt: skip
BY_ID = {one.id: one for one in LINES}

"""Layout problems that can be solved, generated: a hidden layout inside boxes, and bands around what it gives."""

from __future__ import annotations

import msgspec
import numpy as np

from stoutlink.core.analysis.linkage.many_layouts import Setting, numbers_of
from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.document.layout import Joint, Layout, Link, LinkEnd
from stoutlink.core.document.project import Settings
from stoutlink.core.document.rig import Drivetrain, Rig, WheelEnd
from stoutlink.core.document.search import PivotBox, Search, Want
from stoutlink.core.document.survey import BoxSolid

Triple = tuple[float, float, float]
KINDS: dict[str, list[tuple[str, str, str, Triple, Triple]]] = {
    "double_triangulated_four_link": [
        ("upper", "left", "pair", (0.86, 0.41, 0.80), (0.03, 0.11, 0.74)), ("lower", "left", "pair", (1.02, 0.24, 0.60), (0.03, 0.53, 0.42)),
    ],
    "single_triangulated_four_link": [
        ("upper", "left", "pair", (0.84, 0.42, 0.80), (0.04, 0.11, 0.72)), ("lower", "left", "pair", (1.04, 0.45, 0.58), (0.02, 0.48, 0.40)),
    ],
    "three_link_panhard": [
        ("lower", "left", "pair", (0.99, 0.42, 0.58), (0.03, 0.47, 0.42)), ("upper", "right", "one", (0.82, -0.24, 0.78), (0.03, -0.28, 0.70)),
        ("panhard", "centre", "one", (-0.10, 0.48, 0.72), (-0.11, -0.45, 0.64)),
    ],
    "parallel_four_link_panhard": [
        ("upper", "left", "pair", (0.92, 0.44, 0.79), (0.02, 0.44, 0.71)), ("lower", "left", "pair", (1.0, 0.44, 0.57), (0.02, 0.46, 0.41)),
        ("panhard", "centre", "one", (-0.10, 0.48, 0.72), (-0.11, -0.45, 0.64)),
    ],
}  # fmt: skip


def problem(seed: int) -> tuple[Setting, Search]:
    """A problem with at least one answer (the hidden layout is on whole tape readings); always the same for a seed."""
    rng = np.random.default_rng(seed)
    kind = list(KINDS)[seed % len(KINDS)]
    joint = Joint(id="j", name="Joint")
    links, pairs = [], []
    for role, side, how, frame, axle in KINDS[kind]:
        for mirror in (1.0, -1.0) if how == "pair" else (1.0,):
            name = ("left" if mirror > 0 else "right") if how == "pair" else side
            end = LinkEnd(joint="j", take_up_m=0.06)
            links.append(
                Link(
                    id=f"{role}_{name}",
                    name=f"{name} {role}",
                    role=role,
                    side=name,
                    frame_pivot_m=(frame[0], mirror * frame[1], frame[2]),
                    axle_pivot_m=(axle[0], mirror * axle[1], axle[2]),
                    tube_od_m=0.045,
                    tube_wall_m=0.006,
                    frame_end=end,
                    axle_end=end,
                )
            )
        pairs.append((f"{role}_{'left' if how == 'pair' else side}", how))
    layout = Layout(id="p", name="p", end="rear", kind=kind, links=tuple(links))
    radius = float(rng.uniform(0.40, 0.50))
    wheel = WheelEnd(track_m=1.65, tyre_free_radius_m=radius * 1.05, loaded_radius_m=radius, unsprung_mass_kg=250.0)
    height = float(rng.uniform(0.72, 0.92))
    rig = Rig(
        name="p",
        wheelbase_m=float(rng.uniform(2.4, 2.9)),
        mass_kg=2000.0,
        cg_height_m=height,
        cg_ahead_of_rear_m=1.3,
        front=wheel,
        rear=wheel,
        drivetrain=Drivetrain(engine_torque_nm=400.0, gear_ratios=(4.0, 1.0), transfer_low_ratio=2.5),
    )
    solids = (
        BoxSolid(id="case", name="case", kind="transfer_case", low_m=(1.05, -0.2, 0.55), high_m=(1.4, 0.1, 0.75)),
    )
    setting = Setting(rig, layout, (joint,), Settings(units="mm"), solids)
    boxes, hidden = [], layout
    for name, how in pairs:
        for which in ("frame", "axle"):
            link = layout.link(name)
            assert link is not None
            at = np.array(getattr(link, f"{which}_pivot_m"))
            edge = rng.uniform([0.08, 0.05, 0.05], [0.30, 0.20, 0.20])
            low = at - edge * rng.uniform(0.3, 0.7, 3)
            step = np.array([0.005, 0.0025 if how == "pair" else 0.005, 0.005])
            point = np.round(rng.uniform(low + 0.15 * edge, low + 0.85 * edge) / step) * step
            boxes.append(PivotBox(id=f"{name}:{which}", low_m=tuple(low), high_m=tuple(low + edge)))
            moved = {n: (point[0], side * point[1], point[2]) for n, side in layout.moved_with(link, which)}
            hidden = msgspec.structs.replace(
                hidden,
                links=tuple(
                    msgspec.structs.replace(x, **{f"{which}_pivot_m": moved[x.id]}) if x.id in moved else x
                    for x in hidden.links
                ),
            )
    ids = ["drive", "roll_centre", "steer", "hold", "pinion", "clearance", "longest"] + (
        ["bind"] if len(links) > 4 else []
    )
    tried = tuple(np.array([[getattr(x, f"{w}_pivot_m") for x in hidden.links]]) for w in ("frame", "axle"))
    gives = {k: float(v[0]) for k, v in numbers_of(setting, tried[0], tried[1], (*ids, "travel"), 121).items()}
    if not all(np.isfinite(v) for v in gives.values()) or gives["travel"] < 0.999:
        return problem(seed + 1000)  # the hidden layout itself does not work
    wants = []
    for name in ids:
        half, off = HEADLINES[name].usual * rng.uniform(0.5, 1.2), rng.uniform(-0.6, 0.6)
        if name in ("hold", "pinion", "longest", "bind"):
            wants.append(Want(id=name, low=0.0, high=gives[name] + half))
        elif name == "clearance":
            wants.append(Want(id="clearance", low=min(0.0, gives[name]) - 0.002, high=10.0))
        else:
            wants.append(Want(id=name, low=gives[name] + (off - 1) * half, high=gives[name] + (off + 1) * half))
    return setting, Search(id="rear", boxes=tuple(boxes), wants=tuple(wants))

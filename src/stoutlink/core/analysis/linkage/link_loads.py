"""Forces in every link for the load cases, and what tube, joint, bolt and tab carry against them."""

from __future__ import annotations

import math
from functools import lru_cache

import msgspec
import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.linkage.bar_set import link_length, stiffness_of
from stoutlink.core.analysis.linkage.load_cases import CASES, AxleCase, axle_cases
from stoutlink.core.analysis.linkage.parts import tab_feet
from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.catalogue.tubes import BOLT_YIELD, DENSITY, MODULUS, STOCK, TAB_YIELD, WELDED, WIRE_YIELD, YIELD
from stoutlink.core.document.layout import Joint, Layout, Link
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.column import bolt_double_shear, column_load, round_section, strike_load, tab_load
from stoutlink.core.mechanics.fillet import foot_welds
from stoutlink.core.mechanics.linkage.free_body import Reactions, reactions
from stoutlink.core.quantity.constants import GRAVITY

SPACING_PART = 0.75
"""Spring spacing as a part of the track while it is not known (estimate); it does not change a bar's force."""


class Check(Struct, frozen=True):
    """One thing that may give way: what it carries and what is asked, N; ``margin`` carried over asked, ``None``
    where a size is not known.
    """

    what: str
    carries: float | None
    asked: float
    case: str
    why: str

    @property
    def margin(self) -> float | None:
        """Strength over load."""
        if self.carries is None:
            return None
        return math.inf if self.asked <= 0 else self.carries / self.asked


class LinkLoad(Struct, frozen=True):
    """One link: its force in every case (N, tension +, the larger of both ways round), and what is checked, weakest
    first.
    """

    link: Link
    forces: dict[str, float]
    checks: tuple[Check, ...]

    @property
    def worst(self) -> float:
        """The largest force either way, N."""
        return max((abs(f) for f in self.forces.values()), default=0.0)

    @property
    def weakest(self) -> Check | None:
        """The check with the least margin."""
        known = [c for c in self.checks if c.margin is not None]
        return min(known, key=lambda c: c.margin or 0.0) if known else None


class CaseForces(Struct, frozen=True):
    """One case as solved: forces in link order (N, tension +), springs left and right (N, pressing down +)."""

    case: AxleCase
    reactions: Reactions


class LinkLoads(Struct, frozen=True):
    """All links of one layout under all cases."""

    layout: Layout
    cases: tuple[CaseForces, ...]
    links: tuple[LinkLoad, ...]
    spacing_assumed: bool
    shared: bool
    """More than four bars: shared by stiffness."""


def link_loads(project: Project, rig: Rig, layout: Layout) -> LinkLoads | None:
    """Work out every case at ride height; ``None`` for a layout without links or with leaf springs (the leaves carry
    there).

    Raises :class:`~stoutlink.core.errors.GeometryError` when the bars cannot hold the axle.
    """
    if layout.leaf is not None or not layout.links:
        return None
    cases, feet = axle_cases(project, rig, layout), tab_feet(project, rig, layout)
    return _loads(_Asked(cases, rig, layout, project.linkage.joints, project.linkage.loads.strike_factor, feet))


class _Asked(Struct, frozen=True):
    cases: tuple[AxleCase, ...]
    rig: Rig
    layout: Layout
    joints: tuple[Joint, ...]
    strike: float
    feet: tuple[tuple[str, float, float], ...]
    """Of each bracket with tabs: its name, reach and foot, m."""


@lru_cache(maxsize=32)
def _loads(ask: _Asked) -> LinkLoads:
    layout, rig = ask.layout, ask.rig
    x, _, z = axle_centre(rig, layout.end)
    track = rig.end(layout.end).track_m
    spacing = layout.spring_spacing_m if layout.spring_spacing_m is not None else SPACING_PART * track
    springs = np.array([[x, 0.5 * spacing, z], [x, -0.5 * spacing, z]])
    frame = np.array([one.frame_pivot_m for one in layout.links])
    axle = np.array([one.axle_pivot_m for one in layout.links])
    stiff = np.array(stiffness_of(layout, ask.joints)[0])
    forces_of = reactions(frame, axle, stiff, springs, [c.loads for c in ask.cases], np.array([x, 0.0, z]))
    solved = tuple(CaseForces(c, r) for c, r in zip(ask.cases, forces_of, strict=True))
    known = {j.id: j for j in ask.joints}
    heavier = heavier_axle(rig)
    links = []
    for i, link in enumerate(layout.links):
        forces: dict[str, float] = {}
        for one in solved:
            force = float(one.reactions.bars[i])
            if abs(force) > abs(forces.get(one.case.id, 0.0)) or one.case.id not in forces:
                forces[one.case.id] = force
        pull = max(((float(s.reactions.bars[i]), s.case.id) for s in solved), default=(0.0, ""))
        push = max(((-float(s.reactions.bars[i]), s.case.id) for s in solved), default=(0.0, ""))
        thrust = next((float(s.reactions.bars[i]) for s in solved if s.case.id == "throttle"), 0.0)
        checks = [*_tube(link, pull, push), *_ends(layout, link, known, ask.feet, pull, push)]
        if link.role in ("lower", "arm"):
            checks.append(_strike(link, ask.strike * 0.5 * heavier, max(0.0, -thrust), ask.strike))
        ranked = sorted(checks, key=lambda c: math.inf if c.margin is None else c.margin)
        links.append(LinkLoad(link, forces, tuple(ranked)))
    return LinkLoads(layout, solved, tuple(links), layout.spring_spacing_m is None, len(layout.links) > 4)


def strength(link: Link) -> float:
    """Yield strength of a link's tube, Pa: its record, else the usual for its material."""
    return link.yield_pa if link.yield_pa is not None else YIELD[link.material]


def _tube(link: Link, pull: tuple[float, str], push: tuple[float, str]) -> list[Check]:
    section, s_y, modulus = round_section(link.tube_od_m, link.tube_wall_m), strength(link), MODULUS[link.material]
    column = column_load(section, link_length(link), s_y, modulus, link.bend_m)
    slender = link_length(link) / section.gyration
    how = (
        "secant formula for the bend"
        if link.bend_m > 0
        else "Euler"
        if slender > math.sqrt(2 * math.pi**2 * modulus / s_y)
        else "Johnson"
    )
    at_weld = min(s_y, WELDED[link.material]) * section.area
    return [
        Check("tube, pushed", column, push[0], push[1], f"pinned column, {how}, slenderness {slender:.0f}"),
        Check(
            "tube, pulled",
            at_weld,
            pull[0],
            pull[1],
            "beside the insert's weld" if link.material != "aluminium" else "full section",
        ),
    ]


def _ends(
    layout: Layout,
    link: Link,
    known: dict[str, Joint],
    feet: tuple[tuple[str, float, float], ...],
    pull: tuple[float, str],
    push: tuple[float, str],
) -> list[Check]:
    out = []
    worst = max(pull, push)
    for which, end in (("frame", link.frame_end), ("axle", link.axle_end)):
        joint = known.get(end.joint)
        bracket = layout.bracket(link.id, "frame" if which == "frame" else "axle")
        rating = joint.rating_n if joint is not None else None
        out.append(
            Check(
                f"{which} joint",
                rating,
                worst[0],
                worst[1],
                "static rating from its record" if rating else "enter the joint's static rating",
            )
        )
        bolt = joint.bolt_m if joint is not None else None
        s_y = bracket.bolt_yield_pa if bracket is not None and bracket.bolt_yield_pa is not None else BOLT_YIELD
        out.append(
            Check(
                f"{which} bolt",
                None if bolt is None else bolt_double_shear(bolt, s_y),
                worst[0],
                worst[1],
                "double shear on the plain shank" if bolt else "enter the joint's bolt",
            )
        )
        tab = bracket.tab_m if bracket is not None else None
        strong = bracket.tab_yield_pa if bracket is not None and bracket.tab_yield_pa is not None else TAB_YIELD
        edge = bracket.edge_m if bracket is not None else None
        carried = None if tab is None or bolt is None else tab_load(tab, bolt, edge, strong)
        out.append(
            Check(
                f"{which} tabs",
                carried,
                worst[0],
                worst[1],
                "bearing and tearing out at the hole" if carried else "give the pivot a bracket with its tab",
            )
        )
        foot = next(((r, f) for name, r, f in feet if bracket is not None and name == bracket.id), None)
        if bracket is not None and foot is not None and bracket.nut_plate_m is None:  # else it is bolted on
            out.append(_weld(which, bracket.weld_m, *foot, strong, worst))
        if link.material == "aluminium" and joint is not None and joint.thread_diameter_m is not None:
            bored = math.pi / 4 * (link.tube_od_m**2 - joint.thread_diameter_m**2)
            out.append(
                Check(
                    f"{which} thread, bored section",
                    max(0.0, bored) * strength(link),
                    pull[0],
                    pull[1],
                    "what the tapped hole leaves",
                )
            )
    return out


def _weld(which: str, leg: float | None, reach: float, foot: float, plate: float, worst: tuple[float, str]) -> Check:
    """The welds at the foot of a bracket's two tabs, both sides of each."""
    carries = None if leg is None else foot_welds(leg, foot, reach, WIRE_YIELD, plate)
    why = "both sides of two tabs, pulled whichever way is worst" if carries else "give its part the weld's leg"
    return Check(f"{which} weld", carries, worst[0], worst[1], why)


def _strike(link: Link, asked: float, pushed: float, factor: float) -> Check:
    """Rock strike in the middle of a lower with the thrust of full throttle in it: P/P_y + F/P_cr, turned into what
    the link still carries across.
    """
    section, s_y, length = round_section(link.tube_od_m, link.tube_wall_m), strength(link), link_length(link)
    across = strike_load(section, length, s_y)
    column = column_load(section, length, s_y, MODULUS[link.material], link.bend_m)
    left = across * max(0.0, 1.0 - pushed / column)
    bends = strike_load(section, length, s_y, plastic=True)
    words = "resting" if factor == 1 else "dropped" if factor == 2 else f"{factor:g} times"
    return Check(
        "rock strike",
        left,
        asked,
        "rock strike",
        f"stays bent; folds at {bends / 1000:.1f} kN; half the heavier axle, {words}, under full throttle",
    )


class TubeOffer(Struct, frozen=True):
    """A stock tube that carries what a link is asked for: outside and wall m, its least margin, weight kg of the
    length between pivots.
    """

    outside: float
    wall: float
    margin: float
    mass: float


def tubes_for(
    found: LinkLoads, load: LinkLoad, wanted: float, strike: float, heavier: float, most: int = 3
) -> tuple[TubeOffer, ...]:
    """Stock tubes of the link's material whose tube and rock strike margins reach ``wanted``, lightest first.

    ``strike`` factor and ``heavier`` axle load N as in :func:`link_loads`; the tube as it stands is one of the offers
    when it is stock.
    """
    link = load.link
    i = [one.id for one in found.layout.links].index(link.id)
    pull = max((float(s.reactions.bars[i]), s.case.id) for s in found.cases)
    push = max((-float(s.reactions.bars[i]), s.case.id) for s in found.cases)
    thrust = next((float(s.reactions.bars[i]) for s in found.cases if s.case.id == "throttle"), 0.0)
    out = []
    for od, wall in STOCK:
        other = msgspec.structs.replace(link, tube_od_m=od, tube_wall_m=wall)
        checks = _tube(other, pull, push)
        if link.role in ("lower", "arm"):
            checks.append(_strike(other, strike * 0.5 * heavier, max(0.0, -thrust), strike))
        margin = min(c.margin or 0.0 for c in checks)
        if margin >= wanted:
            out.append(
                TubeOffer(od, wall, margin, round_section(od, wall).area * link_length(link) * DENSITY[link.material])
            )
    return tuple(sorted(out, key=lambda o: o.mass)[:most])


def heavier_axle(rig: Rig) -> float:
    """Load of the heavier axle, N."""
    return max(load_share(rig, "front"), load_share(rig, "rear")) * rig.mass_kg * GRAVITY


def case_words(case: str) -> str:
    """A case by its name."""
    return CASES[case][0] if case in CASES else case

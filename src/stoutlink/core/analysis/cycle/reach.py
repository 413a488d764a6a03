"""How far apart the two ends of a hose or cable come over heave, roll and steer, solved off the nodes of the grid."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.between import between
from stoutlink.core.analysis.cycle.grid import Grid, stop_spacing
from stoutlink.core.analysis.cycle.steer import SteerTravel, steer_range, wheel_turns
from stoutlink.core.analysis.linkage.wheels import kingpin_of
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.flex_line import FlexLine
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.placeholders import placeholder_paths
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.geometry.rotation import about

Array = NDArray[np.float64]
STEERS = 5
AROUND, ROUNDS, SHRINK = 7, 9, 0.45
"""Places tried along each of heave, roll and steer around the best so far, how often, and how much nearer each time."""


class Reached(Struct, frozen=True):
    """One extreme of a line: distance of its ends, m, and the pose: heave m, roll rad, steer of the served wheel rad."""

    length: float
    heave: float
    roll: float
    steer: float


class LineReach(Struct, frozen=True):
    """A line over the travel within the stops: farthest and nearest; ``ride`` is the distance at ride, straight."""

    line: FlexLine
    ride: float
    longest: Reached
    shortest: Reached

    @property
    def needed(self) -> float:
        """Free length it takes, m: the farthest and the slack asked for."""
        return self.longest.length + self.line.slack_m

    @property
    def spare(self) -> float | None:
        """What the one at hand is longer than the farthest, m; below 0 it is pulled tight. None: none at hand."""
        return None if self.line.own_m is None else self.line.own_m - self.longest.length

    @property
    def hangs(self) -> float:
        """Slack that hangs where the ends are nearest, m: of the one at hand, else of one as long as needed."""
        return (self.line.own_m if self.line.own_m is not None else self.needed) - self.shortest.length


def placed_lines(project: Project, layout: Layout) -> tuple[FlexLine, ...]:
    """Lines both of whose ends somebody has entered."""
    nobody = placeholder_paths(project.entries)

    def placed(one: FlexLine) -> bool:
        at = f"layouts.{layout.id}.lines.{one.id}"
        return not any(f"{at}.{k}.{i}" in nobody for k in ("frame_m", "far_m") for i in range(3))

    return tuple(one for one in layout.lines if placed(one))


def line_reaches(
    rig: Rig, grid: Grid, steer: SteerTravel | None, donor: DonorAxle | None, lines: tuple[FlexLine, ...]
) -> tuple[LineReach, ...]:
    """Lines over the travel; one whose axle reaches no pose within its stops is left out."""
    return tuple(found for line in lines if (found := _Ends(rig, grid, steer, donor, line).reach()) is not None)


class _Ends:
    """Both ends of a line anywhere in the travel."""

    def __init__(
        self, rig: Rig, grid: Grid, steer: SteerTravel | None, donor: DonorAxle | None, line: FlexLine
    ) -> None:
        self._rig, self._grid, self._steer, self._donor, self._line = rig, grid, steer, donor, line
        self._frame = np.array(line.frame_m)
        self._turns = line.rides_on != "axle" and grid.layout.end == "front"
        self._range = steer_range(steer, donor) if self._turns else (0.0, 0.0)

    def far_end(self, steer: float) -> Array:
        """The end at the axle, at ride, with the served wheel turned by ``steer`` rad."""
        far = np.array(self._line.far_m)
        if not self._turns or abs(steer) < 1e-12:
            return far
        left = self._line.rides_on == "left_knuckle"
        pin, axis = kingpin_of(self._rig, self._grid.layout, self._donor, 1.0 if left else -1.0)
        return np.asarray(pin + about(axis, wheel_turns(self._steer, steer)[0 if left else 1]) @ (far - pin))

    def apart(self, heave: Array, roll: Array, steer: Array) -> Array:
        """Distance of the ends at poses ``(n,)``; the pose between the nodes of the grid is taken as straight there
        (a few hundredths of a millimetre), ``nan`` where it is not reached."""
        centre = np.array(self._grid.centre)
        known = {float(s): self.far_end(float(s)) for s in np.unique(steer)}
        local = np.array([known[float(s)] for s in steer]) - centre
        at, turn = between(self._grid, heave, roll)
        return np.asarray(np.linalg.norm(at + np.einsum("nij,nj->ni", turn, local) - self._frame, axis=-1))

    def reach(self) -> LineReach | None:
        """Farthest and nearest within the stops; None where nothing is."""
        g = self._grid
        if not g.within.any():
            return None
        steers = np.linspace(*self._range, STEERS) if self._turns else np.zeros(1)
        at = np.stack([np.linalg.norm(g.carried(self.far_end(float(s))) - self._frame, axis=-1) for s in steers])
        inside = np.where(g.within, at, np.nan)
        zero = np.zeros(1)
        ride = float(self.apart(zero, zero, zero)[0])
        return LineReach(self._line, ride, self._extreme(inside, steers, 1.0), self._extreme(inside, steers, -1.0))

    def _extreme(self, inside: Array, steers: Array, way: float) -> Reached:
        """The best of the nodes on each side of level, each followed to the place itself."""
        g, found = self._grid, []
        for side in (g.roll <= 0.0, g.roll >= 0.0):
            part = np.where(side[:, None], way * inside, np.nan)
            if not np.isfinite(part).any():
                continue
            k, i, j = np.unravel_index(int(np.nanargmax(part)), part.shape)
            found.append(self._followed(float(g.heave[j]), float(g.roll[i]), float(steers[k]), way))
        return max(found, key=lambda one: way * one.length)

    def _followed(self, heave: float, roll: float, steer: float, way: float) -> Reached:
        g = self._grid
        best = Reached(float(self.apart(*(np.array([v]) for v in (heave, roll, steer)))[0]), heave, roll, steer)
        steps = np.array(
            [
                g.heave[1] - g.heave[0],
                g.roll[1] - g.roll[0],
                (self._range[1] - self._range[0]) / (STEERS - 1) if self._turns else 0.0,
            ]
        )
        half, (low, high) = 0.5 * stop_spacing(self._rig, g.layout), g.limits
        for _ in range(ROUNDS):
            tries = np.linspace(-1.0, 1.0, AROUND)
            s_, r_, h_ = np.meshgrid(tries if self._turns else np.zeros(1), tries, tries, indexing="ij")
            rolls = np.clip(best.roll + r_.ravel() * steps[1], g.roll[0], g.roll[-1])
            lift = half * np.sin(np.abs(rolls))
            heaves = np.clip(best.heave + h_.ravel() * steps[0], low + lift, high - lift)
            heaves = np.clip(heaves, g.heave[0], g.heave[-1])
            turns = np.clip(best.steer + s_.ravel() * steps[2], *self._range)
            fits = (heaves + lift <= high + 1e-9) & (heaves - lift >= low - 1e-9)
            far = np.where(fits, way * self.apart(heaves, rolls, turns), -np.inf)
            far = np.where(np.isfinite(far), far, -np.inf)
            k = int(np.argmax(far))
            if far[k] > way * best.length:
                best = Reached(way * float(far[k]), float(heaves[k]), float(rolls[k]), float(turns[k]))
            steps = steps * SHRINK
        return best

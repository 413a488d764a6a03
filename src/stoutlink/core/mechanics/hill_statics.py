"""A rig standing at one place after another of uneven ground: where body and axles rest, what each tyre carries and grips.

Quasi-static: no speed, no inertia. Virtual work over seven coordinates (each axle's height and roll, the body's height over each axle,
its roll), the drive taken from the balance along the way. Source: principle of virtual work; the links' part as in Gillespie, ch. 7.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.mechanics.hill_ground import HubWay

Array = NDArray[np.float64]
Reals = float | Array
GROUND, STOP = 2.0e7, 4.0e6
"""Stiffness of a tyre's contact and of a stop, N/m: stiff enough to give tenths of a millimetre."""
LOOSE = 0.005
"""What a spring that has run out of load still pulls, as a part of its rate: so that a body on its way to its droop stop finds it."""
SOFTER = (3.0e5, 2.0e6, GROUND)
"""The ground as it is gone through: soft first, so that a wheel that hangs finds it."""
STEEPEST = 0.999
"""Sine of the steepest a body is tried at."""
WALKED = 120
"""Steps from a place that rests into those that found none."""
CLOSE = 1.0
"""A place is solved when no balance is off by more than this, N or N·m."""


class HillAxle(Struct, frozen=True):
    """One axle: station ahead of the rear axle m, tyre radius m, track m, its own weight N, what its springs carry at ride N, heave rate of
    both N/m, roll stiffness N·m/rad, roll centre m, bump and droop m (both above 0) at stops ``apart`` m; the hub's way fore and aft and the
    housing's turn (nose up, rad) per metre of bump; whether it is driven and whether both wheels are locked together."""

    station: float
    radius: float
    track: float
    unsprung: float
    carried: float
    rate: float
    roll_rate: float
    roll_centre: float
    bump: float
    droop: float
    apart: float
    fore: float
    turn: float
    driven: bool = True
    locked: bool = True


class HillRig(Struct, frozen=True):
    """Sprung weight N and where it sits (ahead of the rear axle, left, up; m), front and rear axle."""

    sprung: float
    ahead: float
    left: float
    high: float
    front: HillAxle
    rear: HillAxle

    @property
    def weight(self) -> float:
        """All of it, N."""
        return self.sprung + self.front.unsprung + self.rear.unsprung


class HillRun(Struct, frozen=True):
    """A rig at places ``at`` (n,), m: pitch (nose up) and roll (left up) of the body, rad; axle roll and body over axle (droop +), ``(n, 2)`` front then
    rear; normal force and drive of each tyre, N, and slope of the ground there, ``(n, 4)`` front left, front right, rear left, rear right; hubs' middles ``(n, 4)`` m along and up;
    the body's origin ``(n, 2)`` m; the greatest force left over N; whether it rests (loads are ``nan`` where it does not); whether it tips (a side or an end without load); work of the
    drive and rise of energy from the first place on, J."""

    rig: HillRig
    at: Array
    pitch: Array
    roll: Array
    axle_roll: Array
    over: Array
    normal: Array
    drive: Array
    slope: Array
    hub_along: Array
    hub_high: Array
    origin: Array
    left_over: Array
    rests: NDArray[np.bool_]
    tips: NDArray[np.bool_]
    work: Array
    energy: Array
    plane: bool = False
    """Whether the ground slopes across under each axle as that axle lies; else it is level across under each tyre."""

    @property
    def used(self) -> Array:
        """Grip used at each tyre: drive, and on a plane across its share of the side force, over load, ``(n, 4)``; ``nan`` for one in the air."""
        side = np.repeat(np.tan(self.axle_roll), 2, axis=1) if self.plane else 0.0
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.asarray(np.where(self.normal > 1.0, np.hypot(self.drive / self.normal, side), np.nan))

    def body_point(self, ahead: float, left: float, high: float) -> tuple[Array, Array]:
        """Where a point of the body is, m along and up, ``(n,)`` each."""
        return self.body_point_at(slice(None), ahead, left, high)

    def body_point_at(self, place: int | slice, ahead: Reals, left: Reals, high: Reals) -> tuple[Array, Array]:
        """Where points of the body are at one place, m along and up; arrays alike in shape, or numbers."""
        c, s = np.cos(self.pitch[place]), np.sin(self.pitch[place])
        up = left * np.sin(self.roll[place]) + high * np.cos(self.roll[place])
        return self.origin[place, 0] + ahead * c - up * s, self.origin[place, 1] + ahead * s + up * c


def drive_over(
    rig: HillRig, ways: tuple[HubWay, HubWay, HubWay, HubWay], at: Array, rounds: int = 0, *, plane: bool = False
) -> HillRun:
    """Rest at every place of ``at`` ``(n,)`` m (where the rig's rear contact would be on the level), over the ways of its four hubs: front left, front
    right, rear left, rear right. ``rig`` in N and m. In ``rounds`` more, places are put in where loads or slopes change sharply. ``plane``: the ground
    slopes across as each axle lies (a side slope), else it is level across under each tyre.

    Drive is shared so that locked wheels use the same part of their load (a convention), an open axle's two get the same force. Source:
    virtual work. Degenerate: where nothing holds it up ``rests`` is false and ``tips`` true; numbers there are not to be shown.

    >>> from stoutlink.core.mechanics.hill_ground import hub_way; level = hub_way([(0.0, 0.0), (9.0, 0.0)], 0.5)
    >>> axle = HillAxle(0.0, 0.5, 1.6, 2000.0, 8000.0, 6e4, 4e4, 0.6, 0.1, 0.1, 1.0, 0.0, 0.0)
    >>> front = HillAxle(2.5, 0.5, 1.6, 2000.0, 8000.0, 6e4, 4e4, 0.6, 0.1, 0.1, 1.0, 0.0, 0.0)
    >>> run = drive_over(HillRig(16000.0, 1.25, 0.0, 0.9, front, axle), (level,) * 4, np.array([1.0, 2.0]))
    >>> run.normal.round(0).tolist()[0], bool(run.rests.all())
    ([5000.0, 5000.0, 5000.0, 5000.0], True)
    """
    solver = _Solver(rig, ways, plane)
    q, where = solver.start(at)
    q, left = solver.staged(q, where)
    q, where, left, run = solver.in_order(q, where, left)
    for k in range(rounds):
        closer, lead = solver.turns(at) if k == 0 else (np.empty(0), np.empty(0))
        if not len(closer):
            closer, lead = _closer(run)
        if not len(closer):
            break
        more, there = solver.start(closer, lead)
        more, off = solver.staged(more, there)
        q, where, left, run = solver.in_order(
            np.concatenate([q, more]), np.concatenate([where, there]), np.concatenate([left, off])
        )
    if not run.rests.all():
        *_, run = solver.in_order(*_placed(solver.again(q, where, left), where))
    return run


def _placed(found: tuple[Array, Array], where: Array) -> tuple[Array, Array, Array]:
    return found[0], where, found[1]


PAIRS = ((0, 1), (2, 3), (0, 2), (1, 3))
"""Tyres of an end and of a side."""
LIGHT, LONG = 0.2, 4
"""Part of the weight under which an end or a side may be coming off the ground, and how many places in a row without a rest say that it did."""


def _tips(normal: Array, rests: NDArray[np.bool_], weight: float) -> NDArray[np.bool_]:
    """Where it tips: nothing is left on an end or a side; or place after place finds no rest, beginning where one was light."""
    least = np.stack([normal[:, a] + normal[:, b] for a, b in PAIRS], axis=-1).min(axis=-1) / weight
    out = rests & (least < 1e-3)
    k = 0
    while k < len(rests):
        end = k
        while end < len(rests) and not rests[end]:
            end += 1
        beside = [least[i] for i in (k - 1, end) if 0 <= i < len(rests) and rests[i]]
        if end - k >= LONG and (not beside or min(beside) < LIGHT):
            out[k:end] = True
        k = end + 1
    return np.asarray(out)


SHARP = 14
"""Sharp changes that are looked at closer in one round."""


def _closer(run: HillRun) -> tuple[Array, Array]:
    """Places between those where the load or the slope under a wheel changes most, as the axle on the steeper ground has them; and which."""
    if len(run.at) < 2:
        return np.empty(0), np.empty(0)
    size = np.abs(np.diff(run.slope, axis=0)).max(axis=1)
    size = size + np.abs(np.diff(np.nan_to_num(run.normal), axis=0)).max(axis=1) / run.rig.weight
    steep = np.abs(run.slope).reshape(-1, 2, 2).max(axis=2)
    stations = np.array([run.rig.front.station, run.rig.rear.station])
    places = run.hub_along[:, [0, 2]] - stations
    out, lead = [], []
    for k in (int(i) for i in np.argsort(-size)[:SHARP]):
        n = int(np.maximum(steep[k], steep[k + 1]).argmax())
        gap = float(places[k + 1, n] - places[k, n])
        if size[k] > 0.04 and gap > 4e-4:
            out.append(places[k, n] + gap * np.array([0.25, 0.5, 0.75]))
            lead.append(np.full(3, float(n)))
    return (np.concatenate(out), np.concatenate(lead)) if out else (np.empty(0), np.empty(0))


class _Solver:
    def __init__(self, rig: HillRig, ways: tuple[HubWay, HubWay, HubWay, HubWay], plane: bool) -> None:
        self.rig, self.ways, self.plane = rig, ways, plane
        self.axles = (rig.front, rig.rear)
        self.ground = GROUND

    def places(self, q: Any, at: Any) -> dict[str, Any]:
        """Everything that moves, from coordinates ``(..., 7)`` and where it is: ``at`` ``(..., 2)``, the place of one axle less its station,
        and which (0 front, 1 rear). Complex steps go through it."""
        f, r = self.axles
        hf, pf, hr, pr, sf, sr, roll = (q[..., k] for k in range(7))
        mf, mr = ((a.roll_centre - a.radius + s) * np.cos(p) for a, s, p in ((f, sf, pf), (r, sr, pr)))
        base = f.station - r.station
        lift = (f.roll_centre - r.roll_centre) * np.cos(roll) - (mf - mr)
        steep = (hf - hr) / np.sqrt(base**2 + lift**2)
        # a try that puts an axle farther up than the wheelbase is long is no place to be: it is held short of that
        steep = np.where(np.abs(np.real(steep)) > STEEPEST, STEEPEST * np.sign(np.real(steep)), steep)
        pitch = np.arcsin(steep) - np.arctan(lift / base)
        c, s = np.cos(pitch), np.sin(pitch)
        origin = hr + mr * c - c * np.cos(roll) * r.roll_centre - r.station * s
        begin = at[..., 0]
        for n, (a, over) in enumerate(((f, sf), (r, sr))):  # the axle on the steeper ground is where it is said to be
            ahead = a.station - (a.station - a.fore * over) * c + (a.radius - over) * s
            begin = begin + np.where(at[..., 1] == n, ahead, 0.0)
        rig = self.rig
        up = rig.left * np.sin(roll) + rig.high * np.cos(roll)
        out: dict[str, Any] = {
            "pitch": pitch, "origin": origin, "begin": begin,
            "energy": rig.sprung * (origin + rig.ahead * s + up * c) + f.unsprung * hf + r.unsprung * hr,
        }  # fmt: skip
        for name, a, h, p, over in (("f", f, hf, pf, sf), ("r", r, hr, pr, sr)):
            lean = roll - p
            out[f"x_{name}"] = begin + (a.station - a.fore * over) * c - (a.radius - over) * s
            out[f"turn_{name}"] = pitch - a.turn * over
            for side, way in (("l", 1.0), ("r", -1.0)):
                out[f"z_{name}{side}"] = h + way * 0.5 * a.track * np.sin(p) + a.radius * (1.0 - np.cos(p))
                out[f"e_{name}{side}"] = over + way * 0.5 * a.apart * np.sin(lean)
            out[f"lean_{name}"] = lean
            out[f"over_{name}"] = over
        return out

    def forces(self, q: Array, at: Array) -> dict[str, Array]:
        """Forces at coordinates ``(..., 7)``: springs, stops, ground, drive."""
        here = self.places(q, at)
        out: dict[str, Array] = dict(here)
        total: Any = 0.0
        grip: Any = 0.0
        for n, (name, a) in enumerate((("f", self.rig.front), ("r", self.rig.rear))):
            load = a.carried - a.rate * here[f"over_{name}"]
            out[f"spring_{name}"] = np.where(load > 0.0, load, LOOSE * load)
            out[f"bar_{name}"] = -a.roll_rate * here[f"lean_{name}"]
            loads = []
            for m, side in enumerate("lr"):
                e = here[f"e_{name}{side}"]
                out[f"stop_{name}{side}"] = STOP * (np.maximum(0.0, -a.bump - e) - np.maximum(0.0, e - a.droop))
                high, slope = self.ways[2 * n + m].at(here[f"x_{name}"])
                push = self.ground * np.maximum(0.0, high - here[f"z_{name}{side}"])
                out[f"push_{name}{side}"], out[f"slope_{name}{side}"] = push, slope
                loads.append(push * np.hypot(1.0, slope))
                total = total + push * slope
            share = loads if a.locked else [np.minimum(*loads)] * 2
            for side, part in zip("lr", share, strict=True):
                out[f"share_{name}{side}"] = part if a.driven else 0.0 * part
                grip = grip + out[f"share_{name}{side}"] / np.hypot(1.0, out[f"slope_{name}{side}"])
        out["level"] = total / np.maximum(grip, 1e-3)
        return out

    def balance(self, q: Array, at: Array) -> Array:
        """What is left over of each coordinate's balance, N or N·m, ``(..., 7)``."""
        force = self.forces(q, at)
        step = 1e-20
        turned = q[..., None, :] + 1j * step * np.eye(7)
        by = {k: np.imag(v) / step for k, v in self.places(turned, at[..., None, :]).items()}
        out = -by["energy"]
        for name, a in (("f", self.rig.front), ("r", self.rig.rear)):
            out = out + force[f"spring_{name}"][..., None] * by[f"over_{name}"]
            out = out + force[f"bar_{name}"][..., None] * by[f"lean_{name}"]
            for side in "lr":
                out = out + force[f"stop_{name}{side}"][..., None] * by[f"e_{name}{side}"]
                push, slope = force[f"push_{name}{side}"][..., None], force[f"slope_{name}{side}"][..., None]
                out = out + push * (by[f"z_{name}{side}"] - slope * by[f"x_{name}"])
                drive = (force["level"] * force[f"share_{name}{side}"])[..., None]
                root = np.hypot(1.0, slope)
                along = (by[f"x_{name}"] + slope * by[f"z_{name}{side}"]) / root
                out = out + drive * (along + a.radius * by[f"turn_{name}"])
        return np.asarray(out)

    def turns(self, at: Array) -> tuple[Array, Array]:
        """Places at which a wheel comes to touch anew, within those asked for; and which axle's it is."""
        out, lead = [], []
        for n, a in enumerate(self.axles):
            found = np.unique(np.concatenate([self.ways[2 * n].turns, self.ways[2 * n + 1].turns])) - a.station
            found = found[(found > at.min()) & (found < at.max())]
            out.append(found)
            lead.append(np.full(len(found), float(n)))
        return np.concatenate(out), np.concatenate(lead)

    def start(self, at: Array, lead: Array | None = None) -> tuple[Array, Array]:
        """Every tyre on the ground, springs as at ride: coordinates ``(n, 7)`` and places ``(n, 2)``; the axle on the steeper ground leads
        unless ``lead`` says which."""
        q = np.zeros((len(at), 7))
        f, r = self.axles
        pitch = np.zeros(len(at))
        first = np.zeros(len(at)) if lead is None else lead
        for n_round in range(13):
            c, s = np.cos(pitch), np.sin(pitch)
            led = np.where(first == 0.0, f.station * (1.0 - c) + f.radius * s, r.station * (1.0 - c) + r.radius * s)
            steep = []
            for n, (a, k) in enumerate(((f, 0), (r, 2))):
                x = at + led + a.station * c - a.radius * s
                (left, one), (right, two) = (self.ways[2 * n + m].at(x) for m in range(2))
                steep.append(np.maximum(np.abs(one), np.abs(two)))
                q[:, k] = 0.5 * (left + right)
                q[:, k + 1] = np.arcsin(np.clip((left - right) / a.track, -0.95, 0.95))
            if lead is None and n_round == 6:
                first = np.where(steep[1] > steep[0], 1.0, 0.0)
            high = (q[:, 0] - f.radius - q[:, 2] + r.radius) / (f.station - r.station)
            pitch = 0.5 * (pitch + np.arcsin(np.clip(high, -0.95, 0.95)))
        for a, k in ((f, 0), (r, 2)):  # sunk in by what it carries, so that the first step sees the ground
            q[:, k] -= a.radius * (1.0 - np.cos(q[:, k + 1])) + 0.5 * (a.carried + a.unsprung) / SOFTER[0]
        q[:, 6] = 0.5 * (q[:, 1] + q[:, 3])
        return q, np.stack([at, first], axis=-1)

    def again(self, q: Array, where: Array, left: Array) -> tuple[Array, Array]:
        """Places left over begin again from the one beside them that is solved, and so on from there: coordinates and what is left over."""
        self.ground = GROUND
        tried = np.zeros(len(left), dtype=bool)
        for _ in range(WALKED):
            good = left <= CLOSE
            before, after = np.roll(good, 1), np.roll(good, -1)
            before[0] = after[-1] = False
            edge = np.flatnonzero(~good & (before | after) & ~tried)
            if not len(edge):
                break
            near = np.where(before[edge], edge - 1, edge + 1)
            found, off = self.newton(q[near], where[edge], 20)
            off = np.where((off <= CLOSE) & self.stands(found, where[edge]), off, np.inf)
            tried[edge] = True
            done = off < np.inf
            q[edge[done]], left[edge[done]] = found[done], off[done]
        return q, left

    def staged(self, q: Array, at: Array) -> tuple[Array, Array]:
        """From ``q`` ``(n, 7)`` over softer ground to the ground as it is. A balance that the least push would end is none: there it is tried
        again on hard ground from where all tyres touch."""
        begin, left = q, np.full(len(at), np.inf)
        for self.ground in SOFTER:
            q, left = self.newton(q, at, 12)
        shaky = np.flatnonzero((left <= CLOSE) & ~self.stands(q, at))
        if len(shaky):
            tried, off = self.newton(begin[shaky], at[shaky], 30)
            good = (off <= CLOSE) & self.stands(tried, at[shaky])
            q[shaky[good]], left[shaky[good]] = tried[good], off[good]
            left[shaky[~good]] = np.inf
        return q, left

    def stands(self, q: Array, at: Array) -> NDArray[np.bool_]:
        """Whether a small push brings it back: what holds it is stiff every way."""
        step = 1e-6
        ahead, behind = (self.balance(q[:, None, :] + way * step * np.eye(7), at[:, None, :]) for way in (1.0, -1.0))
        stiff = -(ahead - behind) / (2.0 * step)
        good = np.isfinite(stiff).all(axis=(-1, -2))
        out = np.zeros(len(q), dtype=bool)
        roots = np.linalg.eigvals(
            stiff[good]
        )  # drive and links make it unequal across: only a real root below 0 falls away
        out[good] = ~((np.abs(roots.imag) < 1e-6 * np.abs(roots)) & (roots.real < 0.0)).any(axis=-1)
        return out

    def newton(self, q: Array, at: Array, most: int) -> tuple[Array, Array]:
        """Newton from ``q`` ``(n, 7)`` at all places; coordinates and what is left over, N."""
        q = q.copy()
        scale = np.array([1.0, 0.8, 1.0, 0.8, 1.0, 1.0, 0.8])
        error = self.balance(q, at) / scale
        size = np.abs(error).max(axis=-1)
        for _ in range(most):
            todo = np.flatnonzero(size > 0.02 * CLOSE)
            if not len(todo):
                break
            here, x, now = q[todo], at[todo], error[todo]
            step = 1e-7
            turned = here[:, None, :] + step * np.eye(7)
            slopes = (self.balance(turned, x[:, None, :]) / scale - now[:, None]) / step
            try:
                move = -np.linalg.solve(np.swapaxes(slopes, -1, -2), now[..., None])[..., 0]
            except np.linalg.LinAlgError:
                break
            move = np.clip(move, -0.05, 0.05)
            part = np.ones(len(todo))
            open_ = np.ones(len(todo), dtype=bool)
            best, after, least = here.copy(), now.copy(), np.full(len(todo), np.inf)
            for _half in range(5):
                tried = here + part[:, None] * move
                found = self.balance(tried, x) / scale
                got = np.abs(found).max(axis=-1)
                got = np.where(np.isfinite(got), got, np.inf)
                better = open_ & (got < least)
                best[better], after[better], least[better] = tried[better], found[better], got[better]
                open_ &= ~(got < (1.0 - 0.2 * part) * size[todo])
                if not open_.any():
                    break
                part = np.where(open_, 0.5 * part, part)
            q[todo], error[todo], size[todo] = best, after, least
        return q, size

    def in_order(self, q: Array, where: Array, left: Array) -> tuple[Array, Array, Array, HillRun]:
        """Everything in the order in which the rig comes past it, and what is shown of it."""
        lost = np.flatnonzero(left > CLOSE)
        if len(lost):
            q = q.copy()
            q[lost] = self.start(where[lost, 0], where[lost, 1])[0]
        order = np.argsort(self.places(q, where)["begin"], kind="stable")
        q, where, left = q[order], where[order], left[order]
        return q, where, left, self.run(q, where, left)

    def run(self, q: Array, where: Array, left: Array) -> HillRun:
        """What is shown of it."""
        force = self.forces(q, where)
        at = force["begin"]
        names = ("fl", "fr", "rl", "rr")
        push = np.stack([force[f"push_{k}"] for k in names], axis=-1)
        slope = np.stack([force[f"slope_{k}"] for k in names], axis=-1)
        normal = push * np.hypot(1.0, slope)
        if self.plane:  # what holds it up is plumb; square to the ground is its part
            normal = normal * np.cos(q[:, [1, 1, 3, 3]])
        drive = force["level"][:, None] * np.stack([force[f"share_{k}"] for k in names], axis=-1)
        rests = left <= CLOSE
        tips = _tips(normal, rests, self.rig.weight)
        normal, drive = (np.where(rests[:, None], v, np.nan) for v in (normal, drive))
        x = np.stack([force["x_f"], force["x_f"], force["x_r"], force["x_r"]], axis=-1)
        z = np.stack([force[f"z_{k}"] for k in names], axis=-1)
        turn = np.stack([force["turn_f"], force["turn_f"], force["turn_r"], force["turn_r"]], axis=-1)
        radius = np.array([self.rig.front.radius] * 2 + [self.rig.rear.radius] * 2)
        spring = np.zeros(len(at))
        for name, a in (("f", self.rig.front), ("r", self.rig.rear)):
            load = a.carried - a.rate * force[f"over_{name}"]
            spring += (
                0.5 * np.where(load > 0.0, 1.0, LOOSE) * load**2 / a.rate
                + 0.5 * a.roll_rate * force[f"lean_{name}"] ** 2
            )
            for side in "lr":
                spring += 0.5 * force[f"stop_{name}{side}"] ** 2 / STOP
        spring += 0.5 * (push**2).sum(axis=-1) / GROUND
        energy = force["energy"] + spring
        root = np.hypot(1.0, slope)
        way = (np.diff(x, axis=0) + _mean(slope) * np.diff(z, axis=0)) / _mean(root) + radius * np.diff(turn, axis=0)
        work = np.concatenate([[0.0], np.cumsum((_mean(np.nan_to_num(drive)) * way).sum(axis=-1))])
        return HillRun(
            self.rig, at, force["pitch"], q[:, 6], q[:, [1, 3]], q[:, [4, 5]], normal, drive, slope, x,
            z, np.stack([at, force["origin"]], axis=-1), left, rests, tips, work, energy - energy[0], self.plane,
        )  # fmt: skip


def _mean(v: Array) -> Array:
    return 0.5 * (v[1:] + v[:-1])

"""Edits of whole layouts: copy one to try something, take one away, use another."""

from __future__ import annotations

import msgspec

from stoutlink.core.document.hole_points import with_holes
from stoutlink.core.document.layout import Joint, Layout, PivotEnd
from stoutlink.core.document.leaf_eyes import LEAF_WORDS, LeafPoint, leaf_with
from stoutlink.core.document.paths import accept, get_value, with_value
from stoutlink.core.document.project import Entry, Project, part_of, with_parts
from stoutlink.core.document.quantities import Point
from stoutlink.core.editing.edits import Edit, MovePivot
from stoutlink.core.editing.notes import noted, without_notes
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.quantity.shown import edit_text

MOST = 60
"""Layouts a project holds."""


def _found(project: Project, layout: str) -> Layout:
    for one in project.linkage.layouts:
        if one.id == layout:
            return one
    raise ValueOutOfRange("D123", f"There is no layout “{layout}”.")


def _with_partner(layout: Layout, link_id: str) -> tuple[str, ...]:
    """A link and, in a mirrored layout, its partner."""
    link = layout.link(link_id)
    if link is None:
        raise ValueOutOfRange("D124", f"There is no link “{link_id}” in {layout.name}.")
    partner = layout.partner(link) if layout.mirrored else None
    return (link.id,) if partner is None else (link.id, partner.id)


class CopyLayout(Edit, frozen=True):
    """Copy a layout under a new id and name, notes on its numbers included; work goes on in the copy, held against
    the original.
    """

    layout: str
    new: str
    name: str

    @property
    def label(self) -> str:
        return "Copy the layout"

    def change(self, project: Project) -> Project:
        old = _found(project, self.layout)
        if len(project.linkage.layouts) >= MOST:
            raise ValueOutOfRange(
                "D127",
                f"The project holds {len(project.linkage.layouts)} layouts already; {MOST} is the most it takes.",
            )
        if any(one.id == self.new for one in project.linkage.layouts):
            raise ValueOutOfRange("D112", f"layouts holds “{self.new}” twice.")
        copy = msgspec.structs.replace(old, id=self.new, name=self.name[:120])
        here, there = f"layouts.{old.id}.", f"layouts.{self.new}."
        notes = tuple(
            msgspec.structs.replace(e, field=there + e.field.removeprefix(here))
            for e in project.entries
            if e.field.startswith(here)
        )
        return with_parts(
            project,
            layouts=(*project.linkage.layouts, copy),
            entries=(*project.entries, *notes) if notes else project.entries,
            **{f"{old.end}_layout": self.new, f"{old.end}_compare": old.id},
        )


class TakeLayout(Edit, frozen=True):
    """Take a layout away with its notes; another of the same end comes into use if it was the one in use."""

    layout: str

    @property
    def label(self) -> str:
        return "Remove the layout"

    def change(self, project: Project) -> Project:
        old = _found(project, self.layout)
        rest = tuple(one for one in project.linkage.layouts if one.id != old.id)
        same = [one.id for one in rest if one.end == old.end]
        used, held = f"{old.end}_layout", f"{old.end}_compare"
        now, against = part_of(project, used), part_of(project, held)
        if now == old.id:
            now = against if against in same else same[0] if same else None
        if against in (old.id, now):
            against = None
        after = with_parts(project, layouts=rest, **{used: now, held: against})
        return without_notes(after, lambda path: path.startswith(f"layouts.{old.id}."))


class UseLayout(Edit, frozen=True):
    """Put a layout to use at its end, held against ``against`` (an id, or ``None``)."""

    layout: str
    against: str | None

    @property
    def label(self) -> str:
        return "Use another layout"

    def change(self, project: Project) -> Project:
        one = _found(project, self.layout)
        against = None if self.against == self.layout else self.against
        return with_parts(project, **{f"{one.end}_layout": one.id, f"{one.end}_compare": against})


class PutLayout(Edit, frozen=True):
    """Take in a layout with the joints it needs and put it to use: a new one is held against the one in use before,
    one whose id is known already takes its place (another kind, an answer of a search). Notes on numbers that changed
    go."""

    layout: Layout
    joints: tuple[Joint, ...]
    words: str

    @property
    def label(self) -> str:
        return self.words

    def change(self, project: Project) -> Project:
        new = self.layout
        old = next((one for one in project.linkage.layouts if one.id == new.id), None)
        if old is None and len(project.linkage.layouts) >= MOST:
            raise ValueOutOfRange(
                "D127",
                f"The project holds {len(project.linkage.layouts)} layouts already; {MOST} is the most it takes.",
            )
        more = tuple(j for j in self.joints if project.joint(j.id) is None)
        changes: dict[str, object] = {"joints": (*project.linkage.joints, *more)} if more else {}
        if old is None:
            used = part_of(project, f"{new.end}_layout")
            changes |= {
                "layouts": (*project.linkage.layouts, new),
                f"{new.end}_layout": new.id,
                f"{new.end}_compare": used,
            }
        else:
            changes |= {
                "layouts": tuple(new if one.id == new.id else one for one in project.linkage.layouts),
                f"{new.end}_layout": new.id,
            }
        after = with_parts(project, **changes)
        if old is not None:
            after = without_notes(after, lambda path: self._stale(project, path))
        return after

    def _stale(self, project: Project, path: str) -> bool:
        """Whether a note is on a number of this layout that is gone or another now."""
        head = f"layouts.{self.layout.id}."
        if not path.startswith(head):
            return False
        inner = path.removeprefix(head)
        try:
            return bool(get_value(self.layout, inner) != get_value(_found(project, self.layout.id), inner))
        except KeyError:
            return True


class FitHoles(Edit, frozen=True):
    """Bolt pivots into other holes of their brackets: (bracket id, hole) each."""

    layout: str
    holes: tuple[tuple[str, int], ...]

    @property
    def label(self) -> str:
        return "Fit other holes"

    def change(self, project: Project) -> Project:
        layout = _found(project, self.layout)
        try:
            bolted = with_holes(layout, self.holes)
        except KeyError as why:
            raise ValueOutOfRange("D139", f"{layout.name} has no bracket “{why.args[0]}”.") from None
        except ValueError as why:
            raise ValueOutOfRange("D135", str(why)) from None
        gone = {
            f"layouts.{layout.id}.links.{new.id}.{end}_pivot_m.{k}"
            for old, new in zip(layout.links, bolted.links, strict=True)
            for end, was, now in (
                ("frame", old.frame_pivot_m, new.frame_pivot_m),
                ("axle", old.axle_pivot_m, new.axle_pivot_m),
            )
            for k in range(3)
            if was[k] != now[k]
        }
        after = with_value(project, f"layouts.{layout.id}", bolted)
        return without_notes(after, gone.__contains__)


class FollowRails(Edit, frozen=True):
    """Put pivots where the rails they were put on are now: (link id, place, m) each; partners follow."""

    layout: str
    places: tuple[tuple[str, Point], ...]

    @property
    def label(self) -> str:
        return "Follow the rails"

    def change(self, project: Project) -> Project:
        after, done = project, set()
        for link_id, to in self.places:
            layout = _found(after, self.layout)
            link = layout.link(link_id)
            if link is None or link_id in done:
                continue
            done |= {name for name, _ in layout.moved_with(link, "frame")}
            anchor = next((a for a in layout.anchors if a.id == f"{link_id}:frame"), None)
            across, up = (anchor.across, anchor.up) if anchor is not None else (None, None)
            after = MovePivot(layout.id, link_id, "frame", to, across=across, up=up).change(after)
        return after


class MovePoint(Edit, frozen=True):
    """Put a single point of the project (an end of the drag link) somewhere, by its path."""

    path: str
    to: Point
    words: str
    gesture: str = ""

    @property
    def label(self) -> str:
        return f"Move {self.words}"

    @property
    def merge_key(self) -> str | None:
        return f"point {self.path} {self.gesture}" if self.gesture else None

    def change(self, project: Project) -> Project:
        before = get_value(project, self.path)
        for i, value in enumerate(self.to):
            accept(project, f"{self.path}.{i}", value)
        after = with_value(project, self.path, self.to)
        gone = {f"{self.path}.{i}" for i in range(3) if before[i] != self.to[i]}
        return without_notes(after, gone.__contains__)


class MoveLeaf(Edit, frozen=True):
    """Put an eye, the seat or the shackle's hanger of a leaf spring somewhere; both springs stay alike."""

    layout: str
    which: LeafPoint
    to: Point
    gesture: str = ""

    @property
    def label(self) -> str:
        return f"Move {LEAF_WORDS[self.which][0].lower()}{LEAF_WORDS[self.which][1:]}"

    @property
    def merge_key(self) -> str | None:
        return f"leaf {self.layout} {self.which} {self.gesture}" if self.gesture else None

    def change(self, project: Project) -> Project:
        layout = _found(project, self.layout)
        before, leaf = layout.leaf, leaf_with(layout, self.which, self.to, project.rig.wheelbase_m)
        if before is None or leaf is None:
            raise ValueOutOfRange("D157", f"{layout.name} has no leaf springs.")
        at = f"layouts.{layout.id}.leaf"
        fields = [n for n in leaf.__struct_fields__ if getattr(leaf, n) != getattr(before, n)]
        for name in fields:
            if name != "flipped_shackle":
                accept(project, f"{at}.{name}", getattr(leaf, name))
        after = with_value(project, at, leaf)
        return without_notes(after, {f"{at}.{name}" for name in fields}.__contains__)


class LockLength(Edit, frozen=True):
    """Keep a link's length (and its mirrored partner's) while its pivots are moved, or let it change again."""

    layout: str
    link: str
    locked: bool

    @property
    def label(self) -> str:
        return "Keep the link's length" if self.locked else "Let the link's length change"

    def change(self, project: Project) -> Project:
        layout = _found(project, self.layout)
        both = _with_partner(layout, self.link)
        links = tuple(
            msgspec.structs.replace(one, length_locked=self.locked) if one.id in both else one for one in layout.links
        )
        return with_value(project, f"layouts.{layout.id}", msgspec.structs.replace(layout, links=links))


class SetTube(Edit, frozen=True):
    """Give a link, and its mirrored partner, a tube: outside and wall, m."""

    layout: str
    link: str
    outside: float
    wall: float

    @property
    def label(self) -> str:
        return "Take another tube"

    def change(self, project: Project) -> Project:
        layout = _found(project, self.layout)
        after = project
        for one in _with_partner(layout, self.link):
            at = f"layouts.{layout.id}.links.{one}"
            accept(project, f"{at}.tube_od_m", self.outside)
            accept(project, f"{at}.tube_wall_m", self.wall)
            changed = msgspec.structs.replace(get_value(after, at), tube_od_m=self.outside, tube_wall_m=self.wall)
            after = with_value(after, at, changed)
            for key, value in (("tube_od_m", self.outside), ("tube_wall_m", self.wall)):
                path = f"{at}.{key}"
                chosen = Entry(field=path, text=edit_text(value, "length", project.settings.units))
                after = noted(after, [path], chosen)
        return after


class OwnJoint(Edit, frozen=True):
    """A joint of one's own, made after the one at a link's end and put there; of a mirrored pair at both."""

    layout: str
    link: str
    end: PivotEnd
    name: str

    @property
    def label(self) -> str:
        return f"Joint {self.name}"

    def change(self, project: Project) -> Project:
        layout = _found(project, self.layout)
        both = _with_partner(layout, self.link)
        link = layout.link(self.link)
        assert link is not None
        old = project.joint((link.frame_end if self.end == "frame" else link.axle_end).joint)
        known = {one.id for one in project.linkage.joints}
        new = next(f"own-{n}" for n in range(1, len(known) + 2) if f"own-{n}" not in known)
        joint = (
            Joint(id=new, name=self.name)
            if old is None
            else msgspec.structs.replace(old, id=new, name=self.name, example=False)
        )
        project = with_parts(project, joints=(*project.linkage.joints, joint))
        for one in both:
            project = with_value(project, f"layouts.{layout.id}.links.{one}.{self.end}_end.joint", new)
        return project

"""Edits of the log: a reading as built, the layout it makes, what was felt, a run's settings put back, care done, a photo."""

from __future__ import annotations

import msgspec

from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.log import BUILT_WORDS, TWO_POINTS, BuiltReading, CareDone, Felt, FeltWord
from stoutlink.core.document.paths import get_value, with_value
from stoutlink.core.document.project import Project, part_of, with_parts
from stoutlink.core.editing.bench_edits import put
from stoutlink.core.editing.edits import Edit
from stoutlink.core.errors import ValueOutOfRange


class TakeBuilt(Edit, frozen=True):
    """Write a reading of a finished axle down behind the earlier ones."""

    reading: BuiltReading

    @property
    def label(self) -> str:
        return f"Read {BUILT_WORDS[self.reading.of]}"

    def change(self, project: Project) -> Project:
        one = self.reading
        lacks = one.of in TWO_POINTS and (not one.b or one.a == one.b)
        if lacks or (one.of != "pinion" and not one.a):
            between = "goes between two points" if one.of in TWO_POINTS else "is of a point or a link"
            raise ValueOutOfRange("V110", f"A reading {BUILT_WORDS[one.of]} {between}.", "Pick what it was read of.")
        readings = project.log.built.readings
        one = msgspec.structs.replace(one, id=free_id("read-", (r.id for r in readings)))
        return with_value(project, "log.built.readings", (*readings, one))


class TakeAsBuilt(Edit, frozen=True):
    """Take an axle as built among the layouts, in place of an earlier one of the same name, and hold the layout in use against it."""

    layout: Layout

    @property
    def label(self) -> str:
        return "Take the layout as built"

    def change(self, project: Project) -> Project:
        one = self.layout
        after = with_parts(project, layouts=put(project.linkage.layouts, one))
        return with_parts(after, **{f"{one.end}_compare": one.id})


class MarkFelt(Edit, frozen=True):
    """Say that a thing was felt or seen in a run, and how much; 0 takes it back."""

    run: str
    what: FeltWord
    much: int

    @property
    def label(self) -> str:
        return "Say what was felt"

    def change(self, project: Project) -> Project:
        felt: tuple[Felt, ...] = get_value(project, f"log.runs.{self.run}.felt")
        old = next((f for f in felt if f.id == self.what), Felt(id=self.what))
        rest = (
            tuple(f for f in felt if f.id != self.what)
            if self.much == 0
            else put(felt, msgspec.structs.replace(old, much=self.much))
        )
        return with_value(project, f"log.runs.{self.run}.felt", rest)


class PutBack(Edit, frozen=True):
    """Put both axles and the pressures as ``then`` has them: a project made of this one with a run's settings."""

    then: Project
    name: str

    @property
    def label(self) -> str:
        return f"Put back as in {self.name}"[:120]

    def change(self, project: Project) -> Project:
        layouts = project.linkage.layouts
        for one in self.then.linkage.layouts:
            old = next((x for x in layouts if x.id == one.id), None)
            if old is not None and old != one:
                layouts = put(layouts, one)
        changed = {
            name: part_of(self.then, name)
            for name in ("front_layout", "rear_layout")
            if part_of(self.then, name) != part_of(project, name)
        }
        rig = project.rig
        for end in ("front", "rear"):
            pressure = self.then.rig.end(end).trail_pressure_pa
            if pressure != rig.end(end).trail_pressure_pa:
                wheels = msgspec.structs.replace(rig.end(end), trail_pressure_pa=pressure)
                rig = msgspec.structs.replace(rig, **{end: wheels})
        return with_parts(project, layouts=layouts, rig=rig, **changed)


class CareWasDone(Edit, frozen=True):
    """Write down that something was looked after."""

    item: str
    done: CareDone

    @property
    def label(self) -> str:
        return "Care done"

    def change(self, project: Project) -> Project:
        path = f"log.care.{self.item}.done"
        return with_value(project, path, (*get_value(project, path), self.done))


class AddRunPhoto(Edit, frozen=True):
    """Put a picture by its name to a run."""

    run: str
    photo: str

    @property
    def label(self) -> str:
        return "Add a photo"

    def change(self, project: Project) -> Project:
        path = f"log.runs.{self.run}.photos"
        photos: tuple[str, ...] = get_value(project, path)
        return project if self.photo in photos else with_value(project, path, (*photos, self.photo))

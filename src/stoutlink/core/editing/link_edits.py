"""Edits at the bench: read a length, take a reading back, bring a link a stage on or back, read a housing's stations."""

from __future__ import annotations

from typing import Literal

import msgspec

from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.document.link_work import LINK_STAGES, LinkReading, LinkStage, is_cut
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.stations import (
    STATION_WORDS,
    StationOf,
    StationReading,
    Stations,
    StationStage,
    StraightReading,
)
from stoutlink.core.editing.edits import Edit
from stoutlink.core.errors import ValueOutOfRange

STAGE_WORDS: dict[str, str] = {
    "planned": "planned", "measured": "measured for", "cut": "cut", "tacked": "tacked", "welded": "welded", "final": "final",
}  # fmt: skip


def _with_link(project: Project, layout_id: str, link_id: str, **changes: object) -> Project:
    """The project with a link of a layout changed."""
    layout, _ = find_link(project, layout_id, link_id)
    links = tuple(msgspec.structs.replace(x, **changes) if x.id == link_id else x for x in layout.links)
    changed = msgspec.structs.replace(layout, links=links)
    return with_parts(project, layouts=tuple(changed if x.id == layout_id else x for x in project.linkage.layouts))


def find_link(project: Project, layout_id: str, link_id: str) -> tuple[Layout, Link]:
    """A link and its layout; raises :class:`ValueOutOfRange` where there is none."""
    layout = next((x for x in project.linkage.layouts if x.id == layout_id), None)
    link = None if layout is None else layout.link(link_id)
    if layout is None or link is None:
        raise ValueOutOfRange("D159", f"There is no link “{link_id}” in “{layout_id}”.")
    return layout, link


class ReadLength(Edit, frozen=True):
    """Write down a length read pin to pin; a link that was only planned counts as measured for from then on."""

    layout: str
    link: str
    reading: LinkReading

    @property
    def label(self) -> str:
        return "Read a length"

    def change(self, project: Project) -> Project:
        _, link = find_link(project, self.layout, self.link)
        stage = "measured" if link.stage == "planned" else link.stage
        reading = msgspec.structs.replace(self.reading, stage=stage)
        return _with_link(project, self.layout, self.link, readings=(*link.readings, reading), stage=stage)


class TakeReadingBack(Edit, frozen=True):
    """Take the last reading of a link back; with the last one before the cut it is only planned again."""

    layout: str
    link: str

    @property
    def label(self) -> str:
        return "Take a reading back"

    def change(self, project: Project) -> Project:
        _, link = find_link(project, self.layout, self.link)
        if not link.readings:
            raise ValueOutOfRange("D160", f"{link.name} has no reading to take back.")
        rest = link.readings[:-1]
        stage = "planned" if link.stage == "measured" and not any(r.stage == "measured" for r in rest) else link.stage
        return _with_link(project, self.layout, self.link, readings=rest, stage=stage)


class SetLinkStage(Edit, frozen=True):
    """Bring a link to a stage. What it is cut for is kept from the cut on: a pivot moved later turns its ends, it does
    not cut it again. ``length`` is pin to pin at the take-ups typed, m: what the cut list says at that moment.
    """

    layout: str
    link: str
    stage: LinkStage
    length: float

    @property
    def label(self) -> str:
        return f"Link {STAGE_WORDS[self.stage]}"

    def change(self, project: Project) -> Project:
        _, link = find_link(project, self.layout, self.link)
        if self.stage == "measured" and not any(r.stage == "measured" for r in link.readings):
            raise ValueOutOfRange("D161", f"{link.name} is not measured yet: read it pin to pin first.")
        if LINK_STAGES.index(self.stage) >= LINK_STAGES.index("tacked"):
            for end, word in ((link.frame_end, "frame"), (link.axle_end, "axle")):
                if end.insert_od_m is not None and end.bore_m is None:
                    raise ValueOutOfRange(
                        "D163",
                        f"{link.name}: measure the bore at the {word} end before the insert goes in; nothing is forced into a tube.",
                    )
                if end.insert_od_m is not None and end.bore_m is not None and end.bore_m < end.insert_od_m:
                    raise ValueOutOfRange(
                        "D164",
                        f"{link.name}: the bore at the {word} end is smaller than the insert; ream it to size first.",
                    )
        made = None if not is_cut(self.stage) else link.made_m if link.made_m is not None else self.length
        return _with_link(project, self.layout, self.link, stage=self.stage, made_m=made)


class ReadStation(Edit, frozen=True):
    """Write down a length read along a housing."""

    end: Literal["front", "rear"]
    reading: StationReading

    @property
    def label(self) -> str:
        return "Read a station"

    def change(self, project: Project) -> Project:
        one = next((s for s in project.fabrication.stations if s.id == self.end), Stations(id=self.end))
        after = msgspec.structs.replace(one, readings=(*one.readings, self.reading))
        others = tuple(s for s in project.fabrication.stations if s.id != self.end)
        return with_parts(project, stations=(*others, after))


class TakeStationBack(Edit, frozen=True):
    """Take the last reading of a length at a stage back."""

    end: Literal["front", "rear"]
    of: StationOf
    stage: StationStage

    @property
    def label(self) -> str:
        return "Take a station back"

    def change(self, project: Project) -> Project:
        one = next((s for s in project.fabrication.stations if s.id == self.end), None)
        mine = (
            [] if one is None else [i for i, r in enumerate(one.readings) if r.of == self.of and r.stage == self.stage]
        )
        if one is None or not mine:
            raise ValueOutOfRange("D165", f"Nothing was read of {STATION_WORDS[self.of]} at that stage.")
        left = tuple(r for i, r in enumerate(one.readings) if i != mine[-1])
        after = msgspec.structs.replace(one, readings=left)
        return with_parts(
            project, stations=tuple(after if s.id == self.end else s for s in project.fabrication.stations)
        )


class ReadStraight(Edit, frozen=True):
    """Write down how far an end of a housing misses the bar; a later reading of that stage counts before this one."""

    end: Literal["front", "rear"]
    reading: StraightReading

    @property
    def label(self) -> str:
        return "Read an end against the bar"

    def change(self, project: Project) -> Project:
        one = next((s for s in project.fabrication.stations if s.id == self.end), Stations(id=self.end))
        after = msgspec.structs.replace(one, straight=(*one.straight, self.reading))
        others = tuple(s for s in project.fabrication.stations if s.id != self.end)
        return with_parts(project, stations=(*others, after))

"""What is traced from a photograph given to what it is of: a pivot, stations of the tape, something in the way."""

from __future__ import annotations

from collections.abc import Sequence

from stoutlink.core.document.ids import free_id
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.plane_picture import PlanePicture, Traced
from stoutlink.core.document.project import Entry, Project
from stoutlink.core.document.survey import Across, Datum, OutlineSolid, PointKind, Reading, Survey, SurveyPoint
from stoutlink.core.editing.edits import Edit, PutInList, SetNumber
from stoutlink.core.editing.notes import noted

Sure = tuple[tuple[float, float], tuple[float, float]]
"""A place in the plane's two coordinates, m, and 1 σ of each."""
HALF_THICK = 0.05
"""A traced outline is taken so far to either side of its plane, m, until somebody says how thick it is."""
WANTED = 0.02
"""Clearance wanted around what is traced, m, before its own ±."""
MOST_WANTED = 0.3
ON_MIDDLE = 0.002
"""Nearer than this to the middle, m, is on it."""


class PivotFromPicture(Edit, frozen=True):
    """Move a pivot by ``move`` and note of two of its numbers (``paths``) that they were traced, with 1 σ of each."""

    move: Edit
    paths: tuple[str, ...]
    sigmas: tuple[float, ...]

    @property
    def label(self) -> str:
        return f"{self.move.label} as in the photo"

    def change(self, project: Project) -> Project:
        after = self.move.change(project)
        for path, sigma in zip(self.paths, self.sigmas, strict=True):
            after = noted(after, [path], Entry(field=path, text="", basis="measured", sigma=sigma))
        return after


class StandOn(Edit, frozen=True):
    """Have a mark of a picture stand on a known place: its name, both coordinates, m, and 1 σ of each."""

    picture: str
    mark: str
    name: str
    at: tuple[float, float]
    sigmas: tuple[float, float]

    @property
    def label(self) -> str:
        return f"Mark on {self.name}"

    def change(self, project: Project) -> Project:
        head = f"photos.{self.picture}.marks.{self.mark}"
        after = with_value(project, f"{head}.name", self.name[:80])
        for key, value, sigma in zip(("across_m", "up_m"), self.at, self.sigmas, strict=True):
            after = SetNumber(f"{head}.{key}", round(value, 5), "", "measured", "", sigma).change(after)
        return after


def stations_from(
    project: Project,
    picture: PlanePicture,
    traced: Traced,
    corners: Sequence[Sure],
    across: float,
    across_sigma: float,
    kind: PointKind = "rail",
) -> PutInList:
    """The edit that puts the corners of something traced into a survey of its own, in vehicle axes: two readings of each by their ±, the third is how far
    ``across`` the view it stands, m (1 σ ``across_sigma``)."""
    key = f"photo-{picture.id}"[:48]
    before = project.survey(key)
    points = () if before is None else before.points
    new: list[SurveyPoint] = []
    for (a, b), (sa, sb) in corners:
        x, y, z, sx, sy, sz = {
            "side": (a, across, b, sa, across_sigma, sb),
            "plan": (a, b, across, sa, sb, across_sigma),
            "rear": (across, a, b, across_sigma, sa, sb),
        }[picture.view]
        side: Across = "middle" if abs(y) < ON_MIDDLE else "left" if y > 0.0 else "right"
        new.append(
            SurveyPoint(
                id=free_id("p", (p.id for p in (*points, *new))),
                name=traced.name if len(corners) == 1 else "",
                kind=kind,
                across=side,
                station=(_read(x),),
                height=(_read(z),),
                side=() if side == "middle" else (_read(abs(y)),),
                station_sigma_m=round(sx, 6),
                height_sigma_m=round(sz, 6),
                side_sigma_m=round(sy, 6),
            )
        )
    survey = Survey(
        id=key,
        name=f"From {picture.name}"[:120] if before is None else before.name,
        notes="Traced from a photo, in the plane that was marked there." if before is None else before.notes,
        datum=Datum(zero_x_m=0.0, zero_sigma_m=0.0) if before is None else before.datum,
        points=(*points, *new),
    )
    return PutInList("surveys", survey, f"Take {traced.name or traced.kind} from the photo to the tape")


def _read(value: float) -> Reading:
    return Reading(value_m=round(value, 5))


def solid_from(
    project: Project, picture: PlanePicture, traced: Traced, corners: Sequence[Sure], across: float
) -> tuple[str, PutInList]:
    """The id of a flat thing in the way made of an outline traced ``across`` the view, m, and the edit that puts it there; the clearance wanted around it grows by its ±
    (2 σ of the worst corner)."""
    new = free_id("traced-", (s.id for s in project.tape.solids))
    worst = max((s for _, sigma in corners for s in sigma), default=0.0)
    solid = OutlineSolid(
        id=new,
        name=(traced.name.strip() or f"Traced from {picture.name}")[:120],
        kind=traced.solid,
        view=picture.view,
        outline_m=tuple((round(a, 5), round(b, 5)) for (a, b), _ in corners),
        low_m=round(across - HALF_THICK, 5),
        high_m=round(across + HALF_THICK, 5),
        clearance_m=round(min(MOST_WANTED, WANTED + 2.0 * worst), 5),
    )
    return new, PutInList("solids", solid, f"Take {solid.name} from the photo")

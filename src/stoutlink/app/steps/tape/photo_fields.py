"""What the photo look says and asks: its words, groups of fields, hands."""

from __future__ import annotations

from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.advice.picture_rules import across_words, mark_name, traced_words
from stoutlink.core.analysis.survey.traced import PictureFit, TracedPlaces
from stoutlink.core.document.plane_picture import PictureMark, PlanePicture, Traced
from stoutlink.core.document.survey import SOLID_NAMES
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.text import begun

VIEWS = (("side", "side view"), ("plan", "plan"), ("rear", "rear view"))
ACROSS_WORDS = {"side": "plane, left of middle", "plan": "plane, above ground", "rear": "plane, ahead of axle"}
AXIS_WORDS = {"side": ("ahead of axle", "above ground"), "plan": ("ahead of axle", "left of middle"), "rear": ("left of middle", "above ground")}  # fmt: skip
GROUPS = (
    ("picture", "Photo", "Which view and plane it shows, the lens, how surely a click hits."),
    ("mark", "Mark", "A place that is known: type it, or take one the rig has already."),
    ("traced", "Traced", "What is traced, how far it stands off the plane, and where it goes."),
)
HANDS = (
    ("", "Look", "Move and enlarge the photo; pick and drag what is on it."),
    ("mark", "Mark", "Each click sets a mark whose place you then say."),
    ("point", "Point", "Each click traces a point, such as a pivot."),
    ("line", "Line", "Clicks trace an edge, such as a rail; Enter or a double click ends it."),
    ("outline", "Outline", "Clicks trace round something in the way; Enter or a click on the first corner closes it."),
)
NET = {"in": 0.3048, "mm": 0.25}
CAUTION = (
    "Only what lies in the marked plane is measured; off it, say by how much. Measure again by tape before you cut."
)


NO_PHOTO = "Measure in a photo what the tape does not reach: drop one in, or press “Photo…”."


def entries(one: PlanePicture, group: str, mark: PictureMark | None, traced: Traced | None) -> list[Entry]:
    """The fields of a group."""
    at = f"photos.{one.id}"
    if group == "picture":
        yes = ((True, "yes"), (False, "no"))
        return [
            Entry(f"{at}.name", "name", "text"),
            Entry(f"{at}.view", "shows", "choice", VIEWS),
            Entry(f"{at}.depth_m", ACROSS_WORDS[one.view]),
            Entry(f"{at}.focal_mm", "focal length, mm"),
            Entry(f"{at}.click_px", "a click, ± pixels"),
            Entry(f"{at}.straight", "lens", "choice", ((False, "as marks say"), (True, "straight"))),
            Entry(f"{at}.shown", "under the views", "choice", yes),
        ]
    if group == "mark" and mark is not None:
        head = f"{at}.marks.{mark.id}"
        across, up = AXIS_WORDS[one.view]
        return [
            Entry(f"{head}.name", "name", "text"),
            Entry(f"{head}.across_m", across),
            Entry(f"{head}.up_m", up),
        ]
    if group == "traced" and traced is not None:
        head = f"{at}.traced.{traced.id}"
        out = [Entry(f"{head}.name", "name", "text"), Entry(f"{head}.off_m", "off the plane")]
        if traced.kind == "outline":
            out.append(Entry(f"{head}.solid", "it is", "choice", tuple(SOLID_NAMES.items())))
        return out
    return []


def picked_words(
    one: PlanePicture,
    found: PictureFit,
    places: tuple[TracedPlaces, ...],
    mark: PictureMark | None,
    traced: Traced | None,
    unit: UnitSystem,
) -> str:
    """What is to be said of the thing picked."""
    if mark is not None:
        if mark.place is None:
            return f"{begun(mark_name(one, mark))}: say where it is; it counts once both numbers are there."
        if found.fit is None:
            return begun(mark_name(one, mark))
        k = [m.id for m in found.marks].index(mark.id)
        miss = float((found.fit.residual[k] ** 2).sum() ** 0.5)
        checked = found.fit.w[k] == found.fit.w[k]
        tail = f", {found.fit.w[k]:.1f} times its ±" if checked else "; nothing checks it"
        return f"{begun(mark_name(one, mark))} misses by {miss:.1f} pixels{tail}."
    if traced is not None:
        had = next(p for p in places if p.traced.id == traced.id)
        tail = "" if had.why is not None else f"; {across_words(had, one, unit)}"
        return traced_words(had, one, unit) + tail
    return "Four marks or more, well apart in both directions, settle the plane." if found.fit is None else ""


def names_of(one: PlanePicture | None, places: tuple[TracedPlaces, ...]) -> tuple[tuple[str, str], ...]:
    """What stands beside each mark and each thing traced."""
    if one is None:
        return ()
    out = [(m.id, m.name.strip() or f"{k}") for k, m in enumerate(one.marks, 1)]
    return (*out, *((p.traced.id, p.traced.name) for p in places))

"""Pictures in a project: places of what is traced, findings on both sides of each threshold, what is made of them, what is laid
under the views. Pictures are rendered by a camera written apart."""

from __future__ import annotations

from pathlib import Path

import msgspec
import numpy as np
import pytest
from PIL import ExifTags, Image
from scipy.stats import chi2

from stoutlink.core.advice.picture_rules import WHY, across_words, fit_words, odd_marks, traced_words, worst_usual
from stoutlink.core.document.plane_picture import PictureMark, PictureView, PlanePicture, Traced
from stoutlink.core.document.project import Entry, Project, with_parts
from stoutlink.core.drawing.picture_plane import laid_true, net_lines, plane_box
from stoutlink.core.drawing.round_view import Scene
from stoutlink.core.drawing.solids import Thing
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.picture_edits import PivotFromPicture, StandOn, solid_from, stations_from
from stoutlink.core.editing.pivots import move
from stoutlink.core.errors import FileError
from stoutlink.core.geometry.mesh import capsule
from stoutlink.core.mechanics.photo_plane import PlaneRefused, Refusal
from stoutlink.core.storage.files import read_project
from stoutlink.core.storage.photos import add_photo, copy_photos, find_photo, photo_facts
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.photo.camera import Array, KnownCamera, on_side
from tests.photo.render import photograph

Y = -0.45
AT = np.array([[0.0, 0.1], [2.6, 0.1], [2.6, 0.9], [0.0, 0.9], [1.3, 0.1], [1.3, 0.9]])
CAMERA = KnownCamera((3.0, -3.0, 1.5), target=(1.3, Y, 0.5), focal=1100.0, size=(1600, 1200))


def in_space(view: PictureView, flat: Array, depth: float) -> Array:
    """Places of a view's plane in vehicle axes."""
    full = np.full(len(flat), depth)
    a, b = flat.T
    return np.column_stack({"side": (a, full, b), "plan": (a, b, full), "rear": (full, a, b)}[view])


def picture_of(
    marks: Array = AT, camera: KnownCamera = CAMERA, view: PictureView = "side", depth: float = Y
) -> PlanePicture:
    pixels = camera.shoot(in_space(view, marks, depth))
    return PlanePicture(
        id="shot", name="Shot", photo="0" * 64 + ".jpg", wide_px=camera.size[0], high_px=camera.size[1], view=view, depth_m=depth, click_px=1.0,
        marks=tuple(PictureMark(id=f"m{k}", pixel=(float(px[0]), float(px[1])), across_m=float(at[0]), up_m=float(at[1])) for k, (at, px) in enumerate(zip(marks, pixels, strict=True))),
    )  # fmt: skip


def study_of(basalt: Project, picture: PlanePicture, *entries: Entry) -> Study:
    return Study(with_parts(basalt, photos=(picture,), entries=(*basalt.entries, *entries)))


def with_traced(picture: PlanePicture, *traced: Traced) -> PlanePicture:
    return msgspec.structs.replace(picture, traced=traced)


def seen(camera: KnownCamera, point: tuple[float, float, float]) -> tuple[float, float]:
    px = camera.shoot(np.array([point]))[0]
    return float(px[0]), float(px[1])


def change(picture: PlanePicture, mark: int, **to: object) -> PlanePicture:
    marks = tuple(msgspec.structs.replace(m, **to) if k == mark else m for k, m in enumerate(picture.marks))
    return msgspec.structs.replace(picture, marks=marks)


def codes(study: Study) -> list[str]:
    return [f.code for f in study.findings_so_far if f.code.startswith("S12")]


@pytest.mark.parametrize(
    ("view", "camera", "depth"),
    [
        ("side", CAMERA, Y),
        ("plan", KnownCamera((1.0, -1.5, 3.5), target=(1.2, 0.3, 0.6), focal=1000.0, size=(1600, 1200)), 0.6),
        ("rear", KnownCamera((-3.0, 0.9, 1.3), target=(0.0, 0.2, 0.5), focal=1000.0, size=(1600, 1200)), 0.1),
    ],
)
@pytest.mark.parametrize("off", [0.0, 0.2, -0.15])
def test_places_in_every_view_and_off_its_plane(
    basalt: Project, view: PictureView, camera: KnownCamera, depth: float, off: float
) -> None:
    """What stands off the plane to the left, up or ahead is carried there in each view."""
    marks = np.array([[0.2, 0.1], [1.6, 0.1], [1.6, 0.9], [0.2, 0.9], [0.9, 0.1], [0.9, 0.9]])
    at = np.array([[0.7, 0.55]])
    point = in_space(view, at, depth + off)[0]
    traced = Traced(id="t", pixels=(seen(camera, (point[0], point[1], point[2])),), off_m=off)
    study = study_of(basalt, with_traced(picture_of(marks, camera, view, depth), traced))
    (had,) = study.traced("shot")
    assert had.why is None
    assert had.places[0].at == pytest.approx(at[0], abs=2e-3)
    assert had.across == pytest.approx(depth + off)
    assert not had.places[0].beyond


def test_the_marks_own_tape_goes_in(basalt: Project) -> None:
    """Marks taped five times as surely make what is traced surer; their default is a tape's 3 mm."""
    sharp = msgspec.structs.replace(picture_of(), click_px=0.3)
    picture = with_traced(sharp, Traced(id="t", pixels=(seen(CAMERA, (1.0, Y, 0.5)),)))
    notes = [
        Entry(field=f"photos.shot.marks.m{k}.{key}", basis="measured", sigma=0.0006)
        for k in range(len(AT))
        for key in ("across_m", "up_m")
    ]
    plain = study_of(basalt, picture).traced("shot")[0].places[0].sigma
    sure = study_of(basalt, picture, *notes).traced("shot")[0].places[0].sigma
    assert max(sure) < 0.6 * max(plain)
    wide = study_of(basalt, msgspec.structs.replace(picture, click_px=8.0)).traced("shot")[0].places[0].sigma
    assert max(wide) > 2.0 * max(plain)


def test_a_mark_counts_once_both_numbers_are_there(basalt: Project) -> None:
    picture = change(picture_of(AT[:4]), 3, up_m=None)
    found = study_of(basalt, picture).picture("shot")
    assert found is not None
    assert (found.fit, found.why, len(found.marks)) == (None, "few", 3)
    assert fit_words(found) == WHY["few"]
    assert study_of(basalt, picture_of(AT[:4])).picture("shot").fit is not None  # type: ignore[union-attr]


def test_a_wrong_mark_is_named_and_only_it(basalt: Project) -> None:
    good = picture_of(np.vstack([AT, [[0.6, 0.4], [2.0, 0.5]]]))
    assert codes(study_of(basalt, good)) == []
    study = study_of(basalt, change(good, 6, name="bracket", up_m=0.46))
    (said,) = [f for f in study.findings_so_far if f.code == "S120"]
    assert "“bracket”" in said.sentence
    assert said.subject == "photo:shot/m6"
    found = study.picture("shot")
    assert found is not None
    assert [m.id for m in odd_marks(found)] == ["m6"]
    assert codes(study_of(basalt, change(good, 6, up_m=0.405))) == []  # 5 mm of a tape's 3 is nothing to say


def test_marks_that_do_not_fit_are_said_without_a_culprit(basalt: Project) -> None:
    """All of them a little off: no single one is out of its bounds, together they are."""
    shifts = 0.0076 * np.random.default_rng(7).choice([-1.0, 1.0], (10, 2))
    many = np.vstack([AT, [[0.6, 0.3], [2.0, 0.3], [0.6, 0.7], [2.0, 0.7]]])
    exact = picture_of(many)
    assert codes(study_of(basalt, exact)) == []
    moved = exact
    for k, (a, b) in enumerate(many + shifts):
        moved = change(moved, k, across_m=float(a), up_m=float(b))
    study = study_of(basalt, msgspec.structs.replace(moved, straight=True))
    assert codes(study) == ["S121"]
    found = study.picture("shot")
    assert found is not None
    assert found.fit is not None
    assert found.fit.unit_sigma is not None
    assert found.fit.unit_sigma > worst_usual(found.fit.spare)
    assert "times what their ± say" in fit_words(found)


def test_how_far_marks_may_miss() -> None:
    """Once in a thousand, by SciPy's χ²."""
    for spare in (2.0, 4.0, 7.0, 12.0, 30.0):
        assert worst_usual(spare) == pytest.approx(float(np.sqrt(chi2.ppf(0.999, spare) / spare)), rel=0.015)


@pytest.mark.parametrize(
    ("camera", "point", "off", "why"),
    [
        (KnownCamera((1.3, -4.0, 0.5), target=(1.3, Y, 0.5), focal=1100.0, size=(1600, 1200)), (1.0, Y, 0.5), 0.1, "no_camera"),
        (CAMERA, (1.0, Y, 0.5), -2.6, "behind"),
        (CAMERA, (1.0, Y, 0.5), 0.1, None),
        (KnownCamera((1.3, -4.0, 0.5), target=(1.3, Y, 0.5), focal=1100.0, size=(1600, 1200)), (1.0, Y, 0.5), 0.0, None),
    ],
)  # fmt: skip
def test_what_cannot_be_had_says_why(
    basalt: Project, camera: KnownCamera, point: tuple[float, float, float], off: float, why: Refusal | None
) -> None:
    traced = Traced(id="t", name="bolt", pixels=(seen(camera, point),), off_m=off)
    study = study_of(basalt, with_traced(picture_of(camera=camera), traced))
    assert study.traced("shot")[0].why == why
    assert codes(study) == ([] if why is None else ["S122"])
    words = traced_words(study.traced("shot")[0], study.project.tape.photos[0], "mm")
    assert (words == WHY[why]) if why is not None else words.startswith("x ")
    stated = msgspec.structs.replace(with_traced(picture_of(camera=camera), traced), focal_mm=camera.focal_35mm)
    if why == "no_camera":  # what the camera states of its lens settles where it stood
        assert study_of(basalt, stated).traced("shot")[0].why is None


def test_every_refusal_has_words_of_its_own() -> None:
    assert len(set(WHY.values())) == len(WHY)
    for why in WHY:
        assert PlaneRefused(why).why == why


def test_known_places_lie_near_the_plane(basalt: Project) -> None:
    rail = study_of(basalt, msgspec.structs.replace(picture_of(), depth_m=-0.42)).known_places("shot")
    names = [k.name for k in rail]
    assert "tail tube, right" in names
    assert not [n for n in names if "left" in n or "wheel" in n]
    wheel = study_of(
        basalt, msgspec.structs.replace(picture_of(), depth_m=-0.5 * basalt.rig.rear.track_m)
    ).known_places("shot")
    assert "rear wheel centre, right" in [k.name for k in wheel]
    assert next(k for k in wheel if k.name.startswith("rear")).at == (0.0, basalt.rig.rear.loaded)
    starter = read_project(demo_file("starter.stoutlink"))
    nobody = msgspec.structs.replace(picture_of(), depth_m=-0.5 * starter.rig.rear.track_m)
    assert study_of(starter, nobody).known_places("shot") == ()  # nobody has said where its wheels are
    study = study_of(basalt, picture_of())
    edit: Edit = StandOn("shot", "m1", "tail tube, right", (0.5, 0.7), (0.004, 0.002))
    after = edit.apply(study.project)
    assert after.tape.photos[0].marks[1].place == (0.5, 0.7)
    assert after.tape.photos[0].marks[1].name == "tail tube, right"
    assert [e.sigma for e in after.entries if e.field.startswith("photos.shot.marks.m1")] == [0.004, 0.002]


def test_where_the_plane_lies_is_not_guessed(basalt: Project) -> None:
    """Places in the plane are had without it; nothing that asks how far across the view a thing is."""
    picture = with_traced(picture_of(), Traced(id="t", pixels=(seen(CAMERA, (1.0, Y, 0.5)),)))
    study = study_of(basalt, msgspec.structs.replace(picture, depth_m=None))
    (had,) = study.traced("shot")
    assert had.places[0].at == pytest.approx((1.0, 0.5), abs=2e-3)
    assert had.across is None
    assert "nobody has said" in across_words(had, picture, "mm")
    assert study.known_places("shot") == ()
    path = "layouts.rear-a.links.lower_left.frame_pivot_m"
    assert study.seen_at("shot", (800.0, 600.0), (1.0, 0.3, 0.5), path, mirrored=True).why == "no_depth"
    (said,) = study_of(basalt, picture).traced("shot")
    assert across_words(said, picture, "mm") == "y -450 mm ± 6 mm as said".replace("-", "−")


def test_a_pivot_moves_to_where_it_is_seen(basalt: Project) -> None:
    """On the far side of a mirrored pair the near one is meant; it is carried from the plane to its own distance across."""
    layout = basalt.layout("rear")
    assert layout is not None
    link = layout.link("lower_left")
    assert link is not None
    at = link.frame_pivot_m
    twin = (at[0] - 0.05, -at[1], at[2] + 0.03)
    study = study_of(basalt, picture_of())
    found = study.seen_at(
        "shot", seen(CAMERA, twin), at, f"layouts.{layout.id}.links.lower_left.frame_pivot_m", mirrored=True
    )
    assert found.why is None
    assert found.at == pytest.approx((twin[0], twin[2]), abs=2e-3)
    near = study.seen_at(
        "shot", seen(CAMERA, twin), at, f"layouts.{layout.id}.links.lower_left.frame_pivot_m", mirrored=False
    )
    assert np.abs(np.array(near.at) - (twin[0], twin[2])).max() > 0.1  # the left one would be elsewhere
    path = f"layouts.{layout.id}.links.lower_left.frame_pivot_m"
    to = (round(found.at[0], 5), at[1], round(found.at[1], 5))
    edit = PivotFromPicture(move(layout, ("lower_left", "frame"), to), (f"{path}.0", f"{path}.2"), found.sigma)
    after = edit.apply(basalt)
    new = after.layout("rear")
    assert new is not None
    assert new.link("lower_left").frame_pivot_m == to  # type: ignore[union-attr]
    assert new.link("lower_right").frame_pivot_m == (to[0], -to[1], to[2])  # type: ignore[union-attr]
    notes = {e.field: e for e in after.entries}
    assert notes[f"{path}.0"].sigma == pytest.approx(found.sigma[0])
    assert notes[f"{path}.2"].sigma == pytest.approx(found.sigma[1])
    assert notes[f"{path}.0"].basis == "measured"


@pytest.mark.parametrize("view", ["side", "plan", "rear"])
def test_corners_become_stations_where_they_are(basalt: Project, view: PictureView) -> None:
    depth = {"side": Y, "plan": 0.6, "rear": 0.4}[view]
    picture = msgspec.structs.replace(picture_of(), view=view, depth_m=depth)
    traced = Traced(id="t", kind="line", pixels=((1.0, 1.0), (2.0, 2.0)), off_m=0.05)
    corners = [((0.3, 0.7), (0.004, 0.006)), ((0.9, 0.5), (0.005, 0.007))]
    after = stations_from(basalt, picture, traced, corners, depth + 0.05, 0.01).apply(basalt)
    placed = Study(after).placed("photo-shot")
    for one, (flat, sigma) in zip(placed, corners, strict=True):
        point = in_space(view, np.array([flat]), depth + 0.05)[0]
        got = (one.x, one.sides[0], one.z)
        assert got == pytest.approx(tuple(point), abs=1e-5)
        assert len(one.sides) == 1
        expected = {"side": (sigma[0], 0.01, sigma[1]), "plan": (*sigma, 0.01), "rear": (0.01, *sigma)}[view]
        assert one.sigma == pytest.approx(expected, abs=1e-6)
    again = stations_from(after, picture, traced, corners[:1], depth + 0.05, 0.01).apply(after)
    assert len(again.survey("photo-shot").points) == 3  # type: ignore[union-attr]


def test_an_outline_becomes_something_in_the_way(basalt: Project) -> None:
    traced = Traced(id="t", name="Tank", kind="outline", pixels=((1.0, 1.0),) * 3, off_m=0.1, solid="fuel_tank")
    corners = [((0.0, 0.5), (0.004, 0.003)), ((0.4, 0.5), (0.004, 0.003)), ((0.4, 0.8), (0.006, 0.003))]
    new, edit = solid_from(basalt, picture_of(), traced, corners, Y + 0.1)
    after = edit.apply(basalt)
    solid = next(s for s in after.tape.solids if s.id == new)
    assert (solid.name, solid.kind) == ("Tank", "fuel_tank")
    assert solid.clearance_m == pytest.approx(0.02 + 2 * 0.006)  # the wanted 20 mm and 2 σ of the worst corner
    assert (solid.low_m, solid.high_m) == pytest.approx((Y + 0.05, Y + 0.15))  # type: ignore[union-attr]
    assert solid.outline_m == tuple(at for at, _ in corners)  # type: ignore[union-attr]


@pytest.mark.parametrize("k1", [0.0, -0.15])
def test_a_rendered_photo_laid_true_shows_things_where_they_are(basalt: Project, k1: float) -> None:
    """Balls rendered in perspective through the lens come out of the laid photo at their places and size."""
    camera = KnownCamera((2.6, -2.6, 1.3), target=(1.3, Y, 0.5), focal=900.0, k1=k1, size=(1600, 1200))
    discs = np.array([[0.5, 0.4], [1.9, 0.7], [1.2, 0.5]])
    radius = 0.05
    things = [
        Thing(f"d{k}", "mark", "", capsule(np.array([x, Y + 0.0005, z]), np.array([x, Y - 0.0005, z]), radius, 48, 12))
        for k, (x, z) in enumerate(discs)
    ]
    shot = photograph(Scene(tuple(things)), camera)
    photo = np.dstack([shot, np.full(shot.shape[:2], 255, dtype=np.uint8)])
    marks = np.vstack([AT, [[0.6, 0.2], [2.0, 0.9], [0.4, 0.8], [2.2, 0.3]]])
    found = study_of(basalt, picture_of(marks, camera)).picture("shot")
    assert found is not None
    laid = laid_true(found, photo)
    assert laid is not None
    orange = (laid.rgba[..., 0].astype(int) - laid.rgba[..., 2] > 60) & (laid.rgba[..., 3] > 0)
    high, wide = orange.shape
    x = laid.low[0] + (np.arange(wide) + 0.5) / wide * (laid.high[0] - laid.low[0])
    z = laid.high[1] - (np.arange(high) + 0.5) / high * (laid.high[1] - laid.low[1])
    for cx, cz in discs:
        near = orange & (np.hypot(x[None, :] - cx, z[:, None] - cz) < 0.15)
        rows, columns = np.nonzero(near)
        assert x[columns].mean() == pytest.approx(cx, abs=0.012)
        assert z[rows].mean() == pytest.approx(cz, abs=0.012)
        aslant = float(np.hypot(cx - camera.eye[0], Y - camera.eye[1]) / abs(Y - camera.eye[1]))
        assert np.ptp(x[columns]) == pytest.approx(2 * radius * aslant, rel=0.06)  # a ball's shadow along the sight
    assert (laid.rgba[..., 3] == 255).any()
    low, _ = plane_box(found)
    assert low[1] >= -0.05


def test_the_net_lies_on_the_plane(basalt: Project) -> None:
    found = study_of(basalt, picture_of()).picture("shot")
    assert found is not None
    lines = net_lines(found, 0.25)
    assert len(lines) > 10
    true = CAMERA.shoot(on_side(np.array([[0.5, z] for z in np.linspace(0.0, 1.0, 60)]), Y))
    nearest = [min(float(np.hypot(*(true - px).T).min()) for px in line) for line in lines]
    assert min(nearest) < 6.0  # the line at 0.5 m is among them


def test_what_a_camera_states(tmp_path: Path) -> None:
    """A telephone writes how it was held and its focal length; the picture's size is as held."""
    image = Image.new("RGB", (640, 480), (90, 100, 110))
    exif = Image.Exif()
    exif[ExifTags.Base.Orientation] = 6
    exif.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.FocalLengthIn35mmFilm] = 26
    image.save(tmp_path / "held.jpg", exif=exif)
    image.save(tmp_path / "plain.png")
    held, plain = photo_facts(tmp_path / "held.jpg"), photo_facts(tmp_path / "plain.png")
    assert (held.wide, held.high, held.focal_mm) == (480, 640, 26.0)
    assert (plain.wide, plain.high, plain.focal_mm) == (640, 480, None)
    (tmp_path / "torn.jpg").write_bytes(b"\xff\xd8\xff" + b"x" * 400)
    with pytest.raises(FileError) as refused:
        photo_facts(tmp_path / "torn.jpg")
    assert refused.value.code == "F156"


def test_photos_go_along_with_their_project(tmp_path: Path) -> None:
    Image.new("RGB", (64, 48), (9, 9, 9)).save(tmp_path / "a.png")
    one, two = tmp_path / "one.stoutlink", tmp_path / "sub" / "two.stoutlink"
    two.parent.mkdir()
    name = add_photo(one, tmp_path / "a.png")
    assert copy_photos((name, "1" * 64 + ".png"), one, two) == ("1" * 64 + ".png",)
    assert find_photo(two, name) is not None


def test_the_demo_photo_says_what_the_rig_is() -> None:
    """The example's photo was rendered from its rig: what is traced in it lies within its ± of where the rig has it."""
    path = demo_file("basalt.stoutlink")
    project = read_project(path)
    study = Study(project)
    (picture,) = project.tape.photos
    there = find_photo(path, picture.photo)
    assert there is not None
    facts = photo_facts(there)
    assert (facts.wide, facts.high, facts.focal_mm) == (picture.wide_px, picture.high_px, picture.focal_mm)
    bolt, tank, _ = study.traced(picture.id)
    layout = project.layout("rear")
    assert layout is not None
    pivot = layout.link("lower_right").frame_pivot_m  # type: ignore[union-attr]
    assert bolt.places[0].at == pytest.approx((pivot[0], pivot[2]), abs=3 * max(bolt.places[0].sigma))
    solid = next(s for s in project.tape.solids if s.id == "tank")
    low, high = solid.low_m, solid.high_m  # type: ignore[union-attr]
    corners = [(low[0], low[2]), (high[0], low[2]), (high[0], high[2]), (low[0], high[2])]  # type: ignore[index]
    for place, corner in zip(tank.places, corners, strict=True):
        assert np.abs(np.array(place.at) - corner) == pytest.approx((0, 0), abs=3 * max(place.sigma))

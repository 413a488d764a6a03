"""Things taken in from meshes: files of other programs, where they stand, and that everything treats them as what they are."""

from __future__ import annotations

import base64
import json
import struct
import time
from pathlib import Path

import msgspec
import numpy as np
import pytest
import trimesh
from scipy.spatial.transform import Rotation
from shapely.geometry import MultiPoint, Polygon

from stoutlink.core.advice.survey_rules import mesh_findings
from stoutlink.core.analysis.cycle.solids_apart import overlaps
from stoutlink.core.analysis.survey.clearances import extent, link_gap
from stoutlink.core.analysis.survey.mesh_place import standing
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.survey import BoxSolid, MeshSolid, OwnAnchor, Solid, SolidPiece, TubeSolid
from stoutlink.core.drawing.shapes import VIEWS, Line
from stoutlink.core.drawing.solids import solid_mesh
from stoutlink.core.drawing.survey_views import solid_shapes
from stoutlink.core.editing.edits import PutInList, SetNumber
from stoutlink.core.errors import FileError, ValueOutOfRange
from stoutlink.core.storage import mesh_file
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.mesh_file import MeshReader, read_mesh
from stoutlink.core.study.study import Study

Point = tuple[float, float, float]
HERE = ((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def point(values: object) -> Point:
    x, y, z = (float(v) for v in np.asarray(values).ravel())
    return x, y, z


def anchors(turn: np.ndarray, shift: np.ndarray) -> tuple[OwnAnchor, ...]:
    return tuple(OwnAnchor(id=f"p{k}", own_m=p, at_m=point(turn @ np.array(p) + shift)) for k, p in enumerate(HERE))


def as_mesh(box: BoxSolid, turn: np.ndarray, shift: np.ndarray) -> MeshSolid:
    """A box as drawn elsewhere, in axes of its own, that stands where the box does."""
    low, high = np.array(box.low_m), np.array(box.high_m)
    piece = SolidPiece(
        centre_m=point(turn.T @ (0.5 * (low + high) - shift)),
        first=point(turn.T @ [1.0, 0.0, 0.0]),
        second=point(turn.T @ [0.0, 1.0, 0.0]),
        half_m=point(0.5 * (high - low)),
    )
    return MeshSolid(
        id=box.id,
        name=box.name,
        kind=box.kind,
        pieces=(piece,),
        anchors=anchors(turn, shift),
        clearance_m=box.clearance_m,
    )


def swapped(project: Project) -> Project:
    """Every box of a project as a mesh, each drawn in other axes."""
    made = np.random.default_rng(4)
    out: list[Solid] = []
    for one in project.tape.solids:
        if isinstance(one, BoxSolid):
            turn = Rotation.from_rotvec(made.normal(0.0, 1.0, 3)).as_matrix()
            out.append(as_mesh(one, turn, made.normal(0.0, 0.4, 3)))
        else:
            out.append(one)
    return with_parts(project, solids=tuple(out))


def test_a_mesh_of_a_box_is_that_box_to_everything(basalt: Project) -> None:
    """Two routes to one number: gaps at ride, over the whole travel, overlaps, extents, fits and findings."""
    other = swapped(basalt)
    for one, two in zip(basalt.tape.solids, other.tape.solids, strict=True):
        assert np.array(extent(two)) == pytest.approx(np.array(extent(one)), abs=1e-5)
        assert solid_mesh(two).volume == pytest.approx(solid_mesh(one).volume, rel=1e-4)
        for end in ("rear", "front"):
            layout = basalt.layout(end)
            assert layout is not None
            for link in layout.links:
                assert link_gap(link, two) == pytest.approx(link_gap(link, one), abs=6e-4)
    a, b = Study(basalt), Study(other)
    for end in ("rear", "front"):
        first, second = a.travel(end), b.travel(end)
        assert first is not None
        assert second is not None
        known = {(c.one, c.other): c for c in second.interference.contacts}
        assert set(known) == {(c.one, c.other) for c in first.interference.contacts}
        for pair in first.interference.contacts:
            twin = known[(pair.one, pair.other)]
            if 0.0 < pair.least < 0.03:
                assert twin.least == pytest.approx(pair.least, abs=1e-3)
            assert (pair.least <= 0.0) == (twin.least <= 0.0)
    assert {f.key for f in a.findings} == {f.key for f in b.findings}
    assert [(o.one.id, o.other.id) for o in overlaps(basalt)] == [(o.one.id, o.other.id) for o in overlaps(other)]
    assert decode_project(encode_project(other)) == other


def test_a_drum_is_round(basalt: Project) -> None:
    """A drum along a straight tube is as far from every link as the tube is beside it."""
    layout = basalt.layout("rear")
    assert layout is not None
    tube = TubeSolid(id="t", name="T", kind="exhaust", path_m=((0.5, -0.7, 0.5), (0.5, 0.7, 0.52)), diameter_m=0.06)
    a, b = (np.array(p) for p in tube.path_m)
    way = (b - a) / np.linalg.norm(b - a)
    side = np.cross(way, [0.0, 0.0, 1.0])
    piece = SolidPiece(kind="drum", centre_m=point(0.5 * (a + b)), first=point(way), second=point(side / np.linalg.norm(side)), half_m=(0.5 * float(np.linalg.norm(b - a)), 0.03, 0.03))  # fmt: skip
    mesh = MeshSolid(id="m", name="M", kind="exhaust", pieces=(piece,), anchors=anchors(np.eye(3), np.zeros(3)))
    for link in layout.links:
        one, other = link_gap(link, mesh), link_gap(link, tube)
        assert one == pytest.approx(other, abs=1e-3) if other > 0.0 else one < 0.0


def test_its_outline_in_each_view() -> None:
    """As large as its shadow, by shapely's hull of its corners."""
    turn = Rotation.from_rotvec([0.5, 0.2, -0.4]).as_matrix()
    box = BoxSolid(id="b", name="B", kind="other", low_m=(0.2, -0.3, 0.4), high_m=(0.9, 0.1, 0.7))
    mesh = msgspec.structs.replace(as_mesh(box, np.eye(3), np.zeros(3)), anchors=anchors(turn, np.zeros(3)))
    corners = np.array([[x, y, z] for x in (0.2, 0.9) for y in (-0.3, 0.1) for z in (0.4, 0.7)]) @ turn.T
    for view in VIEWS:
        (shape,) = solid_shapes(mesh, view)
        assert isinstance(shape, Line)
        axes = {"side": (0, 2), "plan": (0, 1), "rear": (1, 2)}[view]
        expected = MultiPoint(corners[:, axes].tolist()).convex_hull
        assert Polygon(shape.points).area == pytest.approx(expected.area, rel=1e-6)


def test_points_in_line_are_refused_and_points_apart_are_said(basalt: Project) -> None:
    mesh = as_mesh(next(s for s in basalt.tape.solids if isinstance(s, BoxSolid)), np.eye(3), np.zeros(3))
    project = PutInList("solids", mesh, "Put").apply(basalt)
    line = tuple(OwnAnchor(id=f"p{k}", own_m=(float(k), 0.0, 0.0), at_m=HERE[k]) for k in range(3))
    put = PutInList("solids", msgspec.structs.replace(mesh, anchors=line), "Put")
    with pytest.raises(ValueOutOfRange) as refused:
        put.apply(project)
    assert refused.value.code == "D188"
    assert mesh_findings(project) == ()
    for off, said in ((0.008, False), (0.012, True)):  # 4.9 and 7.3 mm are left at the worst point
        moved = SetNumber(f"solids.{mesh.id}.anchors.p1.at_m.0", 1.0 + off).apply(project)
        solid = next(s for s in moved.tape.solids if isinstance(s, MeshSolid))
        found = [f for f in Study(moved).findings_so_far if f.code == "S114"]
        assert bool(found) is said, float(standing(solid).miss.max())
        if found:
            assert found[0].subject == f"solid:{mesh.id}"


# Files of other programs


def made(folder: Path, name: str, scale: float = 1.0) -> Path:
    shape = trimesh.util.concatenate(
        [
            trimesh.creation.box((0.6 * scale, 0.4 * scale, 0.2 * scale)),
            trimesh.creation.cylinder(0.1 * scale, 0.3 * scale, sections=32).apply_translation(
                (0.0, 0.0, 0.25 * scale)
            ),
        ]
    )
    shape.export(folder / name)
    return folder / name


@pytest.mark.parametrize(("name", "unit", "scale"), [("a.stl", "mm", 1000.0), ("a.obj", "in", 1 / 0.0254), ("a.glb", "mm", 1.0), ("a.STL", "m", 1.0)])  # fmt: skip
def test_models_are_read_in_their_unit(tmp_path: Path, name: str, unit: str, scale: float) -> None:
    found = read_mesh(made(tmp_path, name.lower(), scale).rename(tmp_path / name), unit)
    sizes = sorted((p.kind, tuple(round(2 * h, 3) for h in p.half_m)) for p in found)
    assert sizes == [("bar", (0.6, 0.4, 0.2)), ("drum", (0.3, 0.2, 0.2))]


def test_a_model_that_reaches_outside_itself_is_refused(tmp_path: Path) -> None:
    corners = struct.pack("<9f", 0, 0, 0, 1, 0, 0, 0, 1, 0)
    (tmp_path / "a.bin").write_bytes(corners)
    inside = {
        "asset": {"version": "2.0"},
        "buffers": [{"uri": "a.bin", "byteLength": 36}],
        "bufferViews": [{"buffer": 0, "byteLength": 36}],
        "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0, 0, 0], "max": [1, 1, 0]}],
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
        "nodes": [{"mesh": 0}],
        "scenes": [{"nodes": [0]}],
        "scene": 0,
    }  # fmt: skip
    (tmp_path / "a.gltf").write_text(json.dumps(inside))
    with pytest.raises(FileError) as refused:
        read_mesh(tmp_path / "a.gltf", "m")
    assert refused.value.code == "F157"
    (tmp_path / "b.obj").write_text("mtllib /etc/passwd\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl x\nf 1 2 3\n")
    assert read_mesh(tmp_path / "b.obj", "m")  # materials are not looked for
    whole = base64.b64encode(corners).decode()
    inside["buffers"] = [{"uri": f"data:application/octet-stream;base64,{whole}", "byteLength": 36}]
    (tmp_path / "c.gltf").write_text(json.dumps(inside))
    assert read_mesh(tmp_path / "c.gltf", "m")  # all of it in one file


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("a.stl", b""),
        ("a.stl", b"solid nothing\nendsolid\n"),
        ("a.stl", b"\0" * 80 + struct.pack("<I", 4_000_000_000)),
        ("a.stl", b"\0" * 80 + struct.pack("<I", 1) + struct.pack("<12f", *([float("nan")] * 12)) + b"\0\0"),
        ("a.obj", b"v 0 0 0\nf 1 2 3\n"),
        ("a.obj", b"\xff\xfe\x00 not text"),
        ("a.glb", b"glTF" + b"\x02\0\0\0" + b"\xff\xff\xff\x7f" + b"junk"),
        ("a.gltf", b'{"asset": {"version": "2.0"}}'),
        ("a.gltf", b"{"),
    ],
)
def test_what_is_no_mesh_is_refused(tmp_path: Path, name: str, data: bytes) -> None:
    (tmp_path / name).write_bytes(data)
    with pytest.raises(FileError) as refused:
        read_mesh(tmp_path / name, "mm")
    assert refused.value.code == "F157"
    assert len(refused.value.sentence) < 300


def test_another_unit_and_too_fine_are_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = made(tmp_path, "a.stl", 1000.0)
    with pytest.raises(FileError) as refused:
        read_mesh(path, "m")
    assert refused.value.code == "F158"
    monkeypatch.setattr(mesh_file, "MOST_READ", 20)
    with pytest.raises(FileError) as refused:
        read_mesh(path, "mm")
    assert refused.value.code == "F159"


def test_read_apart_it_is_the_same_and_can_be_given_up(tmp_path: Path) -> None:
    path = made(tmp_path, "a.stl", 1000.0)
    reader = MeshReader(path, "mm")
    while not reader.done():
        time.sleep(0.02)
    assert reader.pieces() == read_mesh(path, "mm")
    reader = MeshReader(path, "mm")
    reader.stop()
    assert reader.done()
    with pytest.raises(FileError) as refused:
        MeshReader(tmp_path / "none.stl", "mm").pieces()
    assert refused.value.code

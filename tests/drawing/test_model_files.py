"""Models for CAD read again by other libraries and measured: a mesh library for STL and glTF, the drawing library's own reader
and audit for DXF. Sizes are those of the project, not of the writer."""

from __future__ import annotations

import io
import math
import re

import ezdxf.filemanagement
import ezdxf.units
import numpy as np
import pytest
import trimesh
from ezdxf.render.mesh import MeshBuilder

from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import BoxSolid
from stoutlink.core.drawing.assembly import Assembly, Groups, at_ride
from stoutlink.core.drawing.solids import Thing
from stoutlink.core.reports.model_files import SUFFIXES, model_bytes, named
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


@pytest.fixture(scope="module")
def project() -> Project:
    return read_project(demo_file("basalt.stoutlink"))


@pytest.fixture(scope="module")
def study(project: Project) -> Study:
    return Study(project)


@pytest.fixture(scope="module")
def groups(study: Study) -> Groups:
    return Assembly().groups(study, at_ride(study))


def clean(name: str) -> str:
    """A name without the signs that formats write differently."""
    return re.sub("[:,_]", "", name)


def read(kind: str, study: Study, groups: Groups) -> dict[str, trimesh.Trimesh]:
    """Bodies by name, in mm with z up."""
    data = model_bytes(kind, groups, at_ride(study), "A rig")
    if kind == ".stl":
        bodies, out = data.decode("ascii").split("endsolid"), {}
        for text in bodies[:-1]:
            title = next(line for line in text.splitlines() if line.startswith("solid "))[6:]
            text = text[text.index("solid ") :] + f"endsolid {title}\n"
            out[title] = trimesh.load_mesh(io.BytesIO(text.encode()), file_type="stl_ascii")
        return out
    if kind == ".glb":
        scene = trimesh.load_scene(io.BytesIO(data), file_type="glb")
        out = {}
        for node in scene.graph.nodes_geometry:
            matrix, name = scene.graph[node]
            mesh = scene.geometry[name].copy()
            mesh.apply_transform(matrix)  # metres, y up, as the format wants it
            mesh.apply_transform(np.array([[1000, 0, 0, 0], [0, 0, -1000, 0], [0, 1000, 0, 0], [0, 0, 0, 1.0]]))
            out[node] = mesh
        return out
    doc = ezdxf.filemanagement.read(io.StringIO(data.decode("utf-8")))
    assert not doc.audit().errors
    assert doc.units == ezdxf.units.MM
    out = {}
    for one in doc.modelspace().query("MESH"):
        body = MeshBuilder.from_mesh(one)  # type: ignore[arg-type]
        out[one.dxf.layer] = trimesh.Trimesh(np.array(body.vertices), np.array(body.faces))
    return out


@pytest.mark.parametrize("kind", SUFFIXES)
def test_everything_is_there_by_name_and_in_its_place(
    kind: str, study: Study, groups: Groups, project: Project
) -> None:
    bodies = read(kind, study, groups)
    assert len(bodies) == sum(len(things) for _, things in groups)
    plain = {clean(name): mesh for name, mesh in bodies.items()}
    for name, mesh in plain.items():
        assert mesh.is_watertight, name
        assert mesh.volume > 0, name
    for solid in project.tape.solids:
        if isinstance(solid, BoxSolid):
            low, high = plain[clean(f"Rig {solid.name}")].bounds
            assert low == pytest.approx(1000 * np.array(solid.low_m), abs=0.01)
            assert high == pytest.approx(1000 * np.array(solid.high_m), abs=0.01)
    rig = study.true.rig
    for end in ("rear", "front"):
        wheel = rig.end(end)
        for side, hand in (("Left", 1), ("Right", -1)):
            tyre = plain[f"{end.capitalize()} axle {side} tyre"]
            assert tyre.extents == pytest.approx([2000 * wheel.free, 1000 * wheel.tread, 2000 * wheel.free], rel=0.01)
            middle = [rig.wheelbase_m if end == "front" else 0.0, hand * wheel.track_m / 2, wheel.loaded]
            assert tyre.bounds.mean(axis=0) == pytest.approx(1000 * np.array(middle), abs=0.5)
        layout = project.layout(end)
        assert layout is not None
        for link in layout.links:
            tube = plain[clean(f"{end.capitalize()} axle {link.name}")]
            long, od = 1000 * math.dist(link.frame_pivot_m, link.axle_pivot_m), 1000 * link.tube_od_m
            assert tube.volume == pytest.approx(math.pi / 4 * od**2 * long + math.pi / 6 * od**3, rel=0.03)
            for pivot in (link.frame_pivot_m, link.axle_pivot_m):
                assert np.linalg.norm(tube.vertices - 1000 * np.array(pivot), axis=1).min() <= od / 2 + 0.01


def test_names_are_each_ones_own(groups: Groups) -> None:
    names = [name for name, _ in named(groups)]
    assert len(names) == len(set(names)) == sum(len(things) for _, things in groups)
    assert any(name.endswith(" 2") for name in names)  # both tabs of a bracket


def test_drawing_has_centre_lines_and_pivots(study: Study, groups: Groups, project: Project) -> None:
    doc = ezdxf.filemanagement.read(io.StringIO(model_bytes(".dxf", groups, at_ride(study), "").decode("utf-8")))
    points = np.array([tuple(p.dxf.location) for p in doc.modelspace().query("POINT")])
    layouts = [x for end in ("rear", "front") if (x := project.layout(end)) is not None]
    wanted = [p for one in layouts for x in one.links for p in (x.frame_pivot_m, x.axle_pivot_m)]
    assert points == pytest.approx(1000 * np.array(wanted), abs=1e-6)
    lines = doc.modelspace().query("LINE")
    for line, a, b in zip(lines, wanted[::2], wanted[1::2], strict=True):
        assert (line.dxf.start - line.dxf.end).magnitude == pytest.approx(1000 * math.dist(a, b))


def test_odd_names_stay_readable(study: Study, groups: Groups) -> None:
    one = groups[0][1][0]
    odd = 'Tänk <*|?> "x" ' + "long " * 80
    mine = (("Rig", (Thing(odd, one.role, "", one.mesh), Thing(odd, one.role, "", one.mesh))),)
    for kind in SUFFIXES:
        assert len(read(kind, study, mine)) == 2
    with pytest.raises(ValueError, match="stp"):
        model_bytes(".stp", groups, (), "")


def test_a_pose_moves_what_is_on_the_axle_and_nothing_else(study: Study) -> None:
    travel = study.travel("rear")
    assert travel is not None
    row, column = travel.grid.ride
    up = study.posed_in(travel, row, column + 30, 0.0)
    assert up is not None
    ride = at_ride(study)
    before = {n: t.mesh.points for n, t in named(Assembly().groups(study, ride))}
    after = {
        n: t.mesh.points
        for n, t in named(Assembly().groups(study, [up, *(p for p in ride if p.grid.layout.end == "front")]))
    }
    rise = float(travel.grid.heave[column + 30])
    assert rise > 0.02
    for name, points in before.items():
        step = after[name] - points
        if name.startswith(("Rig", "Front")):
            assert not step.any(), name
        elif "tyre" in name or name.endswith("Axle tube") or "Bead" in name:
            assert step[:, 2].mean() == pytest.approx(rise, abs=0.004), name
    tabs = {n for n in before if "tab" in n and n.startswith("Rear")}
    still = {n for n in tabs if not (after[n] - before[n]).any()}
    assert still
    assert tabs - still  # those on the frame stay, those on the axle go with it

"""The rig in the round for a CAD program or a viewer, in millimetres, every body by its name: STL, glTF (.glb) and DXF.

Source: the STL format as commonly read (ASCII, one ``solid`` a body); Khronos glTF 2.0, which counts in metres with y up, so
that the millimetres stand under a root that says so; DXF MESH entities.
"""

from __future__ import annotations

import io
import re
from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import Any

import numpy as np

from stoutlink.core.analysis.cycle.posed import Posed
from stoutlink.core.drawing.assembly import Groups
from stoutlink.core.drawing.round_paint import ON_PAPER
from stoutlink.core.drawing.solids import Thing

MILLI = 1000.0
SUFFIXES = (".stl", ".glb", ".dxf")
GLTF_ROOT = np.array([[0.001, 0, 0, 0], [0, 0, 0.001, 0], [0, -0.001, 0, 0], [0, 0, 0, 1.0]])
"""Millimetres with z up as metres with y up."""
LONGEST = 160
"""Letters of a body's name: layers take no more than 255."""
CENTRES = "CENTRE LINES", "PIVOTS"


def model_bytes(suffix: str, groups: Groups, posed: Sequence[Posed], title: str) -> bytes:
    """Everything of ``groups`` in the format of a suffix. Raises :class:`ValueError` for another."""
    if suffix == ".stl":
        return _stl(groups)
    if suffix == ".glb":
        return _glb(groups, title)
    if suffix == ".dxf":
        return _dxf(groups, posed)
    raise ValueError(suffix)


def named(groups: Groups) -> Iterator[tuple[str, Thing]]:
    """Every body with a name of its own: its group, what it is, and a number where several are called alike."""
    count: dict[str, int] = {}
    for group, things in groups:
        for one in things:
            name = f"{group}: {one.name}"[:LONGEST].rstrip()
            count[name] = count.get(name, 0) + 1
            yield (name if count[name] == 1 else f"{name} {count[name]}"), one


def _stl(groups: Groups) -> bytes:
    out = []
    for name, one in named(groups):
        title = _ascii(name)
        c = one.mesh.corners * MILLI
        n = np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0])
        n /= np.maximum(np.linalg.norm(n, axis=1, keepdims=True), 1e-12)
        rows = np.concatenate([n[:, None], c], axis=1).reshape(-1, 12)
        facet = (
            "facet normal %.6g %.6g %.6g\nouter loop\nvertex %.4f %.4f %.4f\nvertex %.4f %.4f %.4f\nvertex %.4f %.4f %.4f\n"
            "endloop\nendfacet\n"
        )
        body = "".join(facet % tuple(row) for row in rows.tolist())
        out.append(f"solid {title}\n{body}endsolid {title}\n")
    return "".join(out).encode("ascii")


def _ascii(name: str) -> str:
    """A name every reader takes: plain letters, digits, and few signs."""
    return re.sub(r"[^A-Za-z0-9 ,._+-]", "_", name.replace(":", ",")).strip() or "body"


def _glb(groups: Groups, title: str) -> bytes:
    import trimesh  # noqa: PLC0415 - slow to load and only wanted when a model leaves

    scene = trimesh.Scene(base_frame="world", metadata={"title": title, "unit": "mm under the node named rig"})
    scene.graph.update(frame_to="rig", frame_from="world", matrix=GLTF_ROOT)
    for name, one in named(groups):
        mesh = trimesh.Trimesh(one.mesh.points * MILLI, one.mesh.triangles, process=False)
        mesh.visual = trimesh.visual.TextureVisuals(material=_material(one.role))
        scene.add_geometry(mesh, node_name=name, geom_name=name, parent_node_name="rig")
    return bytes(scene.export(file_type="glb", include_normals=False))


@lru_cache(maxsize=64)
def _material(role: str) -> Any:
    from trimesh.visual.material import PBRMaterial  # noqa: PLC0415

    r, g, b = ON_PAPER[role]
    return PBRMaterial(name=role, baseColorFactor=[r, g, b, 255], metallicFactor=0.1, roughnessFactor=0.8)


def _dxf(groups: Groups, posed: Sequence[Posed]) -> bytes:
    from ezdxf import units  # noqa: PLC0415 - slow to load
    from ezdxf.filemanagement import new  # noqa: PLC0415
    from ezdxf.render.mesh import MeshBuilder  # noqa: PLC0415

    doc = new("R2010")
    doc.units = units.MM
    doc.header["$MEASUREMENT"] = 1
    space = doc.modelspace()
    for name, one in named(groups):
        layer = _layer(doc, name)
        mesh = MeshBuilder()
        mesh.vertices.extend(map(tuple, (one.mesh.points * MILLI).tolist()))
        mesh.faces.extend(one.mesh.triangles.tolist())
        mesh.render_mesh(space, dxfattribs={"layer": layer})
    lines, points = (_layer(doc, name) for name in CENTRES)
    for axle in posed:
        for link in axle.grid.layout.links:
            a, b = (_milli(v) for v in (link.frame_pivot_m, axle.carry(link.axle_pivot_m)))
            space.add_line(a, b, dxfattribs={"layer": lines})
            for at in (a, b):
                space.add_point(at, dxfattribs={"layer": points})
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode(doc.output_encoding, errors="dxfreplace")


def _milli(v: object) -> tuple[float, float, float]:
    x, y, z = (MILLI * float(c) for c in np.asarray(v, dtype=float))
    return x, y, z


def _layer(doc: Any, name: str) -> str:
    """A layer of this name, made where it is not there; signs that a layer's name may not have are left out."""
    clean = re.sub(r'[<>/\\":;?*|=`\x00-\x1f]', "", name).strip() or "BODY"
    if clean not in doc.layers:
        doc.layers.add(clean)
    return clean

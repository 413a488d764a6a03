"""Meshes of other programs as convex pieces: STL, OBJ and glTF, read in a process of its own. Nothing beside the file is read.

``python -m stoutlink.core.storage.mesh_file -- FILE UNIT`` prints the pieces as JSON.
"""

from __future__ import annotations

import io
import json
import sys
import warnings
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from stoutlink.core.document.survey import SolidPiece
from stoutlink.core.errors import FileError, StoutError
from stoutlink.core.geometry.mesh_pieces import MeshPiece, pieces_of
from stoutlink.core.storage.disk import read_bytes
from stoutlink.core.storage.read_apart import ReadApart

SUFFIXES = (".stl", ".obj", ".glb", ".gltf")
IN_METRES = (".glb", ".gltf")
"""What says its own unit: metres."""
UNITS = {"mm": 0.001, "in": 0.0254, "m": 1.0}
LARGEST_FILE = 80_000_000
MOST_READ = 400_000
"""Triangles of a file."""
SMALLEST, LARGEST = 0.005, 20.0
"""Nothing that is in the way of an axle is smaller or larger than this, m."""
SECONDS = 90


def read_mesh(path: Path, unit: str) -> tuple[SolidPiece, ...]:
    """The convex pieces of a mesh in ``unit`` (``mm``, ``in``, ``m``; glTF is in metres), in its own axes, m. Raises :class:`FileError`: F157 for what is no mesh,
    F158 for one too large or too small, F159 for one too fine."""
    points, triangles = _triangles(path)
    points = points * (1.0 if path.suffix.lower() in IN_METRES else UNITS[unit])
    size = float(np.ptp(points[np.unique(triangles)], axis=0).max())
    if not SMALLEST <= size <= LARGEST:
        raise FileError(
            "F158",
            f"{path.name} is {1000.0 * size:.4g} mm large in this unit; 5 mm to 20 m is taken.",
            "Say another unit.",
        )
    return tuple(_piece(one) for one in pieces_of(points, triangles))


def _triangles(path: Path) -> tuple[np.ndarray[Any, np.dtype[np.float64]], np.ndarray[Any, np.dtype[np.int64]]]:
    """All its triangles, with points in one place made one."""
    import trimesh  # noqa: PLC0415 - slow to load

    data = read_bytes(path, LARGEST_FILE)
    kind = path.suffix.lower().lstrip(".")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # numbers beyond all bounds are refused below
            loaded = trimesh.load_scene(io.BytesIO(data), file_type=kind, resolver=None, skip_materials=True)
            mesh = loaded.to_mesh()
            points = np.asarray(mesh.vertices, dtype=float).reshape(-1, 3)
            triangles = np.asarray(mesh.faces, dtype=np.int64).reshape(-1, 3)
    except Exception as why:
        raise _no_mesh(path) from why
    if not len(triangles) or not np.isfinite(points).all() or triangles.min() < 0 or triangles.max() >= len(points):
        raise _no_mesh(path)
    if len(triangles) > MOST_READ:
        raise FileError(
            "F159",
            f"{path.name} has {len(triangles):,} triangles; {MOST_READ:,} are taken.",
            "Save it coarser, or a part of it alone.",
        )
    grain = max(float(np.ptp(points, axis=0).max()), 1e-12) * 1e-6
    _, first, of = np.unique(np.round(points / grain).astype(np.int64), axis=0, return_index=True, return_inverse=True)
    triangles = of.ravel()[triangles]
    whole = (
        (triangles[:, 0] != triangles[:, 1])
        & (triangles[:, 1] != triangles[:, 2])
        & (triangles[:, 2] != triangles[:, 0])
    )
    if not whole.any():
        raise _no_mesh(path)
    return points[first], triangles[whole]


def _no_mesh(path: Path) -> FileError:
    return FileError(
        "F157", f"{path.name} holds no mesh that can be read.", "Save it as STL, OBJ or GLB, all of it in one file."
    )


def _piece(one: MeshPiece) -> SolidPiece:
    def three(values: Any) -> tuple[float, float, float]:
        a, b, c = (round(float(v), 6) for v in values)
        return a, b, c

    return SolidPiece(
        kind=one.kind,
        centre_m=three(one.centre),
        first=three(one.ways[0]),
        second=three(one.ways[1]),
        half_m=three(np.maximum(one.half, 1e-4)),
    )


class MeshReader(ReadApart):
    """Reads a mesh beside whoever asks."""

    def __init__(self, path: Path, unit: str) -> None:
        super().__init__("stoutlink.core.storage.mesh_file", path, unit, seconds=SECONDS)

    def pieces(self) -> tuple[SolidPiece, ...]:
        """The pieces, once it is done; raises :class:`FileError` for what cannot be read."""
        found = self.answer("Save it coarser, or a part of it alone.")
        return msgspec.convert(found["pieces"], tuple[SolidPiece, ...])


def main() -> int:
    """Print the pieces of a mesh, or why there are none."""
    path, unit = Path(sys.argv[2]), sys.argv[3]
    try:
        said: dict[str, Any] = {"pieces": msgspec.to_builtins(read_mesh(path, unit))}
    except StoutError as why:
        said = {"refused": [why.code, why.sentence, why.hint]}
    print(json.dumps(said))
    return 0


if __name__ == "__main__":
    sys.exit(main())

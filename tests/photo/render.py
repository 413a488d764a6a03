"""Pictures of a rig as a camera of known place and lens takes them: perspective, a depth buffer, then the lens."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.drawing.round_paint import ON_PAPER
from stoutlink.core.drawing.round_view import Scene
from stoutlink.core.geometry.raster import NOTHING, seen
from tests.photo.camera import Array, KnownCamera

NEAR = 0.2


def axes_of(camera: KnownCamera) -> Array:
    """Unit directions right, down and ahead, as rows."""
    ahead = np.array(camera.target) - np.array(camera.eye)
    ahead /= np.linalg.norm(ahead)
    right = np.cross(ahead, [0.0, 0.0, 1.0])
    right /= np.linalg.norm(right)
    down = np.cross(ahead, right)
    c, s = np.cos(camera.roll), np.sin(camera.roll)
    return np.array([c * right + s * down, c * down - s * right, ahead])


def photograph(scene: Scene, camera: KnownCamera, ground: tuple[int, int, int] = (176, 170, 158)) -> NDArray[np.uint8]:
    """``(high, wide, 3)`` RGB. What is nearer than :data:`NEAR` is left out."""
    wide, high = camera.size
    local = (scene.mesh.points - np.array(camera.eye)) @ axes_of(camera).T
    flat = np.column_stack([0.5 * wide + camera.focal * local[:, 0] / local[:, 2], 0.5 * high + camera.focal * local[:, 1] / local[:, 2], 1.0 / local[:, 2]])  # fmt: skip
    ahead = (local[:, 2] > NEAR)[scene.mesh.triangles].all(axis=1)
    front = np.flatnonzero(ahead)
    found = seen(flat[scene.mesh.triangles[front]], wide, high)
    lamp = np.array([-0.35, -0.55, 0.75])
    light = 0.45 + 0.55 * np.clip(scene.normals @ (lamp / np.linalg.norm(lamp)), 0.0, 1.0)
    base = np.array([ON_PAPER[t.role] for t in scene.things], dtype=float)[scene.owner] * light[:, None]
    number = np.append(front, NOTHING)[found.which]
    straight = np.where((number == NOTHING)[..., None], _backdrop(camera, ground), base[number]).astype(np.uint8)
    return straight if camera.k1 == camera.k2 == 0.0 else _bent(straight, camera)


def _backdrop(camera: KnownCamera, ground: tuple[int, int, int]) -> Array:
    """A shop floor with joints every half metre, and a wall."""
    wide, high = camera.size
    x, y = np.meshgrid(np.arange(wide) + 0.5 - 0.5 * wide, np.arange(high) + 0.5 - 0.5 * high)
    ray = np.stack([x / camera.focal, y / camera.focal, np.ones_like(x)], axis=-1) @ axes_of(camera)
    down = ray[..., 2] < -1e-3
    reach = np.where(down, -camera.eye[2] / np.where(down, ray[..., 2], -1.0), 0.0)
    at = np.array(camera.eye) + ray * reach[..., None]
    joint = (
        ((np.abs(at[..., 0] % 0.5 - 0.25) > 0.245) | (np.abs(at[..., 1] % 0.5 - 0.25) > 0.245)) & down & (reach < 30)
    )
    floor = np.array(ground, dtype=float)
    out = np.where(down[..., None], floor, floor * 1.16)
    return np.where(joint[..., None], floor * 0.86, out)


def _bent(straight: NDArray[np.uint8], camera: KnownCamera) -> NDArray[np.uint8]:
    """What the lens makes of it: each pixel shows the straight place it is bent from."""
    wide, high = camera.size
    x, y = np.meshgrid(
        (np.arange(wide) + 0.5 - 0.5 * wide) / camera.focal, (np.arange(high) + 0.5 - 0.5 * high) / camera.focal
    )
    r = np.hypot(x, y)
    u = r.copy()
    for _ in range(30):
        u = u - (u * (1 + camera.k1 * u**2 + camera.k2 * u**4) - r) / (1 + 3 * camera.k1 * u**2 + 5 * camera.k2 * u**4)
    part = np.where(r > 0, u / np.maximum(r, 1e-12), 1.0)
    i = np.clip((y * part * camera.focal + 0.5 * high).astype(int), 0, high - 1)
    j = np.clip((x * part * camera.focal + 0.5 * wide).astype(int), 0, wide - 1)
    return np.asarray(straight[i, j])

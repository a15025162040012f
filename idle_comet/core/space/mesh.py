"""Surfaces in space as triangles."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

_CREASE = np.cos(np.radians(38))
"""Faces that meet at a sharper angle are lit apart from each other."""


class Mesh(NamedTuple):
    """`spots` (n, 3): where corners can lie; `faces` (m, 3): the spots of each triangle, so that (b − a) × (c − a)
    points outwards, in a space with x to the right, y down and z away; `surfaces` (m,): the number of each triangle's
    surface.

    `normals` (m, 3, 3) are those of its corners, of length 1 and outwards; `places` (m, 3, 2) their places on a
    picture, 0..1 across and down."""

    spots: np.ndarray
    faces: np.ndarray
    surfaces: np.ndarray
    normals: np.ndarray
    places: np.ndarray

    @property
    def nbytes(self) -> int:
        return sum(each.nbytes for each in self)

    @property
    def box(self) -> np.ndarray:
        """(2, 3): its least and largest coordinates; zeros for one without spots."""
        if not len(self.spots):
            return np.zeros((2, 3))
        return np.stack([self.spots.min(0), self.spots.max(0)])


def joined(meshes: list[Mesh]) -> Mesh:
    """Several as one."""
    if len(meshes) == 1:
        return meshes[0]
    begins = np.cumsum([0, *(len(mesh.spots) for mesh in meshes)])
    return Mesh(
        np.concatenate([mesh.spots for mesh in meshes]) if meshes else np.empty((0, 3)),
        np.concatenate([mesh.faces + begin for mesh, begin in zip(meshes, begins)])
        if meshes
        else np.empty((0, 3), int),
        np.concatenate([mesh.surfaces for mesh in meshes]) if meshes else np.empty(0, int),
        np.concatenate([mesh.normals for mesh in meshes]) if meshes else np.empty((0, 3, 3)),
        np.concatenate([mesh.places for mesh in meshes]) if meshes else np.empty((0, 3, 2)),
    )


def face_normals(spots: np.ndarray, faces: np.ndarray) -> np.ndarray:
    """(m, 3): across each triangle, as long as twice its area."""
    a, b, c = (spots[faces[:, corner]] for corner in range(3))
    return np.cross(b - a, c - a)


def smoothed(spots: np.ndarray, faces: np.ndarray, surfaces: np.ndarray) -> np.ndarray:
    """(m, 3, 3): normals of corners: of each the mean over the triangles of its surface that meet there and turn by
    less than a crease, by their area."""
    across = face_normals(spots, faces)
    own = across / np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-30)
    count = len(faces)
    # Corners in the order of where they lie; those at one spot of one surface are compared pair by pair.
    meets = (faces * (int(surfaces.max(initial=0)) + 1) + surfaces[:, None]).ravel()
    order = np.argsort(meets, kind="stable")
    ordered = meets[order]
    begins = np.flatnonzero(np.r_[True, ordered[1:] != ordered[:-1]]) if count else np.empty(0, int)
    sizes = np.diff(np.r_[begins, len(ordered)])
    triangle = order // 3
    partners = np.repeat(sizes, sizes)
    one = np.repeat(np.arange(len(order)), partners)
    own_begin = np.repeat(np.cumsum(partners) - partners, partners)
    other = np.repeat(np.repeat(begins, sizes), partners) + np.arange(len(one)) - own_begin
    alike = np.einsum("ij,ij->i", own[triangle[one]], own[triangle[other]]) > _CREASE
    total = np.zeros((3 * count, 3))
    for axis in range(3):
        total[:, axis] = np.bincount(order[one[alike]], across[triangle[other[alike]], axis], minlength=3 * count)
    long = np.linalg.norm(total, axis=1, keepdims=True)
    normals = np.where(long > 1e-12, total / np.maximum(long, 1e-30), np.repeat(own, 3, axis=0))
    return normals.reshape(count, 3, 3)

"""Voronoi vertices joined into one where the edges between them are too short to keep."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

Index = NDArray[np.int64]


@njit(cache=True)
def joined(first: Index, second: Index, vertex: Index) -> Index:
    """Clusters of Voronoi vertices joined by short edges; two different boundary vertices are never joined."""
    n = vertex.size
    parent = np.arange(n)
    # Vertices that are the same boundary vertex belong together from the beginning.
    seen = np.full(max(vertex.max() + 1, 1), -1)
    for i in range(n):
        if vertex[i] >= 0:
            if seen[vertex[i]] >= 0:
                parent[i] = seen[vertex[i]]
            else:
                seen[vertex[i]] = i
    for k in range(first.size):
        i, j = first[k], second[k]
        while parent[i] != i:
            parent[i] = parent[parent[i]]
            i = parent[i]
        while parent[j] != j:
            parent[j] = parent[parent[j]]
            j = parent[j]
        if i == j or (vertex[i] >= 0 and vertex[j] >= 0):
            continue
        if vertex[j] >= 0:
            i, j = j, i
        parent[j] = i
    for i in range(n):
        r = i
        while parent[r] != r:
            r = parent[r]
        parent[i] = r
    return parent

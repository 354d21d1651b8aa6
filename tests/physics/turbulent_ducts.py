"""Developed turbulent flow in channels and pipes by the k-ω model of shear stress transport, by another method than the program's.

One dimension, logarithms of k and ω over the logarithm of the distance from the wall, plain Newton. Shear stress falls in a
straight line to the middle, so that speed follows by integration and is no unknown.
In units of friction speed and half width, or radius.
"""

from __future__ import annotations

import numpy as np
from scipy.sparse import csc_matrix
from scipy.sparse.linalg import splu

Array = np.ndarray
BETA_STAR, A1 = 0.09, 0.31
_RISE = 0.5 + np.sqrt(0.25 + 6.0 * BETA_STAR / 0.075)


class DevelopedDuct:
    """A duct at a friction Reynolds number.

    Args:
        reynolds: on friction speed and half width, or radius.
        pipe: round, else between plates.
        nodes: along the logarithm of the distance.
    """

    def __init__(self, reynolds: float, *, pipe: bool = False, nodes: int = 1500) -> None:
        self.nu, self.pipe = 1.0 / reynolds, pipe
        self.t = np.linspace(np.log(0.02 * self.nu), 0.0, nodes)
        self.step = float(self.t[1] - self.t[0])
        self.y = np.exp(self.t)
        middle = np.exp(0.5 * (self.t[1:] + self.t[:-1]))
        self.radius = 1.0 - self.y if pipe else np.ones(nodes)
        self.between, self.radius_between = middle, 1.0 - middle if pipe else np.ones(nodes - 1)
        self._solve()

    def _stirred(self, k: Array, omega: Array, slopes: tuple[Array, Array]) -> None:
        y, nu, stress = self.y, self.nu, np.maximum(1.0 - self.y, 0.0)
        cross = np.maximum(2.0 * 0.856 / omega * slopes[0] * slopes[1], 1e-10)
        far, viscous = np.sqrt(k) / (BETA_STAR * omega * y), 500.0 * nu / (y**2 * omega)
        self.inner = np.tanh(np.minimum(np.maximum(far, viscous), 4.0 * 0.856 * k / (cross * y**2)) ** 4)
        f2 = np.tanh(np.maximum(2.0 * far, viscous) ** 2)
        eddy = k / omega
        strain = stress / (nu + eddy)
        limited = (stress - A1 * k / np.maximum(f2, 1e-30)) / nu
        held = strain * f2 > A1 * omega
        self.strain = np.where(held, np.maximum(limited, 0.0), strain)
        self.eddy = np.where(held & (limited > 0.0), A1 * k / np.maximum(self.strain * f2, A1 * omega), eddy)

    def _missing(self, found: Array) -> Array:
        n, y = self.t.size, self.y
        logs = found[:n], found[n:]
        k, omega = np.exp(logs[0]), np.exp(logs[1])
        slopes = tuple(v * np.gradient(log, self.step, edge_order=2) / y for v, log in zip((k, omega), logs, strict=True))
        self._stirred(k, omega, (slopes[0], slopes[1]))
        f = self.inner
        alpha, beta = 5.0 / 9.0 * f + 0.44 * (1.0 - f), 0.075 * f + 0.0828 * (1.0 - f)
        sigmas = 0.85 * f + (1.0 - f), 0.5 * f + 0.856 * (1.0 - f)
        production = np.minimum(self.eddy * self.strain**2, 10.0 * BETA_STAR * k * omega)
        crossing = 2.0 * (1.0 - f) * 0.856 / omega * slopes[0] * slopes[1]
        lost = BETA_STAR * k * omega, beta * omega**2
        gained = production, alpha * self.strain**2 + crossing
        volume = np.full(n, self.step)
        volume[-1] *= 0.5
        result = []
        for log, sigma, loss, gain in zip(logs, sigmas, lost, gained, strict=True):
            stirred = self.nu + 0.5 * (sigma[1:] * self.eddy[1:] + sigma[:-1] * self.eddy[:-1])
            flux = self.radius_between * stirred / self.between * np.exp(0.5 * (log[1:] + log[:-1])) * np.diff(log) / self.step
            open_by = volume * y * self.radius * (loss - gain)
            open_by[1:-1] -= np.diff(flux)
            open_by[-1] += flux[-1]
            result.append(open_by / (volume * y * np.maximum(self.radius, 1e-3) * loss))
        result[0][0] = (logs[0][1] - logs[0][0]) / self.step - _RISE
        result[1][0] = logs[1][0] - np.log(6.0 * self.nu / (0.075 * y[0] ** 2))
        return np.concatenate(result)

    def _solve(self) -> None:
        n, y = self.t.size, self.y
        k = 3.3 * np.minimum(1.0, (y / self.nu / 12.0) ** _RISE) * (1.0 - 0.8 * y)
        omega = np.hypot(6.0 * self.nu / (0.075 * y**2), 1.0 / (0.3 * 0.41 * y))
        found, pace = np.concatenate([np.log(k), np.log(omega)]), 0.1
        missing = self._missing(found)
        for _ in range(100):
            rows, columns, values = [], [], []
            for unknown in range(2):
                for first in range(5):
                    group = unknown * n + np.arange(first, n, 5)
                    moved = found.copy()
                    moved[group] += 1e-7
                    change = (self._missing(moved) - missing) / 1e-7
                    for away in range(-2, 3):
                        node = group % n + away
                        inside = (node >= 0) & (node < n)
                        for balance in range(2):
                            rows.append(balance * n + node[inside])
                            columns.append(group[inside])
                            values.append(change[balance * n + node[inside]])
            matrix = csc_matrix((np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), shape=(2 * n, 2 * n))
            matrix.setdiag(matrix.diagonal() + 1.0 / pace)
            found = found + np.clip(splu(matrix).solve(-missing), -1.0, 1.0)
            before, missing = float(np.abs(missing).max()), self._missing(found)
            now = float(np.abs(missing).max())
            if now < 1e-9:
                break
            pace = max(pace * min(max(before / now, 0.5), 3.0), 0.05)
        else:
            raise AssertionError("the one-dimensional solution was not found")
        self.k, self.omega = np.exp(found[:n]), np.exp(found[n:])
        self.speed = self._summed(self.strain * y) + self.strain[0] * y[0]

    def _summed(self, values: Array) -> Array:
        return np.concatenate([[0.0], np.cumsum(0.5 * (values[1:] + values[:-1]) * self.step)])

    @property
    def mean_speed(self) -> float:
        """Over the section."""
        weight = 2.0 * self.radius if self.pipe else 1.0
        return float(self._summed(self.speed * weight * self.y)[-1] + 0.5 * self.speed[0] * self.y[0])

    @property
    def friction_factor(self) -> float:
        """Darcy's."""
        return 8.0 / self.mean_speed**2

    @property
    def reynolds(self) -> float:
        """On mean speed and hydraulic diameter."""
        return (2.0 if self.pipe else 4.0) * self.mean_speed / self.nu

    def nusselt(self, prandtl: float, *, kays: bool = True) -> float:
        """On the hydraulic diameter, with one heat flux on the walls."""
        passing = self._summed(self.speed * self.radius * self.y)
        flux = (1.0 - passing / passing[-1]) / np.maximum(self.radius, 1e-9)
        flux[-1] = 0.0
        peclet = self.eddy / self.nu * prandtl
        stirred = self.eddy / (0.85 + 0.7 / np.maximum(peclet, 1e-30)) if kays else self.eddy / 0.85
        rise = self._summed(flux / (self.nu / prandtl + stirred) * self.y) + self.y[0] / (self.nu / prandtl)
        bulk = self._summed(rise * self.speed * self.radius * self.y)[-1] / passing[-1]
        return float((2.0 if self.pipe else 4.0) / (bulk * self.nu / prandtl))

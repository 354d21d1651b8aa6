"""Linear solvers: a direct solver whose symbolic analysis is kept, and a Krylov iteration on the true residual."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any

import numpy as np

from wattikos_core.physics.faces import Array

Operator = Callable[[Array], Array]

# Smaller systems fill in less in an order of minimum degree than by dissection, and one thread solves them sooner: the others,
# waiting for their turn, would slow down all that goes on between two solves.
_SMALL = 30_000
_MINIMUM_DEGREE, _DISSECTION = 0, 2
# PARDISO's threads go to sleep at once when they are done: waiting busily they would take the cores from the residuals' threads.
os.environ.setdefault("KMP_BLOCKTIME", "0")


def direct_solver_available() -> bool:
    """Whether PARDISO can be loaded on this machine."""
    try:
        import pypardiso  # noqa: F401
    except (ImportError, OSError):
        return False
    return True


class DirectSolver:
    """PARDISO for unsymmetric matrices of one fixed pattern: analysed once, factored as often as asked.

    Args:
        matching: permute large entries onto the diagonal first. It costs a third more fill, and where couplings are all but
            zero it has been seen to spoil the factors; a matrix with zeros on its diagonal needs it.
    """

    def __init__(self, matching: bool = False) -> None:
        import pypardiso

        self.matching = matching
        self._solver = pypardiso.PyPardisoSolver(mtype=11)
        # PARDISO's defaults, but no iterative refinement: the Krylov iteration around it refines anyway.
        settings = {1: 1, 8: 0, 10: 13, 11: 1, 13: int(matching), 18: -1, 21: 1, 24: 0, 25: 0}
        for position, value in settings.items():
            self._solver.set_iparm(position, value)
        # Finding the library takes most of a second; the next solver of this process is told where it is.
        os.environ.setdefault("PYPARDISO_MKL_RT", self._solver.libmkl._name)
        self._matrix: Any = None

    def factor(self, matrix: Any) -> None:
        """Factor `matrix` (CSR with sorted indices); the pattern must be that of the first one."""
        first = self._matrix is None
        self._matrix = matrix
        self._solver.set_iparm(2, _MINIMUM_DEGREE if matrix.shape[0] < _SMALL else _DISSECTION)
        empty = np.zeros((matrix.shape[0], 1))
        for phase in (11, 22) if first else (22,):
            self._call(phase, empty)

    def solve(self, right: Array) -> Array:
        """The solution for one right-hand side with the last factored matrix."""
        return np.asarray(self._call(33, right.reshape(-1, 1)).ravel())

    def _call(self, phase: int, right: Array) -> Array:
        """One phase of PARDISO; all phases of one matrix must have as many threads."""
        self._solver.libmkl.MKL_Set_Num_Threads_Local(1 if right.shape[0] < _SMALL else 0)
        self._solver.set_phase(phase)
        return np.asarray(self._solver._call_pardiso(self._matrix, right))

    def error(self, right: Array) -> float:
        """How far the solution for a right-hand side is from solving it, as a share of it; 0 where it is zero."""
        size = float(np.linalg.norm(right))
        return float(np.linalg.norm(self._matrix @ self.solve(right) - right)) / size if size > 0.0 else 0.0

    def close(self) -> None:
        """Give the factors' memory back."""
        if self._matrix is not None:
            self._solver.free_memory(everything=True)
            self._matrix = None


def flexible_gmres(apply: Operator, precondition: Operator, right: Array, tolerance: float, most: int) -> tuple[Array, int]:
    """Solve A x = right by FGMRES (Saad 1993, SIAM J. Sci. Comput. 14, 461), without restart.

    Returns:
        the solution and the number of iterations.
    """
    size = right.size
    beta = float(np.linalg.norm(right))
    if beta == 0.0:
        return np.zeros(size), 0
    basis = [right / beta]
    directions: list[Array] = []
    hessenberg = np.zeros((most + 1, most))
    coefficients: Array = np.zeros(0)
    for j in range(most):
        direction = precondition(basis[j])
        directions.append(direction)
        w = apply(direction)
        for i in range(j + 1):
            hessenberg[i, j] = float(basis[i] @ w)
            w = w - hessenberg[i, j] * basis[i]
        hessenberg[j + 1, j] = float(np.linalg.norm(w))
        target = np.zeros(j + 2)
        target[0] = beta
        block = hessenberg[: j + 2, : j + 1]
        coefficients = np.asarray(np.linalg.lstsq(block, target, rcond=None)[0], dtype=np.float64)
        residual = float(np.linalg.norm(block @ coefficients - target))
        if residual <= tolerance * beta or hessenberg[j + 1, j] < 1e-14 * beta:
            break
        basis.append(w / hessenberg[j + 1, j])
    solution = np.zeros(size)
    for coefficient, direction in zip(coefficients, directions, strict=False):
        solution += coefficient * direction
    return solution, len(directions)

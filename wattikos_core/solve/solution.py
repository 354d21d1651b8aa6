"""Solutions: states on a grid, with how they were reached."""

from __future__ import annotations

from dataclasses import dataclass, field

from wattikos_core.grid import Grid
from wattikos_core.physics import State, Unknowns
from wattikos_core.physics.faces import Array
from wattikos_core.solve.checkpoint import Checkpoint, Past, pack_checkpoint


@dataclass(frozen=True)
class Solution:
    """A converged (or stopped) state with its grid, its history and how it was reached.

    Attributes:
        interpolation: V/a_P of momentum interpolation that belongs to the state, m3 s/kg.
        history: one row per step: residuals and watches by name.
        converged: whether residuals, watches and balances agreed.
        method: `coupled`, `segregated` or `in time`.
        past: of a run in time, with all of it; None in steady state.
        ended_by: the rule of the case that ended it before its end; empty where none did.
    """

    grid: Grid
    unknowns: Unknowns
    state: State
    interpolation: Array
    history: list[dict[str, float]]
    converged: bool
    stopped: bool
    method: str
    seconds: float
    notes: list[str] = field(default_factory=list)
    past: Past | None = None
    ended_by: str = ""

    @property
    def time(self) -> float | None:
        """Time reached, s; None in steady state."""
        return self.past.time if self.past is not None else None

    def begins(self) -> Checkpoint:
        """What another solve can begin from, or a run in time go on from."""
        return Checkpoint(self.grid, self.unknowns, self.state, self.interpolation, self.past)

    def checkpoint(self) -> bytes:
        """The same as a file."""
        return pack_checkpoint(self.begins())

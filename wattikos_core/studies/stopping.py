"""Ending a solve by the rules of its case: it listens to what is watched, and says when all rules hold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from wattikos_core.case.stopping import ResolvedStop
from wattikos_core.ledger import Key, in_sense
from wattikos_core.solve import Cancel, Event, Listen, Solution


class Stopping:
    """Stands between a solver and whoever listens to it and may cancel it.

    Attributes:
        text: why the solve is to end; empty as long as it goes on.
    """

    def __init__(self, rules: Sequence[ResolvedStop], listen: Listen, cancel: Cancel) -> None:
        self.text = ""
        self._rules, self._tell, self._cancel = tuple(rules), listen, cancel
        self._rows: list[tuple[float, dict[Key, float]]] = []

    def listen(self, event: Event) -> None:
        """Tell the event on, and look whether all rules hold."""
        self._tell(event)
        if not self._rules or not event.watches:
            return
        self._rows.append((event.time if event.time is not None else float(event.step), event.watches))
        if all(self._holds(rule) for rule in self._rules):
            self.text = "; ".join(rule.text for rule in self._rules)

    def cancel(self) -> bool:
        """Whether the solve is to end, by a rule or because it was asked to."""
        return bool(self.text) or self._cancel()

    def ended(self, solution: Solution) -> Solution:
        """A solution as it is to be taken: one that its rules ended was not stopped."""
        if not self.text or not solution.stopped:
            return solution
        return replace(solution, stopped=False, ended_by=self.text, notes=[*solution.notes, f"ended by its rule: {self.text}"])

    def _holds(self, rule: ResolvedStop) -> bool:
        if rule.steps is not None:
            if len(self._rows) <= rule.steps:
                return False
            window = self._rows[-rule.steps - 1 :]
        else:
            now = self._rows[-1][0]
            since = now - (rule.time or 0.0)
            if self._rows[0][0] > since:
                return False
            # From the last row that is at least so long ago.
            first = max(i for i, (time, _) in enumerate(self._rows) if time <= since)
            window = self._rows[first:]
        values = [in_sense(watches, rule.key) for _, watches in window]
        known = [value for value in values if value is not None]
        return len(known) == len(values) and max(known) - min(known) < rule.change

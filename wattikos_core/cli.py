"""The command line: the same functions as the web, for scripts and clusters.

Exit codes: 0 done, 1 the case is wrong, 2 the solve failed or did not converge, 3 a target cannot be met, 130 stopped.
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, TextIO

from wattikos_core.case import STARTERS, Case, case_from_json, json_schema
from wattikos_core.cli_report import add_command as add_report
from wattikos_core.cli_report import write_report
from wattikos_core.cli_size import add_options, carried_out, told
from wattikos_core.cli_vary import add_command, vary
from wattikos_core.errors import CaseError, InputProblem, SolveError
from wattikos_core.evidence import LedgerRow
from wattikos_core.grid.rectilinear import MAX_CELLS
from wattikos_core.quantities import KINDS, from_si, unit_label
from wattikos_core.solve import Event

if TYPE_CHECKING:
    from wattikos_core.studies import Frame

OK, BAD_CASE, NOT_SOLVED, NOT_MET, STOPPED = 0, 1, 2, 3, 130


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    options = _parser().parse_args(arguments)
    try:
        return int(options.run(options))
    except CaseError as error:
        for problem in error.problems:
            print(f"{problem.field}: {problem.problem}\n    {problem.remedy}", file=sys.stderr)
        return BAD_CASE
    except SolveError as error:
        print(f"not solved: {error.reason}\n    {error.remedy}", file=sys.stderr)
        return NOT_SOLVED
    except KeyboardInterrupt:
        print("stopped", file=sys.stderr)
        return STOPPED
    except BrokenPipeError:
        # The reader of our output (head, less) has seen enough.
        sys.stderr.close()
        return OK


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="wattikos", description="Conjugate heat transfer: estimate, solve and size cases.")
    commands = parser.add_subparsers(required=True, metavar="command")
    estimate = commands.add_parser("estimate", help="calculate a case by hand")
    estimate.set_defaults(run=_estimate)
    solve = commands.add_parser("solve", help="solve the field of a case")
    solve.set_defaults(run=_solve)
    size = commands.add_parser("size", help="find the inputs that meet what is wanted, or do it best")
    size.set_defaults(run=_size)
    for command in (estimate, solve, size):
        command.add_argument("case", type=Path, help="case document (JSON)")
        command.add_argument("--ledger", type=Path, help="write the ledger to this JSON file")
        command.add_argument("--quiet", action="store_true", help="print no progress")
    for command in (solve, size):
        command.add_argument("--vtu", "-o", type=Path, help="write the fields to this VTU file")
        command.add_argument("--fineness", type=float, help="grid fineness instead of the case's own")
        command.add_argument("--cells", type=int, help="about so many cells instead of a fineness")
        command.add_argument("--history", type=Path, help="write residuals and watched quantities of each step to this CSV file")
        command.add_argument("--grid", type=Path, help="use the grid in this file (VTU) instead of making one")
        command.add_argument(
            "--checkpoint", type=Path, help="start from this checkpoint if it exists (a run in time goes on), and leave one there"
        )
    solve.add_argument("--frames", type=Path, help="write each frame of a run in time to a VTU file in this folder")
    add_options(size)
    size.add_argument("--case-out", type=Path, help="write the sized case to this file")
    add_command(commands).set_defaults(run=_vary)
    add_report(commands).set_defaults(run=_write_report)
    grid = commands.add_parser("grid", help="make the grid of a case")
    grid.set_defaults(run=_grid)
    grid.add_argument("case", type=Path, help="case document (JSON)")
    grid.add_argument("--fineness", type=float, help="grid fineness instead of the case's own")
    grid.add_argument("--cells", type=int, help="about so many cells instead of a fineness")
    grid.add_argument("-o", "--out", type=Path, required=True, help="write the grid with its names to this VTU file")
    starters = commands.add_parser("starters", help="list the starters, or write one")
    starters.add_argument("key", nargs="?", help="write this starter's case document to standard output")
    starters.set_defaults(run=_starters)
    schema = commands.add_parser("schema", help="print the JSON Schema of case documents")
    schema.set_defaults(run=_schema)
    serve = commands.add_parser("serve", help="start the web application and its worker")
    serve.add_argument("--port", type=int, default=8000)
    serve.set_defaults(run=_serve)
    for name, words in (("backup", "copy the database to a file, also while it runs"), ("restore", "bring such a copy back")):
        command = commands.add_parser(name, help=words)
        command.add_argument("file", type=Path, help="the copy")
        command.set_defaults(run=_backup_or_restore, command=name)
    again = commands.add_parser("repeat", help="solve a stored run again, and say whether it gives the same numbers")
    again.add_argument("number", type=int, help="of the run")
    again.set_defaults(run=_repeat)
    return parser


def _read(path: Path, fineness: float | None = None, cells: int | None = None) -> Case:
    try:
        case = case_from_json(path.read_text())
    except (OSError, UnicodeDecodeError) as error:
        raise CaseError(InputProblem("case", f"{path} cannot be read ({error})", "give the path of a case document")) from error
    if fineness is not None:
        if not 0.25 <= fineness <= 8.0:
            raise CaseError(InputProblem("--fineness", f"{fineness:g} is out of range", "give a number from 0.25 to 8"))
        case = case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": fineness, "cells": None})})
    if cells is not None:
        if not 20 <= cells <= MAX_CELLS:
            raise CaseError(InputProblem("--cells", f"{cells:,} is out of range", f"give a number from 20 to {MAX_CELLS:,}"))
        case = case.model_copy(update={"grid": case.grid.model_copy(update={"cells": cells})})
    return case


def _estimate(options: argparse.Namespace) -> int:
    from wattikos_core.evidence import build_ledger
    from wattikos_core.studies import prepare

    prepared = prepare(_read(options.case))
    rows = build_ledger(prepared.resolved, prepared.hand, {})
    _report(prepared.case.title, rows, prepared.findings, options.ledger)
    return OK


def _vary(options: argparse.Namespace) -> int:
    return OK if vary(_read(options.case), options) else NOT_SOLVED


def _grid(options: argparse.Namespace) -> int:
    from wattikos_core.formats import write_grid
    from wattikos_core.grid import quality_of
    from wattikos_core.studies import grid_of, prepare

    grid = grid_of(prepare(_read(options.case, options.fineness, options.cells)))
    write_grid(options.out, grid)
    print(f"{quality_of(grid).cells:,} cells written to {options.out}")
    return OK


def _grid_file(case: Case, path: Path | None) -> tuple[Case, bytes | None]:
    """The case set up to use a grid file, and its content."""
    if path is None:
        return case, None
    try:
        content = path.read_bytes()
    except OSError as error:
        raise CaseError(InputProblem("--grid", f"{path} cannot be read ({error})", "give the path of a grid file")) from error
    return case.model_copy(update={"grid": case.grid.model_copy(update={"file": path.name})}), content


def _solve(options: argparse.Namespace) -> int:
    from wattikos_core.studies import solve_case

    case, grid_file = _grid_file(_read(options.case, options.fineness, options.cells), options.grid)
    start = options.checkpoint.read_bytes() if options.checkpoint and options.checkpoint.exists() else None
    run = solve_case(
        case,
        start=start,
        grid_file=grid_file,
        go_on=start is not None,
        on_frame=_frame_files(options.frames) if options.frames else None,
        listen=_progress(options.quiet),
    )
    if options.checkpoint:
        options.checkpoint.write_bytes(run.solution.checkpoint())
    _finish(run, options)
    return OK if run.solution.converged else NOT_SOLVED


def _frame_files(folder: Path) -> Callable[[Frame], None]:
    """Writes frames to `folder` as frame-0000.vtu and so on, with their times in times.csv and series.pvd."""
    from wattikos_core.formats import write_collection, write_vtu
    from wattikos_core.read import unpack_frame

    folder.mkdir(parents=True, exist_ok=True)
    times = folder / "times.csv"
    times.write_text("file,time in s\n")
    written: list[tuple[float, str]] = []

    def write(frame: Frame) -> None:
        name = f"frame-{len(written):04}.vtu"
        write_vtu(folder / name, frame.grid, unpack_frame(frame.data))
        with times.open("a") as table:
            table.write(f"{name},{frame.time:.9g}\n")
        written.append((frame.time, name))
        # Whole after every frame, so that it can be looked at while it runs.
        write_collection(folder / "series.pvd", written)

    return write


def _size(options: argparse.Namespace) -> int:
    case, grid_file = _grid_file(_read(options.case, options.fineness, options.cells), options.grid)
    result = carried_out(case, options, grid_file, _progress(options.quiet))
    if options.case_out:
        options.case_out.write_text(result.case.model_dump_json(indent=2) + "\n")
    _finish(result.run, options)
    print("\n".join(told(result)))
    return {"met": OK, "unsolved": NOT_SOLVED}.get(result.outcome, NOT_MET)


def _write_report(options: argparse.Namespace) -> int:
    write_report(_read(options.case, None, None), options, _progress(options.quiet))
    return OK


def _finish(run: Any, options: argparse.Namespace) -> None:
    from wattikos_core.formats import swings, write_history, write_vtu
    from wattikos_core.read import cell_fields

    if options.history:
        units = {row.name: unit_label(row.unit) for row in run.ledger}
        write_history(options.history, run.solution.history, units)
        for name, swing in swings(run.solution.history).items():
            often = f", {swing.frequency:.4g} Hz" if swing.frequency == swing.frequency else ""
            print(f"  {name}: mean {swing.mean:.6g}, amplitude {swing.amplitude:.4g}{often} (SI, last half)")
    if options.vtu:
        write_vtu(options.vtu, run.problem.grid, cell_fields(run.problem, run.solution.state, run.evaluation))
    _report(run.case.title, run.ledger, run.findings, options.ledger)
    print(f"{run.field.quality.cells:,} cells, {run.field.solver_seconds:.1f} s in the solver, {run.solution.method} method")


def _starters(options: argparse.Namespace) -> int:
    if options.key is None:
        for starter in STARTERS.values():
            print(f"{starter.key}: {starter.label}\n    {starter.summary}")
        return OK
    if options.key not in STARTERS:
        raise CaseError(InputProblem("key", f"there is no starter '{options.key}'", f"choose one of {', '.join(STARTERS)}"))
    print(json.dumps(STARTERS[options.key].document, indent=2))
    return OK


def _schema(options: argparse.Namespace) -> int:
    print(json.dumps(json_schema(), indent=2))
    return OK


def _serve(options: argparse.Namespace) -> int:
    return _manage("serve", "--port", str(options.port))


def _backup_or_restore(options: argparse.Namespace) -> int:
    return _manage(options.command, str(options.file.absolute()))


def _repeat(options: argparse.Namespace) -> int:
    return _manage("repeat_run", str(options.number))


def _manage(*arguments: str) -> int:
    """A command of the web application, in a process of its own: the core knows nothing of it."""
    import subprocess

    root = Path(__file__).resolve().parent.parent
    return subprocess.call([sys.executable, str(root / "manage.py"), *arguments])


def _progress(quiet: bool) -> Any:
    stream: TextIO = sys.stderr

    def tell(event: Event) -> None:
        if quiet:
            return
        residuals = "  ".join(f"{name} {value:.1e}" for name, value in event.residuals.items())
        print(f"{event.fraction:5.0%}  step {event.step:<4d} {event.stage}  {residuals}", file=stream)

    return tell


def _report(title: str, rows: Sequence[LedgerRow], findings: Sequence[Any], ledger: Path | None) -> None:
    from wattikos_core.formats import ledger_json

    if ledger:
        ledger.write_text(json.dumps(ledger_json(title, rows, findings), indent=2) + "\n")
    print(title)
    for row in rows:
        unit = KINDS[row.kind].unit
        cells = [_cell(row.target, row, unit), _cell(row.hand.value if row.hand else None, row, unit), _cell(row.solved, row, unit)]
        print(f"  {row.name:28s} {cells[0]:>12s} {cells[1]:>12s} {cells[2]:>12s}  {unit_label(unit):10s} {row.verdict}")
    for finding in findings:
        print(f"  {finding.severity}: {finding.text}; {finding.remedy}")


def _cell(value: float | None, row: LedgerRow, unit: str) -> str:
    return "" if value is None else f"{from_si(value, unit, row.kind):.5g}"

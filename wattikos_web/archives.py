"""A case with all that belongs to it as one archive (ZIP), and back: documents, saves, grids, runs with their fields, series.

What the program reads back stands in JSON and in its own arrays; beside it, for everyone else, ledgers and histories as CSV, fields
as VTU and the sketch as SVG.
"""

from __future__ import annotations

import io
import json
import tempfile
import zipfile
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from django.db import IntegrityError, transaction
from django.http import Http404
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from wattikos_core.case import read_case
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.formats import write_vtu
from wattikos_core.formats.drawing import sketch_svg
from wattikos_core.read import unpack_frame
from wattikos_core.section.sketch import sketch_of
from wattikos_core.solve.checkpoint import unpack_checkpoint
from wattikos_core.studies import draft
from wattikos_web.models import CaseRecord, CaseRevision, Frame, GridFile, Project, Run, Series, SeriesPoint
from wattikos_web.reading import read_instant
from wattikos_web.tables import history_csv, ledger_csv

FORMAT = 1
# What an archive may come to when it is unpacked, and how many files it may hold.
_LARGEST, _MOST_FILES = 1_000_000_000, 20_000
# What stands in a run as it is.
_PLAIN = (
    "kind",
    "state",
    "document",
    "revision",
    "go_on",
    "before",
    "meaning",
    "progress",
    "history",
    "ledger",
    "trials",
    "summary",
)
_TIMES = ("queued", "started", "finished")
_T = TypeVar("_T")


def write_archive(record: CaseRecord) -> bytes:
    """A case with all its runs that are over, its series, saves and grids."""
    target = io.BytesIO()
    runs = [run for run in record.runs.select_related("case").order_by("id") if run.over]
    number = {run.pk: i for i, run in enumerate(runs)}
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        about = {"format": FORMAT, "program": "Wattikos", "written": timezone.now().isoformat(), "revision": record.revision}
        archive.writestr("about.json", _json(about))
        archive.writestr("case.json", _json(record.document))
        archive.writestr("saves.json", _json([_save(one) for one in record.revisions.order_by("number")]))
        drawn = draft(read_case(record.document))
        if drawn.resolved is not None and drawn.section is not None:
            archive.writestr("sketch.svg", sketch_svg(sketch_of(drawn.resolved, drawn.section), record.title))
        for i, grid in enumerate(record.grid_files.order_by("id")):
            archive.writestr(f"grids/{i}.json", _json({"name": grid.name}))
            archive.writestr(f"grids/{i}.vtu", bytes(grid.content))
        for run in runs:
            _write_run(archive, run, f"runs/{number[run.pk]}", number)
        for i, series in enumerate(record.series.order_by("id")):
            archive.writestr(f"series/{i}.json", _json(_series(series, number)))
    return target.getvalue()


def _json(thing: Any) -> str:
    return json.dumps(thing, indent=1, ensure_ascii=False)


def _save(revision: CaseRevision) -> dict[str, Any]:
    return {
        "number": revision.number,
        "document": revision.document,
        "saved": revision.saved.isoformat(),
        "what": revision.what,
    }


def _write_run(archive: zipfile.ZipFile, run: Run, folder: str, number: dict[int, int]) -> None:
    plain = {name: getattr(run, name) for name in (*_PLAIN, "failure")}
    times = {name: value.isoformat() if (value := getattr(run, name)) is not None else None for name in _TIMES}
    start = number.get(run.warm_start_id) if run.warm_start_id is not None else None
    # What is led on from runs of other cases cannot be told by numbers of this one.
    led = [[number[pk], weight] for pk, weight in run.led_from if pk in number]
    led = led if len(led) == len(run.led_from) else []
    archive.writestr(f"{folder}/run.json", _json({**plain, **times, "begun_from": start, "led_from": led}))
    if run.checkpoint:
        archive.writestr(f"{folder}/checkpoint.npz", bytes(run.checkpoint))
    for frame in run.frames.all():
        name = f"{folder}/frames/{frame.number}"
        archive.writestr(f"{name}.json", _json({"number": frame.number, "time": frame.time}))
        archive.writestr(f"{name}.npz", bytes(frame.data))
    if run.ledger is not None:
        archive.writestr(f"{folder}/ledger.csv", ledger_csv(run.ledger))
    if run.history or run.before:
        archive.writestr(f"{folder}/history.csv", history_csv(run))
    try:
        instant = read_instant(run, None)
    except Http404:
        return
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "fields.vtu"
        write_vtu(path, instant.grid, instant.fields)
        archive.write(path, f"{folder}/fields.vtu")


def _series(series: Series, number: dict[int, int]) -> dict[str, Any]:
    points = [
        {
            "number": point.number,
            "values": point.values,
            "place": point.place,
            "problem": point.problem,
            "run": number.get(point.run_id) if point.run_id is not None else None,
        }
        for point in series.points.order_by("number")
    ]
    shared = {"name": series.name, "document": series.document, "hand": series.hand, "begun": series.begun.isoformat()}
    return {**shared, "points": points}


def read_archive(project: Project, content: bytes) -> CaseRecord:
    """The case of an archive, in a project, with all that came with it.

    Raises:
        CaseError: what is no archive of this program, or holds what cannot be read.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            _refuse_too_large(archive)
            return _Reader(archive).into(project)
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError) as error:
        raise _no_archive(str(error)) from error


def _no_archive(why: str) -> CaseError:
    remedy = "choose an archive that this program has written"
    return CaseError(InputProblem("file", f"this is no archive of a case ({why})", remedy))


def _refuse_too_large(archive: zipfile.ZipFile) -> None:
    entries = archive.infolist()
    size = sum(entry.file_size for entry in entries)
    if size > _LARGEST or len(entries) > _MOST_FILES:
        problem = f"the archive unpacks to {size / 1e6:.0f} MB in {len(entries):,} files"
        raise CaseError(InputProblem("file", problem, f"{_LARGEST / 1e6:.0f} MB and {_MOST_FILES:,} files are the most"))


class _Reader:
    """Reads all of an archive before anything is stored."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self.archive = archive
        self.names = set(archive.namelist())

    def json(self, name: str) -> Any:
        if name not in self.names:
            raise _no_archive(f"it has no {name}")
        try:
            return json.loads(self.archive.read(name))
        except ValueError as error:
            raise _no_archive(f"{name} is no JSON") from error

    def bytes(self, name: str, check: Callable[[bytes], Any]) -> bytes | None:
        """The arrays of a file; None where there is none."""
        if name not in self.names:
            return None
        data = self.archive.read(name)
        try:
            check(data)
        except (ValueError, KeyError, OSError, TypeError, EOFError, zipfile.BadZipFile, zlib.error) as error:
            raise _no_archive(f"{name} cannot be read") from error
        return data

    def each(self, folder: str, file: str) -> list[str]:
        """The names of numbered entries, in order."""
        return [name for i in range(len(self.names)) if (name := f"{folder}/{i}{file}") in self.names]

    def into(self, project: Project) -> CaseRecord:
        about = self.json("about.json")
        if not isinstance(about, dict) or about.get("format") != FORMAT:
            raise _no_archive("it is of another format")
        try:
            with transaction.atomic():
                return self._stored(project, about)
        except (LookupError, TypeError, AttributeError, ValueError, OverflowError, IntegrityError) as error:
            raise _no_archive(f"something in it is missing or of another kind: {error}") from error

    def _stored(self, project: Project, about: dict[str, Any]) -> CaseRecord:
        case = read_case(self.json("case.json"))
        record = CaseRecord.objects.create(
            project=project, title=case.title, document=case.model_dump(mode="json"), revision=int(about["revision"])
        )
        for save in self.json("saves.json"):
            document = read_case(save["document"]).model_dump(mode="json")
            made = CaseRevision.objects.create(
                case=record, number=int(save["number"]), document=document, what=str(save["what"])[:300]
            )
            CaseRevision.objects.filter(pk=made.pk).update(saved=_time(save["saved"]))
        for name in self.each("grids", ".json"):
            content = self.archive.read(name.removesuffix(".json") + ".vtu")
            GridFile.objects.create(case=record, name=str(self.json(name)["name"])[:200], content=content)
        folders = [name.removesuffix("/run.json") for name in self.each("runs", "/run.json")]
        told = [self.json(f"{folder}/run.json") for folder in folders]
        runs = [self._run(record, folder, one) for folder, one in zip(folders, told, strict=True)]
        for run, one in zip(runs, told, strict=True):
            if one["begun_from"] is not None:
                led = [[runs[int(i)].pk, float(weight)] for i, weight in one.get("led_from", [])]
                Run.objects.filter(pk=run.pk).update(warm_start=runs[int(one["begun_from"])], led_from=led)
        for name in self.each("series", ".json"):
            self._series(record, runs, self.json(name))
        return record

    def _run(self, record: CaseRecord, folder: str, told: dict[str, Any]) -> Run:
        if told["state"] not in (Run.State.DONE, Run.State.STOPPED, Run.State.FAILED) or told["kind"] not in Run.Kind.values:
            raise ValueError(f"{folder} is a run of kind '{told['kind']}' that is '{told['state']}'")
        plain = {name: _like(told[name], getattr(Run(), name)) for name in _PLAIN if name not in ("document", "ledger")}
        run = Run.objects.create(
            case=record,
            document=read_case(told["document"]).model_dump(mode="json"),
            ledger=_ledger(told["ledger"]),
            failure=told["failure"],
            checkpoint=self.bytes(f"{folder}/checkpoint.npz", unpack_checkpoint),
            started=_time(told["started"]),
            finished=_time(told["finished"]),
            **plain,
        )
        Run.objects.filter(pk=run.pk).update(queued=_time(told["queued"]) or timezone.now())
        for name in self.each(f"{folder}/frames", ".json"):
            frame = self.json(name)
            data = self.bytes(name.removesuffix(".json") + ".npz", unpack_frame)
            if data is None:
                raise ValueError(f"{name} has no fields")
            time = None if frame["time"] is None else float(frame["time"])
            Frame.objects.create(run=run, number=int(frame["number"]), time=time, data=data)
        return run

    def _series(self, record: CaseRecord, runs: list[Run], told: dict[str, Any]) -> None:
        document = read_case(told["document"]).model_dump(mode="json")
        series = Series.objects.create(case=record, name=str(told["name"])[:200], document=document, hand=_like(told["hand"], {}))
        Series.objects.filter(pk=series.pk).update(begun=_time(told["begun"]) or timezone.now())
        SeriesPoint.objects.bulk_create(
            SeriesPoint(
                series=series,
                number=int(point["number"]),
                values=[str(text) for text in point["values"]],
                place=[None if x is None else float(x) for x in point["place"]],
                problem=str(point["problem"]),
                run=None if point["run"] is None else runs[int(point["run"])],
            )
            for point in told["points"]
        )


def _like(value: _T, example: Any) -> _T:
    """A value, refused where it is not of the kind of an example."""
    for kind in (dict, list, bool, str):
        if isinstance(example, kind) and not isinstance(value, kind):
            raise TypeError(f"{value!r:.60} is no {kind.__name__}")
    return value


def _ledger(told: Any) -> dict[str, Any] | None:
    if told is None:
        return None
    rows = _like(_like(told, {})["quantities"], [])
    for row in rows:
        if not isinstance(row["name"], str) or not isinstance(row["key"], dict):
            raise TypeError("a row of a ledger has no name or no key")
    _like(told["findings"], [])
    return dict(told)


def _time(text: Any) -> Any:
    return parse_datetime(text) if isinstance(text, str) else None

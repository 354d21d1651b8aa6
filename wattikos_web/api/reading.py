"""Questions to the fields of a run: lines, probes, streamlines."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np
from django.http import HttpRequest
from ninja import Router

from wattikos_core.case.places import PlacedProbe, placed_line, placed_probe
from wattikos_core.case.reading import ReadLine, SurfaceLine
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.read import (
    FIELDS,
    Instant,
    even_streamlines,
    probe_values,
    read_line,
    seeds_along,
    streamlines_from,
    unpack_frame,
    unpack_surfaces,
)
from wattikos_core.read.lines import paths_of
from wattikos_core.read.profiles import Profile
from wattikos_core.read.walls import WALL_FIELDS, all_walls, wall_path
from wattikos_web.api.access import own_run
from wattikos_web.api.reading_schemas import (
    LineOut,
    LinesBody,
    ProbeOut,
    ProbesBody,
    StreamlinesBody,
    StreamlinesOut,
    WallOut,
    WallsBody,
)
from wattikos_web.api.schemas import ProblemsOut
from wattikos_web.aside.arrays import packed
from wattikos_web.models import Run
from wattikos_web.reading import read_instant, read_run

router = Router(tags=["reading"])
_MOST_IN_A_CURVE = 250
_REFUSALS = {404: ProblemsOut, 422: ProblemsOut}


@router.post("/runs/{int:run}/lines", response={200: list[LineOut], **_REFUSALS})
def along_lines(request: HttpRequest, run: int, body: LinesBody) -> Any:
    """All fields along lines of the case, at some frames of a run; expressions in them have the run's own inputs. One that cannot
    be read says so for itself."""
    found = own_run(request, run)
    known = read_run(found)
    times = dict(found.frames.values_list("number", "time"))
    numbers: list[int | None] = [*body.frames] or [max(times) if times else None]
    answers: list[dict[str, Any]] = []
    for line in body.lines:
        answers.append({"name": line.name})
        try:
            placed = placed_line(known.case, line)
            answers[-1]["at"] = [
                {
                    "frame": number,
                    "time": times.get(number) if number is not None else None,
                    "profiles": [
                        _profile(profile)
                        for profile in read_line(read_instant(found, number), placed, body.reference, known.streams)
                    ],
                }
                for number in numbers
            ]
        except CaseError as error:
            answers[-1]["problem"] = f"{error.problems[0].problem}; {error.problems[0].remedy}"
    return answers


@router.post("/runs/{int:run}/walls", response={200: list[WallOut], **_REFUSALS})
def on_walls(request: HttpRequest, run: int, body: WallsBody) -> Any:
    """A field along all walls and interfaces of a run."""
    found = own_run(request, run)
    profiles = all_walls(read_instant(found, body.frame), body.field, body.reference, read_run(found).streams)
    return [
        {
            "name": profile.path.name,
            "kind": WALL_FIELDS[body.field],
            "x": packed(profile.path.points[:, 0], "f4"),
            "y": packed(profile.path.points[:, 1], "f4"),
            "normal_x": packed(profile.path.normal[:, 0], "f4"),
            "normal_y": packed(profile.path.normal[:, 1], "f4"),
            "values": packed(profile.fields[body.field], "f4"),
        }
        for profile in profiles
    ]


@router.post("/runs/{int:run}/probes", response={200: list[ProbeOut], **_REFUSALS})
def at_probes(request: HttpRequest, run: int, body: ProbesBody) -> Any:
    """Fields at probes; one that lies outside the section of this run says so for itself."""
    found = own_run(request, run)
    case = read_run(found).case
    answers: list[dict[str, Any]] = []
    for index, probe in enumerate(body.probes):
        answer: dict[str, Any] = {"name": probe.name, "fields": []}
        answers.append(answer)
        try:
            placed = placed_probe(case, probe, f"probes[{index}]")
            answer["place"] = list(placed.place)
            values = probe_values(read_instant(found, body.frame), placed)
        except CaseError as error:
            answer["problem"] = f"{error.problems[0].problem}; {error.problems[0].remedy}"
            continue
        answer["fields"] = [{"name": name, "kind": FIELDS[name], **asdict(value)} for name, value in values.items()]
        if body.course:
            answer["course"] = _course(found, placed, body.course)
    return answers


def _course(run: Run, placed: PlacedProbe, field: str) -> dict[str, list[float]] | None:
    course: dict[str, list[float]] = {"time": [], "mean": [], "lowest": [], "highest": []}
    between = read_run(run).between
    numbers = list(run.frames.values_list("number", flat=True))
    # Of very many frames some are enough for a curve.
    some = numbers[:: max(1, len(numbers) // _MOST_IN_A_CURVE)]
    for time, data in run.frames.filter(number__in=some).values_list("time", "data").iterator(chunk_size=8):
        instant = Instant(between, unpack_frame(bytes(data), [field]), unpack_surfaces(bytes(data)))
        value = probe_values(instant, placed).get(field)
        if time is not None and value is not None:
            course["time"].append(time)
            for name in ("mean", "lowest", "highest"):
                course[name].append(getattr(value, name))
    return course if course["time"] else None


@router.post("/runs/{int:run}/streamlines", response={200: StreamlinesOut, **_REFUSALS})
def streamlines(request: HttpRequest, run: int, body: StreamlinesBody) -> Any:
    """Streamlines of a frame of a run."""
    found = own_run(request, run)
    instant = read_instant(found, body.frame)
    if body.how == "even":
        lines = even_streamlines(instant, body.distance, body.stretch)
    elif body.how == "point":
        lines = streamlines_from(instant, np.array(body.points, dtype=float).reshape(-1, 2))
    else:
        lines = streamlines_from(instant, _seeds(found, instant, body.line, body.count))
    return {
        "points": packed(lines.points.ravel(), "f4"),
        "start": packed(lines.start, "u4"),
        "time": packed(lines.time, "f4"),
        "cells": packed(lines.cells, "u4"),
        "closed": [bool(closed) for closed in lines.closed],
    }


def _seeds(run: Run, instant: Instant, line: ReadLine | None, count: int) -> np.ndarray:
    if line is None:
        raise CaseError(InputProblem("line", "no line is given", "name a line or a boundary that streamlines begin at"))
    placed = placed_line(read_run(run).case, line)
    if isinstance(line.along, SurfaceLine):
        paths = [wall_path(instant, name) for name in placed.boundaries]
    else:
        paths = paths_of(instant, placed)
    return np.concatenate([seeds_along(instant, path, count) for path in paths])


def _profile(profile: Profile) -> dict[str, Any]:
    path = profile.path
    return {
        "name": path.name,
        "length": path.length,
        "area": profile.area,
        "mass_flow": profile.mass_flow,
        "along": packed(path.along, "f4"),
        "x": packed(path.points[:, 0], "f4"),
        "y": packed(path.points[:, 1], "f4"),
        "fields": [
            {
                "name": name,
                "kind": FIELDS.get(name) or WALL_FIELDS[name],
                "values": packed(profile.fields[name], "f4"),
                "statistics": asdict(statistics),
            }
            for name, statistics in profile.statistics.items()
        ],
    }

"""What stands in the sections of a report, from a case, its solution, its series and its sizing."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from wattikos_core.case.places import placed_line
from wattikos_core.case.reading import View
from wattikos_core.case.reporting import ReportSection
from wattikos_core.errors import CaseError
from wattikos_core.quantities import KINDS, difference_from_si, from_si, unit_label
from wattikos_core.quantities.values import show
from wattikos_core.read import FIELDS, Instant
from wattikos_core.read.lines import read_line
from wattikos_core.read.walls import WALL_FIELDS
from wattikos_core.report.blocks import Block, Bullets, Document, Facts, Heading, Paragraph, Picture, TableBlock
from wattikos_core.report.data import ReportData, SeriesData, Told, printed_views, value_of
from wattikos_core.report.pictures import Curve, curve_picture, field_picture, sketch_picture
from wattikos_core.section.regimes import follows_layers, regimes

_SENSES = {"at_least": "≥", "at_most": "≤", "equal": "=", "between": "≥"}
_PHYSICS = {
    "flow": {
        "none": "conduction alone",
        "laminar": "laminar flow",
        "turbulent": "turbulent flow (k-ω shear stress transport, Menter and others 2003)",
        "automatic": "laminar or turbulent flow by the Reynolds numbers (k-ω shear stress transport, Menter and others 2003)",
    },
    "regime": {"steady": "steady", "time": "in time"},
    "density": {"in_weight": "density varies in the weight alone (Boussinesq)", "everywhere": "density varies everywhere"},
    "convection": {"fromm": "second-order convection (Fromm)", "upwind": "first-order upwind convection"},
}
_ALWAYS = (
    "Properties depend on temperature, from tables of the sources named under 'Run'.",
    "Bulk temperatures are mixed-mean, weighted with mass flow; areas and reference temperatures are those of each definition.",
    "The finite-volume scheme conserves mass and heat to round-off: what enters less what leaves is the balance told under 'Run'.",
)
# Quantities of a series that are drawn.
_MOST_DRAWN = 4


def report_of(data: ReportData) -> Document:
    """The report of a case in the sections that it wishes; what has nothing to tell is left out."""
    told = Told(data)
    blocks: list[Block] = []
    for section in data.case.report.chosen:
        own = [Paragraph(section.text.strip())] if section.text.strip() else []
        said = _SECTIONS[section.name][1](told) if section.name in _SECTIONS else []
        if own or said:
            blocks += [Heading(_title(section)), *own, *said]
    return Document(data.case.title, tuple(blocks), data.company, data.logo, data.date, data.case.report.paper, "Wattikos")


def together(title: str, reports: Sequence[Document]) -> Document:
    """Several reports in one: each begins on its title, and its sections stand a level lower."""
    first = reports[0]
    blocks: list[Block] = []
    for one in reports:
        blocks.append(Heading(one.title))
        blocks += [Heading(b.text, b.level + 1) if isinstance(b, Heading) else b for b in one.blocks]
    return Document(title, tuple(blocks), first.company, first.logo, first.date, first.paper, first.subtitle)


def _title(section: ReportSection) -> str:
    return section.title.strip() or (_SECTIONS[section.name][0] if section.name in _SECTIONS else "Remarks")


def _spread(row: Mapping[str, Any]) -> str:
    spread, unit = row["grid_plus_minus"], KINDS[row["kind"]].unit
    return "" if spread is None else f"{difference_from_si(float(spread), unit, row['kind']):.2g}"


def _asked(row: Mapping[str, Any]) -> str:
    if row["target"] is None:
        return ""
    upper = (
        f" to {show(float(row['upper']), row['kind'])}" if row.get("sense") == "between" and row.get("upper") is not None else ""
    )
    return f"{_SENSES.get(row.get('sense', 'at_least'), '')} {show(float(row['target']), row['kind'])}{upper}".strip()


def _answer(told: Told) -> list[Block]:
    blocks: list[Block] = [Paragraph(told.case.note)] if told.case.note.strip() else []
    solved = told.data.solved
    if solved is None:
        blocks.append(Paragraph("Nothing is solved yet: all numbers are calculated by hand."))
    elif solved.stale:
        changed = ", ".join(solved.stale)
        blocks.append(Paragraph(f"The case has changed since it was solved ({changed}); solved values are left out."))
    lines = []
    for row in told.rows:
        if not row["wanted"]:
            continue
        best = value_of(row, "solved") or value_of(row, "by_hand")
        spread = f" ± {_spread(row)}" if _spread(row) and row["solved"] is not None else ""
        how = "" if row["solved"] is not None else " by hand"
        asked = _asked(row)
        met = "" if row["meets"] is None else ", met" if row["meets"] else ", not met"
        lines.append(f"{row['name']}: {best}{spread}{how}" + (f" (asked {asked}{met})" if asked else ""))
    if lines:
        blocks += [Paragraph(lines[0], strong=True)] + ([Bullets(tuple(lines[1:]))] if lines[1:] else [])
    return blocks


def _given(told: Told) -> list[Block]:
    rows = []
    for name, item in told.case.inputs.items():
        value = told.drawn.values.get(name)
        text = show(value.magnitude, item.kind, item.unit or None, 5) if value is not None else item.value
        written = item.value if item.value.strip() != text and not item.value.strip().startswith(text.split()[0]) else ""
        rows.append((item.label or name, text, written, item.note))
    columns = ("input", "value", "as entered", "note")
    kept = [k for k in range(4) if k < 2 or any(row[k] for row in rows)]
    table = tuple(tuple(row[k] for k in kept) for row in rows)
    return [TableBlock(tuple(columns[k] for k in kept), table, frozenset({1}))] if rows else []


def _sketch(told: Told) -> list[Block]:
    if told.sketch is None:
        return []
    parts = [(part["name"], part["material"], _what(part)) for part in told.sketch["parts"]]
    flags = [(b["name"], b["flag"]) for b in told.sketch["boundaries"] if b["flag"]]
    resolved = told.drawn.resolved
    assert resolved is not None
    extent = "about its axis" if resolved.axisymmetric else f"flat, {show(resolved.depth, 'length')} deep"
    return [
        Picture(sketch_picture(told.sketch), f"The section to scale, {extent}, with its conditions."),
        TableBlock(("part", "material", ""), tuple(parts)),
        Heading("Conditions", 2),
        TableBlock(("boundary", "condition"), tuple(flags)),
    ]


# What is taken for granted of what stands in streams.
_OF_INTERNALS = {
    "fan": "the rise of a fan is even over its face, and follows the flow through all of it; it makes no turbulence",
    "resistance": "a resistance takes pressure from the speed across it, and turns the stream no further",
    "core": "a core is passed across its tubes alone; there is no turbulence between its fins; what flows in the tubes is steady, "
    "mixes between passes, and gives heat by UA",
    "porous": "in porous parts the matrix is as warm as the fluid, or has a temperature of its own where that is told (it then "
    "exchanges heat by volume, passes nothing on where it ends, and eddies carry no heat in it); what passes mixes heat over the "
    "length that is given, and turbulence is neither damped nor made there",
}


_OF_RADIATION = (
    "radiate to each other, grey and diffuse, through a gas that takes no part; openings are black at the temperature beyond"
)
_IN_MODULES = "; from module to module what they radiate is linear about their mean temperature"


def _what(part: Mapping[str, Any]) -> str:
    """What a part is, in words: with what stands in its stream."""
    internal = part.get("internal")
    state = "fluid" if part["fluid"] else "solid"
    return f"{state}, {internal['kind']}: {internal['flag']}" if internal else state


def _physics(told: Told) -> list[Block]:
    physics = told.case.physics
    items = [words.get(str(getattr(physics, name, "")), str(getattr(physics, name, ""))) for name, words in _PHYSICS.items()]
    if physics.gravity_x or physics.gravity_y:
        items.append(f"gravity ({physics.gravity_x or '0'}, {physics.gravity_y or '0'})")
    if _layers_are_followed(told):
        items.append("layers along walls turn turbulent on their way (intermittency, Menter and others 2015)")
    if physics.turbulent_stress == "free" and physics.flow != "laminar":
        items.append("turbulent shear stress is not limited (the baseline of the model of shear stress transport, Menter 1994)")
    if physics.turbulent_production == "turning" and physics.flow != "laminar":
        items.append("turbulence is made by strain that turns, not where streams stagnate (Kato and Launder 1993)")
    if physics.friction_heat:
        items.append("heat of friction is counted")
    kinds = dict.fromkeys(part.internal.type for part in told.case.section.parts if part.internal is not None)
    items += [_OF_INTERNALS[kind] for kind in kinds]
    gases = [part.name for part in told.case.section.parts if part.radiation is not None]
    if gases:
        repeats = any(condition.type == "periodic" for condition in told.case.conditions)
        items.append(f"surfaces around {', '.join(gases)} {_OF_RADIATION}{_IN_MODULES if repeats else ''}")
    return [Bullets(tuple(item for item in [*items, *_ALWAYS] if item))]


def _layers_are_followed(told: Told) -> bool:
    """Whether layers along walls of turbulent streams may be laminar at first."""
    resolved, section = told.drawn.resolved, told.drawn.section
    if resolved is None or section is None or told.case.physics.flow == "laminar":
        return False
    return follows_layers(resolved, regimes(resolved, section))


def _grid(told: Told) -> list[Block]:
    solved, study = told.data.solved, told.data.study
    blocks: list[Block] = []
    if solved is not None and solved.summary.get("cells"):
        grids = solved.summary.get("grids") or []
        facts = [("cells", f"{int(solved.summary['cells']):,}"), ("fineness", f"{told.case.grid.fineness:g}")]
        if len(grids) > 1:
            facts.append(("grids", ", ".join(f"{int(grid['cells']):,}" for grid in grids)))
        blocks.append(Facts(tuple(facts)))
    if study:
        blocks += [Heading("Grid study", 2), _study(study)]
    if blocks:
        text = "Grid ± is by the three-grid procedure of Celik et al. (2008, J. Fluids Eng. 130, 078001)"
        blocks.append(Paragraph(f"{text}; of more grids by least squares (Eça and Hoekstra 2014, J. Comput. Phys. 262, 104)."))
    return blocks


def _study(study: Mapping[str, Any]) -> TableBlock:
    """A row for each quantity, a column for each grid, from coarse to fine."""
    cells = [int(grid["cells"]) for grid in study["grids"]]
    rows = []
    for one in study["quantities"]:
        kind = one["kind"]
        spread = difference_from_si(float(one["plus_minus"][-1]), KINDS[kind].unit, kind)
        enough = one["good_enough"]
        rows.append(
            (
                one["name"],
                *(show(float(value), kind) for value in one["values"]),
                show(float(one["extrapolated"]), kind),
                f"{spread:.2g}",
                "" if one["order"] is None else f"{float(one['order']):.2f}",
                "" if enough is None else f"{cells[int(enough)]:,} cells",
            )
        )
    columns = ("quantity", *(f"{count:,}" for count in cells), "extrapolated", "± of the finest", "order", "good enough at")
    return TableBlock(columns, tuple(rows), frozenset(range(1, len(columns))))


def _run(told: Told) -> list[Block]:
    solved = told.data.solved
    if solved is None or not solved.summary:
        return []
    summary = solved.summary
    record = summary.get("record") or {}
    facts = [
        ("solved", solved.finished),
        ("outcome", "converged" if summary.get("converged") else "not converged"),
        ("method", str(summary.get("method", ""))),
        ("steps", str(summary.get("steps", ""))),
        ("time in the solver", f"{float(summary['solver_seconds']):.1f} s" if summary.get("solver_seconds") else ""),
        ("heat balance", f"{float(summary['heat_balance']):.1e}" if summary.get("heat_balance") is not None else ""),
        ("mass balance", f"{float(summary['mass_balance']):.1e}" if summary.get("mass_balance") is not None else ""),
        ("programs", ", ".join(f"{name} {version}" for name, version in (record.get("versions") or {}).items())),
        ("machine", ", ".join(str(x) for x in (record.get("machine") or {}).values())),
    ]
    blocks: list[Block] = [Facts(tuple((name, text) for name, text in facts if text))]
    materials = [(part, m["material"], m["source"]) for part, m in (record.get("materials") or {}).items()]
    if materials:
        blocks.append(TableBlock(("part", "material", "source of its properties"), tuple(materials)))
    return blocks


def _ledger(told: Told) -> list[Block]:
    rows = [row for row in told.rows if row["wanted"] or row["by_hand"]]
    if not any(row["by_hand"] for row in rows):
        rows = told.rows
    table = [
        (row["name"], _asked(row), value_of(row, "by_hand"), value_of(row, "solved"), _spread(row), row["verdict"]) for row in rows
    ]
    strong = frozenset(i for i, row in enumerate(rows) if row["wanted"])
    columns = ("quantity", "wanted", "by hand", "solved", "grid ±", "verdict")
    more = len(told.rows) - len(rows)
    said = [Paragraph(f"{more} more quantities are in the ledger of the run.")] if more else []
    return [TableBlock(columns, tuple(table), frozenset({1, 2, 3, 4}), strong), *said] if table else []


def _views(told: Told) -> list[Block]:
    instant, sketch = told.instant, told.sketch
    if instant is None or sketch is None:
        return []
    blocks: list[Block] = []
    for view in printed_views(told.case):
        if view.field in instant.fields:
            blocks.append(Picture(field_picture(instant, sketch, view), f"{view.name}: {view.field}, solved"))
        blocks += _lines(told, instant, view)
    return blocks


def _lines(told: Told, instant: Instant, view: View) -> list[Block]:
    """What a view plots along lines of the case; lines that do not meet the section are left out."""
    name = view.plotted or view.field
    curves, kind = [], FIELDS.get(name, WALL_FIELDS.get(name, "number"))
    for line in told.case.reading.lines:
        if line.name not in view.lines:
            continue
        try:
            profiles = read_line(instant, placed_line(told.case, line))
        except CaseError:
            continue
        for number, profile in enumerate(profiles, 1):
            if name in profile.fields:
                x = [from_si(float(at), "mm", "length") for at in profile.path.along]
                y = [from_si(float(value), KINDS[kind].unit, kind) for value in profile.fields[name]]
                curves.append(Curve(line.name if len(profiles) == 1 else f"{line.name} {number}", x, y))
    if not curves:
        return []
    said = f"{name}, {unit_label(KINDS[kind].unit)}".rstrip(", ")
    return [Picture(curve_picture(curves, "along the line, mm", said), f"{view.name}: {name} along {', '.join(view.lines)}")]


def _series(told: Told) -> list[Block]:
    blocks: list[Block] = []
    for series in told.data.series:
        blocks.append(Heading(series.name, 2))
        wanted = {wish.key.label for wish in told.case.wanted}
        chosen = [i for i, q in enumerate(series.quantities) if q["name"] in wanted][:_MOST_DRAWN] or [0]
        names = [f"{series.quantities[i]['name']}" for i in chosen if i < len(series.quantities)]
        rows = []
        for point in series.points:
            cells = list(point["values"])
            for i in chosen:
                value, hand = _at(point, "solved", i), _at(point, "hand", i)
                kind = series.quantities[i]["kind"]
                best = value if value is not None else hand
                cells.append("" if best is None else show(best, kind) + ("" if value is not None else " (by hand)"))
            rows.append(tuple(cells))
        columns = (*(one["label"] for one in series.varied), *names)
        numbers = frozenset(range(len(columns)))
        blocks.append(TableBlock(columns, tuple(rows), numbers))
        picture = _drawn(series, chosen[0]) if series.quantities else None
        blocks += [picture] if picture is not None else []
    return blocks


def _at(point: Mapping[str, Any], column: str, i: int) -> float | None:
    values = point.get(column) or []
    return None if i >= len(values) or values[i] is None else float(values[i])


def _drawn(series: SeriesData, i: int) -> Picture | None:
    """A quantity along the first number that is varied, a curve for each of what else is."""
    along = next((k for k, one in enumerate(series.varied) if one["kind"]), None)
    if along is None:
        return None
    one, quantity = series.varied[along], series.quantities[i]
    unit, kind = KINDS[quantity["kind"]].unit, quantity["kind"]
    groups: dict[str, list[tuple[float, float]]] = {}
    for point in series.points:
        value = _at(point, "solved", i)
        value = value if value is not None else _at(point, "hand", i)
        place = point["place"][along] if along < len(point["place"]) else None
        if value is None or place is None:
            continue
        others = ", ".join(text for k, text in enumerate(point["values"]) if k != along)
        groups.setdefault(others, []).append((from_si(float(place), one["unit"], one["kind"]), from_si(value, unit, kind)))
    curves = []
    for name, points in groups.items():
        points.sort()
        curves.append(Curve(name or quantity["name"], [x for x, _ in points], [y for _, y in points], marks=True))
    if not curves:
        return None
    x = f"{one['label']}, {unit_label(one['unit'])}".rstrip(", ")
    y = f"{quantity['name']}, {unit_label(unit)}".rstrip(", ")
    return Picture(curve_picture(curves, x, y), f"{series.name}: {quantity['name']}")


def _sizing(told: Told) -> list[Block]:
    sizing = told.data.sizing
    if not sizing:
        return []
    blocks: list[Block] = [Paragraph(str(sizing["text"]), strong=True)]
    if sizing["margins"]:
        blocks.append(Bullets(tuple(str(margin["text"]) for margin in sizing["margins"])))
    if sizing["suggestions"]:
        blocks.append(Bullets(tuple(str(text) for text in sizing["suggestions"])))
    names = [v["input"] or f"material of {v['material_of']}" for one in sizing["chosen"] for v in one["varied"]]
    quantities = sizing["quantities"]
    columns = ("trial", *names, *(f"{q['name']}, {how}" for q in quantities for how in ("by hand", "solved")))
    rows = []
    for number, trial in enumerate(sizing["trials"], 1):
        cells = [str(number), *trial["values"]]
        for i, quantity in enumerate(quantities):
            pair = (trial["hand"][i], trial["solved"][i])
            cells += ["" if x is None else show(float(x), quantity["kind"]) for x in pair]
        rows.append(tuple(cells))
    blocks.append(TableBlock(columns, tuple(rows), frozenset(range(len(columns)))))
    return blocks


def _findings(told: Told) -> list[Block]:
    answers = told.case.answers
    rows = []
    for finding in told.findings:
        answer = next(
            (text for key, text in answers.items() if key.startswith(finding["place"]) and key.endswith(finding["text"])), ""
        )
        rows.append((finding["severity"], finding["place"], f"{finding['text']}. {finding['remedy']}", answer))
    if not rows:
        return [Paragraph("Nothing was found that is to be looked at.")]
    return [TableBlock(("", "place", "finding", "answer"), tuple(rows))]


def _sources(told: Told) -> list[Block]:
    found: list[str] = []
    for row in told.rows:
        hand = row["by_hand"]
        for one in [hand, *(hand.get("also") or [])] if hand else []:
            found.append(f"{one['source']}; {'holds for' if one['inside'] else 'outside its range'}: {one['range']}")
    return [Bullets(tuple(dict.fromkeys(found)))] if found else []


_SECTIONS: dict[str, tuple[str, Callable[[Told], list[Block]]]] = {
    "answer": ("Task and answer", _answer),
    "given": ("Given", _given),
    "sketch": ("Sketch and conditions", _sketch),
    "physics": ("Assumptions and physics", _physics),
    "grid": ("Grid", _grid),
    "run": ("Run", _run),
    "ledger": ("Ledger", _ledger),
    "views": ("Fields", _views),
    "series": ("Series", _series),
    "sizing": ("Sizing", _sizing),
    "findings": ("Findings", _findings),
    "sources": ("Sources", _sources),
}
SECTION_TITLES = {name: title for name, (title, _) in _SECTIONS.items()} | {"text": "Remarks"}

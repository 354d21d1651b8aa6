"""Equipment in which streams are turbulent: the same sections as of slow streams, with flows as plants have them."""

from __future__ import annotations

import copy
from collections.abc import Mapping

from wattikos_core.case.starters.building import Document, Starter, quantity, sized
from wattikos_core.case.starters.crossflow import TUBE
from wattikos_core.case.starters.pipes import DOUBLE_PIPE
from wattikos_core.case.starters.plates import PLATE_PASSAGE
from wattikos_core.case.starters.repeating import BUNDLE_MODULE, RIBBED_DUCT


def _stirred(
    base: Starter, key: str, label: str, summary: str, texts: tuple[str, str], inputs: Mapping[str, Document], size: Document
) -> Starter:
    """A starter with other inputs, whose streams are turbulent where their Reynolds numbers say so.

    Args:
        base: the starter with the same section.
        key: its name; `label` and `summary` as people read them.
        label: see above.
        summary: see above.
        texts: title and note of the case.
        inputs: what changes of them.
        size: what is sized.
    """
    document = copy.deepcopy(base.document)
    document |= {"title": texts[0], "note": texts[1], "starter": key}
    for name, changed in inputs.items():
        document["inputs"][name] |= changed
    document["physics"] = document.get("physics", {}) | {"flow": "automatic"}
    # Targets of the slow streams are none of these.
    document["wanted"] = [{"key": wanted["key"]} for wanted in document["wanted"]]
    document["sizing"] = size
    return Starter(key, label, summary, document)


TURBULENT_DOUBLE_PIPE = _stirred(
    DOUBLE_PIPE,
    "turbulent_double_pipe",
    "Double pipe, turbulent",
    "Fast water in a pipe and in the annulus around it: duty, h on both sides, pressure drops, length for a target.",
    (
        "Double pipe cooler, turbulent",
        "Warm water in the inner pipe, cold water in the annulus, half a section about the axis. Both are turbulent; the layers "
        "on the pipe are resolved.",
    ),
    {
        "hot_flow": {"value": "200 g/s", "lower": "80 g/s", "upper": "500 g/s"},
        "cold_flow": {"value": "300 g/s", "lower": "150 g/s", "upper": "800 g/s"},
    },
    sized("length", quantity("effectiveness"), "0.4", "0.2 m", "20 m"),
)

TURBULENT_PASSAGE = _stirred(
    PLATE_PASSAGE,
    "turbulent_passage",
    "Plate passage, turbulent",
    "Fast streams between flat plates in counterflow: effectiveness, duty, pressure drops.",
    (
        "Regenerator passage at full flow",
        "One hot and one cold passage of a flat-plate regenerator with the plate between them, at flows that are turbulent.",
    ),
    {
        "hot_height": {"value": "4 mm", "lower": "2 mm", "upper": "10 mm"},
        "cold_height": {"value": "4 mm", "lower": "2 mm", "upper": "10 mm"},
        "length": {"value": "1 m", "lower": "0.2 m", "upper": "3 m"},
        "hot_flow": {"value": "400 g/s", "lower": "150 g/s", "upper": "1 kg/s"},
        "cold_flow": {"value": "600 g/s", "lower": "400 g/s", "upper": "1.5 kg/s"},
    },
    sized("length", quantity("effectiveness"), "0.3", "0.2 m", "3 m"),
)

TURBULENT_RIBS = _stirred(
    RIBBED_DUCT,
    "turbulent_ribs",
    "Ribbed duct, turbulent",
    "Fast air along a wall with ribs, one pitch that repeats: Nusselt number, friction, where the flow comes back to the wall.",
    (
        "Ribbed scraper duct",
        "One pitch of a duct whose heated wall has ribs across a fast stream of air. Flow and heat are the same in every pitch.",
    ),
    {
        "velocity": {"value": "4 m/s", "lower": "2.5 m/s", "upper": "15 m/s"},
        "flux": {"value": "500 W/m²", "lower": "50 W/m²", "upper": "2000 W/m²"},
    },
    sized("velocity", quantity("last_outlet_temperature", "air"), "26 °C", sense="at_most"),
)

# By a limited shear stress the stream would not come back to the wall between ribs.
TURBULENT_RIBS.document["physics"]["turbulent_stress"] = "free"
TURBULENT_RIBS.document["estimates"][0] |= {"rib_height": "rib", "rib_pitch": "pitch"}

TURBULENT_BUNDLE = _stirred(
    BUNDLE_MODULE,
    "turbulent_bundle",
    "Tube bundle that repeats, turbulent",
    "Deep inside a staggered bundle in a fast stream: h, pressure drop, and what leaves after all rows, from two half tubes.",
    (
        "Whey bundle at full flow",
        "Two rows of a deep staggered bundle in a fast stream of whey (taken as water), between the planes through the tubes' "
        "middles. The hot water is a film and a temperature inside the tubes.",
    ),
    {
        "velocity": {"value": "500 mm/s", "lower": "200 mm/s", "upper": "1.5 m/s"},
        "inner_h": {"value": "6 kW/m²/K"},
        "rows": {"value": "60", "lower": "10", "upper": "100"},
        "heating": {"value": "72 °C"},
    },
    sized("velocity", quantity("last_outlet_temperature", "whey"), "50 °C"),
)
TURBULENT_BUNDLE.document["estimates"][0] |= {"pitch_across": "pitch_y", "pitch_along": "pitch_x", "rows": "rows"}


def _well() -> Starter:
    """The bar across a stream, as a thermometer well in air that loses heat along its stem."""
    starter = _stirred(
        TUBE,
        "fast_bar",
        "Bar in a fast stream",
        "A bar or thermometer well across fast air: its h and Nusselt number, and how far it is from the air's temperature.",
        (
            "Thermometer well in dryer air",
            "A well across the fast air of a dryer. What it loses along its stem keeps it colder than the air; the more so the "
            "lower h is. The wake is a mean one: no vortices are shed in a steady state, and drag comes out low.",
        ),
        {
            "diameter": {"value": "8 mm", "lower": "3 mm", "upper": "20 mm"},
            "velocity": {"value": "30 m/s", "lower": "8 m/s", "upper": "80 m/s"},
            "upstream": {"value": "8*diameter"},
            "downstream": {"value": "16*diameter"},
            "power": {"value": "-40 W", "label": "heat given to the well", "note": "negative: what it loses along its stem"},
            "inlet": {"value": "140 °C"},
        },
        sized("velocity", quantity("mean_temperature", "stream | bar"), "136 °C"),
    )
    parts = starter.document["section"]["parts"]
    parts[0]["material"] = "air"
    starter.document["wanted"] = [
        {"key": quantity("surface_h", "stream | bar")},
        {"key": quantity("surface_nusselt_number", "stream | bar")},
        {"key": quantity("mean_temperature", "stream | bar"), "target": "136 °C", "sense": "at_least"},
        {"key": quantity("drag", "bar")},
    ]
    return starter


FAST_BAR = _well()

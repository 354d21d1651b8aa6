"""What is filled, heated and cooled in time: a silo, a tank, an ice bank tube, and a duct that starts."""

from __future__ import annotations

from wattikos_core.case.starters.building import (
    Document,
    Starter,
    circle,
    given,
    inlet,
    length,
    outlet,
    quantity,
    rectangle,
    symmetry,
    temperature,
    wall,
)

_DOWN: Document = {"gravity_y": "-9.81 m/s^2"}
_DOWN_ALONG: Document = {"gravity_x": "-9.81 m/s^2"}


def _lasting(value: str, label: str, lower: str = "", upper: str = "") -> Document:
    """A duration as an input."""
    return given("time", value, label, lower, upper)


SILO = Starter(
    "silo",
    "Jacketed silo",
    "A vessel heated through its wall: how fast the content warms up while it turns over, and how even it is.",
    {
        "version": 6,
        "title": "Jacketed cream silo",
        "note": "Half a section about the axis; the silo stands upright along x, so gravity acts against x. Cream values made up.",
        "starter": "silo",
        "inputs": {
            "height": length("180 mm", "height of the content", "50 mm", "600 mm"),
            "diameter": length("140 mm", "inner diameter", "50 mm", "500 mm"),
            "shell": length("3 mm", "wall thickness"),
            "start": temperature("8 °C", "content at the beginning"),
            "jacket": temperature("38 °C", "jacket"),
            "film": given("heat_transfer_coefficient", "800 W/m²/K", "h in the jacket", "50 W/m²/K", "5000 W/m²/K"),
            "duration": _lasting("30 min", "duration", "1 min", "6 h"),
        },
        "materials": {"cream": {"base": "water", "viscosity": "60 mPa*s", "conductivity": "0.36 W/m/K"}},
        "section": {
            "extent": "axisymmetric",
            "parts": [
                rectangle("content", "cream", "0 m", "0 m", "height", "diameter/2"),
                rectangle("shell", "stainless_304", "0 m", "diameter/2", "height", "shell"),
            ],
        },
        "physics": {"regime": "time", **_DOWN_ALONG},
        "time": {"end": "duration", "temperature": "start"},
        "conditions": [
            wall("content, left", "content, right", "shell, left", "shell, right"),
            wall("shell, top", thermal="convection", heat_transfer_coefficient="film", ambient_temperature="jacket"),
        ],
        "grid": {"fineness": 0.67},
        "watches": [
            quantity("mean_temperature", "content"),
            quantity("lowest_temperature", "content"),
            quantity("heat_out", "shell, top"),
        ],
        "wanted": [
            {"key": quantity("mean_temperature", "content"), "target": "30 °C"},
            {"key": quantity("lowest_temperature", "content")},
            {"key": quantity("heat_stored", "content")},
            {"key": quantity("time_to_95", of=quantity("mean_temperature", "content"))},
        ],
    },
)

TANK = Starter(
    "tank",
    "Tank heated from below",
    "A closed tank on a hot plate: plumes form, rise and merge; heat taken up and how evenly, in time.",
    {
        "version": 6,
        "title": "Hot-water tank",
        "note": "The bottom is held hot, the top is cooled by the room through a film, the sides are insulated.",
        "starter": "tank",
        "inputs": {
            "width": length("80 mm", "width", "20 mm", "400 mm"),
            "height": length("40 mm", "height", "10 mm", "200 mm"),
            "depth": length("200 mm", "depth"),
            "hot": temperature("34 °C", "bottom"),
            "start": temperature("30 °C", "water at the beginning"),
            "room": temperature("20 °C", "room"),
            "film": given("heat_transfer_coefficient", "12 W/m²/K", "h to the room"),
            "duration": _lasting("2 min", "duration", "10 s", "2 h"),
        },
        "section": {
            "extent": "flat",
            "depth": "depth",
            "parts": [rectangle("water", "water", "0 m", "0 m", "width", "height")],
        },
        "physics": {"regime": "time", **_DOWN},
        # Plumes and moving melts at a thousandth: what a plume does next is not known better than that.
        "time": {"end": "duration", "every": "duration/60", "temperature": "start", "accuracy": 1e-3},
        "conditions": [
            wall("water, bottom", thermal="temperature", temperature="hot"),
            wall("water, top", thermal="convection", heat_transfer_coefficient="film", ambient_temperature="room"),
            wall("water, left", "water, right"),
        ],
        "grid": {"fineness": 1.05},
        "watches": [quantity("mean_temperature", "water"), quantity("heat_in", "water, bottom")],
        "wanted": [
            {"key": quantity("mean_temperature", "water"), "target": "30 °C"},
            {"key": quantity("heat_in", "water, bottom")},
            {"key": quantity("heat_stored", "water")},
            {"key": quantity("rayleigh_number", "water")},
        ],
    },
)

ICE_BANK = Starter(
    "ice_bank",
    "Ice bank tube",
    "A store around a tube: how fast it freezes or melts, its heat rate, and the outlet temperature over time.",
    {
        "version": 6,
        "title": "Ice bank tube",
        "note": (
            "Glycol through a tube freezes the water around it, until it enters warm and the store gives its cold back. Half a "
            "section about the axis; half the distance to the next tube is the outer edge."
        ),
        "starter": "ice_bank",
        "inputs": {
            "length": length("400 mm", "length", "50 mm", "4 m"),
            "inner": length("12 mm", "inner diameter of the tube", "4 mm", "50 mm"),
            "tube": length("1 mm", "tube thickness"),
            "outer": length("40 mm", "diameter of the store around one tube", "15 mm", "200 mm"),
            "flow": given("mass_flow", "15 g/s", "glycol flow", "1 g/s", "200 g/s"),
            "cold": temperature("-8 °C", "glycol, to charge"),
            "warm": temperature("14 °C", "glycol, to discharge"),
            "start": temperature("2 °C", "store at the beginning", "below 0 °C for ice"),
            "charging": _lasting("2 h", "time of charging", "1 min", "24 h"),
            "duration": _lasting("4.5 h", "duration", "1 min", "48 h"),
        },
        "section": {
            "extent": "axisymmetric",
            "parts": [
                rectangle("glycol", "propylene_glycol_40", "0 m", "0 m", "length", "inner/2"),
                rectangle("tube", "copper", "0 m", "inner/2", "length", "tube"),
                rectangle("store", "ice_water", "0 m", "inner/2 + tube", "length", "(outer - inner)/2 - tube"),
            ],
        },
        "physics": {"regime": "time"},
        "time": {"end": "duration", "temperature": "start", "accuracy": 1e-3},
        "conditions": [
            # Valves take five minutes to turn over.
            inlet(
                "glycol, left",
                "cold + (warm - cold)*min(max((time - charging)/(300 s), 0), 1)",
                profile="developed",
                mass_flow="flow",
            ),
            outlet("glycol, right"),
            wall("tube, left", "tube, right", "store, left", "store, right", "store, top"),
        ],
        "grid": {"fineness": 0.6},
        "solve": {"flow": "kept"},
        "watches": [
            quantity("outlet_temperature", "glycol"),
            quantity("liquid_fraction", "store"),
            quantity("heat_given_up", "store"),
        ],
        "wanted": [
            {"key": quantity("freezing_time", "store"), "target": "2 h", "sense": "at_most"},
            {"key": quantity("melting_time", "store")},
            {"key": quantity("liquid_fraction", "store")},
            {"key": quantity("heat_given_up", "store")},
            {"key": quantity("outlet_temperature", "glycol")},
        ],
    },
)

MELTING_BOX = Starter(
    "melting_box",
    "Melting enclosure",
    "A box of something that melts, heated from one side: the front, the melt that stirs itself, heat stored, melting time.",
    {
        "version": 6,
        "title": "Wax panel of a ripening room",
        "note": "A panel filled with a wax that melts near 28 °C takes up the heat of the day through its warm side.",
        "starter": "melting_box",
        "inputs": {
            "width": length("25 mm", "width", "5 mm", "200 mm"),
            "height": length("50 mm", "height", "5 mm", "400 mm"),
            "depth": length("500 mm", "depth"),
            "warm": temperature("40 °C", "warm side"),
            "start": temperature("26 °C", "at the beginning"),
            "duration": _lasting("30 min", "duration", "1 min", "24 h"),
        },
        "section": {
            "extent": "flat",
            "depth": "depth",
            "parts": [rectangle("wax", "n_octadecane", "0 m", "0 m", "width", "height")],
        },
        "physics": {"regime": "time", **_DOWN},
        "time": {"end": "duration", "temperature": "start", "accuracy": 1e-3},
        "conditions": [
            wall("wax, left", thermal="temperature", temperature="warm"),
            wall("wax, right", "wax, top", "wax, bottom"),
        ],
        "grid": {"fineness": 1.5},
        "watches": [quantity("liquid_fraction", "wax"), quantity("heat_stored", "wax"), quantity("heat_in", "wax, left")],
        "wanted": [
            {"key": quantity("liquid_fraction", "wax"), "target": "0.5"},
            {"key": quantity("melting_time", "wax")},
            {"key": quantity("heat_stored", "wax")},
        ],
        "estimates": [
            {
                "relation": "melting_front",
                "part": "wax",
                "wall": "warm",
                "start": "start",
                "time": "duration",
                "depth": "width",
                "area": "height*depth",
            }
        ],
    },
)

CAPSULE = Starter(
    "capsule",
    "Melting capsule",
    "A cylinder across the flow of air or water, filled with something that melts: melting time and heat taken up.",
    {
        "version": 6,
        "title": "Cold capsule of a delivery box",
        "note": "Half a round capsule; ice in it melts in still air that is a film and a temperature.",
        "starter": "capsule",
        "inputs": {
            "diameter": length("50 mm", "inner diameter", "10 mm", "200 mm"),
            "shell": length("1.5 mm", "shell thickness"),
            "depth": length("200 mm", "length"),
            "film": given("heat_transfer_coefficient", "25 W/m²/K", "h outside", "2 W/m²/K", "2000 W/m²/K"),
            "ambient": temperature("18 °C", "outside"),
            "start": temperature("-5 °C", "at the beginning"),
            "duration": _lasting("3 h", "duration", "1 min", "48 h"),
        },
        "section": {
            "extent": "flat",
            "depth": "depth",
            "parts": [
                circle("shell", "polyethylene_hd", "0 m", "0 m", "diameter + 2*shell"),
                circle("ice", "ice_water", "0 m", "0 m", "diameter"),
            ],
        },
        "physics": {"regime": "time"},
        "time": {"end": "duration", "temperature": "start"},
        "conditions": [
            wall("shell, outside", thermal="convection", heat_transfer_coefficient="film", ambient_temperature="ambient")
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("liquid_fraction", "ice"), quantity("heat_stored", "ice")],
        "wanted": [
            {"key": quantity("liquid_fraction", "ice"), "target": "1"},
            {"key": quantity("melting_time", "ice")},
            {"key": quantity("heat_stored", "ice")},
        ],
    },
)

DUCT_START = Starter(
    "duct_start",
    "Duct that starts",
    "A valve opens: flow in a duct grows under a given pressure until friction holds it; how long that takes.",
    {
        "version": 6,
        "title": "Start of a rinse line",
        "note": "Half of a flat duct between its middle and a wall; a static pressure stands at the inlet from the beginning on.",
        "starter": "duct_start",
        "inputs": {
            "gap": length("6 mm", "gap between the walls", "1 mm", "50 mm"),
            "length": length("150 mm", "length", "10 mm", "2 m"),
            "depth": length("100 mm", "depth"),
            "pressure": given("pressure", "1 Pa", "pressure at the inlet", "0.01 Pa", "100 Pa"),
            "inlet": temperature("20 °C", "water inlet temperature"),
            "wall": temperature("45 °C", "wall temperature"),
            "duration": _lasting("20 s", "duration", "1 s", "1 h"),
        },
        "section": {
            "extent": "flat",
            "depth": "depth",
            "parts": [rectangle("water", "water", "0 m", "0 m", "length", "gap/2")],
        },
        "physics": {"regime": "time"},
        "time": {"end": "duration", "temperature": "inlet"},
        "conditions": [
            inlet("water, left", "inlet", pressure="pressure", pressure_is="static"),
            outlet("water, right"),
            symmetry("water, bottom"),
            wall("water, top", thermal="temperature", temperature="wall"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("reynolds_number", "water"), quantity("outlet_temperature", "water")],
        "wanted": [
            {"key": quantity("reynolds_number", "water")},
            {"key": quantity("time_to_95", of=quantity("reynolds_number", "water"))},
            {"key": quantity("outlet_temperature", "water"), "target": "25 °C"},
        ],
    },
)

"""Streams that fans drive, and beds that streams pass."""

from __future__ import annotations

from wattikos_core.case.starters.building import (
    Document,
    Starter,
    given,
    inlet,
    length,
    outlet,
    quantity,
    rectangle,
    sized,
    symmetry,
    temperature,
    wall,
)


def opening(*boundaries: str, temperature: str) -> Document:
    """Openings to surroundings at ambient pressure."""
    return {"type": "opening", "boundaries": list(boundaries), "temperature": temperature, "pressure": "0 Pa"}


FAN_CHANNEL = Starter(
    "fan_channel",
    "Channel with a fan on its curve",
    "Air drawn over a warm plate through a filter by a fan: where its curve meets the channel's, plate and outlet temperatures.",
    {
        "version": 6,
        "title": "Cooling channel of the packing line's drive",
        "note": "Cabinet air enters at the left through a filter mat; the fan at the right draws it over the plate of the drive.",
        "starter": "fan_channel",
        "inputs": {
            "length": length("300 mm", "length of the plate", "100 mm", "800 mm"),
            "gap": length("10 mm", "height of the channel", "5 mm", "25 mm"),
            "plate": length("5 mm", "plate thickness", "2 mm", "12 mm"),
            "breadth": length("250 mm", "breadth", note="depth of the section"),
            "power": given("power", "40 W", "heat of the drive", "5 W", "100 W"),
            "filter_loss": given("number", "6", "loss coefficient of the filter", "0", "30"),
            "shut_off": given("pressure", "14 Pa", "rise of the fan without flow", "5 Pa", "60 Pa"),
            "free_flow": given("volume_flow", "24 m³/h", "flow of the fan without rise", "10 m³/h", "80 m³/h"),
            "ambient": temperature("32 °C", "air of the cabinet"),
        },
        "section": {
            "extent": "flat",
            "depth": "breadth",
            "parts": [
                rectangle("drive plate", "aluminium", "0 m", "-plate", "length", "plate", heat="power"),
                rectangle("air", "air", "-80 mm", "0 m", "length + 160 mm", "gap"),
                rectangle(
                    "filter",
                    "air",
                    "-60 mm",
                    "0 m",
                    "8 mm",
                    "gap",
                    internal={"type": "resistance", "loss": "filter_loss"},
                ),
                rectangle(
                    "fan",
                    "air",
                    "length + 30 mm",
                    "0 m",
                    "8 mm",
                    "gap",
                    internal={
                        "type": "fan",
                        "points": [["0 m³/h", "shut_off"], ["0.6*free_flow", "0.62*shut_off"], ["free_flow", "0 Pa"]],
                        "efficiency": "25 percent",
                    },
                ),
            ],
        },
        "conditions": [
            opening("air, left", "air, right", temperature="ambient"),
            wall("air, top", "air, bottom", "filter, top", "filter, bottom", "fan, top", "fan, bottom"),
            wall("drive plate, left", "drive plate, right", "drive plate, bottom"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("flow_through", "fan"), quantity("hottest_metal")],
        "wanted": [
            {"key": quantity("hottest_metal"), "target": "70 °C", "sense": "at_most"},
            {"key": quantity("flow_through", "fan")},
            {"key": quantity("rise_in", "fan")},
            {"key": quantity("shaft_power", "fan")},
            {"key": quantity("loss_in", "filter")},
            {"key": quantity("outlet_temperature", "air")},
            {"key": quantity("mean_temperature", "drive plate | air")},
        ],
        "estimates": [
            {
                "relation": "heated_duct",
                "fluid": "air",
                "gap": "gap",
                "length": "length",
                "breadth": "breadth",
                "sides": "one",
                "heat": "power",
                "surface": "drive plate | air",
            }
        ],
        "sizing": sized("gap", quantity("hottest_metal"), "70 °C", sense="at_most"),
    },
)

PACKED_BED = Starter(
    "packed_bed",
    "Packed bed in a duct",
    "A bed of grains that a gas passes: pressure it takes by Ergun, how evenly it is passed.",
    {
        "version": 6,
        "title": "Drying tower of the compressed-air plant",
        "note": "Half of the tower about its axis: air comes in by a narrow neck and spreads before the bed of grains.",
        "starter": "packed_bed",
        "inputs": {
            "bore": length("120 mm", "bore of the tower", "40 mm", "600 mm"),
            "neck": length("60 mm", "bore of the neck", "20 mm", "300 mm"),
            "bed": length("150 mm", "height of the bed", "20 mm", "1 m"),
            "grain": length("4 mm", "grain size", "1 mm", "12 mm"),
            "porosity": given("ratio", "40 percent", "porosity"),
            "velocity": given("velocity", "0.2 m/s", "velocity in the neck", "0.02 m/s", "0.6 m/s"),
            "inlet": temperature("20 °C", "air temperature"),
        },
        "section": {
            "extent": "axisymmetric",
            "parts": [
                rectangle("air", "air", "0 m", "0 m", "bed + 100 mm", "bore/2"),
                rectangle("neck", "air", "-40 mm", "0 m", "40 mm", "neck/2"),
                rectangle(
                    "grains",
                    "air",
                    "40 mm",
                    "0 m",
                    "bed",
                    "bore/2",
                    internal={"type": "porous", "porosity": "porosity", "grain_size": "grain"},
                ),
            ],
        },
        "conditions": [
            inlet("neck, left", "inlet", "developed", velocity="velocity"),
            outlet("air, right"),
            symmetry("air, bottom", "neck, bottom", "grains, bottom"),
            wall("neck, top", "air, left", "air, top", "grains, top"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("loss_in", "grains")],
        "wanted": [
            {"key": quantity("loss_in", "grains"), "target": "60 Pa", "sense": "at_most"},
            {"key": quantity("face_speed", "grains")},
            {"key": quantity("flow_through", "grains")},
            {"key": quantity("pressure_drop", "neck")},
        ],
        "estimates": [{"relation": "on_the_way", "fluid": "neck", "area": "pi*neck^2/4"}],
        "sizing": sized("grain", quantity("loss_in", "grains"), "60 Pa", sense="at_most"),
    },
)

CORE_WITH_FANS = Starter(
    "core_with_fans",
    "Finned core with a bank of fans",
    "Fans draw air through a condenser too fine to grid: duty, what uneven flow costs, where the fans work.",
    {
        "version": 6,
        "title": "Condenser of the ice-water plant",
        "note": (
            "Air comes in at the left, passes the condenser and leaves by the fans. "
            "For a cooler give its tubes a liquid and passes (Draw, the part 'condenser')."
        ),
        "starter": "core_with_fans",
        "inputs": {
            "height": length("600 mm", "height of the condenser", "300 mm", "1.2 m"),
            "breadth": length("800 mm", "breadth", note="depth of the section"),
            "core": length("60 mm", "depth of the condenser along the air", "30 mm", "150 mm"),
            "plenum": length("150 mm", "distance from condenser to fans", "60 mm", "500 mm"),
            "fan_size": length("200 mm", "height of a fan", "100 mm", "400 mm"),
            "condensing": temperature("45 °C", "condensing temperature"),
            "ambient": temperature("30 °C", "ambient air"),
            "loss": given("number", "25", "loss coefficient of the condenser", "5", "80"),
            "conductance": given("thermal_conductance", "1200 W/K", "conductance UA", "200 W/K", "5000 W/K"),
            "shut_off": given("pressure", "90 Pa", "rise of a fan without flow", "20 Pa", "300 Pa"),
            "free_flow": given("volume_flow", "3000 m³/h", "flow of a fan without rise", "800 m³/h", "8000 m³/h"),
        },
        "section": {
            "extent": "flat",
            "depth": "breadth",
            "parts": [
                rectangle("air", "air", "-200 mm", "0 m", "200 mm + core + plenum", "height"),
                rectangle(
                    "condenser",
                    "air",
                    "0 m",
                    "0 m",
                    "core",
                    "height",
                    internal={
                        "type": "core",
                        "loss": "loss",
                        "liquid": "",
                        "temperature": "condensing",
                        "conductance": "conductance",
                    },
                ),
                rectangle("deck", "carbon_steel", "core + plenum", "0 m", "40 mm", "height"),
                rectangle(
                    "fan",
                    "air",
                    "core + plenum",
                    "height/4 - fan_size/2",
                    "40 mm",
                    "fan_size",
                    repeat={"pattern": "line", "count": "2", "dx": "0 mm", "dy": "height/2"},
                    internal={
                        "type": "fan",
                        "points": [["0 m³/h", "shut_off"], ["0.6*free_flow", "0.62*shut_off"], ["free_flow", "0 Pa"]],
                        "efficiency": "40 percent",
                    },
                ),
            ],
        },
        "conditions": [
            opening("air, left", "fan, right", temperature="ambient"),
            symmetry("air, top", "air, bottom", "condenser, top", "condenser, bottom"),
            wall("deck, top", "deck, bottom", "deck, right"),
        ],
        "physics": {"flow": "automatic"},
        "grid": {"fineness": 0.5},
        "watches": [quantity("core_heat", "condenser"), quantity("flow_through", "fan 1")],
        "wanted": [
            {"key": quantity("core_heat", "condenser"), "target": "10 kW"},
            {"key": quantity("uneven_loss", "condenser")},
            {"key": quantity("core_effectiveness", "condenser")},
            {"key": quantity("face_speed", "condenser")},
            {"key": quantity("loss_in", "condenser")},
            {"key": quantity("flow_through", "fan 1")},
            {"key": quantity("shaft_power", "fan 1")},
        ],
        "estimates": [
            {"relation": "on_the_way", "fluid": "air", "area": "height*breadth", "losses": "1.5*(height/(2*fan_size))^2"}
        ],
        "sizing": sized("conductance", quantity("core_heat", "condenser"), "10 kW"),
    },
)

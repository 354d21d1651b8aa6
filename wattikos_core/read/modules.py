"""What a module that repeats tells, and what follows for many of them behind each other."""

from __future__ import annotations

from wattikos_core.physics import Module, Periodicity
from wattikos_core.read.streams import Stream


def module_quantities(periodicity: Periodicity, module: Module, stream: Stream, count: int) -> dict[str, float]:
    """Ledger quantities of a module, and of `count` of them, by name, SI; see `definition_of` for their meaning."""
    name = stream.part
    velocity = stream.mass_flow / (float(stream.table.density(module.temperature)) * module.area)
    head = 0.5 * float(stream.table.density(module.temperature)) * velocity**2
    values = {f"{name} friction factor": stream.pressure_drop / module.length * stream.hydraulic_diameter / head}
    if module.wall is not None:
        values[f"{name} ratio per module"] = periodicity.ratio
        last = module.wall + (stream.inlet_temperature - module.wall) * periodicity.ratio**count
    else:
        values[f"{name} rise per module"] = periodicity.rise
        last = stream.inlet_temperature + periodicity.rise * count
    if count > 1:
        capacity = float(stream.table.specific_heat(module.temperature))
        values[f"{name} last outlet temperature"] = last
        values[f"{name} total heat gained"] = stream.mass_flow * capacity * (last - stream.inlet_temperature)
        values[f"{name} total pressure drop"] = stream.pressure_drop * count
    return values

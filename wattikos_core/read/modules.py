"""What a module that repeats tells, and what follows for many of them behind each other."""

from __future__ import annotations

from wattikos_core.ledger import Key
from wattikos_core.physics import Module, Periodicity
from wattikos_core.read.streams import Stream


def module_quantities(periodicity: Periodicity, module: Module, stream: Stream, count: int) -> dict[Key, float]:
    """Ledger quantities of a module, and of `count` of them, by key, SI."""
    name = stream.part
    velocity = stream.mass_flow / (float(stream.table.density(module.temperature)) * module.area)
    head = 0.5 * float(stream.table.density(module.temperature)) * velocity**2
    values = {Key("friction_factor", name): stream.pressure_drop / module.length * stream.hydraulic_diameter / head}
    if module.wall is not None:
        values[Key("ratio_per_module", name)] = periodicity.ratio
        last = module.wall + (stream.inlet_temperature - module.wall) * periodicity.ratio**count
    else:
        values[Key("rise_per_module", name)] = periodicity.rise
        last = stream.inlet_temperature + periodicity.rise * count
    if count > 1:
        capacity = float(stream.table.specific_heat(module.temperature))
        values[Key("last_outlet_temperature", name)] = last
        values[Key("total_heat_gained", name)] = stream.mass_flow * capacity * (last - stream.inlet_temperature)
        values[Key("total_pressure_drop", name)] = stream.pressure_drop * count
    return values

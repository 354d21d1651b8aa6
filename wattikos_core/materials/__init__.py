"""Materials: the catalogue with its sources, and smooth property tables for field and hand calculations."""

from wattikos_core.materials.catalogue import CATALOGUE, Material, find
from wattikos_core.materials.tables import PROPERTIES, PropertyTable, constant_table, override, table_of

__all__ = ["CATALOGUE", "PROPERTIES", "Material", "PropertyTable", "constant_table", "find", "override", "table_of"]

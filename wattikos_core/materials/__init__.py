"""Materials: the catalogue with its sources, and smooth property tables for field and hand calculations."""

from wattikos_core.materials.catalogue import CATALOGUE, Material, find
from wattikos_core.materials.melting import constant_melting_table, with_melting
from wattikos_core.materials.tables import (
    PROPERTIES,
    Melting,
    PropertyTable,
    constant_table,
    expanding,
    override,
    table_of,
    with_matrix,
)

__all__ = [
    "CATALOGUE",
    "PROPERTIES",
    "Material",
    "Melting",
    "PropertyTable",
    "constant_melting_table",
    "constant_table",
    "expanding",
    "find",
    "override",
    "table_of",
    "with_matrix",
    "with_melting",
]

"""What faces are, as numbers for the kernels."""

# Kinds of faces. Internal ones first; what lies between different regions with a solid on either side is an interface.
FLOW, SOLID, INTERFACE, WALL, INLET, OUTLET, SYMMETRY = range(7)
# Thermal kinds of outer faces.
FLUX_GIVEN, TEMPERATURE_GIVEN = range(2)
# What an outlet feeds when fluid comes in there: what it finds, or fluid at a static or a total pressure. An opening to
# surroundings feeds as a total pressure does; whether fluid enters or leaves there is found, not given.
AS_IT_COMES, STATIC_PRESSURE, TOTAL_PRESSURE, OPEN = range(4)

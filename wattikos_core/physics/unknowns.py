"""Which unknowns the cells of a problem have, and where each stands among them."""

from __future__ import annotations

from dataclasses import dataclass

# Name, among the scalars, of by how much a matrix is warmer than the fluid in it, K.
MATRIX = "matrix_excess"


@dataclass(frozen=True)
class Unknowns:
    """The unknowns of a cell in their order: velocity, pressure, temperature, angular velocity, transported scalars.

    The balance that decides each of them has its place: momentum, mass, energy, angular momentum, and that of each scalar.

    Attributes:
        dimensions: length of vectors.
        swirl: whether fluid may turn about the axis of the section.
        scalars: names of the further quantities that fluid carries along.
    """

    dimensions: int = 2
    swirl: bool = False
    scalars: tuple[str, ...] = ()

    @property
    def velocity(self) -> tuple[int, ...]:
        """Columns of the velocity; of the balance of momentum."""
        return tuple(range(self.dimensions))

    @property
    def pressure(self) -> int:
        """Column of the pressure; of the balance of mass."""
        return self.dimensions

    @property
    def temperature(self) -> int:
        """Column of the (stretched) temperature; of the balance of energy."""
        return self.dimensions + 1

    @property
    def angular_velocity(self) -> tuple[int, ...]:
        """Column of the angular velocity about the axis, of the balance of angular momentum; empty without swirl."""
        return (self.dimensions + 2,) if self.swirl else ()

    @property
    def transported(self) -> tuple[int, ...]:
        """Columns of the scalars."""
        first = self.dimensions + 2 + int(self.swirl)
        return tuple(range(first, first + len(self.scalars)))

    @property
    def matrix(self) -> int:
        """Column of by how much a matrix is warmer than its fluid; ValueError where none has a temperature of its own."""
        return self.transported[self.scalars.index(MATRIX)]

    @property
    def heat(self) -> tuple[int, ...]:
        """Columns of all temperatures."""
        return (self.temperature, *((self.matrix,) if MATRIX in self.scalars else ()))

    @property
    def size(self) -> int:
        """How many there are."""
        return self.dimensions + 2 + int(self.swirl) + len(self.scalars)

    @property
    def of_fluids(self) -> tuple[int, ...]:
        """Columns of all that solids do not have."""
        return tuple(column for column in range(self.size) if column != self.temperature)

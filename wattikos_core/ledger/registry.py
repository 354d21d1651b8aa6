"""All quantities of the ledger, by the word that documents, results and the desk know them by."""

from __future__ import annotations

from wattikos_core.ledger.ages import OF_AGES
from wattikos_core.ledger.internals import OF_INTERNALS
from wattikos_core.ledger.modules import OF_MODULES
from wattikos_core.ledger.parts import OF_PARTS
from wattikos_core.ledger.places import OF_PLACES
from wattikos_core.ledger.quantity import Quantity
from wattikos_core.ledger.radiation import OF_RADIATION
from wattikos_core.ledger.readings import OF_READINGS
from wattikos_core.ledger.settling import OF_SETTLING
from wattikos_core.ledger.streams import OF_STREAMS
from wattikos_core.ledger.surfaces import OF_SURFACES
from wattikos_core.ledger.whole import OF_THE_CASE

QUANTITIES: dict[str, Quantity] = {
    **OF_THE_CASE,
    **OF_STREAMS,
    **OF_INTERNALS,
    **OF_AGES,
    **OF_MODULES,
    **OF_SURFACES,
    **OF_RADIATION,
    **OF_PARTS,
    **OF_PLACES,
    **OF_READINGS,
    **OF_SETTLING,
}

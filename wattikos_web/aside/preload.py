"""Loaded by the process that the others are forked from: they begin with a hand calculation behind them."""

from wattikos_core.case import starter_case
from wattikos_web.aside.tasks import look

look(starter_case("plate_passage").model_dump(mode="json"))

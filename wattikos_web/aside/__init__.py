"""What the desk asks for while one types, computed beside the web process: with limits, and dropped when it is overtaken."""

from wattikos_web.aside.pool import Superseded, aside, is_warm

__all__ = ["Superseded", "aside", "is_warm"]

"""What the desk asks for while one types, computed beside the web process: with limits, and dropped when it is overtaken."""

from wattikos_web.aside.pool import Superseded, aside

__all__ = ["Superseded", "aside"]

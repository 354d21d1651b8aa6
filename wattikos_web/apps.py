"""The Django application."""

from __future__ import annotations

from django.apps import AppConfig


class WattikosConfig(AppConfig):
    """Connects what listens to signals."""

    name = "wattikos_web"

    def ready(self) -> None:
        """Begin to note who signs in."""
        from wattikos_web import sessions  # noqa: F401

"""Parts of a record, made known when the server starts."""

from importlib import import_module

from django.apps import AppConfig


class DealsConfig(AppConfig):
    """Deals; their parts are what a step can change and undo beside facts."""

    name = "goodquill.deals"

    def ready(self) -> None:
        """Register the parts."""
        import_module("goodquill.deals.parts")

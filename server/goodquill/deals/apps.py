"""Reasons of other apps against deleting a deal."""

from django.apps import AppConfig
from django.utils.module_loading import autodiscover_modules


class DealsConfig(AppConfig):
    """Deals."""

    name = "goodquill.deals"

    def ready(self) -> None:
        """Add the reasons: each app's module ``still_needed``."""
        autodiscover_modules("still_needed")

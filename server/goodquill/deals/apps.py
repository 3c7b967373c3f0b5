"""Other apps' hooks into deals."""

from django.apps import AppConfig
from django.utils.module_loading import autodiscover_modules


class DealsConfig(AppConfig):
    """Deals."""

    name = "goodquill.deals"

    def ready(self) -> None:
        """Read the hooks: each app's module ``deal_hooks``."""
        autodiscover_modules("deal_hooks")

"""The registration of signing with deals, when the server starts."""

from importlib import import_module

from django.apps import AppConfig


class SigningConfig(AppConfig):
    """Signing; a deal with papers out for signature isn't deleted."""

    name = "goodquill.signing"

    def ready(self) -> None:
        """Add that reason to those of deals."""
        import_module("goodquill.signing.still_out")

"""The app's name in the database, and the parts of all apps."""

from django.apps import AppConfig
from django.utils.module_loading import autodiscover_modules


class ChangelogConfig(AppConfig):
    """The changelog; its tables were made when it was called ``record``."""

    name = "goodquill.changelog"
    label = "record"

    def ready(self) -> None:
        """Register the parts of records: each app's module ``parts``."""
        autodiscover_modules("parts")

"""The app's name in the database."""

from django.apps import AppConfig


class ChangelogConfig(AppConfig):
    """The changelog; its tables were made when it was called ``record``."""

    name = "goodquill.changelog"
    label = "record"

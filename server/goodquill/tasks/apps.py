"""The app's name in the database."""

from django.apps import AppConfig


class TasksConfig(AppConfig):
    """The tasks; their tables were made when they were called ``schedule``."""

    name = "goodquill.tasks"
    label = "schedule"

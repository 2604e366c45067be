from django.apps import AppConfig


class InstallationConfig(AppConfig):
    """Commands of an installation: serve, backup, restore."""

    name = "northfold.config"
    label = "config"

from django.apps import AppConfig


class DevicesConfig(AppConfig):
    name = "northfold.devices"
    label = "devices"
    verbose_name = "Devices"

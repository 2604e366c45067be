from django.apps import AppConfig


class DevicesConfig(AppConfig):
    name = "northfold.devices"
    label = "devices"
    verbose_name = "Devices"

    def ready(self) -> None:
        from northfold.devices import room, services

        services.listen(room.heard)

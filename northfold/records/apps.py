from django.apps import AppConfig


class RecordsConfig(AppConfig):
    name = "northfold.records"
    label = "records"
    verbose_name = "Records"

    def ready(self) -> None:
        from northfold.records import panel
        from northfold.web import panels

        panels.register(panels.Panel("result", "Result", 80, panel.face, "records:result"))

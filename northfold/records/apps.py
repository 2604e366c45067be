from django.apps import AppConfig


class RecordsConfig(AppConfig):
    name = "northfold.records"
    label = "records"
    verbose_name = "Records"

    def ready(self) -> None:
        from northfold.records import panel, queries
        from northfold.web import last_time, panels

        last_time.register(queries.last_time)
        panels.register(panels.Panel("result", "Result", 80, panel.face, "records:result"))

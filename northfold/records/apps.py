from django.apps import AppConfig


class RecordsConfig(AppConfig):
    name = "northfold.records"
    label = "records"
    verbose_name = "Records"

    def ready(self) -> None:
        from northfold.records import panel, queries, tables
        from northfold.web import last_time, panels
        from northfold.web.tables import register

        register("results", "Results", tables.RESULTS, tables.results)
        register("measures", "Measures", tables.MEASURES, tables.measures)

        last_time.register(queries.last_time)
        panels.register(panels.Panel("result", "Result", 80, panel.face, "records:result"))

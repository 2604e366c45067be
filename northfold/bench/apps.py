from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "northfold.bench"
    label = "bench"
    verbose_name = "Bench"

    def ready(self) -> None:
        from northfold.bench import panel, scale, tables, today
        from northfold.devices import services as devices
        from northfold.web import panels
        from northfold.web import today as day
        from northfold.web.tables import register

        register("events", "Taps, weights and readings at the bench", tables.HEAD, tables.events)
        panels.register(panels.Panel("bench", "Bench", 70, panel.face, "bench:run"))
        devices.listen(scale.heard)
        day.register("bench", today.bars)
        day.register_card("clashes", today.clash_card)

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "northfold.bench"
    label = "bench"
    verbose_name = "Bench"

    def ready(self) -> None:
        from northfold.bench import panel, today
        from northfold.web import panels
        from northfold.web import today as day

        panels.register(panels.Panel("bench", "Bench", 70, panel.face, "bench:run"))
        day.register("bench", today.bars)
        day.register_card("clashes", today.clash_card)

from django.apps import AppConfig
from django.db.models.signals import post_migrate


class MakesConfig(AppConfig):
    name = "northfold.makes"
    label = "makes"
    verbose_name = "Makes"

    def ready(self) -> None:
        from northfold.makes import facts, queries, today
        from northfold.makes.stages import bake, cold, fill, fold, size, steps
        from northfold.web import codes, panels, rail
        from northfold.web import today as day

        rail.register(rail.Entry("Makes", "makes:list", 10, "makes"))
        panels.register(panels.Panel("size", "Size", 20, size.face, "makes:size"))
        panels.register(panels.Panel("fill", "Fill", 25, fill.face, "makes:fill"))
        panels.register(panels.Panel("fold", "Fold", 30, fold.face, "makes:fold"))
        panels.register(panels.Panel("steps", "Steps", 40, steps.face, "makes:steps"))
        panels.register(panels.Panel("cold", "Cold", 50, cold.face, "makes:cold"))
        panels.register(panels.Panel("bake", "Bake", 60, bake.face, "makes:bake"))
        codes.register(queries.with_code)
        day.register("makes", today.bars)
        facts.connect()
        post_migrate.connect(facts.renew, sender=self)

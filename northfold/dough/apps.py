from django.apps import AppConfig
from django.db.models.signals import post_migrate


class DoughConfig(AppConfig):
    name = "northfold.dough"
    label = "dough"
    verbose_name = "Formulas"

    def ready(self) -> None:
        from northfold.dough import tables
        from northfold.dough.panel import face
        from northfold.dough.services import renew_facts
        from northfold.web import panels, rail
        from northfold.web.tables import register

        register("lines", "Lines of all formulas", tables.HEAD, tables.lines)

        rail.register(rail.Entry("Book", "dough:book", 20, "dough"))
        post_migrate.connect(renew_facts, sender=self)
        panels.register(panels.Panel("dough", "Dough", 10, face, "makes:dough"))

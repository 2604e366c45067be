from django.apps import AppConfig


class DoughConfig(AppConfig):
    name = "northfold.dough"
    label = "dough"
    verbose_name = "Formulas"

    def ready(self) -> None:
        from northfold.dough.panel import face
        from northfold.web import panels, rail

        rail.register(rail.Entry("Book", "dough:book", 20, "dough"))
        panels.register(panels.Panel("dough", "Dough", 10, face, "makes:dough"))

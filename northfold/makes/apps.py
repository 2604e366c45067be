from django.apps import AppConfig


class MakesConfig(AppConfig):
    name = "northfold.makes"
    label = "makes"
    verbose_name = "Makes"

    def ready(self) -> None:
        from northfold.makes.panel import face
        from northfold.web import panels, rail

        rail.register(rail.Entry("Makes", "makes:list", 10, "makes"))
        panels.register(panels.Panel("size", "Size", 20, face))

from django.apps import AppConfig


class WebConfig(AppConfig):
    name = "northfold.web"
    label = "web"
    verbose_name = "Page frame and accounts"

    def ready(self) -> None:
        from northfold.web import rail

        rail.register(rail.Entry("Today", "web:today", 5, "today"))

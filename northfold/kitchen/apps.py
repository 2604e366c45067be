from django.apps import AppConfig


class KitchenConfig(AppConfig):
    name = "northfold.kitchen"
    label = "kitchen"
    verbose_name = "Kitchen"

    def ready(self) -> None:
        from northfold.web import rail

        rail.register(rail.Entry("Kitchen", "kitchen:home", 90, "kitchen"))

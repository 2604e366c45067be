from django.apps import AppConfig
from django.db.models.signals import post_migrate


class KitchenConfig(AppConfig):
    name = "northfold.kitchen"
    label = "kitchen"
    verbose_name = "Kitchen"

    def ready(self) -> None:
        from northfold.kitchen import changes
        from northfold.kitchen.learning import rebuild
        from northfold.web import rail

        post_migrate.connect(rebuild, sender=self)
        changes.connect(self.get_models())
        rail.register(rail.Entry("Kitchen", "kitchen:home", 90, "kitchen"))

from django.apps import AppConfig
from django.db.models.signals import post_migrate


class KitchenConfig(AppConfig):
    name = "northfold.kitchen"
    label = "kitchen"
    verbose_name = "Kitchen"

    def ready(self) -> None:
        from northfold.kitchen import changes, tables
        from northfold.kitchen.learning import rebuild
        from northfold.web import rail
        from northfold.web.tables import register

        register("ingredients", "Ingredients", tables.INGREDIENTS, tables.ingredients)
        register("tins", "Tins and shapes", tables.TINS, tables.tins)
        register("evidence", "What was measured and taught", tables.EVIDENCE, tables.evidence)
        post_migrate.connect(rebuild, sender=self)
        changes.connect(self.get_models())
        rail.register(rail.Entry("Kitchen", "kitchen:home", 90, "kitchen"))

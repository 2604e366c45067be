from django.apps import AppConfig


class StockConfig(AppConfig):
    name = "northfold.stock"
    label = "stock"
    verbose_name = "Cold store"

    def ready(self) -> None:
        from northfold.stock import today
        from northfold.web import rail
        from northfold.web import today as day

        rail.register(rail.Entry("Cold store", "stock:store", 30, "stock"))
        day.register_card("stock", today.card)

from django.apps import AppConfig


class StockConfig(AppConfig):
    name = "northfold.stock"
    label = "stock"
    verbose_name = "Cold store"

    def ready(self) -> None:
        from northfold.stock import queries, tables, today
        from northfold.web import codes, rail
        from northfold.web import today as day
        from northfold.web.tables import register

        register("cold-store", "Cold store", tables.HEAD, tables.lots)

        rail.register(rail.Entry("Cold store", "stock:store", 30, "stock"))
        codes.register(queries.with_code)
        day.register_card("stock", today.card)

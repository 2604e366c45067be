from django.apps import AppConfig


class DayConfig(AppConfig):
    name = "northfold.day"
    label = "day"
    verbose_name = "Day"

    def ready(self) -> None:
        from northfold.day import queries
        from northfold.web import in_day, rail

        rail.register(rail.Entry("Day", "day:today", 7, "day"))
        rail.register(rail.Entry("Week", "day:week", 8, "week"))
        in_day.register(queries.then_for)

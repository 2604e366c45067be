from django.apps import AppConfig
from django.db.models.signals import post_save


class DayConfig(AppConfig):
    name = "northfold.day"
    label = "day"
    verbose_name = "Day"

    def ready(self) -> None:
        from northfold.bench.models import BenchEvent
        from northfold.day import following, queries
        from northfold.web import in_day, rail

        rail.register(rail.Entry("Day", "day:today", 7, "day"))
        rail.register(rail.Entry("Week", "day:week", 8, "week"))
        in_day.register(queries.then_for)
        in_day.register_news(following.news_for)
        post_save.connect(following.on_event, sender=BenchEvent)

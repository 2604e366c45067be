from django.apps import AppConfig


class WebConfig(AppConfig):
    name = "northfold.web"
    label = "web"
    verbose_name = "Page frame and accounts"

    def ready(self) -> None:
        from django.contrib.auth.signals import user_logged_in

        from northfold.web import rail
        from northfold.web.accounts import sessions

        user_logged_in.connect(sessions.begin)
        rail.register(rail.Entry("Today", "web:today", 5, "today"))

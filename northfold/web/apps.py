from django.apps import AppConfig


class WebConfig(AppConfig):
    name = "northfold.web"
    label = "web"
    verbose_name = "Page frame and accounts"

from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "northfold.demo"
    label = "demo"
    verbose_name = "Demo bakehouse"

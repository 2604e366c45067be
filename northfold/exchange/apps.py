from django.apps import AppConfig


class ExchangeConfig(AppConfig):
    name = "northfold.exchange"
    label = "exchange"
    verbose_name = "Files of the whole kitchen"

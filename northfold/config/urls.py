"""Every address of the application. Makes is the start page."""

from django.urls import include, path, register_converter

from northfold.web.converters import RowConverter

register_converter(RowConverter, "row")

urlpatterns = [
    path("", include("northfold.web.urls")),
    path("", include("northfold.makes.urls")),
    path("", include("northfold.bench.urls")),
    path("", include("northfold.day.urls")),
    path("", include("northfold.records.urls")),
    path("", include("northfold.demo.urls")),
    path("", include("northfold.devices.urls")),
    path("", include("northfold.exchange.urls")),
    path("cold-store/", include("northfold.stock.urls")),
    path("book/", include("northfold.dough.urls")),
    path("kitchen/backups/", include("northfold.config.backup_urls")),
    path("kitchen/", include("northfold.kitchen.urls")),
]
handler400 = "northfold.web.views.bad_request"
handler403 = "northfold.web.views.forbidden"
handler404 = "northfold.web.views.not_found"
handler500 = "northfold.web.views.server_error"

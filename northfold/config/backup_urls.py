"""Addresses of the backups."""

from django.urls import path

from northfold.config import views

app_name = "backups"
urlpatterns = [
    path("", views.listed, name="list"),
    path("save/", views.save, name="save"),
    path("bring/", views.bring, name="bring"),
    path("<str:name>/download/", views.download, name="download"),
    path("<str:name>/try/", views.try_out, name="try_out"),
    path("<str:name>/restore/", views.restore, name="restore"),
]

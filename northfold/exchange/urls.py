"""Addresses of the files of the whole kitchen."""

from django.urls import path

from northfold.exchange import views

app_name = "exchange"
urlpatterns = [
    path("kitchen/files/", views.files, name="files"),
    path("kitchen/files/kitchen.json", views.whole, name="whole"),
    path("kitchen/files/<row:pk>/", views.looked, name="looked"),
    path("kitchen/files/<row:pk>/take/", views.take, name="take"),
    path("kitchen/files/<row:pk>/undo/", views.undo, name="undo"),
    path("makes/<row:pk>/make.json", views.make, name="make"),
]

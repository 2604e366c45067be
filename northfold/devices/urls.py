"""Addresses of devices: where they send, and the page on which they are let in."""

from django.urls import path

from northfold.devices import views

app_name = "devices"
urlpatterns = [
    path("devices/<uuid:known_as>/readings", views.readings, name="readings"),
    path("devices/<uuid:known_as>/labels", views.labels, name="labels"),
    path("devices/<uuid:known_as>/labels/<uuid:label>", views.printed, name="printed"),
    path("kitchen/devices/", views.devices, name="list"),
    path("kitchen/devices/<row:pk>/key/", views.new_key, name="new_key"),
    path("kitchen/devices/<row:pk>/revoke/", views.revoke, name="revoke"),
    path("kitchen/devices/<row:pk>/bin/", views.bin_device, name="bin"),
    path("kitchen/devices/<row:pk>/restore/", views.restore, name="restore"),
]

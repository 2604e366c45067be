from django.urls import path

from northfold.records import views

app_name = "records"
urlpatterns = [
    path("makes/<row:pk>/result/", views.result, name="result"),
    path("makes/<row:pk>/result/results.json", views.as_file, name="as_file"),
    path("makes/<row:pk>/notes/", views.notes, name="notes"),
    path("makes/<row:pk>/notes/<row:note>/bin/", views.bin_note, name="bin_note"),
    path("makes/<row:pk>/notes/<row:note>/restore/", views.restore_note, name="restore_note"),
    path("makes/<row:pk>/notes/<row:note>/<str:kind>.jpg", views.photo, name="photo"),
    path("results.json", views.all_results, name="all_results"),
]

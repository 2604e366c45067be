from django.urls import path

from northfold.makes import dough_views, method_views, size_views, views

app_name = "makes"
urlpatterns = [
    path("", views.make_list, name="list"),
    path("makes/new/<int:formula>/", views.make_it, name="make_it"),
    path("makes/<int:pk>/dough/", dough_views.dough, name="dough"),
    path("makes/<int:pk>/dough/edit/", dough_views.dough_edit, name="dough_edit"),
    path("makes/<int:pk>/dough/save/", dough_views.dough_save, name="dough_save"),
    path("makes/<int:pk>/dough/newest/", dough_views.to_newest, name="to_newest"),
    path("makes/<int:pk>/size/", size_views.size, name="size"),
    *[
        path(f"makes/<int:pk>/{key}/{rest}", view, {"key": key}, name=f"{key}{suffix}")
        for key in method_views.STAGES
        for rest, view, suffix in (("", method_views.stage, ""), ("edit/", method_views.edit, "_edit"))
    ],
    path("makes/<int:pk>/cold/answers/", method_views.answered, name="answers"),
    path("makes/<int:pk>/cold/take/", method_views.take, name="take"),
    path("makes/<int:pk>/cold/reading/", method_views.reading, name="reading"),
    path("makes/<int:pk>/cold/room/", method_views.room, name="room"),
    path("makes/<int:pk>/store/", size_views.store, name="store"),
    path("makes/<int:pk>/from-store/", size_views.from_store, name="from_store"),
    path("makes/<int:pk>/back-to-store/", size_views.back_to_store, name="back_to_store"),
    path("makes/<int:pk>/weigh/", views.weigh, name="weigh"),
    path("makes/<int:pk>/start/", views.start, name="start"),
    path("makes/<int:pk>/again/", views.again, name="again"),
    path("makes/<int:pk>/bin/", views.bin_make, name="bin"),
    path("makes/<int:pk>/restore/", views.restore, name="restore"),
]

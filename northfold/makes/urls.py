from django.urls import path

from northfold.makes import dough_views, method_views, own_views, size_views, views

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
    path("makes/<int:pk>/said/", method_views.take_said, name="take_said"),
    path("makes/<int:pk>/cold/reading/", method_views.reading, name="reading"),
    path("makes/<int:pk>/cold/room/", method_views.room, name="room"),
    path("makes/<int:pk>/steps/card/", method_views.card, name="card"),
    path("makes/<int:pk>/steps/more/<str:step>/", method_views.more, name="more"),
    path("makes/<int:pk>/steps/add/", own_views.add_step, name="add_step"),
    path("makes/<int:pk>/steps/remove/", own_views.remove_step, name="remove_step"),
    path("makes/<int:pk>/steps/back/", own_views.edits_back, name="edits_back"),
    path("makes/<int:pk>/steps/method/", own_views.use_method, name="use_method"),
    path("makes/<int:pk>/steps/keep/", own_views.save_method, name="save_method"),
    path("methods/", own_views.method_list, name="methods"),
    path("methods/<int:method>/usual/", own_views.set_usual, name="set_usual"),
    path("methods/<int:method>/bin/", own_views.bin_method, name="bin_method"),
    path("methods/<int:method>/restore/", own_views.restore_method, name="restore_method"),
    path("makes/<int:pk>/store/", size_views.store, name="store"),
    path("makes/<int:pk>/from-store/", size_views.from_store, name="from_store"),
    path("makes/<int:pk>/back-to-store/", size_views.back_to_store, name="back_to_store"),
    path("makes/<int:pk>/weigh/", views.weigh, name="weigh"),
    path("makes/<int:pk>/start/", views.start, name="start"),
    path("makes/<int:pk>/again/", views.again, name="again"),
    path("makes/<int:pk>/bin/", views.bin_make, name="bin"),
    path("makes/<int:pk>/restore/", views.restore, name="restore"),
]

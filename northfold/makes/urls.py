from django.urls import path

from northfold.makes import dough_views, method_views, own_views, size_views, views

app_name = "makes"
urlpatterns = [
    path("", views.make_list, name="list"),
    path("makes/new/<row:formula>/", views.make_it, name="make_it"),
    path("makes/<row:pk>/dough/", dough_views.dough, name="dough"),
    path("makes/<row:pk>/dough/edit/", dough_views.dough_edit, name="dough_edit"),
    path("makes/<row:pk>/dough/save/", dough_views.dough_save, name="dough_save"),
    path("makes/<row:pk>/dough/newest/", dough_views.to_newest, name="to_newest"),
    path("makes/<row:pk>/size/", size_views.size, name="size"),
    *[
        path(f"makes/<row:pk>/{key}/{rest}", view, {"key": key}, name=f"{key}{suffix}")
        for key in method_views.STAGES
        for rest, view, suffix in (("", method_views.stage, ""), ("edit/", method_views.edit, "_edit"))
    ],
    path("makes/<row:pk>/cold/answers/", method_views.answered, name="answers"),
    path("makes/<row:pk>/cold/take/", method_views.take, name="take"),
    path("makes/<row:pk>/said/", method_views.take_said, name="take_said"),
    path("makes/<row:pk>/cold/reading/", method_views.reading, name="reading"),
    path("makes/<row:pk>/cold/room/", method_views.room, name="room"),
    path("makes/<row:pk>/steps/card/", method_views.card, name="card"),
    path("makes/<row:pk>/steps/more/<str:step>/", method_views.more, name="more"),
    path("makes/<row:pk>/steps/add/", own_views.add_step, name="add_step"),
    path("makes/<row:pk>/steps/remove/", own_views.remove_step, name="remove_step"),
    path("makes/<row:pk>/steps/back/", own_views.edits_back, name="edits_back"),
    path("makes/<row:pk>/steps/method/", own_views.use_method, name="use_method"),
    path("makes/<row:pk>/steps/keep/", own_views.save_method, name="save_method"),
    path("methods/", own_views.method_list, name="methods"),
    path("methods/<row:method>/usual/", own_views.set_usual, name="set_usual"),
    path("methods/<row:method>/bin/", own_views.bin_method, name="bin_method"),
    path("methods/<row:method>/restore/", own_views.restore_method, name="restore_method"),
    path("makes/<row:pk>/store/", size_views.store, name="store"),
    path("makes/<row:pk>/from-store/", size_views.from_store, name="from_store"),
    path("makes/<row:pk>/back-to-store/", size_views.back_to_store, name="back_to_store"),
    path("makes/<row:pk>/weigh/", views.weigh, name="weigh"),
    path("makes/<row:pk>/start/", views.start, name="start"),
    path("makes/<row:pk>/abandon/", views.abandon, name="abandon"),
    path("makes/<row:pk>/take-up/", views.take_up, name="take_up"),
    path("makes/<row:pk>/again/", views.again, name="again"),
    path("makes/<row:pk>/bin/", views.bin_make, name="bin"),
    path("makes/<row:pk>/restore/", views.restore, name="restore"),
]

from django.urls import path

from northfold.makes import views
from northfold.makes.stages import bake, cold, compare, dough, fill, own_hand, page, prints, size, steps

app_name = "makes"
urlpatterns = [
    path("", views.make_list, name="list"),
    path("makes/shopping/", views.shopping_list, name="shopping"),
    path("makes/new/<row:formula>/", views.make_it, name="make_it"),
    path("makes/<row:pk>/dough/", dough.dough, name="dough"),
    path("makes/<row:pk>/dough/edit/", dough.dough_edit, name="dough_edit"),
    path("makes/<row:pk>/dough/save/", dough.dough_save, name="dough_save"),
    path("makes/<row:pk>/dough/newest/", dough.to_newest, name="to_newest"),
    path("makes/<row:pk>/size/", size.size, name="size"),
    path("makes/<row:pk>/size/compare/", compare.compare, name="compare"),
    *[
        path(f"makes/<row:pk>/{key}/{rest}", view, {"key": key}, name=f"{key}{suffix}")
        for key in page.STAGES  # as `apps.py` has read them
        for rest, view, suffix in (("", page.stage, ""), ("edit/", page.edit, "_edit"))
    ],
    path("makes/<row:pk>/cold/answers/", cold.answered, name="answers"),
    path("makes/<row:pk>/cold/take/", cold.take, name="take"),
    path("makes/<row:pk>/bake/changes/", bake.changed, name="bake_changes"),
    path("makes/<row:pk>/bake/take/", bake.take, name="bake_take"),
    path("makes/<row:pk>/fill/add/", fill.add, name="layer_add"),
    path("makes/<row:pk>/fill/from-store/", fill.from_store, name="mixture_from_store"),
    path("makes/<row:pk>/fill/back-to-store/", fill.back_to_store, name="mixture_back_to_store"),
    path("makes/<row:pk>/fill/into-store/", fill.into_store, name="mixture_into_store"),
    path("makes/<row:pk>/fill/back/", fill.back, name="layer_back"),
    path("makes/<row:pk>/fill/<row:layer>/", fill.change, name="layer_change"),
    path("makes/<row:pk>/fill/<row:layer>/take/", fill.take, name="layer_take"),
    path("makes/<row:pk>/fill/<row:layer>/remove/", fill.remove, name="layer_remove"),
    path("makes/<row:pk>/said/", page.take_said, name="take_said"),
    path("makes/<row:pk>/cold/reading/", cold.reading, name="reading"),
    path("makes/<row:pk>/cold/room/", cold.room, name="room"),
    path("makes/<row:pk>/steps/card/", steps.card, name="card"),
    path("makes/<row:pk>/labels/", prints.labels, name="labels"),
    path("makes/<row:pk>/allergens/", prints.allergens, name="allergens"),
    path("makes/<row:pk>/steps/more/<str:step>/", steps.more, name="more"),
    path("makes/<row:pk>/steps/add/", own_hand.add_step, name="add_step"),
    path("makes/<row:pk>/steps/remove/", own_hand.remove_step, name="remove_step"),
    path("makes/<row:pk>/steps/back/", own_hand.edits_back, name="edits_back"),
    path("makes/<row:pk>/steps/method/", own_hand.use_method, name="use_method"),
    path("makes/<row:pk>/steps/keep/", own_hand.save_method, name="save_method"),
    path("methods/", own_hand.method_list, name="methods"),
    path("methods/<row:method>/usual/", own_hand.set_usual, name="set_usual"),
    path("methods/<row:method>/bin/", own_hand.bin_method, name="bin_method"),
    path("methods/<row:method>/restore/", own_hand.restore_method, name="restore_method"),
    path("makes/<row:pk>/store/", size.store, name="store"),
    path("makes/<row:pk>/from-store/", size.from_store, name="from_store"),
    path("makes/<row:pk>/back-to-store/", size.back_to_store, name="back_to_store"),
    path("makes/<row:pk>/file/<str:kind>/", views.as_file, name="as_file"),
    path("makes/calendar/", views.calendar, name="calendar"),
    path("feed/<str:word>.ics", views.feed, name="feed"),
    path("makes/<row:pk>/weigh/", views.weigh, name="weigh"),
    path("makes/<row:pk>/start/", views.start, name="start"),
    path("makes/<row:pk>/abandon/", views.abandon, name="abandon"),
    path("makes/<row:pk>/take-up/", views.take_up, name="take_up"),
    path("makes/<row:pk>/again/", views.again, name="again"),
    path("makes/<row:pk>/bin/", views.bin_make, name="bin"),
    path("makes/<row:pk>/restore/", views.restore, name="restore"),
]

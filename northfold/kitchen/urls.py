from django.urls import path

from northfold.kitchen import views

app_name = "kitchen"
urlpatterns = [
    path("", views.home, name="home"),
    path("how-we-reckon/", views.how_we_reckon, name="reckoning"),
    path("start/", views.start, name="start"),
    path("ingredients/", views.ingredients, name="ingredients"),
    path("ingredients/new/", views.ingredient, name="new_ingredient"),
    path("ingredients/<row:pk>/", views.ingredient, name="ingredient"),
    path("tins/new/", views.tin, name="new_tin"),
    path("tins/<row:pk>/", views.tin, name="tin"),
    path("tins/<row:pk>/bin/", views.bin_tin, name="bin_tin"),
    path("tins/<row:pk>/restore/", views.restore_tin, name="restore_tin"),
    path("places/", views.places, name="places"),
    *[
        path(f"{kind}s/{rest}", view, {"kind": kind}, name=name)
        for kind in ("place", "oven", "machine")
        for rest, view, name in (
            ("new/", views.spot, f"new_{kind}"),
            ("<row:pk>/", views.spot, kind),
            ("<row:pk>/bin/", views.bin_spot, f"bin_{kind}"),
            ("<row:pk>/restore/", views.restore_spot, f"restore_{kind}"),
        )
    ],
    path("people/", views.people, name="people"),
    path("people/new/", views.person, name="new_person"),
    path("people/<row:pk>/", views.person, name="person"),
    path("people/<row:pk>/at-work/", views.at_work, name="at_work"),
    path("people/<row:pk>/sign-out/", views.sign_out_person, name="sign_out_person"),
    path("people/<row:pk>/bin/", views.bin_person, name="bin_person"),
    path("people/<row:pk>/restore/", views.restore_person, name="restore_person"),
]

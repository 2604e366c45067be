from django.urls import path

from northfold.kitchen import views

app_name = "kitchen"
urlpatterns = [
    path("", views.home, name="home"),
    path("start/", views.start, name="start"),
    path("ingredients/", views.ingredients, name="ingredients"),
    path("tins/new/", views.tin, name="new_tin"),
    path("tins/<int:pk>/", views.tin, name="tin"),
    path("tins/<int:pk>/bin/", views.bin_tin, name="bin_tin"),
    path("tins/<int:pk>/restore/", views.restore_tin, name="restore_tin"),
    path("people/", views.people, name="people"),
    path("people/new/", views.person, name="new_person"),
    path("people/<int:pk>/", views.person, name="person"),
    path("people/<int:pk>/bin/", views.bin_person, name="bin_person"),
    path("people/<int:pk>/restore/", views.restore_person, name="restore_person"),
]

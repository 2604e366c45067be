from django.urls import path

from northfold.makes import views

app_name = "makes"
urlpatterns = [
    path("", views.make_list, name="list"),
    path("makes/new/<int:formula>/", views.make_it, name="make_it"),
    path("makes/<int:pk>/dough/", views.dough, name="dough"),
    path("makes/<int:pk>/dough/edit/", views.dough_edit, name="dough_edit"),
    path("makes/<int:pk>/dough/save/", views.dough_save, name="dough_save"),
    path("makes/<int:pk>/dough/newest/", views.to_newest, name="to_newest"),
    path("makes/<int:pk>/size/", views.size, name="size"),
    path("makes/<int:pk>/weigh/", views.weigh, name="weigh"),
    path("makes/<int:pk>/start/", views.start, name="start"),
    path("makes/<int:pk>/finish/", views.finish, name="finish"),
    path("makes/<int:pk>/again/", views.again, name="again"),
    path("makes/<int:pk>/bin/", views.bin_make, name="bin"),
    path("makes/<int:pk>/restore/", views.restore, name="restore"),
]

from django.urls import path

from northfold.dough import views

app_name = "dough"
urlpatterns = [
    path("", views.book, name="book"),
    path("new/", views.new, name="new"),
    path("<int:pk>/", views.formula, name="formula"),
    path("<int:pk>/v/<int:n>/", views.version, name="version"),
    path("<int:pk>/v/<int:n>/restore/", views.restore_version, name="restore_version"),
    path("<int:pk>/v/<int:n>/text/", views.text, name="text"),
    path("using/<int:ingredient>/", views.using, name="using"),
    path("using/<int:ingredient>/<int:pk>/renew/", views.renew, name="renew"),
    path("<int:pk>/edit/", views.edit, name="edit"),
    path("<int:pk>/save/", views.save, name="save"),
    path("<int:pk>/resolve/", views.resolve, name="resolve"),
    path("<int:pk>/discard/", views.discard, name="discard"),
    path("<int:pk>/undo-discard/", views.undo_discard, name="undo_discard"),
    path("<int:pk>/bin/", views.bin_formula, name="bin"),
    path("<int:pk>/restore/", views.restore, name="restore"),
]

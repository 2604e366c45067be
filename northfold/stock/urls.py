from django.urls import path

from northfold.stock import views

app_name = "stock"
urlpatterns = [
    path("", views.store, name="store"),
    path("labels/", views.labels, name="labels"),
    path("<row:pk>/take/", views.take, name="take"),
    path("<row:pk>/move/", views.move, name="move"),
    path("<row:pk>/throw-away/", views.throw_away, name="throw_away"),
    path("<row:pk>/give-back/<row:move>/", views.give_back, name="give_back"),
]

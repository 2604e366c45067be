from django.urls import path

from northfold.stock import views

app_name = "stock"
urlpatterns = [
    path("", views.store, name="store"),
    path("<int:pk>/take/", views.take, name="take"),
    path("<int:pk>/move/", views.move, name="move"),
    path("<int:pk>/throw-away/", views.throw_away, name="throw_away"),
    path("<int:pk>/give-back/<int:move>/", views.give_back, name="give_back"),
]

from django.urls import path

from northfold.bench import views

app_name = "bench"
urlpatterns = [
    path("bench/<int:pk>/", views.run, name="run"),
    path("bench/<int:pk>/state/", views.state, name="state"),
    path("bench/<int:pk>/events/", views.record, name="record"),
    path("bench/<int:pk>/finish/", views.finish, name="finish"),
    path("bench/mood/", views.mood, name="mood"),
]

from django.urls import path

from northfold.bench import views

app_name = "bench"
urlpatterns = [
    path("bench/<row:pk>/", views.run, name="run"),
    path("bench/<row:pk>/state/", views.state, name="state"),
    path("bench/<row:pk>/events/", views.record, name="record"),
    path("bench/<row:pk>/finish/", views.finish, name="finish"),
    path("bench/<row:pk>/scale/", views.at_scale, name="scale"),
    path("bench/<row:pk>/probe/", views.at_probe, name="probe"),
    path("bench/<row:pk>/wrong/", views.wrong, name="wrong"),
    path("bench/<row:pk>/cold/", views.into_the_cold, name="into_cold"),
    path("bench/mood/", views.mood, name="mood"),
    path("wall/", views.wall, name="wall"),
    path("bench-worker.js", views.worker, name="worker"),
]

from django.urls import path

from northfold.demo import views

app_name = "demo"
urlpatterns = [path("kitchen/start/demo/", views.start, name="start")]

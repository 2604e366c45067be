from django.urls import path

from northfold.records import views

app_name = "records"
urlpatterns = [
    path("makes/<row:pk>/result/", views.result, name="result"),
    path("makes/<row:pk>/result/results.json", views.as_file, name="as_file"),
    path("results.json", views.all_results, name="all_results"),
]

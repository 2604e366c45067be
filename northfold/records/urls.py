from django.urls import path

from northfold.records import views

app_name = "records"
urlpatterns = [path("makes/<row:pk>/result/", views.result, name="result")]

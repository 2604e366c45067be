from django.contrib.auth.views import LogoutView
from django.urls import path

from northfold.web import views

app_name = "web"
urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="sign_in"),
    path("sign-in/demo/<str:username>/", views.demo_sign_in, name="demo_sign_in"),
    path("sign-out/", LogoutView.as_view(), name="sign_out"),
    path("password/", views.OwnPassword.as_view(), name="password"),
    path("today/", views.today, name="today"),
    path("health/", views.health, name="health"),
]

from django.urls import path

from northfold.web import views
from northfold.web.accounts import views as accounts

app_name = "web"
urlpatterns = [
    path("sign-in/", accounts.SignIn.as_view(), name="sign_in"),
    path("sign-in/demo/<str:username>/", accounts.demo_sign_in, name="demo_sign_in"),
    path("sign-out/", accounts.SignOut.as_view(), name="sign_out"),
    path("sign-out/everywhere/", accounts.sign_out_everywhere, name="sign_out_everywhere"),
    path("password/", accounts.OwnPassword.as_view(), name="password"),
    path("kitchen/record/", accounts.record, name="record"),
    path("today/", views.today, name="today"),
    path("today/day.json", views.day_as_file, name="day_as_file"),
    path("formats/<str:name>.json", views.schema, name="schema"),
    path("tables/<str:name>.csv", views.table, name="table"),
    path("c/", views.code, name="codes"),
    path("c/<str:code>/", views.code, name="code"),
    path("health/", views.health, name="health"),
]

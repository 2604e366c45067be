from django.urls import path

from northfold.day import views
from northfold.day.week import views as week

app_name = "day"
urlpatterns = [
    path("day/", views.today, name="today"),
    path("day/plans/<row:pk>/back/", views.put_back, name="put_back"),
    path("day/<str:on>/", views.of, name="of"),
    path("day/<str:on>/plan/", views.plan, name="plan"),
    path("day/<str:on>/replan/", views.replan, name="replan"),
    path("day/<str:on>/stop/", views.stopped, name="stop"),
    path("day/<str:on>/leave/", views.leave, name="leave"),
    path("day/<str:on>/take/", views.take, name="take"),
    path("day/<str:on>/hold/", views.hold, name="hold"),
    path("day/<str:on>/away/", views.switch, {"what": "away"}, name="away"),
    path("day/<str:on>/down/", views.switch, {"what": "down"}, name="down"),
    path("day/<str:on>/save/", views.save, name="save"),
    path("day/<str:on>/makes/<row:pk>/", views.weight, name="weight"),
    path("day/<str:on>/sheet/", views.sheet, name="sheet"),
    path("day/<str:on>/plan.json", views.as_json, name="json"),
    path("day/<str:on>/day.ics", views.calendar, name="calendar"),
    path("week/", week.week, name="week"),
    path("week/take/", week.take, name="week_take"),
    path("week/back/", week.back, name="week_back"),
    path("week/makes/<row:pk>/as-wanted/", week.as_wanted, name="as_wanted"),
    path("week/orders/new/", week.order_new, name="order_new"),
    path("week/orders/<row:pk>/", week.order, name="order"),
    path("week/orders/<row:pk>/on/", week.change, name="order_on"),
    path("week/orders/<row:pk>/bin/", week.order_bin, name="order_bin"),
    path("week/orders/<row:pk>/restore/", week.order_restore, name="order_restore"),
    path("week/levels/new/", week.level_new, name="level_new"),
    path("week/levels/<row:pk>/", week.level, name="level"),
    path("week/levels/<row:pk>/bin/", week.level_bin, name="level_bin"),
    path("week/levels/<row:pk>/restore/", week.level_restore, name="level_restore"),
]

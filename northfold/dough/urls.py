from django.urls import path

from northfold.dough import read_in, views

app_name = "dough"
urlpatterns = [
    path("", views.book, name="book"),
    path("new/", views.new, name="new"),
    path("print/", views.print_book, name="print_book"),
    path("read/", read_in.read_in, name="read_in"),
    path("read/open/", read_in.open_recipe, name="open_recipe"),
    path("read/save/", read_in.save_recipes, name="save_recipes"),
    path("read/take/", read_in.take_file, name="take_file"),
    path("read/undo/", read_in.undo_read_in, name="undo_read_in"),
    path("<row:pk>/", views.formula, name="formula"),
    path("<row:pk>/v/<row:n>/", views.version, name="version"),
    path("<row:pk>/v/<row:n>/restore/", views.restore_version, name="restore_version"),
    path("<row:pk>/v/<row:n>/text/", views.text, name="text"),
    path("<row:pk>/v/<row:n>/file/<str:kind>/", views.as_file, name="as_file"),
    path("<row:pk>/copy/", views.duplicate, name="duplicate"),
    path("using/<row:ingredient>/", views.using, name="using"),
    path("using/<row:ingredient>/<row:pk>/renew/", views.renew, name="renew"),
    path("<row:pk>/edit/", views.edit, name="edit"),
    path("<row:pk>/save/", views.save, name="save"),
    path("<row:pk>/part-out/", views.part_out, name="part_out"),
    path("<row:pk>/resolve/", views.resolve, name="resolve"),
    path("<row:pk>/discard/", views.discard, name="discard"),
    path("<row:pk>/undo-discard/", views.undo_discard, name="undo_discard"),
    path("<row:pk>/bin/", views.bin_formula, name="bin"),
    path("<row:pk>/restore/", views.restore, name="restore"),
]

"""A server does before it listens what has changed, and no more; it looks for garbage between requests."""

import gc
import time

import pytest
from django.core.management import call_command
from django.template import Context, Template, TemplateSyntaxError

from northfold.config import readiness
from northfold.config.serving import SWEEP_S, Sweeper
from northfold.core.heat import march
from northfold.core.heat.compiled import compile_now
from northfold.web.once import forget, once_a_request, reading


def test_static_files_are_collected_once_and_again_when_one_changes(tmp_path, settings, monkeypatch):
    settings.STATIC_ROOT, settings.DEBUG = tmp_path, False
    collected = []
    monkeypatch.setattr(readiness, "call_command", lambda *words, **_: collected.append(words))
    assert readiness.collect_static()
    assert not readiness.collect_static()
    sources = list(readiness._sources())
    assert any("web/app.js" in source for source in sources)
    monkeypatch.setattr(readiness, "_sources", lambda: iter([*sources, "web/new.css 12 1"]))
    assert readiness.collect_static()
    assert collected == [("collectstatic",)] * 2


@pytest.mark.django_db
def test_data_that_is_up_to_date_is_not_migrated_but_renewed(monkeypatch):
    done = []
    monkeypatch.setattr(readiness, "call_command", lambda *words, **_: done.append(words))
    for name in ("renew_versions", "rebuild_learning", "renew_makes"):
        monkeypatch.setattr(readiness, name, lambda name=name: done.append(name))
    readiness.bring_data_up()
    assert done == ["renew_versions", "rebuild_learning", "renew_makes"]


@pytest.mark.django_db(transaction=True)
def test_data_of_another_version_is_migrated(monkeypatch):
    done = []
    call_command("migrate", "stock", "0002", verbosity=0)
    try:
        monkeypatch.setattr(readiness, "call_command", lambda *words, **_: done.append(words))
        readiness.bring_data_up()
    finally:
        call_command("migrate", verbosity=0)
    assert done == [("migrate",)]


def test_the_conduction_is_compiled_before_anybody_asks():
    compile_now()
    assert march.march.signatures


@pytest.fixture
def collector():
    kept, is_on = gc.get_threshold(), gc.isenabled()
    yield
    gc.set_threshold(*kept)
    gc.unfreeze()
    (gc.enable if is_on else gc.disable)()


def test_the_full_sweep_waits_until_nothing_is_under_way(collector, monkeypatch):
    sweeper, swept = Sweeper(), []
    assert gc.get_threshold()[2] > 1_000_000
    assert gc.get_freeze_count() > 1000
    monkeypatch.setattr(gc, "collect", lambda: swept.append("swept"))
    sweeper.when_free(lambda: False)
    assert swept == []  # it was done a moment ago
    sweeper.last = time.monotonic() - SWEEP_S - 1
    sweeper.when_free(lambda: True)
    assert swept == []
    sweeper.when_free(lambda: False)
    assert swept == ["swept"]
    sweeper.last = time.monotonic() - 1000
    sweeper.when_free(lambda: True)
    assert swept == ["swept", "swept"]


def test_a_request_asks_once_and_again_after_a_change():
    asked = []

    @once_a_request
    def ask():
        asked.append(1)
        return len(asked)

    assert [ask(), ask()] == [1, 2]  # outside a request every time
    with reading():
        assert [ask(), ask()] == [3, 3]
        forget()
        assert [ask(), ask()] == [4, 4]
    with reading():
        assert ask() == 5


def test_a_row_is_drawn_once_for_everything_it_shows():
    drawn = Template("{% load drawn %}{% drawn row.key %}<b>{{ row.name }}</b>{% enddrawn %}")
    show = lambda key, name: drawn.render(Context({"row": {"key": key, "name": name}}))  # noqa: E731
    assert show("a", "Tart & co") == "<b>Tart &amp; co</b>"
    assert show("a", "another") == "<b>Tart &amp; co</b>"
    assert show("b", "another") == "<b>another</b>"
    with pytest.raises(TemplateSyntaxError, match="by what a row is known"):
        Template("{% load drawn %}{% drawn %}{% enddrawn %}")

"""Keeping what plans, lists and learning need moves no figure of any page."""

import pytest
import time_machine
from django.contrib.auth import get_user_model
from django.test import Client

from northfold.kitchen.models import LearnedState
from northfold.makes.models import MakeFacts
from tests import pages
from tests.other_data import forget, in_place_of_ours


@pytest.fixture
def client_of_then(tmp_path, django_db_setup, django_db_blocker):
    """A head signed in to the demo as it was built once, at one moment of that day."""
    with (
        django_db_blocker.unblock(),
        in_place_of_ours(pages.demo(), tmp_path / "demo.sqlite3"),
        time_machine.travel(pages.MOMENT, tick=False),
    ):
        client = Client()
        client.force_login(get_user_model().objects.get(username="runa"))
        yield client


def moved(found, expected):
    return [address for address in found if found[address] != expected[address]]


def test_every_page_shows_the_figures_it_showed_before_anything_was_kept(client_of_then):
    before = pages.as_they_were()
    found = pages.read(client_of_then, every=4)
    assert moved(found, before) == []
    # And once more, now that everything is kept that is kept at all.
    assert (
        moved({address: pages.figures(client_of_then.get(address).content.decode()) for address in pages.LISTS}, before)
        == []
    )


def test_without_anything_kept_every_list_shows_the_same(client_of_then):
    before = pages.as_they_were()
    for address in (*pages.LISTS, "/makes/1/steps/", "/makes/38/fold/", "/book/1/"):
        forget()
        MakeFacts.objects.filter(make__state="planned").delete()
        LearnedState.objects.all().delete()
        assert pages.figures(client_of_then.get(address).content.decode()) == before[address], address

"""A small kitchen for the tests: people in each role, tins, one formula; all through the services."""

import os

import hypothesis
import pytest

from northfold.core.shape import tins
from northfold.dough import editing
from northfold.dough import services as dough
from northfold.kitchen import services as kitchen
from northfold.kitchen.middleware import shown_units
from northfold.kitchen.models import Tin
from northfold.kitchen.queries import revisions_of
from northfold.web.permissions import Role

# Playwright keeps an event loop in the test's thread; Django's guard against that is meant for real async code.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

# The first example loads unit tables and fat curves; how long one takes is for `make bench` to say.
hypothesis.settings.register_profile("untimed", deadline=None)
hypothesis.settings.load_profile("untimed")

HARBOUR = "420 g plain flour\n280 g cold unsalted butter, diced\n140 g cold water\n7 g fine salt"


@pytest.fixture
def pantry(db):
    revisions_of.cache_clear()  # rolled-back rows give their numbers to others
    shown_units.cache_clear()
    kitchen.load_reference_ingredients()
    # Somebody is there at any hour, so that clocks are what the dough asks for.
    return kitchen.save_row(kitchen.kitchen(), {"opens_min": 0, "closes_min": 1440})


@pytest.fixture
def people(pantry):
    return {
        role: kitchen.add_person(name=f"Test {role}", role=role, username=role, password=f"quay-side-{role}").user
        for role in Role.values
    }


@pytest.fixture
def head(people):
    return people["head"]


@pytest.fixture
def sign_in(client, people):
    """Sign a role in; answers the client."""

    def _sign_in(role="head"):
        client.force_login(people[role], backend="django.contrib.auth.backends.ModelBackend")
        return client

    return _sign_in


@pytest.fixture
def flan_tin(pantry):
    return Tin.objects.create(name="Flan tin", kind=tins.ROUND, top_mm=230, base_mm=230, height_mm=25, owned=6)


def write_formula(user, name="Harbour tart shell", text=HARBOUR, system="metric"):
    draft = dough.open_draft(user, None)
    payload = editing.paste({**editing.empty_payload(system), "name": name}, text)
    draft = dough.edit_draft(user, None, draft.edit_no, payload)
    return dough.save_version(user, None, draft.edit_no)


@pytest.fixture
def version(head):
    return write_formula(head)

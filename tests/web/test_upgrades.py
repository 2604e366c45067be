"""Data of every version that landed is brought up to date, and all that was begun or finished under it still opens."""

import json
import lzma
from contextlib import ExitStack
from pathlib import Path

import pytest
from django.contrib.auth import get_user_model
from django.db import connection
from django.test import Client
from jsonschema import Draft202012Validator

from northfold.bench import services as bench
from northfold.core.version import CORE_VERSION
from northfold.dough import formats
from northfold.dough.models import Draft, Formula, FormulaVersion, VersionFacts
from northfold.exchange import queries
from northfold.exchange.services import look
from northfold.formats.files import dumped_in_rows
from northfold.formats.kitchen import SECTIONS
from northfold.formats.schemas import schema
from northfold.kitchen.models import Ingredient
from northfold.makes import freezing
from northfold.makes.models import FrozenPlan, Make
from northfold.records.models import Result
from northfold.stock.models import Lot
from tests.other_data import in_place_of_ours

GOLDEN = sorted((Path(__file__).parents[1] / "golden").glob("*.sqlite3.xz"))
# A database for each number that frozen plans and drafts have carried.
OF_EACH_FORMAT = {1: "02777fa", 2: "fe1d1d4", 3: "de8e40f"}
STAGES = ("dough", "size", "fold", "steps", "steps/card", "cold", "bake", "weigh", "result")


@pytest.fixture
def bring_up(tmp_path, django_db_setup, django_db_blocker):
    """Puts an old database in the place of the tests' own and migrates it; answers a head signed in to it."""
    with django_db_blocker.unblock(), ExitStack() as opened:

        def _bring_up(file):
            data = lzma.decompress(file.read_bytes())
            opened.enter_context(in_place_of_ours(data, tmp_path / "old.sqlite3"))
            client = Client()
            client.force_login(get_user_model().objects.get(username="runa"))
            return client

        yield _bring_up


def refused(client, addresses):
    return {address: answer for address in addresses if (answer := client.get(address).status_code) != 200}


def one_of_each(makes):
    """Of each route that makes were planned by one make under way, and one that is over."""
    found = {}
    for make in makes:
        plan = make.frozen_plans.first().plan
        route = plan.get("route") or plan.get("course") or {}
        found[make.state, route.get("kind")] = make
    return list(found.values())


def pages_of(makes):
    return [f"/makes/{make.pk}/{stage}/" for make in makes for stage in STAGES] + [
        f"/bench/{make.pk}/" for make in makes
    ]


def test_there_is_a_database_of_each_version_that_landed():
    assert len(GOLDEN) >= 9


@pytest.mark.parametrize(("number", "name"), OF_EACH_FORMAT.items())
def test_there_is_a_database_of_each_format(bring_up, number, name):
    assert set(OF_EACH_FORMAT) == set(range(1, max(freezing.FORMAT, formats.FORMAT) + 1))
    bring_up(next(file for file in GOLDEN if name in file.name))
    plans = min(number, freezing.FORMAT)  # drafts have come further
    assert {frozen.plan.get("format", 1) for frozen in FrozenPlan.objects.all()} == {plans}
    with connection.cursor() as cursor:
        cursor.execute("select payload from dough_draft")
        assert {json.loads(payload).get("format", 1) for (payload,) in cursor.fetchall()} == {number}
    # Whichever it was, it is read in the present one.
    assert {draft.payload["format"] for draft in Draft.objects.all()} == {formats.FORMAT}


def test_a_plan_in_which_the_route_was_a_course_is_read_and_one_of_tomorrow_is_not():
    old = {"course": None, "no_course": "why", "edits": [{"step_key": "weigh", "field": "course", "value": "hand"}]}
    old["inputs"] = {"setting": {"room_c": 21, "schools": {"crumb": "sand"}}}
    found = freezing.upgraded(old)
    assert found["inputs"]["setting"] == {"room_c": 21, "schools": {"chosen": [("crumb", "sand")]}}
    assert (found["route"], found["no_route"], found["edits"][0]["field"]) == (None, "why", "route")
    for upgraded in (freezing.upgraded, formats.upgraded):
        with pytest.raises(ValueError, match="reads up to"):
            upgraded({"format": 99, "lines": []})


def test_every_row_that_is_exchanged_has_a_name_of_its_own(bring_up):
    bring_up(GOLDEN[0])
    for model in (Formula, Make, Lot, Result, Ingredient):
        names = list(model.objects.values_list("uuid", flat=True))
        assert None not in names and len(set(names)) == len(names), model
    assert Formula.objects.exists() and Ingredient.objects.exists()


@pytest.mark.parametrize("file", GOLDEN, ids=lambda file: file.name.split(".")[0])
def test_everything_begun_under_an_older_version_opens(bring_up, file):
    client = bring_up(file)
    frozen = {(plan.make_id, plan.seq): plan.plan for plan in FrozenPlan.objects.all()}
    begun = list(Make.objects.exclude(state="planned"))
    assert len(begun) >= 6
    assert refused(client, pages_of(one_of_each(begun))) == {}
    assert refused(client, ["/", "/today/", "/book/", "/cold-store/", "/kitchen/", "/kitchen/how-we-reckon/"]) == {}
    # Drafts, with what is not saved yet, one of them of a formula that is not in the book.
    drafts = Draft.objects.all()
    assert drafts.count() == 2
    assert (
        refused(client, ["/book/new/", *(f"/book/{draft.formula_id}/" for draft in drafts if draft.formula_id)]) == {}
    )
    assert b"softer" in client.get(f"/book/{Draft.objects.exclude(formula=None).get().formula_id}/").content
    # Nothing that was frozen moved.
    assert frozen == {(plan.make_id, plan.seq): plan.plan for plan in FrozenPlan.objects.all()}
    work_to_its_end(client, Make.objects.filter(state="started").order_by("pk").last())


def work_to_its_end(client, make):
    sent = {"kind": "weighed", "step_key": "weigh", "client_id": "one", "value": {"line": 0, "grams": 100}}
    assert client.post(f"/bench/{make.pk}/events/", sent, content_type="application/json").status_code == 200
    bench.finish(make)
    again = client.post(f"/makes/{make.pk}/again/")
    assert again.status_code == 302
    assert client.get(again.url).status_code == 200


def test_a_plan_frozen_before_a_question_was_asked_opens_without_it(bring_up):
    """Whichever it is: each question in turn is taken out of all plans that were frozen."""
    client = bring_up(next(file for file in GOLDEN if "0aa8c0a" in file.name))
    makes = one_of_each(Make.objects.filter(state="started"))
    for plan in FrozenPlan.objects.filter(make__in=makes):
        if plan.plan["course"]:
            plan.plan["course"]["chosen"] = {}
            freeze_as(plan)
    assert refused(client, pages_of(makes)) == {}


def freeze_as(plan):
    """A frozen plan refuses change; this makes the next one, as an older version would have frozen it."""
    plan.pk, plan.seq, plan._state.adding = None, plan.seq + 1, True
    plan.save()


def test_lists_show_what_the_present_core_computes(bring_up):
    bring_up(next(file for file in GOLDEN if "1dce556" in file.name))
    assert set(VersionFacts.objects.values_list("core_version", flat=True)) == {CORE_VERSION}
    assert VersionFacts.objects.count() == FormulaVersion.objects.count()


def test_a_kitchen_that_exists_is_given_what_fillings_are_made_of(bring_up):
    bring_up(next(file for file in GOLDEN if "fe1d1d4" in file.name))
    roles = {"gooseberries": "fruit", "beetroot": "vegetable", "smoked fish": "fish", "jam": "preserve"}
    for name, role in roles.items():
        found = Ingredient.objects.get(name=name)
        assert found.revisions.latest("pk").role == role and found.revisions.count() == 1
    names = [alias for row in Ingredient.objects.all() for alias in (row.name, *row.aliases)]
    assert len({name.casefold() for name in names}) == len(names)
    assert all(formula.kind == "dough" for formula in Formula.objects.all())


def test_a_draft_from_before_mixtures_is_one_of_a_dough():
    found = formats.upgraded({"format": 2, "name": "x", "lines": []})
    assert found["kind"] == "dough" and found["format"] == formats.FORMAT
    assert formats.upgraded({"format": 2, "kind": "curd", "lines": []})["kind"] == "curd"


@pytest.mark.parametrize("number", OF_EACH_FORMAT)
def test_what_an_older_version_kept_goes_out_as_a_file_and_is_known_again(number, bring_up):
    bring_up(next(file for file in GOLDEN if OF_EACH_FORMAT[number] in file.name))
    whole = "".join(dumped_in_rows(queries.whole(), SECTIONS))
    Draft202012Validator(schema("kitchen")).validate(json.loads(whole))
    found = look(whole.encode())
    assert {row.state for row in found.rows} == {"same"}
    assert sum(len(make.plans) for make in found.file.makes) == FrozenPlan.objects.count() > 0

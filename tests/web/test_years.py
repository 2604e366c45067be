"""Years of records are built in the proportions asked for, out of the demo, and only where nobody's own records are."""

import json
from datetime import timedelta

import pytest
from django.contrib.auth import get_user_model
from django.core.management import CommandError, call_command
from django.utils import timezone

from northfold.bench.models import BenchEvent
from northfold.demo import years
from northfold.dough.models import Formula, VersionFacts
from northfold.kitchen import learning
from northfold.kitchen.models import Evidence, LearnedState
from northfold.makes.models import FrozenPlan, Make
from northfold.records.models import Result
from northfold.stock.models import Lot
from northfold.stock.queries import store
from tests import pages
from tests.other_data import in_place_of_ours


@pytest.fixture
def demo(tmp_path, django_db_setup, django_db_blocker):
    """The demo as it was built once, brought up to date."""
    with django_db_blocker.unblock(), in_place_of_ours(pages.demo(), tmp_path / "demo.sqlite3"):
        yield


def test_so_much_is_built_as_is_asked_for(demo):
    begun = Make.objects.count()
    size = years.Size(makes=120, results=400, events=4000, evidence=400, formulas=60, lots=100)
    years.build_years(size)
    found = {
        "makes": Make.objects.count(),
        "results": Result.objects.count(),
        "events": BenchEvent.objects.count(),
        "evidence": Evidence.objects.count(),
        "formulas": Formula.objects.count(),
        "lots": Lot.objects.count(),
    }
    assert found == {name: getattr(size, name) for name in found}
    # Each make of the past is whole: a plan, taps, pieces, and one result that stands.
    copied = Make.objects.order_by("pk")[begun:]
    assert all(make.frozen_plans.count() == make.items.count() == 1 for make in copied)
    assert all(make.results.filter(superseded_by=None).count() == 1 for make in copied)
    assert {make.state for make in copied} <= {"finished", "abandoned"}
    assert all(make.facts.pieces and make.facts.dough_g == make.frozen_plans.first().plan["dough_g"] for make in copied)
    assert VersionFacts.objects.filter(is_newest=True).count() == Formula.objects.count()
    # What it taught is what all of its evidence teaches.
    before = {(each.kind, each.subject): each.state for each in LearnedState.objects.all()}
    learning.rebuild()
    assert before == {(each.kind, each.subject): each.state for each in LearnedState.objects.all()}
    assert sum(len(group.shelves) for group in store().groups) == store().page.paginator.count <= 30
    assert all(lot.on_hand < 1 for lot in Lot.objects.filter(is_used_up=True)[:20])


def test_a_plan_is_kept_in_a_third_of_its_room(demo):
    sizes = [(len(frozen.packed), len(json.dumps(frozen.plan))) for frozen in FrozenPlan.objects.all()]
    assert sum(packed for packed, _ in sizes) < 0.36 * sum(plain for _, plain in sizes)


def test_so_many_makes_bring_everything_else_in_proportion():
    assert years.Size.of(6000) == years.Size()
    assert years.Size.of(600).events == 20_000


@pytest.mark.django_db
def test_nobodys_own_records_are_added_to(head):
    with pytest.raises(CommandError, match="a kitchen's own records"):
        call_command("build_years", makes=10)
    with pytest.raises(CommandError, match="write a number from 1"):
        call_command("build_years", makes=0)
    assert not Make.objects.exists()
    assert get_user_model().objects.filter(date_joined__gt=timezone.now() - timedelta(days=1)).exists()

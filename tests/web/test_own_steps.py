"""A maker's own hand on the steps: own steps, notes, order; the kitchen's methods; what goes on beside."""

from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.bench import services as bench
from northfold.bench.queries import run_of
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Oven
from northfold.makes import services as makes
from northfold.makes.models import Method, StepEdit
from northfold.makes.queries import plan_of

STEP = {"name": "Wait for the van", "after": "chill.1", "minutes": "15", "place": "", "hands_min": "", "look": ""}


@pytest.fixture
def make(head, version, flan_tin):
    return makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)


def keys(make):
    return [step.key for step in plan_of(make).route.along]


def test_a_step_of_ones_own_is_added_taken_out_and_put_back(sign_in, make):
    client = sign_in("bench")
    assert client.post(f"/makes/{make.pk}/steps/add/", STEP).status_code == 302
    assert keys(make).index("own.1") == keys(make).index("chill.1") + 1
    page = client.post(f"/makes/{make.pk}/steps/remove/", {"step": "own.1"}, follow=True).content.decode()
    assert "own.1" not in keys(make) and "“Wait for the van” is taken out." in page
    client.post(f"/makes/{make.pk}/steps/back/")
    assert "own.1" in keys(make)
    client.post(f"/makes/{make.pk}/steps/add/", STEP | {"name": "Sieve", "hands_min": "3", "minutes": ""})
    assert "own.2" in keys(make)


def test_what_makes_no_step_is_said_beside_its_field_and_stays_typed(sign_in, make):
    client = sign_in("bench")
    for wrong, said in (
        ({"minutes": ""}, "A step takes some minutes"),
        ({"minutes": "9000"}, "A wait of 9000 min is outside 0 to 4320 min"),
        ({"name": ""}, "This field is required"),
        ({"after": "nowhere"}, "Select a valid choice"),
    ):
        answer = client.post(f"/makes/{make.pk}/steps/add/", STEP | {"look": "Dry to the touch"} | wrong)
        page = answer.content.decode().replace("\u00a0", " ").replace(",", "")
        assert answer.status_code == 422 and said in page and "Dry to the touch" in page, said
    assert not StepEdit.objects.exists()


def test_order_hands_and_notes_are_edited_and_unknown_ones_refused(sign_in, make):
    client = sign_in("bench")

    def edit(step, field, value):
        return client.post(f"/makes/{make.pk}/steps/edit/", {"step": step, "field": field, "value": value})

    assert edit("line", "note", "Corners <first>").status_code == 302
    assert "Corners &lt;first&gt;" in client.get(f"/makes/{make.pk}/steps/").content.decode()
    assert edit("trim", "after", "bake").status_code == 302
    assert keys(make).index("trim") < keys(make).index("cool")
    assert edit("trim", "after", "mix").status_code == 422
    assert edit("mix", "name", "Whirl").status_code == 422
    assert edit("line", "hands_min", "25").status_code == 302
    refused = edit("line", "hands_min", "lots").content.decode()
    assert "“lots” is not a number of min" in refused and 'value="lots"' in refused
    more = client.get(f"/makes/{make.pk}/steps/more/trim/").content.decode()
    assert "Comes after" in more and "Your note" in more
    assert client.get(f"/makes/{make.pk}/steps/more/nowhere/").status_code == 404
    page = client.get(f"/makes/{make.pk}/steps/").content.decode()
    assert "Changed from the suggestion: 3" in page


def test_a_method_is_kept_taken_by_another_make_and_starts_new_ones(sign_in, make, head, version, flan_tin):
    client = sign_in("bench")
    for step, field, value in (("rest.1", "school", "two"), ("mix", "fat_c", "3")):
        client.post(f"/makes/{make.pk}/steps/edit/", {"step": step, "field": field, "value": value})
    client.post(f"/makes/{make.pk}/steps/add/", STEP)
    client.post(f"/makes/{make.pk}/steps/keep/", {"name": "Van day", "is_usual": "on"})
    method = Method.objects.get()
    # How cold the fat is hangs on the day, not on the method.
    assert not method.edits.filter(field="fat_c").exists()
    tin = {"tin": flan_tin.pk, "count": "4", "due_at": ""}
    assert client.post(f"/makes/new/{version.formula_id}/", tin).status_code == 302
    fresh = type(make).objects.latest("pk")
    assert "own.1" in keys(fresh)
    assert next(step for step in plan_of(fresh).route.steps if step.key == "rest.1").wait_min == 120
    client.post(f"/makes/{fresh.pk}/steps/method/", {"method": ""})
    assert "own.1" not in keys(fresh)
    client.post(f"/makes/{fresh.pk}/steps/back/")
    assert "own.1" in keys(fresh)
    page = client.get("/methods/").content.decode()
    assert "Van day" in page and "the usual one" in page and "15 min waiting" in page
    client.post(f"/methods/{method.pk}/bin/")
    other = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    assert client.post(f"/makes/{other.pk}/steps/method/", {"method": method.pk}).status_code == 404
    client.post(f"/methods/{method.pk}/restore/")
    client.post(f"/makes/{other.pk}/steps/method/", {"method": method.pk})
    assert "own.1" in keys(other)


def test_a_started_make_takes_no_method_and_no_step(sign_in, make):
    client = sign_in("bench")
    method = Method.objects.create(name="Ours", kind="case")
    makes.start_make(make)
    before = StepEdit.objects.count()
    client.post(f"/makes/{make.pk}/steps/add/", STEP)
    page = client.post(f"/makes/{make.pk}/steps/method/", {"method": method.pk}, follow=True).content.decode()
    assert "This make has started" in page and StepEdit.objects.count() == before


def tap(user, make, key, at):
    bench.record(user, make, kind="done", step_key=key, client_id=f"{key}-{at:%H%M}", now=at)


def test_at_the_bench_the_oven_goes_on_beside_the_chill_and_the_bake_waits_for_it(head, make):
    start = timezone.now() - timedelta(hours=3)
    makes.start_make(make, start)
    at = start
    for step in run_of(make).plan.route.along:
        if step.key == "chill.1":
            break
        at += timedelta(minutes=step.minutes)
        if "tins" in step.follows:
            tap(head, make, "tins", at)
        tap(head, make, step.key, at)
    found = run_of(make).progress
    assert found.current.step.key == "chill.1"
    ((after, oven),) = found.meanwhile
    chill = found.current.step
    assert oven.step.key == "oven.on" and after == pytest.approx(oven.step.start_min - chill.start_min)
    on = at + timedelta(minutes=25)
    tap(head, make, "oven.on", on)
    found = run_of(make).progress
    assert found.current.step.key == "chill.1" and found.meanwhile == () and found.last_done.step.key == "oven.on"
    for key in ("chill.1", "weights"):
        tap(head, make, key, on + timedelta(minutes=5))
    found = run_of(make).progress
    (wait,) = found.waits_for(on + timedelta(minutes=6))
    assert wait.ends_at == on + timedelta(minutes=20)
    assert found.waits_for(on + timedelta(minutes=21)) == ()


def test_today_says_when_one_oven_is_wanted_at_two_heats(sign_in, head, version, flan_tin):
    kitchen.save_row(Oven(), {"name": "Deck"})
    due = timezone.now() + timedelta(hours=8)
    first, second = (makes.create_make(head, version, tin=flan_tin, count=4, due_at=due) for _ in range(2))
    assert b"Two things at the same time" not in sign_in("bench").get("/today/").content.replace(b"Hands", b"")
    makes.edit_step(head, second, "bake.off", "oven_c", "230")
    page = sign_in("bench").get("/today/").content.decode()
    assert "Deck at 190 °C for" in page and "and at 230 °C" in page
    assert "earlier frees it." in page or "later frees it." in page
    assert first.pk != second.pk


def test_the_bench_card_has_every_step_and_weight(sign_in, make):
    page = sign_in("guest").get(f"/makes/{make.pk}/steps/card/").content.decode()
    for step in plan_of(make).route.steps:
        assert step.name in page
    assert "824 g</strong> plain flour" in page.replace("\u2009", " ")


def test_a_step_of_ones_own_may_be_in_an_oven(sign_in, head, make):
    oven = kitchen.save_row(Oven(), {"name": "Deck oven", "fan": False, "trays": 4})
    client = sign_in("head")
    sent = STEP | {"name": "Dry it", "after": "cool", "place": oven.core.key, "minutes": "12"}
    assert client.post(f"/makes/{make.pk}/steps/add/", sent).status_code == 302
    own = next(step for step in plan_of(make).route.steps if step.key == "own.1")
    assert own.takes_oven and (own.place, own.place_c, own.wait_min) == ("Deck oven", 160.0, 12.0)
    makes.edit_step(head, make, "own.1", "oven_c", "110")
    page = client.get(f"/makes/{make.pk}/steps/").content.decode()
    assert next(step for step in plan_of(make).route.steps if step.key == "own.1").place_c == 110
    assert 'id="f-own-1-oven_c"' in page and "holds its place there" in page
    # Before the bake it is no stretch of the cold: the dough's trace has none of it.
    makes.edit_step(head, make, "own.1", "after", "chill.1")
    route = plan_of(make).route
    assert "own.1" in {step.key for step in route.steps} and "own.1" not in {each.key for each in route.traced}
    # Taken out of the oven again it is on the bench.
    makes.edit_step(head, make, "own.1", "place", "")
    assert not next(step for step in plan_of(make).route.steps if step.key == "own.1").takes_oven

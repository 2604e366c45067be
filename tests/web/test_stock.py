"""The cold store: what goes in and out, until when it keeps, and how makes fill it and draw on it."""

import math
from datetime import UTC, datetime, timedelta

import pytest
from django.utils import timezone

from northfold.core.errors import CoreError
from northfold.core.matter import reference_ingredients
from northfold.core.matter.keeping import Keeping, is_rich, keeps_until
from northfold.core.method import plan
from northfold.kitchen.models import Kitchen, Place, Tin
from northfold.makes import leftovers, services
from northfold.makes.models import SIZE_FIELDS
from northfold.makes.queries import plan_of
from northfold.stock import queries
from northfold.stock import services as stock
from northfold.stock.models import Lot, Move
from northfold.web import today
from northfold.web.models import ImmutableError
from tests.conftest import write_formula

NOON = datetime(2026, 3, 2, 12, tzinfo=UTC)


@pytest.fixture
def fridge(pantry):
    return Place.objects.create(name="Fridge", kind="fridge", air_c=4.0)


@pytest.fixture
def freezer(pantry):
    return Place.objects.create(name="Freezer", kind="freezer", air_c=-18.0)


def lay(user, place, grams=500, **more):
    return stock.put_in(user, what="tart dough", kind="dough", amount=grams, place=place, **more)


def test_egg_dairy_and_milk_keep_shorter_butter_alone_does_not():
    shelf = reference_ingredients()

    def rich(*names):
        return is_rich(shelf[name] for name in names)

    assert not rich("plain flour", "unsalted butter", "water")
    assert rich("plain flour", "whole milk")
    assert rich("plain flour", "egg yolk")
    assert not rich("plain flour", "hard mature cheese")
    assert rich("plain flour", "soured cream")


@pytest.mark.parametrize(
    ("place_c", "rich", "thawed", "length"),
    [
        (4, True, False, timedelta(hours=48)),
        (4, False, False, timedelta(hours=72)),
        (-18, True, False, timedelta(weeks=12)),
        (4, False, True, timedelta(hours=24)),
        (20, False, False, timedelta(hours=2)),
    ],
)
def test_how_long_things_keep(place_c, rich, thawed, length):
    assert keeps_until(NOON, place_c, rich=rich, thawed=thawed).until == NOON + length


def test_a_kitchens_own_times_stand_over_the_defaults(sign_in, head, fridge):
    assert keeps_until(NOON, 4, rich=True, keeping=Keeping(rich_h=24)).until == NOON + timedelta(hours=24)
    lay(head, fridge, rich=True, made_at=NOON, now=NOON)
    Kitchen.objects.update(keep_rich_h=24)
    (shelf,) = queries.shelves(queries.lots(), NOON)
    assert shelf.until == NOON + timedelta(hours=24)


def test_on_hand_is_the_sum_of_moves_and_no_move_is_changed(head, fridge):
    lot = lay(head, fridge)
    stock.take_out(head, lot, 120, why="a try")
    assert lot.on_hand == 380
    with pytest.raises(CoreError, match="400 g of tart dough cannot be taken: 380 g are there"):
        stock.take_out(head, lot, 400, why="too much")
    with pytest.raises(ImmutableError):
        Move.objects.all().delete()
    stock.throw_away(head, lot)
    assert queries.store().groups == []
    assert Move.objects.count() == 3


def test_freezing_stops_the_clock_and_thawing_starts_a_short_one(head, fridge, freezer):
    other = Place.objects.create(name="Other fridge", kind="fridge", air_c=5.0)
    lot = lay(head, fridge, made_at=NOON, now=NOON)

    def until():
        (shelf,) = queries.shelves(queries.lots(), NOON)
        return shelf.until

    stock.move_lot(lot, other, NOON + timedelta(hours=10))
    assert until() == NOON + timedelta(hours=72)  # from fridge to fridge it goes on
    stock.move_lot(lot, freezer, NOON + timedelta(hours=20))
    assert until() == NOON + timedelta(hours=20) + timedelta(weeks=12)
    stock.move_lot(lot, fridge, NOON + timedelta(days=30))
    assert until() == NOON + timedelta(days=31)


def test_oldest_first_and_pressing_ones_on_today(head, fridge, freezer, sign_in):
    now = timezone.now()
    lay(head, freezer)
    lay(head, fridge, made_at=now - timedelta(hours=60))
    lay(head, fridge, made_at=now - timedelta(hours=80), grams=40)
    assert [shelf.held for shelf in queries.shelves(queries.lots())] == [40, 500, 500]
    (card,) = today.cards(now, [])
    assert [(row.is_over, row.detail) for row in card.rows] == [(True, "40 g in Fridge"), (False, "500 g in Fridge")]
    page = sign_in("guest").get("/today/").content.decode()
    assert "over since" in page
    assert "Cold store, to be used within a day" in page


def test_the_page_puts_in_takes_out_and_undoes(sign_in, fridge):
    client = sign_in("bench")
    sent = {"what": "spare whites", "kind": "whites", "amount": "96", "unit": "g", "place": fridge.pk}
    assert client.post("/cold-store/", sent).status_code == 302
    lot = Lot.objects.get()
    assert lot.rich  # raw egg keeps as what holds egg
    client.post(f"/cold-store/{lot.pk}/take/", {"amount": "40"})
    taken = lot.moves.last()
    assert lot.on_hand == 56
    for _ in range(2):
        client.post(f"/cold-store/{lot.pk}/give-back/{taken.pk}/")
    assert lot.on_hand == 96
    for amount in ("400", "much", "-3", ""):
        client.post(f"/cold-store/{lot.pk}/take/", {"amount": amount})
    assert lot.on_hand == 0  # only the empty one, which takes all
    bad = client.post("/cold-store/", {**sent, "amount": "0", "made_at": "2999-01-01T08:00"})
    page = bad.content.decode()
    assert bad.status_code == 422
    assert "An amount of 0 is outside 1 to" in page
    assert "is in the future" in page
    assert 'value="spare whites"' in page


@pytest.fixture
def egged(head):
    return write_formula(
        head, name="Egg crust", text="300 g plain flour\n150 g unsalted butter\n2 egg yolks\n30 g water"
    )


def test_leftovers_of_a_make_go_in_once_and_a_later_make_draws_on_them(sign_in, head, egged, flan_tin, fridge):
    client = sign_in("bench")
    make = services.create_make(head, egged, tin=flan_tin, count=6, due_at=None)
    planned = plan_of(make)
    found = {left.kind: left.grams for left in leftovers.leftovers(make, planned)}
    assert found["offcuts"] == pytest.approx(planned.offcuts_g)
    assert found["whites"] == pytest.approx(planned.eggs.whites_g)
    sent = {"kind": "offcuts", "place": fridge.pk}
    client.post(f"/makes/{make.pk}/store/", sent)
    assert not Lot.objects.exists()  # nothing is left before it is made
    services.start_make(make)
    for _ in range(2):
        client.post(f"/makes/{make.pk}/store/", sent)
    lot = Lot.objects.get()
    assert (lot.on_hand, lot.source) == (round(planned.offcuts_g), f"make {make.pk}")
    assert set(lot.allergens) == {"egg", "gluten", "milk"}
    later = services.create_make(head, egged, tin=flan_tin, count=6, due_at=None)
    before = plan_of(later)
    assert f"{lot.on_hand:.0f} g in Fridge" in client.get(f"/makes/{later.pk}/size/").content.decode()
    client.post(f"/makes/{later.pk}/from-store/", {"lot": lot.pk, "grams": "150"})
    later.refresh_from_db()
    after = plan_of(later)
    assert lot.on_hand == round(planned.offcuts_g) - 150
    assert after.mixed_g == pytest.approx(before.mixed_g - 150)
    parts = after.net_g + after.offcuts_g + after.loss_g + after.surplus_g
    assert after.mixed_g + after.taken_g == pytest.approx(parts)
    client.post(f"/makes/{later.pk}/back-to-store/")
    later.refresh_from_db()
    assert (later.on_hand_g, lot.on_hand) == (0, round(planned.offcuts_g))
    client.post(f"/makes/{later.pk}/from-store/", {"lot": lot.pk, "grams": "90"})
    client.post(f"/makes/{later.pk}/bin/")
    assert lot.on_hand == round(planned.offcuts_g)  # a make that is given up gives its dough back


def test_a_yolk_left_over_is_a_yolk_and_a_glaze_uses_beaten_egg_up(head, egged, flan_tin):
    make = services.create_make(head, egged, tin=flan_tin, count=1, due_at=None)
    planned = plan_of(make)
    (yolks,) = planned.eggs.left
    found = {left.kind: left.grams for left in leftovers.leftovers(make, planned)}
    assert found.get("yolks", 0) == pytest.approx(yolks.left_g if yolks.left_g >= 5 else 0)
    assert "egg" not in found
    whole = write_formula(head, name="Whole", text="100 g plain flour\n50 g butter\n60 g water\n1 egg")
    other = services.create_make(head, whole, tin=flan_tin, count=2, due_at=None)
    over = plan_of(other).eggs.left[0].left_g
    assert {left.kind: left.grams for left in leftovers.leftovers(other, plan_of(other))}["egg"] == pytest.approx(over)
    other.glaze_g = over
    assert "egg" not in {left.kind for left in leftovers.leftovers(other, plan_of(other))}


def test_egg_from_the_store_is_weighed_from_there_and_goes_back(sign_in, head, egged, flan_tin, fridge):
    client = sign_in("bench")
    yolks = stock.put_in(head, what="Yolks", kind="yolks", amount=60, place=fridge, rich=True)
    make = services.create_make(head, egged, tin=flan_tin, count=2, due_at=None)
    before = plan_of(make).mixed_g
    stock.put_in(head, what="Whites", kind="whites", amount=77, place=fridge, rich=True)
    assert "77 g in Fridge" not in client.get(f"/makes/{make.pk}/size/").content.decode()  # it takes yolks
    assert "60 g in Fridge" in client.get(f"/makes/{make.pk}/size/").content.decode()
    client.post(f"/makes/{make.pk}/from-store/", {"lot": yolks.pk, "grams": "36"})
    make.refresh_from_db()
    assert (yolks.on_hand, plan_of(make).mixed_g) == (24, pytest.approx(before))
    assert "36 g egg yolk" in client.get(f"/makes/{make.pk}/size/").content.decode()
    client.post(f"/makes/{make.pk}/back-to-store/")
    client.post(f"/makes/{make.pk}/back-to-store/")
    assert yolks.on_hand == 60


def test_steps_name_the_kitchens_own_keeping_time(head, egged, flan_tin):
    make = services.create_make(head, egged, tin=flan_tin, count=2, due_at=None)
    rest = next(step for step in plan_of(make).route.steps if step.key == "rest.1")
    assert "within 48 h" in rest.caution
    Kitchen.objects.update(keep_rich_h=24)
    Kitchen.objects.get_or_create(defaults={"keep_rich_h": 24})
    rest = next(step for step in plan_of(make).route.steps if step.key == "rest.1")
    assert "within 24 h" in rest.caution


def test_more_dough_at_hand_than_is_needed_mixes_none(head, version, flan_tin, fridge):
    lot = lay(head, fridge, grams=5000, formula=version.formula)
    make = services.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    leftovers.take_for_make(head, make, lot, 5000)
    make.refresh_from_db()
    planned = plan_of(make)
    assert planned.mixed_g == pytest.approx(0)
    assert planned.taken_g == pytest.approx(planned.dough_g)
    assert planned.loads == ()


def test_pages_of_every_kind_of_piece_answer(sign_in, head, version, flan_tin):
    client = sign_in("head")
    make = services.create_make(head, version, tin=flan_tin, count=3, due_at=None)
    from northfold.core.shape.tins import kinds

    for kind in kinds().values():
        sent = {"name": f"A {kind.key}", "top_mm": "14 cm", "top_width_mm": "90", "height_mm": "30", "border_mm": "35"}
        sent = {key: value for key, value in sent.items() if key == "name" or key.removesuffix("_mm") in kind.measures}
        assert client.post(f"/kitchen/tins/new/?kind={kind.key}", sent).status_code == 302, kind.key
        tin = Tin.objects.get(name=f"A {kind.key}")
        assert client.get(f"/kitchen/tins/{tin.pk}/").status_code == 200
        item = make.items.get()
        make.refresh_from_db()
        size = {
            "edit_no": make.edit_no, "items": "1", "loss": "2", "due_at": "", "item-0-id": item.pk,
            "item-0-tin": tin.pk, "item-0-count": "5", "item-0-thickness_mm": "3", "item-0-overhang_mm": "10",
            "item-0-margin_mm": "10", "item-0-trimming": "after", "item-0-offcuts": "rerolled",
        }  # fmt: skip
        covers = ("open", "lid", "strip", "pressed") if kind.vessel else ("open",)
        for cover in covers:
            make.refresh_from_db()
            answer = client.post(
                f"/makes/{make.pk}/size/",
                {**size, "edit_no": make.edit_no, "item-0-cover": cover, "item-0-heap_mm": "15"},
            )
            assert answer.status_code == 302, (kind.key, cover)
            for view in ("size", "weigh", "cold"):
                page = client.get(f"/makes/{make.pk}/{view}/")
                assert page.status_code == 200, (kind.key, cover, view)
            planned = plan_of(make)
            assert planned.dough_g, (kind.key, cover, planned.problems)
    assert "5 wanted" in client.get(f"/makes/{make.pk}/size/?have=640").content.decode()
    assert "“lots”" in client.get(f"/makes/{make.pk}/size/?have=lots").content.decode()


def test_a_mixer_splits_the_weigh_sheet_and_all_can_be_doubled(sign_in, head, version, flan_tin):
    client = sign_in("head")
    sent = {"name": "Small", "smallest_g": "300", "largest_g": "1000"}
    assert client.post("/kitchen/machines/new/", sent).status_code == 302
    wrong = client.post("/kitchen/machines/new/", {**sent, "smallest_g": "2000"})
    assert "2000 g is more than the 1000 g it takes at most" in wrong.content.decode()
    make = services.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    page = client.get(f"/makes/{make.pk}/weigh/").content.decode()
    assert "2 equal loads" in page  # 1.66 kg
    assert page.count('class="tick"') == 8  # twice for each of four lines
    item = make.items.get()
    size = {
        "edit_no": "0", "items": "1", "loss": "2", "item-0-id": item.pk, "item-0-tin": flan_tin.pk, "item-0-count": "6",
        "item-0-thickness_mm": "3", "item-0-overhang_mm": "10", "item-0-margin_mm": "10", "item-0-trimming": "after",
        "item-0-offcuts": "apart", "times": "2",
    }  # fmt: skip
    assert client.post(f"/makes/{make.pk}/size/", size).status_code == 302
    assert make.items.get().count == 12


def test_the_egg_policy_is_chosen_at_size_for_what_has_no_steps(sign_in, head, flan_tin):
    client = sign_in("bench")
    egged = write_formula(head, name="Egged", text="100 g plain flour\n50 g butter\n60 g water\n1 egg")
    make = services.create_make(head, egged, tin=flan_tin, count=2, due_at=None)
    item = make.items.get()
    size = {f"item-0-{name}": getattr(item, name) for name in SIZE_FIELDS if name != "tin"}
    size |= {"edit_no": "0", "items": "1", "loss": "2", "item-0-id": item.pk, "item-0-tin": flan_tin.pk}
    page = client.post(f"/makes/{make.pk}/size/", {**size, "eggs": "batch_up"}, follow=True).content.decode()
    planned = plan_of(make)
    wanted = planned.dough_g / 260  # eggs in what is needed: one of 50 g in 260 g
    assert planned.eggs.left[0].taken == math.ceil(wanted)
    assert planned.surplus_g == pytest.approx(260 * math.ceil(wanted) - planned.dough_g)
    assert "surplus" in page
    assert '<option value="batch_up" selected>' in page
    client.post(f"/makes/{make.pk}/size/", {**size, "edit_no": "1", "eggs": ""})
    assert plan_of(make).surplus_g == 0


def test_a_started_make_of_cut_pieces_and_lids_is_kept_whole(sign_in, head, egged, flan_tin):
    crackers = Tin.objects.create(name="Cracker", kind="cut_round", top_mm=55)
    make = services.create_make(head, egged, tin=crackers, count=80, due_at=None)
    item = {"tin": flan_tin, "count": 3, "cover": "lid", "heap_mm": 20.0, "thickness_mm": 4.0}
    first = make.items.get()
    values = {name: getattr(first, name) for name in SIZE_FIELDS}
    services.size_make(make, 0, items=[{**values, "id": first}, {**values, **item}], loss=0.02, due_at=None, glaze_g=20)
    make.refresh_from_db()
    before = plan_of(make)
    services.start_make(make)
    make.refresh_from_db()
    kept = plan_of(make)
    assert (kept.pieces, kept.scaled, kept.loads, kept.eggs) == (
        before.pieces,
        before.scaled,
        before.loads,
        before.eggs,
    )
    assert plan(kept.inputs, kept.edits, kept.learned) == kept
    Tin.objects.update(top_mm=300)
    client = sign_in("bench")
    for view in ("size", "weigh"):
        page = client.get(f"/makes/{make.pk}/{view}/").content.decode()
        assert "Cracker, Ø 55" in page
        assert "Flan tin, Ø 230 × 25" in page
    assert "Into the cold" not in client.get(f"/makes/{make.pk}/size/").content.decode()  # no place is named yet


def test_the_freezer_gives_no_new_life_to_old_dough(sign_in, head, fridge, freezer):
    old = lay(head, fridge, made_at=timezone.now() - timedelta(hours=80))
    with pytest.raises(stock.TooOld, match="was to be used by"):
        stock.move_lot(old, freezer)
    answer = sign_in("bench").post(f"/cold-store/{old.pk}/move/", {"place": freezer.pk}, follow=True)
    assert "does not make it fresh again" in answer.content.decode()
    old.refresh_from_db()
    assert old.place == fridge
    with pytest.raises(stock.TooOld):
        lay(head, freezer, made_at=timezone.now() - timedelta(hours=80))
    with pytest.raises(stock.TooOld):
        lay(head, freezer, made_at=timezone.now() - timedelta(hours=50), rich=True)
    assert lay(head, freezer, made_at=timezone.now() - timedelta(hours=50)).pk


def test_what_was_thawed_is_not_frozen_again(head, fridge, freezer):
    lot = lay(head, freezer)
    stock.move_lot(lot, fridge)
    with pytest.raises(stock.TooOld, match="was frozen before"):
        stock.move_lot(lot, freezer)


def test_the_store_offers_nothing_that_is_over_when_the_make_starts(sign_in, head, version, flan_tin, fridge):
    made_at = timezone.now() - timedelta(hours=60)
    lot = lay(head, fridge, formula=version.formula, made_at=made_at)  # lean: twelve hours left
    soon = services.create_make(head, version, tin=flan_tin, count=6, due_at=timezone.now() + timedelta(hours=8))
    late = services.create_make(head, version, tin=flan_tin, count=6, due_at=timezone.now() + timedelta(hours=40))
    client = sign_in("bench")
    offer = f'name="lot" value="{lot.pk}"'
    assert offer in client.get(f"/makes/{soon.pk}/size/").content.decode()
    assert offer not in client.get(f"/makes/{late.pk}/size/").content.decode()
    with pytest.raises(leftovers.OverByThen, match="before this make starts"):
        leftovers.take_for_make(head, late, lot, 100)
    assert lot.on_hand == 500
    leftovers.take_for_make(head, soon, lot, 100)
    assert lot.on_hand == 400

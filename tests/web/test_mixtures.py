"""Mixtures in the book: fillings and the like as formulas of another kind, and those that stand in a dough's recipe."""

import re
from dataclasses import replace

import pytest

from northfold.core.fill.mixture import MixtureTooEmpty
from northfold.dough import editing
from northfold.dough import services as dough
from northfold.dough.models import Formula
from northfold.dough.queries import desk_of, mixtures_for, mixtures_to_lay
from northfold.dough.services import NotReady
from northfold.kitchen.services import save_ingredient

TART = """Kelp Lane gooseberry tart
250 g plain flour
125 g unsalted butter
60 g cold water
For the filling:
600 g gooseberries
120 g caster sugar
15 g cornflour
For the oat crumble:
80 g rolled oats
60 g unsalted butter
50 g light brown sugar
To finish
milk, for brushing"""


def write(user, text, kind="filling", name="Gooseberry filling"):
    draft = dough.open_draft(user, None)
    payload = editing.paste({**editing.empty_payload("metric", kind), "name": name}, text)
    draft = dough.edit_draft(user, None, draft.edit_no, payload)
    return dough.save_version(user, None, draft.edit_no)


def page(client, address):
    return client.get(address).content.decode().replace("\u2009", " ")


def test_a_filling_is_pasted_weighed_and_kept_in_the_book(head, sign_in):
    saved = write(head, "600 g gooseberries\n120 g caster sugar\n15 g cornflour")
    assert saved.formula.kind == "filling" and saved.facts.family == "filling"
    shown = page(sign_in("head"), f"/book/{saved.formula_id}/")
    assert "735 g" in shown and "% of all" in shown and "juice in all" in shown
    # 600 g at 0.97 ready: 619 g to buy; 30 % of it is juice: 180 g.
    assert "619 g" in shown and "180 g" in shown
    assert "Make it" not in shown
    book = page(sign_in("head"), "/book/?family=filling")
    assert "Gooseberry filling" in book
    assert "600 g gooseberries" in page(sign_in("head"), f"/book/{saved.formula_id}/v/1/text/")


def test_zest_and_juice_typed_into_one_line_are_parted_with_one_tap(head, sign_in):
    client = sign_in("head")
    draft = dough.open_draft(head, None)
    payload = editing.paste({**editing.empty_payload("metric", "filling"), "name": "Lemon"}, "100 g sugar")
    draft = dough.edit_draft(head, None, draft.edit_no, payload)
    number = payload["lines"][0]["id"]
    sent = {"edit_no": draft.edit_no, "kind": "filling", "name": "Lemon", f"text-{number}": "zest and juice of 1 lemon"}
    shown = client.post("/book/0/edit/", sent, headers={"HX-Request": "true"}).content.decode()
    assert "two things" in shown and "Make two lines of it" in shown
    draft = dough.open_draft(head, None)
    act = f"text:{number}:zest of 1 lemon\njuice of 1 lemon"
    client.post("/book/0/edit/", {"edit_no": draft.edit_no, "kind": "filling", "name": "Lemon", "act": act})
    desk = desk_of(dough.open_draft(head, None).payload, None)
    assert [row.ingredient.name for row in desk.rows] == ["citrus zest", "lemon juice"]


def test_ten_kilos_of_starch_are_said_to_be_too_much_and_an_amount_beyond_reason_is_refused(head, sign_in):
    saved = write(head, "600 g gooseberries\n10 kg cornflour", name="Paste")
    shown = page(sign_in("head"), f"/book/{saved.formula_id}/")
    # 180 g of sharp juice: 180 / 100 × 6 × 1.2 = 13 g.
    assert "sets to a paste" in shown and re.search(r"13(\.0)? g of cornflour bind all", " ".join(shown.split()))


def test_fruit_is_counted_and_a_new_version_moves_no_saved_one(head):
    first = write(head, "4 apples, peeled\n60 g sugar", name="Apple filling")
    assert first.mixture.grams == pytest.approx(4 * 115 + 60)
    draft = dough.open_draft(head, first.formula)
    lines = [{**line, "grams": "100"} if "sugar" in line["text"] else line for line in draft.payload["lines"]]
    draft = dough.edit_draft(head, first.formula, draft.edit_no, {**draft.payload, "lines": lines})
    second = dough.save_version(head, first.formula, draft.edit_no)
    assert second.n == 2 and first.mixture.grams == pytest.approx(520)
    assert list(mixtures_to_lay(Formula(pk=None))) == [second.pk]


def test_an_empty_mixture_and_one_without_a_name_are_refused(head):
    with pytest.raises(NotReady, match="name"):
        write(head, "100 g sugar", name="")
    Formula.objects.all().delete()
    draft = dough.open_draft(head, None)
    dough.discard_draft(head, None)
    draft = dough.open_draft(head, None)
    payload = {**editing.empty_payload("metric", "filling"), "name": "Nothing"}
    draft = dough.edit_draft(head, None, draft.edit_no, payload)
    with pytest.raises(MixtureTooEmpty, match="holds nothing yet"):
        dough.save_version(head, None, draft.edit_no)


def test_a_line_may_be_another_mixture_and_no_mixture_is_made_of_itself(head):
    curd = write(head, "300 g lemon curd", "curd", "House curd")
    cream = write(head, "200 g house curd\n200 g double cream", "cream", "Lemon cream")
    line = cream.weighed[0]
    assert line.of_mixture == curd and line.ingredient_revision is None
    assert cream.mixture.composition.sugar == pytest.approx((200 * 0.47 + 200 * 0.026) / 400, abs=0.02)
    assert set(cream.facts.allergens) == {"egg", "milk"}
    top = write(head, "100 g lemon cream\n50 g raspberries", "topping", "Cream and berries")
    assert top.weighed[0].of_mixture == cream
    # What holds it, in however many steps, is not offered to it.
    assert "Lemon cream" not in mixtures_for(curd.formula) and "Cream and berries" not in mixtures_for(curd.formula)
    assert "House curd" in mixtures_for(top.formula)
    draft = dough.open_draft(head, curd.formula)
    payload = editing.paste(draft.payload, "50 g lemon cream")
    desk = desk_of(payload, curd)
    assert desk.rows[-1].ingredient is None or desk.rows[-1].ingredient.role != "mixture"


def test_what_stands_under_headings_becomes_mixtures_in_one_go(head, sign_in):
    client = sign_in("head")
    client.post("/book/0/edit/", {"edit_no": dough.open_draft(head, None).edit_no, "paste": TART})
    draft = dough.open_draft(head, None)
    shown = page(client, "/book/new/")
    assert "Keep as 2 mixtures in the book" in shown
    answer = client.post("/book/0/part-out/", {"edit_no": draft.edit_no, "name": draft.payload["name"]}, follow=True)
    assert answer.status_code == 200
    kept = {formula.name: formula for formula in Formula.objects.all()}
    assert set(kept) == {"Kelp Lane gooseberry tart: filling", "Oat crumble"}
    assert kept["Oat crumble"].kind == "crumble"
    assert kept["Kelp Lane gooseberry tart: filling"].newest.mixture.grams == pytest.approx(735)
    draft = dough.open_draft(head, None)
    left = [line["text"] for line in draft.payload["lines"]]
    assert not any("gooseberr" in each for each in left[1:]) and any("brushing" in each for each in left)
    version = dough.save_version(head, None, draft.edit_no)
    assert version.formula.kind == "dough" and len(version.dough_lines()) == 3


def test_a_line_that_is_not_settled_stops_all_of_it_and_is_named(head, sign_in):
    client = sign_in("head")
    text = "250 g plain flour\n100 g butter\nFor the filling:\n300 g blorp\n50 g sugar"
    client.post("/book/0/edit/", {"edit_no": dough.open_draft(head, None).edit_no, "paste": text, "name": "Odd tart"})
    draft = dough.open_draft(head, None)
    answer = client.post("/book/0/part-out/", {"edit_no": draft.edit_no, "name": "Odd tart"})
    assert answer.status_code == 422 and "blorp" in answer.content.decode()
    assert not Formula.objects.exists()
    assert dough.open_draft(head, None).payload["lines"] == draft.payload["lines"]


def test_a_saved_dough_stays_a_dough_and_a_new_mixture_starts_as_one(head, sign_in, version):
    client = sign_in("head")
    draft = dough.open_draft(head, version.formula)
    client.post(f"/book/{version.formula_id}/edit/", {"edit_no": draft.edit_no, "kind": "filling"})
    assert dough.open_draft(head, version.formula).payload["kind"] == "dough"
    assert 'value="crumble" selected' in " ".join(page(client, "/book/new/?kind=crumble").split())
    assert page(client, "/book/new/?kind=nonsense")


def test_new_figures_of_an_ingredient_reach_mixtures_too(head, sign_in):
    saved = write(head, "600 g gooseberries\n120 g caster sugar")
    sugar = saved.weighed[1].ingredient_revision.ingredient
    save_ingredient(sugar, replace(sugar.revisions.latest("pk").matter, g_per_ml=0.86))
    shown = page(sign_in("head"), f"/book/using/{sugar.pk}/")
    assert "Gooseberry filling" in shown
    sign_in("head").post(f"/book/using/{sugar.pk}/{saved.formula_id}/renew/")
    assert saved.formula.newest.n == 2 and saved.formula.newest.mixture.grams == pytest.approx(720)

"""Bad input: a clear message beside its field, everything typed kept, never a 500."""

import html
import json

import pytest

from northfold.dough import services as dough
from northfold.kitchen.models import Tin
from northfold.makes import services as makes
from northfold.makes.models import Make


@pytest.fixture
def desk(sign_in, head):
    """Post to the desk of the new dough as the page would; answers status and page."""
    client = sign_in("head")

    def _desk(to="edit", **fields):
        draft = dough.open_draft(head, None)
        answer = client.post(f"/book/0/{to}/", {"edit_no": draft.edit_no, **fields}, follow=True)
        return answer.status_code, html.unescape(answer.content.decode())

    return _desk


def first_line(head):
    return dough.open_draft(head, None).payload["lines"][0]["id"]


@pytest.mark.parametrize("typed", ["abc", "-20", "1e400", "½½", "9999999999", "<b>"])
def test_a_bad_weight_stays_with_its_message(desk, head, typed):
    desk(paste="420 g plain flour\n140 g water", name="Quay")
    key = first_line(head)
    status, page = desk(**{f"grams-{key}": typed, f"shown-{key}": "420"})
    assert status == 200
    assert f'value="{typed}"' in page
    assert 'aria-invalid="true"' in page
    assert f'id="error-{key}"' in page
    status, page = desk("save")
    assert status == 422
    assert "not settled yet" in page
    assert f'value="{typed}"' in page


def test_no_flour_says_what_to_add(desk):
    status, page = desk(paste="280 g butter\n140 g water")
    assert status == 200
    assert "No flour: every percentage is counted from it. Add a line such as 420 g plain flour." in page
    assert "unsalted butter" in page


def test_negative_grams_in_a_paste_offer_the_right_reading(desk, head):
    _, page = desk(paste="-5 g plain flour")
    assert "A weight cannot be below zero." in page
    _, page = desk(act=f"text:{first_line(head)}:5 g plain flour")
    assert "below zero" not in page
    assert "100.0" in page


@pytest.mark.parametrize(
    ("paste", "words"),
    [("x" * 20_001, "That is 20,001 characters"), ("1 g salt\n" * 401, "That is 401 lines")],
)
def test_a_paste_too_long_comes_back_whole(desk, head, paste, words):
    desk(paste="420 g plain flour")
    status, page = desk(paste=paste)
    assert status == 422
    assert words in page
    assert paste.strip() in page
    assert len(dough.open_draft(head, None).payload["lines"]) == 1


def test_many_small_pastes_cannot_pass_the_limit(desk):
    desk(paste="1 g salt\n" * 300)
    status, page = desk(paste="1 g salt\n" * 101)
    assert status == 422
    assert "401 lines" in page


@pytest.mark.parametrize(
    "fields",
    [
        {"act": "drop"}, {"act": "drop:nobody:x"}, {"act": "grams:x:y:z"}, {"act": ":::"}, {"edit_no": "abc"},
        {"system": "imperial"}, {"paste": "\x00\x00"}, {"name": "n" * 500}, {"act": "ingredient:x:no such"},
    ],
)  # fmt: skip
def test_odd_requests_never_break(desk, fields):
    desk(paste="420 g plain flour")
    assert desk(**fields)[0] in (200, 409)


def test_two_tabs_both_texts_and_nothing_lost(desk, head, client):
    desk(paste="420 g plain flour", name="First")
    old = dough.open_draft(head, None).edit_no
    desk(name="Second")
    stale = client.post("/book/0/edit/", {"edit_no": old, "name": "Third"})
    page = html.unescape(stale.content.decode())
    assert stale.status_code == 409
    assert "Second\n420 g plain flour" in page
    assert "Third\n420 g plain flour" in page
    mine = page.split('name="mine" value="')[1].split('">')[0]
    assert json.loads(mine)["name"] == "Third"
    client.post("/book/0/resolve/", {"take": "mine", "mine": mine, "back": "/book/new/"})
    assert dough.open_draft(head, None).payload["name"] == "Third"
    client.post("/book/0/resolve/", {"take": "theirs", "back": "//evil.example/"})
    assert dough.open_draft(head, None).payload["name"] == "Third"


def test_the_same_edit_twice_is_no_conflict(desk, head, client):
    desk(name="First")
    old = dough.open_draft(head, None).edit_no - 1
    assert client.post("/book/0/edit/", {"edit_no": old, "name": "First"}).status_code == 302


@pytest.mark.parametrize("thickness", ["0", "400", "abc", "-3", ""])
def test_thickness_is_refused_beside_its_field(sign_in, head, version, flan_tin, thickness):
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    client = sign_in("head")
    fields = size_fields(make, thickness_mm=thickness)
    answer = client.post(f"/makes/{make.pk}/size/", fields)
    page = html.unescape(answer.content.decode())
    assert answer.status_code == 422
    field = page.split('name="item-0-thickness_mm"')[1].split("</div>")[0]
    assert 'class="error-text"' in field
    if thickness:
        assert f'value="{thickness}"' in field
    if thickness in ("0", "400"):
        assert f"A thickness of {thickness} mm is outside 0.3 to 50 mm" in field
    assert make.items.get().thickness_mm == 3


def size_fields(make, **changes):
    item = {"tin": make.items.get().tin_id, "count": "6", "thickness_mm": "3", "overhang_mm": "10", "margin_mm": "10"}
    item |= {"trimming": "after", "offcuts": "apart", "id": make.items.get().pk, **changes}
    whole = {"edit_no": make.edit_no, "items": "1", "loss": "2", "due_at": ""}
    return {**whole, **{f"item-0-{key}": value for key, value in item.items()}}


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [("count", "0", "At least 1 piece"), ("count", "6001", "at most 5,000"), ("count", "six", "whole number"),
     ("overhang_mm", "101", "outside 0 to 100 mm"), ("tin", "999", "not one of the available choices"),
     ("trimming", "bite", "not one of the available choices")],
)  # fmt: skip
def test_sizes_say_what_is_wrong(sign_in, head, version, flan_tin, field, value, words):
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    answer = sign_in("bench").post(f"/makes/{make.pk}/size/", size_fields(make, **{field: value}))
    assert answer.status_code == 422
    assert words in html.unescape(answer.content.decode())


def test_sizes_changed_in_another_window_are_shown_side_by_side(sign_in, head, version, flan_tin):
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    client = sign_in("bench")
    first = size_fields(make, count="7")
    assert client.post(f"/makes/{make.pk}/size/", first).status_code == 302
    mine = {**first, "item-0-count": "9", "item-0-cover": "lid", "item-0-heap_mm": "20"}
    stale = client.post(f"/makes/{make.pk}/size/", mine)
    page = html.unescape(stale.content.decode())
    assert stale.status_code == 409
    assert "9 × Flan tin" in page
    assert "7 × Flan tin" in page
    assert "base and lid" in page  # every field that differs can be seen to differ
    assert "heap under the lid, mm 20" in page
    assert "base only" in page
    # "Keep yours" posts what was typed again, on the newest number.
    make.refresh_from_db()
    assert (
        client.post(f"/makes/{make.pk}/size/", {**first, "item-0-count": "9", "edit_no": make.edit_no}).status_code
        == 302
    )
    assert Make.objects.get().items.get().count == 9


def test_a_tin_wider_at_the_base_is_refused_and_kept_as_typed(sign_in):
    client = sign_in("head")
    form = {"name": "Odd tin", "owned": "2", "top_mm": "200", "base_mm": "23 cm", "height_mm": "25"}
    answer = client.post("/kitchen/tins/new/?kind=round", form)
    page = html.unescape(answer.content.decode())
    assert answer.status_code == 422
    field = page.split('name="base_mm"')[1].split("</div>")[0]
    assert "The base, 230 mm, is wider than the top, 200 mm" in field
    assert 'value="23 cm"' in field
    assert 'value="Odd tin"' in page
    assert not Tin.objects.exists()
    assert client.post("/kitchen/tins/new/?kind=round", {**form, "top_mm": "9.5 in"}).status_code == 302
    assert Tin.objects.get().top_mm == pytest.approx(241.3)


def test_make_it_refuses_a_time_gone_by_and_no_tin(sign_in, version, flan_tin):
    client = sign_in("bench")
    form = {"tin": "", "count": "6", "due_at": "2020-01-01T10:00"}
    page = html.unescape(client.post(f"/makes/new/{version.formula_id}/", form).content.decode())
    assert "has passed. Give a later time" in page
    assert "This field is required" in page
    assert 'value="2020-01-01T10:00"' in page


def test_a_request_too_large_for_the_server_is_answered_plainly(sign_in):
    answer = sign_in("head").post("/book/0/edit/", {"paste": "x" * 5_100_000})
    assert answer.status_code == 400
    assert b"could not be read" in answer.content


def test_a_formula_still_to_be_made_has_no_figures_to_renew(sign_in):
    assert sign_in("head").post("/book/using/1/0/renew/").status_code == 404


def test_signed_out_while_typing_keeps_the_page(client, version):
    answer = client.post(f"/book/{version.formula_id}/edit/", {"name": "x"}, headers={"HX-Request": "true"})
    assert answer.status_code == 401
    assert answer.content == b""


def test_a_piece_taken_out_meanwhile_is_a_conflict_and_can_be_put_back(sign_in, head, version, flan_tin):
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    client = sign_in("bench")
    mine = size_fields(make, count="9")
    make.items.all().delete()
    Make.objects.update(edit_no=5)
    assert client.post(f"/makes/{make.pk}/size/", mine).status_code == 409
    assert client.post(f"/makes/{make.pk}/size/", {**mine, "edit_no": 5}).status_code == 302
    assert make.items.get().count == 9


def test_one_wrong_field_of_size_does_not_lose_the_others(sign_in, head, version, flan_tin):
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    item = make.items.get()
    sent = {
        "edit_no": "0", "items": "1", "loss": "3", "due_at": "", "glaze_g": "", "item-0-id": str(item.pk),
        "item-0-tin": str(flan_tin.pk), "item-0-count": "9", "item-0-thickness_mm": "four", "item-0-overhang_mm": "12",
        "item-0-margin_mm": "10", "item-0-trimming": "after", "item-0-offcuts": "apart", "item-0-cover": "open",
        "item-0-filling": "plums",
    }  # fmt: skip
    answer = sign_in("bench").post(f"/makes/{make.pk}/size/", sent, headers={"HX-Request": "true"})
    page = answer.content.decode()
    assert answer.status_code == 422
    assert 'value="four"' in page and 'value="9"' in page
    item.refresh_from_db()
    make.refresh_from_db()
    assert (item.count, item.overhang_mm, item.filling, item.thickness_mm) == (9, 12, "plums", 3)
    assert make.loss == 0.03
    # Put right, it goes on from there.
    assert f'name="edit_no" id="edit_no" value="{make.edit_no}"' in page
    sent |= {"edit_no": str(make.edit_no), "item-0-thickness_mm": "4"}
    sign_in("bench").post(f"/makes/{make.pk}/size/", sent)
    item.refresh_from_db()
    assert item.thickness_mm == 4


@pytest.mark.parametrize("name", ["two words", "tab\tname", "a b c", "no/slash", "comma,name"])
def test_a_sign_in_name_with_a_space_is_refused_in_words(sign_in, name):
    answer = sign_in("head").post(
        "/kitchen/people/new/", {"name": "Ann", "role": "bench", "username": name, "password": "quay-side-one"}
    )
    assert answer.status_code == 422
    assert "valid username" in answer.content.decode() or "sign-in name" in answer.content.decode().lower()


@pytest.mark.django_db
def test_the_first_account_with_a_space_is_refused_in_words(client, db):
    sent = {"kitchen": "Quay", "full_name": "Ann", "username": "ann of quay", "password": "quay-side-one"}
    answer = client.post("/kitchen/start/", sent)
    assert answer.status_code in (200, 422)
    assert 'value="ann of quay"' in answer.content.decode()


@pytest.mark.parametrize(
    "path", ["/makes/{}/size/", "/book/{}/", "/bench/{}/", "/kitchen/tins/{}/", "/makes/{}/result/"]
)
def test_an_id_of_forty_digits_leads_nowhere(sign_in, path):
    assert sign_in("head").get(path.format("9" * 40)).status_code == 404


@pytest.mark.parametrize(
    "mine", ["[" * 5000, '{"lines": [{"grams": NaN}]}', '{"name": "\\ud800"}', "Infinity", '{"a": 1e999}']
)
def test_a_hostile_draft_is_taken_as_nothing_or_cleaned(sign_in, head, version, mine):
    answer = sign_in("head").post(f"/book/{version.formula_id}/resolve/", {"take": "mine", "mine": mine})
    assert answer.status_code == 302
    assert sign_in("head").get(f"/book/{version.formula_id}/").status_code == 200

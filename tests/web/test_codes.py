"""Codes on labels: six letters that lead to a make or to what lies in the cold, however they are typed."""

from uuid import UUID, uuid4

import pytest
from django.urls import reverse

from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Place
from northfold.makes import services as makes
from northfold.stock import services as stock
from northfold.stock.models import Lot
from northfold.web.codes import LETTERS, code_of, find, read


@pytest.fixture
def make(head, version, flan_tin):
    return makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)


@pytest.fixture
def lot(head):
    cold = kitchen.save_row(Place(), {"name": "Cold", "kind": "fridge", "air_c": 4.0})
    return stock.put_in(head, what="Spare shell dough", kind=Lot.Kind.DOUGH, amount=600, place=cold, allergens=["milk"])


def test_a_code_is_the_first_thirty_bits_in_letters_that_are_not_taken_for_each_other():
    assert code_of(UUID(int=0)) == "000000"
    assert code_of(UUID("ffffffff-ffff-4fff-bfff-ffffffffffff")) == "ZZZZZZ"
    # 1 in the fifth bit, 2 in the tenth, 3 in the fifteenth …
    assert code_of(UUID(int=int("".join(f"{n:05b}" for n in (1, 2, 3, 10, 18, 31)), 2) << 98)) == "123AJZ"
    assert len(set(LETTERS)) == 32 and not set("ILOU") & set(LETTERS)


@pytest.mark.parametrize(
    ("typed", "code"),
    [("7k2m9q", "7K2M9Q"), (" 7K2 M9Q ", "7K2M9Q"), ("7K2-M9Q", "7K2M9Q"), ("OIL0II", "011011"), ("7K2M9", ""),
     ("7K2M9QQ", ""), ("7K2M9U", ""), ("", ""), ("ж" * 6, "")],
)  # fmt: skip
def test_a_code_is_read_however_it_is_typed(typed, code):
    assert read(typed) == code


def test_a_label_leads_to_its_make_wherever_that_stands(sign_in, make, head):
    client = sign_in("bench")
    address = reverse("web:code", args=[code_of(make.uuid)])
    assert client.get(address).url == reverse("makes:steps", args=[make.pk])
    makes.start_make(make)
    assert client.get(address).url == reverse("bench:run", args=[make.pk])
    make.refresh_from_db()
    makes.finish_make(make)
    assert client.get(address.lower()).url == reverse("records:result", args=[make.pk])
    make.refresh_from_db()
    make.put_in_bin()
    assert client.get(address).status_code == 404


def test_a_typed_code_opens_what_lies_in_the_cold_alone(sign_in, lot, head):
    other = stock.put_in(head, what="Other dough", kind=Lot.Kind.DOUGH, amount=200, place=lot.place)
    client = sign_in("bench")
    answer = client.get(reverse("web:codes"), {"code": code_of(lot.uuid).lower()}, follow=True)
    page = answer.content.decode()
    assert "Spare shell dough" in page and "Other dough" not in page
    stock.throw_away(head, lot)
    assert client.get(reverse("web:code", args=[code_of(lot.uuid)])).status_code == 404
    assert find(code_of(other.uuid))[0].words.startswith("Other dough")


def test_two_things_of_one_code_are_both_offered(sign_in, make, lot):
    twin = UUID(int=(lot.uuid.int >> 98 << 98) | (uuid4().int & ((1 << 98) - 1)))
    type(make).objects.filter(pk=make.pk).update(uuid=twin)
    page = sign_in("guest").get(reverse("web:code", args=[code_of(lot.uuid)])).content.decode()
    assert "Two things have the code" in page and "Spare shell dough" in page and "Harbour tart shell" in page


def test_what_is_no_code_is_said(sign_in):
    client = sign_in("guest")
    for typed in ("abc", "<script>", "0" * 400):
        answer = client.get(reverse("web:codes"), {"code": typed})
        assert answer.status_code == 404 and "is no code" in answer.content.decode()
        assert "<script>" not in answer.content.decode().replace("<script ", "")
    assert client.get(reverse("web:codes")).status_code == 200


def test_labels_have_the_square_and_the_code(sign_in, make, lot):
    client = sign_in("guest")
    page = client.get(reverse("stock:labels")).content.decode()
    assert page.count('class="segno"') == page.count(code_of(lot.uuid)) == 1
    assert "Use by" in page and "milk" in page and "Spare shell dough" in page
    page = client.get(reverse("makes:labels", args=[make.pk]), {"size": "100x50"}).content.decode()
    assert page.count(code_of(make.uuid)) == page.count('class="square"') == 2
    small = client.get(reverse("makes:labels", args=[make.pk])).content.decode()
    assert small.count(code_of(make.uuid)) == 2 and 'class="square"' not in small

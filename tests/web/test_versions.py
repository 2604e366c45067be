"""Versions against each other, begun again, copied; the book filtered."""

import pytest

from northfold.dough import services as dough
from northfold.dough.models import Draft
from tests.conftest import write_formula


@pytest.fixture
def second(head, version):
    """Version 2 of the harbour dough: 300 g butter instead of 280."""
    draft = dough.open_draft(head, version.formula)
    lines = [{**line, "grams": "300" if "butter" in line["text"] else ""} for line in draft.payload["lines"]]
    draft = dough.edit_draft(head, version.formula, draft.edit_no, {**draft.payload, "lines": lines, "note": "richer"})
    return dough.save_version(head, version.formula, draft.edit_no)


def test_a_version_stands_against_the_one_it_was_made_from(sign_in, second):
    page = sign_in("guest").get(f"/book/{second.formula_id}/v/2/").content.decode()
    assert "Against version 1" in page
    assert "+4.8" in page  # 20 g more of 420 g flour
    assert page.count(">same<") == 3
    assert "<title>version 1</title>" in page  # where the dough came from, in the triangle
    assert "version 1 (small broken mark)" in page


def test_an_older_version_is_begun_again_and_saved_as_the_next(sign_in, head, second):
    client = sign_in("head")
    answer = client.post(f"/book/{second.formula_id}/v/1/restore/", follow=True)
    assert "The lines of version 1 are here again" in answer.content.decode()
    draft = Draft.objects.get(formula=second.formula)
    third = dough.save_version(head, second.formula, draft.edit_no)
    assert (third.n, third.note) == (3, "As version 1 again.")
    assert [line.usual_g for line in third.lines.all()] == [420, 280, 140, 7]
    assert sign_in("bench").post(f"/book/{second.formula_id}/v/1/restore/").status_code == 403


@pytest.mark.parametrize(
    ("manner", "lines"),
    [
        ("grams", ["420 g plain flour", "300 g unsalted butter, cold, diced", "140 g water, cold", "7 g fine salt"]),
        ("percent", ["100.0 % plain flour", "71.4 % unsalted butter, cold, diced", "33.3 % water, cold"]),
        ("parts", ["flour : fat : liquid 100 : 71 : 33", "100.0 % plain flour"]),
    ],
)
def test_clean_text_to_copy(sign_in, second, manner, lines):
    answer = sign_in("guest").get(f"/book/{second.formula_id}/v/2/text/?as={manner}")
    text = answer.content.decode()
    assert answer["Content-Type"].startswith("text/plain")
    assert text.splitlines()[0] == "Harbour tart shell, version 2"
    for line in lines:
        assert line.split(",")[0] in text, line


def test_the_book_is_filtered_by_family_and_without_an_allergen(sign_in, head, version):
    write_formula(head, "Oil crackers", "300 g rice flour\n75 g sunflower oil\n90 g water\n5 g fine salt")
    client = sign_in("guest")
    page = client.get("/book/?without=milk").content.decode()
    assert "Oil crackers" in page
    assert "Harbour tart shell" not in page
    page = client.get("/book/?family=pie").content.decode()
    assert "Harbour tart shell" in page
    assert "Oil crackers" not in page
    assert "Harbour tart shell" in client.get("/book/?fat=unsalted+butter").content.decode()
    assert "Nothing like that" in client.get("/book/?fat=lard").content.decode()
    assert "Nothing like that" in client.get("/book/?family=pie&without=milk").content.decode()

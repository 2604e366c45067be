"""Swaps from the desk: shown before they are done, undone with one tap, refused with what was chosen."""

import pytest

from northfold.dough import services as dough
from northfold.dough.models import Draft
from northfold.dough.queries import desk_of


@pytest.fixture
def desk(sign_in, version, head):
    """Posts to the desk of the harbour dough: button and fields."""
    client = sign_in("head")
    dough.open_draft(head, version.formula)

    def post(act, **fields):
        draft = Draft.objects.get(formula=version.formula)
        sent = {name.replace("_", "-"): value for name, value in fields.items()}
        sent |= {"edit_no": draft.edit_no, "act": act}
        answer = client.post(f"/book/{version.formula_id}/edit/", sent, headers={"HX-Request": "true"})
        return answer.status_code, answer.content.decode()

    return post


def grams():
    draft = Draft.objects.get()
    rows = desk_of(draft.payload, draft.base_version).counted
    return {row.ingredient.name: row.grams for row in rows}


def line_id(number):
    return Draft.objects.get().payload["lines"][number]["id"]


def test_a_swap_is_shown_then_done_then_undone(desk):
    fields = {"swap_kind": "swap", "swap_line": line_id(1), "swap_to": "lard", "swap_share": "100"}
    status, page = desk("try-swap", **fields)
    assert status == 200
    assert "230.1" in page  # 280 g × 0.82 ÷ 0.998
    assert "browns later" in page
    assert grams()["unsalted butter"] == 280  # only shown
    _, page = desk("swap", **fields)
    assert grams() == pytest.approx(
        {"plain flour": 420, "lard": 230.1, "water": 140 + 280 * 0.16 - 0.2, "fine salt": 7}, abs=0.1
    )
    assert "Undo it" in page
    desk("undo-swap")
    assert grams() == {"plain flour": 420, "unsalted butter": 280, "water": 140, "fine salt": 7}
    assert not Draft.objects.get().is_changed


def test_a_swap_can_be_saved_as_a_version(desk, head, version):
    desk("swap", swap_kind="swap", swap_line=line_id(0), swap_to="rye flour", swap_share="25")
    saved = dough.save_version(head, version.formula, Draft.objects.get().edit_no)
    weights = {line.ingredient_revision.ingredient.name: line.usual_g for line in saved.lines.all()}
    assert weights == pytest.approx(
        {"plain flour": 315, "unsalted butter": 280, "water": 148.4, "fine salt": 7, "rye flour": 105}
    )
    assert "undo" not in saved.payload


def test_moving_a_number_and_aiming_at_a_family(desk):
    desk("swap", swap_kind="move", move_axis="fat", move_to="50")
    assert grams()["unsalted butter"] == 210
    desk("swap", swap_kind="centre", move_family="savoury_shortcrust")
    assert (grams()["unsalted butter"], grams()["water"]) == (210, 105)


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"swap_kind": "swap"}, "Choose the line to swap"),
        ({"swap_kind": "move", "move_axis": "fat", "move_to": "abc"}, "“abc” is not a percentage"),
        ({"swap_kind": "move", "move_axis": "fat", "move_to": "900"}, "Fat of 900 % is outside 0 to 200 %"),
        ({"swap_kind": "move", "move_axis": "sugar", "move_to": "20"}, "no line of sugar"),
        ({"swap_kind": "centre", "move_family": "moon"}, "Choose the family"),
    ],
)
def test_what_makes_no_sense_is_said_and_stays_in_its_field(desk, fields, words):
    status, page = desk("swap", **fields)
    assert (status, words in page) == (422, True)
    if "move_to" in fields:
        assert f'value="{fields["move_to"]}"' in page
    assert grams()["unsalted butter"] == 280


def test_dragging_the_mark_reweighs_and_is_undone(desk):
    # half flour, 30 % fat, 20 % liquid: 252 g butter, 168 g water on 420 g flour
    _, page = desk("drag", drag_fat="0.3", drag_liquid="0.2")
    assert (grams()["unsalted butter"], grams()["water"]) == (252, 168)
    assert "Undo it" in page
    desk("undo-swap")
    assert grams()["unsalted butter"] == 280
    status, page = desk("drag", drag_fat="x", drag_liquid="0.2")
    assert (status, "“x” is not a share" in page) == (422, True)


def test_other_edits_leave_the_fields_of_a_swap_as_they_are(desk):
    _, page = desk("", swap_kind="swap", swap_to="lard", swap_share="30", name="New name")
    assert '<option value="lard" selected>lard</option>' in page
    assert 'value="30"' in page

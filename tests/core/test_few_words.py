"""Words of the steps: few, of a kitchen, and none that a cook would not say."""

import re
from pathlib import Path

import pytest

from northfold.core.method import PlanInputs, Setting, plan
from northfold.core.shape.blanks import FLUSH, LID, REROLLED, Item
from northfold.core.shape.tins import Tin
from tests.core.examples import CHEESE, HARBOUR, SWEET, with_block

ROOT = Path(__file__).resolve().parents[2] / "northfold"
PULLED = ((400, "strong flour"), (40, "sunflower oil"), (210, "water"), (8, "white wine vinegar"), (6, "fine salt"))
PUFF = (
    (500, "strong flour"),
    (60, "unsalted butter"),
    (250, "water"),
    (10, "fine salt"),
    (350, "dry laminating butter"),
)
FLAN, DISH = Tin("flan tin", "round", 230, 230, 25), Tin("pie dish", "round", 230, 200, 45)
MAKES = {
    "flat case": (HARBOUR, Item(FLAN, 6, 3.0, trimming=FLUSH, overhang_mm=0)),
    "tartlets": (SWEET, Item(Tin("mould", "mould", 95, 75, 20), 24, 3.0)),
    "lidded pie": (CHEESE, Item(DISH, 4, 3.0, cover=LID, heap_mm=20, filling="beetroot", offcuts=REROLLED)),
    "pulled roll": (PULLED, Item(Tin("sheet", "pulled", 620, 0, 0, 420), 3, 0.4, filling="cabbage", filling_g=900)),
    "puff shells": (PUFF, Item(Tin("shell", "shell", 85, 0, 0), 36, 4.0)),
    "hand pies": (HARBOUR, Item(Tin("hand", "hand_pie", 140, 0, 0, 95), 20, 3.0, filling="potato", filling_g=110)),
}


@pytest.mark.parametrize("room_c", [21.0, 31.0])
@pytest.mark.parametrize("make", sorted(MAKES))
def test_a_step_takes_sixty_words_at_most(make, room_c):
    dough, item = MAKES[make]
    planned = plan(PlanInputs(with_block(*dough), (item,), setting=Setting(room_c=room_c)), [])
    if planned.route is None:  # puff in a hot room is refused by name
        assert (make, room_c) == ("puff shells", 31.0)
        return
    for step in planned.route.steps:
        remarks = [remark.text for remark in planned.route.remarks if remark.step_key == step.key]
        reminders = [reminder.text for reminder in step.reminders]
        shown = " ".join([step.name, step.look, step.caution, *remarks, *reminders])
        assert len(shown.split()) <= 60, (step.key, shown)


def test_a_step_says_first_what_to_do_and_last_how_to_tell():
    """Its first word is a verb of the kitchen, and nowhere does it begin with a reason."""
    told = {}
    for dough, item in MAKES.values():
        route = plan(PlanInputs(with_block(*dough), (item,)), []).route
        told |= {step.key: step.look for step in route.steps}
    reasons = ("Because", "Since", "As ", "So that", "It is", "There", "This", "The ")
    assert len(told) > 30
    assert [(key, look) for key, look in told.items() if not look or look.startswith(reasons)] == []


# Words of translation, of other books, and of the machine.
UNSAID = (
    "in the mean", "drunk in", "ways there", "lay there", "straight bottle", "offcut ball", "can burst",
    "see a pattern", "see print through", "tenth of its volume", "reckoned", "lays it", "null", "boolean", "parameter",
    "e-fold", "taken for it", "in its place", "wants a hand", "teaches nothing", "not any more", "afresh",
)  # fmt: skip


@pytest.mark.parametrize("suffix", ["toml", "html"])
def test_nothing_is_said_that_no_cook_would_say(suffix):
    found = []
    for file in ROOT.rglob(f"*.{suffix}"):
        if "vendor" in file.parts:
            continue
        text = re.sub(r"\{#.*?#\}|\{%.*?%\}|<[^>]*>|^#.*?$|\s#.*?$", " ", file.read_text(), flags=re.MULTILINE)
        found += [(file.name, words) for words in UNSAID if re.search(rf"\b{words}\b", text, re.IGNORECASE)]
    assert found == []

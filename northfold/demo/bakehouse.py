"""Gannet Row, a made-up bakehouse on an invented northern harbour: everything through the services."""

from datetime import datetime
from decimal import Decimal

from django.contrib.auth import get_user_model
from django.db import transaction
from django.utils import timezone

from northfold.demo import makes, week
from northfold.dough import editing
from northfold.dough import services as dough
from northfold.dough.models import Formula
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Ingredient, Machine, Oven, Person, Place, Tin
from northfold.web.models import User
from northfold.web.permissions import Role

HEAD = "runa"
PEOPLE = [
    ("Runa Haldane", Role.HEAD, "runa"),
    ("Teo Marsh", Role.BENCH, "teo"),
    ("Ferry counter", Role.GUEST, "counter"),
]


def demo_password(username: str) -> str:
    return f"harbour-{username}"


HANDS = ["Isk Fenwick", "Maud Orrin", "Pell Strand"]

# name, kind, top, base, height, width at the top, width at the base, how many
TINS = [
    ("Straight flan tin", "round", 230, 230, 25, 0, 0, 8),
    ("Tartlet tin", "round", 95, 75, 20, 0, 0, 36),
    ("Deep pie dish", "round", 230, 200, 40, 0, 0, 6),
    ("Slab tray", "rectangle", 400, 400, 25, 300, 300, 3),
    ("Long tart tin", "rectangle", 350, 340, 28, 110, 100, 4),
    ("Raised pie mould", "round", 120, 120, 80, 0, 0, 6),
]
# The rest of the rack, by its own measures.
RACK = [
    {"name": "Fluted tart tin", "kind": "fluted", "top_mm": 240, "base_mm": 220, "height_mm": 28, "owned": 4},
    {"name": "Oval dish", "kind": "oval", "top_mm": 260, "top_width_mm": 180, "base_mm": 230, "base_width_mm": 150,
     "height_mm": 45, "material": "ceramic", "owned": 2},
    {"name": "Iron pan", "kind": "pan", "top_mm": 260, "base_mm": 240, "height_mm": 50, "material": "cast_iron"},
    {"name": "Hand pie", "kind": "hand_pie", "top_mm": 140, "top_width_mm": 95},
    {"name": "Cracker", "kind": "cut_round", "top_mm": 55},
    {"name": "Sandy", "kind": "cut_round", "top_mm": 48},
    {"name": "Puff shell", "kind": "shell", "top_mm": 85},
    {"name": "Morning coil", "kind": "coil", "top_mm": 240, "top_width_mm": 35},
    {"name": "Fish turnover", "kind": "turnover_square", "top_mm": 130},
    {"name": "Slab", "kind": "slab", "top_mm": 400, "top_width_mm": 300},
    {"name": "Pulled sheet", "kind": "pulled", "top_mm": 620, "top_width_mm": 420},
    {"name": "Free-form tart", "kind": "free_round", "top_mm": 240, "border_mm": 50},
    {"name": "Rimmed plate", "kind": "plate", "top_mm": 180, "base_mm": 165, "height_mm": 22, "border_mm": 28,
     "owned": 4},
]  # fmt: skip
# name, least and most dough in g
MIXERS = [("Spiral, 20 litre", 2000, 8000), ("Table mixer", 500, 3000)]

# name, measuring system, pasted text, note and changes of later versions: (note, {line: grams})
FORMULAS = [
    (
        "Harbour tart shell",
        "metric",
        "420 g plain flour\n280 g cold unsalted butter, diced\n150 g cold water\n7 g fine salt",
        [("Ten grams less water: the last cases shrank.", {"150 g cold water": "140"})],
    ),
    (
        "Gooseberry tartlet dough",
        "metric",
        "500 g soft flour\n250 g unsalted butter, cold, cubed\n120 g icing sugar, sifted\n2 medium eggs, beaten\n"
        "3 g fine salt\nzest of 1 lemon",
        [],
    ),
    (
        "Deep lidded pie crust",
        "metric",
        "For the crust:\n280 g plain flour\n40 g rye flour\n120 g unsalted butter\n60 g lard\n"
        "80 g hard mature cheese, finely grated\n60 g iced water\n5 g cider vinegar\n4 g fine salt",
        [],
    ),
    (
        "Sea-salt caramel sandies",
        "metric",
        "300 g plain flour\n210 g unsalted butter, soft\n110 g light brown sugar\n2 cooked egg yolks\n5 g flaky salt",
        [],
    ),
    (
        "Potato-and-dill hand pie dough",
        "us",
        "2 1/2 cups all-purpose flour\n2 sticks (8 oz) cold butter, cubed\n1/2 cup soured cream\n3-4 tbsp iced water\n"
        "1 tsp fine salt",
        [],
    ),
    (
        "Seeded cheese crackers",
        "metric",
        "200 g wholemeal flour\n100 g plain flour\n75 g sunflower oil\n90 g water\n60 g hard mature cheese\n"
        "30 g sesame seed\n12 g poppy seed\n5 g fine salt",
        [],
    ),
    (
        "Plain puff shells",
        "metric",
        "500 g strong flour\n60 g unsalted butter, melted\n250 g cold water\n10 g white wine vinegar\n10 g fine salt\n"
        "350 g dry laminating butter, for the block",
        [],
    ),
    (
        "Buckwheat quince tart base",
        "metric",
        "180 g buckwheat flour\n120 g ground almonds\n150 g unsalted butter, cold\n60 g caster sugar\n1 medium egg\n"
        "3 g psyllium husk powder\n2 g fine salt",
        [],
    ),
    (
        "Chestnut custard tart crust",
        "metric",
        "320 g plain flour\n40 g ground hazelnuts\n180 g unsalted butter, cold\n90 g icing sugar\n2 egg yolks\n"
        "25 g cold water\n4 g fine salt",
        [],
    ),
    (
        "Barley-and-blackcurrant slab",
        "metric",
        "450 g plain flour\n150 g wholemeal flour\n320 g unsalted butter, cold\n120 g light brown sugar\n"
        "70 g cold water\n7 g fine salt",
        [],
    ),
    (
        "Cabbage-and-caraway pulled dough",
        "metric",
        "400 g strong flour\n40 g sunflower oil\n210 g lukewarm water\n8 g white wine vinegar\n6 g fine salt",
        [],
    ),
    (
        "Smoked-fish raised crust",
        "metric",
        "500 g plain flour\n110 g lard\n40 g unsalted butter\n200 g boiling water\n8 g fine salt",
        [],
    ),
    (
        "Cardamom morning coils",
        "metric",
        "1 kg strong flour\n480 g whole milk\n100 g caster sugar\n20 g instant dry yeast\n18 g fine salt\n"
        "60 g unsalted butter\n1 medium egg\n500 g dry laminating butter, for the block",
        [],
    ),
]

# Mixtures beside the doughs: name, kind, the dough in whose recipe it stood, pasted text.
MIXTURES = [
    (
        "Gooseberry filling",
        "filling",
        "Gooseberry tartlet dough",
        "700 g gooseberries, topped and tailed\n140 g caster sugar\n20 g cornflour",
    ),
    (
        "Oat crumble",
        "crumble",
        "Gooseberry tartlet dough",
        "100 g plain flour\n90 g rolled oats\n90 g unsalted butter, cold\n70 g light brown sugar\n40 g flaked almonds",
    ),
    (
        "Chestnut custard",
        "custard",
        "Chestnut custard tart crust",
        "420 g whole milk\n200 g double cream\n220 g chestnut purée\n6 egg yolks\n95 g caster sugar\n2 g fine salt",
    ),
    (
        "Beetroot and feta filling",
        "filling",
        "Deep lidded pie crust",
        "1.2 kg beetroot, boiled and diced\n160 g onion, softened\n150 g feta\n80 g soured cream\n10 g dill\n"
        "8 g fine salt",
    ),
    (
        "Blackcurrant and barley filling",
        "filling",
        "Barley-and-blackcurrant slab",
        "800 g blackcurrants\n170 g light brown sugar\n90 g pearl barley, boiled\n24 g cornflour",
    ),
    ("Hazelnut crumbs", "dry", "Barley-and-blackcurrant slab", "80 g ground hazelnuts\n60 g breadcrumbs"),
    ("Lemon curd, bought", "curd", "", "900 g lemon curd"),
    (
        "Potato and dill filling",
        "filling",
        "Potato-and-dill hand pie dough",
        "900 g potato, diced\n120 g onion, diced\n120 g soured cream\n20 g dill\n10 g fine salt",
    ),
    (
        "Smoked fish and leek filling",
        "filling",
        "Plain puff shells",
        "600 g smoked fish, flaked\n250 g leek, sliced\n160 g double cream\n20 g cornflour\n4 g fine salt",
    ),
    (
        "Quince filling",
        "filling",
        "Buckwheat quince tart base",
        "900 g quince\n150 g caster sugar\n60 g water\n20 g cornflour",
    ),
    (
        "Salt caramel",
        "syrup",
        "Sea-salt caramel sandies",
        "200 g golden syrup\n120 g unsalted butter\n80 g light brown sugar\n3 g flaky salt",
    ),
]

# What the book finds them by, and where they are made otherwise than the kitchen's habit.
TAGS = {
    "Harbour tart shell": "tea room, blind baked",
    "Gooseberry tartlet dough": "tea room, summer",
    "Deep lidded pie crust": "ferry counter, winter",
    "Sea-salt caramel sandies": "stall, keeps well",
    "Potato-and-dill hand pie dough": "ferry counter",
    "Seeded cheese crackers": "stall, keeps well",
    "Plain puff shells": "tea room",
    "Buckwheat quince tart base": "tea room, no gluten",
    "Chestnut custard tart crust": "tea room, winter",
    "Barley-and-blackcurrant slab": "ferry counter, keeps well",
    "Cabbage-and-caraway pulled dough": "ferry counter, winter",
    "Cardamom morning coils": "ferry counter",
    "Smoked-fish raised crust": "ferry counter, winter",
}
SCHOOLS = {
    "Gooseberry tartlet dough": {"crumb": "sand"},
    "Sea-salt caramel sandies": {"fat_temperature": "creamed", "mixing": "paddle", "first_rest": "half"},
    "Potato-and-dill hand pie dough": {"crumb": "flakes", "stop": "ball"},
    "Buckwheat quince tart base": {"crumb": "coarse", "first_rest": "half"},
}
# A pack's price, its grams, the share thrown away.
PRICES = {
    "plain flour": ("14.20", 16000, 0.0),
    "soft flour": ("15.80", 16000, 0.0),
    "strong flour": ("16.90", 16000, 0.0),
    "rye flour": ("9.40", 5000, 0.0),
    "buckwheat flour": ("13.50", 5000, 0.0),
    "unsalted butter": ("41.00", 5000, 0.0),
    "dry laminating butter": ("52.00", 5000, 0.02),
    "lard": ("6.90", 2500, 0.0),
    "hard mature cheese": ("28.50", 2500, 0.03),
    "icing sugar": ("11.20", 5000, 0.0),
    "caster sugar": ("9.80", 5000, 0.0),
    "whole egg": ("7.60", 2000, 0.0),
    "ground almonds": ("24.00", 2000, 0.0),
    "fine salt": ("1.10", 1500, 0.0),
    "light brown sugar": ("12.60", 5000, 0.0),
    "whole milk": ("1.35", 1030, 0.0),
    "double cream": ("5.20", 1000, 0.0),
    "egg yolk": ("8.90", 1000, 0.0),
    "chestnut purée": ("6.40", 870, 0.0),
    "ground hazelnuts": ("13.50", 1000, 0.0),
    "flaked almonds": ("12.80", 1000, 0.0),
    "rolled oats": ("4.90", 2500, 0.0),
    "cornflour (starch)": ("5.60", 2500, 0.0),
    "gooseberries": ("7.80", 1000, 0.02),
    "blackcurrants": ("8.20", 1000, 0.02),
    "beetroot": ("9.50", 5000, 0.0),
    "onion": ("4.20", 5000, 0.0),
    "feta": ("11.90", 1000, 0.0),
    "soured cream": ("4.10", 1000, 0.0),
    "pearl barley": ("2.60", 1000, 0.0),
    "breadcrumbs": ("3.40", 1000, 0.0),
}

# name, kind, air (None: the room's)
PLACES = [
    ("Walk-in fridge", "fan_fridge", 4.0, 24),
    ("Under-bench fridge", "fridge", 5.0, 6),
    ("Chest freezer", "freezer", -18.0, 12),
    ("Beech bench", "bench_wood", None, 0),
    ("Marble slab", "bench_marble", None, 0),
]
# Name, fan, small, measured offset, tray places, minutes until it is hot.
OVENS = [
    ("Deck oven", False, False, None, 4, 60.0),
    ("Fan oven", True, False, 16.0, 6, 20.0),
    ("Little fan oven", True, True, None, 2, None),
]


# From when to when somebody is here; who comes and goes otherwise, and does what alone. [min of the day]
OPENS = (4 * 60 + 30, 21 * 60)
SHIFTS = {
    "Runa Haldane": (5 * 60, 14 * 60, []),
    "Teo Marsh": (4 * 60 + 30, 13 * 60, []),
    "Isk Fenwick": (5 * 60, 13 * 60 + 30, []),
    "Maud Orrin": (11 * 60, 19 * 60 + 30, []),
    "Pell Strand": (12 * 60 + 30, 21 * 60, []),
}


@transaction.atomic
def build(now: datetime | None = None, *, with_passwords: bool = True) -> None:
    """
    Fill an empty installation with the demo bakehouse; does nothing where somebody has an account.

    Its passwords are printed for everybody to read, so an installation that is not the demo has none.
    """
    if get_user_model().objects.exists():
        return
    now = now or timezone.now()
    house = kitchen.kitchen()
    house.name = "Gannet Row"
    house.opens_min, house.closes_min = OPENS
    house.save()
    kitchen.load_reference_ingredients()
    accounts = {
        username: kitchen.add_person(
            name=name, role=role, username=username, password=demo_password(username) if with_passwords else ""
        ).user
        for name, role, username in PEOPLE
    }
    for name in HANDS:
        kitchen.add_person(name=name)
    for name, (begin, end, does) in SHIFTS.items():
        kitchen.set_hours(Person.objects.get(name=name), from_min=begin, to_min=end, does=does)
    for name, kind, top, base, height, top_width, base_width, owned in TINS:
        measures = {
            "name": name, "kind": kind, "top_mm": top, "base_mm": base, "height_mm": height,
            "top_width_mm": top_width, "base_width_mm": base_width, "owned": owned,
        }  # fmt: skip
        kitchen.save_row(Tin(), measures)
    for row in RACK:
        kitchen.save_row(Tin(), row)
    for name, smallest, largest in MIXERS:
        kitchen.save_row(Machine(), {"name": name, "smallest_g": smallest, "largest_g": largest})
    for name, (price, pack_g, waste) in PRICES.items():
        kitchen.price_pack(Ingredient.objects.get(name=name), price=Decimal(price), pack_g=pack_g, waste=waste)
    for name, system, text, later in FORMULAS:
        _formula(accounts["runa"], name, system, text, later)
    for name, sort, beside, text in MIXTURES:
        _mixture(accounts["runa"], name, sort, beside, text)
    for name, kind, air, trays in PLACES:
        kitchen.save_row(Place(), {"name": name, "kind": kind, "air_c": air, "trays": trays})
    for name, fan, small, offset, trays, hot_after in OVENS:
        row = {"name": name, "fan": fan, "small": small, "offset_k": offset, "trays": trays, "heats_min": hot_after}
        kitchen.save_row(Oven(), row)
    makes.work(accounts, now)
    week.stand(accounts, now)


def _mixture(user: User, name: str, kind: str, beside: str, text: str) -> None:
    draft = dough.open_draft(user, None)
    payload = editing.paste({**editing.empty_payload("metric", kind), "name": name}, text)
    payload["lines"] = [{**line, "accepted": True} for line in payload["lines"]]
    draft = dough.edit_draft(user, None, draft.edit_no, payload)
    version = dough.save_version(user, None, draft.edit_no)
    if beside:
        dough.stands_beside(version.formula, Formula.objects.get(name=beside))


def _formula(user: User, name: str, system: str, text: str, later: list[tuple[str, dict[str, str]]]) -> None:
    draft = dough.open_draft(user, None)
    payload = editing.paste({**editing.empty_payload(system), "name": name, "tags": TAGS[name]}, text)
    payload["schools"] = SCHOOLS.get(name, {})
    payload["lines"] = [{**line, "accepted": True} for line in payload["lines"]]
    # Zest has no weight for "1 lemon": a kitchen knows its own.
    payload["lines"] = [{**line, "grams": "4"} if "zest" in line["text"] else line for line in payload["lines"]]
    draft = dough.edit_draft(user, None, draft.edit_no, payload)
    version = dough.save_version(user, None, draft.edit_no)
    for note, weights in later:
        draft = dough.open_draft(user, version.formula)
        lines = [{**line, "grams": weights.get(line["text"], line["grams"])} for line in draft.payload["lines"]]
        draft = dough.edit_draft(user, version.formula, draft.edit_no, {**draft.payload, "lines": lines, "note": note})
        dough.save_version(user, version.formula, draft.edit_no)

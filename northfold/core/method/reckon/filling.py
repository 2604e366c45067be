"""The layers of a make’s pieces: laid in, as the other passes see them, and as the oven finds them."""

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

from northfold.core.bake.fillings import OvenFilling, oven_fillings
from northfold.core.fill.layers import Filled, Laid, Layer, fill
from northfold.core.fill.mixture import BETWEEN, COOLED, RAW, TOP, UNDER
from northfold.core.fill.room import cap_ml
from northfold.core.method.choices.learned import Asking
from northfold.core.method.words import named, weighed
from northfold.core.shape.blanks import HEAP_MM, Item

# A wet filling over a dry layer wets its base so much less. [ratio] North Fold reference table.
OVER_DRY = 0.5
# Layers that go into the oven, by when they go in.
BAKED = (RAW, BETWEEN)
# Kinds that lie dry under what is wet.
DRY_KINDS = frozenset({"dry", "crumble"})
# When layers may go in, by whether the piece is baked blind first.
WHENS_BLIND, WHENS_FILLED = (BETWEEN, COOLED, TOP), (RAW, TOP)


@lru_cache(maxsize=512)
def filled(item: Item, layers: tuple[Layer, ...]) -> Filled:
    """One piece with its layers, see `fill`; kept for the same piece and layers. Raises CoreError as that does."""
    return fill(item, layers)


def as_learned(layers: Sequence[Layer], learned: Asking) -> tuple[Layer, ...]:
    """Layers whose fruit gives juice and sinks as records have taught."""
    found = []
    for layer in layers:
        fruit = layer.mixture.main_fruit
        if fruit:
            gives, sinks = learned.juice(fruit), learned.settling(fruit)
            layer = replace(layer, treated=replace(layer.treated, gives=gives, sinks=sinks))
        found.append(layer)
    return tuple(found)


def lay_in(item: Item, layers: Sequence[Layer]) -> tuple[Item, Filled | None]:
    """
    An item with its layers laid in.

    Parameters
    ----------
    item : Item
        As thick as it is rolled. [mm]
    layers : sequence of Layer
        None leaves it as its maker has said.

    Returns
    -------
    tuple of Item and Filled
        The item says what bakes in it: its name, grams, what it weighs in a tin [g/ml] and the heap [mm] that
        it stands in; without layers it is as it was.

    Raises
    ------
    CoreError
        If a layer does not fit, or its rule makes no sense here.
    """
    if not layers:
        return item, None
    heaps = [each.amount for each in layers if each.rule == "heap" and each.when == RAW]
    item = replace(item, heap_mm=max(heaps)) if heaps and item.tin.is_vessel else item
    found = filled(item, tuple(layers))
    baked = [each for each in found.laid if each.layer.when in BAKED]
    if not baked:
        return replace(item, filling="", filling_g=0.0, filling_allergens=(), is_layered=True), found
    grams, ml = sum(each.grams for each in baked), sum(each.new_ml for each in baked)
    holds = tuple(dict.fromkeys(each for laid in baked for each in laid.layer.mixture.holds))
    item = replace(
        item,
        filling=named([each.name for each in baked])[:60],
        filling_g=grams,
        filling_g_ml=grams / ml if ml else item.filling_g_ml,
        filling_allergens=holds,
        is_layered=True,
    )
    if item.has_lid and item.tin.is_vessel:
        item = replace(item, heap_mm=_heap_mm(found, ml))
    return item, found


def _heap_mm(found: Filled, ml: float) -> float:
    """The heap in which so much stands over the rim, to half a mm. [ml, mm]"""
    over = ml - found.room.rim_ml
    if over <= 0:
        return 0.0
    low, high = 0.0, HEAP_MM[1]
    for _ in range(30):
        middle = (low + high) / 2
        low, high = (middle, high) if cap_ml(found.room.top_mm2, middle) < over else (low, middle)
    return round(2 * high) / 2


def in_the_oven(found: Filled) -> OvenFilling | None:
    """What bakes in a piece, as the oven finds it: the kind of its heaviest layer, the water of all; None without."""
    baked = [each for each in found.laid if each.layer.when in BAKED]
    wet = [each for each in baked if each.layer.mixture.kind not in DRY_KINDS] or baked
    if not wet:
        return None
    kind = oven_fillings()[max(wet, key=lambda each: each.grams).layer.mixture.inside]
    safe = next((oven_fillings()[each.layer.mixture.inside] for each in wet
                 if oven_fillings()[each.layer.mixture.inside].safe), None)  # fmt: skip
    kind = safe or kind
    whole = sum(each.grams for each in baked)
    water = sum(each.ledger.in_tin_water_g for each in baked) / whole
    # Its starch binds nothing before it has come to its own heat.
    binds_c = max((starch.bind_c for each in baked for starch, _ in each.layer.mixture.starch), default=0.0)
    kind = replace(kind, centre_c=max(kind.centre_c, binds_c)) if kind.centre_c else kind
    over_dry = any(each.layer.position == UNDER and each.layer.mixture.kind in DRY_KINDS for each in baked)
    return replace(kind, water=min(0.95, water), wets=kind.wets * (OVER_DRY if over_dry else 1.0))


def settled_depth_mm(found: Filled) -> float:
    """How deep what bakes in a piece is once it has settled; 0 without. [mm]"""
    return max((each.settled_mm for each in found.laid if each.layer.when in BAKED), default=0.0)


def told(laid: Sequence[Laid]) -> str:
    """Layers as a step names them, from below: "40 g of oat crumble, then 120 g of gooseberry filling"."""
    return ", then ".join(f"{weighed(each.grams)} of {said(each.name)}" for each in laid)


def said(name: str) -> str:
    """The name of a mixture in the midst of a sentence."""
    first = name.split(" ", 1)[0]
    return name if first.isupper() else name[:1].lower() + name[1:]

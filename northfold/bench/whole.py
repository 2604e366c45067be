"""Taps as rows of a file, and back."""

from northfold.bench.models import BenchEvent
from northfold.bench.queries import run_of
from northfold.bench.replanning import replanned
from northfold.core.errors import CoreError
from northfold.formats.files import BadFile
from northfold.formats.kitchen import TapFile
from northfold.makes.models import Make
from northfold.web.whole import Arriving, Keys


def taps_out(make: Make, keys: Keys) -> list[TapFile]:
    """What happened at the bench, in its order."""
    found = make.events.select_related("by").order_by("seq")
    return [
        TapFile(
            step=each.step_key, kind=each.kind, at=each.at, by=each.by.username, device=each.device,
            client=each.client_id, value=keys.json(each.value),
        )
        for each in found
    ]  # fmt: skip


def take_taps(arriving: Arriving, make: Make, taps: tuple[TapFile, ...]) -> None:
    """
    The taps of a make that has come with its frozen plan; folded once, so that the bench will open it.

    Raises BadFile where they make no sense on its plan.
    """
    BenchEvent.objects.bulk_create(
        BenchEvent(
            make=make, seq=seq, step_key=each.step, kind=each.kind, at=each.at, by=arriving.person(each.by),
            device=each.device, client_id=each.client, value=arriving.keys.json(each.value),
        )
        for seq, each in enumerate(taps, 1)
    )  # fmt: skip
    if make.is_planned:
        return
    try:
        run_of(make)
        replanned(make)
    except (CoreError, LookupError, ValueError, TypeError, AttributeError) as error:
        raise BadFile(f"The taps of a make of {make.formula_version.formula.name} make no sense: {error}") from None

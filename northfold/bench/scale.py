"""
Weighing by scale: what its pan shows of a make's lines, and the tick that it sets by itself.

A scale weighs for one make at a time. What it reads is held against the line that was asked for, or the next one that
is open; at rest and within a step or a hundredth it is ticked, and the pan counts as empty for the next line. A pan
without its bowl is emptied likewise. Too much is never ticked: a person takes some out, or lets the other lines follow.
"""

from dataclasses import dataclass
from uuid import uuid4

from django.db import transaction

from northfold.bench import queries, services
from northfold.bench.models import AtScale
from northfold.bench.queries import Run, WeighLine
from northfold.core.errors import CoreError
from northfold.core.method.choices import step_keys
from northfold.core.method.route import progress
from northfold.core.method.route.at_scale import BOWL_OFF, MOST_BATCH, THERE, TOO_MUCH, OnPan, rescaled
from northfold.devices.models import Device, Reading
from northfold.makes.models import Make
from northfold.web.models import User
from northfold.web.templatetags.figures import grams as in_grams
from northfold.web.templatetags.figures import scale as on_scale


@dataclass(frozen=True)
class Weighing:
    """A line on the scale: what is wanted, what lies there, and, of too much, what the others following would do."""

    line: WeighLine
    pan: OnPan
    stable: bool
    says: str
    follow: str = ""


@dataclass(frozen=True)
class Pour:
    """Liquid poured out of a jug: what has left it, beside what goes in first and at most. [g]"""

    name: str
    index: int
    poured_g: float
    first_g: float
    most_g: float


def scales() -> list[Device]:
    """The scales that are sending now."""
    return [each for each in Device.objects.kept().filter(kind=Device.Kind.SCALE) if each.is_heard]


@transaction.atomic
def weigh_with(user: User, make: Make, device: Device, load: int = 0) -> AtScale:
    """Let a scale weigh a load of a make from now on; its pan counts as empty as it stands."""
    latest = device.latest
    zero = latest.value if latest else 0.0
    values = {"make": make, "by": user, "zero_g": zero, "line": None, "jug_g": None, "load": load}
    at, _ = AtScale.objects.update_or_create(device=device, defaults=values)
    return at


def at_of(make: Make, load: int) -> AtScale | None:
    """The scale that weighs a load of a make."""
    return AtScale.objects.filter(make=make, load=load).select_related("device").first()


def leave(at: AtScale) -> None:
    """A scale weighs for nobody any more."""
    at.delete()


def empty_pan(at: AtScale) -> None:
    """What lies on the pan, a bowl, counts for nothing."""
    latest = at.device.latest
    at.zero_g = latest.value if latest else 0.0
    at.jug_g = None
    at.save(update_fields=["zero_g", "jug_g"])


def choose_line(at: AtScale, line: int | None) -> None:
    """Weigh this line next; None for the next that is open."""
    at.line = line
    at.save(update_fields=["line"])


def line_of(at: AtScale, run: Run) -> WeighLine | None:
    """The line that a scale weighs: that which was asked for, else the next that is open or still needs more."""
    lines = queries.weigh_lines(run, at.load)
    asked = [each for each in lines if each.index == at.line]
    return next(iter(asked), None) or next((each for each in lines if each.weighed_g is None or each.add_g), None)


def _step_g(device: Device, line: WeighLine) -> float:
    """How fine it is weighed: as the scale shows, or as the line is told, whichever is coarser."""
    return max(device.step_g, line.scaled.step_g)


def weighing(at: AtScale, run: Run, reading: Reading) -> Weighing | None:
    """What the pan shows of the line that is weighed; None where every line is ticked."""
    line = line_of(at, run)
    if line is None:
        return None
    target = line.add_g or line.scaled.weigh_g
    pan = OnPan(target, reading.value - at.zero_g, _step_g(at.device, line))
    shown = f"{on_scale(abs(pan.to_go_g), pan.step_g)} g"
    says = {THERE: "there", BOWL_OFF: "the bowl is off"}.get(
        pan.state, f"{shown} to go" if pan.to_go_g > 0 else f"take {shown} out"
    )
    return Weighing(line, pan, reading.stable, says, _follow(run, line, pan))


def _follow(run: Run, line: WeighLine, pan: OnPan) -> str:
    """What the other lines following this one would do, in words; empty where they cannot, or need not."""
    planned = [scaled.exact_g for scaled in run.plan.scaled]
    got = pan.on_pan_g + line.there_g
    # One load alone is not made larger: the others would no longer be its equals.
    if queries.loads_of(run) > 1:
        return ""
    if pan.state != TOO_MUCH or not 1.0 < got / planned[line.index] <= MOST_BATCH:
        return ""
    count = sum(item.count for item in run.plan.inputs.items)
    found = rescaled(planned, line.index, got, run.progress.weighed, count, pan.step_g)
    names = {each.index: each.name for each in queries.weigh_lines(run)}
    said = f"All lines × {found.batch:.2f}: the ratio stays, {in_grams(found.more_g)} g more dough"
    if found.more_pieces >= 1:
        said += f", enough for {int(found.more_pieces)} more"
    adds = ", ".join(f"{in_grams(grams)} g {names[at]}" for at, grams in found.adds)
    return f"{said}. Still to add: {adds}." if adds else f"{said}."


def pour(at: AtScale, run: Run, reading: Reading) -> Pour | None:
    """What has been poured out of the jug on the pan, at the mixing; None where nothing is poured by feel."""
    found = queries.pouring(run)
    if found is None or at.jug_g is None:
        return None
    poured = max(0.0, at.jug_g - reading.value)
    return Pour(found.line.ingredient.name, found.dose.index, poured, found.dose.first_g, found.dose.most_g)


def put_jug(at: AtScale) -> None:
    """The jug stands on the pan, full: what leaves it from now on went in."""
    latest = at.device.latest
    at.jug_g = latest.value if latest else None
    at.save(update_fields=["jug_g"])


def heard(device: Device, reading: Reading) -> None:
    """A reading has come in: at rest it may tick a line, or empty the pan. What does not fit is left for a person."""
    if device.kind != Device.Kind.SCALE or not reading.stable:
        return
    at = AtScale.objects.select_related("make", "by", "device").filter(device=device).first()
    if at is None or at.make.state != Make.State.STARTED or not at.by.may("edit_makes"):
        return
    run = queries.run_of(at.make)
    current = run.progress.current
    if current is None or current.step.key != step_keys.WEIGH:
        return
    found = weighing(at, run, reading)
    if found is None:
        return
    if found.pan.state == BOWL_OFF:
        AtScale.objects.filter(pk=at.pk).update(zero_g=reading.value)
    elif found.pan.state == THERE:
        _tick(at, run, found, reading)


def of_load(run: Run, load: int) -> dict[str, int]:
    """What a weight says of its load; nothing where the dough is mixed at once."""
    return {"load": load} if queries.loads_of(run) > 1 else {}


def _tick(at: AtScale, run: Run, found: Weighing, reading: Reading) -> None:
    line = found.line
    grams = round(line.there_g + found.pan.on_pan_g, 1)
    try:
        services.record(
            at.by,
            at.make,
            kind=progress.WEIGHED,
            step_key=step_keys.WEIGH,
            client_id=f"scale-{reading.known_as.hex}",
            value={"line": line.index, "grams": f"{grams:g}", **of_load(run, at.load)},
            device=at.device.name,
        )
    except CoreError:
        return
    AtScale.objects.filter(pk=at.pk).update(zero_g=reading.value, line=None)


def let_others_follow(user: User, make: Make, at: AtScale) -> None:
    """All other lines follow the one of which there is too much on the pan. Raises CoreError where they cannot."""
    run, latest = queries.run_of(make), at.device.latest
    found = weighing(at, run, latest) if latest else None
    if latest is None or found is None or not found.follow:
        raise progress.NotNow("There is not too much on the pan any more. Look at the scale again.")
    services.record(
        user,
        make,
        kind=progress.RESCALED,
        step_key=step_keys.WEIGH,
        client_id=uuid4().hex,
        value={"line": found.line.index, "grams": round(found.line.there_g + found.pan.on_pan_g, 1)},
        device=at.device.name,
    )
    AtScale.objects.filter(pk=at.pk).update(zero_g=latest.value, line=None)

"""Pages of the bench: one step of one make at a time, on any number of devices."""

from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from northfold.bench import into_cold, oven, probe, queries, replanning, rescue, scale, services
from northfold.bench import wall as whole_kitchen
from northfold.bench.models import AtScale
from northfold.bench.moved import last_moved
from northfold.core.errors import CoreError
from northfold.core.heat.bake import COLOURS
from northfold.core.method.choices import step_keys
from northfold.core.method.route import progress
from northfold.core.method.route.recording import tapped
from northfold.devices import services as devices
from northfold.kitchen.models import Place
from northfold.kitchen.queries import hands_here
from northfold.makes.in_short import pieces_in_short
from northfold.makes.models import Make
from northfold.makes.pages import stage
from northfold.stock.labels import label_of_lot
from northfold.web.codes import code_of
from northfold.web.in_day import news_for, then_for
from northfold.web.inputs import plain_text, read_json
from northfold.web.last_time import last_time
from northfold.web.links import row_id
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.templatetags.figures import scale as on_scale

MOODS = ("dark", "light")
WORKER = Path(__file__).parent / "worker.js"


def _context(request: SignedIn, make: Make) -> dict[str, Any]:
    """A running make, its steps and the other waits; the clock that all times are counted by."""
    run = queries.run_of(make)
    now = queries.now()
    load, loads = queries.load_to_weigh(run, request.GET.get("load", "")), queries.loads_of(run)
    others = queries.other_waits(make)
    return {
        "make": make,
        "run": run,
        "now": now,
        "current": run.progress.current,
        "meanwhile": run.progress.meanwhile,
        "waits_for": run.progress.waits_for(now),
        "pieces": pieces_in_short(run.plan.inputs.items),
        "lines": queries.weigh_lines(run, load),
        "load": load if loads > 1 else None,
        "loads": [(number, len(queries.open_lines(run, number - 1))) for number in range(1, loads + 1)],
        "pouring": queries.pouring(run),
        "unticked": queries.unticked(run),
        # Told while it is weighed: later it is in the way.
        "last_time": last_time(make.formula_version.formula_id, make.pk) if _weighs(run) else None,
        "own_waits": run.progress.running,
        "over": into_cold.over_by_now(run),
        "cold_places": into_cold.places(),
        **_bakes(run),
        "others": others[: queries.OTHERS_SHOWN],
        "more_others": max(0, len(others) - queries.OTHERS_SHOWN),
        "in_day": then_for(make.pk, now),
        "day_news": news_for(make.pk, now),
        "seq": queries.newest_seq(make),
        "mood": _mood(request),
        "moved": last_moved(run, now),
        "troubles": rescue.likely(run),
        "hands": hands_here(),
        "bands": rescue.on_its_bands(run, now),
        "drawn": rescue.looks(run),
        "taken": replanning.to_take_back(run),
        "meantime": rescue.meantime(run),
        "room_c": replanning.room_moved(run),
        "tap_id": uuid4().hex,
        "rail": [],
    }


def _bakes(run: queries.Run) -> dict[str, Any]:
    """Of a bake under way what a probe tells; of a piece just out, how it came out."""
    current = run.progress.current
    if current is None:
        return {}
    bake = oven.bake_of(run.plan, current)
    is_out = bake is not None and step_keys.plain(current.step.key) in step_keys.COOLS
    # An open wet filling takes on no colour to tick.
    shows = bool(bake and bake.asked and bake.asked.colours_on_top)
    return {
        "can_probe": oven.can_probe(run, current),
        "told": oven.probed(run, current),
        "baked": {"colours": [name for _, name in COLOURS[1:]] if shows else []} if is_out else None,
        "looked": run.progress.looked.get(current.step.key, {}),
    }


def _weighs(run: queries.Run) -> bool:
    return run.progress.current is not None and run.progress.current.step.key == step_keys.WEIGH


def _mood(request: SignedIn) -> str:
    mood = request.COOKIES.get("bench_mood", "")
    return mood if mood in MOODS else MOODS[0]


def _stamped(response: HttpResponse) -> HttpResponse:
    """With the server's own time, by which each device sets its clock right. [ms since 1970]"""
    response["X-Now"] = str(round(queries.now().timestamp() * 1000))
    response["Cache-Control"] = "no-store"
    return response


def run(request: SignedIn, pk: int) -> HttpResponse:
    """The bench of a make. One that has not started offers to start; a finished one tells how it went."""
    make = queries.make_at_bench(pk)
    if make.state != Make.State.STARTED:
        _, context = stage(request, pk, "bench")
        run_then = queries.run_of(make) if make.is_over else None
        return render(request, "bench/idle.html", {**context, "run": run_then})
    template = "bench/_bench.html" if request.headers.get("X-Bench") else "bench/bench.html"
    return _stamped(render(request, template, _context(request, make)))


def state(request: SignedIn, pk: int) -> HttpResponse:
    """Nothing new since `seq` (204), or the bench as it stands now."""
    make = queries.make_at_bench(pk)
    if request.GET.get("seq") == str(queries.newest_seq(make)):
        return _stamped(HttpResponse(status=204))
    if make.state != Make.State.STARTED:
        return _stamped(HttpResponse(status=205))
    return _stamped(render(request, "bench/_bench.html", _context(request, make)))


def _sent(request: SignedIn) -> dict[str, Any]:
    """What was tapped: from the script as JSON, or from a plain form."""
    if request.content_type == "application/json":
        return read_json(request.body) or {}
    value = {
        name: request.POST[name]
        for name in ("line", "grams", "c", "minutes", "text", "trip", "who")
        if name in request.POST
    }
    return {**{name: request.POST.get(name, "") for name in ("kind", "step_key", "client_id")}, "value": value}


def _tapped_at(sent: dict[str, Any]) -> datetime | None:
    try:
        return datetime.fromtimestamp(float(sent["at"]) / 1000, UTC)
    except (KeyError, TypeError, ValueError, OverflowError, OSError):
        return None


@require_POST
@needs("edit_makes")
def record(request: SignedIn, pk: int) -> HttpResponse:
    """
    Take one tap. A script is answered in JSON, a plain form goes back to the bench.

    Taken or refused, the answer names the tap by its mark: a device keeps a tap until an answer names it.
    """
    make = queries.make_at_bench(pk)
    sent = _sent(request)
    value, mark = sent.get("value"), plain_text(sent.get("client_id"), 40)
    said = ""
    try:
        event = services.record(
            request.user,
            make,
            kind=tapped(plain_text(sent.get("kind"), 10)),
            step_key=plain_text(sent.get("step_key"), 20),
            client_id=mark or uuid4().hex,
            value=value if isinstance(value, dict) else {},
            device=plain_text(sent.get("device"), 40),
            at=_tapped_at(sent),
        )
    except (CoreError, TypeError, ValueError) as error:
        said = str(error) if isinstance(error, CoreError) else "That could not be read. Reload the page and tap again."
    if request.content_type == "application/json":
        answer = {"id": mark, "error": said} if said else {"id": mark or event.client_id, "seq": event.seq}
        response = _stamped(JsonResponse(answer, status=422 if said else 200))
        response["Content-Disposition"] = 'attachment; filename="answer.json"'
        return response
    if said:
        messages.error(request, said)
    return redirect("bench:run", pk)


@needs("edit_makes", to_change=True)
def at_scale(request: SignedIn, pk: int) -> HttpResponse:
    """What the scale shows of this make, as JSON; posting has it do something."""
    make = queries.make_at_bench(pk)
    sent, said = (read_json(request.body) or {}) if request.method == "POST" else None, ""
    load = _load((request.GET if sent is None else sent).get("load"))
    if sent is not None:
        try:
            _at_the_scale(request, make, sent, load)
        except CoreError as error:
            said = str(error)
    shown = _scale_shown(make, load)
    return _stamped(JsonResponse({**shown, "error": said}, status=422 if said else 200))


def _at_the_scale(request: SignedIn, make: Make, sent: dict[str, Any], load: int) -> None:
    """One thing that is done at the scale: taken, left, emptied, a line chosen, the jug put on, the others follow."""
    act, at = sent.get("act"), scale.at_of(make, load)
    if act == "use":
        known = next((each for each in scale.scales() if str(each.uuid) == sent.get("device")), None)
        if known is None:
            raise progress.NotNow("That scale is silent. Switch it on, or look under Kitchen, Devices.")
        scale.weigh_with(request.user, make, known, load)
    elif at is None:
        raise progress.NotNow("No scale weighs for this make. Choose one first.")
    elif act == "leave":
        scale.leave(at)
    elif act == "empty":
        scale.empty_pan(at)
    elif act == "line":
        line = sent.get("line")
        scale.choose_line(at, line if isinstance(line, int) and 0 <= line < 400 else None)
    elif act == "jug":
        scale.put_jug(at)
    elif act == "follow":
        scale.let_others_follow(request.user, make, at)


def _load(sent: Any) -> int:
    """The load that a device weighs, counted from 0, as it says so."""
    text = str(sent)
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 3 else 0


def _scale_shown(make: Make, load: int) -> dict[str, Any]:
    """The scales that are heard, and what the one of this make shows."""
    under_way = AtScale.objects.filter(make__state=Make.State.STARTED)
    taken = {at.device_id: at for at in under_way.select_related("make__formula_version__formula")}
    found = scale.scales()
    mine = (taken[each.pk] for each in found if each.pk in taken)
    own = next((at for at in mine if (at.make_id, at.load) == (make.pk, load)), None)
    shown: dict[str, Any] = {
        "scales": [
            {
                "id": str(each.uuid),
                "name": each.name,
                "weighs_for": taken[each.pk].make.called if each.pk in taken else "",
            }
            for each in found
        ],
        "own": None,
        "seq": queries.newest_seq(make),
    }
    latest = own.device.latest if own else None
    if own is None or latest is None or make.state != Make.State.STARTED:
        return shown
    run = queries.run_of(make)
    shown["own"] = {"name": own.device.name, "value": latest.value, "stable": latest.stable}
    weighing, pour = scale.weighing(own, run, latest), scale.pour(own, run, latest)
    if weighing is not None:
        pan, step = weighing.pan, weighing.pan.step_g
        shown["own"] |= {
            "line": weighing.line.index, "what": weighing.line.name, "target": on_scale(pan.target_g, step),
            "on_pan": on_scale(max(0.0, pan.on_pan_g), step), "share": round(pan.share, 4), "state": pan.state,
            "says": weighing.says, "follow": weighing.follow,
        }  # fmt: skip
    if pour is not None:
        shown["own"]["pour"] = {
            "what": pour.name, "line": pour.index, "poured": round(pour.poured_g), "first": round(pour.first_g),
            "most": round(pour.most_g),
        }  # fmt: skip
    return shown


@needs("edit_makes", to_change=True)
def at_probe(request: SignedIn, pk: int) -> HttpResponse:
    """What the probe tells of this make, as JSON; posting writes it down, follows it, or sends the dough back."""
    make = queries.make_at_bench(pk)
    said = ""
    if request.method == "POST":
        act = {"write": probe.write_down, "follow": probe.follow, "back": probe.send_back, "move": probe.move}.get(
            plain_text((read_json(request.body) or {}).get("act"), 10)
        )
        heard = probe.probes()
        latest = heard[0].latest if heard else None
        if act is None or latest is None:
            said = "The probe is silent. Switch it on, or look under Kitchen, Devices."
        else:
            try:
                act(request.user, make, latest)
            except CoreError as error:
                said = str(error)
    return _stamped(JsonResponse({**_probe_shown(make), "error": said}, status=422 if said else 200))


def _probe_shown(make: Make) -> dict[str, Any]:
    """What the first probe that is heard tells of the step under way."""
    heard = probe.probes()
    latest = heard[0].latest if heard else None
    shown: dict[str, Any] = {"probe": None, "seq": queries.newest_seq(make)}
    if latest is None or make.state != Make.State.STARTED:
        return shown
    told = probe.told(queries.run_of(make), latest.value, queries.now())
    if told is not None:
        shown["probe"] = {
            "name": heard[0].name, "c": f"{latest.value:.1f}".replace("-", "−"), "stable": latest.stable,
            "says": told.says, "why": told.why, "more": told.more_min,
            "until": timezone.localtime(told.until).strftime("%H:%M") if told.until else "",
            "back": f"Back into the cold, {told.back_min} min" if told.back_min else "",
            "move": told.moved.does if told.moved else "",
        }  # fmt: skip
    return shown


@needs("edit_makes", to_change=True)
def wrong(request: SignedIn, pk: int) -> HttpResponse:
    """What is likely to go wrong at the step under way, and what puts it right; posting takes a remedy, or back."""
    make = queries.make_at_bench(pk)
    if make.state != Make.State.STARTED:
        return redirect("bench:run", pk)
    if request.method == "POST":
        try:
            if request.POST.get("act") == "back":
                replanning.take_back(request.user, make)
            elif request.POST.get("act") == "room":
                replanning.follow_room(request.user, make)
            else:
                rescue.take(request.user, make, request.POST.get("trouble", ""), request.POST.get("remedy", ""))
        except CoreError as error:
            messages.error(request, str(error))
        return redirect("bench:run", pk)
    run, trouble = queries.run_of(make), request.GET.get("trouble", "")[:40]
    context = {"make": make, "troubles": rescue.likely(run), "mood": _mood(request)}
    try:
        context["found"] = rescue.offered(run, trouble, queries.now()) if trouble else None
    except CoreError as error:
        messages.error(request, str(error))
    whole = "bench/_wrong.html" if request.headers.get("X-Bench") else "bench/wrong.html"
    return _stamped(render(request, whole, context))


@require_POST
@needs("edit_makes")
def into_the_cold(request: SignedIn, pk: int) -> HttpResponse:
    """What stays over goes into the cold with one tap, and back to the bench."""
    make = queries.make_at_bench(pk)
    place = get_object_or_404(Place.objects.kept(), pk=row_id(request.POST.get("place", "")))
    if make.state == Make.State.STARTED:
        try:
            lot = into_cold.put(request.user, queries.run_of(make), request.POST.get("kind", "")[:10], place)
        except CoreError as error:
            messages.error(request, str(error))
        else:
            printer = devices.printer_of("")
            if printer is not None:
                devices.print_label(printer, label_of_lot(request, lot))
            where = f" It comes out of {printer.name}." if printer else ""
            messages.success(request, f"{lot} is in {place.name}. Its label: {code_of(lot.uuid)}.{where}")
    return redirect("bench:run", pk)


@require_POST
@needs("edit_makes")
def finish(request: SignedIn, pk: int) -> HttpResponse:
    make = queries.make_at_bench(pk)
    if make.state == Make.State.FINISHED:
        messages.info(request, f"{make.formula_version.formula} is finished already; nothing changed.")
        return redirect("records:result", pk)
    try:
        services.finish(make)
    except CoreError as error:
        messages.error(request, str(error))
        return redirect("bench:run", pk)
    messages.success(request, "Finished. Write down how it came out, and the next one will be better.")
    return redirect("records:result", pk)


@require_safe
def wall(request: SignedIn) -> HttpResponse:
    """The whole kitchen on one screen; to its own script, what has changed of it alone."""
    now = queries.now()
    found = whole_kitchen.rows(now)
    context = {
        "now": now,
        "rows": found[: whole_kitchen.ROWS],
        "more": max(0, len(found) - whole_kitchen.ROWS),
        "to_start": whole_kitchen.to_start(now),
        "mood": _mood(request),
        "rail": [],
    }
    template = "bench/_wall.html" if request.headers.get("X-Bench") else "bench/wall.html"
    return _stamped(render(request, template, context))


@login_not_required
@require_safe
def worker(request: HttpRequest) -> HttpResponse:
    """The script that keeps the open bench through a lost network; at the root, so that it hears of signing out."""
    return HttpResponse(WORKER.read_bytes(), content_type="text/javascript; charset=utf-8")


@require_POST
def mood(request: SignedIn) -> HttpResponse:
    """Dark or light, for this device."""
    wanted = request.POST.get("mood", "")
    make = row_id(request.POST.get("make", ""))
    back = reverse("bench:run", args=[make]) if make else reverse("makes:list")
    response = redirect(back)
    response.set_cookie(
        "bench_mood",
        wanted if wanted in MOODS else MOODS[0],
        max_age=365 * 86400,
        samesite="Lax",
        httponly=True,
        secure=request.is_secure(),
    )
    return response

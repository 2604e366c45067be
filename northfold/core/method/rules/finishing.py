"""Brushed and strewn: before the bake, midway, or on what comes hot out of it."""

from northfold.core.method.choices import step_keys
from northfold.core.method.choices.finishes import AFTER, BEFORE, MIDWAY, glazes
from northfold.core.method.reckon.baking import Doing
from northfold.core.method.reckon.finishing import Glazing, glazed_mm2
from northfold.core.method.route.step import Told
from northfold.core.method.route.work import Work
from northfold.core.method.rules.bake import in_the_midst
from northfold.core.method.words import weighed

# Where a bake has one stage, midway is so far into it. [share] Assumption: late enough not to burn.
MIDWAY_SHARE = 0.67
COATS = ("once", "twice", "three times", "four times")


def _glazing(work: Work, when: str) -> Glazing | None:
    """The glaze of a make, where it goes on at that time and is not left out."""
    found = work.job.glazing
    left_out = work.job.edits.word(step_keys.GLAZE, "skip")
    return found if found is not None and found.when == when and not left_out else None


def _figures(found: Glazing) -> dict[str, str]:
    strewn = found.strewn
    dry = f" Strew {weighed(found.strewn_each_g)} of {strewn.words} over each while it is wet." if strewn else ""
    return {"coats": COATS[found.coats - 1], "glaze_g": weighed(found.each_g), "strew_look": dry}


def _told(found: Glazing) -> Told:
    return Told(figure=weighed(found.grams), says=f"of {found.finish.words} for all")


def glaze(work: Work) -> None:
    """Before the oven."""
    found = _glazing(work, BEFORE)
    if found is not None:
        work.add(step_keys.GLAZE, _figures(found), told=_told(found))


def glaze_midway(work: Work) -> None:
    """As the last stage begins, or late in the only one."""
    found = _glazing(work, MIDWAY)
    if found is None or not work.job.baked.is_glazed:
        return
    stages = work.bake.stages
    last = work.bake.begins_min(stages[-1])
    minute = last + 1 if len(stages) > 1 else round(MIDWAY_SHARE * stages[-1].minutes)
    doing = Doing(step_keys.GLAZE_MIDWAY, "glaze", minute)
    in_the_midst(work, work.bake, doing, _figures(found), _told(found))


def torch(work: Work) -> None:
    """A torch over the top, where its maker wants one."""
    if work.job.chosen["torched"] == "yes":
        work.add(step_keys.TORCH)


def dust(work: Work) -> None:
    """Dusted at the very end."""
    chosen = work.job.chosen["dusted"]
    if chosen == "none":
        return
    dry = glazes()[chosen]
    each_g = glazed_mm2(work.job.lead.item) / 100 * dry.g_cm2
    told = Told(figure=weighed(each_g * work.job.lead.item.count), says=f"of {dry.words} for all")
    work.add(step_keys.DUST, {"dust_each": weighed(each_g), "dust_words": dry.words}, told=told)


def glaze_after(work: Work) -> None:
    """On the hot crust."""
    found = _glazing(work, AFTER)
    if found is not None:
        work.add(step_keys.GLAZE_AFTER, _figures(found), told=_told(found))

"""What the pages of a make share: finding it, and its pleat."""

from typing import Any

from django.shortcuts import get_object_or_404
from django.urls import reverse

from northfold.makes.models import Make
from northfold.makes.queries import WHOLE, MakeThread, Surroundings, thread_of
from northfold.web.kept import Kept
from northfold.web.models import User
from northfold.web.pleat import figures, pleat
from northfold.web.requests import SignedIn

# The figures of the pleat as each user saw them last, of each make: what an edit moves is told beside them.
_shown: Kept[dict[str, str]] = Kept(512)


def make_or_404(pk: int, *, whole: bool = False) -> Make:
    """A kept make with the version of its dough; `whole` with its items and edits, where nothing changes them."""
    kept = Make.objects.kept().select_related("formula_version__formula")
    return get_object_or_404(kept.prefetch_related(*WHOLE) if whole else kept, pk=pk)


def strip(user: User, thread: MakeThread, open_key: str, before: dict[str, str] | None = None) -> dict[str, Any]:
    """The pleat of a make, for `web/_pleat.html`."""
    make = thread.make
    panels = pleat(thread, open_key, lambda panel: reverse(panel.url_name, args=[make.pk]), before)
    _shown.keep((user.pk, make.uuid), {each.panel.key: each.face.figure for each in panels})
    opened = next(index for index, panel in enumerate(panels) if panel.is_open)
    return {
        "pleat": panels,
        "pleat_before": panels[opened - 1] if opened else None,
        "pleat_after": panels[opened + 1] if opened + 1 < len(panels) else None,
        "pleat_open": panels[opened],
        "moved": [panel for panel in panels if panel.was],
        "make": make,
        "thread": thread,
        "plan": thread.plan,
        "here": "makes",
    }


def figures_shown(user: User, make: Make, around: Surroundings | None = None) -> dict[str, str]:
    """The figures of a make's pleat as this user saw them last; as they are now where they have not seen it."""
    return _shown.get((user.pk, make.uuid), lambda: figures(thread_of(make, user, around)))


def stage(request: SignedIn, pk: int, open_key: str) -> tuple[MakeThread, dict[str, Any]]:
    """A make's thread as this user sees it, and the context of the page with this panel open."""
    thread = thread_of(make_or_404(pk), request.user)
    return thread, strip(request.user, thread, open_key)

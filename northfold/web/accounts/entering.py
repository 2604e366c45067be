"""Coming in: what happens at every sign-in, and at every wrong password, whichever page it is typed on."""

from django.contrib.auth import get_user_model, login
from django.http import HttpRequest

from northfold.web import audit
from northfold.web.accounts import brake, device
from northfold.web.models import User

BACKEND = "django.contrib.auth.backends.ModelBackend"


def enter(request: HttpRequest, user: User) -> None:
    """
    Sign somebody in, and write it down.

    The seal of forms stays the one that this browser has: pages that are open elsewhere in it, such as a bench with
    taps to send, go on working. Django would change it, against somebody who planted one before; a planted one must
    have come from this very host, and every browser says besides where a form was sent from, which is checked.
    """
    seal = request.META.get("CSRF_COOKIE")
    key = brake.name_key(user.username)
    known = device.known(request, key)
    login(request, user, backend=BACKEND)
    if seal:
        request.META["CSRF_COOKIE"] = seal
    audit.record(audit.Kind.SIGNED_IN, by=user, name_key=key, device=known)


def note_wrong(request: HttpRequest, name: str) -> None:
    """Write down a wrong password. A name that nobody has is not kept: it may be a password in the wrong field."""
    key = brake.name_key(name)
    found = get_user_model().objects.filter(username=name.strip()).first()
    said = f"for {found.called}" if found else "for a name that nobody has"
    audit.record(audit.Kind.REFUSED, said, name_key=key, device=device.known(request, key))

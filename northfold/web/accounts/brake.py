"""
What stops guessing.

Counted are wrong passwords, from the record of sign-ins, so that a restart forgets none:

- of one name from one place: an address, or a device that the name has signed in from before;
- from one address, whatever the names;
- of one name from places where it never signed in, however many addresses they come from.

Nobody is shut out everywhere: a known device counts for itself, and a name under attack still signs in from wherever
it did before. What is stopped is not hashed; what is not stopped queues before a thread of its own
(`config/serving.py`), so that no guessing holds up the kitchen.
"""

from datetime import timedelta

from django.http import HttpRequest
from django.utils import timezone
from django.utils.crypto import salted_hmac

from northfold.web import audit
from northfold.web.accounts import device
from northfold.web.models import AuditEntry

PER_NAME_HERE = 5
PER_ADDRESS = 20
# Below the hundred an hour that OWASP ASVS 2.2.1 allows for one account, known places included.
PER_NAME = 50
LOCKED = timedelta(minutes=15)
NAME_WINDOW = timedelta(hours=1)
KNOWN_PLACE = timedelta(days=90)


def name_key(name: str) -> str:
    """A name for counting: what is typed into its field may be a password, so it is not kept as it is."""
    return salted_hmac("northfold.brake", name.strip().casefold()).hexdigest()[:16]


def is_shut(request: HttpRequest, name: str) -> bool:
    """Whether no password of this name is looked at from here for now."""
    now, key = timezone.now(), name_key(name)
    address, mark = audit.address_of(request), device.known(request, key)
    wrong = AuditEntry.objects.filter(kind=audit.Kind.REFUSED)
    came_in = AuditEntry.objects.filter(kind=audit.Kind.SIGNED_IN, name_key=key)

    here = {"device": mark} if mark else {"device": "", "address": address}
    last = came_in.filter(**here).values_list("at", flat=True).last()
    since = max(last, now - LOCKED) if last else now - LOCKED
    if wrong.filter(at__gt=since, name_key=key, **here).count() >= PER_NAME_HERE:
        return True
    if mark:
        return False
    if wrong.filter(at__gt=now - LOCKED, address=address, device="").count() >= PER_ADDRESS:
        return True
    if came_in.filter(address=address, at__gt=now - KNOWN_PLACE).exists():
        return False
    return wrong.filter(at__gt=now - NAME_WINDOW, name_key=key).count() >= PER_NAME

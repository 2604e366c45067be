"""
What a new installation asks its first visitor for.

The first account becomes head of pastry, so whoever opens the page first must be whoever started the server: it prints
a code. Where nothing but this machine can reach it, none is asked for.
"""

import ipaddress
import logging
import secrets
from pathlib import Path

from django.conf import settings
from django.http import HttpRequest

from northfold.web import audit

# Without letters and digits that are taken for one another.
_LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"
_log = logging.getLogger(__name__)


def is_asked(request: HttpRequest) -> bool:
    """Whether the first account needs the code: not where the server, and the visitor, are on this machine alone."""
    return bool(settings.FIRST_CODE_ASKED) or not is_this_machine(audit.address_of(request))


def is_this_machine(host: str) -> bool:
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return False


def _file() -> Path:
    return Path(settings.DATA_DIR) / "first-code"


def code() -> str:
    """The code of this installation, made and printed where there is none yet."""
    found = _file().read_text().strip() if _file().exists() else ""
    if found:
        return found
    made = "-".join("".join(secrets.choice(_LETTERS) for _ in range(4)) for _ in range(3))
    _file().touch(mode=0o600)
    _file().write_text(made)
    _log.warning("The first account of this installation asks for the code %s", made)
    return made


def fits(typed: str) -> bool:
    return secrets.compare_digest(typed.strip().lower().encode(), code().encode())


def forget() -> None:
    """Somebody has an account now."""
    _file().unlink(missing_ok=True)

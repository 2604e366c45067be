"""Templates are written in short lines and go out without their breaks: a page is told in whole sentences."""

import re

from django.template import Origin
from django.template.loaders import app_directories

_BREAK = re.compile(r"\s*\n\s*")
# What shows its line breaks as they are written.
_AS_WRITTEN = re.compile(r"(<(?:pre|textarea|script)\b.*?</(?:pre|textarea|script)>)", re.DOTALL)


class Loader(app_directories.Loader):
    """Django's own, but that a line break with what is indented after it is one space."""

    def get_contents(self, origin: Origin) -> str:
        return joined(super().get_contents(origin))


def joined(text: str) -> str:
    """A template in one line, but for what shows its breaks."""
    parts = _AS_WRITTEN.split(text)
    return "".join(part if number % 2 else _BREAK.sub(" ", part) for number, part in enumerate(parts)).strip()

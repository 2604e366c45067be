"""Files that a page hands out: with a name that any disk takes."""

from django.http import HttpResponse
from django.utils.text import slugify


def file_answer(content: str | bytes, content_type: str, name: str, ending: str) -> HttpResponse:
    """A file to be saved under a name; letters that some disks do not take become hyphens."""
    answer = HttpResponse(content, content_type=content_type)
    answer["Content-Disposition"] = f'attachment; filename="{slugify(name) or "northfold"}.{ending}"'
    return answer

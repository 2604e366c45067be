"""Files that a page hands out: with a name that any disk takes."""

from datetime import datetime

from django.http import HttpResponse
from django.utils.text import slugify

from northfold.formats.day import DayFile, LaneFile, NoticeFile, SpanFile
from northfold.web import today


def file_answer(content: str | bytes, content_type: str, name: str, ending: str) -> HttpResponse:
    """A file to be saved under a name; letters that some disks do not take become hyphens."""
    answer = HttpResponse(content, content_type=content_type)
    answer["Content-Disposition"] = f'attachment; filename="{slugify(name) or "northfold"}.{ending}"'
    return answer


def day_file(now: datetime) -> DayFile:
    """What Today shows, and all makes of it."""
    lanes = today.lanes(now)
    return DayFile(
        at=now,
        hours=today.HOURS,
        makes=tuple(_lane(lane) for lane in lanes),
        notices=tuple(
            NoticeFile(
                about=card.title, what=row.words, detail=row.detail, start=row.start, until=row.until, over=row.is_over
            )
            for card in today.cards(now, lanes)
            for row in card.rows
        ),
    )


def _lane(lane: today.Lane) -> LaneFile:
    return LaneFile(
        name=lane.name, detail=lane.detail, state=lane.state, due=lane.due_at, next_at=lane.next_at,
        next=lane.next_words, late=lane.is_late,
        spans=tuple(
            SpanFile(
                name=bar.name, start=bar.start, end=bar.end, waits=bar.is_wait, where=bar.where,
                oven_c=bar.oven_c if bar.is_oven else None, beside=bar.is_beside, now=bar.is_now,
            )
            for bar in lane.bars
        ),
    )  # fmt: skip

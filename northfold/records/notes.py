"""Notes and pictures of makes: written down, put into the bin, taken out again."""

from django.db import transaction
from django.utils import timezone

from northfold.core.errors import CoreError
from northfold.makes.models import Make
from northfold.records.models import Note, Photo
from northfold.records.photos import CleanPhoto, cleaned
from northfold.records.queries import standing_result
from northfold.web.models import User

# So much is kept of one make, and so long a note is. [notes, pictures, letters]
MOST_NOTES, MOST_PHOTOS, MOST_LETTERS = 200, 40, 4000


class NothingNoted(CoreError):
    """A note that says nothing."""

    code = "nothing_noted"

    def __init__(self) -> None:
        super().__init__("Write a note, choose a picture, or both.")


class TooMuch(CoreError):
    """As much as is kept of one make is there."""

    code = "too_much"


@transaction.atomic
def write_note(user: User, make: Make, text: str = "", photo: bytes | None = None) -> Note:
    """
    Keep a note, a picture or both; from the first result on they are of the result that stands.

    Raises NothingNoted where there is neither, BadPhoto where the picture cannot be, TooMuch where there are many.
    """
    text = text.replace("\x00", "").strip()[:MOST_LETTERS]
    if not text and photo is None:
        raise NothingNoted
    picture = cleaned(photo) if photo is not None else None
    notes = Note.objects.kept().filter(make=make)
    if notes.count() >= MOST_NOTES:
        raise TooMuch(f"{MOST_NOTES} notes are kept of one make. Put one into the bin first.")
    if picture is not None and notes.filter(photo__isnull=False).count() >= MOST_PHOTOS:
        raise TooMuch(f"{MOST_PHOTOS} pictures are kept of one make. Put one into the bin first.")
    note = Note.objects.create(make=make, result=standing_result(make), text=text, at=timezone.now(), by=user)
    if picture is not None:
        keep_photo(note, picture)
    return note


def keep_photo(note: Note, picture: CleanPhoto) -> Photo:
    return Photo.objects.create(
        note=note, jpeg=picture.jpeg, small=picture.small, width=picture.width, height=picture.height
    )


def bin_note(note: Note) -> None:
    """Put a note, and its picture with it, into the bin."""
    note.put_in_bin()


def restore_note(note: Note) -> None:
    note.put_back()


def notes_of(make: Make) -> list[Note]:
    """The notes of a make, the oldest first; of a picture its sides alone."""
    found = Note.objects.kept().filter(make=make).select_related("by", "photo")
    return list(found.defer("photo__jpeg", "photo__small"))

"""Notes and pictures of makes: kept without what a picture tells of its maker, refused where it is a trap."""

import io
import json
import struct
import zlib
from base64 import b64encode

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from northfold.exchange import queries, services
from northfold.formats.files import BadFile, dumped_in_rows
from northfold.formats.kitchen import SECTIONS
from northfold.makes import services as makes
from northfold.records.models import Note, Photo
from northfold.records.notes import MOST_PHOTOS, TooMuch, write_note
from northfold.records.photos import LONGEST, MOST_BYTES, BadPhoto, cleaned, kept_as_it_is
from northfold.records.queries import last_time
from northfold.records.services import Findings, record_result


@pytest.fixture
def make(head, version, flan_tin):
    found = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    makes.start_make(found)
    return found


def picture(kind="JPEG", size=(800, 600), mode="RGB", colour=(180, 120, 60), **more):
    out = io.BytesIO()
    Image.new(mode, size, colour).save(out, kind, **more)
    return out.getvalue()


def photographed(turn=6):
    """As a phone sends it: lying on its side, with where and when it was taken."""
    plain = Image.new("RGB", (800, 600), "white")
    plain.paste((200, 0, 0), (0, 0, 800, 300))  # red above
    exif = plain.getexif()
    exif[0x0112], exif[0x010F], exif[0x0132] = turn, "Some phone", "2026:11:01 07:00:00"
    exif.get_ifd(0x8825)[2] = (57.0, 9.0, 0.0)
    out = io.BytesIO()
    plain.save(out, "JPEG", exif=exif, comment=b"my kitchen")
    return out.getvalue()


def png(width, height, rows=b""):
    """A PNG by hand, that says how large it is and holds what it likes."""

    def chunk(kind, data):
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(rows)) + chunk(b"IEND", b"")


def test_a_picture_is_turned_upright_and_tells_nothing():
    sent = photographed()
    assert b"Some phone" in sent and b"my kitchen" in sent
    found = cleaned(sent)
    for each in (found.jpeg, found.small):
        with Image.open(io.BytesIO(each)) as kept:
            assert not kept.getexif() and "comment" not in kept.info and "exif" not in kept.info
            assert b"Some phone" not in each and b"2026:11:01" not in each
    with Image.open(io.BytesIO(found.jpeg)) as kept:
        # Turned by a quarter: what lay above is at the right now.
        assert kept.size == (found.width, found.height) == (600, 800)
        assert kept.getpixel((560, 400))[1] < 80 < 200 < kept.getpixel((40, 400))[1]


def test_a_large_picture_is_made_smaller_and_a_see_through_one_lies_on_white():
    found = cleaned(picture(size=(4000, 3000)))
    assert (found.width, found.height) == (LONGEST, 1200) and len(found.small) < len(found.jpeg)
    found = cleaned(picture("PNG", mode="RGBA", colour=(0, 0, 0, 0)))
    with Image.open(io.BytesIO(found.jpeg)) as kept:
        assert min(kept.getpixel((400, 300))) > 250


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_the_three_kinds_are_read(kind):
    assert cleaned(picture(kind)).width == 800


TRAPS = {
    "a bomb by its size": (png(60_000, 60_000), "50 million pixels"),
    "a bomb by its rows": (png(30_000, 30_000, b"\x00" * 90_000), "50 million pixels"),
    "one that says it is small": (png(400, 400, b"\x00" * 20_000_000), None),
    "half a picture": (picture(size=(900, 900), quality=95)[:2000], "broken"),
    "half a PNG": (picture("PNG", size=(900, 900))[:-80], "broken"),
    "too many bytes": (picture() + b"\x00" * MOST_BYTES, "at most 15 MB"),
    "a page": (b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>", "no picture"),
    "another kind": (picture("GIF"), "no picture"),
    "nothing": (b"", "nothing in that file"),
    "a line": (picture("PNG", size=(4000, 2)), "shows nothing"),
}


@pytest.mark.parametrize("trap", TRAPS)
def test_traps_are_refused_in_words(trap):
    data, said = TRAPS[trap]
    if said is None:
        # More rows than it says: what is beyond them is never looked at.
        assert cleaned(data).width == 400
        return
    with pytest.raises(BadPhoto, match=said):
        cleaned(data)


def test_what_hangs_behind_a_picture_is_left_behind():
    sent = picture() + b"<script>alert(1)</script>"
    assert b"script" not in cleaned(sent).jpeg
    assert b"script" not in kept_as_it_is(sent).jpeg
    clean = cleaned(picture()).jpeg
    assert kept_as_it_is(clean).jpeg == clean
    assert kept_as_it_is(photographed(1)).jpeg != photographed(1)


def post(client, make, **sent):
    return client.post(reverse("records:notes", args=[make.pk]), sent, follow=True)


def test_a_note_with_a_picture_is_kept_shown_binned_and_put_back(sign_in, make):
    client = sign_in("bench")
    page = post(client, make, text="Rim too dark.", photo=SimpleUploadedFile("a.jpg", photographed())).content.decode()
    note = Note.objects.get()
    whole, small = (reverse("records:photo", args=[make.pk, note.pk, kind]) for kind in ("whole", "small"))
    assert "Rim too dark." in page and whole in page and small in page
    answer = client.get(whole)
    assert (answer["Content-Type"], answer.content) == ("image/jpeg", bytes(note.photo.jpeg))
    assert answer["Cache-Control"].startswith("private") and answer["X-Content-Type-Options"] == "nosniff"
    assert whole in client.get(reverse("records:result", args=[make.pk])).content.decode()
    client.post(reverse("records:bin_note", args=[make.pk, note.pk]))
    assert client.get(whole).status_code == 404
    assert "Rim too dark." not in client.get(reverse("records:notes", args=[make.pk])).content.decode()
    client.post(reverse("records:restore_note", args=[make.pk, note.pk]))
    assert client.get(whole).status_code == 200


def test_what_was_typed_stays_beside_a_bad_picture(sign_in, make):
    answer = post(sign_in("bench"), make, text="Rim too dark.", photo=SimpleUploadedFile("a.jpg", b"no"))
    page = answer.content.decode()
    assert answer.status_code == 422 and "no picture" in page and "Rim too dark.</textarea>" in page
    assert not Note.objects.exists() and not Photo.objects.exists()
    answer = post(sign_in("bench"), make, text="  ")
    assert answer.status_code == 422 and "Write a note, choose a picture" in answer.content.decode()


def test_a_guest_looks_and_writes_nothing(sign_in, make, head):
    note = write_note(head, make, "Seen.", picture())
    client = sign_in("guest")
    assert "Seen." in client.get(reverse("records:notes", args=[make.pk])).content.decode()
    assert client.get(reverse("records:photo", args=[make.pk, note.pk, "small"])).status_code == 200
    assert post(client, make, text="Mine").status_code == 403
    assert client.get(reverse("records:photo", args=[make.pk + 1, note.pk, "small"])).status_code == 404
    assert client.get(reverse("records:photo", args=[make.pk, note.pk, "other"])).status_code == 404


def test_notes_of_a_result_and_how_many_pictures(make, head):
    result = record_result(head, make, Findings(taste="wanted"))
    assert write_note(head, make, "After.").result == result
    small = picture(size=(20, 20))
    for _ in range(MOST_PHOTOS):
        write_note(head, make, photo=small)
    with pytest.raises(TooMuch, match="40 pictures"):
        write_note(head, make, photo=small)


def test_the_next_make_of_the_dough_is_shown_what_was_said(make, head, version, flan_tin, sign_in):
    record_result(head, make, Findings(taste="wanted"))
    assert last_time(version.formula_id, 0) is None  # all as wanted, and nobody wrote a word
    note = write_note(head, make, "Two fingers of rim.", picture())
    following = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    page = sign_in("guest").get(reverse("makes:steps", args=[following.pk])).content.decode()
    assert "“Two fingers of rim.”" in page and reverse("records:photo", args=[make.pk, note.pk, "small"]) in page


def test_notes_go_out_and_in_with_the_kitchen_pictures_where_they_are_asked_for(make, head):
    note = write_note(head, make, "Two fingers of rim.", photographed())
    jpeg, small = bytes(note.photo.jpeg), bytes(note.photo.small)
    without = "".join(dumped_in_rows(queries.whole(), SECTIONS))
    assert "Two fingers" in without and "photo" not in without
    data = "".join(dumped_in_rows(queries.whole(with_photos=True), SECTIONS))
    assert b64encode(jpeg).decode() in data
    assert queries.photos() == (1, pytest.approx(len(jpeg) * 4 / 3e6))
    # The same make under another id, as if it came from elsewhere.
    file = json.loads(data)
    one = file["makes"][0]
    one["id"] = "6f1f4a52-6a0e-4d0c-9d5a-0b5b8b7f0a01"
    one["notes"][0]["id"] = "6f1f4a52-6a0e-4d0c-9d5a-0b5b8b7f0a02"

    def take():
        services.take(head, services.keep(head, "k.json", json.dumps(file).encode()), change=False)

    take()
    kept = Photo.objects.exclude(note=note).get()
    assert (bytes(kept.jpeg), bytes(kept.small)) == (jpeg, small)
    one["id"] = "6f1f4a52-6a0e-4d0c-9d5a-0b5b8b7f0a03"
    one["notes"][0] |= {"id": "6f1f4a52-6a0e-4d0c-9d5a-0b5b8b7f0a04", "photo": b64encode(png(60_000, 60_000)).decode()}
    with pytest.raises(BadFile, match="50 million pixels"):
        take()
    one["notes"][0]["photo"] = "not base64!"
    with pytest.raises(BadFile, match="picture of a note"):
        take()
    assert Note.objects.count() == 2

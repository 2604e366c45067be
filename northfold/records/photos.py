"""
Pictures from a phone, made safe to keep: checked, decoded within bounds, written anew without what else they tell.

A picture says where and when it was taken and with what; nothing of that is kept. What is written anew can hold
nothing but a picture.
"""

import io
import warnings
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from northfold.core.errors import CoreError

# A file no larger than this is looked at [bytes], and a picture of so many points at most decoded. [pixels]
MOST_BYTES, MOST_PIXELS = 15_000_000, 50_000_000
# What is kept: the longest side of a picture and of its small one [pixels], how good. [%]
LONGEST, SMALL, QUALITY = 1600, 360, 82
# No other reader is asked: each one more is one more that can be wrong.
FORMATS = ("JPEG", "PNG", "WEBP")
# What every JPEG says of itself.
OF_THE_FORMAT = {"jfif", "jfif_version", "jfif_unit", "jfif_density", "progressive", "progression"}


class BadPhoto(CoreError):
    """Something that is no picture, or one that is too large to be looked at."""

    code = "bad_photo"


@dataclass(frozen=True)
class CleanPhoto:
    """A picture that can be kept: itself and its small one as JPEG, its sides. [pixels]"""

    jpeg: bytes
    small: bytes
    width: int
    height: int


def cleaned(data: bytes) -> CleanPhoto:
    """
    A picture, upright and written anew, without anything that came with it.

    Parameters
    ----------
    data : bytes
        A JPEG, PNG or WebP file, at most 15 MB and 50 million pixels.

    Raises
    ------
    BadPhoto
        If it is none of these, is broken, or is too large.
    """
    picture = _opened(data)
    jpeg = _written(picture)
    return CleanPhoto(jpeg, _small(jpeg), *picture.size)


def kept_as_it_is(data: bytes) -> CleanPhoto:
    """
    A picture that another kitchen wrote anew, byte for byte; any other is cleaned. Raises BadPhoto as `cleaned`.

    So that what goes out and comes in again loses nothing.
    """
    found = cleaned(data)
    with Image.open(io.BytesIO(data), formats=FORMATS) as picture:
        plain = picture.format == "JPEG" and picture.mode == "RGB" and max(picture.size) <= LONGEST
        told = set(picture.info) - OF_THE_FORMAT or any(name != "APP0" for name, _ in getattr(picture, "applist", ()))
    # Nothing is told beside its points, and nothing hangs behind its end.
    is_clean = plain and not told and data.endswith(b"\xff\xd9")
    return CleanPhoto(data, _small(data), found.width, found.height) if is_clean else found


def _small(jpeg: bytes) -> bytes:
    """The small one of a picture that is kept."""
    with Image.open(io.BytesIO(jpeg), formats=FORMATS) as picture:
        picture.thumbnail((SMALL, SMALL), Image.Resampling.LANCZOS)
        return _written(picture)


def _opened(data: bytes) -> Image.Image:
    """A picture in memory, upright, in plain colours, no larger than what is kept."""
    if len(data) > MOST_BYTES:
        raise BadPhoto(f"The picture has {len(data) / 1e6:.0f} MB; at most {MOST_BYTES / 1e6:.0f} MB are taken.")
    if not data:
        raise BadPhoto("There is nothing in that file. Choose the picture again.")
    try:
        with warnings.catch_warnings():
            # Pillow warns of a bomb before it refuses one; here a warning is enough.
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=FORMATS) as found:
                _check_size(found.size)
                found.draft("RGB", (LONGEST, LONGEST))
                found.load()
                upright = ImageOps.exif_transpose(found)
    except BadPhoto:
        raise
    except UnidentifiedImageError:
        raise BadPhoto("This is no picture that can be read here: JPEG, PNG and WebP are.") from None
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise BadPhoto(_too_many_pixels()) from None
    except (OSError, SyntaxError, ValueError, EOFError, OverflowError, MemoryError, LookupError, TypeError):
        raise BadPhoto("This picture is broken: it ends too early, or was changed on its way. Send it again.") from None
    plain = _in_plain_colours(upright)
    plain.thumbnail((LONGEST, LONGEST), Image.Resampling.LANCZOS)
    return plain


def _check_size(size: tuple[int, int]) -> None:
    width, height = size
    if width * height > MOST_PIXELS:
        raise BadPhoto(_too_many_pixels())
    if min(width, height) < 8:
        raise BadPhoto(f"A picture of {width} × {height} pixels shows nothing. Choose another.")


def _too_many_pixels() -> str:
    return f"The picture has more than {MOST_PIXELS / 1e6:.0f} million pixels. Make it smaller and send it again."


def _in_plain_colours(found: Image.Image) -> Image.Image:
    """In red, green and blue; what is see-through lies on white."""
    if found.mode in ("RGBA", "LA", "PA") or "transparency" in found.info:
        seen = found.convert("RGBA")
        paper = Image.new("RGB", seen.size, "white")
        paper.paste(seen, mask=seen.getchannel("A"))
        return paper
    return found.convert("RGB")


def _written(picture: Image.Image) -> bytes:
    """As JPEG of its points alone."""
    bare = Image.new("RGB", picture.size)
    bare.paste(picture)
    out = io.BytesIO()
    bare.save(out, "JPEG", quality=QUALITY, optimize=True, progressive=True)
    return out.getvalue()

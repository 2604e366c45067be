"""What all files have in common: how large and how deep they may be, and how what is wrong with them is said."""

import json
from collections.abc import Collection, Iterator
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

# A file is read whole, and no larger than this [bytes]; lists in lists no deeper.
MOST_BYTES, MOST_DEEP = 20_000_000, 40


Loc = tuple[int | str, ...]


class BadFile(Exception):
    """A file that cannot be taken: in words for who wrote it, with the line or the place where it is wrong."""


class BadPlace(BadFile):
    """The same, where what is wrong lies at a place in what was read: keys, and numbers counted from 0."""

    def __init__(self, loc: Loc, said: str) -> None:
        self.loc, self.said = loc, said
        super().__init__(f"{_place(loc)}: {said}")


class Open(BaseModel):
    """A part of a file: unknown keys are an error, so that a slip of the pen is not lost without a word."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


Kind = TypeVar("Kind", bound=Open)


def text_of(data: bytes) -> str:
    """
    The text of a file.

    Raises
    ------
    BadFile
        If it is larger than 20 MB, or neither UTF-8 nor UTF-16 with its mark.
    """
    if len(data) > MOST_BYTES:
        raise BadFile(f"The file has {len(data) / 1e6:,.1f} MB; at most {MOST_BYTES / 1e6:.0f} MB are read.")
    encoding = "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig"
    try:
        return data.decode(encoding)
    except UnicodeDecodeError as error:
        line = data[: error.start].count(b"\n") + 1
        raise BadFile(f"Line {line} is not UTF-8 text. Save the file as UTF-8 and read it again.") from None


def json_of(text: str) -> Any:
    """
    What a JSON text says.

    Raises
    ------
    BadFile
        If it is no JSON, with the line; if lists or objects lie deeper than 40; if a number is not finite or a key
        stands twice in one object.
    """
    _check_depth(text)
    try:
        return json.loads(text, object_pairs_hook=_once, parse_constant=_no_number)
    except json.JSONDecodeError as error:
        raise BadFile(f"Line {error.lineno}, column {error.colno}: this is no JSON ({error.msg}).") from None
    except RecursionError:
        raise BadFile(f"Lists and objects lie deeper than {MOST_DEEP} in this file.") from None


def checked(found: Any, kind: type[Kind], text: str = "") -> Kind:
    """
    What was read, as a file of its kind.

    Raises
    ------
    BadFile
        With every place that is wrong, three at most, and what is expected there; with the line of the `text`.
    """
    try:
        return kind.model_validate(found)
    except ValidationError as error:
        said = [f"{_line(text, each['loc'])}{_place(each['loc'])}: {_words(each)}" for each in error.errors()]
        more = f" And {len(said) - 3} more." if len(said) > 3 else ""
        raise BadFile(f"{' '.join(said[:3])}{more}") from None


def with_line(error: BadFile, text: str) -> BadFile:
    """What is wrong with a text, with the line where it stands."""
    return BadFile(f"{_line(text, error.loc)}{error}") if isinstance(error, BadPlace) else error


def line_of(text: str, loc: Loc) -> int:
    """The line of a JSON text at which a place begins, as far as it is there; from 1."""
    decoder, at = json.JSONDecoder(), _past(text, 0)
    for part in loc:
        if text[at : at + 1] == "[" and isinstance(part, int):
            at = _past(text, at + 1)
            for _ in range(part):
                at = _past(text, decoder.raw_decode(text, at)[1])
        elif text[at : at + 1] == "{":
            inside, found = _past(text, at + 1), None
            while found is None and text[inside : inside + 1] == '"':
                key, after = decoder.raw_decode(text, inside)
                value = _past(text, after)
                if key == part:
                    found = value
                else:
                    inside = _past(text, decoder.raw_decode(text, value)[1])
            if found is None:
                break
            at = found
        else:
            break
    return text.count("\n", 0, at) + 1


def _past(text: str, at: int) -> int:
    """Past blanks, commas and colons between values."""
    while at < len(text) and text[at] in " \t\r\n,:":
        at += 1
    return at


def _line(text: str, loc: Loc) -> str:
    """Where a text was given: in which line of it a place lies."""
    try:
        return f"Line {line_of(text, loc)}, " if text else ""
    except (json.JSONDecodeError, RecursionError):
        return ""


def dumped(file: Open) -> str:
    """A file as JSON to keep: its format first, then whatever is not as it is anyway."""
    found = file.model_dump(mode="json", exclude_defaults=True)
    named = {"format": getattr(file, "format", ""), **found} if hasattr(file, "format") else found
    return json.dumps(named, indent=2, ensure_ascii=False)


def dumped_in_rows(file: Open, sections: Collection[str]) -> Iterator[str]:
    """A file of many rows, piece by piece: each row of a section in one line, as two files are held together."""
    yield "{"
    is_first = True
    for name in type(file).model_fields:
        found = getattr(file, name)
        if found is None or found == ():
            continue
        yield f'{"" if is_first else ","}\n"{name}": '
        is_first = False
        if name in sections:
            yield "["
            for number, row in enumerate(found):
                yield f"{',' if number else ''}\n{_in_one_line(row.model_dump(mode='json', exclude_defaults=True))}"
            yield "\n]"
        else:
            yield _in_one_line(file.model_dump(mode="json", include={name})[name])
    yield "\n}\n"


def _in_one_line(found: Any) -> str:
    return json.dumps(found, ensure_ascii=False)


def _check_depth(text: str) -> None:
    """Hold how deep lists lie, without opening them: brackets in strings do not count."""
    deep, line, in_string, is_escaped = 0, 1, False, False
    for letter in text:
        if in_string:
            in_string = is_escaped or letter != '"'
            is_escaped = letter == "\\" and not is_escaped
        elif letter == '"':
            in_string = True
        elif letter in "[{":
            deep += 1
            if deep > MOST_DEEP:
                raise BadFile(f"Line {line}: lists and objects lie deeper than {MOST_DEEP} in this file.")
        elif letter in "]}":
            deep -= 1
        if letter == "\n":
            line += 1


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise BadFile(f"“{key}” stands twice in one object.")
        found[key] = value
    return found


def _no_number(word: str) -> Any:
    raise BadFile(f"{word} is no number that can be used.")


def _place(loc: Loc) -> str:
    """Where in a file: "lines, 3rd: g"."""
    said = [f"number {part + 1}" if isinstance(part, int) else str(part) for part in loc]
    return " → ".join(said) or "the file"


def _words(error: Any) -> str:
    """What is wrong there, as people say it."""
    kind, given = error["type"], error.get("input")
    told = {
        "missing": "is missing.",
        "extra_forbidden": "is not known here. Take it out, or mind its spelling.",
    }
    if kind in told:
        return told[kind]
    shown = json.dumps(given, default=str, ensure_ascii=False)
    message = str(error["msg"]).removeprefix("Value error, ").rstrip(".")
    return f"{message} (it says {shown if len(shown) < 60 else shown[:57] + '…'})."

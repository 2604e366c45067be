"""
A whole kitchen as a file, or some of it: what it has, its book, its makes with their taps and results, its cold store.

Rows name each other by their id, a UUID; by hand they may do so by name, and have no ids. In texts and plans a tin, a
place or an oven stands as `tin:`, `place:` or `oven:` with its id behind.
"""

from collections.abc import Collection, Iterator, Mapping
from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal
from uuid import NAMESPACE_URL, uuid5

from pydantic import AwareDatetime, Field, model_validator

from northfold.core.day.model import WORKS
from northfold.core.fill.layers import RULES
from northfold.core.fill.ledger import GOES, INTO, USUAL_DRAWING_MIN, USUAL_MARK, WAYS
from northfold.core.fill.making import PAN_L
from northfold.core.fill.mixture import DOUGH, IN, POSITIONS, WHENS, mixture_kinds
from northfold.core.fill.settling import RAW
from northfold.core.formula.units import METRIC, SHOWN_UNITS, SYSTEMS
from northfold.core.heat.places import place_kinds
from northfold.core.learning.faults import fault
from northfold.core.matter import ALLERGENS
from northfold.core.matter.keeping import Keeping
from northfold.core.method import LOSS, LOSS_RANGE
from northfold.core.method.choices import kitchen as setting
from northfold.core.method.choices.halves import HALVES, WHOLE
from northfold.core.method.route.progress import KINDS
from northfold.core.shape import blanks, cutting, decorations, lattice, tins
from northfold.core.week.stock import check_levels
from northfold.formats.files import Open
from northfold.formats.formula import FormulaFile, Grams, IngredientFile, Name, Share

Id = Annotated[str, Field(max_length=36, description="A UUID; may be left out.")]
# Another row: its id, or by hand its name.
Ref = Annotated[str, Field(max_length=120)]
SignIn = Annotated[str, Field(max_length=150)]
At = AwareDatetime
Text = Annotated[str, Field(max_length=300)]
Long = Annotated[str, Field(max_length=100_000)]
Number = Annotated[float, Field(ge=-1e9, le=1e9)]
Count = Annotated[int, Field(ge=0, le=1_000_000)]
# Rows of one section that are read at most.
MOST_ROWS = 200_000
# Letters of a picture in base64.
MOST_PHOTO = 20_000_000
ROLES = ("head", "bench", "guest")
STATES = ("planned", "started", "finished", "abandoned")


def _between(low_high: tuple[float, float]) -> Any:
    return Field(ge=low_high[0], le=low_high[1])


def _one_of(what: str, given: str, known: Any) -> None:
    if given not in known:
        raise ValueError(f"“{given}” is no {what}: one of {', '.join(map(repr, known))}")


class SettingsFile(Open):
    """The kitchen itself: its room [°C], sheet and tray [mm], keeping times, pans, habits."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    measuring_system: str = "metric"
    room_c: Annotated[float, _between(setting.ROOM_RANGE_C)] = setting.ROOM_C
    sheet_length_mm: Annotated[float, Field(ge=100, le=5000)] = max(blanks.SHEET_MM)
    sheet_width_mm: Annotated[float, Field(ge=100, le=5000)] = min(blanks.SHEET_MM)
    tray_length_mm: Annotated[float, Field(ge=100, le=5000)] = max(setting.TRAY_MM)
    tray_width_mm: Annotated[float, Field(ge=100, le=5000)] = min(setting.TRAY_MM)
    keep_rich_h: Annotated[float, Field(ge=1, le=120)] = Keeping.rich_h
    keep_lean_h: Annotated[float, Field(ge=1, le=168)] = Keeping.lean_h
    keep_frozen_weeks: Annotated[float, Field(ge=1, le=52)] = Keeping.frozen_weeks
    keep_thawed_h: Annotated[float, Field(ge=1, le=72)] = Keeping.thawed_h
    pan_l: Annotated[float, _between(PAN_L)] = setting.PAN_ML / 1000
    pans: Annotated[int, Field(ge=1, le=12)] = 1
    backups_kept: Annotated[int, Field(ge=0, le=365)] = 14
    opens_min: Annotated[int, Field(ge=0, le=1440)] = setting.OPENS_MIN
    closes_min: Annotated[int, Field(ge=0, le=1440)] = setting.CLOSES_MIN
    iced_water: bool = False
    shown_units: str = METRIC
    currency: Annotated[str, Field(max_length=6)] = "€"
    schools: dict[str, str] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _fits(self) -> "SettingsFile":
        _one_of("measuring system", self.measuring_system, SYSTEMS)
        _one_of("system of units", self.shown_units, SHOWN_UNITS)
        return self


class AccountFile(Open):
    """An account. No password goes out: whoever is new gets one from the head of the kitchen."""

    sign_in: Annotated[str, Field(min_length=1, max_length=150, pattern=r"^[\w.@+-]+$")]
    first_name: Annotated[str, Field(max_length=150)] = ""
    last_name: Annotated[str, Field(max_length=150)] = ""
    role: str = "bench"
    active: bool = True

    @model_validator(mode="after")
    def _fits(self) -> "AccountFile":
        _one_of("role", self.role, ROLES)
        return self


class RowFile(Open):
    """What every row has: an id, and when it went into the bin."""

    id: Id = ""
    binned_at: At | None = None


class PersonFile(RowFile):
    """Somebody who works here, with the account they sign in to, if any."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    account: SignIn = ""
    at_work: bool = False
    from_min: Annotated[int, Field(ge=0, le=1440)] | None = None
    to_min: Annotated[int, Field(ge=0, le=1440)] | None = None
    does: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _fits(self) -> "PersonFile":
        for each in self.does:
            _one_of("kind of work", each, WORKS)
        return self


class RevisionFile(IngredientFile):
    """An ingredient as it was known from some day on."""

    name: str = ""
    since: At | None = None


class PriceFile(Open):
    """What a pack cost from some day on."""

    at: At | None = None
    pack_g: Annotated[float, Field(gt=0, le=1_000_000)]
    price: Annotated[Decimal, Field(ge=0, max_digits=10, decimal_places=2)]
    waste: Annotated[float, Field(ge=0, lt=1)] = 0.0


class ShelfFile(RowFile):
    """An ingredient with all its revisions and prices, the oldest first."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    aliases: tuple[Annotated[str, Field(max_length=80)], ...] = ()
    revisions: tuple[RevisionFile, ...] = Field(min_length=1, max_length=10_000)
    prices: tuple[PriceFile, ...] = ()


class PlaceFile(RowFile):
    """A place in which a dough waits; without `air_c` it is as warm as the room. [°C]"""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    kind: str
    air_c: Annotated[float, Field(ge=-40, le=45)] | None = None
    trays: Annotated[int, Field(ge=0, le=1000)] = 0

    @model_validator(mode="after")
    def _fits(self) -> "PlaceFile":
        _one_of("kind of place", self.kind, place_kinds())
        return self


class OvenFile(RowFile):
    """An oven: how much lower it is set than a still one [K], tray places, until it is hot. [min]"""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    fan: bool = False
    small: bool = False
    offset_k: Annotated[float, Field(ge=-60, le=60)] | None = None
    trays: Annotated[int, Field(ge=0, le=60)] = 0
    heats_min: Annotated[float, Field(ge=5, le=240)] | None = None


class MixerFile(RowFile):
    """A mixer, by the least and the most dough it works well. [g]"""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    smallest_g: Annotated[float, Field(ge=1, le=200_000)]
    largest_g: Annotated[float, Field(ge=1, le=500_000)]

    @model_validator(mode="after")
    def _fits(self) -> "MixerFile":
        if self.smallest_g > self.largest_g:
            raise ValueError(f"smallest_g {self.smallest_g:g} is more than largest_g {self.largest_g:g}")
        return self


class TinFile(RowFile):
    """A tin by its inside measures, or a shape made without one by its finished ones. [mm]"""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: str
    top_mm: float
    base_mm: float = 0
    top_width_mm: float = 0
    base_width_mm: float = 0
    height_mm: float = 0
    border_mm: float = 0
    material: str = "bright"
    per_tray: Annotated[int, Field(ge=1, le=200)] = 1
    owned: Annotated[int, Field(ge=1, le=5000)] = 1

    @model_validator(mode="after")
    def _fits(self) -> "TinFile":
        _one_of("kind of tin", self.kind, tins.kinds())
        _one_of("material", self.material, tins.MATERIALS)
        measures = tins.kinds()[self.kind].measures
        for measure in ("top", "base", "top_width", "base_width", "height", "border"):
            low, high = {"height": tins.HEIGHT_MM, "border": tins.BORDER_MM}.get(measure, tins.SIDE_MM)
            given = getattr(self, f"{measure}_mm")
            if measure in measures and not low <= given <= high and (given or not measure.startswith("base")):
                raise ValueError(f"{measure}_mm of {self.name} is {given:g}, and goes from {low:g} to {high:g}")
        tins.check_tin(
            tins.Tin(
                self.name, self.kind, self.top_mm, self.base_mm or self.top_mm, self.height_mm, self.top_width_mm,
                self.base_width_mm or self.top_width_mm, "", self.border_mm, self.material,
            )
        )  # fmt: skip
        return self


class WeighedFile(Open):
    """A line of a version: an ingredient, as one of its revisions had it, or a version of a mixture. [g]"""

    ingredient: Ref = ""
    revision: Annotated[int, Field(ge=1)] | None = None
    mixture: Ref = ""
    version: Annotated[int, Field(ge=1)] | None = None
    g: Grams
    g_low: Grams
    g_high: Grams
    as_written: Annotated[str, Field(max_length=1000)] = ""
    prep: Annotated[str, Field(max_length=1000)] = ""

    @model_validator(mode="after")
    def _fits(self) -> "WeighedFile":
        if bool(self.ingredient) == bool(self.mixture):
            raise ValueError("a line is of an ingredient or of a mixture")
        if not self.g_low <= self.g <= self.g_high:
            raise ValueError(f"g_low, g and g_high are in that order, not {self.g_low:g}, {self.g:g}, {self.g_high:g}")
        return self


class VersionFile(Open):
    """A formula as it was saved once; `draft` is what its page was like when it was saved."""

    n: Annotated[int, Field(ge=1)]
    parent: Annotated[int, Field(ge=1)] | None = None
    by: SignIn = ""
    at: At
    note: Text = ""
    source_text: Long = ""
    schools: dict[str, str] = Field(default_factory=dict)
    draft: dict[str, Any]
    lines: tuple[WeighedFile, ...] = Field(min_length=1, max_length=400)

    @model_validator(mode="after")
    def _fits(self) -> "VersionFile":
        if self.parent is not None and self.parent >= self.n:
            raise ValueError(f"version {self.n} cannot come of version {self.parent}")
        return self


class BookFile(RowFile):
    """A formula with every version of it, the first one first; `beside` is the recipe a mixture was in."""

    name: Name
    kind: str = DOUGH
    tags: tuple[Annotated[str, Field(max_length=40)], ...] = ()
    beside: Ref = ""
    created_at: At | None = None
    versions: tuple[VersionFile, ...] = Field(min_length=1, max_length=10_000)

    @model_validator(mode="after")
    def _fits(self) -> "BookFile":
        _one_of("kind of formula", self.kind, (DOUGH, *mixture_kinds()))
        numbers = [version.n for version in self.versions]
        if numbers != list(range(1, len(numbers) + 1)):
            raise ValueError(f"versions of {self.name} are numbered {numbers}, and go 1, 2, 3 …")
        return self


class DraftFile(Open):
    """What somebody was editing and had not saved."""

    by: SignIn
    formula: Ref = ""
    base: Annotated[int, Field(ge=1)] | None = None
    edit_no: Count = 0
    draft: dict[str, Any]


class EditFile(Open):
    """A maker's own value for a field of a step; `replaced` is what the plan said then."""

    step: Annotated[str, Field(min_length=1, max_length=20)]
    field: Annotated[str, Field(min_length=1, max_length=20)]
    value: Annotated[str, Field(max_length=200)]
    replaced: Annotated[str, Field(max_length=40)] = ""
    by: SignIn = ""
    at: At | None = None


class MethodFile(RowFile):
    """A kitchen's own way with one route: edits under a name."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: Annotated[str, Field(max_length=20)]
    usual: bool = False
    by: SignIn = ""
    at: At | None = None
    edits: tuple[EditFile, ...] = Field(default=(), max_length=400)


class LayerFile(Open):
    """A layer of an item: a mixture, when it goes in and where, how much, how its juice is worked first."""

    formula: Ref
    version: Annotated[int, Field(ge=1)] | None = None
    when: str
    position: str = IN
    rule: str
    amount: Annotated[float, Field(ge=0, le=200_000)] = 0.0
    way: str = RAW
    drawn_min: Annotated[float, Field(ge=0, le=1440)] = USUAL_DRAWING_MIN
    mark: Share = USUAL_MARK
    goes: str = INTO
    on_hand_g: Grams = 0.0

    @model_validator(mode="after")
    def _fits(self) -> "LayerFile":
        for what, given, known in (
            ("time to go in", self.when, WHENS), ("position", self.position, POSITIONS), ("rule", self.rule, RULES),
            ("way", self.way, WAYS), ("way for the juice", self.goes, GOES),
        ):  # fmt: skip
            _one_of(what, given, known)
        return self


class PiecesFile(Open):
    """Some pieces of a make, all alike. [mm, g]"""

    tin: Ref
    count: Annotated[int, _between(blanks.COUNT)] = 1
    thickness_mm: Annotated[float, _between(blanks.THICKNESS_MM)] | None = None
    overhang_mm: Annotated[float, _between(blanks.OVERHANG_MM)] | None = None
    trimming: str | None = None
    margin_mm: Annotated[float, _between(blanks.MARGIN_MM)] = 10.0
    offcuts: str = blanks.APART
    cover: str = blanks.OPEN
    heap_mm: Annotated[float, _between((0, blanks.HEAP_MM[1]))] = 0.0
    edge_mm: Annotated[float, _between((0, blanks.EDGE_RANGE_MM[1]))] = blanks.EDGE_MM
    filling: Annotated[str, Field(max_length=60)] = ""
    filling_g: Annotated[float, _between((0, blanks.FILLING_G[1]))] = 0.0
    filling_allergens: tuple[str, ...] = ()
    slices: Annotated[int, _between((0, blanks.SLICES[1]))] = 0
    sold_as: Annotated[str, Field(max_length=48)] = ""
    rolling: str = blanks.USUAL
    web_mm: Annotated[float, _between((0, cutting.WEB_RANGE_MM[1]))] = cutting.WEB_MM
    strip_mm: Annotated[float, _between(lattice.STRIP_RANGE_MM)] = lattice.STRIP_MM
    gap_mm: Annotated[float, _between(lattice.GAP_RANGE_MM)] = lattice.GAP_MM
    leaves: Annotated[int, _between(decorations.DECORATIONS)] = 0
    stars: Annotated[int, _between(decorations.DECORATIONS)] = 0
    layers: tuple[LayerFile, ...] = Field(default=(), max_length=40)

    @model_validator(mode="after")
    def _fits(self) -> "PiecesFile":
        if self.trimming is not None:
            _one_of("manner of trimming", self.trimming, blanks.TRIMMING)
        _one_of("use of offcuts", self.offcuts, blanks.OFFCUTS)
        _one_of("cover", self.cover, blanks.COVERS)
        _one_of("way of rolling", self.rolling, blanks.ROLLING)
        for each in self.filling_allergens:
            _one_of("allergen", each, ALLERGENS)
        return self


class FrozenFile(Open):
    """A plan with all that it was reckoned from, as it stood when the make was started or planned anew."""

    seq: Annotated[int, Field(ge=1)]
    cause: Annotated[str, Field(max_length=120)]
    core_version: Annotated[str, Field(max_length=20)]
    at: At
    plan: dict[str, Any]


class TapFile(Open):
    """What happened at the bench: a tap, a weight, a reading. `value` by kind: line and grams, c, minutes, text."""

    step: Annotated[str, Field(max_length=20)]
    kind: str
    at: At
    by: SignIn
    device: Annotated[str, Field(max_length=40)] = ""
    client: Annotated[str, Field(min_length=1, max_length=40)]
    value: dict[str, Any] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _fits(self) -> "TapFile":
        _one_of("kind of tap", self.kind, KINDS)
        return self


class MeasureFile(Open):
    """A number read off a ruler, a scale, a thermometer. [mm, g, °C]"""

    quantity: Literal["before", "after", "gap", "room", "rolled", "lid_gap", "juice"]
    position: Annotated[str, Field(max_length=10)] = ""
    value: Number
    instrument_error: Number = 0.5


class ResultFile(Open):
    """One look at what came out of the oven; the one that no other `supersedes` stands."""

    id: Id = ""
    piece: Count = 0
    at: At
    by: SignIn
    taste: Literal["", "wanted", "nearly", "not_yet"] = ""
    note: Long = ""
    doubtful: bool = False
    slumped: bool = False
    evidence: Id = ""
    supersedes: Id = ""
    measures: tuple[MeasureFile, ...] = Field(default=(), max_length=100)
    faults: tuple[str, ...] = Field(default=(), max_length=40)

    @model_validator(mode="after")
    def _fits(self) -> "ResultFile":
        for each in self.faults:
            if fault(each) is None:
                raise ValueError(f"“{each}” is no fault that is known")
        return self


class NoteFile(RowFile):
    """Something that was said of a make or of a result of it; `photo` is a JPEG in base64, where pictures go out."""

    text: Annotated[str, Field(max_length=4000)] = ""
    at: At
    by: SignIn = ""
    result: Id = ""
    photo: Annotated[str, Field(max_length=MOST_PHOTO)] = ""


class ChangeFile(Open):
    """Another number of an order on one date, 0 where it is left out."""

    on: date
    pieces: Annotated[int, Field(ge=0, le=10_000)]


class OrderFile(RowFile):
    """A standing order: so many pieces like those of a make, on these days of the week (0 is Monday). [min of day]"""

    like: Ref
    pieces: Annotated[int, Field(ge=1, le=10_000)]
    for_whom: Annotated[str, Field(max_length=60)] = ""
    weekdays: tuple[Annotated[int, Field(ge=0, le=6)], ...] = Field(max_length=7)
    at_min: Annotated[int, Field(ge=0, le=1440)]
    begins: date | None = None
    ends: date | None = None
    from_freezer: bool = False
    by: SignIn = ""
    created_at: At | None = None
    changes: tuple[ChangeFile, ...] = Field(default=(), max_length=4000)


class LevelFile(RowFile):
    """Frozen pieces like those of a make, kept between two levels."""

    like: Ref
    low: Annotated[int, Field(ge=0, le=10_000)]
    high: Annotated[int, Field(ge=1, le=10_000)]
    by: SignIn = ""
    created_at: At | None = None

    @model_validator(mode="after")
    def _fits(self) -> "LevelFile":
        check_levels(self.low, self.high)
        return self


class MadeForFile(Open):
    """What a make was made for: so many pieces of an order on a date, or a stock between two levels."""

    order: Ref = ""
    level: Ref = ""
    on: date
    pieces: Annotated[int, Field(ge=0, le=10_000)]


class MakeFile(RowFile):
    """
    A make: a version of a formula, its pieces, for when; what its maker chose; what was frozen, tapped and found.

    By hand a formula, and pieces with their tins, are enough.
    """

    formula: Ref
    version: Annotated[int, Field(ge=1)] | None = None
    due: At | None = None
    state: str = "planned"
    half: str = WHOLE
    room_c: Annotated[float, _between(setting.ROOM_RANGE_C)] | None = None
    loss: Annotated[float, _between(LOSS_RANGE)] = LOSS
    glaze_g: Annotated[float, Field(ge=0, le=100_000)] = 0.0
    on_hand_g: Grams = 0.0
    weight: Annotated[int, Field(ge=1, le=3)] = 1
    fresh_min: Annotated[int, Field(ge=0, le=10_080)] | None = None
    edit_no: Count = 0
    by: SignIn = ""
    created_at: At | None = None
    items: tuple[PiecesFile, ...] = Field(min_length=1, max_length=60)
    edits: tuple[EditFile, ...] = Field(default=(), max_length=1000)
    plans: tuple[FrozenFile, ...] = Field(default=(), max_length=200)
    taps: tuple[TapFile, ...] = Field(default=(), max_length=20_000)
    results: tuple[ResultFile, ...] = Field(default=(), max_length=200)
    notes: tuple[NoteFile, ...] = Field(default=(), max_length=1000)
    made_for: tuple[MadeForFile, ...] = Field(default=(), max_length=200)

    @model_validator(mode="after")
    def _fits(self) -> "MakeFile":
        _one_of("state", self.state, STATES)
        _one_of("half", self.half, HALVES)
        numbers = [each.seq for each in self.plans]
        if numbers != list(range(1, len(numbers) + 1)):
            raise ValueError(f"plans are numbered {numbers}, and go 1, 2, 3 …")
        if (self.state == "planned") == bool(self.plans):
            said = "a planned make has no frozen plan" if self.plans else f"a make that is {self.state} has its plan"
            raise ValueError(said)
        if self.state == "planned" and (self.taps or self.results):
            raise ValueError("a planned make has no taps and no results")
        return self


class MoveFile(Open):
    """What went into a lot (+) or out of it (−); `undoes` is the number of the taking that it puts back, from 1."""

    amount: Number
    at: At
    by: SignIn = ""
    why: Annotated[str, Field(max_length=80)]
    undoes: Annotated[int, Field(ge=1)] | None = None


class LotFile(Open):
    """One thing of one day in one place, with every gram that went in or out."""

    id: Id = ""
    what: Name
    kind: Literal["dough", "offcuts", "pieces", "whites", "yolks", "egg", "mixture"]
    unit: Literal["g", "pieces"] = "g"
    formula: Ref = ""
    tin: Ref = ""
    source: Annotated[str, Field(max_length=80)] = ""
    allergens: tuple[str, ...] = ()
    rich: bool = False
    made_at: At
    place: Ref
    since: At
    thawed: bool = False
    moves: tuple[MoveFile, ...] = Field(min_length=1, max_length=10_000)

    @model_validator(mode="after")
    def _fits(self) -> "LotFile":
        for each in self.allergens:
            _one_of("allergen", each, ALLERGENS)
        for number, move in enumerate(self.moves, 1):
            if move.undoes is not None and move.undoes >= number:
                raise ValueError(f"move {number} of {self.what} undoes move {move.undoes}, which is no earlier one")
        return self


# Kinds of evidence, and what was measured.
EVIDENCE = {
    "shrink": "shrink of cases", "liquid": "liquid that flours took", "friction": "warming by the work",
    "place": "readings in the cold", "pace": "minutes of hands", "oven": "heat of ovens", "juice": "juice of fruit",
    "settling": "how fillings settled",
}  # fmt: skip


class EvidenceFile(Open):
    """Something measured against its prediction; its id is made of what it says, see `evidence_id`."""

    id: Id = ""
    kind: str
    subject: Annotated[str, Field(min_length=1, max_length=120)]
    predicted: Number
    measured: Number
    instrument: Number
    detail: dict[str, Any] = Field(default_factory=dict)
    source: Annotated[str, Field(max_length=120)]
    at: At
    doubtful: bool = False
    supersedes: Id = ""

    @model_validator(mode="after")
    def _fits(self) -> "EvidenceFile":
        _one_of("kind of evidence", self.kind, EVIDENCE)
        return self


def evidence_id(row: EvidenceFile, taken: Collection[str]) -> str:
    """The id of a piece of evidence, made of what it says, so that it is known again; another where it is taken."""
    said = row.model_dump_json(exclude={"id"})
    while (found := str(uuid5(NAMESPACE_URL, said))) in taken:
        said += "+"
    return found


def _rows() -> Any:
    return Field(default=(), max_length=MOST_ROWS)


class KitchenFile(Open):
    """
    A whole kitchen, or any part of one.

    `formulas` is for files written by hand: formulas as they are now, each in its own format. What this product writes
    stands in `book`, with every version.
    """

    format: Literal["northfold/kitchen/1"] = "northfold/kitchen/1"
    written_at: At | None = None
    settings: SettingsFile | None = None
    accounts: tuple[AccountFile, ...] = _rows()
    people: tuple[PersonFile, ...] = _rows()
    ingredients: tuple[ShelfFile, ...] = _rows()
    places: tuple[PlaceFile, ...] = _rows()
    ovens: tuple[OvenFile, ...] = _rows()
    mixers: tuple[MixerFile, ...] = _rows()
    tins: tuple[TinFile, ...] = _rows()
    formulas: tuple[FormulaFile, ...] = _rows()
    book: tuple[BookFile, ...] = _rows()
    drafts: tuple[DraftFile, ...] = _rows()
    methods: tuple[MethodFile, ...] = _rows()
    makes: tuple[MakeFile, ...] = _rows()
    lots: tuple[LotFile, ...] = _rows()
    orders: tuple[OrderFile, ...] = _rows()
    levels: tuple[LevelFile, ...] = _rows()
    evidence: tuple[EvidenceFile, ...] = _rows()


# The sections that hold rows, in the order in which they are read, with what one of them is called.
SECTIONS = {
    "accounts": "account", "people": "person", "ingredients": "ingredient", "places": "place", "ovens": "oven",
    "mixers": "mixer", "tins": "tin", "formulas": "formula", "book": "formula", "drafts": "draft",
    "methods": "method", "makes": "make", "lots": "thing in the cold store",
    "orders": "standing order", "levels": "frozen stock", "evidence": "piece of evidence",
}  # fmt: skip


def rows_of(file: KitchenFile) -> Iterator[tuple[str, int, Any]]:
    """Every row of a file: its section, its number in it from 1, the row."""
    for section in SECTIONS:
        for number, row in enumerate(getattr(file, section), 1):
            yield section, number, row


def name_of(section: str, row: Any, formulas: Mapping[str, str]) -> str:
    """What a row is called where it is spoken of; `formulas` has names by what else they are named by."""
    if section == "makes":
        called = formulas.get(row.formula.casefold(), row.formula)
        return f"{called}, {row.due.day} {row.due:%B}" if row.due else called
    if section == "accounts":
        return str(row.sign_in)
    if section == "drafts":
        return f"draft of {row.by}"
    if section == "lots":
        return f"{row.what}, {row.made_at.day} {row.made_at:%B}"
    if section == "evidence":
        return EVIDENCE[row.kind]
    if section == "orders":
        return f"{row.pieces} pieces" + (f" for {row.for_whom}" if row.for_whom else "")
    if section == "levels":
        return f"{row.low} to {row.high} pieces"
    return str(row.name)

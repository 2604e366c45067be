"""Keys of steps: stable words, under which edits, plans and records are kept. `steps.toml` has a row for each."""

# Into the bowl and out of it.
BEFORE = "before"
WEIGH = "weigh"
BOIL = "boil"
MIX = "mix"
SHAPE = "shape"
SHAPE_PULLED = "shape.pulled"
SHAPE_WARM = "shape.warm"

# Rest, cold and warmth.
REST = "rest.1"
REST_WARM = "rest.warm"
REST_TURN = "rest.turn"
WAIT_TURN = "wait.turn"
REST_SHEET = "rest.sheet"
TEMPER = "temper.1"
CHILL = "chill.1"
FREEZE, THAW = "freeze", "thaw"
TAKE_OUT, TAKE_DOUGH = "take.out", "take.dough"
COOL_WARM = "cool.warm"
PROVE = "prove"

# Folding. What a turn, and the cold after it, are told like; those of a plan are numbered.
BLOCK = "block"
FAT_SLAB = "fat.slab"
LOCK = "lock"
TURNS = "turns"
TURN_N = "turn.n"
COLD_N = "cold.n"

# Under the pin or over the hands.
ROLL = "roll.main"
ROLL_FIRST = "roll.first"
ROLL_WARM = "roll.warm"
PULL = "pull"
PULL_FIRST = "pull.first"
PRESS = "press"
ROLL_PART = "roll.part"

# Into tins, or as pieces.
TINS = "tins"
GREASE = "grease"
LINE = "line"
LINE_BASE = "line.base"
LAY = "lay"
CUT = "cut"
COIL = "coil"
RIM = "rim"
DOCK = "dock"
DOCK_ALL = "dock.all"

# Filled and closed.
FILL = "fill"
FILL_BORDER = "fill.border"
FILL_SLAB = "fill.slab"
FILL_PULLED = "fill.pulled"
LAYER_COLD, LAYER_TOP = "layer.cold", "layer.top"
LAYER_PAIR = "layer.pair"
TORCH, DUST = "torch", "dust"
LAYER_SET = "layer.set"
LID = "lid"
SOFTEN = "soften"
CLOSE = "close"
VENT = "vent"
LEAVES = "leaves"
FOLD_IN = "fold_in"
ROLL_UP = "roll_up"

# The oven and after. `BAKE` stands in routes for all stages of the bake.
OVEN_ON = "oven.on"
GLAZE = "glaze"
GLAZE_MIDWAY, GLAZE_AFTER = "glaze.midway", "glaze.after"
# Whenever a glaze goes on, its fields are kept at the first.
GLAZES = (GLAZE, GLAZE_MIDWAY, GLAZE_AFTER)
GLAZE_FAT = "glaze.fat"
WEIGHTS = "weights"
WEIGHTS_OFF = "weights.off"
BAKE = "bake"
BAKE_ON = "bake.on"
BAKE_OFF = "bake.off"
BAKE_FILLED = "bake.filled"
BAKE_BASE_ON, BAKE_BASE = "bake.base_on", "bake.base"
FILL_CASE = "fill.case"
BAKE_MAIN = "bake.main"
BAKE_LOW = "bake.low"
BAKE_AGAIN = "bake.again"
TRAY = "tray"
COVER_RIM = "rim.cover"
SEAL = "seal"
COOL = "cool"
COOL_FILLED = "cool.filled"
COOL_SECOND = "cool.second"
COOL_BASE = "cool.base"
COOL_FLAT = "cool.flat"
COOL_SET = "set"
COOLS = (COOL, COOL_FILLED, COOL_FLAT, COOL_SET, COOL_SECOND, COOL_BASE)
TRIM = "trim"
PORTION = "portion"

# Where several products are made of one dough, steps that only one of them goes through carry its number behind this;
# those of the first product carry none.
OF_ITEM = "~"


def of_item(key: str, number: int) -> str:
    """The key of a step that only one product goes through, counted from 1."""
    return key if number <= 1 else f"{key}{OF_ITEM}{number}"


def plain(key: str) -> str:
    """The key without the product that it is of."""
    return key.partition(OF_ITEM)[0]


def product_of(key: str) -> int:
    """The number of the product that a step is of, as its key says: 1 of the first, and where it does not."""
    _, _, number = key.partition(OF_ITEM)
    return int(number) if number else 1


# Of each mixture, beside the dough, as rows tell it; in a plan its number stands within, see `of_mixture`. `MIXTURES`
# stands for all of them.
MIXTURE_ = "mixture."
MIX_PREPARE, MIX_DRAW, MIX_REDUCE = "mixture.prepare", "mixture.draw", "mixture.reduce"
MIX_SYRUP, MIX_MAKE, MIX_DRAIN = "mixture.syrup", "mixture.make", "mixture.drain"
MIX_COOL = "mixture.cool"
MIX_BOIL, MIX_FOLD = "mixture.boil", "mixture.fold"
MIXTURES = "mixtures"


def of_mixture(number: int, row: str) -> str:
    """The key of a step of a mixture, counted from 1, that is told like a row: mixture.2.cool."""
    return f"{MIXTURE_}{number}.{row.removeprefix(MIXTURE_)}"


# Beginnings of keys of which there may be several; those of a maker's own steps end in a number.
OWN_ = "own."
TURN_ = "turn."
COLD_ = "cold."
TEMPER_TURN_ = "temper.t"
BAKE_ = "bake."
FILL_ = "fill"

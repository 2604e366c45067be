"""Days by chance, for the planner to be held against: makes of a few tasks each, in kitchens of any size."""

import random

from northfold.core.day.model import BESIDE, HANDS, OVEN, WAIT, Bowl, Day, Due, House, OvenOf, Store, Task, Worker


def chance(seed: int, makes: int | None = None) -> Day:
    """A day by chance: people of one or two shifts, an oven or two, waits with and without room."""
    pick = random.Random(seed)
    many = makes or pick.randint(1, 6)
    workers = tuple(
        Worker(
            f"p{n}",
            f"P{n}",
            tuple((day * 1440 + begin, day * 1440 + begin + long) for day in range(-1, 6)),
            frozenset(pick.sample(["weigh", "roll", "bake"], 2)) if n > 1 and pick.random() < 0.3 else frozenset(),
        )
        for n in range(pick.randint(1, 4))
        for begin, long in [pick.choice([(300, 900), (300, 480), (720, 540), (0, 1440)])]
    )
    ovens = tuple(
        OvenOf(
            f"o{n}", f"O{n}", pick.choice([0, 2, 4]), heats_min=pick.choice([0, 20, 60]), alike=pick.choice(["", "fan"])
        )
        for n in range(pick.randint(1, 2))
    )
    house = House(workers, ovens, (Store("fridge", "Fridge", pick.choice([0, 3, 6])),), (Bowl("bowl", "Bowl"),))
    tasks: list[Task] = []
    dues = []
    for number in range(many):
        own, last = _make(pick, f"m{number}", ovens)
        tasks += own
        due = pick.randint(300, 2200)
        dues.append(Due(f"m{number}", f"Make {number}", due, last, pick.randint(1, 3), pick.choice([None, None, 240])))
    return Day(house, tuple(tasks), tuple(dues), pick.choice([0, 300, 420]))


def _make(pick: random.Random, name: str, ovens: tuple[OvenOf, ...]) -> tuple[list[Task], str]:
    weigh, rest = pick.randint(5, 30), pick.randint(20, 90)
    roll, chill, bake, cool = pick.randint(5, 40), pick.randint(10, 60), pick.randint(15, 50), pick.randint(0, 40)
    oven, trays = pick.choice(ovens), pick.randint(1, 2)
    key = lambda step: f"{name}/{step}"  # noqa: E731
    found = [
        Task(key("weigh"), name, "weigh", "Weigh", HANDS, weigh, weigh, hands=1, work="weigh",
             bowl=pick.choice(["", "bowl"])),
        Task(key("rest"), name, "rest", "Rest", WAIT, rest, pick.choice([rest, 960]), (key("weigh"),), at_once=True,
             place="fridge", trays=trays),
        Task(key("roll"), name, "roll", "Roll", HANDS, roll, roll, (key("rest"),), at_once=True,
             hands=pick.choice([1, 1, 2]), work="roll"),
        Task(key("chill"), name, "chill", "Chill", WAIT, chill, pick.choice([chill, 120 + chill, 960]), (key("roll"),),
             at_once=True, place="fridge", trays=trays),
        Task(key("load"), name, "load", "Load", HANDS, 2, 2, (key("chill"),), at_once=True, hands=1, work="bake"),
        Task(key("bake"), name, "bake", "Bake", OVEN, bake, bake, (key("load"),), at_once=True, oven=oven.key,
             oven_c=pick.choice([160.0, 180.0, 200.0]), trays=trays),
    ]  # fmt: skip
    last = key("bake")
    if cool:
        found.append(Task(key("cool"), name, "cool", "Cool", WAIT, cool, cool, (last,), at_once=True))
        last = key("cool")
    if pick.random() < 0.4:
        filling = Task(key("filling"), name, "filling", "Filling", BESIDE, 10, 10, within=90, hands=1, work="weigh")
        place = next(n for n, task in enumerate(found) if task.step == "roll")
        roll_task = found[place]
        found[place] = Task(**{**vars(roll_task), "after": (*roll_task.after, filling.key)})
        found.append(filling)
    return found, last

"""
Whether a planned day holds, read from its file alone: nothing of the planner is used here.

`wrongs` says what does not: an empty list is a day that can be worked as it stands.
"""

import itertools
from collections.abc import Mapping
from datetime import datetime
from typing import Any


def _minutes(begin: str, end: str) -> float:
    return (datetime.fromisoformat(end) - datetime.fromisoformat(begin)).total_seconds() / 60


def wrongs(plan: Mapping[str, Any]) -> list[str]:
    zero = plan["now"]
    tasks = {task["key"]: task for task in plan["tasks"]}
    at = {key: _minutes(zero, task["start"]) for key, task in tasks.items()}
    to = {key: _minutes(zero, task["end"]) for key, task in tasks.items()}
    told = {each["about"] for each in plan["broken"]}
    found = []
    for key, task in tasks.items():
        long = to[key] - at[key]
        if key in told:
            continue
        if not task["spans"] and long < task["least_min"]:
            found.append(f"{key} lasts {long}, {task['least_min']} at least")
        if not task["spans"] and task["most_min"] is not None and long > task["most_min"]:
            found.append(f"{key} lasts {long}, {task['most_min']} at most")
        if not task["fixed"] and at[key] < 0:
            found.append(f"{key} begins before now")
        for place, before in enumerate(task["after"]):
            if at[key] < to[before]:
                found.append(f"{key} begins before {before} is over")
            if task["at_once"] and not place and at[key] != to[before]:
                found.append(f"{key} does not follow at once on {before}")
            within = tasks[before]["within_min"]
            if within is not None and at[key] > to[before] + within:
                found.append(f"{key} comes too long after {before}")
        if task["spans"]:
            first, last = task["spans"]
            if (at[key], to[key]) != (at[first], to[last]):
                found.append(f"{key} is not as long as {first} to {last}")
    found += _people(plan, tasks, at, to, told, zero)
    found += _ovens(plan, tasks, at, to, told)
    found += _places(plan, tasks, at, to)
    for mixer in plan["kitchen"]["mixers"]:
        loads = sorted((at[key], to[key], key) for key, task in tasks.items() if task["mixer"] == mixer["key"])
        found += [
            f"{two[2]} goes into a mixer that {one[2]} is in"
            for one, two in itertools.pairwise(loads)
            if two[0] < one[1]
        ]
    total = 0.0
    for make in plan["makes"]:
        late = max(0.0, _minutes(make["due"], make["ready"]))
        total += make["weight"] * late
        ends = [
            to[key]
            for key, task in tasks.items()
            if task["make"] == make["key"] and task["kind"] in ("hands", "wait", "oven")
        ]
        if max(ends) > _minutes(zero, make["ready"]):
            found.append(f"{make['key']} is told ready before its last step is over")
        if late != make["late_min"]:
            found.append(f"{make['key']} is {late} late, {make['late_min']} told")
        if (
            make["fresh_min"] is not None
            and make["key"] not in told
            and _minutes(make["ready"], make["due"]) > make["fresh_min"]
        ):
            found.append(f"{make['key']} is ready too early")
    if total != plan["score"]["late_min"]:
        found.append(f"{total} late in all, {plan['score']['late_min']} told")
    if plan["bound"]["late_min"] is not None and plan["bound"]["late_min"] > total:
        found.append("the bound is above what was found")
    return found


def _people(plan: Any, tasks: Any, at: Any, to: Any, told: Any, zero: str) -> list[str]:
    found = []
    here = {
        each["key"]: [(_minutes(zero, a), _minutes(zero, b)) for a, b in zip(each["from"], each["to"], strict=True)]
        for each in plan["kitchen"]["people"]
    }
    does = {each["key"]: each["does"] for each in plan["kitchen"]["people"]}
    able = lambda work: sum(1 for each in does.values() if not each or not work or work in each)  # noqa: E731
    busy: dict[str, list[tuple[float, float, str]]] = {key: [] for key in here}
    for key, task in tasks.items():
        if not task["hands"] or key in told:
            continue
        wanted = min(task["hands"], max(1, able(task["work"])))
        if len(set(task["people"])) < wanted and not task["fixed"] and not _one_group(plan, task):
            found.append(f"{key} has too few people")
        for person in task["people"]:
            busy[person].append((at[key], to[key], key))
            if not task["fixed"] and not any(a <= at[key] and to[key] <= b for a, b in here[person]):
                found.append(f"{key} is worked by {person}, who is not here then")
            if does[person] and task["work"] and task["work"] not in does[person]:
                found.append(f"{key} is not work of {person}")
    for person, work in busy.items():
        work.sort()
        found += [
            f"{person} is at {one[2]} and at {two[2]}" for one, two in itertools.pairwise(work) if two[0] < one[1]
        ]
    return found


def _one_group(plan: Any, task: Any) -> bool:
    """Whether as many take part as work the same hours and do the same work: more are never here together."""
    groups: dict[tuple[Any, ...], int] = {}
    for each in plan["kitchen"]["people"]:
        if not each["does"] or not task["work"] or task["work"] in each["does"]:
            name = (tuple(each["from"]), tuple(each["to"]), tuple(each["does"]))
            groups[name] = groups.get(name, 0) + 1
    return len(set(task["people"])) >= max(groups.values(), default=0)


def _ovens(plan: Any, tasks: Any, at: Any, to: Any, told: Any) -> list[str]:
    found = []
    for oven in plan["kitchen"]["ovens"]:
        bakes = [
            key
            for key, task in tasks.items()
            if task["kind"] == "oven" and task["oven"] == oven["key"] and key not in told
        ]
        for key in bakes:
            inside = sum(tasks[each]["trays"] for each in bakes if at[each] <= at[key] < to[each])
            if oven["tray_places"] and inside > oven["tray_places"]:
                found.append(f"{inside} trays are in {oven['key']} as {key} begins")
        for n, one in enumerate(bakes):
            for other in bakes[n + 1 :]:
                a, b = sorted((one, other), key=lambda key: at[key])
                from_c, to_c = tasks[a]["oven_c"], tasks[b]["oven_c"]
                if tasks[a]["make"] == tasks[b]["make"] or from_c == to_c:
                    continue
                change = max(0, to_c - from_c) / oven["up_c_per_min"] + max(0, from_c - to_c) / oven["down_c_per_min"]
                if at[b] < to[a] + change - 1e-9:
                    found.append(f"{b} begins before {oven['key']} has come from {from_c} to {to_c} after {a}")
    return found


def _places(plan: Any, tasks: Any, at: Any, to: Any) -> list[str]:
    found = []
    for place in plan["kitchen"]["places"]:
        room = place["tray_places"]
        lying = [key for key, task in tasks.items() if task["place"] == place["key"] and task["trays"]]
        for key in lying:
            inside = sum(min(tasks[each]["trays"], room) for each in lying if at[each] <= at[key] < to[each])
            if room and inside > room and at[key] < to[key]:
                found.append(f"{inside} trays lie in {place['key']} as {key} begins")
    return found

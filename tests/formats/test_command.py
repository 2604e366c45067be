"""Plans from a terminal: what is printed, what it ends with, and that neither server nor database is needed."""

import json
import os
import subprocess
import sys

import pytest
from jsonschema import Draft202012Validator

from northfold.command import main
from northfold.formats.schemas import schema
from tests.core.examples import HARBOUR

RECIPE = "Harbour tart shell\n420 g plain flour\n280 g cold unsalted butter, diced\n150 g cold water\n7 g fine salt\n"
WHEN = ("--due", "2026-12-04T07:00+00:00", "--now", "2026-12-03T12:00+00:00")


@pytest.fixture
def recipe(tmp_path):
    found = tmp_path / "harbour-shell.txt"
    found.write_text(RECIPE, encoding="utf-8")
    return str(found)


def said(capsys, *argv):
    """What a command answers: its number, what it prints, what it complains of."""
    code = main(argv)
    out, err = capsys.readouterr()
    return code, out, err


def test_a_plan_is_printed_with_its_hours_and_grams(recipe, capsys):
    code, out, err = said(capsys, "plan", recipe, "--tins", "6 x 230x25", "--room", "24", *WHEN)
    assert (code, err) == (0, "")
    assert "6 x Ø 230 × 25 mm, 3 mm thick: roll 271 g to 320 mm" in out
    assert "ready Fri 07:00" in out and "24" not in out.split("Weigh")[0]
    # The grams of Size: 420 : 280 : 150 : 7 of what is mixed.
    weighed = next(line.split() for line in out.splitlines() if "plain flour  " in line)
    total = next(line.split() for line in out.splitlines() if line.startswith("  dough"))
    assert float(weighed[2]) / float(total[1].replace(",", "")) == pytest.approx(420 / 857, abs=2e-4)
    assert max(map(len, out.splitlines())) <= 100


def test_the_same_plan_as_json_holds_to_its_schema_and_to_the_plan(recipe, capsys):
    code, out, _ = said(capsys, "plan", recipe, "--tins", "6 x 230x25", "--json", *WHEN)
    found = json.loads(out)
    Draft202012Validator(schema("plan")).validate(found)
    assert code == 0 and found["format"] == "northfold/plan/1" and found["ready"] == "2026-12-04T07:00:00Z"
    assert found["problems"] == [] and len(found["steps"]) > 12
    assert sum(line["exact_g"] for line in found["weigh"]) == pytest.approx(found["dough_g"])
    hours = [step["start_min"] for step in found["steps"]]
    assert hours == sorted(hours) and {"weigh", "mix", "roll.main", "bake.on"} <= {s["key"] for s in found["steps"]}


def test_what_is_read_is_a_formula_that_plans_alike(recipe, tmp_path, capsys):
    _, out, _ = said(capsys, "read", recipe, "--json")
    Draft202012Validator(schema("formula")).validate(json.loads(out))
    kept = tmp_path / "formula.json"
    kept.write_text(out, encoding="utf-8")
    plans = [said(capsys, "plan", path, "--tins", "2 x 230x25", "--json", *WHEN)[1] for path in (recipe, str(kept))]
    assert json.loads(plans[0]) == json.loads(plans[1])


def test_a_hand_written_formula_needs_nothing_but_lines(tmp_path, capsys):
    lines = [{"ingredient": name, "g": grams} for grams, name in HARBOUR]
    kept = tmp_path / "mine.json"
    kept.write_text(json.dumps({"name": "Mine", "lines": lines}), encoding="utf-8")
    code, out, _ = said(capsys, "plan", str(kept), "--tins", "4 x 200x30")
    assert code == 0 and out.startswith("Mine\n====")


def test_a_line_that_is_not_read_stops_the_plan_unless_it_is_left_out(tmp_path, capsys):
    path = tmp_path / "odd.txt"
    path.write_text(f"{RECIPE}some moon dust\n", encoding="utf-8")
    code, out, err = said(capsys, "plan", str(path), "--tins", "1 x 230x25")
    assert (code, out) == (1, "") and "“some moon dust”" in err and "--leave-out" in err
    assert said(capsys, "plan", str(path), "--tins", "1 x 230x25", "--leave-out")[0] == 0
    assert said(capsys, "read", str(path))[0] == 1


@pytest.mark.parametrize(
    ("argv", "code", "words"),
    [
        (("plan", "nowhere.txt"), 1, "No such file"),
        (("plan", "RECIPE", "--tins", "six tins"), 1, "Write a number"),
        (("plan", "RECIPE", "--tins", "6 x moon 230x25"), 1, "no kind “moon”"),
        (("plan", "RECIPE", "--tins", "6 x 230x2500"), 1, "A height of 2,500"),
        (("plan", "RECIPE", "--school", "rest=never-ever"), 1, "There are"),
        (("plan", "RECIPE", "--set", "chill.1"), 1, "STEP.FIELD=VALUE"),
        (("bake", "RECIPE"), 1, "nothing to bake"),
        (("plan", "RECIPE", "--room", "900"), 1, "A room at 900 °C is outside 0 to 45 °C"),
        (("plan", "RECIPE", "--room", "nan"), 1, "A room at nan °C"),
        (("plan", "RECIPE", "--tins", "2 x 230x25", "--thickness", "nan"), 1, "A thickness of nan mm"),
    ],
)
def test_what_cannot_be_taken_is_said_with_its_number(recipe, capsys, argv, code, words):
    found, out, err = said(capsys, *(recipe if each == "RECIPE" else each for each in argv))
    assert (found, out) == (code, "") and words in err and err.startswith("northfold: ")


@pytest.mark.parametrize(
    "argv", [(), ("bend",), ("plan",), ("plan", "x", "--due", "soon"), ("read", "x", "--tins", "1")]
)
def test_a_command_that_is_wrong_itself_ends_with_2(argv, capsys):
    with pytest.raises(SystemExit) as ended:
        main(argv)
    assert ended.value.code == 2 and "usage:" in capsys.readouterr().err


def test_an_edit_and_a_school_move_the_plan_and_one_that_fits_nothing_is_noted(recipe, capsys):
    def minutes(*more):
        _, out, err = said(capsys, "plan", recipe, "--tins", "6 x 230x25", "--json", *WHEN, *more)
        steps = {step["key"]: step["wait_min"] for step in json.loads(out)["steps"]}
        return steps["chill.1"], steps["rest.1"], err

    assert minutes("--set", "chill.1.minutes=45")[0] == 45
    assert minutes("--school", "first_rest=night")[1] == 720
    assert "note: nothing.minutes" in minutes("--set", "nothing.minutes=45")[2]


def test_one_that_cannot_be_ready_in_time_says_by_how_much(recipe, capsys):
    when = ("--now", "2026-12-04T06:00+00:00", "--due", "2026-12-04T07:00+00:00")
    _, out, _ = said(capsys, "plan", recipe, "--tins", "6 x 230x25", *when)
    _, whole, _ = said(capsys, "plan", recipe, "--tins", "6 x 230x25", "--json", *when)
    found = json.loads(whole)
    assert found["late_min"] == pytest.approx(found["whole_min"] - 60, abs=1)
    assert "Too late by " in out and f"ready Fri {found['ready_if_now'][11:16]}" in out
    assert "Too late" not in said(capsys, "plan", recipe, "--tins", "6 x 230x25", *WHEN)[1]


def test_the_bake_alone(recipe, capsys):
    code, out, _ = said(capsys, "bake", recipe, "--tins", "24 x mould 95/75x20", "--fan")
    still = said(capsys, "bake", recipe, "--tins", "24 x mould 95/75x20")[1]
    assert code == 0 and out.startswith("Bake\n") and out != still
    degrees = [int(text.split("°C")[0].splitlines()[-1]) for text in (out, still)]
    assert degrees[1] - degrees[0] == 20  # a fan oven is set 20 °C lower


def test_it_runs_by_itself_from_a_pipe_without_django_or_data(tmp_path):
    code = "import sys; from northfold.command import main; main(['plan', '-', '--tins', '1 x 230x25']); "
    code += "print([name for name in sys.modules if name.split('.')[0] in ('django', 'sqlite3')])"
    alone = {**os.environ, "NORTHFOLD_DATA": str(tmp_path / "none")}
    alone.pop("DJANGO_SETTINGS_MODULE", None)
    piped = {"input": RECIPE.encode(), "capture_output": True, "env": alone, "check": True}
    ran = subprocess.run([sys.executable, "-c", code], **piped)
    assert ran.stdout.decode().rstrip().endswith("[]") and not (tmp_path / "none").exists()
    heard = f"{sys.executable} -m northfold plan - --tins '1 x 230x25' | head -1"
    first = subprocess.run(["sh", "-c", heard], **piped)
    assert first.stdout.decode() == "Harbour tart shell\n" and first.stderr == b""

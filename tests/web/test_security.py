"""What docs/security.md says, held against the code: its tests exist, and the lines that no other test covers."""

import ast
import re
from pathlib import Path

import pytest
from django.conf import settings
from django.test import Client

from northfold.dough import services as dough
from northfold.kitchen.models import Tin
from tests.conftest import write_formula
from tests.web.test_bench import make, post

__all__ = ["make"]

ROOT = Path(__file__).resolve().parents[2]
LINES = [
    [cell.strip() for cell in line.strip("|").split("|")]
    for line in (ROOT / "docs/security.md").read_text().splitlines()
    if re.match(r"\| \d+\.\d+\.\d+ ", line)
]
# Requirements of level 1 in the chapters of ASVS 4.0.3 that have any.
IN_CHAPTERS = {2: 27, 3: 12, 4: 8, 5: 27, 6: 1, 7: 3, 8: 7, 9: 3, 10: 3, 11: 5, 12: 11, 13: 6, 14: 15}
SOURCES = [path for path in (ROOT / "northfold").rglob("*.py") if "migrations" not in path.parts]
SCRIPTS = [path for path in (ROOT / "northfold").rglob("*.js") if "vendor" not in path.parts]


def names_in(name):
    tree = ast.parse((ROOT / "tests" / name).read_text())
    return {node.name for node in tree.body if isinstance(node, ast.FunctionDef)}


def test_every_line_of_level_one_is_there_once():
    numbers = [line for line, _, _ in LINES]
    assert len(set(numbers)) == len(numbers)
    found = {chapter: sum(number.startswith(f"{chapter}.") for number in numbers) for chapter in IN_CHAPTERS}
    assert found == IN_CHAPTERS
    assert numbers == sorted(numbers, key=lambda number: [int(part) for part in number.split(".")])


@pytest.mark.parametrize(("number", "stands", "proof"), LINES, ids=[line[0] for line in LINES])
def test_every_line_is_met_by_a_test_that_exists_or_does_not_apply(number, stands, proof):
    named = re.fullmatch(r"`([\w/]+\.py)::(test_\w+)`", proof)
    if stands == "–":
        assert named is None
        assert len(proof) > 6
    else:
        assert named, "a line that applies names its test"
        assert named[2] in names_in(named[1])


# ---------------------------------------------------------------- lines of their own


def test_password_fields_are_marked_for_keepers(client, people, sign_in):
    assert b'autocomplete="current-password"' in client.get("/sign-in/").content
    page = sign_in("head").get("/password/").content
    assert page.count(b'autocomplete="new-password"') == 2
    assert b'autocomplete="current-password"' in page
    assert "paste" not in (ROOT / "northfold/web/static/web/passwords.js").read_text()


def test_no_page_shows_a_password(sign_in, people):
    client = sign_in("head")
    for address in ("/kitchen/people/", f"/kitchen/people/{people['bench'].person.pk}/", "/password/"):
        page = client.get(address).content.decode()
        assert people["bench"].password not in page
        assert "quay-side-bench" not in page


def test_no_session_stands_in_an_address(sign_in):
    client = sign_in("head")
    session = client.cookies["sessionid"].value
    for address in ("/", "/kitchen/people/", "/password/", "/book/"):
        assert session not in client.get(address).content.decode()
    assert 'method="post"' in Client().get("/sign-in/").content.decode()
    assert settings.SESSION_ENGINE == "django.contrib.sessions.backends.db"


def test_sessions_cannot_be_guessed(people):
    found = set()
    for _ in range(20):
        client = Client()
        client.force_login(people["head"])
        found.add(client.cookies["sessionid"].value)
    assert len(found) == 20
    assert all(re.fullmatch(r"[a-z0-9]{32}", value) for value in found)  # 36 ** 32 is 2 ** 165


def test_a_session_that_was_signed_out_opens_nothing(sign_in):
    client = sign_in("head")
    kept = client.cookies["sessionid"].value
    client.post("/sign-out/")
    thief = Client()
    thief.cookies["sessionid"] = kept
    assert thief.get("/").url.startswith("/sign-in/")


def test_a_draft_is_its_editors_own(sign_in, people, head):
    version = write_formula(head)
    draft = dough.open_draft(head, version.formula)
    payload = {**draft.payload, "name": "Not saved yet"}
    dough.edit_draft(head, version.formula, draft.edit_no, payload)
    assert b"Not saved yet" in sign_in("head").get(f"/book/{version.formula_id}/").content
    for role in ("bench", "guest"):
        assert b"Not saved yet" not in sign_in(role).get(f"/book/{version.formula_id}/").content


def test_no_admin_and_no_folder_can_be_listed(sign_in):
    assert "django.contrib.admin" not in settings.INSTALLED_APPS
    client = sign_in("head")
    for address in ("/admin/", "/static/", "/static/web/", "/.git/config", "/var/", "/manage.py", "/secret-key",
                    "/static/../manage.py", "/static/..%2f..%2fmanage.py", "/northfold.sqlite3"):  # fmt: skip
        assert client.get(address).status_code == 404, address


def test_a_value_sent_twice_is_one_value(sign_in, flan_tin):
    client = sign_in("head")
    measures = f"name=A&name=B&top_mm=200&top_mm=230&base_mm=230&height_mm=25&owned=1&kind=round&id={flan_tin.pk}"
    client.post(f"/kitchen/tins/{flan_tin.pk}/", measures, content_type="application/x-www-form-urlencoded")
    flan_tin.refresh_from_db()
    assert (flan_tin.name, flan_tin.top_mm) == ("B", 230)
    assert Tin.objects.count() == 1


def test_nobody_gives_themselves_a_role(sign_in, people):
    form = {"old_password": "quay-side-bench", "new_password1": "own-lantern-9", "new_password2": "own-lantern-9"}
    rise = {"role": "head", "is_superuser": "1", "is_staff": "1", "sessions_from": "9", "username": "other"}
    assert sign_in("bench").post("/password/", {**form, **rise}).status_code == 302
    people["bench"].refresh_from_db()
    assert (people["bench"].role, people["bench"].username) == ("bench", "bench")
    assert not people["bench"].is_superuser


@pytest.mark.parametrize("elsewhere", ["https://elsewhere.example/", "//elsewhere.example", "javascript:alert(1)",
                                       "/\\elsewhere.example", "https:elsewhere.example"])  # fmt: skip
def test_nothing_leads_to_another_house(people, elsewhere):
    client = Client()
    right = {"username": "head", "password": "quay-side-head", "next": elsewhere}
    assert client.post("/sign-in/", right).url == "/"
    page = client.get("/kitchen/tins/new/", {"back": elsewhere}).content.decode()
    assert f'href="{elsewhere}"' not in page


def test_nothing_is_evaluated():
    calls = {"eval", "exec", "compile", "__import__", "system", "popen", "Popen"}
    for path in SOURCES:
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call):
                name = getattr(node.func, "id", "") or getattr(node.func, "attr", "")
                is_pattern = name == "compile" and getattr(getattr(node.func, "value", None), "id", "") == "re"
                assert name not in calls or is_pattern, f"{path.name}: {name}"
    for path in SCRIPTS:
        assert not re.search(r"\beval\(|new Function|innerHTML|document\.write", path.read_text()), path.name


def test_no_sql_is_written_by_hand():
    for path in SOURCES:
        if path.parent.name == "config" or path.name in ("restore.py", "backup.py"):
            continue  # the data folder is looked at before Django is there; nothing typed reaches it
        assert not re.search(r"\.raw\(|RawSQL|\.extra\(|cursor\(\)", path.read_text()), path.name


@pytest.mark.parametrize(
    "typed", ["<script>alert(1)</script>", "{{ 7|add:1 }}{% now 'Y' %}", '"><b>x', "Ødegård 🥧 \u4e2d"]
)
def test_what_is_typed_is_shown_as_typed(sign_in, typed):
    from django.utils.html import escape

    client = sign_in("head")
    client.post("/kitchen/people/new/", {"name": typed, "role": "bench"})
    answer = client.get("/kitchen/people/")
    assert answer["Content-Type"] == "text/html; charset=utf-8"
    page = answer.content.decode()
    assert escape(typed) in page
    assert typed == escape(typed) or typed not in page


def test_every_answer_names_its_kind(sign_in, make):
    client = sign_in("bench")
    assert client.get("/")["Content-Type"] == "text/html; charset=utf-8"
    assert client.get("/health/")["Content-Type"].startswith("text/plain")
    answer = post(client, make, kind="done", step_key="weigh", client_id="a1")
    assert answer["Content-Type"] == "application/json"
    assert answer["Content-Disposition"] == 'attachment; filename="answer.json"'


def test_no_other_origin_is_let_in(sign_in):
    answer = sign_in("head").get("/", HTTP_ORIGIN="https://elsewhere.example")
    assert not [name for name in answer.headers if name.startswith("Access-Control")]
    strict = Client(enforce_csrf_checks=True)
    page = strict.get("/sign-in/").content.decode()
    seal = re.search(r'name="csrfmiddlewaretoken" value="(\w+)"', page)[1]
    sent = {"username": "head", "password": "quay-side-head", "csrfmiddlewaretoken": seal}
    assert strict.post("/sign-in/", sent, HTTP_ORIGIN="https://elsewhere.example").status_code == 403
    assert strict.post("/sign-in/", sent, HTTP_ORIGIN="null").status_code == 403

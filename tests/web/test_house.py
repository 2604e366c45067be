"""The house in order: vendored files, migrations, policy, queries, the demo, the figures' one home."""

import hashlib
import html
import re
import tomllib
from pathlib import Path

import pytest
from django.conf import settings
from django.core.management import call_command

from northfold.demo.bakehouse import build
from northfold.dough.models import Formula, FormulaVersion
from northfold.makes.models import Make
from northfold.web import panels
from northfold.web.loaders import joined
from northfold.web.pleat import CORNER, PANEL_WIDTH, TIGHT_WIDTH, _crease, widths
from northfold.web.templatetags import figures
from tests.conftest import write_formula

ROOT = Path(settings.BASE_DIR)
VENDOR = ROOT / "northfold/web/static/vendor"


def test_vendored_files_are_those_of_the_manifest():
    rows = tomllib.loads((VENDOR / "manifest.toml").read_text())["file"]
    assert {row["name"] for row in rows} == {file.name for file in VENDOR.iterdir()} - {"manifest.toml"}
    for row in rows:
        assert hashlib.sha256((VENDOR / row["name"]).read_bytes()).hexdigest() == row["sha256"], row["name"]
        assert row["version"]
        assert row["licence"]


def test_no_migration_is_missing(db):
    call_command("makemigrations", "--check", "--dry-run", verbosity=0)


def test_policy_allows_nothing_inline_and_no_other_host(client, db):
    policy = client.get("/health/").headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert "http" not in policy
    for template in ROOT.glob("northfold/*/templates/**/*.html"):
        text = template.read_text()
        assert not re.search(r"\sstyle=|\son[a-z]+=|<style|<script(?! src=)", text), template
        assert not re.search(r"(?:src|href)=\"(?:https?:)?//", text), template


def test_templates_hold_no_arithmetic():
    """Only the shifting of coordinates in a drawing; figures come ready from the core."""
    for template in ROOT.glob("northfold/*/templates/**/*.html"):
        for use in re.findall(r"\{\{[^}]*\|(?:add|plus|widthratio)[^}]*\}\}", template.read_text()):
            assert "|px" in use or "static" in use, (template, use)


def test_demo_is_built_once_and_every_page_answers(client, db, django_assert_max_num_queries):
    build()
    build()
    assert Formula.objects.count() == 13 + 11  # doughs, and mixtures beside them
    settings.DEMO = True
    try:
        client.post("/sign-in/demo/runa/")
    finally:
        settings.DEMO = False
    pages = ["/", "/?state=planned&q=tart&order=name", "/book/", "/book/?q=butter&order=newest", "/book/new/"]
    pages += ["/kitchen/", "/kitchen/ingredients/?role=fat", "/kitchen/people/", "/kitchen/tins/1/", "/sign-in/"]
    pages += [f"/makes/{make.pk}/{view}/" for make in Make.objects.all() for view in ("dough", "size", "weigh")]
    pages += [f"/book/{v.formula_id}/v/{v.n}/" for v in FormulaVersion.objects.all()]
    for page in pages:
        assert client.get(page).status_code in (200, 302), page


def test_number_of_queries_does_not_grow_with_the_lists(sign_in, head, flan_tin, django_assert_max_num_queries):
    from northfold.makes.services import create_make

    client = sign_in("head")
    for number in range(15):
        version = write_formula(head, name=f"Dough {number}")
        create_make(head, version, tin=flan_tin, count=2, due_at=None)
    for page, most in (("/book/", 9), ("/", 17)):
        with django_assert_max_num_queries(most):
            client.get(page)


def test_search_finds_by_name_family_and_ingredient(sign_in, head):
    client = sign_in("guest")
    write_formula(head, name="Lighthouse crust")
    write_formula(
        head, name="Ferry sweet", text="250 g plain flour\n150 g unsalted butter\n90 g icing sugar\n36 g yolk"
    )

    def found(words):
        page = html.unescape(client.get("/book/", {"q": words}).content.decode())
        return {name for name in ("Lighthouse crust", "Ferry sweet") if name in page}

    assert found("lighthouse") == {"Lighthouse crust"}
    assert found("PIE dough") == {"Lighthouse crust"}
    assert found("icing butter") == {"Ferry sweet"}
    assert found("") == {"Lighthouse crust", "Ferry sweet"}
    assert found("rhubarb") == set()


def test_bin_offers_undo_and_puts_back(sign_in, version):
    client = sign_in("head")
    page = client.post(f"/book/{version.formula_id}/bin/", follow=True).content.decode()
    assert f'action="/book/{version.formula_id}/restore/"' in page
    assert client.get(f"/book/{version.formula_id}/").status_code == 404
    client.post(f"/book/{version.formula_id}/restore/")
    assert client.get(f"/book/{version.formula_id}/").status_code == 200


def test_throwing_changes_away_can_be_undone(sign_in, head, version):
    from northfold.dough.services import open_draft

    client = sign_in("head")
    key = version.formula_id
    edit_no = open_draft(head, version.formula).edit_no
    client.post(f"/book/{key}/edit/", {"edit_no": edit_no, "name": "Other name"})
    client.post(f"/book/{key}/discard/")
    assert open_draft(head, version.formula).payload["name"] == "Harbour tart shell"
    client.post(f"/book/{key}/undo-discard/")
    assert open_draft(head, version.formula).payload["name"] == "Other name"


def test_weigh_sheet_shows_what_the_plan_weighs(sign_in, head, version, flan_tin):
    from northfold.makes.services import create_make

    make = create_make(head, version, tin=flan_tin, count=6, due_at=None)
    page = html.unescape(sign_in("guest").get(f"/makes/{make.pk}/weigh/").content.decode())
    # Worked by hand: 6 × 271.3 ÷ 0.98 = 1,661 g; 420/847 of it is 824.
    for figure in ("1.66", "824", "549", "275", "14", "Ø\u2009320", "Ø\u2009300"):
        assert figure in page
    assert "Do not taste raw flour." in page
    assert "gluten (wheat), milk" in page


@pytest.mark.parametrize(
    ("value", "said"), [(0, "–"), (None, "–"), ("", "–"), (7, "7"), (9.6, "9.6"), (823.64, "824"), (1661.0, "1,661")]
)
def test_grams_in_a_column(value, said):
    assert figures.grams(value) == said


def test_other_figures():
    assert figures.weight(1661) == "1.66\u2009kg"
    assert figures.weight(690) == "690\u2009g"
    assert figures.signed(-0.7) == "−0.7"
    assert figures.signed(0.01) == "0.0"
    assert figures.sizes((436.9, 196.9)) == "437 × 197"
    assert figures.mm(2.5) == "2.5"


def test_creases_of_the_pleat_lean_in_turn():
    """Creases lean 14 px, left and right in turn; the upper edge rises to 0 and falls to 10; all panels have room."""
    ends = [_crease(index, PANEL_WIDTH * index) for index in range(1, 5)]
    assert [top[0] - foot[0] for top, foot in ends] == [14, -14, 14, -14]
    assert [top[1] for top, _ in ends] == [0, 10, 0, 10]
    assert [(top[0] + foot[0]) / 2 for top, foot in ends] == [PANEL_WIDTH * n for n in range(1, 5)]
    assert CORNER == 26
    for stages in range(1, len(panels._panels) + 1):
        wide, tight = widths(stages)
        assert 72 + stages * wide + 7 <= 1280 and 72 + 3 * wide + max(0, stages - 3) * tight <= 1024
    assert widths(8) == (PANEL_WIDTH, TIGHT_WIDTH) == (150, 100)


def test_no_line_of_a_template_is_longer_than_the_code():
    long = [
        f"{page.name}:{number}"
        for page in Path("northfold").rglob("templates/**/*.html")
        for number, line in enumerate(page.read_text().split("\n"), 1)
        if len(line) > 120
    ]
    assert long == []


def test_no_tag_of_a_template_is_broken_over_two_lines():
    """Broken so it is no tag, and is shown as it is written."""
    broken = [
        f"{page.name}:{number}"
        for page in Path("northfold").rglob("templates/**/*.html")
        for number, line in enumerate(page.read_text().split("\n"), 1)
        if line.count("{{") != line.count("}}") or line.count("{%") != line.count("%}")
    ]
    assert broken == []


def test_a_template_goes_out_without_its_breaks_but_where_they_are_shown():
    source = '<p class="a{% if b %}\n    b{% endif %}">One\n  sentence,\n\tone line.</p>\n<pre>two\n  lines</pre>\n'
    assert joined(source) == '<p class="a{% if b %} b{% endif %}">One sentence, one line.</p> <pre>two\n  lines</pre>'
    assert "\n" in joined("<textarea>\n a\n</textarea>")

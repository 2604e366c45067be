"""Pages go out compressed, and an answer to an edit sends the parts that changed."""

import gzip
import re

import pytest

from northfold.makes.services import create_make
from northfold.web.paging import PER_PAGE, InTurn, page_of
from northfold.web.parts import with_sums


def test_a_part_that_is_known_goes_as_a_stub_and_all_else_as_it_is():
    page = (
        '<p>one</p><div class="a" id="first" data-part><div>2<div>3</div></div></div><li id="next" data-part>4</li>end'
    )
    marked = with_sums(page, {})
    sums = dict(re.findall(r'id="(\w+)" data-part data-sum="(\w+)"', marked))
    assert set(sums) == {"first", "next"}
    assert re.sub(r' data-sum="\w+"', "", marked) == page
    told = with_sums(page, {"first": sums["first"], "next": "00000000"})
    assert '<div id="first" data-later></div><li id="next" data-part data-sum="' in told
    assert told.endswith(">4</li>end")


def test_a_new_seal_of_a_form_changes_no_part():
    one = '<form id="a" data-part><input type="hidden" name="csrfmiddlewaretoken" value="abc"><input value="5"></form>'
    (sum_of_one,) = re.findall(r'data-sum="(\w+)"', with_sums(one, {}))
    assert "data-later" in with_sums(one.replace("abc", "xyz"), {"a": sum_of_one})
    assert "data-later" not in with_sums(one.replace('value="5"', 'value="6"'), {"a": sum_of_one})


@pytest.fixture
def make(head, version, flan_tin):
    return create_make(head, version, tin=flan_tin, count=6, due_at=None)


def sums_of(page):
    return dict(re.findall(r'id="([\w-]+)"[^>]*? data-sum="(\w+)"', page))


def test_an_edit_of_one_wait_sends_the_steps_that_it_moves(sign_in, make):
    client = sign_in("head")
    page = client.get(f"/makes/{make.pk}/steps/").content.decode()
    has = ",".join(f"{mark}={total}" for mark, total in sums_of(page).items())
    sent = {"step": "chill.1", "field": "minutes", "value": "95"}
    asked = {"HX-Request": "true", "X-Has": has}
    told = client.post(f"/makes/{make.pk}/steps/edit/", sent, headers=asked).content.decode()
    whole = client.post(f"/makes/{make.pk}/steps/edit/", sent, headers={"HX-Request": "true"}).content.decode()
    stubs = set(re.findall(r'id="([\w-]+)" data-later', told))
    assert len(stubs) > len(sums_of(whole)) / 2
    assert len(told) < 0.8 * len(whole)
    # A stub stands for what the whole answer has with the very sum that was on the page.
    assert all(sums_of(whole)[mark] == sums_of(page)[mark] for mark in stubs)
    assert 'value="95"' in told


def test_a_page_opened_afresh_is_whole_whatever_is_said_to_be_there(sign_in, make):
    page = sign_in("head").get(f"/makes/{make.pk}/steps/")
    has = ",".join(f"{mark}={total}" for mark, total in sums_of(page.content.decode()).items())
    again = sign_in("head").get(f"/makes/{make.pk}/steps/", headers={"X-Has": has}).content.decode()
    assert "data-later></" not in again


def test_pages_go_out_compressed_to_who_takes_them_so(sign_in, make):
    client, address = sign_in("head"), f"/makes/{make.pk}/cold/"
    plain = client.get(address)
    packed = client.get(address, headers={"Accept-Encoding": "gzip"})
    assert packed["Content-Encoding"] == "gzip"
    assert "Accept-Encoding" in packed["Vary"]
    assert len(packed.content) < len(plain.content) / 3
    assert b"<h2" in gzip.decompress(packed.content)
    assert not plain.has_header("Content-Encoding")


class Rows(list):
    """A list that says which rows were asked for."""

    def __getitem__(self, wanted):
        self.asked = wanted
        return super().__getitem__(wanted)


@pytest.mark.parametrize(("page", "first", "last"), [("1", 0, 49), ("2", 50, 99), ("3", 100, 129), ("99", 100, 129)])
def test_lists_in_turn_are_read_a_page_at_a_time(page, first, last):
    front, back = Rows(range(30)), Rows(range(30, 130))
    shown = page_of(InTurn(front, back, counts=(30, 100)), page)
    assert list(shown) == list(range(first, last + 1))
    assert back.asked.stop - back.asked.start <= PER_PAGE
    assert not hasattr(front, "asked") or page == "1"

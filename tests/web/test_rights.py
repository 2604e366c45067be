"""Rights as a matrix: every address, every method, every role. An address that is missing here fails."""

import pytest
from django.db import transaction
from django.test import Client

from tests.web.test_access import every_address, ids

__all__ = ["ids"]

ROLES = ("stranger", "guest", "bench", "head")
EVERYBODY, SIGNED_IN, MAKERS, HEAD = ROLES, ROLES[1:], ROLES[2:], ROLES[3:]
NOBODY = ()

# Who may look (GET, HEAD) and who may change (POST); None where an address does not take that method.
OPEN = (EVERYBODY, EVERYBODY)
LOOK = (SIGNED_IN, SIGNED_IN)  # a look again, and no more: it changes nothing
LOOK_ONLY = (SIGNED_IN, None)
OWN = (None, SIGNED_IN)
LOOK_AND_MAKE = (SIGNED_IN, MAKERS)
LOOK_AND_HEAD = (SIGNED_IN, HEAD)
MAKE = (None, MAKERS)
MAKE_PAGE = (MAKERS, MAKERS)
HEAD_ACT = (None, HEAD)
HEAD_PAGE = (HEAD, HEAD)
GONE = (NOBODY, NOBODY)  # once somebody has an account, or outside the demo

TABLE = {
    OPEN: "web:health web:sign_in",
    GONE: "kitchen:start",
    (None, NOBODY): "demo:start web:demo_sign_in",
    LOOK: """bench:run bench:state dough:book dough:formula dough:text dough:using dough:version kitchen:ingredients
        kitchen:places kitchen:reckoning makes:bake makes:cold makes:dough makes:fill makes:fold makes:list makes:steps
        makes:weigh web:today web:password""",
    LOOK_ONLY: """dough:as_file dough:print_book makes:as_file exchange:make records:as_file
        records:all_results web:day_as_file makes:day_calendar
        makes:card_picture records:photo web:code web:codes
        web:schema web:table bench:wall day:today day:of day:sheet day:json day:calendar day:week
        makes:allergens makes:answers makes:bake_changes makes:card makes:compare makes:methods makes:more
        makes:shopping""",
    (EVERYBODY, None): "makes:feed devices:labels bench:worker",
    OWN: "bench:mood web:sign_out web:sign_out_everywhere",
    LOOK_AND_MAKE: """bench:wrong bench:scale bench:probe records:notes makes:labels makes:size records:result
        stock:store stock:labels""",
    LOOK_AND_HEAD: "kitchen:home",
    MAKE: """day:plan day:replan day:stop day:leave day:take day:put_back day:hold day:away day:down day:save
        day:weight day:week_take day:week_back day:as_wanted day:order_on
        records:bin_note records:restore_note bench:into_cold
        bench:finish bench:record makes:abandon makes:add_step makes:again makes:back_to_store makes:bake_edit
        makes:bake_take makes:bin makes:bin_method makes:cold_edit makes:edits_back makes:fill_edit makes:fold_edit
        makes:from_store makes:mixture_back_to_store makes:mixture_from_store makes:mixture_into_store
        makes:layer_add makes:layer_back makes:layer_change makes:layer_remove makes:layer_take
        makes:reading
        makes:remove_step makes:restore makes:restore_method makes:room makes:save_method makes:set_usual makes:start
        makes:steps_edit makes:store makes:take makes:take_said makes:take_up makes:to_newest makes:use_method
        stock:give_back stock:move stock:take stock:throw_away""",
    MAKE_PAGE: "makes:make_it makes:calendar",
    (None, EVERYBODY): "devices:readings devices:printed",
    (HEAD, None): "backups:download exchange:whole exchange:looked",
    HEAD_ACT: """dough:bin dough:discard dough:edit dough:part_out dough:renew dough:resolve dough:restore
        dough:restore_version dough:save dough:undo_discard dough:open_recipe dough:save_recipes dough:take_file
        dough:duplicate
        dough:undo_read_in kitchen:bin_machine kitchen:bin_oven
        kitchen:bin_person kitchen:bin_place kitchen:at_work
        kitchen:bin_tin kitchen:restore_machine kitchen:restore_oven kitchen:restore_person
        kitchen:restore_place
        kitchen:restore_tin kitchen:sign_out_person makes:dough_edit makes:dough_save backups:save backups:bring
        devices:new_key devices:revoke devices:bin devices:restore
        day:order_bin day:order_restore day:level_bin day:level_restore
        backups:try_out backups:restore exchange:take exchange:undo""",
    HEAD_PAGE: """dough:new dough:read_in kitchen:ingredient kitchen:machine kitchen:new_ingredient kitchen:new_machine
        kitchen:new_oven kitchen:new_person kitchen:new_place kitchen:new_tin kitchen:oven kitchen:people
        kitchen:person kitchen:place kitchen:tin web:record backups:list exchange:files
        devices:list day:order_new day:order day:level_new day:level""",
}
RIGHTS = {name: rights for rights, names in TABLE.items() for name in names.split()}
# The head may do it, but not to themselves, and the matrix's person is the head.
NOT_TO_ONESELF = {"kitchen:bin_person"}
# A device shows its key: without one it is turned away, whoever is signed in.
BY_KEY = {"devices:readings", "devices:labels", "devices:printed"}
SEEN = {"web:sign_in": {200, 302}, **{name: {401} for name in BY_KEY}}
OTHERS = ("PUT", "PATCH", "DELETE", "OPTIONS", "TRACE")


def expected(name, role, method):
    """What an answer must be: a set of codes, or "sign in"."""
    look, change = RIGHTS[name]
    allowed = look if method in ("GET", "HEAD") else change
    if role == "stranger" and EVERYBODY not in (look, change) and NOBODY not in (look, change):
        return "sign in"
    if allowed is None:
        return {405}
    if allowed is NOBODY:
        return {404}
    if role not in allowed:
        return {403}
    if name in NOT_TO_ONESELF:
        return {403}
    return SEEN.get(name, {200, 204, 205, 302, 404, 409, 422})


def test_every_address_stands_in_the_table_once(ids):
    assert len(RIGHTS) == sum(len(names.split()) for names in TABLE.values())
    assert {name for name, _ in every_address(ids)} == set(RIGHTS)
    assert len(RIGHTS) == 203


@pytest.mark.parametrize("role", ROLES)
def test_who_may_do_what(ids, people, role):
    wrong, client = [], Client(raise_request_exception=False)
    if role != "stranger":
        client.force_login(people[role])
    signed_in = client.cookies.output()
    for name, address in every_address(ids):
        for method in ("GET", "HEAD", "POST"):
            point = transaction.savepoint()
            client.cookies.load(signed_in.replace("Set-Cookie: ", ""))
            answer = client.generic(method, address)
            transaction.savepoint_rollback(point)
            leads_in = answer.status_code == 302 and answer.url.startswith("/sign-in/?")
            found, wanted = "sign in" if leads_in else answer.status_code, expected(name, role, method)
            if found != wanted and not (isinstance(wanted, set) and found in wanted):
                wrong.append((name, method, found, wanted))
    assert wrong == []


@pytest.mark.parametrize("role", ROLES)
def test_no_other_method_is_taken(ids, people, role):
    client = Client()
    if role != "stranger":
        client.force_login(people[role])
    for name, address in every_address(ids):
        for method in OTHERS:
            answer = client.generic(method, address)
            assert answer.status_code == 405, (name, method)
            assert answer["Allow"] == "GET, HEAD, POST"


def test_a_script_of_a_stranger_is_answered_401(ids):
    for name, address in every_address(ids):
        for method in ("GET", "POST"):
            answer = Client().generic(method, address, HTTP_HX_REQUEST="true")
            if expected(name, "stranger", method) == "sign in":
                assert answer.status_code == 401, (name, method)


def test_a_form_without_its_seal_is_refused_everywhere(ids, people):
    """Every address that changes something, for the head, from a page of somebody else's."""
    client = Client(enforce_csrf_checks=True)
    client.force_login(people["head"])
    for name, address in every_address(ids):
        if RIGHTS[name][1] not in (None, NOBODY) and name not in {"web:health", *BY_KEY}:
            answer = client.post(address)
            assert answer.status_code == 403, name
            assert b"Open for too long" in answer.content


def test_a_role_taken_away_is_gone_with_the_next_request(people, ids):
    client = Client()
    client.force_login(people["head"])
    assert client.get("/kitchen/people/").status_code == 200
    people["head"].role = "guest"
    people["head"].save()
    assert client.get("/kitchen/people/").status_code == 403


def test_whose_account_is_closed_is_out_with_the_next_request(people, ids):
    client = Client()
    client.force_login(people["bench"])
    assert client.get("/").status_code == 200
    people["bench"].is_active = False
    people["bench"].save()
    assert client.get("/").url.startswith("/sign-in/")

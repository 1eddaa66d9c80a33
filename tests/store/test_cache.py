"""The cache: a value is worked out once for each version of what it needs, needs what it says, and is not held for
ever."""

import re
from collections import defaultdict
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from datetime import date
from threading import Barrier

import pytest
from sqlalchemy import event, text

from mildladder.core.model import Fact
from mildladder.desk.library.facts import know_facts
from mildladder.desk.library.steps import merge_steps
from mildladder.store.cache import Cache, Needs, cached
from mildladder.store.library import add_library_version
from mildladder.store.log.writing import Logging, log_cases
from mildladder.store.settings import keep_setting
from mildladder.store.sizes import size_of
from tests.api.test_evidence import at_noon, log
from tests.conftest import LEAD_ID, _with_more_fixes
from tests.drafts import move
from tests.samples import NOON, case

ID = "gate-arm-up"
THING = Needs(asked="thing")


def test_what_does_not_change_is_worked_out_once_nothing_too(database):
    for value in ("made", None):
        made = []
        for _ in range(3):
            with database.reading() as session:
                needs = Needs(asked=value)
                assert cached(session, "thing", needs, lambda made=made, value=value: made.append(1) or value) == value
        assert made == [1]


def test_nothing_is_held_of_what_may_be_rolled_back(database):
    with database.writing() as session:
        session.execute(text("INSERT INTO settings (name, value) VALUES ('a', 'b')"))
        assert cached(session, "thing", THING, lambda: "of the writer") == "of the writer"
    with database.reading() as session:
        assert cached(session, "thing", THING, lambda: "of the reader") == "of the reader"
    with database.writing() as session:
        assert cached(session, "thing", THING, lambda: "anew") == "of the reader"


def test_many_who_ask_at_once_wait_for_one_who_works_it_out(database):
    begun, made = Barrier(4), []

    def slowly():
        made.append(1)
        return "made"

    def ask(_number):
        with database.reading() as session:
            begun.wait()
            # Others work something else out meanwhile, which this needs.
            return cached(session, "thing", THING, lambda: cached(session, "part", THING, slowly))

    with ThreadPoolExecutor(4) as pool:
        assert list(pool.map(ask, range(4))) == ["made"] * 4
    assert made == [1]


def test_one_who_could_not_work_it_out_leaves_it_to_the_next(database):
    with database.reading() as session:
        with pytest.raises(ZeroDivisionError):
            cached(session, "thing", THING, lambda: 1 // 0)
        assert cached(session, "thing", THING, lambda: 1) == 1


def test_bytes_are_bounded_and_the_longest_unused_goes_first():
    cache = Cache(most_small=10_000, most_large=200_000)
    for number in range(200):
        cache.put(("thing", number), number, 100)
        assert cache.find(("thing", 0)) == (0,)
    held = [number for number in range(200) if cache.find(("thing", number)) is not None]
    assert held == [0, *range(101, 200)]


def test_large_values_do_not_push_small_ones_out():
    """Reading through every draft of a large desk, again and again, leaves what lists are made of."""
    cache = Cache(most_small=100_000, most_large=200_000)
    for number in range(500):
        cache.put(("titles", number), number, 100)
    for number in range(500):
        cache.put(("form", number), number, 50_000)
    assert all(cache.find(("titles", number)) == (number,) for number in range(500))
    assert sum(cache.find(("form", number)) is not None for number in range(500)) == 4


def test_a_value_larger_than_all_there_is_room_for_pushes_nothing_out():
    cache = Cache(most_small=10_000, most_large=200_000)
    cache.put("form", 1, 150_000)
    cache.put("huge", 2, 300_000)
    assert (cache.find("form"), cache.find("huge")) == ((1,), None)


def test_a_size_is_of_all_that_a_value_holds_each_once():
    shared = "x" * 10_000
    assert 10_000 < size_of([shared, shared, {"a": shared}]) < 11_000
    assert size_of({str(number): "y" * 1_000 + str(number) for number in range(100)}) > 100_000
    assert size_of(case(1, notes="z" * 3_000)) > 3_000


CHANGES = {
    "tallies": (
        Needs(tallies=ID),
        lambda session: log_cases(session, [case(1, ("clear-hold", "fixed"))], Logging("import", LEAD_ID, NOON, 14)),
    ),
    "library, a step": (
        Needs(library=True),
        lambda session: add_library_version(session, "new", {"title": "N"}, 1, NOON),
    ),
    "library, a fact": (
        Needs(library=True),
        lambda session: know_facts(session, [Fact(id="x", ask="?", type="text")], LEAD_ID, NOON),
    ),
    "names": (Needs(names=True), lambda session: merge_steps(session, "hold-off", "clear-hold", LEAD_ID, NOON)),
    "settings": (Needs(settings=True), lambda session: keep_setting(session, "return_window", "7", LEAD_ID, NOON)),
}


@pytest.mark.parametrize("name", CHANGES)
def test_a_change_of_what_it_needs_makes_it_anew_and_no_other_change_does(desk, name):
    _with_more_fixes(desk.path)
    made = {other: [] for other in CHANGES}

    def look():
        with desk.reading() as session:
            for other, (needs, _) in CHANGES.items():
                cached(session, f"value of {other}", needs, lambda other=other: made[other].append(1))

    look()
    look()
    assert {len(one) for one in made.values()} == {1}
    needs, change = CHANGES[name]
    with desk.writing() as session:
        change(session)
    look()
    anew = {other for other, one in made.items() if len(one) == 2}
    assert anew == {other for other, (its, _) in CHANGES.items() if its == needs}


def test_draft_edition_case_and_day_are_named_by_what_never_changes(database):
    made = []
    for needs in (
        Needs(draft=(ID, 1)),
        Needs(draft=(ID, 2)),
        Needs(editions=((ID, 1),)),
        Needs(case=("c", 1)),
        Needs(case=("c", 2)),
        Needs(day=date(2026, 3, 1)),
        Needs(day=date(2026, 3, 2)),
    ):
        for _ in range(2):
            with database.reading() as session:
                cached(session, "thing", needs, lambda: made.append(1))
    assert len(made) == 7


# What each need lets a value read. Who did something never changes, nor by which edition a case is guided.
READS = {
    "draft": {"revisions", "forms", "people"},
    "editions": {"editions", "people"},
    "case": {"climbs", "climb_events", "editions", "people"},
    "tallies": {
        "tallies",
        "step_tallies",
        "strata",
        "signatures",
        "cases",
        "case_facts",
        "attempts",
        "case_index",
        "imports",
    },
    "library": {"library_steps", "facts", "people"},
    "names": {"aliases"},
    "settings": {"settings"},
}
# Versions themselves; and an answer that is named by what was asked and when it was given.
VERSIONS, NAMED = {"desk_versions", "tally_versions"}, {"teaching": {"jobs"}}


@contextmanager
def traced(database, monkeypatch):
    """What each value reads while it is made, by its name; none is found in the cache."""
    making: list[str] = []
    read: dict[str, set[str]] = defaultdict(set)
    needs: dict[str, set[str]] = defaultdict(set)

    @contextmanager
    def watched(_self, key):
        making.append(key[0])
        needs[key[0]] |= {name for name, value in key[1]._asdict().items() if value and name != "asked"}
        try:
            yield
        finally:
            making.pop()

    def look(statement):
        for table in re.findall(r'(?:FROM|JOIN)\s+"?([a-z_]+)', statement):
            for name in making:
                read[name].add(table)

    def listen(connection, *_):
        connection.set_trace_callback(look)

    with monkeypatch.context() as patch:
        patch.setattr(Cache, "making", watched)
        patch.setattr(Cache, "find", lambda *_: None)
        event.listen(database.engine, "checkout", listen)
        yield read, needs
        event.remove(database.engine, "checkout", listen)


def test_no_value_reads_what_it_does_not_say(desk, monkeypatch):
    """Every page of a desk with cases, two editions, an odd name and an open case is looked at."""
    log(desk, 120)
    with desk.writing() as session:
        log_cases(
            session,
            [case(1_000 + n, ("Arm helped down", "fixed"), days_ago=n) for n in range(9)],
            Logging("import", LEAD_ID, NOON, 14),
        )
    client = at_noon(desk)
    publish(client, desk)
    client.post("/api/climbs", json={"id": "climb-0001", "playbook": ID, "started": {}})
    with traced(desk, monkeypatch) as (read, needs):
        for path in (
            "/api/symptoms",
            "/api/climbs",
            "/api/nudges",
            "/api/climbs/climb-0001",
            f"/api/playbooks/{ID}/draft",
            f"/api/playbooks/{ID}/draft/figures",
            f"/api/playbooks/{ID}/draft/figures?unit=model:GR4",
            f"/api/playbooks/{ID}/draft/review",
            f"/api/playbooks/{ID}/evidence",
            f"/api/playbooks/{ID}/estimate",
            f"/api/playbooks/{ID}/draft/figures?by=cases",
            f"/api/playbooks/{ID}/draft/learned",
            f"/api/playbooks/{ID}/replay?after=2&before=1",
            f"/api/playbooks/{ID}/side-by-side?a=1&b=2",
            f"/api/playbooks/{ID}/editions",
            "/api/found-steps?text=hold",
            "/api/month?month=2026-02",
        ):
            answer = client.get(path)
            assert answer.status_code in (200, 202), (path, answer.json)
    assert len(read) > 20, "values were made and watched"
    for name, tables in read.items():
        allowed = set().union(VERSIONS, NAMED.get(name, set()), *(READS.get(need, set()) for need in needs[name]))
        assert tables <= allowed, f"'{name}' needs {sorted(needs[name])} and reads {sorted(tables - allowed)}"


def publish(client, database):
    with database.writing() as session:
        move(session, 0, 1)
    revision = client.get(f"/api/playbooks/{ID}/draft").json["revision"]
    answer = client.post(f"/api/playbooks/{ID}/editions", json={"note": "b"}, headers={"If-Match": f'"{revision}"'})
    assert answer.status_code == 201, answer.json

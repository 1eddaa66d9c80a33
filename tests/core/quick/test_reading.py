"""Whatever is typed, every word of it is understood or told; titles come through as they are."""

import string

import pytest
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st

from mildladder.core.model.quick import QuickEnd, QuickStep
from mildladder.core.model.step import Effort, Hazard
from mildladder.core.quick import Known, lines_of, quick_words, read_line
from mildladder.core.quick.reading import MOST_CHARACTERS
from mildladder.core.quick.table import BAD, CHANCES, LIKELY

WORDS = [
    "5",
    "min",
    "visit",
    "wait",
    "2",
    "journey",
    "20",
    "parts",
    "1.5",
    "90",
    "%",
    "done",
    "check",
    "fix",
    "service",
    "mild",
    "often",
    "ends",
    "One lead is bad",
    "and",
    "finds",
    "A / B",
    "in",
    "Side panel open",
    ",",
    ";",
    "+",
    "by",
    "the",
    "caller",
    "data",
    "badly",
    "rarely",
    '"',
    "“x, y”",
    "\t",
    "|",
    "lever",
    "héng",
    "صمام",
    "7.",
    "-",
    "…",
]
KNOWN = Known(causes=("One lead is bad", "Plug and lead are wet"), footings=("Side panel open",))
LINES = st.one_of(st.text(max_size=80), st.lists(st.sampled_from(WORDS), max_size=14).map(" ".join))


@settings(max_examples=400)
@given(LINES)
@example("a, ends")
@example("a, in")
@example("a, finds /")
@example("a, 5 5")
@example("a, ends B often ends C")
def test_every_word_is_understood_or_told(line):
    step = read_line(line, KNOWN)
    for one in step.unread:
        assert line[one.start : one.end] == one.text
        assert one.text.strip()
    assert step.title or step.wrong
    assert len(step.unread) == len({one.start for one in step.unread})


# Whole parts that mean something, and what of a step they say.
PARTS = {
    "5 min": "hands_on",
    "wait 2": "wait",
    "20 journey": "travel",
    "parts 12": "parts",
    "by the caller": "by",
    "safeguard": "kind",
    "service mild rarely": "hazards",
    "ends Plug is wet often": "ends",
    "finds A / B": "finds",
    "done 90 %": "done",
    "do Open it / Turn it": "do",
    "Side panel open": "footing",
}
FOREIGN = st.text(alphabet="qxjzкщΩ漢", min_size=1, max_size=8)


@settings(max_examples=300)
@given(st.lists(st.sampled_from(sorted(PARTS)), min_size=1, unique=True), FOREIGN, st.data())
def test_a_word_that_means_nothing_is_told_and_harms_no_other(parts, foreign, data):
    plain = read_line(", ".join(["Title", *parts]), KNOWN)
    assert plain.unread == ()
    said = plain.model_fields_set | plain.effort.model_fields_set
    assert {PARTS[part] for part in parts} <= said
    # Behind instructions it would be one of their words.
    places = [at for at in range(1, len(parts) + 1) if not parts[at - 1].startswith("do ")]
    assume(places)
    at = data.draw(st.sampled_from(places))
    with_it = read_line(", ".join(["Title", *parts[:at], foreign, *parts[at:]]), KNOWN)
    assert [one.text for one in with_it.unread] == [foreign]
    assert with_it.model_copy(update={"unread": ()}) == plain


def test_what_means_nothing_is_told_with_its_place():
    step = read_line("Reseat the lead, 5 mn visit, sturdy")
    assert (step.title, step.effort.hands_on, step.effort.by) == ("Reseat the lead", 5, "visit")
    assert [(one.text, one.start) for one in step.unread] == [("mn", 19), ("sturdy", 29)]


def test_what_is_said_twice_is_told():
    step = read_line("Reseat the lead, 5 min, 7 min, caller, visit")
    assert (step.effort.hands_on, step.effort.by) == (5, "caller")
    assert [one.text for one in step.unread] == ["7 min", "visit"]


TITLES = st.text(alphabet=string.ascii_letters + string.digits + " ,;.%+'()-éßдж", min_size=1, max_size=40).filter(
    lambda text: text.strip()
)


@given(TITLES)
def test_quotes_keep_any_title(title):
    step = read_line(f'"{title}", 5 min visit')
    assert step.title == " ".join(title.split())
    assert (step.effort.hands_on, step.effort.by, step.unread) == (5, "visit", ())


def test_titles_with_commas_numbers_and_words_of_ours_come_through():
    for title in (
        "Ask the caller, then look",
        "Visit the 5 min panel",
        "Check 2 of 3, twice",
        "Wait 20 min",
        "Fix 1,5 V",
    ):
        for more in ("", ", 5 min visit"):
            assert read_line(title + more).title == title


def test_causes_and_states_are_called_as_the_playbook_has_them():
    step = read_line("Reseat, ends one LEAD is bad and plug and lead are wet rarely, side panel OPEN", KNOWN)
    assert [(end.cause, end.chance) for end in step.ends] == [
        ("One lead is bad", "often"),
        ("Plug and lead are wet", "rarely"),
    ]
    assert step.footing == "Side panel open"


def test_a_list_loses_its_numbers_and_bullets_and_nothing_else():
    pasted = "1. One\r\n2) Two\n\n• Three\n – Four\n(5) Five\na) Six\n7 of them\u2028o ring"
    assert lines_of(pasted) == ["One", "Two", "Three", "Four", "Five", "Six", "7 of them", "o ring"]


def test_a_line_that_is_too_long_is_told():
    assert "at most 1,000 characters" in read_line("x" * (MOST_CHARACTERS + 1)).wrong
    assert "a title has at most 300" in read_line("x" * 301).wrong
    assert "title is missing" in read_line(", 5 min").wrong


NUMBERS = st.integers(0, 40_000).map(lambda n: n / 4)
STEPS = st.builds(
    QuickStep,
    title=TITLES.map(lambda text: " ".join(text.split())),
    kind=st.sampled_from(["check", "fix", "safeguard", "workaround", "prevention"]),
    effort=st.fixed_dictionaries(
        {},
        optional={
            "hands_on": NUMBERS,
            "wait": NUMBERS,
            "travel": NUMBERS,
            "parts": NUMBERS,
            "by": st.sampled_from(["caller", "desk", "visit"]),
        },
    ).map(lambda said: Effort(**said)),
    hazards=st.lists(
        st.builds(
            Hazard,
            kind=st.sampled_from(["data", "service", "equipment", "security", "injury"]),
            severity=st.sampled_from(sorted(set(BAD.values()))),
            chance=st.sampled_from(sorted(set(LIKELY.values()))),
        ),
        max_size=2,
    ).map(tuple),
    ends=st.dictionaries(
        st.sampled_from(["One lead is bad", "Plug is wet and old", "Often off", "5 % of it", "A"]),
        st.sampled_from(list(CHANCES.values())),
        max_size=3,
    ).map(lambda ends: tuple(QuickEnd(cause=cause, chance=chance) for cause, chance in ends.items())),
    finds=st.lists(st.sampled_from(["Reads blocked", "Reads clear", "5 min"]), max_size=2, unique=True).map(tuple),
    do=st.lists(st.sampled_from(["Open it", "Press 5, then 6"]), max_size=2).map(tuple),
    done=st.one_of(st.none(), st.integers(0, 100).map(lambda n: n / 100)),
)


@settings(max_examples=300)
@given(STEPS)
def test_a_step_printed_and_read_is_the_same_step(step):
    again = read_line(quick_words(step))
    assert again.unread == ()
    assert again.model_copy(update={"says": "", "doubts": ()}) == step


WRITTEN_OTHERWISE = [
    ("Restart the unit (5 min, visit)", "Restart the unit", "a fix · 5 min by a visit"),
    ("Restart the unit - 5 min - visit", "Restart the unit", "a fix · 5 min by a visit"),
    ("check: Read the sensor, 2 min", "Read the sensor", "a check · 2 min by the desk"),
    ("[safeguard] Save the counts – 3 min (desk)", "Save the counts", "a safeguard · 3 min by the desk"),
    ("5 min\tRestart\tvisit", "Restart", "a fix · 5 min by a visit"),
    (
        "Reload the settings (2 min; data badly 7 %)",
        "Reload the settings",
        "a fix · 2 min by the desk · may lose data badly, 7 %",
    ),
]


@pytest.mark.parametrize(("line", "title", "says"), WRITTEN_OTHERWISE)
def test_brackets_dashes_and_what_stands_before_the_title_are_read(line, title, says):
    step = read_line(line)
    assert (step.title, step.says) == (title, says)
    assert step.unread == step.doubts == ()


def test_commas_within_instructions_part_nothing():
    step = read_line("Clear it, 2 min, do Open the page, press clear, caller")
    assert (step.do, step.effort.by, step.unread) == (("Open the page, press clear",), "caller", ())


@pytest.mark.parametrize(
    ("line", "title", "number"),
    [
        ("Load it (version 5), 2 min", "Load it (version 5)", "5"),
        ("Swap the lead - the 5 m one, 10 min", "Swap the lead - the 5 m one", "5"),
        ("Step 7: Restart, 2 min", "Step 7: Restart", "7"),
    ],
)
def test_a_number_that_stays_in_the_title_is_told(line, title, number):
    step = read_line(line)
    assert step.title == title
    assert step.doubts == (f"the number {number} belongs to the title",)


def test_a_line_without_minutes_says_so_and_one_in_quotes_means_its_number():
    assert read_line("Restart the unit").doubts == ("no minutes given",)
    assert read_line('"Restart lane 2", 0 min').doubts == ()


@settings(max_examples=200)
@given(st.text(alphabet="ab 5()[]-–:;,\t|min%", max_size=30))
@example("(a")
@example("a (5 min")
@example(" - ")
@example("check: ")
def test_no_bracket_or_dash_loses_a_word(line):
    step = read_line(line)
    for one in step.unread:
        assert line[one.start : one.end] == one.text
    assert step.title or step.wrong

"""For each rule of review a playbook that breaks it, and the same but for that one thing, which passes."""

from copy import deepcopy
from typing import Any

from mildladder.core.model import Playbook
from tests.samples import GATE

Data = dict[str, Any]


def plain() -> Data:
    """A playbook of which review says nothing."""
    data = deepcopy(GATE)
    for step in data["steps"]:
        step |= {"do": [{"text": "Do it"}, {"text": "Wait"}], "expect": "It works", "stuck": "Ask again"}
    by_id(data, "reload-program")["undo"] = {"possible": "partly", "how": "Load the old one"}
    by_id(data, "clear-hold")["fixes"] = {"bad-setting": 0.95}
    by_id(data, "wave-through")["undo"] = {"possible": "yes", "how": "Shut the gate"}
    data["ladder"] = [
        {"step": "sensor-look", "on": {"blocked": [{"step": "wave-through"}]}},
        {"step": "clear-hold"},
        {"step": "save-counts"},
        {"step": "reload-program", "note": "The last thing to try"},
    ]
    data["retest"] = {"how": "Try it"}
    return data


def by_id(data: Data, step: str) -> Data:
    return next(one for one in data["steps"] if one["id"] == step)


def rung(data: Data, step: str) -> Data:
    return next(one for one in data["ladder"] if one["step"] == step)


def make(change=None) -> Playbook:
    data = plain()
    if change:
        change(data)
    return Playbook.model_validate(data)


def case(code: str, breaks, passes=None) -> tuple[str, Playbook, Playbook]:
    """A rule, what breaks it, and what must change for it to pass; nothing: the plain playbook passes."""
    return code, make(breaks), make(passes)


def both(*changes):
    def change(data: Data) -> None:
        for one in changes:
            one(data)

    return change


def step(name: str, **more):
    return lambda data: by_id(data, name).update(more)


def on(name: str, **more):
    return lambda data: rung(data, name).update(more)


def whole(**more):
    return lambda data: data.update(more)


def order(*names: str):
    def change(data: Data) -> None:
        known = {one["step"]: one for one in data["ladder"]}
        data["ladder"] = [known.get(name, {"step": name}) for name in names]

    return change


def symptom(**more):
    return lambda data: data["symptom"].update(more)


LOOK, HOLD, SAVE, RELOAD, WAVE = "sensor-look", "clear-hold", "save-counts", "reload-program", "wave-through"
SEVERE = {"hazards": [{"kind": "data", "severity": 5, "chance": 0.5}], "undo": {"possible": "no"}}
HOW = {"possible": "no", "how": "Call the maker"}
PANEL = {"footings": [{"id": "panel", "title": "Panel open", "enter": {"hands_on": 9}, "leave": {"hands_on": 4}}]}
THIRD = {"id": "third", "title": "Third", "layer": "data", "weight": 1}
EVEN = [
    {"id": "blocked", "title": "B", "given": {"sensor-dirty": 0.9, "*": 0.1}},
    {"id": "clear", "title": "C", "given": {"sensor-dirty": 0.1, "*": 0.9}},
]
NEVER = [{**EVEN[0], "given": {"*": 0}}, {**EVEN[1], "given": {"*": 1}}]
SECOND = {
    "id": "second",
    "title": "Second",
    "kind": "fix",
    "effort": {"hands_on": 2},
    "fixes": {"bad-setting": 0.9},
    "do": [{"text": "Do"}],
    "expect": "It works",
}


def handed_to_a_team(data: Data) -> None:
    """What the check finds for the third cause goes to a team of its own."""
    own = {"id": "own", "title": "Theirs", "given": {"third": 0.9, "*": 0.1}}
    others = [{**one, "given": {**one["given"], "third": 0.05}} for one in deepcopy(EVEN)]
    by_id(data, LOOK)["findings"] = [*others, own]
    rung(data, LOOK)["on"]["own"] = [{"hand_off": data["hand_offs"][0]["id"]}]


def kept_round_what_is_rougher(data: Data) -> None:
    """Two rungs that are kept together, the first of them rougher than the one below the second."""
    data["policy"] = {"mode": "mildest"}
    by_id(data, HOLD)["hazards"] = [{"kind": "data", "severity": 3, "chance": 0.3}]
    by_id(data, HOLD)["undo"] = {"possible": "no", "how": "Call the maker"}
    rung(data, RELOAD)["keep"] = rung(data, HOLD)["keep"]


def with_second(**more):
    def change(data: Data) -> None:
        data["steps"].append({**deepcopy(SECOND), **more})

    return change


def with_fact(fact: Data):
    return lambda data: data["facts"].append(dict(fact))


def footings_apart(data: Data) -> None:
    both(whole(**deepcopy(PANEL)), with_second(footing="panel"), step(HOLD, footing="panel"))(data)
    order(HOLD, LOOK, SAVE, RELOAD, "second")(data)


def footings_together(data: Data) -> None:
    footings_apart(data)
    order(HOLD, "second", LOOK, SAVE, RELOAD)(data)


def visit(data: Data) -> None:
    with_second(effort={"hands_on": 5, "by": "visit", "travel": 20}, fixes={"bad-setting": 0.2})(data)
    order(LOOK, "second", HOLD, SAVE, RELOAD)(data)


def visit_below(data: Data) -> None:
    visit(data)
    order(LOOK, HOLD, SAVE, RELOAD, "second")(data)


CASES = [
    case("unsound", step(HOLD, fixes={"nothing": 0.5})),
    case("safeguard-below", order(LOOK, HOLD, RELOAD, SAVE)),
    case("safeguard-absent", order(LOOK, HOLD, RELOAD)),
    case("needs-below", both(step(LOOK, needs=[HOLD])), step(HOLD, needs=[LOOK])),
    case("needs-absent", both(with_second(), step(HOLD, needs=["second"]))),
    case(
        "finding-below",
        both(order(HOLD, LOOK, SAVE, RELOAD), on(HOLD, when="sensor-look found clear")),
        on(HOLD, when="sensor-look found clear"),
    ),
    case("finding-absent", both(order(HOLD, SAVE, RELOAD), on(HOLD, when="sensor-look found clear"))),
    case(
        "severe-unguarded",
        both(
            step(
                HOLD,
                **SEVERE,
            ),
            step(HOLD, undo=HOW),
        ),
        both(step(HOLD, **SEVERE), step(HOLD, undo=HOW), on(HOLD, note="Nothing can be saved here")),
    ),
    case("unreachable-rail", step(LOOK, findings=deepcopy(NEVER)), step(LOOK, findings=deepcopy(EVEN))),
    case(
        "unreachable-finding",
        both(step(LOOK, findings=deepcopy(NEVER)), on(HOLD, when="sensor-look found blocked")),
        on(HOLD, when="sensor-look found blocked"),
    ),
    case(
        "trial-split",
        both(on(HOLD, trial="t"), on(RELOAD, trial="t")),
        both(on(SAVE, trial="t"), on(RELOAD, trial="t")),
    ),
    case("unfilled-value", step(HOLD, do=[{"text": "Open lane {lane}"}]), step(HOLD, do=[{"text": "Open {model}"}])),
    case("unfilled-value", step(HOLD, say="Lane {lane} will be shut"), step(HOLD, say="The {model} will be shut")),
    case(
        "unfilled-value",
        step(HOLD, guard=[{"ask": "Is lane {lane} empty?", "must": "yes", "else": "could-not"}]),
        step(HOLD, guard=[{"ask": "Is the {model} empty?", "must": "yes", "else": "could-not"}]),
    ),
    case("unfilled-value", on(HOLD, note="As lane {lane} wants it"), on(HOLD, note="As the {model} wants it")),
    case("unfilled-value", whole(retest={"how": "Try lane {lane}"}), whole(retest={"how": "Try the {model}"})),
    case(
        "input-clash",
        both(
            step(HOLD, inputs=[{"id": "lane", "ask": "?", "type": "number"}]),
            step(RELOAD, inputs=[{"id": "lane", "ask": "?", "type": "text"}]),
        ),
        both(
            step(HOLD, inputs=[{"id": "lane", "ask": "?", "type": "number"}]),
            step(RELOAD, inputs=[{"id": "lane", "ask": "?", "type": "number"}]),
        ),
    ),
    case("no-end", whole(hand_offs=[])),
    case(
        "no-end",
        whole(hand_offs=[{"id": "a", "title": "A"}, {"id": "b", "title": "B"}]),
        whole(hand_offs=[{"id": "a", "title": "A"}, {"id": "b", "title": "B", "default": True}]),
    ),
    case("rough-above-mild", both(order(LOOK, SAVE, RELOAD, HOLD), on(RELOAD, note=None)), on(RELOAD, note=None)),
    case(
        "safeguard-may-fail",
        step(SAVE, done=0.9),
        both(step(SAVE, done=0.9), on(SAVE, note="Then they are written down by hand")),
    ),
    case(
        "safeguard-may-fail",
        step(SAVE, done=0.9),
        both(step(SAVE, done=0.9), on(SAVE, on={"could-not": [{"step": "wave-through"}]})),
    ),
    case(
        "safeguard-may-fail",
        step(SAVE, done=0.9),
        both(
            step(SAVE, done=0.9),
            step(RELOAD, hazards=[{"kind": "data", "severity": 2, "chance": 0.05, "eased_by": SAVE, "eased_to": 0.05}]),
        ),
    ),
    case("brace-as-written", step("clear-hold", say="Lane {Lane number}, please")),
    case(
        "severe-no-undo",
        both(step(HOLD, **SEVERE), on(HOLD, note="No way to save it")),
        both(step(HOLD, **SEVERE), step(HOLD, undo=HOW), on(HOLD, note="No way to save it")),
    ),
    case("never-reached", on(HOLD, when="model is GR4 and model is GR6"), on(HOLD, when="model is GR4")),
    case("never-reached", both(step(LOOK, includes=[SAVE])), step(LOOK, includes=[])),
    case(
        "counted-twice",
        both(
            with_fact({"id": "age", "ask": "?", "type": "number"}),
            with_second(),
            order(LOOK, HOLD, "second", SAVE, RELOAD),
            on(HOLD, when="age above 3"),
            on("second", when="not age above 3"),
        ),
        both(
            with_fact({"id": "age", "ask": "?", "type": "number", "shares": {"2": 0.5, "4": 0.5}}),
            with_second(),
            order(LOOK, HOLD, "second", SAVE, RELOAD),
            on(HOLD, when="age above 3"),
            on("second", when="not age above 3"),
        ),
    ),
    case("footing-twice", footings_apart, footings_together),
    case("idle-check", on(LOOK, on={})),
    case(
        "unended-cause",
        lambda data: data["causes"].append(dict(THIRD)),
        lambda data: (data["causes"].append(dict(THIRD)), by_id(data, HOLD)["fixes"].update(third=0.2)),
    ),
    case(
        "unended-cause",
        lambda data: data["causes"].append(dict(THIRD)),
        both(lambda data: data["causes"].append(dict(THIRD)), handed_to_a_team),
    ),
    case("idle-watch", step(SAVE, watch="PT4H"), step(HOLD, watch="PT4H")),
    case(
        "no-order",
        both(
            on(HOLD, keep="k"),
            on(RELOAD, keep="k"),
            with_second(),
            order(LOOK, HOLD, SAVE, RELOAD, "second"),
            kept_round_what_is_rougher,
        ),
    ),
    case("idle-fix", step(HOLD, fixes={}), step(HOLD, fixes={"bad-setting": 0.2})),
    case("no-instructions", step(HOLD, do=[])),
    case("visit-above-desk", visit, visit_below),
    case(
        "rail-without-chance",
        both(on(HOLD, on={"could-not": [{"again": True}]}), step(HOLD, done=1)),
        both(on(HOLD, on={"could-not": [{"again": True}]}), step(HOLD, done=0.9)),
    ),
    case(
        "unit-without-text",
        step(HOLD, do=[{"text": "Do", "when": "model is GR4"}]),
        step(HOLD, do=[{"text": "Do", "when": "model is GR4"}, {"text": "Do", "when": "model is GR6"}]),
    ),
    case(
        "security-left",
        step(HOLD, hazards=[{"kind": "security", "severity": 1, "chance": 0.1}], undo={"possible": "no"}),
        step(
            HOLD,
            hazards=[{"kind": "security", "severity": 1, "chance": 0.1}],
            undo={"possible": "no"},
            afterwards=[{"text": "Lock it again"}],
        ),
    ),
    case(
        "uses-lost", both(symptom(lost=["lane-page"]), step(HOLD, uses=["lane-page"])), step(HOLD, uses=["lane-page"])
    ),
    case("uneven-causes", step(LOOK, findings=[EVEN[0], {**EVEN[1], "given": {"*": 0.9}}])),
    case(
        "link-absent",
        symptom(see_also=[{"sign": "Dark", "playbook": "nothing"}], leave_alone=[{"what": "A", "why": "B"}]),
        symptom(see_also=[{"sign": "Dark", "playbook": "other"}], leave_alone=[{"what": "A", "why": "B"}]),
    ),
    case(
        "link-ring",
        on(HOLD, on={"could-not": [{"playbook": "back"}]}),
        on(HOLD, on={"could-not": [{"playbook": "other"}]}),
    ),
    case("no-expect", step(HOLD, expect=None)),
    case("no-stuck", both(step(RELOAD, stuck=None)), both(step(RELOAD, stuck="Ask"))),
    case("always-holds", on(HOLD, when="model is GR4 or model is not GR4"), on(HOLD, when="model is GR4")),
    case(
        "no-leave-alone",
        symptom(see_also=[{"sign": "Dark", "playbook": "other"}]),
        symptom(see_also=[{"sign": "Dark", "playbook": "other"}], leave_alone=[{"what": "A", "why": "B"}]),
    ),
    case(
        "all-guesses",
        lambda data: [
            one.update(fixes=dict.fromkeys(one["fixes"], "often")) for one in data["steps"] if "fixes" in one
        ],
    ),
]
KNOWN = {"gate-arm-up": frozenset(), "other": frozenset(), "back": frozenset({"gate-arm-up"})}

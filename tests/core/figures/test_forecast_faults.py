"""Deliberate faults put into the forecast and its plan: each must be caught by the comparison with the slow twin."""

import inspect
import sys
from functools import cache
from types import ModuleType

import pytest

from mildladder.core.figures import flow as sound_flow
from mildladder.core.figures import forecast as sound_forecast
from mildladder.core.figures import plan as sound_plan
from tests.core.figures.enumerator import enumerate_ladder
from tests.core.figures.test_forecast import TOLERANCE, difference
from tests.core.random_ladders import random_playbook

# (what the code says, what the faulty one says)
IN_FLOW = [
    ("self.ledger.hurt(node, mass, node.harm.after(done))", "self.ledger.hurt(node, mass, node.harm.after(0))"),
    (
        "self.ledger.hurt(node, mass, node.harm.after(done))",
        "self.ledger.hurt(node, mass, node.harm.after(done | node.bits))",
    ),
    ("(done | node.bits) & ~node.undoes", "(done | node.bit) & ~node.undoes"),
    ("(done | node.bits) & ~node.undoes", "done"),
    ("(done | node.bits) & ~node.undoes", "done | node.bits"),
    ("(done | node.bits) & ~node.undoes", "(done & ~node.undoes) | node.bits & ~node.bit"),
    ("for place in self.plan.undone.get(node.undoes, ()):", "for place in ():"),
    ("found = _with(found, node.ended, -1)", "pass"),
    ("key = (key[0], key[1], _with(key[2], node.ended, 0))", "pass"),
    ("if done & node.bit:", "if False:"),
    ("self._rail(last, self._known(last, after[2]), {after: rest})", "self._rail(last, None, {after: rest})"),
    ("if node.footing not in (ANY, footing):", "if node.footing != ANY and node.footing != NORMAL:"),
    ("if node.footing not in (ANY, footing):", "if node.footing not in (ANY, footing) and False:"),
    ("self.ledger.pay(node, mass, node.cost)", "self.ledger.pay(node, mass * node.done, node.cost)"),
    ("if is_again or node.is_sure:", "if node.is_sure:"),
    ("if is_again or node.is_sure:", "if True:"),
    ("test = test._replace(leaving=node)", "pass"),
    ("back = NORMAL if is_left else key[0]", "back = key[0]"),
    (
        'is_left = node.step.proves == "after-leaving" and node.is_alone',
        'is_left = node.step.proves == "after-leaving"',
    ),
    ('self._rail(node, "could-not", {key: mass}, back)', "self._rail(node, None, {key: mass}, back)"),
    (
        'if any(node.step.proves == "after-restart" and not node.step.search for node in test.carried):',
        'if tried.step.proves == "after-restart":',
    ),
    (
        'if any(node.step.proves == "after-restart" and not node.step.search for node in test.carried):',
        'if any(node.step.proves == "after-restart" for node in test.carried):',
    ),
    ("self.ledger.pay(tried, mass, self.plan.restart)", "pass"),
    ("if rounds and node.step.proves ==", "if False and node.step.proves =="),
    ("self.ledger.pay(node, mass, cost.times(rounds - 1))", "self.ledger.pay(node, mass, cost.times(rounds))"),
    ("((NORMAL, node.footing), (node.footing, NORMAL))", "((NORMAL, node.footing),)"),
    ("self.ledger.hurt(node, mass, (rounds - 1) * harm.after(done))", "pass"),
    ("self.ledger.pay(tried, mass, tried.retest)", "self.ledger.pay(tried, mass, test.carried[0].retest)"),
    ("                mass = mass - cured\n", ""),
    ('mass, ("always", "no-change"))', 'mass, ("always",))'),
    ('mass, ("always", "no-change"))', 'mass, ("no-change",))'),
    ('cured, ("always",))', 'cured, ("always", "no-change"))'),
    ("for node in reversed(test.carried):", "for node in reversed(test.carried[-1:]):"),
    ("for node in reversed(test.carried):", "for node in test.carried:"),
    ("if node.back_in not in (ANY, key[0]):", "if False:"),
    (
        "                    key = self._switch(node, key, node.back_in, mass)",
        "                    self._switch(node, key, node.back_in, mass)",
    ),
    (
        'self.leave(node, self._put_back(key, test, cured, ("always",)), cured)',
        'self._put_back(key, test, cured, ("always",))',
    ),
    ("self._rounds(tried, key[1], mass, tried.rounds[1])", "pass"),
    ("self._rounds(node, key[1], cured, node.rounds[0])", "pass"),
    ("cured, node.rounds[0])", "cured, node.rounds[1])"),
    ('states = self._rail(node, "restored", states)', "pass"),
    ('node.step.kind == "workaround" and "restored" in node.rails', "False"),
    ("if test.is_to_branch and last.rails:", "if last.rails:"),
    ("self.ledger.pay(node, part, cost)", "pass"),
    ("back = self._switch(node, after, target, rest) if after[0] != target else after", "back = after"),
    ("self.ledger.hurt(node, mass, harm.after(key[1]))", "pass"),
    ("self.ledger.hurt(node, mass, harm.after(key[1]))", "self.ledger.hurt(node, mass, harm.after(0))"),
    ("            self.leave(owner, key, mass)\n", ""),
    ("            self.leave(None, key, rest)\n", ""),
    ("self.ledger.pay(None, rest, self.plan.hand_off)", "pass"),
    ("self.ledger.pay(owner, mass, part.team)", "self.ledger.pay(owner, mass, self.plan.hand_off)"),
    ('"sent_on" if part.team is None else "handed_off"', '"handed_off"'),
    ("is not False", "is True"),
    (
        "known = tuple([number if check in checks else -1 for check, number in enumerate(found)])",
        "known = (-1,) * len(found)",
    ),
    ("add_to(out, (footing, done & bits, known), mass)", "add_to(out, (footing, 0, known), mass)"),
    ('"resolved" if node.step.kind == "fix" else "worked_around"', '"resolved"'),
    (
        "if not is_again and not self._applies(node, found):",
        "if not self._applies(node, found) and not is_again and node.parent is None:",
    ),
    (
        '        if not is_again:\n            self.ledger.note("reach"',
        '        if True:\n            self.ledger.note("reach"',
    ),
    ("_Test((*test.carried, node), test.leaving, True)", "_Test((node,), test.leaving, True)"),
    ("test = test._replace(is_to_branch=True)", "pass"),
    ("key, test._replace(is_to_branch=False), mass", "key, test, mass"),
    ("came.append((key, test._replace(is_to_branch=True), mass))", "came.append((key, test, mass))"),
]
IN_FORECAST = [
    ("group.share * priors_on(causes, group.facts, types)", "priors_on(causes, group.facts, types)"),
    ("priors_on(causes, group.facts, types)", "priors_on(causes, {}, types)"),
    ("np.divide(ledger.effort, overall,", "np.divide(ledger.effort, overall + 1e-3,"),
    ("rows[name][node.parent.index] += rows[name][node.index]", "pass"),
]
IN_PLAN = [
    ("if group and (trial is None or trial != group_id):", "if group:"),
    ("condition=True if left is None else left,", "condition=left is not None and left,"),
    ("waiting.extend(self.steps[current].includes)", "pass"),
    ("return bits & ~does", "return 0"),
    ("if test.outcome == _COULD_NOT else False", ""),
    ("self._harm(hazards, 1.0)", "self._harm(hazards, 0.3)"),
    ("way(by_id, origin, target)", "(way(by_id, origin, None)[0], way(by_id, None, target)[1])"),
    ("for footing in reversed(left))", "for footing in left[:1])"),
    (
        "rounds = search_rounds(step.search.count, step.search.how, finding == SEARCH_FINDS[0])",
        "rounds = search_rounds(step.search.count, step.search.how, True)",
    ),
    ("search_rounds(count, how, True, is_fix=True)", "search_rounds(count, how, True)"),
    ("self._cost(step.search.round) + restart + retest", "self._cost(step.search.round) + restart"),
    ("self._cost(step.search.round) + restart + retest", "self._cost(step.search.round) + retest"),
    ('"retest": Cost() if step.search else tried,', '"retest": tried,'),
    ("step.undo.footing if step.undo and step.undo.footing else step.footing", "step.footing"),
    ("True, is_fix=True), search_rounds(count, how, False", "False, is_fix=True), search_rounds(count, how, True"),
    ("node.is_alone = len(group) == 1", "node.is_alone = True"),
    ("retest.hands_on, by, self.weights)", 'retest.hands_on, "desk", self.weights)'),
    ("checks |= tested", "pass"),
    ("bits |= node.bit | self._guards(list(node.step.hazards))", "bits |= node.bit"),
    ("line.matters.insert(0, (bits | self.footing_guards, checks))", "line.matters.insert(0, (bits, checks))"),
    ("self.steps = {step.id: on_unit(step, facts, types)", "self.steps = {step.id: step"),
]
SEEDS = range(400)
FAULTS = [
    (module, *fault)
    for module, faults in ((sound_flow, IN_FLOW), (sound_forecast, IN_FORECAST), (sound_plan, IN_PLAN))
    for fault in faults
]


@cache
def slow(seed: int) -> dict:
    """What the slow twin says of a seed's ladder."""
    return enumerate_ladder(random_playbook(seed))


def faulty(module: ModuleType, right: str, wrong: str) -> ModuleType:
    """The forecast with one fault in it, or in what it is built upon."""
    source = inspect.getsource(module)
    assert right in source, f"{module.__name__} no longer says: {right}"
    made = load("faulty", source.replace(right, wrong))
    if module is sound_plan:
        made = load("faulty_flow", over(sound_flow, sound_plan, "faulty"))
        forecasting = over(sound_forecast, sound_plan, "faulty")
        return load("over_faulty", forecasting.replace(f"from {sound_flow.__name__} import", "from faulty_flow import"))
    return load("over_faulty", over(sound_forecast, sound_flow, "faulty")) if module is sound_flow else made


def over(module: ModuleType, sound: ModuleType, faulty_name: str) -> str:
    """The source of a module that is built upon a faulty one."""
    return inspect.getsource(module).replace(f"from {sound.__name__} import", f"from {faulty_name} import")


def load(name: str, source: str) -> ModuleType:
    module = ModuleType(name)
    sys.modules[name] = module
    exec(compile(source, name, "exec"), module.__dict__)
    return module


def test_there_are_sixty_faults_and_more():
    assert len(FAULTS) >= 60


@pytest.mark.parametrize("module", [sound_flow, sound_forecast, sound_plan])
def test_without_a_fault_nothing_is_caught(module):
    same = faulty(module, "def ", "def ")
    assert not any(is_caught(same, seed) for seed in range(20))


@pytest.mark.parametrize(("module", "right", "wrong"), FAULTS)
def test_a_fault_in_the_forecast_is_caught(module, right, wrong):
    bad = faulty(module, right, wrong)
    assert any(is_caught(bad, seed) for seed in SEEDS)


def is_caught(bad: ModuleType, seed: int) -> bool:
    """Whether the figures differ, or the faulty one falls over."""
    try:
        return difference(bad.forecast(random_playbook(seed)), slow(seed)) > TOLERANCE
    except (AssertionError, IndexError, KeyError, TypeError, AttributeError, ValueError, RecursionError):
        return True

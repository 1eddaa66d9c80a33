"""Values of a guided case: given where they are asked for; corrected, or told after all, at any time."""

from dataclasses import replace

from mildladder.core.climb.agenda import AgainTask, RungTask
from mildladder.core.climb.settling import settled
from mildladder.core.climb.state import Climb
from mildladder.core.climb.values import count_of
from mildladder.core.errors import Conflict
from mildladder.core.model import Fact
from mildladder.core.model.events import ClimbEvent, FactGiven

__all__ = ["corrected", "given", "is_asked", "may_be_corrected"]


def is_asked(now: Climb, name: str) -> bool:
    """Whether the value of that name is what is asked for now."""
    return (now.place == "fact" and now.asked.id == name) or name in now.asked_inside


def may_be_corrected(now: Climb, move: FactGiven) -> bool:
    """Whether it puts right what was told, or tells what nobody could tell, while that is not what is asked for."""
    is_known = move.fact in now.told or (move.fact in now.unknown and move.value is not None)
    return is_known and not is_asked(now, move.fact)


def corrected(now: Climb, move: FactGiven, event: ClimbEvent) -> Climb:
    """What was given is something else after all, or is known now: what lies ahead is looked at anew; what was done
    stays done, and a try that has begun stays as it is. Guard questions and the caller's yes may have been given for
    the wrong unit, so the step at hand asks for them again."""
    name, value = move.fact, move.value
    facts, caught, values = (
        {one: was for one, was in told.items() if one != name} for told in (now.facts, now.caught, now.values)
    )
    unknown = now.unknown - {name}
    if value is None:
        unknown |= {name}
    elif any(fact.id == name for fact in now.playbook.facts):
        facts[name] = value
    else:
        values[name] = value
    others = replace(now, facts=facts, caught=caught, values=values, unknown=unknown)
    if now.is_try_begun:
        was = now.facts if now.facts_of_try is None and now.started.rules >= 6 else now.facts_of_try
        begun = replace(others, facts_of_try=was)
        return _searched_anew(begun) if name == count_of(now.step) else begun
    is_inside = now.is_entered if now.started.rules >= 6 and _is_at_rung(now) else now.is_inside
    again = replace(others, guards=0, has_consent=False, has_begun=False, is_inside=is_inside)
    changed = settled(again)
    if changed.agenda[:1] == now.agenda[:1] and not (is_inside and changed.is_elsewhere_than(now)):
        return changed
    left = now.given_up()
    return settled(replace(again, footing=left.footing, route=left.route).with_nothing_begun(event.at))


def _is_at_rung(now: Climb) -> bool:
    return bool(now.agenda) and isinstance(now.agenda[0], RungTask | AgainTask)


def _searched_anew(now: Climb) -> Climb:
    """There are more, or fewer, to search than was said: halves are others then; of those that were tried one after
    the other, the last that there is is looked at once more."""
    search = now.step.search
    assert search is not None
    is_by_halves = search.how == "halves"
    return replace(now, rounds=() if is_by_halves else now.rounds[: search.count - 1])


def given(now: Climb, name: str, value: str | None, event: ClimbEvent) -> Climb:
    """The value that was asked for; None: nobody can tell. Raises Conflict where another is asked."""
    if not is_asked(now, name):
        raise Conflict(f"'{name}' is not what is asked here; reload to see the case as it stands")
    # Inside a step its time runs on.
    is_inside = name in now.asked_inside
    at = replace(now, is_inside=now.is_inside or value is not None) if is_inside else replace(now, since=event.at)
    if value is None:
        return settled(replace(at, unknown=now.unknown | {name}))
    if isinstance(now.asks(name), Fact):
        return settled(replace(at, facts={**now.facts, name: value}))
    return settled(replace(at, values={**now.values, name: value}))

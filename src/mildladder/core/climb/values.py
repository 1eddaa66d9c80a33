"""The values of a guided case: what was given, caught in the caller's words or computed, and what asks for each."""

from collections.abc import Mapping
from datetime import datetime
from functools import cached_property

from mildladder.core.climb.wording import names_in_commands
from mildladder.core.ladder.days import day_values
from mildladder.core.ladder.messages import NAME, names_in
from mildladder.core.ladder.sums import computed, names_in_sum
from mildladder.core.ladder.units import fact_types
from mildladder.core.ladder.values import fits_command, is_value
from mildladder.core.model import Fact, Input, Playbook, Step
from mildladder.core.model.base import MOST_LINE
from mildladder.core.texts import shortened

__all__ = ["Values", "count_of"]


def _worked_out(one: Input, asked: Mapping[str, str]) -> str:
    """What a value is called that nobody is asked for: what it is worked out from."""
    parts = [asked.get(name) or name.replace("-", " ") for name in names_in_sum(one.compute or "")]
    return f"worked out from {' and '.join(part.rstrip('?') for part in parts)}" if parts else one.id.replace("-", " ")


def count_of(step: Step) -> str:
    """The name of the value that says how many suspects there are for the step's search, where the agent says that."""
    return f"count-of-{step.id}"


def _asked_by_search(step: Step) -> dict[str, Input]:
    """What the step's search asks for: how many there are here, and, where nobody noted it, which one it was."""
    search = step.search
    found: dict[str, Input] = {}
    if search is not None and search.ask:
        found[count_of(step)] = _whole_number(count_of(step), f"How many {search.over} are there here?")
    if search is not None and search.found is not None:
        found[search.found] = _whole_number(search.found, f"Which of the {search.over} is it?")
    return found


def _whole_number(name: str, ask: str) -> Input:
    return Input(id=name, ask=shortened(ask, MOST_LINE), form="a whole number", pattern="[1-9][0-9]{0,3}")


class Values:
    """What is known by name, of whatever holds these.

    facts, values: given; caught: stood in what the caller said, and nobody has confirmed it. filled_at: the moment by
    which texts name the day.
    """

    playbook: Playbook
    facts: dict[str, str]
    caught: dict[str, str]
    values: dict[str, str]

    @cached_property
    def types(self) -> dict[str, str]:
        """The types of the facts."""
        return fact_types(self.playbook)

    @cached_property
    def known(self) -> dict[str, str]:
        """Every value that texts are filled with."""
        return {**self._of_the_day, **self._with_computed(self.told)}

    @property
    def filled_at(self) -> datetime:
        """The moment by which texts name the day."""
        raise NotImplementedError

    @cached_property
    def _of_the_day(self) -> dict[str, str]:
        return day_values(self.filled_at, {*self.types, *self.inputs})

    @property
    def told(self) -> dict[str, str]:
        """Those of them that somebody has told, in their own words or asked."""
        return {**self.facts, **self.caught, **self.values}

    def _with_computed(self, values: dict[str, str]) -> dict[str, str]:
        """The same with what can be computed from them; what is computed may be computed from."""
        waiting = [one for one in self.inputs.values() if one.compute is not None]
        while made := {one.id: value for one in waiting if (value := computed(one, values)) is not None}:
            values = {**values, **made}
            waiting = [one for one in waiting if one.id not in made]
        return values

    @cached_property
    def for_commands(self) -> dict[str, str]:
        """The values that commands are filled with: those that somebody gave or confirmed, and that are safe there."""
        given = self._with_computed({**self.facts, **self.values})
        safe = {name: value for name, value in given.items() if (one := self.asks(name)) and fits_command(one, value)}
        return {**self._of_the_day, **safe}

    @cached_property
    def asked_by(self) -> dict[str, str]:
        """What each value is asked by, by its name."""
        told = {name: one.ask for name, one in self.inputs.items() if one.ask}
        asked = told | {one.id: one.ask for one in self.playbook.facts}
        made = [one for one in self.inputs.values() if one.compute is not None]
        return asked | {one.id: _worked_out(one, asked) for one in made}

    def asks(self, name: str) -> Fact | Input | None:
        """What asks for the value of that name."""
        return next((fact for fact in self.playbook.facts if fact.id == name), None) or self.inputs.get(name)

    def may_be(self, asked: Fact | Input, value: str) -> bool:
        """Whether that can be its value, wherever the playbook uses it."""
        return fits_command(asked, value) if asked.id in self.in_commands else is_value(asked, value)

    @cached_property
    def in_commands(self) -> frozenset[str]:
        """The names that the commands of the playbook's steps wait for."""
        return frozenset(name for step in self.playbook.steps for name in names_in_commands(step))

    @cached_property
    def inputs(self) -> dict[str, Input]:
        """Every input of the playbook's steps, and the parts of messages that change, by id: each is asked once."""
        parts = {
            name: Input(
                id=name,
                ask=name.replace("-", " ").capitalize(),
                where=shortened(f"In the message “{NAME.sub('…', sign.text)}”, where that is shown", MOST_LINE),
            )
            for sign in self.playbook.symptom.signs
            if sign.kind == "message"
            for name in names_in(sign.text)
        }
        searched = {name: one for step in self.playbook.steps for name, one in _asked_by_search(step).items()}
        return {**parts, **searched, **{one.id: one for step in reversed(self.playbook.steps) for one in step.inputs}}

"""The values of a guided case: what was given, caught in the caller's words or computed, and what asks for each."""

from collections.abc import Mapping
from functools import cached_property

from mildladder.core.climb.wording import names_in_commands
from mildladder.core.ladder.messages import NAME, names_in
from mildladder.core.ladder.sums import computed, names_in_sum
from mildladder.core.ladder.units import fact_types
from mildladder.core.ladder.values import fits_command, is_value
from mildladder.core.model import Fact, Input, Playbook
from mildladder.core.model.base import MOST_LINE
from mildladder.core.texts import shortened

__all__ = ["Values"]


def _worked_out(one: Input, asked: Mapping[str, str]) -> str:
    """What a value is called that nobody is asked for: what it is worked out from."""
    parts = [asked.get(name) or name.replace("-", " ") for name in names_in_sum(one.compute or "")]
    return f"worked out from {' and '.join(part.rstrip('?') for part in parts)}" if parts else one.id.replace("-", " ")


class Values:
    """What is known by name, of whatever holds these.

    facts, values: given; caught: stood in what the caller said, and nobody has confirmed it.
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
        return self._with_computed(self.told)

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
        return {name: value for name, value in given.items() if (one := self.asks(name)) and fits_command(one, value)}

    @cached_property
    def asked_by(self) -> dict[str, str]:
        """What each value is asked by, by its name."""
        told = {one.id: one.ask for step in reversed(self.playbook.steps) for one in step.inputs if one.ask}
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
        return {**parts, **{one.id: one for step in reversed(self.playbook.steps) for one in step.inputs}}

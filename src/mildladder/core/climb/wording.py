"""Fill values into instructions, so that every front and file says them alike."""

import re
from collections.abc import Iterator, Mapping, Sequence

from mildladder.core.ladder.conditions import World, evaluate, facts_of, parse
from mildladder.core.ladder.messages import NAME, caught, names_in
from mildladder.core.ladder.saying import told_in_words
from mildladder.core.ladder.shown import shown_in_step
from mildladder.core.ladder.values import seconds
from mildladder.core.model import Instruction, Playbook, Shape, Step
from mildladder.core.model.base import MOST_LINE
from mildladder.core.texts import shortened

__all__ = [
    "FilledInstruction",
    "Filler",
    "captured_names",
    "message_parts",
    "names_in_commands",
    "names_in_step",
    "way_in_words",
]

_MARKDOWN = re.compile(r"([\\`*_{}\[\]()#+\-.!|<>~&])")
# A blank that its author has made bold already.
_BOLD_NAME = re.compile(rf"\*\*(?P<blank>{NAME.pattern})\*\*")
_LEAST_WORKED = 5


class FilledInstruction(Shape):
    """One instruction for this unit. `text`: Markdown; `copy_text`: a command ready to copy; `ways`: tried in turn,
    the one first that worked most often where enough cases say so.

    waits_for: what the command still lacks, in the words in which it is asked: until it has that, it is not to be
    copied. asks: ids of what it waits for, and of what decides whether it is one of this unit. picture: digest of the
    kept picture; hold: seconds, counted on screen.
    """

    text: str | None = None
    copy_text: str | None = None
    waits_for: tuple[str, ...] = ()
    asks: tuple[str, ...] = ()
    hold: int | None = None
    picture: str | None = None
    only_where: str | None = None
    ways: tuple["FilledWay", ...] = ()


class FilledWay(Shape):
    """One way of doing something. words: by which it is known in the log; worked: in how many cases it did."""

    words: str
    worked: int
    do: tuple[FilledInstruction, ...]


def captured_names(playbook: Playbook) -> list[str]:
    """The names of the parts of messages that become values."""
    return [name for sign in playbook.symptom.signs if sign.kind == "message" for name in names_in(sign.text)]


def message_parts(playbook: Playbook, said: str) -> dict[str, str]:
    """The changing parts of the symptom's messages, as they stand in what was said; facts are not among them."""
    facts = {fact.id for fact in playbook.facts}
    found: dict[str, str] = {}
    for sign in playbook.symptom.signs:
        parts = caught(sign.text, said) if sign.kind == "message" else None
        found |= {name: value for name, value in (parts or {}).items() if name not in facts}
    return found


def names_in_commands(step: Step) -> list[str]:
    """The names that a step's commands wait for."""
    return [name for do in step.do for text in _commands(do) for name in names_in(text)]


def _commands(instruction: Instruction) -> Iterator[str]:
    if instruction.copy_:
        yield instruction.copy_
    for way in instruction.ways or ():
        for inner in way:
            yield from _commands(inner)


def names_in_step(step: Step) -> list[str]:
    """The names that a step's texts wait for."""
    return [name for shown in shown_in_step(step) for name in names_in(shown.text)]


class Filler:
    """Fills known values into texts. in_commands: those of them that may stand in commands; options: of two-way inputs,
    for {not name}; pictures: digest by path; playbook: what conditions are said in the words of; asked: what each name
    is asked by, which stands as a blank where its value is not known (None: names stay as they are written); parts: of
    what is computed, the names that it is computed from; worked: in how many cases each way of the step at hand did, by
    its words."""

    def __init__(
        self,
        values: Mapping[str, str],
        in_commands: Mapping[str, str] | None = None,
        options: Mapping[str, Sequence[str]] | None = None,
        pictures: Mapping[str, str] | None = None,
        playbook: Playbook | None = None,
        asked: Mapping[str, str] | None = None,
        parts: Mapping[str, Sequence[str]] | None = None,
        worked: Mapping[str, int] | None = None,
    ) -> None:
        self.values, self.in_commands = values, in_commands or {}
        self.options, self.pictures, self.playbook = options or {}, pictures or {}, playbook
        self.asked, self.parts, self.worked = asked, parts or {}, worked or {}

    def fill(self, text: str) -> str:
        """The text with known values in place of {name}, and blanks where nothing is known."""
        return NAME.sub(lambda match: self._value(match, self.values) or self._blank(match), text)

    def command(self, text: str) -> str:
        """The same for a command, with the values alone that may stand in one."""
        return NAME.sub(lambda match: self._value(match, self.in_commands) or self._blank(match), text)

    def lacks(self, command: str) -> tuple[str, ...]:
        """What a command still waits for, in the words in which it is asked."""
        open_ones = [match for match in NAME.finditer(command) if self._value(match, self.in_commands) is None]
        return tuple(dict.fromkeys(self._called(match[1].removeprefix("not ")) for match in open_ones))

    def _blank(self, match: re.Match[str]) -> str:
        if self.asked is None:
            return match[0]
        name = match[1].removeprefix("not ")
        return f"‹{'other than ' if name != match[1] else ''}{self._called(name)}›"

    def can_fill(self, text: str) -> bool:
        """Whether every value is known that the text waits for."""
        return all(self._value(match, self.values) is not None for match in NAME.finditer(text))

    def _called(self, name: str) -> str:
        asked = (self.asked or {}).get(name) or name.replace("-", " ")
        return asked.rstrip("?").rstrip()

    def strong(self, text: str) -> str:
        """The same for Markdown, the values in bold."""

        def _bold(match: re.Match[str]) -> str:
            value = self._value(match, self.values)
            if value is not None:
                return "**" + _MARKDOWN.sub(r"\\\1", value) + "**"
            return _MARKDOWN.sub(r"\\\1", self._blank(match)) if self.asked is not None else match[0]

        return NAME.sub(_bold, _BOLD_NAME.sub(r"\1", text))

    def _value(self, match: re.Match[str], values: Mapping[str, str]) -> str | None:
        name = match[1]
        if not name.startswith("not "):
            return values.get(name)
        options = [str(option) for option in self.options.get(name[4:], ())]
        value = values.get(name[4:])
        return next((option for option in options if option != value), None) if value in options else None

    def instructions(self, instructions: Sequence[Instruction], world: World) -> tuple[FilledInstruction, ...]:
        """Those that apply to this unit, filled in; of one that may or may not, where it applies is said."""
        made = []
        for instruction in instructions:
            holds = evaluate(parse(instruction.when), world) if instruction.when else True
            if holds is not False:
                made.append(self._instruction(instruction, world, self._where(instruction) if holds is None else None))
        return tuple(made)

    def _ways(self, ways: Sequence[Sequence[Instruction]], world: World) -> tuple[FilledWay, ...]:
        """The way first that worked most often, where at least so many cases say so; the rest as they are written."""
        made = [
            FilledWay(words=words, worked=self.worked.get(words, 0), do=do)
            for way in ways
            if (words := way_in_words(way)) and (do := self.instructions(way, world))
        ]
        best = max(made, key=lambda way: way.worked, default=None)
        is_told = best is not None and best.worked >= _LEAST_WORKED
        return tuple(sorted(made, key=lambda way: way is not best)) if is_told else tuple(made)

    def _asks(self, instruction: Instruction, is_undecided: bool) -> tuple[str, ...]:
        facts = facts_of(parse(instruction.when)) if instruction.when and is_undecided else ()
        texts = [(instruction.text, self.values), (instruction.copy_, self.in_commands)]
        open_ones = [
            match[1].removeprefix("not ")
            for text, values in texts
            for match in NAME.finditer(text or "")
            if self._value(match, values) is None
        ]
        return tuple(dict.fromkeys((*facts, *(part for name in open_ones for part in self.parts.get(name, (name,))))))

    def _where(self, instruction: Instruction) -> str | None:
        when = instruction.when
        return told_in_words(when, self.playbook) if when and self.playbook else when

    def _instruction(self, instruction: Instruction, world: World, only_where: str | None) -> FilledInstruction:
        return FilledInstruction(
            text=instruction.text and self.strong(instruction.text),
            copy_text=instruction.copy_ and self.command(instruction.copy_),
            waits_for=self.lacks(instruction.copy_) if instruction.copy_ else (),
            asks=self._asks(instruction, only_where is not None),
            picture=self.pictures.get(instruction.picture or ""),
            hold=seconds(instruction.hold) if instruction.hold else None,
            only_where=only_where,
            ways=self._ways(instruction.ways or (), world),
        )


def way_in_words(way: Sequence[Instruction]) -> str:
    """What one way of doing something is known by in the log: how it begins, as the playbook writes it."""
    texts = (text for one in way for text in (one.text, one.copy_, *map(way_in_words, one.ways or ())) if text)
    return shortened(next(texts, "…"), MOST_LINE)

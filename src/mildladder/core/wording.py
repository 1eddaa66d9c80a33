"""Fill values into instructions and say aloud what a step will cost, so every front and file says it alike."""

import re
from collections.abc import Mapping

from mildladder.core.judgement import elapsed_minutes
from mildladder.core.model import Instruction, Shape, Step

__all__ = ["FilledInstruction", "fill", "filled", "names_in", "spoken_cost"]

_NAME = re.compile(r"\{([a-z0-9-]+)\}")
_MARKDOWN = re.compile(r"([\\`*_{}\[\]()#+\-.!|<>~&])")
_WORTH_SAYING = 3.0
_HARM = {
    "data": "something stored may be lost",
    "service": "the service may stop for a while",
    "equipment": "the equipment could be damaged",
    "security": "a protection is lowered",
    "injury": "somebody could be hurt, so keep clear",
}


class FilledInstruction(Shape):
    """One instruction for this unit. `text`: Markdown; `copy`: a command ready to copy."""

    text: str
    copy_text: str | None = None


def names_in(text: str) -> list[str]:
    """The names in braces that the text waits for, in order."""
    return _NAME.findall(text)


def fill(text: str, values: Mapping[str, str]) -> str:
    """The text with known values in place of {name}; unknown names stay as they are."""
    return _NAME.sub(lambda match: values.get(match[1], match[0]), text)


def filled(instruction: Instruction, values: Mapping[str, str]) -> FilledInstruction:
    """The instruction with known values in place of {name}, bold in the text; unknown names stay as they are."""

    def _strong(match: re.Match[str]) -> str:
        value = values.get(match[1])
        return match[0] if value is None else "**" + _MARKDOWN.sub(r"\\\1", value) + "**"

    return FilledInstruction(
        text=_NAME.sub(_strong, instruction.text),
        copy_text=instruction.copy_ and fill(instruction.copy_, values),
    )


def spoken_cost(step: Step) -> str | None:
    """What is read to the caller before the step: its own words, or a sentence made from its figures.

    None for a step that is over in a moment and can do no harm.
    """
    if step.say:
        return step.say
    minutes = elapsed_minutes(step.effort)
    if minutes < _WORTH_SAYING and not step.hazards:
        return None
    parts = [f"This takes about {minutes:.0f} minutes" if minutes >= 1.5 else "This takes a minute"]
    parts += [_HARM[hazard.kind] for hazard in sorted(step.hazards, key=lambda h: -h.severity)[:2]]
    return f"{'; '.join(parts)}."

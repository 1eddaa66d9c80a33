"""Say what was understood of quick words: in a sentence for people, and in the normal way of writing them."""

from collections.abc import Mapping

from mildladder.core.model.quick import QuickEnd, QuickStep
from mildladder.core.model.step import Hazard
from mildladder.core.quick.table import BAD, CHANCES, LIKELY

__all__ = ["quick_words", "sentence"]

_BY = {"caller": "the caller", "desk": "the desk", "visit": "a visit"}
_HARMS = {
    "data": "lose data",
    "service": "stop the service",
    "equipment": "damage equipment",
    "security": "lower a protection",
    "injury": "hurt somebody",
}
_BADLY = {1: "hardly", 2: "a little", 3: "badly", 4: "very badly", 5: "beyond repair"}


def sentence(step: QuickStep) -> str:
    """Such as “a fix · 5 min by a visit, 20 journey · may damage equipment a little, now and then · often ends One lead
    is bad”."""
    parts = [f"a {step.kind}", _effort(step)]
    if step.footing:
        parts.append(f"in {step.footing}")
    if step.done is not None:
        parts.append(f"can be done in {_figure(step.done * 100)} %")
    parts += [_harm(hazard) for hazard in step.hazards]
    parts += [f"{_often(end)} ends {end.cause}" for end in step.ends]
    if step.finds:
        parts.append(f"finds {' or '.join(step.finds)}")
    if step.do:
        parts.append(f"does: {', then '.join(step.do)}")
    return " · ".join(part for part in parts if part)


def quick_words(step: QuickStep) -> str:
    """Inverse of `read_line`, for a step in which everything was understood."""
    effort = step.effort
    said = effort.model_fields_set
    parts = [_quoted(step.title), step.kind]
    parts += [f"{_figure(effort.hands_on)} min"] if "hands_on" in said else []
    parts += [effort.by] if "by" in said else []
    parts += [f"wait {_figure(effort.wait)}"] if "wait" in said else []
    parts += [f"journey {_figure(effort.travel)}"] if "travel" in said else []
    parts += [f"parts {_figure(effort.parts)}"] if "parts" in said else []
    parts += [f"in {_quoted(step.footing)}"] if step.footing else []
    parts += [f"done {_figure(step.done * 100)} %"] if step.done is not None else []
    parts += [f"{one.kind} {_word(BAD, one.severity)} {_likely(one)}" for one in step.hazards]
    parts += [f"ends {_quoted(end.cause)} {_often(end)}" for end in step.ends]
    parts += [f"finds {' / '.join(map(_quoted, step.finds))}"] if step.finds else []
    parts += [f"do {' / '.join(map(_quoted, step.do))}"] if step.do else []
    return ", ".join(parts)


def _quoted(title: str) -> str:
    return f'"{title}"'


def _word(table: Mapping[str, float], value: float) -> str:
    return next(word for word, one in table.items() if one == value)


def _effort(step: QuickStep) -> str:
    effort = step.effort
    if not effort.model_fields_set:
        return ""
    more = [
        f"{_figure(effort.wait)} waiting" if effort.wait else "",
        f"{_figure(effort.travel)} journey" if effort.travel else "",
        f"parts {_figure(effort.parts)}" if effort.parts else "",
    ]
    return ", ".join([f"{_figure(effort.hands_on)} min by {_BY[effort.by]}", *(one for one in more if one)])


def _harm(hazard: Hazard) -> str:
    return f"may {_HARMS[hazard.kind]} {_BADLY[hazard.severity]}, {_likely(hazard)}"


def _likely(hazard: Hazard) -> str:
    word = next((word for word, chance in LIKELY.items() if chance == hazard.chance), None)
    return word or f"{_figure(hazard.chance * 100)} %"


def _often(end: QuickEnd) -> str:
    if isinstance(end.chance, str):
        return next(said for said, word in CHANCES.items() if word == end.chance)
    return f"{_figure(end.chance * 100)} %"


def _figure(number: float) -> str:
    return f"{round(number, 6):g}" if number < 1e6 else f"{number:.0f}"

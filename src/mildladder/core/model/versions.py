"""Bring stored documents of older shapes up to today's, so that what an earlier version made keeps working.

Every stored document carries the number of its shape; one without a number was stored before numbers were. When a
shape changes so that an older document would no longer be read, a step is added here, with an example of the old
document kept in the tests. Steps work on plain data, never on the models, which only know today's shape.
"""

from collections.abc import Callable, Mapping
from typing import Any, Literal

from mildladder.core.errors import Unavailable

__all__ = ["SHAPES", "Kind", "stamped", "upgraded"]

# document, forecast: of an edition. form: a draft's working form. event: of a guided case. remains: what a logged
# case holds beside its columns. replaced: a case as it was before another of its id. shared: a step of the library.
# worth: what an edition promised. ground: what a trial of two editions was planned by.
Kind = Literal["document", "form", "forecast", "event", "remains", "replaced", "shared", "worth", "ground"]
Data = dict[str, Any]
_KEY = "shape"


def _forecast_of_side_rails(old: Data) -> Data:
    """Before side rails a rung had no path of its own and handed nothing off, and there were no others."""
    rungs = [
        {"path": f"ladder.{number}", "handed_off": 0.0, "sent_on": 0.0, **rung}
        for number, rung in enumerate(old["rungs"])
    ]
    return {"sent_on": 0.0, "side": [], **old, "rungs": rungs}


def _event_without_its_person(old: Data) -> Data:
    """Who made an event was a name in it; it is a person's number beside it."""
    return {name: value for name, value in old.items() if name != "who"}


def _event_that_trusts_speech(old: Data) -> Data:
    """What was caught from speech went into commands unconfirmed; cases that began so go on as they began."""
    is_start = old["move"].get("kind") == "started"
    return {**old, "move": {**old["move"], "trusts_speech": True}} if is_start else old


def _event_by_the_first_rules(old: Data) -> Data:
    """Values were asked before the step and states were left unasked; cases that began so go on so."""
    is_start = old["move"].get("kind") == "started"
    return {**old, "move": {**old["move"], "rules": 1}} if is_start else old


# Step n brings a document of shape n up to shape n + 1.
_STEPS: Mapping[Kind, tuple[Callable[[Data], Data], ...]] = {
    "document": (),
    "form": (),
    "forecast": (_forecast_of_side_rails,),
    "event": (_event_without_its_person, _event_that_trusts_speech, _event_by_the_first_rules),
    "remains": (),
    "replaced": (),
    "shared": (),
    "worth": (),
    "ground": (),
}
SHAPES: Mapping[Kind, int] = {kind: len(steps) + 1 for kind, steps in _STEPS.items()}


def stamped(kind: Kind, data: Data) -> Data:
    """The document as it is stored: with the number of today's shape."""
    return {_KEY: SHAPES[kind], **data}


def upgraded(kind: Kind, stored: Mapping[str, Any]) -> Data:
    """A stored document in today's shape, without its number. Raises Unavailable for one of a newer version."""
    data = dict(stored)
    number = data.pop(_KEY, 1)
    if number > SHAPES[kind]:
        raise Unavailable("a newer version of this program stored this; open it with that version")
    for step in _STEPS[kind][number - 1 :]:
        data = step(data)
    return data

"""What a guided case refuses: answers that do not fit the step, values that are none, ends over what is still open.

Kept apart from `machine.py`, which says where what is not refused leads.
"""

from mildladder.core.climb.agenda import EndTask
from mildladder.core.climb.state import Climb
from mildladder.core.climb.wording import way_in_words
from mildladder.core.errors import Conflict
from mildladder.core.ladder.values import comparable, fits_command, is_value, not_of
from mildladder.core.model import Fact, Input
from mildladder.core.model.events import Answered, Ended
from mildladder.core.model.outcomes import CURED, DO_NOT_ENTER, NOT_DONE, TESTED
from mildladder.core.texts import shortened

__all__ = ["check_answer", "check_closed", "check_step", "check_value", "ways_on", "with_reading"]


def check_value(asked: Fact | Input, value: str, is_in_command: bool = False) -> None:
    """Raises Conflict for a value that a fact or input cannot have, or not where it is filled into a command."""
    if not is_value(asked, value):
        raise Conflict(_no_value(asked, value))
    if is_in_command and not fits_command(asked, value):
        shown = shortened(value, _SHOWN)
        raise Conflict(f"“{shown}” cannot go into a command: only letters, digits and . _ : / - can, and no - first")


def _no_value(asked: Fact | Input, value: str) -> str:
    if asked.type == "choice":
        options = asked.choices if isinstance(asked, Fact) else asked.options
        return f"'{value}' is no answer to “{asked.ask}”; choose one of {', '.join(options or ())}"
    if comparable(value, asked.type) is None:
        return f"{not_of(value, asked.type)}, as the answer to “{asked.ask}” must be"
    form = asked.form if isinstance(asked, Input) else None
    return f"“{shortened(value, _SHOWN)}” cannot be right" + (f"; it looks like this: {form}" if form else "")


_SHOWN = 60


def check_step(now: Climb, step: str) -> None:
    """Raises Conflict for an answer about another step than the current one."""
    if step != now.step.id:
        raise Conflict(f"the case has gone on to '{now.step.id}'; reload to see it as it stands")


def check_answer(now: Climb, move: Answered) -> None:
    """Raises Conflict for an answer that the current step, or test, cannot have."""
    check_step(now, move.step)
    step = now.step
    findings = {finding.id for finding in step.findings}
    if move.finding is not None and move.finding not in findings:
        raise Conflict(f"'{move.finding}' is no finding of '{move.step}'")
    if move.outcome is None and move.finding is None:
        raise Conflict("say how the step ended")
    if now.tried_with and move.outcome in DO_NOT_ENTER:
        raise Conflict(f"'{move.step}' was tried with one value already; say what came of it")
    waits_for_test = now.waits_for_test
    if move.outcome in TESTED and (not step.is_tested or (waits_for_test and move.took != "no")):
        raise Conflict(f"'{move.step}' cannot end '{move.outcome}' here")
    if now.place == "test" and move.outcome not in TESTED:
        raise Conflict("say what came of trying the original action again")
    if move.outcome == "done" and step.is_tested and not waits_for_test:
        raise Conflict(f"a {step.kind} ends fixed or with no change, not 'done'")
    if move.finding is not None and move.outcome not in (None, "no-change", "done"):
        raise Conflict(f"'{move.outcome}' leaves nothing to find")
    if step.is_tested and move.outcome is None:
        raise Conflict("a fix with a finding also says no-change")
    if move.took == "no" and not (step.is_tested and move.outcome == "no-change"):
        raise Conflict("only a fix that changed nothing can have failed to take")
    if move.harmed is not None:
        _check_harm(now, move)
    if move.ways is not None:
        _check_ways(now, move)
    if move.safeguard_used is not None or move.put_right is not None:
        _check_put_right(now, move)


def with_reading(now: Climb, move: Answered) -> Answered:
    """The answer with the finding that its reading decides."""
    if move.reading is None:
        return move
    check_step(now, move.step)
    if now.step.reading is None or now.place != "step":
        raise Conflict(f"'{move.step}' takes no reading here")
    bands = now.step.reading.bands
    decided = next((b.finding for b in bands if b.below is None or move.reading < b.below), None)
    if decided is None or move.finding not in (None, decided):
        raise Conflict(f"a reading of {move.reading:g} stands for {decided or 'no finding'}, not {move.finding}")
    return move.model_copy(update={"finding": decided})


def _check_harm(now: Climb, move: Answered) -> None:
    if now.place == "test" or move.outcome in NOT_DONE:
        raise Conflict("harm is asked about where the step is carried out")
    unnamed = set(move.harmed or ()) - {hazard.kind for hazard in now.with_states.hazards}
    if unnamed:
        raise Conflict(f"'{move.step}' names no hazard of the kind {', '.join(sorted(unnamed))}")


def _check_put_right(now: Climb, move: Answered) -> None:
    eased = {hazard.eased_by for hazard in now.with_states.hazards if hazard.kind in (move.harmed or ())}
    if move.safeguard_used not in eased or move.safeguard_used is None or not now.is_done(move.safeguard_used):
        raise Conflict("that copy belongs to no harm that was marked; say of which harm, and mark that first")
    if move.put_right is None:
        raise Conflict("say how much could be put right from it: whole, partly or no")


def _check_ways(now: Climb, move: Answered) -> None:
    if now.place == "test" or move.outcome in NOT_DONE:
        raise Conflict("which way worked is said where the step is carried out")
    ways = {way_in_words(way) for one in now.step.do for way in one.ways or ()}
    unknown = [one for one in move.ways or () if one not in ways]
    if unknown:
        raise Conflict(f"'{move.step}' has no way that begins with “{unknown[0]}”")


def check_closed(now: Climb, move: Ended) -> None:
    """A case does not end over open loose ends without a reason, nor before what follows a fix was offered."""
    still_open = now.open_ends
    if still_open and move.why_left is None:
        titles = "; ".join(end.title for end in still_open)
        raise Conflict(f"loose ends are still open ({titles}): close them, or say why they stay open")
    if move.end in CURED and now.fixed_by is not None and now.place != "confirm":
        raise Conflict("what is to be done after the fix comes first; it may be skipped")


def ways_on(now: Climb) -> set[str | None]:
    """The playbooks that a case may go on in from here: where its rail leads, and those of look-alikes."""
    task = now.agenda[0] if now.agenda else None
    led = {task.playbook} if isinstance(task, EndTask) else set()
    return {*led, *(one.playbook for one in now.playbook.symptom.see_also)}

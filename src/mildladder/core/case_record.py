"""Turn a guided case into what outlives it: the logged case, and a hand-off text that needs no retelling."""

from mildladder.core.causes import likely_causes
from mildladder.core.climb import Climb
from mildladder.core.errors import Conflict
from mildladder.core.model import Attempt, Case, HazardKind, Playbook

__all__ = ["case_of", "hand_off_text"]

_SAID = {
    "fixed": "fixed it",
    "no-change": "no change",
    "better": "better, not gone",
    "worse": "made it worse",
    "nothing-to-do": "nothing to do",
    "not-available": "not there on this unit",
    "could-not": "could not be done",
    "skipped": "skipped",
    "done": "done",
}
_HARM_SEEN: dict[HazardKind, str] = {
    "data": "something stored was lost",
    "service": "the service stopped",
    "equipment": "something was damaged",
    "security": "a protection was left lowered",
    "injury": "somebody was hurt",
}
_BASELINE = {
    "fails": "the fault was there at the start of the call",
    "works": "it worked at the start of the call",
    "cannot-try": "it could not be tried at the start",
}


def case_of(climb: Climb, case_id: str, edition: int) -> Case:
    """The log's record of an ended climb. Raises Conflict while it is still open."""
    if climb.ended is None or climb.closed is None:
        raise Conflict("the case is still open")
    cured = climb.ended.end in ("resolved", "worked-around")
    return Case(
        case=case_id,
        opened=climb.opened,
        closed=climb.closed,
        symptom=climb.playbook.id,
        said=climb.started.said or None,
        unit=climb.started.unit or None,
        facts=climb.facts,
        values=climb.values,
        playbook=climb.playbook.id,
        edition=edition,
        attempts=climb.attempts,
        baseline=climb.baseline,
        consents=climb.consents,
        passed=tuple(passed for _, passed in climb.passed),
        end=climb.ended.end,
        resolved_by=climb.fixed_step if cured else None,
        confirmed=climb.ended.confirmed,
        notes="\n".join(climb.notes) or None,
    )


def hand_off_text(climb: Climb) -> str:
    """Plain text that tells the next team all that is known, most useful first."""
    playbook, facts = climb.playbook, climb.known
    team = next((h for h in playbook.hand_offs if h.id == climb.team), playbook.default_hand_off)
    told = [fact_id for fact_id in (team.tell if team else ()) if fact_id in facts]
    order = told + [fact_id for fact_id in facts if fact_id not in told]
    lines = [f"{playbook.title}" + (f": {climb.started.unit}" if climb.started.unit else "")]
    if climb.started.said:
        lines.append(f"Caller: “{climb.started.said}”")
    lines += [f"{fact_id}: {facts[fact_id]}" for fact_id in order]
    if climb.baseline:
        lines.append(f"Baseline: {_BASELINE[climb.baseline]}")
    lines += ["", "Tried:"] + ([f"- {_tried(playbook, a)}" for a in climb.attempts] or ["- nothing yet"])
    if climb.passed:
        lines += ["", "Passed over:"]
        lines += [f"- {playbook.step(p.step).title}: {p.why}" for _, p in climb.passed]
    likely = [f"{cause.title} {share:.0%}" for cause, share in likely_causes(playbook, climb.attempts)[:3]]
    lines += ["", f"Still likely: {', '.join(likely)}"]
    if climb.footing is not None:
        title = next(footing.title for footing in playbook.footings if footing.id == climb.footing)
        lines += ["", f"The unit was left as it stands: {title}"]
    if climb.notes:
        lines += ["", "Notes:", *climb.notes]
    return "\n".join(lines)


def _tried(playbook: Playbook, attempt: Attempt) -> str:
    step = playbook.step(attempt.step)
    parts = [finding.title for finding in step.findings if finding.id == attempt.finding]
    if attempt.took == "no":
        parts.append("did not take")
    elif attempt.outcome and not (parts and attempt.outcome in ("no-change", "done")):
        parts.append(_SAID[attempt.outcome])
    parts += [_HARM_SEEN[kind] for kind in attempt.harmed or ()]
    when = "before the call" if attempt.by == "before" else f"{attempt.minutes or 0:.0f} min"
    return f"{step.title}: {', '.join(parts)} ({when})"

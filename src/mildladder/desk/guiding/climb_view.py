"""A guided case as its screen shows it: the one current thing, its answers, the path so far and what is likely."""

from collections.abc import Collection, Iterator, Mapping
from dataclasses import replace
from datetime import datetime
from typing import Literal

from mildladder.core.climb.agenda import AgainTask, EndTask, RungTask, TrialTask
from mildladder.core.climb.answers import answers
from mildladder.core.climb.machine import Climb, climb, surviving
from mildladder.core.climb.record import awaited_in_words, hand_off_text
from mildladder.core.climb.turns import later_rungs, may_go_off
from mildladder.core.climb.wording import Filler
from mildladder.core.figures.likely import likely_causes
from mildladder.core.ladder.values import in_words, value_in_words
from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import (
    Fact,
    Input,
    Playbook,
    Rung,
    Step,
    minutes_between,
)
from mildladder.core.model.events import ClimbEvent
from mildladder.core.model.outcomes import ENDS, HARMS, OUTCOMES, SENT_ON
from mildladder.desk.guiding.climb_shapes import (
    ClimbSummary,
    ClimbView,
    DoneBefore,
    EarlierView,
    Hand,
    HarmAsked,
    Known,
    LaterRung,
    Likely,
    NewOnRung,
    PathRung,
    PauseView,
    Question,
    SignView,
    Team,
    Watch,
)
from mildladder.desk.guiding.climb_steps import (
    AT_STEP,
    current_step,
    filler_of,
    loose_end_views,
    search_view,
    trial_test,
    way_out,
)
from mildladder.desk.titles import StepTitle
from mildladder.store.documents import document_of, forecast_of
from mildladder.store.tables import ClimbRow, EditionRow

__all__ = ["climb_view", "summary", "unreadable"]


def summary(row: ClimbRow, playbook: Playbook, now: Climb) -> ClimbSummary:
    """One line of the list of open cases."""
    on_rung = now.place in ("guard", "consent", "step", "fact", "test", "finding", "paused", "way-out") and _is_at_step(
        now
    )
    at = now.step.title if on_rung else _AT.get(now.place, "")
    return ClimbSummary(
        id=row.id,
        case=row.case_id,
        title=playbook.title,
        who=row.person.name,
        opened=row.opened,
        said=now.started.said,
        unit=now.started.unit,
        ticket=now.started.ticket,
        caller=now.started.caller,
        at=at or "just begun",
        waits=now.pause.reason if now.pause else None,
        since=now.pause.since if now.pause else None,
        until=now.pause.until if now.pause else None,
        part=_part(now),
    )


def unreadable(row: ClimbRow, playbook: Playbook) -> ClimbSummary:
    """The line of a case whose answers cannot be followed; it hides no other."""
    return ClimbSummary(
        id=row.id,
        case=row.case_id,
        title=playbook.title,
        who=row.person.name,
        opened=row.opened,
        said="",
        unit="",
        ticket="",
        caller="",
        at="cannot be read",
        waits=None,
        since=None,
        until=None,
        part=None,
    )


_AT = {"confirm": "to be confirmed", "hand-off": "to be handed off", "loose-end": "loose ends to close"}


def _is_at_step(now: Climb) -> bool:
    return bool(now.agenda) and isinstance(now.agenda[0], RungTask | AgainTask | TrialTask)


def climb_view(
    row: ClimbRow,
    playbook: Playbook,
    edition: EditionRow,
    events: list[ClimbEvent],
    names: Mapping[int, str],
    at: datetime,
    new_since: tuple[NewOnRung, ...] = (),
    worked: Mapping[str, Mapping[str, int]] | None = None,
    absent: Collection[str] = (),
) -> ClimbView:
    """The whole screen, worked out from the events. names: of people, by number; at: when it is looked at; new_since:
    what is new on the ladder since whoever has the case last followed it; worked: in how many cases each way of a step
    did; absent: playbooks of those that it names in which nothing is published."""
    now = replace(climb(playbook, events), looked_at=at)
    figures = forecast_of(edition)
    kept = surviving(events)
    filler = filler_of(now, document_of(edition).pictures, worked)
    return ClimbView(
        id=row.id,
        case=row.case_id,
        playbook=playbook.id,
        title=playbook.title,
        edition=edition.number,
        who=row.person.name,
        number=len(events),
        opened=row.opened,
        closed=now.closed,
        waited=now.waited,
        said=now.started.said,
        unit=now.started.unit,
        place=now.place,
        rungs=len(playbook.ladder),
        current=current_step(now, figures, filler) if now.place in AT_STEP else None,
        test=trial_test(now, filler),
        to_find=now.step.title if now.place == "finding" else None,
        harms=_harms(now),
        watch=_watch(now, now.watch_minutes) if now.place in ("step", "test") else None,
        pause=_pause(now, filler),
        loose_ends=loose_end_views(now, filler),
        sent_on=_sent_on(now),
        way_out=way_out(now, filler),
        search=search_view(now, filler),
        question=_question(now) if now.place == "fact" or now.asked_inside else None,
        answers=answers(now, absent),
        can_take_back=now.ended is None and any(e.move.kind not in _NEVER_TAKEN_BACK for e in kept),
        path=tuple(_path(now)),
        forecast=figures,
        known=_known(now),
        untold=_untold(now),
        likely=tuple(
            Likely(cause=cause.id, title=cause.title, layer=cause.layer, share=share)
            for cause, share in likely_causes(playbook, now.attempts, now.facts, now.started.said, now.seen)
        ),
        history=_history(now),
        signs=_signs(now, filler),
        see_also=playbook.symptom.see_also,
        not_covered=playbook.symptom.not_covered and filler.fill(playbook.symptom.not_covered),
        leave_alone=tuple(
            one.model_copy(update={"what": filler.fill(one.what), "why": filler.fill(one.why)})
            for one in playbook.symptom.leave_alone
            if filler.can_fill(one.what) and filler.can_fill(one.why)
        ),
        untried=tuple(
            _done_before(step)
            for step in playbook.steps
            if step.kind != "prevention" and not now.is_done(step.id) and not _is_under_way(now, step)
        ),
        done_before=tuple(_done_before_in_words(now)),
        later=_later(now),
        may_go_off=may_go_off(now),
        off_ladder=tuple(_off_ladder(now)),
        hands=tuple(Hand(id=who, name=names.get(who, "somebody"), since=at) for who, at in now.hands),
        ticket=now.started.ticket,
        caller=now.started.caller,
        call_back=now.started.call_back,
        reopened_from=now.started.reopened_from,
        new_since=new_since,
        restored=now.restored,
        is_restored=now.is_restored,
        teams=tuple(
            Team(id=team.id, title=team.title)
            for team in sorted(playbook.hand_offs, key=lambda team: team != playbook.default_hand_off)
        ),
        notes=now.notes,
        hand_off=hand_off_text(now),
        end=now.ended.end if now.ended else None,
        ended=_ended(now),
        is_logged=now.ended is not None and now.ended.notice is None,
    )


_NEVER_TAKEN_BACK = ("started", "note", "tried-before", "sign", "taken-over")


def _is_under_way(now: Climb, step: Step) -> bool:
    return bool(now.agenda) and now.is_try_begun and now.step.id == step.id


def _done_before(step: Step) -> DoneBefore:
    found = tuple(StepTitle(id=finding.id, title=finding.title) for finding in step.findings)
    return DoneBefore(id=step.id, title=step.title, findings=() if step.is_tested else found)


def _done_before_in_words(now: Climb) -> Iterator[str]:
    for attempt in now.attempts:
        if attempt.by == "before":
            yield now.called.get(attempt.step) or now.playbook.step(attempt.step).title


def _later(now: Climb) -> tuple[LaterRung, ...]:
    labels = {row.path: row.label for row in rows_of(now.playbook)}
    titles = {step.id: step.title for step in now.playbook.steps}
    return tuple(
        LaterRung(
            path=task.path,
            label=labels.get(task.path, ""),
            title=titles[task.rung.step],
            brings=tuple(titles[one.rung.step] for one in along),
        )
        for task, along in later_rungs(now)
    )


def _off_ladder(now: Climb) -> Iterator[str]:
    """What was done that no rung asks for, with what came of it."""
    for attempt in now.attempts:
        if attempt.step in now.called and attempt.by != "before":
            yield f"{now.called[attempt.step]}: {OUTCOMES[attempt.outcome or 'done'].short}"


def _known(now: Climb) -> tuple[Known, ...]:
    return tuple(_known_one(now, name, value) for name, value in now.told.items())


def _untold(now: Climb) -> tuple[Known, ...]:
    """What was asked and nobody could tell, in the playbook's order; it can be given once somebody can."""
    return tuple(_known_one(now, name, "") for name in now.asked_by if name in now.unknown and name not in now.told)


def _known_one(now: Climb, name: str, value: str) -> Known:
    asked = now.asks(name)
    return Known(
        fact=name,
        ask=now.asked_by.get(name) or name.replace("-", " ").capitalize(),
        value=value_in_words(value) if value and asked and asked.type == "duration" else value,
        said=value,
        type=asked.type if asked else "text",
        options=_options(asked) if asked else (),
        is_confirmed=name not in now.caught or name in now.values,
    )


def _options(asked: Fact | Input) -> tuple[str, ...]:
    """What it may be, where that is one of a few."""
    if asked.type == "yes-no":
        return ("yes", "no")
    chosen = asked.choices if isinstance(asked, Fact) else asked.options
    return tuple(chosen or ()) if asked.type == "choice" else ()


def _history(now: Climb) -> tuple[EarlierView, ...]:
    titles = {step.id: step.title for step in now.playbook.steps}
    return tuple(
        EarlierView(
            case=earlier.case,
            closed=earlier.closed,
            ended_by=titles.get(earlier.resolved_by, earlier.resolved_by) if earlier.resolved_by else None,
        )
        for earlier in now.started.history
    )


def _signs(now: Climb, filler: Filler) -> tuple[SignView, ...]:
    return tuple(
        SignView(
            kind=sign.kind,
            text=sign.text,
            catch=sign.catch,
            picture=filler.pictures.get(sign.picture or ""),
            seen=now.signs.get(sign.text) if sign.kind == "seen" else None,
        )
        for sign in now.playbook.symptom.signs
    )


def _watch(now: Climb, minutes: float | None) -> Watch | None:
    if minutes is None:
        return None
    every = now.usual_interval
    return Watch(minutes=minutes, says=in_words(minutes), interval=every, every=in_words(every) if every else None)


def _harms(now: Climb) -> tuple[HarmAsked, ...]:
    """Those that the step names which is being carried out, or watched; within a trial it is asked at each step."""
    is_under_way = (now.is_watched or now.runs) and not isinstance(now.agenda[0], TrialTask)
    if now.place != "step" and not is_under_way:
        return ()
    worst_first = sorted(now.with_states.hazards, key=lambda hazard: -hazard.severity)
    copies = {hazard.kind: hazard.eased_by for hazard in reversed(worst_first) if now.is_done(hazard.eased_by or "")}
    kinds = dict.fromkeys(hazard.kind for hazard in worst_first)
    return tuple(
        HarmAsked(kind=kind, says=HARMS[kind].was_seen, copy_from=_step_title(now, copies.get(kind))) for kind in kinds
    )


def _step_title(now: Climb, step_id: str | None) -> StepTitle | None:
    return StepTitle(id=step_id, title=now.playbook.step(step_id).title) if step_id is not None else None


def _pause(now: Climb, filler: Filler) -> PauseView | None:
    pause = now.pause
    if pause is None:
        return None
    minutes = minutes_between(pause.since, pause.until) if pause.until else None
    return PauseView(
        reason=pause.reason,
        since=pause.since,
        until=pause.until,
        lasts=None if minutes is None else in_words(minutes),
        watch=_watch(now, minutes) if pause.reason == "watch" else None,
        part=_part(now),
        stuck=filler.fill(now.step.stuck) if now.runs and now.step.stuck else None,
    )


def _part(now: Climb) -> str | None:
    """The part that the case waits for now, with where it is from and when it is expected."""
    part = now.parts[-1] if now.parts else None
    is_awaited = now.pause is not None and now.pause.reason == "part" and part and part.since == now.pause.since
    return awaited_in_words(part) if part is not None and is_awaited else None


def _sent_on(now: Climb) -> str | None:
    if now.ended is not None:
        return now.ended.sent_on
    task = now.agenda[0] if now.agenda else None
    return task.playbook if now.place == "sent-on" and isinstance(task, EndTask) else None


def _question(now: Climb) -> Question:
    asked = now.asked
    form = None if isinstance(asked, Fact) else asked.form
    return Question(
        id=asked.id,
        ask=asked.ask,
        where=asked.where,
        type=asked.type,
        form=form,
        said=now.suggested,
        known_before=now.known_before,
        options=_options(asked),
    )


def _ended(now: Climb) -> str | None:
    if now.ended is None:
        return None
    if now.ended.notice is not None:
        return "Logged to what is known now"
    return SENT_ON if now.ended.sent_on is not None else ENDS[now.ended.end].says


def _path(now: Climb) -> list[PathRung]:
    tried = {path: attempt for path, attempt in zip(now.tried_at, now.attempts, strict=True) if path is not None}
    passed = dict(now.passed)
    waiting = {one.path for one in now.carried}
    task = now.agenda[0] if now.agenda else None
    here = (
        task.path if task is not None and not isinstance(task, EndTask | TrialTask) and hasattr(task, "path") else None
    )
    found = []
    for row in rows_of(now.playbook):
        if not isinstance(row.entry, Rung):
            continue
        step = now.playbook.step(row.entry.step)
        state: Literal["tried", "passed", "now", "ahead"] = "ahead"
        says = ""
        if row.path == here and now.place in ("fact", *AT_STEP, "paused", "way-out"):
            state, says = "now", "now"
        elif row.path in waiting:
            state, says = "tried", "to be tested"
        elif row.path in tried:
            attempt = tried[row.path]
            title = next((f.title for f in step.findings if f.id == attempt.finding), None)
            state = "tried"
            if title and row.entry.step in now.found_at:
                title = f"{title}: {now.found_at[row.entry.step]}"
            says = title or ("did not take" if attempt.took == "no" else OUTCOMES[attempt.outcome or "done"].short)
        elif row.path in passed:
            state, says = "passed", passed[row.path].why
        rung = PathRung(
            path=row.path, label=row.label, depth=row.depth, title=step.title, step=step.id, state=state, says=says
        )
        found.append(rung)
    return found

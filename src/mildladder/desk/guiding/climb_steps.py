"""The one current thing of a guided case as its screen shows it: the step, its test, a search, what is to be closed."""

from collections.abc import Iterator, Mapping

from mildladder.core.climb import lacking
from mildladder.core.climb.agenda import RungTask, TrialTask
from mildladder.core.climb.loose_ends import LooseEnd
from mildladder.core.climb.machine import Climb
from mildladder.core.climb.spoken import spoken_cost
from mildladder.core.climb.wording import Filler
from mildladder.core.figures.forecast import Forecast, RungForecast
from mildladder.core.figures.judgement import elapsed_minutes, minutes_of_doing, risk_grade
from mildladder.core.ladder.conditions import evaluate, parse
from mildladder.core.ladder.footings import footings_of, way
from mildladder.core.ladder.saying import told_in_words
from mildladder.core.ladder.shared import in_plain_words
from mildladder.core.ladder.shown import filled_step
from mildladder.core.ladder.sums import names_in_sum
from mildladder.core.ladder.values import value_in_words
from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import Instruction, Playbook, Step
from mildladder.desk.guiding.climb_shapes import CurrentStep, LooseEndView, Passage, SearchView, TrialTest

__all__ = ["AT_STEP", "current_step", "filler_of", "loose_end_views", "passage", "search_view", "trial_test", "way_out"]


AT_STEP = ("guard", "consent", "begin", "step")


def filler_of(now: Climb, pictures: Mapping[str, str], worked: Mapping[str, Mapping[str, int]] | None = None) -> Filler:
    """What fills the texts of a case as it stands. pictures: digest by path; worked: in how many cases each way of a
    step did."""
    options = {one.id: one.options or () for one in now.inputs.values()}
    parts = {name: names_in_sum(one.compute) for name, one in now.inputs.items() if one.compute is not None}
    of_step = (worked or {}).get(now.step.id) if now.place in AT_STEP else None
    return Filler(now.known, now.for_commands, options, pictures, now.playbook, now.asked_by, parts, of_step)


def current_step(now: Climb, figures: Forecast, filler: Filler) -> CurrentStep:
    """The step that is come to, its texts filled in."""
    step, task = now.step, now.task
    whole = now.with_states
    here = next((rung for rung in (*figures.rungs, *figures.side) if rung.path == task.path), None)
    labels = {row.path: row.label for row in rows_of(now.playbook)}
    return CurrentStep(
        step=filled_step(step, filler.fill),
        label=labels.get(task.path),
        only_where=_undecided_condition(now),
        note=task.rung.note and filler.fill(task.rung.note),
        before=_before(now, filler),
        do=filler.instructions(step.do, now.world),
        after=_switches(now, [None], filler, now.stands) if now.waits_for_test and _is_left(now) else (),
        to_hand=tuple(
            filler.fill(need.what) + (f" ({filler.fill(need.from_)})" if need.from_ else "") for need in whole.to_hand
        ),
        cost=spoken_cost(filled_step(whole, filler.fill), _done_against(now, whole)),
        minutes=minutes_of_doing(whole),
        grade=risk_grade(whole),
        needs_consent=now.needs_consent,
        has_consent=now.has_consent,
        lacks=(*_lacks(now), *_lost(now, filler)),
        guards_answered=now.guards,
        chance_here=_chance(here) if here is not None and step.is_tested else None,
        retest=tuple(filler.fill(how) for how in _retest(now)),
        since=now.since,
        unattended=now.unattended,
        tried_with=tuple(", ".join(value_in_words(one) for one in values.values()) for values in now.tried_with),
    )


def _done_against(now: Climb, step: Step) -> dict[str, str]:
    """Titles of the safeguards of this step's hazards that were carried out."""
    eased_by = {hazard.eased_by for hazard in step.hazards if hazard.eased_by is not None}
    return {name: now.playbook.step(name).title for name in eased_by if now.is_done(name)}


def _lacks(now: Climb) -> Iterator[str]:
    for one in now.lacks:
        yield lacking.in_words(one, now.playbook.step(one.step).title, now.step)


def _lost(now: Climb, filler: Filler) -> Iterator[str]:
    for state, name in now.lost:
        yield f"“{in_plain_words(name)}” is not there while “{filler.fill(state.title)}” stands, and this step uses it"


def _before(now: Climb, filler: Filler) -> tuple[Passage, ...]:
    """What is put back, left and entered for the step; within a search that stays in its state nothing more."""
    if now.rounds and not now.rounds_leave:
        return ()
    return (*_put_back(now, filler), *_switches(now, [*now.route, *_target(now)], filler, _stands(now)))


def _undecided_condition(now: Climb) -> str | None:
    when = now.task.rung.when
    if when is None or not now.task.path.startswith("after_fix.") or evaluate(parse(when), now.world) is not None:
        return None
    return told_in_words(when, now.playbook)


def _chance(here: RungForecast) -> float | None:
    return (here.resolved + here.worked_around) / here.reach if here.reach else None


def _is_left(now: Climb) -> bool:
    """Whether the current step's state is left before it is tried, and the step stands in no trial of several."""
    return now.step.proves == "after-leaving" and not (isinstance(now.task, RungTask) and now.task.in_trial)


def _target(now: Climb) -> list[str | None]:
    return [] if now.step.footing == "any" else [now.step.footing]


def _stands(now: Climb) -> str | None:
    """The footing in which the unit stands once all is put back."""
    return now.puts_back[-1][1] if now.puts_back else now.footing


def _switches(now: Climb, route: list[str | None], filler: Filler, at: str | None) -> tuple[Passage, ...]:
    """What is left and entered on the way over these footings, from the one that the unit stands in."""
    by_id = footings_of(now.playbook)
    made: list[Passage] = []
    for target in route:
        left, entered = way(by_id, at, target)
        made += [passage(now, filler, f"Leave: {one.title}", one.leave.do) for one in left]
        made += [passage(now, filler, f"First: {one.title}", one.enter.do, one.lost) for one in entered]
        at = target
    return tuple(made)


def _put_back(now: Climb, filler: Filler) -> tuple[Passage, ...]:
    """What did not help in the last trial and is to be put back, so that only one thing differs at a time."""
    ends = [end for end in now.open_ends if end.kind == "put-back"]
    return tuple(passage(now, filler, end.title, end.do) for end in ends)


def passage(now: Climb, filler: Filler, title: str, do: tuple[Instruction, ...], lost: tuple[str, ...] = ()) -> Passage:
    """Something to do before or after a step. lost: what is not there until the state is left that it enters."""
    without = tuple(in_plain_words(name) for name in lost)
    return Passage(title=filler.fill(title), do=filler.instructions(do, now.world), without=without)


def _retest(now: Climb) -> tuple[str, ...]:
    """How the original action is tried again after the current step, in order."""
    step, playbook = now.step, now.playbook
    if not step.is_tested or (now.waits_for_test and not _is_last(now)):
        return ()
    parts = []
    if step.proves == "after-leaving" and step.footing and not now.waits_for_test:
        parts += [f"Leave: {footing.title}" for footing in playbook.footings if footing.id == step.footing]
    return (*parts, *_trying([step], playbook))


def _is_last(now: Climb) -> bool:
    """Whether the current step is the last of its trial."""
    in_trial = isinstance(now.task, RungTask) and now.task.in_trial
    return not in_trial or len(now.agenda) < 2 or isinstance(now.agenda[1], TrialTask)


def _trying(steps: list[Step], playbook: Playbook) -> list[str]:
    is_restarted = any(step.proves == "after-restart" for step in steps)
    how = [do.text for do in playbook.restart.do if do.text] if playbook.restart else []
    restart = ["Restart the unit", *how] if is_restarted else []
    return [*restart, *([playbook.retest.how] if playbook.retest else [])]


def trial_test(now: Climb, filler: Filler) -> TrialTest | None:
    """The test of what was carried out; None where nothing waits for one now."""
    if now.place != "test":
        return None
    steps = [now.playbook.step(one.step) for one in now.carried]
    return TrialTest(
        steps=tuple(step.title for step in steps),
        before=_switches(now, [*now.route, *([None] if now.leaves_for_test else [])], filler, _stands(now)),
        how=tuple(filler.fill(how) for how in _trying(steps, now.playbook)),
    )


def search_view(now: Climb, filler: Filler) -> SearchView | None:
    """How the search of the step that is carried out now stands."""
    is_tried = now.place == "step" or (now.place == "test" and now.step.is_tested)
    search, at = (now.step.search, now.search) if is_tried else (None, None)
    if search is None or at is None:
        return None
    return SearchView(
        over=search.over,
        put_back=filler.fill(now.step.undo.how) if now.step.undo and now.step.undo.how else None,
        count=search.count,
        by_halves=search.how == "halves",
        first=at.first,
        last=at.last,
        tried_first=at.tried[0] if at.tried else None,
        tried_last=at.tried[1] if at.tried else None,
        is_decided=at.is_decided,
        found=at.found,
        round=len(now.rounds) + 1,
        rounds_left=at.rounds_left,
        minutes_left=at.rounds_left * elapsed_minutes(search.round),
    )


def way_out(now: Climb, filler: Filler) -> LooseEndView | None:
    """What is to be left, entered or put back now, as a step of its own."""
    return _loose_end(now, now.to_close, filler) if now.place == "way-out" else None


def loose_end_views(now: Climb, filler: Filler) -> tuple[LooseEndView, ...]:
    """What would be open if the case ended now, what is still to be closed first."""
    ends = [end for end in now.loose_ends if now.tied.get(end.id, "") is not None]
    views = [_loose_end(now, end, filler) for end in ends]
    return tuple(sorted(views, key=lambda view: view.why_left is not None))


def _loose_end(now: Climb, end: LooseEnd, filler: Filler) -> LooseEndView:
    return LooseEndView(
        id=end.id,
        title=filler.fill(end.title),
        left_by=end.left_by,
        do=filler.instructions(end.do, now.world),
        why_left=now.tied.get(end.id),
    )

"""The harbour office's ticket system: its own words for steps, several done at once, and lines that cannot be read.

Nobody there follows a playbook. They do a handful of things, ask the caller to try, and credit whatever came last.
"""

from collections.abc import Callable, Iterable, Iterator
from datetime import datetime, timedelta

import numpy as np

from mildladder.core.figures.judgement import elapsed_minutes
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Attempt, Case, Outcome, Playbook, Step
from mildladder.demo.faults import Fault
from mildladder.demo.odd_names import EXTRA, ODD_NAMES
from mildladder.exchange.case_lines import write_cases

__all__ = ["EXPORT", "Office", "export"]

EXPORT = "harbour-office.jsonl"
_MOST_TRIALS = 3
_TRIAL_SIZES = (0.42, 0.32, 0.18, 0.08)
_UNREADABLE = 0.05
_EXTRA = "extra"
_EXTRA_MINUTES = 2.0


class Office:
    """Somebody at the harbour office who works on one fault."""

    def __init__(self, playbook: Playbook, fault: Fault, opened: datetime, rng: np.random.Generator) -> None:
        self.playbook, self.fault, self.opened, self.rng = playbook, fault, opened, rng
        self.at = opened
        self.attempts: list[Attempt] = []
        self.cured_by: str | None = None
        self.is_gone = False

    def log(self, name: str) -> tuple[Case, str | None]:
        """The case as the office logs it, and the id of the step that really ended it."""
        left = self._habits()
        for number in range(1, _MOST_TRIALS + 1):
            size = 1 + int(self.rng.choice(len(_TRIAL_SIZES), p=_TRIAL_SIZES))
            trial, left = left[:size], left[size:]
            if trial and not self.is_gone:
                self._try(trial, number)
        end = "resolved" if self.is_gone else "handed-off" if self.rng.random() < 0.7 else "abandoned"
        facts = {fact: self.fault.facts[fact] for fact in ("site", "model") if fact in self.fault.facts}
        case = Case(
            case=name,
            opened=self.opened,
            closed=self.at + timedelta(minutes=2 + round(float(self.rng.random()) * 20, 2)),
            symptom=self.playbook.id,
            said=self._mumbled(str(self.rng.choice(list(self.fault.truth.says)))),
            unit=self.fault.unit if self.rng.random() < 0.8 else None,
            facts={fact: value for fact, value in facts.items() if self.rng.random() < 0.6},
            attempts=tuple(self.attempts),
            end=end,
            resolved_by=self.attempts[-1].step if self.is_gone else None,
            notes=self._in_free_text(end),
        )
        return case, self.cured_by

    def _habits(self) -> list[str]:
        """Steps in the order in which this person thinks of them: roughly the ladder's, from memory."""
        names = ODD_NAMES[self.playbook.id]
        places = [rung.step for rung in rungs_of(self.playbook.ladder) if rung.step in names]
        order = sorted(dict.fromkeys(places), key=lambda step: places.index(step) + 4 * float(self.rng.random()))
        if self.playbook.id in EXTRA and self.rng.random() < 0.3:
            order.insert(int(self.rng.integers(2)), _EXTRA)
        return order

    def _try(self, trial: list[str], number: int) -> None:
        """Do them all, then ask the caller to try once."""
        done = []
        for step in trial:
            self._spend(step)
            could_not = self.fault.truth.could_not.get(step, 0.0)
            if self.rng.random() < could_not:
                self.attempts.append(Attempt(step=self._called(step), outcome="could-not"))
            else:
                done.append(step)
        cures = [step for step in done if self.rng.random() < self._cure_chance(step)]
        self.is_gone = bool(cures) or self.rng.random() < self.fault.truth.self_clears
        self.cured_by = next((step for step in cures if step != _EXTRA), None)
        outcome: Outcome = "fixed" if self.is_gone and done else "no-change"
        self.is_gone = outcome == "fixed"
        shared = number if len(done) > 1 else None
        self.attempts += [Attempt(step=self._called(step), outcome=outcome, trial=shared) for step in done]

    def _cure_chance(self, step: str) -> float:
        if step == _EXTRA:
            return EXTRA[self.playbook.id].cures.get(self.fault.cause, 0.0)
        return self.fault.cure_chance(self.playbook, self._step(step))

    def _step(self, step: str) -> Step:
        return self.playbook.step(step)

    def _spend(self, step: str) -> None:
        minutes = _EXTRA_MINUTES if step == _EXTRA else elapsed_minutes(self._step(step).effort)
        self.at += timedelta(minutes=round(minutes * float(self.rng.lognormal(0.2, 0.5)), 2))

    def _called(self, step: str) -> str:
        """What this person calls the step today: a name of the office, seldom its title."""
        if step == _EXTRA:
            return str(self.rng.choice(EXTRA[self.playbook.id].names))
        if self.rng.random() < 0.1:
            return self._step(step).title.lower()
        return str(self.rng.choice(ODD_NAMES[self.playbook.id][step]))

    def _mumbled(self, said: str) -> str:
        """The caller's words as somebody in a hurry types them."""
        ways: tuple[Callable[[str], str], ...] = (
            str.lower,
            lambda text: text.replace(",", "").replace("the ", ""),
            lambda text: f"{text} - pls call back",
            lambda text: f"RE: {text}",
        )
        return ways[int(self.rng.integers(len(ways)))](said)

    def _in_free_text(self, end: str) -> str:
        parts = []
        for attempt in self.attempts:
            parts.append(f"{attempt.step} n/a" if attempt.outcome == "could-not" else attempt.step)
        last = {"resolved": "then ok.", "handed-off": "no good, given to crew.", "abandoned": "caller gone."}[end]
        return f"{'; '.join(parts)}; {last}"


def export(cases: Iterable[Case], rng: np.random.Generator) -> Iterator[bytes]:
    """The office's export, a case a line; one line in twenty has been damaged on its way, each in another manner."""
    for line in write_cases(cases):
        is_damaged = rng.random() < _UNREADABLE
        yield _DAMAGES[int(rng.integers(len(_DAMAGES)))](line) if is_damaged else line


def _cut_off(line: bytes) -> bytes:
    return line[: len(line) * 2 // 3] + b"\n"


def _closed_before_opened(line: bytes) -> bytes:
    return line.replace(b'"opened"', b'"?"').replace(b'"closed"', b'"opened"').replace(b'"?"', b'"closed"')


def _words_for_outcome(line: bytes) -> bytes:
    return line.replace(b'"end":"', b'"end":"more or less ')


def _local_date(line: bytes) -> bytes:
    start = line.index(b'"opened":"') + len(b'"opened":"')
    year, month, day = line[start : start + 10].split(b"-")
    return line[:start] + b".".join((day, month, year)) + line[start + 10 :]


def _without_symptom(line: bytes) -> bytes:
    return line.replace(b'"symptom"', b'"about"')


def _not_utf8(line: bytes) -> bytes:
    return line.replace(b'"notes":"', b'"notes":"caf\xe9 side: ')


def _more_keys(line: bytes) -> bytes:
    return line.replace(b'{"case"', b'{"priority":"P3","case"')


_DAMAGES = (_cut_off, _closed_before_opened, _words_for_outcome, _local_date, _without_symptom, _not_utf8, _more_keys)

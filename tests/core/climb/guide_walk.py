"""The guided case walked through every answer with its chance: what it costs and how it ends, for each cause and unit.

Every step of the way is one event of the state machine; what is paid is read off where the unit stood before and after.
Nothing here knows of the forecast.
"""

from collections import defaultdict
from dataclasses import dataclass, field

from mildladder.core.climb import machine
from mildladder.core.climb.agenda import AgainTask, EndTask, RungTask
from mildladder.core.climb.machine import Climb
from mildladder.core.figures.judgement import effort_minutes, harm_points, hazard_points, search_rounds
from mildladder.core.ladder.causes import all_causes, cure_chances, finding_chances, priors_on
from mildladder.core.ladder.units import fact_types, unit_groups
from mildladder.core.model import Effort, Footing, Playbook, Step
from mildladder.core.model import events as c
from tests.samples import NOON

NEGLIGIBLE = 1e-14


@dataclass
class Walk:
    """What came of all walks, as means and shares over the cases of the symptom; `reach`: by path of the rung."""

    playbook: Playbook
    effort: float = 0.0
    harm: float = 0.0
    ends: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    reach: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    column: int = 0

    def all(self) -> "Walk":
        """Walk with every cause on every sort of unit."""
        self.causes = all_causes(self.playbook)
        self.footings = {footing.id: footing for footing in self.playbook.footings}
        for group in unit_groups(self.playbook):
            for column, prior in enumerate(priors_on(self.causes, group.facts, fact_types(self.playbook))):
                self.column = column
                start = machine.begin(self.playbook, event(c.Started(facts=group.facts)))
                self.visit(after(start, c.BaselineSeen(result="fails")), group.share * float(prior))
        return self

    def visit(self, now: Climb, mass: float) -> None:
        """Go on from here with every answer that has a chance."""
        if mass < NEGLIGIBLE:
            return
        if now.fixed_by is not None:
            self.finish(now, mass)
            return
        match now.place:
            case "fact":
                self.visit(after(now, c.FactGiven(fact=now.asked.id, value=None)), mass)
            case "guard":
                answer = c.GuardAnswered(step=now.step.id, number=now.guards, answer=now.guard.must)
                self.visit(after(now, answer), mass)
            case "consent":
                self.visit(after(now, c.Consented(step=now.step.id, answer="yes")), mass)
            case "begin":
                self.visit(after(now, c.StepBegun(step=now.step.id)), mass)
            case "way-out":
                self.go_out(now, mass)
            case "step":
                self.carry_out(now, mass)
            case "test":
                self.test(now, [now.playbook.step(one.step) for one in now.carried], mass)
            case "finding":
                for finding, chance in self.findings(now.step):
                    self.visit(after(now, c.Answered(step=now.step.id, finding=finding)), mass * chance)
            case _:
                self.finish(now, mass)

    def go_out(self, now: Climb, mass: float) -> None:
        """A state that is left, or a setting that is put back, as a step of its own."""
        end = now.to_close
        then = after(now, c.TiedUp(end=end.id))
        self.switch(now, now.footing, then.footing, mass)
        if end.kind == "put-back":
            undo = now.on_unit(self.playbook.step(end.id.removeprefix("put-back:"))).undo
            if undo is not None and undo.effort is not None:
                self.pay(undo.effort, mass)
        self.visit(then, mass)

    def carry_out(self, now: Climb, mass: float) -> None:
        task, step = now.task, now.step
        if isinstance(task, RungTask):
            self.reach[task.path] += mass
        at = self.undo(now, mass)
        at = self.go(now, at, [*now.route, *([] if step.footing == "any" else [step.footing])], mass)
        self.pay(step.effort, mass)
        done = 1.0 if isinstance(task, AgainTask) else step.done
        could_not = after(now, c.Answered(step=step.id, outcome="could-not"))
        self.switch(now, at, could_not.footing, mass * (1 - done))
        self.visit(could_not, mass * (1 - done))
        mass *= done
        self.harm += mass * harm_points(step, [s.id for s in self.playbook.steps if now.is_done(s.id)])
        if now.rounds_leave:
            self.search_and_leave(now, at, mass)
        elif now.waits_for_test:
            self.answer(now, at, c.Answered(step=step.id, outcome="done"), mass)
        elif step.is_tested:
            self.test(now, [step], mass, at)
        elif step.findings:
            for finding, chance in self.findings(step):
                if step.search is not None:
                    self.look_through(now, at, finding == "found", mass * chance)
                else:
                    self.answer(now, at, c.Answered(step=step.id, finding=finding), mass * chance)
        else:
            self.answer(now, at, c.Answered(step=step.id, outcome="done"), mass)

    def look_through(self, now: Climb, at: str | None, is_found: bool, mass: float) -> None:
        """A search, round by round, for each suspect that may be the bad one, or for none.

        That the last suspect is the bad one is taken for seen without a round of its own (method, section 1).
        """
        search = now.step.search
        assert search is not None
        suspects = range(1, search.count + 1) if is_found else (0,)
        for bad in suspects:
            here, rounds = now, 0
            while (tried := here.search.tried) is not None:
                is_among = tried[0] <= bad <= tried[1]
                is_taken_for_seen = is_among and here.search.first == here.search.last
                rounds += 0 if is_taken_for_seen else 1
                here = after(here, c.Searched(step=here.step.id, is_among=is_among))
            assert here.search.found == (bad or None)
            self.pay(search.round, mass / len(suspects) * rounds)
        finding = "found" if is_found else "none"
        self.answer(here, at, c.Answered(step=now.step.id, finding=finding), mass)

    def search_and_leave(self, now: Climb, at: str | None, mass: float) -> None:
        """A fix that tries one suspect after another, each judged only once its state is left."""
        search = now.step.search
        assert search is not None
        cured = float(cure_chances(now.on_unit(now.step), self.causes)[self.column])
        for bad in range(1, search.count + 1):
            self.search_for(now, at, bad, mass * cured / search.count)
        self.search_for(now, at, 0, mass * (1 - cured))

    def search_for(self, now: Climb, at: str | None, bad: int, mass: float) -> None:
        """Round after round until the bad one, or none, is known.

        That the last suspect is the bad one is taken for seen by halves, without a round of its own.
        """
        step, here, tried, is_found = now.step, now, now, False
        search = step.search
        if not mass:
            return
        while search is not None:
            first, last = here.search.tried
            is_among = first <= bad <= last
            is_round = not (search.how == "halves" and is_among and here.search.first == here.search.last)
            paid = mass if is_round else 0.0
            if here.rounds and step.footing != "any":
                self.switch(tried, None, at, paid)
            self.pay(search.round, paid)
            self.retest(step, paid)
            if here.waits_for_test:
                here = tried = after(here, c.Answered(step=step.id, outcome="done"))
            while here.place == "way-out":
                then = after(here, c.TiedUp(end=here.to_close.id))
                self.switch(here, here.footing, then.footing, paid)
                here = then
            is_found = is_among and search.how == "one-by-one"
            if is_found or (search.how == "one-by-one" and here.search.first == here.search.last):
                break
            here = after(here, c.Searched(step=step.id, is_among=is_among))
            if here.search.is_decided:
                is_found = here.search.found is not None
                break
        if not is_found:
            self.not_cured(here, here.footing, mass)
            return
        fixed = after(here, c.Answered(step=step.id, outcome="fixed"))
        self.ends["resolved"] += mass
        self.switch(fixed, self.undo(fixed, mass), None, mass)

    def test(self, now: Climb, steps: list[Step], mass: float, at: str | None = None) -> None:
        """The original action is tried again for what was carried out; `at`: where the unit stands, if not as noted."""
        steps = [now.on_unit(step) for step in steps]
        stood = self.go(now, now.footing, list(now.route), mass) if now.place == "test" else at
        last = steps[-1]
        if any(step.proves == "after-restart" and step.search is None for step in steps):
            self.restart(mass)
        fixed = after(now, c.Answered(step=last.id, outcome="fixed"))
        left = mass
        for step in steps:
            cured = left * float(cure_chances(step, self.causes)[self.column])
            left -= cured
            self.switch(now, stood, fixed.footing, cured)
            if step is last and step.kind == "workaround" and fixed.fixed_by is None:
                self.visit(fixed, cured)
                continue
            self.ends["resolved" if step.kind == "fix" else "worked_around"] += cured
            self.switch(fixed, self.undo(fixed, cured), None, cured)
        self.try_again(last, mass - left, left)
        self.not_cured(now, stood, left)

    def not_cured(self, now: Climb, stood: str | None, mass: float) -> None:
        last = now.step
        for finding, chance in self.findings(last) if last.findings else [(None, 1.0)]:
            answer = c.Answered(step=last.id, outcome="no-change", finding=finding)
            failed = after(now, answer)
            self.switch(now, stood, failed.footing, mass * chance)
            self.visit(failed, mass * chance)

    def try_again(self, step: Step, cured: float, left: float) -> None:
        """The original action is tried once, or after each round of a fix that searches."""
        if step.search is None:
            self.retest(step, cured + left)
            return
        for mass, is_found in ((cured, True), (left, False)):
            rounds = search_rounds(step.search.count, step.search.how, is_found, is_fix=True)
            self.pay(step.search.round, mass * rounds)
            self.retest(step, mass * rounds)
            if step.proves == "after-restart":
                self.restart(mass * rounds)

    def retest(self, step: Step, mass: float) -> None:
        retest = self.playbook.retest
        if retest is not None:
            self.pay(Effort(hands_on=retest.hands_on, wait=retest.wait, by=step.effort.by), mass)

    def restart(self, mass: float) -> None:
        if self.playbook.restart is not None:
            self.pay(self.playbook.restart, mass)

    def undo(self, now: Climb, mass: float) -> str | None:
        """Put back what the machine says is to be put back now; where the unit stands then."""
        at = now.footing
        for step, footing in now.puts_back:
            self.switch(now, at, footing, mass)
            at = footing
            if step.undo is not None and step.undo.effort is not None:
                self.pay(step.undo.effort, mass)
        return at

    def answer(self, now: Climb, at: str | None, answer: c.Answered, mass: float) -> None:
        then = after(now, answer)
        self.switch(now, at, then.footing, mass)
        self.visit(then, mass)

    def finish(self, now: Climb, mass: float) -> None:
        """The ladder leaves the case, by the end of a rail or of the line."""
        end = now.agenda[0] if now.agenda else None
        at = self.go(now, self.undo(now, mass), list(now.route), mass)
        self.switch(now, at, None, mass)
        if now.fixed_by is not None:
            self.ends["worked_around"] += mass
            return
        if isinstance(end, EndTask) and end.playbook is not None:
            self.ends["sent_on"] += mass
            return
        teams = {team.id: team for team in self.playbook.hand_offs}
        team = teams[now.team] if now.team else self.playbook.default_hand_off
        self.ends["handed_off"] += mass
        if team is not None:
            self.pay(team.effort, mass)

    def findings(self, step: Step) -> list[tuple[str, float]]:
        chances = finding_chances(step, self.causes)[:, self.column]
        return [(finding.id, float(chance)) for finding, chance in zip(step.findings, chances, strict=True)]

    def pay(self, effort: Effort, mass: float) -> None:
        self.effort += mass * effort_minutes(effort, self.playbook.policy.weights)

    def go(self, now: Climb, at: str | None, route: list[str | None], mass: float) -> str | None:
        """Pass through these footings in turn; where the unit stands then."""
        for target in route:
            self.switch(now, at, target, mass)
            at = target
        return at

    def switch(self, now: Climb, old: str | None, new: str | None, mass: float) -> None:
        up, down = self.chain(old), self.chain(new)
        while up and down and up[0] == down[0]:
            up, down = up[1:], down[1:]
        for footing in reversed(up):
            self.pay(footing.leave, mass)
        for footing in down:
            self.pay(footing.enter, mass)
            for hazard in footing.enter.hazards:
                is_eased = hazard.eased_by is not None and now.is_done(hazard.eased_by)
                self.harm += mass * hazard_points(hazard, 1.0, is_eased)

    def chain(self, name: str | None) -> list[Footing]:
        found: list[Footing] = []
        while name is not None:
            found.insert(0, self.footings[name])
            name = self.footings[name].within
        return found


def event(move: c.Move) -> c.ClimbEvent:
    return c.ClimbEvent(at=NOON, who=1, move=move)


def after(now: Climb, move: c.Move) -> Climb:
    return machine.apply(now, event(move))

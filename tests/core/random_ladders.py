"""Random ladders with every feature of the language at once, from a seed."""

from typing import Any

import numpy as np

from mildladder.core.model import Playbook

_KINDS = ("fix", "fix", "fix", "workaround", "check", "check", "safeguard")
_WORDS = ("nearly-always", "usually", "often", "sometimes", "rarely")


def random_playbook(seed: int, rungs: int = 4, repeats: float = 0.3, rails: int = 1) -> Playbook:
    """A sound playbook; some chances are 0 or 1, some efforts are 0.

    repeats: chance that a rung's step stands higher up already. rails: how deep side rails may nest; 0: a plain
    ladder of rungs with conditions.
    """
    return Playbook.model_validate(random_data(seed, rungs, repeats, rails))


def random_data(seed: int, rungs: int = 4, repeats: float = 0.3, rails: int = 1) -> dict[str, Any]:
    """The same as plain data."""
    return _Maker(np.random.default_rng(seed), rungs, repeats, rails).playbook()


class _Maker:
    def __init__(self, rng: np.random.Generator, rungs: int, repeats: float, rails: int) -> None:
        self.rng, self.rungs, self.repeats, self.rails = rng, rungs, repeats, rails
        self.causes = [f"cause-{n}" for n in range(int(rng.integers(1, 3)))]
        if rng.random() < 0.3:
            self.causes.append("something-else")
        self.facts = self._facts()
        self.footings = self._footings() if rails else []
        count = rungs + 3 * rails
        self.steps: list[dict[str, Any]] = [self._step(n) for n in range(count)]
        safeguards = [step["id"] for step in self.steps if step["kind"] == "safeguard"]
        for step in self.steps:
            step["hazards"] = [self._hazard(safeguards) for _ in range(int(rng.integers(0, 3)))]
        for footing in self.footings:
            footing["enter"]["hazards"] = [self._hazard(safeguards) for _ in range(int(rng.integers(0, 2)))]
        self.used: list[str] = []

    def playbook(self) -> dict[str, Any]:
        rng = self.rng
        data: dict[str, Any] = {
            "format": "mild-ladder/playbook/1",
            "id": "random",
            "title": "Random",
            "symptom": {"says": "It is random"},
            "facts": self.facts,
            "causes": [self._cause(c) for c in self.causes],
            "footings": self.footings,
            "steps": self.steps,
            "ladder": self._line(self.rungs, self.rails),
            "policy": {"weights": {"wait": self._amount(), "visit": 1 + self._amount()}},
        }
        if self.footings:
            data["restart"] = self._effort()
        if rng.random() < 0.8:
            data["retest"] = {"how": "Try it", "hands_on": self._amount(), "wait": self._amount()}
        teams = [{"id": f"crew-{n}", "title": "Crew", "effort": self._effort()} for n in range(2)]
        teams[0]["default"] = bool(rng.random() < 0.8)
        data["hand_offs"] = teams
        return data

    def _cause(self, name: str) -> dict[str, Any]:
        cause: dict[str, Any] = {"id": name, "title": name, "layer": "data"}
        if self._maybe(0.8):
            cause["weight"] = self._between(0.05, 1)
        if self.rails and self.facts and self._maybe(0.4):
            times = (self._between(0.1, 5), self._amount())
            cause["likelier"] = [{"when": self._fact_test(), "times": one} for one in times[: int(self._pick(1, 2))]]
        return cause

    # Numbers

    def _between(self, low: float, high: float) -> float:
        return round(low + (high - low) * float(self.rng.random()), 3)

    def _amount(self) -> float:
        return 0.0 if self.rng.random() < 0.15 else self._between(0, 10)

    def _share(self) -> float:
        return float(self.rng.choice([0.0, 1.0, self._between(0, 1)], p=[0.08, 0.08, 0.84]))

    def _pick(self, *choices: Any) -> Any:
        return choices[int(self.rng.integers(len(choices)))]

    def _maybe(self, chance: float) -> bool:
        return bool(self.rng.random() < chance)

    def _effort(self) -> dict[str, Any]:
        by = self._pick("caller", "desk", "visit")
        return {
            "hands_on": self._amount(),
            "by": by,
            "wait": self._amount(),
            "travel": self._amount(),
            "parts": self._amount(),
        }

    # Facts and conditions

    def _facts(self) -> list[dict[str, Any]]:
        share = self._between(0.1, 0.9)
        facts: list[dict[str, Any]] = []
        if self._maybe(0.7):
            facts.append(
                {"id": "model", "ask": "?", "type": "choice", "choices": {"one": share, "two": 1 - share, "three": 0.0}}
            )
        if self.rails and self._maybe(0.5):
            shares = {"4.9": 0.25, "4.10": 0.75}
            facts.append({"id": "version", "ask": "?", "type": "version", "shares": shares})
        if self.rails and self._maybe(0.4):
            facts.append({"id": "age", "ask": "?", "type": "number"})
        return facts

    def _fact_test(self) -> str:
        tests = {
            "model": ("model is one", "model is not one", "model in (two, three)", "model known"),
            "version": ("version below 4.10", "version above 4.9", "version at least 4.10", "version at most 4.9"),
            "age": ("age above 3", "age known", "age is 4"),
        }
        fact = self._pick(*self.facts)["id"]
        return str(self._pick(*tests[fact]))

    def _condition(self, checks: list[dict[str, Any]]) -> str | None:
        tests = []
        for _ in range(int(self.rng.integers(1, 4 if self.rails else 2))):
            roll = self.rng.random()
            unsure = [name for name in self.used if self._of(name).get("done", 1) < 1]
            if unsure and self.rails and roll < 0.12:
                ends = ("could-not", "could-not", "nothing-to-do", "no-change", "worse")
                tests.append(f"{self._pick(*unsure)} ended {self._pick(*ends)}")
            elif checks and roll < 0.45:
                check = self._pick(*checks)
                tests.append(f"{check['id']} found {self._pick(*check['findings'])['id']}")
            elif self.facts and roll < 0.9:
                tests.append(self._fact_test())
            elif self.rails:
                tests.append(
                    self._pick(
                        "earlier cases at least 2 within 30 days", "not earlier resolved by step-0 within 9 days"
                    )
                )
        if not tests:
            return None
        if len(tests) == 3:
            return f"({tests[0]} or {tests[1]}) and {self._pick('', 'not ')}({tests[2]})"
        return f" {self._pick('and', 'or')} ".join(tests)

    # Footings and steps

    def _footings(self) -> list[dict[str, Any]]:
        outer = {"id": "open", "title": "Open", "enter": self._effort(), "leave": self._effort()}
        inner = {"id": "deep", "title": "Deep", "within": "open", "enter": self._effort(), "leave": self._effort()}
        other = {"id": "aside", "title": "Aside", "enter": self._effort(), "leave": self._effort()}
        return [outer, inner, other]

    def _step(self, number: int) -> dict[str, Any]:
        kind = str(self._pick(*_KINDS))
        step: dict[str, Any] = {
            "id": f"step-{number}",
            "title": f"Step {number}",
            "kind": kind,
            "effort": self._effort(),
            "undo": {"possible": self._pick("yes", "partly", "no")},
        }
        if self._maybe(0.4):
            step["done"] = self._share()
        tested = kind in ("fix", "workaround")
        if tested:
            step["fixes"] = self._fixes()
        if self.rails:
            self._enrich(step, tested, number)
        return step

    def _fixes(self) -> dict[str, Any]:
        return {c: self._pick(*_WORDS) if self._maybe(0.3) else self._share() for c in self.causes if self._maybe(0.7)}

    def _enrich(self, step: dict[str, Any], tested: bool, number: int) -> None:
        if self._maybe(0.45):
            step["footing"] = self._pick("open", "deep", "aside", "any")
        if tested and self._maybe(0.5):
            step["proves"] = self._pick("after-leaving", "after-restart")
        if self._maybe(0.5):
            step["undo"] |= {"effort": self._effort(), "after": self._pick("no-change", "always")}
            if self._maybe(0.5):
                step["undo"]["footing"] = self._pick("open", "deep", "aside", "any")
        if step["kind"] == "fix" and self._maybe(0.2):
            step["search"] = self._search()
            if self._maybe(0.5):
                step |= {"footing": self._pick("open", "deep", "aside"), "proves": "after-leaving"}
            elif self._maybe(0.5):
                step["proves"] = "after-restart"
        if self._maybe(0.8 if step["kind"] == "check" else 0.3):
            step["findings"] = self._findings()
            if step["kind"] == "check" and self._maybe(0.3):
                step["search"] = self._search()
                step["findings"] = self._findings("found", "none")
        if self.facts and self._maybe(0.35):
            step["varies"] = [self._variant(tested) for _ in range(int(self.rng.integers(1, 3)))]
        if number and self._maybe(0.25):
            step["includes"] = [f"step-{int(self.rng.integers(number))}"]
        if number and self._maybe(0.25):
            undone = f"step-{int(self.rng.integers(number))}"
            step["cancels"] = [undone] if undone not in step.get("includes", ()) else []

    def _search(self) -> dict[str, Any]:
        how = self._pick("halves", "one-by-one")
        return {"over": "leads", "count": int(self.rng.integers(2, 20)), "how": how, "round": self._effort()}

    def _findings(self, *names: str) -> list[dict[str, Any]]:
        ids = names or ("red", "green", "blue")[: int(self.rng.integers(2, 4))]
        return [
            {
                "id": name,
                "title": name,
                "given": {
                    **{c: self._between(0.01, 1) for c in self.causes if self._maybe(0.6)},
                    "*": self._between(0.01, 1),
                },
            }
            for name in ids
        ]

    def _variant(self, tested: bool) -> dict[str, Any]:
        variant: dict[str, Any] = {"when": self._fact_test()}
        if self._maybe(0.6):
            variant["effort"] = self._effort()
        if self._maybe(0.3):
            variant["done"] = self._share()
        if tested and self._maybe(0.3):
            variant["fixes"] = self._fixes()
        if self._maybe(0.3):
            variant["footing"] = self._pick("open", "deep", "any")
        if self._maybe(0.3):
            variant["hazards"] = [self._hazard([])]
        return variant

    def _hazard(self, safeguards: list[str]) -> dict[str, Any]:
        hazard: dict[str, Any] = {"kind": "data", "severity": int(self.rng.integers(1, 6)), "chance": self._share()}
        if safeguards and self._maybe(0.6):
            hazard |= {"eased_by": self._pick(*safeguards), "eased_to": self._share()}
        if self.rails and self._maybe(0.25):
            hazard["undo"] = self._pick("yes", "partly", "no")
        return hazard

    # Lines and rails

    def _line(self, count: int, depth: int) -> list[dict[str, Any]]:
        line: list[dict[str, Any]] = []
        trial = None
        for number in range(count):
            rung: dict[str, Any] = {"step": self._choose_step()}
            checks = [s for s in self.steps if s["id"] in self.used and s.get("findings")]
            when = self._condition(checks) if self._maybe(0.35) else None
            if when:
                rung["when"] = when
            if self._tries_each(rung):
                trial = None
            elif self.rails and number < count - 1 and trial is None and self._maybe(0.35):
                trial = f"trial-{depth}-{number}"
            elif trial is not None and self._maybe(0.5):
                trial = None
            in_trial = trial is not None
            if in_trial:
                rung["trial"] = trial
            self.used.append(rung["step"])
            line.append(rung)
        for number, rung in enumerate(line):
            is_last = (
                number + 1 == len(line) or line[number + 1].get("trial") != rung.get("trial") or "trial" not in rung
            )
            if depth and is_last:
                self._hang_rails(rung, depth, in_trial="trial" in rung)
        return line

    def _choose_step(self) -> str:
        if self.used and self._maybe(self.repeats):
            return str(self._pick(*self.used))
        fresh = [step["id"] for step in self.steps if step["id"] not in self.used]
        return str(fresh[0] if fresh else self._pick(*self.used))

    def _of(self, name: str) -> dict[str, Any]:
        return next(step for step in self.steps if step["id"] == name)

    def _tries_each(self, rung: dict[str, Any]) -> bool:
        """Whether its step is a fix that searches, which stands in no trial."""
        step = next(step for step in self.steps if step["id"] == rung["step"])
        return step["kind"] == "fix" and "search" in step

    def _hang_rails(self, rung: dict[str, Any], depth: int, in_trial: bool) -> None:
        step = next(step for step in self.steps if step["id"] == rung["step"])
        on: dict[str, Any] = {}
        for finding in step.get("findings", ()):
            if self._maybe(0.45):
                on[finding["id"]] = self._rail(depth - 1)
        if step.get("done", 1) < 1 and not in_trial and self._maybe(0.6):
            rail = self._rail(depth - 1, may_end=False)
            if self._maybe(0.7):
                rail.insert(int(self.rng.integers(len(rail) + 1)), {"again": True})
            on["could-not"] = rail
        idle = [one["id"] for one in self.steps if one["kind"] not in ("fix", "workaround")]
        if step.get("done", 1) < 1 and in_trial and idle and self._maybe(0.6):
            on["could-not"] = [{"step": self._pick(*idle)}]
        if step["kind"] == "workaround" and self._maybe(0.5):
            on["restored"] = self._rail(depth - 1)
        if on:
            rung["on"] = on

    def _rail(self, depth: int, may_end: bool = True) -> list[dict[str, Any]]:
        rail = self._line(int(self.rng.integers(1, 3)), depth)
        if may_end and self._maybe(0.35):
            rail.append(self._pick({"hand_off": "crew-0"}, {"hand_off": "crew-1"}, {"playbook": "elsewhere"}))
        return rail

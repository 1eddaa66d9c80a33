"""Commands that work on files alone: forecast, order, curve, review, diff, measure."""

import sys
from datetime import date
from itertools import groupby
from typing import IO, TYPE_CHECKING

import click

from mildladder.cli.common import json_option, print_json, read_each, read_playbook_file, refuse_disagreements

if TYPE_CHECKING:
    from mildladder.core.evidence.rates import Rate
    from mildladder.core.model import Case, Mode

__all__ = [
    "curve_command",
    "diff_command",
    "forecast_command",
    "measure_command",
    "order_command",
    "replay_command",
    "review_command",
]


@click.command("forecast")
@click.argument("file", type=click.File("rb"))
@json_option
def forecast_command(file: IO[bytes], as_json: bool) -> None:
    """Work out the figures of the ladder in playbook FILE."""
    from mildladder.core.figures.forecast import forecast
    from mildladder.core.ordering.blocks import Ladder

    playbook = read_playbook_file(file).playbook
    figures = forecast(playbook)
    no_order = Ladder(playbook, playbook.policy.mode).why_no_order()
    if as_json:
        print_json({**figures.model_dump(mode="json"), "no_order": no_order})
        return
    click.echo(f"{playbook.title}: {figures.effort:.1f} effort minutes and {figures.harm:.2f} harm points a case")
    ends = (
        f"{figures.resolved:.1%} resolved",
        f"{figures.worked_around:.1%} worked around",
        f"{figures.handed_off:.1%} handed off",
        f"{figures.elapsed:.1f} minutes on the clock",
    )
    click.echo(", ".join(ends))
    for number, rung in enumerate(figures.rungs, start=1):
        ended = rung.resolved + rung.worked_around
        click.echo(f"{number:3} {playbook.step(rung.step).title}: comes up in {rung.reach:.1%}, ends {ended:.1%}")
    if no_order:
        click.echo(f"As the playbook orders ({playbook.policy.mode}), {no_order}")


@click.command("order")
@click.argument("file", type=click.File("rb"))
@click.option("--mode", type=click.Choice(["mildest", "balanced"]), help="Instead of the playbook's own.")
@click.option("--rate", type=click.FloatRange(0, 1e6), help="Effort minutes that avoiding one harm point is worth.")
@json_option
def order_command(file: IO[bytes], mode: "Mode | None", rate: float | None, as_json: bool) -> None:
    """Find the best order of the ladder in playbook FILE, with its reasons."""
    from mildladder.desk.drafts.ordering import order_of

    playbook = read_playbook_file(file).playbook
    best = order_of(playbook, mode, rate)
    if as_json:
        print_json(best.model_dump(mode="json"))
        return
    proof = "no order is better" if best.exact else f"no order is better by more than {best.gap:.1%}"
    click.echo(f"{best.effort:.2f} effort minutes and {best.harm:.3f} harm points a case; {proof}")
    for number, why in enumerate(best.why, start=1):
        click.echo(f"{number:3} {playbook.step(why.step).title}\n    {why.says}")
    for step in best.left_out:
        click.echo(f"    {playbook.step(step).title}: optional, and left out")
    if best.hand_off_after:
        title = playbook.step(best.hand_off_after.step).title
        click.echo(f"Handing off after “{title}” would save {best.hand_off_after.saves:.2f} a case")


@click.command("curve")
@click.argument("file", type=click.File("rb"))
@json_option
def curve_command(file: IO[bytes], as_json: bool) -> None:
    """Show the best orders of playbook FILE from quickest to mildest, and where the draft stands."""
    from mildladder.desk.drafts.ordering import curve_of

    playbook = read_playbook_file(file).playbook
    made = curve_of(playbook)
    if as_json:
        print_json(made.model_dump(mode="json"))
        return
    for point in (*made.points, *([made.mildest] if made.mildest else []), made.draft):
        click.echo(f"{point.effort:8.2f} effort minutes {point.harm:8.3f} harm points   {point.says}")
        click.echo(f"         {', '.join(point.order)}")
    if made.no_mildest:
        click.echo(f"With the mildest first, {made.no_mildest}")


@click.command("review")
@click.argument("files", metavar="FILE...", type=click.File("rb"), nargs=-1, required=True)
@json_option
def review_command(files: tuple[IO[bytes], ...], as_json: bool) -> None:
    """Read playbook FILE as a careful colleague would; with several, links between them count too.

    Exit code 1 when a blocker stands.
    """
    from mildladder.core.review import links_of, review

    read = read_each(files, read_playbook_file)
    refuse_disagreements([(file.name, one) for file, one in zip(files, read, strict=True)])
    playbooks = [one.playbook for one in read]
    known = {playbook.id: links_of(playbook) for playbook in playbooks} if len(playbooks) > 1 else None
    made = [(playbook, review(playbook, known, today=date.today())) for playbook in playbooks]
    if as_json:
        shown = [{"findings": [one.model_dump(mode="json") for one in findings]} for _, findings in made]
        print_json(shown[0] if len(shown) == 1 else shown)
    else:
        for playbook, findings in made:
            click.echo(f"{playbook.title}: {'nothing to say' if not findings else f'{len(findings)} findings'}")
            for one in findings:
                click.echo(f"  {one.level} {one.code}, {one.where}: {one.says}")
    if any(one.level == "blocker" for _, findings in made for one in findings):
        sys.exit(1)


@click.command("diff")
@click.argument("before", type=click.File("rb"))
@click.argument("after", type=click.File("rb"))
@json_option
def diff_command(before: IO[bytes], after: IO[bytes], as_json: bool) -> None:
    """Say what changed from playbook file BEFORE to AFTER, in sentences."""
    from mildladder.desk.drafts.editions import compare

    made = compare(*(one.playbook for one in read_each((before, after), read_playbook_file)))
    if as_json:
        print_json(made.model_dump(mode="json"))
        return
    for group, sentences in groupby(made.sentences, key=lambda one: one.group):
        click.echo(group.capitalize())
        for one in sentences:
            click.echo(f"  {one.says}")
    if not made.sentences:
        click.echo("They are equal.")
        return
    for name, unit in (("effort", "effort minutes"), ("harm", "harm points"), ("resolved", "resolved")):
        was, now = getattr(made.before, name), getattr(made.after, name)
        click.echo(f"{unit} a case: {was:.3f} before, {now:.3f} after")


@click.command("measure")
@click.option("--playbook", "file", type=click.File("rb"), required=True, help="The playbook file.")
@click.option("--cases", "cases", type=click.File("rb"), required=True, help="The logged cases, one a line.")
@click.option("--seed", type=click.IntRange(0, 2**31), default=1, show_default=True, help="Of the draws.")
@json_option
def measure_command(file: IO[bytes], cases: IO[bytes], seed: int, as_json: bool) -> None:
    """Work out which steps of a playbook actually resolve faults across logged cases."""
    from mildladder.desk.evidence.measuring import measure

    playbook = read_playbook_file(file).playbook
    made = measure(playbook, _cases_of(cases), seed)
    if as_json:
        print_json(made.model_dump(mode="json"))
        return
    click.echo(f"{playbook.title}: {made.cases} cases")
    for one in made.steps:
        if not playbook.step(one.step).is_tested:
            continue
        click.echo(
            f"{_share(one.first):>22} if tried first  {_share(one.raw):>22} raw, {one.resolved} of {one.tried}  "
            f"{playbook.step(one.step).title}"
        )
    for warned in made.warnings:
        click.echo(warned.says)


def _cases_of(file: IO[bytes]) -> "list[Case]":
    """The cases of a file. Raises BadInput for the first line that is none."""
    from mildladder.core.errors import BadInput
    from mildladder.core.model import RefusedLine
    from mildladder.exchange import case_lines

    read = []
    for line in case_lines.read_each(case_lines.lines_of(file)):
        if isinstance(line, RefusedLine):
            raise BadInput(line.says, source=file.name, path=f"line {line.line} {line.path}".strip())
        read.append(line.case)
    return read


@click.command("replay")
@click.option("--playbook", "file", type=click.File("rb"), required=True, help="The playbook file.")
@click.option("--cases", "cases", type=click.File("rb"), required=True, help="The logged cases, one a line.")
@click.option("--against", "against", type=click.File("rb"), help="Another playbook file of the symptom.")
@click.option("--seed", type=click.IntRange(0, 2**31), default=1, show_default=True, help="Of the draws.")
@json_option
def replay_command(file: IO[bytes], cases: IO[bytes], against: IO[bytes] | None, seed: int, as_json: bool) -> None:
    """Work out what a playbook's ladder would have cost on logged cases."""
    from mildladder.desk.evidence.measuring import replay_cases

    playbook = read_playbook_file(file).playbook
    other = read_playbook_file(against).playbook if against is not None else None
    made = replay_cases(playbook, _cases_of(cases), other, seed)
    if as_json:
        print_json(made.model_dump(mode="json"))
        return
    click.echo(f"{playbook.title}: {made.cases} cases")
    for name, says in _REPLAYED.items():
        own = getattr(made, name)
        more = made.difference[name] if made.difference else None
        against_it = f"; {more.mean:+.3f} ({more.low:+.3f} to {more.high:+.3f}) against the other" if more else ""
        click.echo(f"{own.mean:10.3f} ({own.low:.3f} to {own.high:.3f}) {says} a case{against_it}")
    click.echo(made.assumes)


_REPLAYED = {"effort": "effort minutes", "harm": "harm points", "handed_off": "handed off"}


def _share(rate: "Rate") -> str:
    if rate.mean is None or rate.low is None or rate.high is None:
        return "too few"
    return f"{rate.mean:.1%} ({rate.low:.0%} to {rate.high:.0%})"

"""The commands: each reads its arguments, calls a use case and prints; errors are one line and exit code 2.

One module a group. What a command works with is imported when it runs, so that help and small commands start at once.
"""

import contextlib
import os
import sys

import click

from mildladder.cli.common import NAME
from mildladder.cli.files import (
    curve_command,
    diff_command,
    forecast_command,
    measure_command,
    order_command,
    replay_command,
    review_command,
)
from mildladder.cli.moving import export_group, import_group
from mildladder.cli.serving import demo_command, serve_command
from mildladder.cli.simulating import simulate_command
from mildladder.core.errors import LadderError, Several

__all__ = ["cli", "main"]


@click.group()
@click.version_option(package_name=NAME)
def cli() -> None:
    """Guided troubleshooting playbooks: order fixes by risk and effort, and measure what resolves."""


@cli.command("schema")
@click.argument("what", type=click.Choice(["playbook", "api"]))
def schema_command(what: str) -> None:
    """Print the JSON Schema of the playbook file, or the OpenAPI document of the API."""
    from mildladder.cli.common import print_json

    if what == "playbook":
        from mildladder.exchange.playbook_file import playbook_schema

        print_json(playbook_schema())
    else:
        from mildladder.api.app import openapi_document

        print_json(openapi_document())


for command in (
    forecast_command,
    order_command,
    curve_command,
    review_command,
    diff_command,
    measure_command,
    replay_command,
    import_group,
    export_group,
    serve_command,
    demo_command,
    simulate_command,
):
    cli.add_command(command)


def main() -> None:
    """Run one command; what a person can put right is told in a line each on stderr, with exit code 2."""
    try:
        done = cli.main(prog_name=NAME, standalone_mode=False)
        sys.stdout.flush()
        sys.exit(done)
    except click.exceptions.Abort:
        sys.exit(130)
    except click.ClickException as error:
        _fail(error.format_message())
    except Several as error:
        _fail(*(str(problem) for problem in error.problems))
    except LadderError as error:
        _fail(str(error))
    except BrokenPipeError:
        _quietly(0)
    except OSError as error:
        click.echo(f"{NAME}: {error.filename or 'the output'} cannot be read or written: {error.strerror}", err=True)
        _quietly(2)


def _quietly(code: int) -> None:
    """End without trying again to write what could not be written."""
    with contextlib.suppress(OSError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    sys.exit(code)


def _fail(*says: str) -> None:
    for one in says:
        click.echo(f"{NAME}: {' '.join(one.split())}", err=True)
    sys.exit(2)

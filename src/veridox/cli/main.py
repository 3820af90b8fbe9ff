"""`veridox`: the root of the command line. Offline work here, the rest through the client."""

import sys
from importlib.metadata import entry_points

import click

from veridox import __version__
from veridox.cli import (
    codes,
    desk,
    goods,
    in_ledger,
    loads,
    mail,
    masterdata,
    outside,
    people,
    pipelines,
    reading,
    reports,
    rules,
    setup_side,
    trying,
)
from veridox.cli.session import Session
from veridox.client import NotReachableError, ProblemError, VeridoxClientError

DONE, PROBLEMS, USAGE, UNREACHABLE = 0, 1, 2, 3
"""Exit codes: done; ran but found problems; wrong usage; cannot reach the service."""


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="veridox")
@click.option(
    "--url",
    envvar="VERIDOX_URL",
    default="http://127.0.0.1:8440",
    show_default=True,
    help="Address of the service (VERIDOX_URL).",
)
@click.option(
    "--token-file",
    envvar="VERIDOX_TOKEN_FILE",
    type=click.Path(dir_okay=False),
    help="File with the token (VERIDOX_TOKEN_FILE); or the token itself in VERIDOX_TOKEN.",
)
@click.pass_context
def cli(context: click.Context, url: str, token_file: str | None) -> None:
    """Take supplier invoices from mailboxes to the ledger.

    Exit codes: 0 done, 1 ran but found problems, 2 wrong usage, 3 cannot reach the service.
    """
    context.obj = Session(url=url, token_file=token_file)
    context.call_on_close(context.obj.close)


# `pipeline try` is a module of its own, and puts itself below its group.
_ = trying

for _command in (
    reading.read,
    pipelines.pipeline,
    rules.rule,
    mail.mail,
    reports.report,
    in_ledger.document,  # with its command
    desk.desk,
    masterdata.entity,
    masterdata.vendor,
    masterdata.order,
    goods.receipt,
    goods.item,
    goods.card,
    codes.gl_account,
    codes.cost_centre,
    codes.tax_code,
    codes.project,
    masterdata.rate,
    masterdata.books,
    loads.load,
    loads.mapping,
    setup_side.connection,
    people.person,
    setup_side.token,
    setup_side.trail,
    outside.notice,
    outside.service,
):
    cli.add_command(_command)


def _load_service_commands() -> None:
    for point in entry_points(group="veridox.commands"):
        # Without the `[service]` extra its modules cannot be imported; the
        # client side of the command line works all the same.
        try:
            point.load()(cli)
        except ModuleNotFoundError:
            continue


def run() -> None:
    """Entry point: errors become one clear message and an exit code."""
    _load_service_commands()
    try:
        sys.exit(cli.main(standalone_mode=False) or DONE)
    except click.exceptions.Exit as error:
        sys.exit(error.exit_code)
    except click.Abort:
        click.echo("stopped", err=True)
        sys.exit(PROBLEMS)
    except click.ClickException as error:
        error.show()
        sys.exit(error.exit_code)
    except NotReachableError as error:
        click.echo(
            f"veridox: {error}\nIs the service running? Its address is set by --url.", err=True
        )
        sys.exit(UNREACHABLE)
    except ProblemError as error:
        click.echo(f"veridox: {error}", err=True)
        if error.status == 401:
            click.echo("Set VERIDOX_TOKEN or --token-file; see: veridox token create", err=True)
        sys.exit(PROBLEMS)
    except VeridoxClientError as error:
        click.echo(f"veridox: {error}", err=True)
        sys.exit(PROBLEMS)
    except BrokenPipeError:
        # The reader of a pipe (head, less) has gone; that is not our error.
        sys.stderr.close()
        sys.exit(DONE)


if __name__ == "__main__":
    run()

"""Commands that run the service; registered with the `veridox` command line by an entry point."""

import os
import signal
import sys
import threading
from pathlib import Path

import click

QUEUES = ("collect", "read", "check", "post", "tell", "report")


def _django() -> None:
    """Load the service; a setting that is wrong is a message and not a trace."""
    import django

    from veridox.service.errors import ConfigurationError

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "veridox.service.settings")
    try:
        django.setup()
    except ConfigurationError as error:
        raise click.ClickException(str(error)) from error


def _reach_database() -> None:
    """Say in one sentence when the database cannot be reached."""
    from django.conf import settings
    from django.db import OperationalError, connection

    try:
        connection.ensure_connection()
    except OperationalError as error:
        known = settings.CONFIGURATION.database
        said = str(error).strip().splitlines()[0]
        raise click.ClickException(
            f"the database {known.name} at {known.host}:{known.port} cannot be reached: {said}"
        ) from error


def register(group: click.Group) -> None:
    """Add the service's commands to the command line."""
    for command in (serve, work, watch, setup):
        group.add_command(command)


@click.command()
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=8440, show_default=True)
@click.option("--workers", default=2, show_default=True, help="Processes.")
@click.option("--reload", is_flag=True, help="Restart on changed code (development).")
def serve(host: str, port: int, workers: int, reload: bool) -> None:
    """Run the web service: REST interface and console.

    Example: veridox serve --port 8440
    """
    _django()
    arguments = ["gunicorn", "veridox.service.wsgi:application", "--bind", f"{host}:{port}"]
    arguments += ["--workers", str(workers), "--threads", "8", "--worker-class", "gthread"]
    # A supervisor looks after it; nobody needs a socket of its own in the home folder.
    arguments += ["--timeout", "60", "--graceful-timeout", "10", "--no-control-socket"]
    if reload:
        arguments.append("--reload")
    # gunicorn takes this process over, so that a supervisor's signals reach it.
    os.execv(sys.executable, [sys.executable, "-m", *arguments])  # noqa: S606


@click.command()
@click.option(
    "--queue",
    "queues",
    multiple=True,
    type=click.Choice([*QUEUES, "house"]),
    help="Only these queues; without it all but house.",
)
@click.option("--jobs", default=6, show_default=True, help="Jobs at once.")
def work(queues: tuple[str, ...], jobs: int) -> None:
    """Run a worker. The queue `house` (rescue of lost jobs, tidying) wants one of its own.

    Example: veridox work --queue read --jobs 2
    """
    _django()
    _reach_database()
    import asyncio

    from veridox.service.worker import run_worker

    asyncio.run(run_worker(list(queues or QUEUES), jobs))


@click.command()
def watch() -> None:
    """Watch the mailboxes of all published pipelines; needed once an installation."""
    _django()
    _reach_database()
    from veridox.service.house.actions.held import held, look
    from veridox.service.intake.watching import watch as run

    ended = threading.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, lambda *_: ended.set())
    if look().held_at is not None:
        click.echo("held: the database was restored elsewhere; nothing is watched", err=True)
        while held() is not None and not ended.wait(2.0):
            continue
    run(ended)


@click.command()
@click.option("--admin", help="Create this first admin, if there is nobody of the name.")
@click.option(
    "--password-file",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="The admin's password is the first line of this file.",
)
def setup(admin: str | None, password_file: Path | None) -> None:
    """Prepare or update the database and the key file. Safe to repeat.

    Example: veridox setup --admin ada --password-file ada.txt
    """
    _django()
    from django.conf import settings
    from django.core.management import call_command

    from veridox.service.accounts.actors import Actor
    from veridox.service.accounts.models import Person, Role
    from veridox.service.errors import VeridoxError
    from veridox.service.house.actions.held import look
    from veridox.service.people.actions.people import create_person
    from veridox.service.pipelines.actions.pause import pause_refused
    from veridox.service.secrets import make_key_file

    _reach_database()
    if not os.environ.get("VERIDOX_KEYS") and make_key_file(settings.CONFIGURATION.key_file):
        click.echo(f"made the key file {settings.CONFIGURATION.key_file}; keep a copy elsewhere")
    call_command("migrate", "--no-input", verbosity=0)
    settings.STATIC_ROOT.mkdir(parents=True, exist_ok=True)
    call_command("collectstatic", "--no-input", verbosity=0)
    if admin and not Person.objects.filter(username=admin).exists():
        if password_file is None:
            raise click.UsageError("--admin needs --password-file")
        password = password_file.read_text("utf-8").splitlines()[0]
        try:
            create_person(Actor.system("setup"), admin, password, Role.ADMIN)
        except VeridoxError as error:
            raise click.ClickException(str(error)) from error
        click.echo(f"created the admin {admin}")
    restored = look()
    if restored.held_at is not None:
        click.echo(f"HELD: {restored.held_reason}")
        click.echo("`veridox service go-on` lets it collect and post again")
    for name, problem in pause_refused(Actor.system("setup")).items():
        click.echo(f"PAUSED: pipeline {name}: {problem}")
    click.echo("the database is ready")

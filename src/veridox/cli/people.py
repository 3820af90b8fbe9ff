"""`veridox person`: who may do what."""

import sys

import click

from veridox.cli.output import json_option, moment, print_json, print_table
from veridox.cli.session import Session, pass_session

ROLES = click.Choice(["clerk", "approver", "admin"])


def _password() -> str:
    """Asked for, or read from standard input; never on the command line."""
    if sys.stdin.isatty():
        return str(click.prompt("password", hide_input=True, confirmation_prompt=True))
    return sys.stdin.readline().rstrip("\n")


@click.group()
def person() -> None:
    """People who sign in, and their roles."""


@person.command("list")
@json_option
@pass_session
def person_list(session: Session, as_json: bool) -> None:
    """Everybody, with role and what they have taken."""
    rows = list(session.client.people.list())
    if as_json:
        print_json(rows)
        return
    print_table(
        ("user name", "name", "role", "state", "has taken", "last signed in"),
        (
            (
                row["username"],
                row["name"],
                row["role"],
                "active" if row["active"] else "may not sign in",
                row["taken"],
                moment(row["last_signed_in"]),
            )
            for row in rows
        ),
        right=("has taken",),
    )


@person.command("create")
@click.argument("username")
@click.option("--role", type=ROLES, default="clerk", show_default=True)
@click.option("--name", default="", help="Full name.")
@pass_session
def person_create(session: Session, username: str, role: str, name: str) -> None:
    """Create a person; the password is asked for or read from standard input.

    Example: veridox person create bo --role clerk < password
    """
    data = {"username": username, "role": role, "name": name, "password": _password()}
    session.client.people.create(data)
    click.echo(f"{username} can sign in as {role}")


@person.command("change")
@click.argument("username")
@click.option("--role", type=ROLES)
@click.option("--name", help="Full name.")
@click.option("--active/--inactive", default=None, help="Whether they may sign in.")
@click.option("--password", "new_password", is_flag=True, help="Set the password anew.")
@pass_session
def person_change(
    session: Session,
    username: str,
    role: str | None,
    name: str | None,
    active: bool | None,
    new_password: bool,
) -> None:
    """Change a person's role, name or password, or whether they may sign in.

    Example: veridox person change bo --inactive
    """
    given = {"role": role, "name": name, "active": active}
    changes: dict[str, object] = {key: value for key, value in given.items() if value is not None}
    if new_password:
        changes["password"] = _password()
    if not changes:
        raise click.UsageError("say what is to change")
    answer = session.client.people.call("PATCH", username, changes)
    state = "may sign in" if answer["active"] else "may not sign in"
    click.echo(f"{username} is {answer['role']} and {state}")

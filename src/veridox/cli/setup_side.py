"""`veridox connection`, `token`, `trail`: setting up and looking after."""

import itertools
import json
import sys
from pathlib import Path
from typing import TextIO

import click

from veridox.cli.documents import brief
from veridox.cli.output import json_option, limit_option, moment, print_json, print_table
from veridox.cli.reports import watched
from veridox.cli.session import Session, pass_session


@click.group()
def connection() -> None:
    """Connections to mailboxes, outgoing mail and ledgers."""


@connection.command("list")
@json_option
@pass_session
def connection_list(session: Session, as_json: bool) -> None:
    """Connections and how they do."""
    rows = list(session.client.connections.list())
    if as_json:
        print_json(rows)
        return
    print_table(
        ("name", "kind", "where", "last good", "problem"),
        (
            (
                row["name"],
                row["kind"],
                row["settings"].get("url")
                or f"{row['settings'].get('host')}:{row['settings'].get('port')}",
                moment(row["last_good_at"]),
                row["last_problem"],
            )
            for row in rows
        ),
    )


@connection.command("add")
@click.argument("name")
@click.argument("kind", type=click.Choice(["mailbox", "outbox", "ledger", "chat"]))
@click.argument("settings", nargs=-1, metavar="KEY=VALUE...")
@click.option("--secret", "with_secret", is_flag=True, help="Read the secret from standard input.")
@click.option("--driver", default="", help="Which adapter speaks with it; usually the only one.")
@pass_session
def connection_add(
    session: Session,
    name: str,
    kind: str,
    settings: tuple[str, ...],
    with_secret: bool,
    driver: str,
) -> None:
    """Add a connection, or change its settings.

    The secret is read from standard input, never from the command line, where
    others could see it.

    Example: veridox connection add ap-inbox mailbox host=mail.example user=ap --secret
    """
    given: dict[str, str] = {}
    for setting in settings:
        key, mark, value = setting.partition("=")
        if not mark:
            raise click.UsageError(f"{setting!r}: write KEY=VALUE")
        given[key] = value
    data: dict[str, object] = {"name": name, "kind": kind, "settings": given}
    if driver:
        data["driver"] = driver
    if with_secret:
        data["secret"] = _asked("secret")
    session.client.connections.create(data)
    click.echo(f"{kind} {name} is saved; try it: veridox connection test {name}")


def _asked(what: str) -> str:
    """From standard input, never from the command line, where others could see it."""
    if sys.stdin.isatty():
        return str(click.prompt(what, hide_input=True))
    return sys.stdin.readline().rstrip("\n")


@connection.command("secret")
@click.argument("name")
@click.option("--refresh-token", is_flag=True, help="It is a refresh token (OAuth 2).")
@pass_session
def connection_secret(session: Session, name: str, refresh_token: bool) -> None:
    """Put a new secret in the place of the old one; it is read from standard input.

    Example: veridox connection secret ap-inbox < new-password
    """
    key = "refresh_token" if refresh_token else "secret"
    given = _asked(key.replace("_", " "))
    session.client.connections.call("PUT", f"{name}/secret", {key: given})
    click.echo(
        f"the {key.replace('_', ' ')} of {name} is set; try it: veridox connection test {name}"
    )


@connection.command("rotate")
@click.option("--new-key", is_flag=True, help="Make a new key first, in front of the others.")
@pass_session
def connection_rotate(session: Session, new_key: bool) -> None:
    """Encrypt all secrets with the newest key.

    Keep older keys: the last one in the file also seals the trail.

    Example: veridox connection rotate --new-key
    """
    answer = session.client.connections.call("POST", "rotate", {"new_key": new_key})
    made = "a new key; " if new_key else ""
    click.echo(f"{made}{answer['connections']} connections are encrypted with the newest key")


@connection.command("test")
@click.argument("name")
@json_option
@click.pass_context
@pass_session
def connection_test(session: Session, context: click.Context, name: str, as_json: bool) -> None:
    """Try a connection step by step. Exits with 1 when a step fails."""
    answer = session.client.connections.call("POST", f"{name}/test")
    if as_json:
        print_json(answer)
    else:
        for step in answer["steps"]:
            mark = "good" if step["good"] else "FAILED"
            click.echo(f"{mark:<7} {step['name']}: {step['detail']}")
    if not answer["good"]:
        context.exit(1)


@click.group()
def token() -> None:
    """Tokens for programs."""


@token.command("create")
@click.argument("name")
@click.option(
    "--scope",
    "scopes",
    multiple=True,
    type=click.Choice(["read", "comment", "work", "accept", "admin"]),
    default=("read", "work"),
    show_default=True,
)
@click.option("--days", type=int, help="Expires after so many days.")
@click.option("--person", help="Sign in as this person with a password instead of a token.")
@json_option
@pass_session
def token_create(
    session: Session,
    name: str,
    scopes: tuple[str, ...],
    days: int | None,
    person: str | None,
    as_json: bool,
) -> None:
    """Create a token and print it, this once.

    The first token is created with --person; the password is asked for, or read
    from standard input.

    Example: veridox token create nightly --scope read --days 90
    """
    data: dict[str, object] = {"name": name, "scopes": list(scopes)}
    if days is not None:
        data["days"] = days
    if person:
        from veridox.client.signin import signed_in

        password = (
            click.prompt("password", hide_input=True)
            if sys.stdin.isatty()
            else sys.stdin.readline().rstrip("\n")
        )
        with signed_in(session.url, person, password) as browser:
            answer = browser.post("/tokens", data)
    else:
        answer = session.client.tokens.create(data)
    if as_json:
        print_json(answer)
    else:
        click.echo(answer["token"])
        click.echo("Keep it: it is not shown again.", err=True)


@token.command("list")
@json_option
@pass_session
def token_list(session: Session, as_json: bool) -> None:
    """Tokens without their text."""
    rows = list(session.client.tokens.list())
    if as_json:
        print_json(rows)
        return
    print_table(
        ("id", "name", "person", "begins", "scopes", "expires", "last used", "state"),
        (
            (
                row["id"],
                row["name"],
                row["person"],
                row["start"],
                " ".join(row["scopes"]),
                moment(row["expires_at"]) or "never",
                moment(row["last_used_at"]),
                "revoked" if row["revoked_at"] else "",
            )
            for row in rows
        ),
    )


@token.command("revoke")
@click.argument("number", metavar="TOKEN", type=int)
@pass_session
def token_revoke(session: Session, number: int) -> None:
    """End a token."""
    answer = session.client.tokens.call("DELETE", str(number))
    click.echo(f"token {answer['id']} ({answer['name']}) is revoked")


@click.group()
def trail() -> None:
    """Who did what and why."""


@trail.command("show")
@click.option("--actor", help="person:NAME or system:PART.")
@click.option("--act", help="Such as document.posted.")
@limit_option
@json_option
@pass_session
def trail_show(
    session: Session, actor: str | None, act: str | None, limit: int, as_json: bool
) -> None:
    """Entries, newest first."""
    rows = list(itertools.islice(session.client.trail.list(actor=actor, act=act), limit))
    if as_json:
        print_json(rows)
        return
    print_table(
        ("number", "when", "who", "what", "on", "details"),
        (
            (
                row["number"],
                moment(row["at"]),
                row["actor"],
                row["act"],
                f"{row['subject']} {row['subject_id']}",
                brief(row["details"]),
            )
            for row in rows
        ),
        right=("number",),
    )


@trail.command("export")
@click.argument("file", type=click.Path(dir_okay=False, writable=True))
@click.option("--actor", help="person:NAME or system:PART.")
@click.option("--act", help="Such as document.posted.")
@pass_session
def trail_export(session: Session, file: str, actor: str | None, act: str | None) -> None:
    """Entries with their seals as a table; the ending .csv or .xlsx says which.

    Example: veridox trail export trail.csv --act document.posted
    """
    form = Path(file).suffix.lstrip(".").lower()
    if form not in ("csv", "xlsx"):
        raise click.UsageError(f"{file}: the name ends in .csv or .xlsx")
    content = session.client.trail.export(form, actor=actor, act=act)
    Path(file).write_bytes(content)
    click.echo(f"{file}: {len(content):,} bytes")


@trail.command("head")
@click.argument("file", required=False, type=click.Path(dir_okay=False, writable=True))
@pass_session
def trail_head(session: Session, file: str | None) -> None:
    """Number and seal of the newest entry, to be kept elsewhere; to a FILE or the screen.

    Example: veridox trail head trail-head.json
    """
    text = json.dumps(session.client.trail_head(), indent=1)
    if file is None:
        click.echo(text)
        return
    Path(file).write_text(text + "\n")
    click.echo(f"{file}: keep it on another machine; `veridox trail verify --head {file}` uses it")


@trail.command("verify")
@click.option("--head", type=click.File(), help="A head that was kept: see `trail head`.")
@json_option
@click.pass_context
@pass_session
def trail_verify(
    session: Session, context: click.Context, head: TextIO | None, as_json: bool
) -> None:
    """Check the whole chain, and heads that were kept. Exits with 1 when it does not hold.

    The entries alone cannot show that the newest ones were cut off together with the head;
    one that was kept elsewhere can.

    Example: veridox trail verify --head trail-head.json
    """
    given = None
    if head is not None:
        try:
            given = json.load(head)
        except ValueError as error:
            raise click.UsageError(f"{head.name} is no head of a trail: {error}") from error
    with watched("checking") as progress:
        answer = session.client.run_report("trail", head=given, progress=progress)["result"]
    if as_json:
        click.echo(json.dumps(answer, indent=2))
    else:
        for problem in answer["problems"]:
            click.echo(f"PROBLEM {problem}")
        verdict = "nothing was changed" if answer["good"] else "the trail does not hold"
        click.echo(f"{answer['entries']} entries checked: {verdict}")
        if answer["compared"]:
            listed = ", ".join(str(number) for number in answer["compared"])
            click.echo(f"compared with kept heads of entries {listed}")
        else:
            click.echo("no kept head was compared: a cut at the end would not show")
        click.echo(f"head {answer['head']}")
    if not answer["good"]:
        context.exit(1)

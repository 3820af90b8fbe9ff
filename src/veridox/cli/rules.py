"""`veridox rule`."""

import click

from veridox.cli.output import json_option, print_json
from veridox.cli.session import Session, pass_session


@click.group()
def rule() -> None:
    """Expressions of pipelines: try one on a document."""


@rule.command("try")
@click.argument("expression")
@click.option("--document", type=int, help="Its number; without one the expression is checked.")
@json_option
@click.pass_context
@pass_session
def try_(
    session: Session, context: click.Context, expression: str, document: int | None, as_json: bool
) -> None:
    """What an expression gives for a document as it stands; nothing is changed.

    Example: veridox rule try 'gross_total > 5000 GBP' --document 3
    """
    found = session.client.try_rule(expression, document)
    if as_json:
        print_json(found)
    elif found["problem"]:
        click.echo(expression)
        hint = f" ({found['hint']})" if found["hint"] else ""
        click.echo(f"{' ' * found['at']}^ {found['problem']}{hint}")
    elif found["said"]:
        click.echo(found["said"])
    elif found["why"]:
        click.echo(f"{expression}: cannot be evaluated ({found['why']})")
    elif document is None:
        gives = "a condition" if found["type"] == "truth" else f"a {found['type']}"
        click.echo(f"good: it is {gives}; --document NUMBER tries it")
    else:
        click.echo(f"{found['value']} ({found['type']})")
    if found["problem"]:
        context.exit(1)

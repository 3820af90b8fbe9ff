"""Texts of notices, by Jinja2 in its sandbox; a name that is missing is an error, not a blank."""

from importlib import resources

from jinja2 import FunctionLoader, StrictUndefined, TemplateError
from jinja2.sandbox import ImmutableSandboxedEnvironment


def _source(name: str) -> str | None:
    file = resources.files("veridox.service.notices").joinpath("texts", f"{name}.txt")
    return file.read_text("utf-8") if file.is_file() else None


# Plain text mails: nothing to escape. HTML gets an environment of its own.
_environment = ImmutableSandboxedEnvironment(
    loader=FunctionLoader(_source),
    undefined=StrictUndefined,
    autoescape=False,
    trim_blocks=True,
    lstrip_blocks=True,
    keep_trailing_newline=True,
)


def fill_in(text: str, names: dict[str, object]) -> str:
    """A short text of a pipeline with its names filled in; an unknown name stands as it is written.

    Nothing of the event may be lost for a slip in a text, so this never raises.
    """
    try:
        return _environment.from_string(text).render(names)[:4_000]
    except TemplateError as error:
        return f"{text} ({error})"[:4_000]


def render(template: str, names: dict[str, object]) -> tuple[str, str]:
    """Subject (the first line, without `Subject: `) and text of a notice."""
    text = _environment.get_template(template).render(names)
    first, _, rest = text.partition("\n")
    return first.removeprefix("Subject: ").strip()[:500], rest.lstrip("\n")

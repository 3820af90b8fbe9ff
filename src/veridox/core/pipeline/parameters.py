"""What is said when a run begins, typed: a period, a recipient."""

from collections.abc import Container, Mapping
from dataclasses import dataclass
from typing import Final

from veridox.core.language import ExpressionError, parse
from veridox.core.language.syntax import Constant, Literal, Type
from veridox.core.language.typing import nearest

PREFIX: Final = "run."
"""Before a parameter's name in the language."""
TYPES: Final = {
    "text": Type.TEXT, "choice": Type.TEXT, "number": Type.NUMBER, "money": Type.MONEY,
    "date": Type.DATE,
}  # fmt: skip


class ParameterError(ValueError):
    """What cannot be said of a parameter: its name, and why."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Parameter:
    """One parameter.

    Attributes:
        name: without `run.`.
        type: one of `TYPES`.
        choices: all that it may be, of a choice.
        default: what it is when nothing is said; None when it must be said.
        help: what it is for.
    """

    name: str
    type: str
    choices: tuple[str, ...] = ()
    default: str | None = None
    help: str = ""

    def value(self, text: str) -> Literal:
        """What a text says. Raises ParameterError."""
        if self.type == "choice" and text not in self.choices:
            listed = ", ".join(self.choices)
            raise ParameterError(f"{self.name} is one of {listed}, not {text!r}")
        if TYPES[self.type] is Type.TEXT:
            if not text.strip() or len(text) > 200 or not text.isprintable():
                raise ParameterError(f"{self.name} is a text of one line, 200 characters at most")
            return text
        try:
            found = parse(text)
        except ExpressionError as error:
            raise ParameterError(f"{self.name}: {text!r} is no {self.type} ({error})") from error
        if not isinstance(found, Constant) or found.type is not TYPES[self.type]:
            raise ParameterError(f"{self.name}: {text!r} is no {self.type}")
        return found.value


def texts_of(
    parameters: tuple[Parameter, ...], said: Mapping[str, str], settled: Container[str] = ()
) -> dict[str, str]:
    """What holds for a run: what is said, and defaults.

    Args:
        parameters: of the pipeline.
        said: for this run, by name.
        settled: names that have a value already; left out unless said.

    Raises:
        ParameterError: an unknown one, one that must be said, or a value that is none.
    """
    names = [each.name for each in parameters]
    for name in said:
        if name not in names:
            hint = nearest(name, names) or f"there are: {', '.join(names) or 'none'}"
            raise ParameterError(f"no parameter {name!r} ({hint})")
    found = {}
    for each in parameters:
        text = said.get(each.name, each.default)
        if each.name in settled and each.name not in said:
            continue
        if text is None:
            raise ParameterError(f"say {each.name}: {each.help or each.type}")
        each.value(text)
        found[each.name] = text
    return found


def values_of_texts(
    parameters: tuple[Parameter, ...], texts: Mapping[str, str]
) -> dict[str, Literal]:
    """By their names in the language; what a later version does not know is left out."""
    return {
        PREFIX + each.name: each.value(texts[each.name])
        for each in parameters
        if each.name in texts
    }

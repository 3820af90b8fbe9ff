"""The table of checks: each is one row, written above the function that does it."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from veridox.core.facts import Facts
from veridox.core.findings import Code, Finding

Function = Callable[[Facts], Iterable[Finding]]


class UndeclaredCodeError(LookupError):
    """A check said a code that its row does not name."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Check:
    """One check.

    Attributes:
        name: of its function.
        place: order in which people think of them; findings are told in it.
        run: yields what is wrong, each finding with its usual weight.
        codes: what it may say, with all that is known of each code.
        needs: facts beside the reading and the pipeline's settings, by attribute of
            `Facts`. A check that needs none works wherever a reading is.
    """

    name: str
    place: int
    run: Function
    codes: Mapping[str, Code]
    needs: tuple[str, ...] = ()

    def findings(self, facts: Facts) -> Iterator[Finding]:
        """What it says, with the pipeline's weights, and what to do about it.

        Raises:
            UndeclaredCodeError: it says a code that its row does not name.
        """
        for finding in self.run(facts):
            if finding.code not in self.codes:
                raise UndeclaredCodeError(f"{self.name} does not declare {finding.code!r}")
            said = replace(finding, hint=finding.hint or self.codes[finding.code].do)
            yield said.weighted(facts.settings.weights.get(finding.code, finding.weight))


TABLE: dict[str, Check] = {}
"""Every check by name, as its module was loaded; `CHECKS` has them in their order."""


def check(
    *, place: int, codes: Mapping[str, Code], needs: tuple[str, ...] = ()
) -> Callable[[Function], Function]:
    """Enter a function into the table; see `Check`. Raises ValueError when a place is taken."""

    def enter(function: Function) -> Function:
        name = function.__name__
        for other in TABLE.values():
            if other.place == place and other.name != name:
                raise ValueError(f"{name} and {other.name} both stand at place {place}")
        TABLE[name] = Check(name=name, place=place, run=function, codes=dict(codes), needs=needs)
        return function

    return enter

"""Ask the plug-ins of a document, and put what they say into its case."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Final

from veridox.core.findings import Finding, Weight
from veridox.core.language import Subject, values_of
from veridox.core.language.explain import shown_value
from veridox.core.language.functions import FUNCTIONS, Calls, NotEvaluableError
from veridox.core.language.syntax import Literal
from veridox.core.pipeline import Case, Definition, advance
from veridox.core.pipeline.case import PluginFacts
from veridox.core.reading import reading_to_json
from veridox.pluginhost.host import Described, PluginHost, PluginStoppedError
from veridox.pluginhost.values import NonsenseError, from_json, to_json

Answers = dict[str, Any]
"""What plug-ins said, as it is stored: `asked`, `findings`, `calls`."""
MOST_CALLS: Final = 500


def asked(host: PluginHost, definition: Definition, case: Case) -> Answers:
    """Ask all checks, and run the functions that this pipeline's conditions would; never raises.

    Args:
        host: has the plug-ins.
        definition: of the pipeline.
        case: of the document, as it is known now.
    """
    document = _document(case)
    findings = [_failed(each, each.problem) for each in host.broken]
    for each in host.of("check"):
        try:
            rows = host.check(each.name, document)
            findings += [_finding(each, row, case) for row in rows]
        except PluginStoppedError as error:
            findings.append(_failed(each, error))
    calls = _Asking(host)
    known = PluginFacts(findings=tuple(findings), calls=calls, asked=host.digest)
    advance(definition, replace(case, plugins=known, plugins_missing=False, posting=None))
    return {
        "asked": host.digest,
        "findings": [each.to_json() for each in (*findings, *calls.failed)],
        "calls": calls.table,
    }


def answered(answers: Answers) -> PluginFacts:
    """What is stored, as facts of a case."""
    return PluginFacts(
        findings=tuple(Finding.from_json(each) for each in answers["findings"]),
        calls=_Recorded(answers["calls"]),
        asked=str(answers["asked"]),
    )


def ask(host: PluginHost, definition: Definition, case: Case) -> Case:
    """The case with what plug-ins say of it now."""
    return replace(case, plugins=answered(asked(host, definition, case)), plugins_missing=False)


def asked_as_needed(host: PluginHost) -> Calls:
    """Runs functions when an expression wants them: for trying one that no pipeline has yet."""
    return _Asking(host)


def _document(case: Case) -> dict[str, Any]:
    facts = case.facts
    names = values_of(Subject(mail=case.mail, files=case.files, facts=facts, around=case.around))
    return {
        "reading": reading_to_json(facts.reading),
        "vendor": facts.vendor.code if facts.vendor else "",
        "entity": facts.entity.code if facts.entity else "",
        "order": facts.order.number if facts.order else "",
        "orders": [order.number for order in facts.orders],
        "names": {
            name: value if isinstance(value, str) else shown_value(value)
            for name, value in names.items()
        },
    }


def _finding(plugin: Described, row: Mapping[str, Any], case: Case) -> Finding:
    fields = tuple(name for name in row["fields"] if _is_known(name, case))
    placed = next(
        (case.facts.reading.fields[name] for name in fields if name in case.facts.reading.fields),
        None,
    )
    return Finding(
        code="plugin.told", weight=Weight(row["weight"]), message=row["message"], fields=fields,
        expected=row["expected"] or None, found=row["found"] or None,
        difference=row["difference"] or None, hint=row["hint"] or None,
        about=f"plug-in {plugin.name}", page=placed.page if placed else None,
        box=placed.box.rounded() if placed and placed.box else None,
    )  # fmt: skip


def _is_known(name: str, case: Case) -> bool:
    return case.facts.reading.spec(name) is not None or name.startswith(("lines[", "tax_lines["))


def _failed(plugin: Described, error: object) -> Finding:
    return Finding(
        code="plugin.failed", weight=Weight.BLOCK, about=f"plug-in {plugin.name}",
        message=f"The plug-in {plugin} failed: {error}.",
        hint="Tell its developer; process the document again once it is mended.",
    )  # fmt: skip


def _key(name: str, values: Sequence[Literal]) -> str:
    return json.dumps([name, [to_json(each) for each in values]], sort_keys=True)


@dataclass
class _Asking:
    """Runs functions, and keeps what they gave."""

    host: PluginHost
    table: dict[str, Any] = field(default_factory=dict)
    failed: list[Finding] = field(default_factory=list)

    def call(self, name: str, values: Sequence[Literal]) -> Literal:
        """See `Calls`."""
        key = _key(name, values)
        if key not in self.table:
            self.table[key] = self._ran(name, values)
        return _given(name, self.table[key])

    def _ran(self, name: str, values: Sequence[Literal]) -> dict[str, Any]:
        plugin = next((each for each in self.host.of("function") if each.name == name), None)
        if plugin is None:
            return {"nothing": f"no plug-in has a function {name}"}
        if len(self.table) >= MOST_CALLS:
            return {"nothing": f"functions of plug-ins were asked more than {MOST_CALLS} times"}
        try:
            return {"value": to_json(self.host.call(name, values, FUNCTIONS[name].gives))}
        except NotEvaluableError as error:
            return {"nothing": str(error)}
        except PluginStoppedError as error:
            self.failed.append(_failed(plugin, error))
            return {"nothing": f"the plug-in {plugin} failed: {error}"}


@dataclass(frozen=True)
class _Recorded:
    """What functions gave when they were asked."""

    table: Mapping[str, Any]

    def call(self, name: str, values: Sequence[Literal]) -> Literal:
        """See `Calls`."""
        given = self.table.get(_key(name, values))
        if given is None:
            raise NotEvaluableError(f"the plug-in of {name} was not asked for these values")
        return _given(name, given)


def _given(name: str, row: Mapping[str, Any]) -> Literal:
    if "nothing" in row:
        raise NotEvaluableError(str(row["nothing"]))
    try:
        return from_json(row["value"], FUNCTIONS[name].gives)
    except (NonsenseError, KeyError) as error:
        raise NotEvaluableError(f"{name}: {error}") from error

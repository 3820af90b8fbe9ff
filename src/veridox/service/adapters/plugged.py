"""Drivers that plug-ins bring: each call goes to a process of its own, with its secret alone."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import field, fields, make_dataclass
from typing import Any

from veridox.core.posting import Bill, Booked, Refusal, Standing
from veridox.pluginhost import Described, PluginHost, PluginStoppedError
from veridox.service.errors import AdapterError, BadInputError, UnreachableError
from veridox.service.ports.driver import Access, Driver, Step
from veridox.service.ports.ledger import ListPage, NoAnswerError
from veridox.service.ports.outgoing import OutgoingMail

Host = Callable[[], PluginHost]


def drivers_of(plugins: Iterable[Described], host: Host) -> list[Driver[Any]]:
    """One driver for each ledger and notice among plug-ins.

    Args:
        plugins: described.
        host: opens what runs them, when it is first needed.
    """
    found = []
    for each in plugins:
        if each.problem or each.kind not in ("ledger", "notice"):
            continue
        kind = "ledger" if each.kind == "ledger" else str(each.declared["sends"])
        found.append(_driver(each, kind, host))
    return found


def _driver(plugin: Described, kind: str, host: Host) -> Driver[Any]:
    makers: dict[str, Callable[[Access[Any]], Any]] = {
        "ledger": lambda access: PluggedLedger(plugin, access, host),
        "outbox": lambda access: PluggedOutbox(plugin, access, host),
        "chat": lambda access: PluggedChat(plugin, access, host),
    }
    return Driver(
        kind=kind,
        name=plugin.name,
        settings=_settings(plugin),
        open=makers[kind],
        test=lambda access, _: makers[kind](access).test(),
    )


def _settings(plugin: Described) -> type[Any]:
    """Its keys as a dataclass; None as a default is a key that must be set."""
    declared: Mapping[str, Any] = plugin.declared["settings"]
    needed = [(key, str) for key, usual in declared.items() if usual is None]
    usual = [
        (key, type(usual), field(default=usual))
        for key, usual in declared.items()
        if usual is not None
    ]
    made: type[Any] = make_dataclass(
        f"{plugin.name}_settings", [*needed, *usual], frozen=True, kw_only=True
    )
    return made


class _Plugged:
    def __init__(self, plugin: Described, access: Access[Any], host: Host) -> None:
        self._plugin, self._access, self._host = plugin, access, host

    def _ask(self, task: str, **more: Any) -> dict[str, Any]:
        settings = {
            each.name: getattr(self._access.settings, each.name)
            for each in fields(self._access.settings)
        }
        answer = self._host().outward(
            task, self._plugin.name, settings, self._access.secret, **more
        )
        if "unreachable" in answer:
            raise UnreachableError(f"{self._plugin}: {answer['unreachable']}")
        if "no_answer" in answer:
            raise NoAnswerError(f"{self._plugin}: {answer['no_answer']}")
        return answer

    def test(self) -> list[Step]:
        """See the port."""
        return [Step(name="plug-in", good=True, detail=str(self._plugin))]


class PluggedLedger(_Plugged):
    """A ledger of a plug-in. Whatever happens while it books leaves open whether it booked."""

    @property
    def repeats_safely(self) -> bool:
        """See the port."""
        return bool(self._plugin.declared["repeats_safely"])

    @property
    def late_window(self) -> float:
        """See the port."""
        return float(self._plugin.declared["late_window"])

    def _call(self, call: str, content: bytes | None = None, **arguments: Any) -> dict[str, Any]:
        try:
            return self._ask("ledger", call=call, arguments=arguments, content=content)
        except PluginStoppedError as error:
            raise UnreachableError(f"{self._plugin} failed: {error}") from error

    def rehearse(self, bill: Bill) -> Refusal | None:
        """See the port."""
        answer = self._call("rehearse", bill=bill.to_json())
        return _refusal(answer) if answer["given"] == "refusal" else None

    def post(self, reference: str, bill: Bill) -> Booked | Refusal:
        """See the port."""
        arguments = {"reference": reference, "bill": bill.to_json()}
        try:
            answer = self._ask("ledger", call="post", arguments=arguments)
        except PluginStoppedError as error:
            raise NoAnswerError(f"{self._plugin} failed: {error}") from error
        if answer["given"] == "refusal":
            return _refusal(answer)
        if answer["given"] != "booked":
            raise NoAnswerError(f"{self._plugin} did not say whether it booked")
        return _booked(answer)

    def find(self, reference: str) -> Booked | None:
        """See the port."""
        answer = self._call("find", reference=reference)
        return _booked(answer) if answer["given"] == "booked" else None

    def attach(self, ledger_id: str, name: str, content: bytes, sha256: str) -> None:
        """See the port."""
        self._call("attach", content, ledger_id=ledger_id, name=name, sha256=sha256)

    def read_back(self, ledger_id: str) -> Standing:
        """See the port."""
        answer = self._call("read_back", ledger_id=ledger_id)
        if answer["given"] != "standing":
            raise AdapterError(f"{self._plugin} did not say how bill {ledger_id} stands")
        return Standing(
            gross_total=str(answer["gross_total"]), lines=tuple(map(str, answer["lines"])),
            attachments=tuple(map(str, answer["attachments"])),
        )  # fmt: skip

    def lists(self) -> tuple[str, ...]:
        """See the port. Plug-ins list nothing: their master data come by file."""
        return ()

    def list_page(self, what: str, *, since: str, after: str) -> ListPage:
        """See the port."""
        del since, after
        raise BadInputError(f"this ledger lists no {what}; import them from a file")


def _refusal(answer: Mapping[str, Any]) -> Refusal:
    return Refusal(reasons=tuple(map(str, answer["reasons"])), in_ledger=str(answer["in_ledger"]))


def _booked(answer: Mapping[str, Any]) -> Booked:
    return Booked(
        ledger_id=str(answer["ledger_id"]), number=str(answer["number"]), link=str(answer["link"])
    )


class _PluggedNotice(_Plugged):
    def _send(self, message: Mapping[str, str]) -> None:
        try:
            self._ask("notice", message=dict(message))
        except PluginStoppedError as error:
            raise AdapterError(f"{self._plugin} failed: {error}") from error


class PluggedOutbox(_PluggedNotice):
    """A way to send mail that a plug-in brings."""

    def send(self, mail: OutgoingMail) -> None:
        """See the port."""
        self._send({"to": mail.to, "subject": mail.subject, "text": mail.text,
                    "key": mail.message_id})  # fmt: skip


class PluggedChat(_PluggedNotice):
    """A chat system that a plug-in brings."""

    def send(self, channel: str, text: str, key: str) -> None:
        """See the port."""
        self._send({"to": channel, "text": text, "key": key})

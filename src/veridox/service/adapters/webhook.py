"""Chat messages by webhook: one POST of JSON with a channel and a text."""

from dataclasses import dataclass
from typing import Final

import httpx

from veridox.service.adapters.common import check_url
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.ports.driver import Access, Driver, Step
from veridox.service.ports.outgoing import Chat
from veridox.service.tls import tls_context


@dataclass(frozen=True, kw_only=True, slots=True)
class ChatSettings:
    """A chat system that takes messages by webhook.

    Attributes:
        url: where messages are sent to; the channel is named in the message. A secret,
            where one is set, is sent as a bearer token.
    """

    url: str


TIMEOUT = 15.0


class WebhookChat(Chat):
    """One chat system."""

    def __init__(self, settings: ChatSettings, secret: str) -> None:
        self.settings = settings
        self.headers = {"Authorization": f"Bearer {secret}"} if secret else {}

    def send(self, channel: str, text: str, key: str) -> None:
        """Hand over. `key` is the same for a repeat (Idempotency-Key).

        Raises:
            UnreachableError: to be tried again.
            AdapterError: refused.
        """
        try:
            answer = httpx.post(
                self.settings.url,
                json={"channel": channel, "text": text},
                headers={**self.headers, "Idempotency-Key": key},
                timeout=TIMEOUT,
                verify=tls_context(""),
            )
        except httpx.HTTPError as error:
            raise UnreachableError(f"the chat system does not answer: {error}") from error
        if answer.status_code >= 500 or answer.status_code == 429:
            raise UnreachableError(f"the chat system fails ({answer.status_code})")
        if answer.status_code >= 300:
            raise AdapterError(f"the chat system refuses the message ({answer.status_code})")

    def test(self) -> list[Step]:
        """Whether it can be reached; no message is sent. Never raises."""
        try:
            answer = httpx.request(
                "OPTIONS",
                self.settings.url,
                headers=self.headers,
                timeout=TIMEOUT,
                verify=tls_context(""),
            )
        except httpx.HTTPError as error:
            return [Step(name="reach", good=False, detail=str(error))]
        good = answer.status_code not in (401, 403, 404) and answer.status_code < 500
        return [Step(name="reach", good=good, detail=f"answers {answer.status_code}")]


def _check(settings: ChatSettings) -> None:
    check_url(settings.url)


def _open(access: Access[ChatSettings]) -> WebhookChat:
    return WebhookChat(access.settings, access.secret)


DRIVER: Final = Driver(
    kind="chat",
    name="webhook",
    settings=ChatSettings,
    open=_open,
    test=lambda access, _: _open(access).test(),
    check=_check,
    usual=True,
)

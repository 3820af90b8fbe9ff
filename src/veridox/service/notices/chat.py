"""Chat messages by webhook: one POST of JSON with a channel and a text."""

import httpx

from veridox.service.connections.settings import ChatSettings
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.mail.ports import Step
from veridox.service.tls import tls_context

TIMEOUT = 15.0


class WebhookChat:
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

"""What commands share: the client, made when first needed."""

import os
from pathlib import Path

import click

from veridox.client import Veridox


class Session:
    """The service that this command line speaks to."""

    def __init__(self, *, url: str, token_file: str | None) -> None:
        self.url = url
        self._token_file = token_file
        self._client: Veridox | None = None

    def _token(self) -> str:
        given = os.environ.get("VERIDOX_TOKEN", "").strip()
        if given:
            return given
        if self._token_file:
            path = Path(self._token_file)
            if not path.is_file():
                raise click.UsageError(f"there is no token file {path}")
            return path.read_text("utf-8").strip()
        return ""

    @property
    def client(self) -> Veridox:
        """The client."""
        if self._client is None:
            self._client = Veridox(self.url, token=self._token())
        return self._client

    def close(self) -> None:
        """Close the client, if one was made."""
        if self._client is not None:
            self._client.close()


pass_session = click.make_pass_decorator(Session)

"""Pipelines: their files, their versions, and trying them."""

import json
import time
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

from veridox.client.errors import WaitedTooLongError
from veridox.client.records import part_of
from veridox.client.transport import Transport


class Pipelines:
    """Pipelines and their versions."""

    def __init__(self, transport: Transport) -> None:
        self._transport = transport

    def _ask(self, method: str, path: str, body: Any = None, **params: Any) -> dict[str, Any]:
        given = {name: value for name, value in params.items() if value is not None}
        answer: dict[str, Any] = self._transport.send(
            method, f"/pipelines{path}", json=body, params=given or None
        ).json()
        return answer

    def list(self) -> Iterator[dict[str, Any]]:
        """All pipelines, with which version runs and what it did today."""
        return self._transport.pages("/pipelines", {})

    def get(self, name: str) -> dict[str, Any]:
        """The version that runs, with its text. Raises ProblemError (404) without one."""
        return self._ask("GET", f"/{name}")

    def versions(self, name: str) -> Iterator[dict[str, Any]]:
        """All versions, newest first, without their texts."""
        return self._transport.pages(f"/pipelines/{name}/versions", {})

    def version(self, name: str, number: int) -> dict[str, Any]:
        """One version, with its text."""
        return self._ask("GET", f"/{name}/versions/{number}")

    def check(self, text: str, parts: Mapping[str, str] | None = None) -> dict[str, Any]:
        """Warnings, what is not set up, what would change. Raises ProblemError (422) when wrong."""
        return self._ask("POST", "/check", {"text": text, "parts": dict(parts or {})})

    def publish(
        self, text: str, parts: Mapping[str, str] | None = None, commit: str = ""
    ) -> dict[str, Any]:
        """Publish a text; its `state` says whether it waits for a second person.

        Args:
            text: of the file.
            parts: texts of the shared parts that it names.
            commit: of the repository that it comes from.
        """
        body = {"text": text, "parts": dict(parts or {}), "commit": commit}
        return self._ask("POST", "", body)

    def compare(
        self, name: str, before: int | None = None, after: int | None = None
    ) -> dict[str, Any]:
        """Two versions by meaning; the newest two when none are named."""
        return self._ask("GET", f"/{name}/compare", before=before, after=after)

    def pause(self, name: str, reason: str = "") -> dict[str, Any]:
        """Collect nothing until it is resumed."""
        return self._ask("POST", f"/{name}/pause", {"reason": reason})

    def resume(self, name: str) -> dict[str, Any]:
        """Collect again."""
        return self._ask("POST", f"/{name}/resume")

    def copy(self, name: str, new: str) -> dict[str, Any]:
        """The same under another name; it begins paused."""
        return self._ask("POST", f"/{name}/copy", {"name": new})

    def remove(self, name: str, reason: str = "") -> None:
        """Take it out of use; its versions stay with their documents."""
        self._transport.send("POST", f"/pipelines/{name}/remove", json={"reason": reason})

    def bring_back(self, name: str, number: int) -> dict[str, Any]:
        """Publish an older version again, as the newest."""
        return self._ask("POST", f"/{name}/versions/{number}/bring-back")

    def accept(self, name: str, number: int, reason: str = "") -> dict[str, Any]:
        """Let a version run that somebody else published and that loosens something."""
        return self._ask("POST", f"/{name}/versions/{number}/accept", {"reason": reason})

    def refuse(self, name: str, number: int, reason: str) -> dict[str, Any]:
        """Say no to a version that waits."""
        return self._ask("POST", f"/{name}/versions/{number}/refuse", {"reason": reason})

    def run(
        self, name: str, parameters: Mapping[str, str] | None = None, *, seconds: float = 0
    ) -> dict[str, Any]:
        """Look through all its places now.

        Args:
            name: of the pipeline.
            parameters: what is said for this run.
            seconds: to wait for its end at most; 0 for not at all.

        Raises:
            WaitedTooLongError: it did not end in time; it goes on.
        """
        run = self._ask("POST", f"/{name}/runs", {"parameters": dict(parameters or {})})
        limit = time.monotonic() + seconds
        while seconds and not run["ended_at"]:
            if time.monotonic() > limit:
                raise WaitedTooLongError(f"run {run['id']} did not end within {seconds:g} s")
            time.sleep(0.5)
            run = self._ask("GET", f"/{name}/runs/{run['id']}")
        return run

    def runs(self, name: str) -> Iterator[dict[str, Any]]:
        """Its runs, newest first."""
        return self._transport.pages(f"/pipelines/{name}/runs", {})

    def schema(self) -> dict[str, Any]:
        """JSON Schema of the file."""
        return self._ask("GET", "/schema")

    def try_on(
        self,
        *,
        pipeline: str = "",
        text: str = "",
        parts: Mapping[str, str] | None = None,
        file: str | Path | bytes | None = None,
        name: str = "mail.eml",
        until: str = "",
        rehearse: bool = False,
        known: Mapping[str, Any] | None = None,
        parameters: Mapping[str, str] | None = None,
        **where: Any,
    ) -> dict[str, Any]:
        """Walk a mail, a file or a document along the road; nothing is sent, moved or posted.

        Args:
            pipeline: name of a published one; or a `text` with its `parts`.
            file: a mail or a file, by path or as bytes with a `name`.
            until: stage after which it ends.
            rehearse: have the ledger say whether it would book.
            known: values known beforehand, by field.
            parameters: what is said for the run.
            where: instead of a file, `document` (its number), or `mailbox`, `folder`, `uid`.
        """
        data: dict[str, Any] = {
            "pipeline": pipeline, "text": text, "until": until, "rehearse": rehearse,
            **{key: value for key, value in where.items() if value is not None},
        }  # fmt: skip
        if file is None:
            body = {**data, "parts": dict(parts or {}), "known": dict(known or {}),
                    "parameters": dict(parameters or {})}  # fmt: skip
            return self._ask("POST", "/try", body)
        form = {key: str(value) for key, value in data.items() if value not in ("", None)}
        form["parts"] = json.dumps(dict(parts or {}))
        form["parameters"] = json.dumps(dict(parameters or {}))
        form["known"] = json.dumps(dict(known or {}), default=str)
        shown = name if isinstance(file, bytes) else ""
        answer: dict[str, Any] = self._transport.send(
            "POST", "/pipelines/try", files=part_of(file, shown), data=form
        ).json()
        return answer

"""Run the chat system: `python -m veridox.standins.chat --port 8442`."""

import argparse
import os
from dataclasses import dataclass, field
from html import escape

import uvicorn
from fastapi import FastAPI, Header
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import BaseModel


class Said(BaseModel):
    """A message for a channel."""

    channel: str
    text: str


@dataclass
class Room:
    """What was said, oldest first, each key once."""

    token: str = ""
    said: dict[str, Said] = field(default_factory=dict)


def create_app(room: Room) -> FastAPI:
    """The server."""
    app = FastAPI(title="Chat", docs_url=None, redoc_url=None)

    @app.options("/messages")
    def greet() -> JSONResponse:
        """Whether messages are taken here."""
        return JSONResponse({})

    @app.post("/messages")
    def say(
        said: Said, authorization: str = Header(""), idempotency_key: str = Header("")
    ) -> JSONResponse:
        """Take a message; one that came before under its key is not shown twice."""
        if room.token and authorization != f"Bearer {room.token}":
            return JSONResponse({"error": "who are you?"}, status_code=401)
        room.said.setdefault(idempotency_key or str(len(room.said)), said)
        return JSONResponse({"taken": True})

    @app.get("/messages")
    def everything() -> list[Said]:
        """All messages, oldest first."""
        return list(room.said.values())

    @app.get("/")
    def screen() -> HTMLResponse:
        """The messages to look at."""
        rows = "".join(
            f"<p><b>#{escape(each.channel)}</b> {escape(each.text)}</p>"
            for each in room.said.values()
        )
        style = "<style>body{font:16px/1.5 sans-serif;max-width:60rem;margin:3rem auto}</style>"
        return HTMLResponse(f"<!doctype html><title>Chat</title>{style}<h1>Chat</h1>{rows}")

    return app


def main() -> None:
    """Entry point."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8442)
    chosen = parser.parse_args()
    room = Room(os.environ.get("CHAT_TOKEN", ""))
    uvicorn.run(create_app(room), host="127.0.0.1", port=chosen.port, log_level="error")


if __name__ == "__main__":
    main()

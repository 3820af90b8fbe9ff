"""Run the token server: `python -m veridox.standins.tokens --port 8448`.

Clients come from the environment as `TOKEN_CLIENTS=name:secret:user,...`; a
client's tokens let it in as its user. Refresh tokens are good for one use.
"""

import argparse
import os
import secrets
import time
from dataclasses import dataclass, field

import uvicorn
from fastapi import FastAPI, Form
from fastapi.responses import JSONResponse


@dataclass
class Desk:
    """What was given out.

    Attributes:
        clients: secret and user by name.
        seconds: for which an access token is good.
        access: user and end by access token.
        refresh: client by refresh token that was not used yet.
    """

    clients: dict[str, tuple[str, str]]
    seconds: float = 300.0
    access: dict[str, tuple[str, float]] = field(default_factory=dict)
    refresh: dict[str, str] = field(default_factory=dict)


def create_app(desk: Desk) -> FastAPI:
    """The server."""
    app = FastAPI(title="Token server", docs_url=None, redoc_url=None)

    def refused(error: str, status: int = 400) -> JSONResponse:
        return JSONResponse({"error": error}, status_code=status)

    @app.post("/token")
    def token(
        grant_type: str = Form(),
        client_id: str = Form(),
        client_secret: str = Form(""),
        refresh_token: str = Form(""),
    ) -> JSONResponse:
        """Client credentials (4.4), or a refresh token (6), which is replaced."""
        known = desk.clients.get(client_id)
        if known is None or not secrets.compare_digest(known[0], client_secret):
            return refused("invalid_client", 401)
        answer: dict[str, object] = {"token_type": "Bearer", "expires_in": desk.seconds}
        if grant_type == "refresh_token":
            if desk.refresh.pop(refresh_token, None) != client_id:
                return refused("invalid_grant")
            answer["refresh_token"] = issue_refresh(desk, client_id)
        elif grant_type != "client_credentials":
            return refused("unsupported_grant_type")
        fresh = secrets.token_urlsafe(24)
        desk.access[fresh] = (known[1], time.time() + desk.seconds)
        return JSONResponse({**answer, "access_token": fresh})

    @app.post("/consent")
    def consent(client_id: str = Form(), client_secret: str = Form()) -> JSONResponse:
        """A first refresh token, as a person's consent would bring one."""
        known = desk.clients.get(client_id)
        if known is None or not secrets.compare_digest(known[0], client_secret):
            return refused("invalid_client", 401)
        return JSONResponse({"refresh_token": issue_refresh(desk, client_id)})

    @app.post("/introspect")
    def introspect(token: str = Form()) -> JSONResponse:
        """Whether an access token is good, and whose it is."""
        user, end = desk.access.get(token, ("", 0.0))
        if not user or end < time.time():
            return JSONResponse({"active": False})
        return JSONResponse({"active": True, "username": user, "exp": int(end)})

    @app.post("/revoke-all")
    def revoke_all() -> JSONResponse:
        """All access tokens end now, as when somebody is shut out."""
        desk.access.clear()
        return JSONResponse({})

    return app


def issue_refresh(desk: Desk, client: str) -> str:
    """A new refresh token of a client."""
    fresh = secrets.token_urlsafe(24)
    desk.refresh[fresh] = client
    return fresh


def clients_from(text: str) -> dict[str, tuple[str, str]]:
    """`name:secret:user,...` as clients."""
    found = {}
    for entry in filter(None, text.split(",")):
        name, secret, user = entry.split(":")
        found[name] = (secret, user)
    return found


def main() -> None:
    """Entry point."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8448)
    parser.add_argument("--seconds", type=float, default=300.0)
    chosen = parser.parse_args()
    desk = Desk(clients_from(os.environ.get("TOKEN_CLIENTS", "")), chosen.seconds)
    uvicorn.run(create_app(desk), host="127.0.0.1", port=chosen.port, log_level="error")


if __name__ == "__main__":
    main()

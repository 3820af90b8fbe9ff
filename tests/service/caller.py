"""Whoever calls the REST interface, as a program with a token."""

import json

from django.test import Client

from veridox.service.accounts.actors import Actor
from veridox.service.people.actions.tokens import create_token

V1 = "/api/v1"


class Caller:
    """A program with a token."""

    def __init__(self, person, *scopes):
        self.token, self.text = create_token(
            Actor.system("test"), person, "test", list(scopes), None
        )
        self.client = Client(headers={"Authorization": f"Bearer {self.text}"})

    def get(self, path, **params):
        return self.client.get(V1 + path, params)

    def send(self, method, path, data=None, **headers):
        call = getattr(self.client, method)
        named = {name.replace("_", "-"): value for name, value in headers.items()}
        return call(V1 + path, json.dumps(data), content_type="application/json", headers=named)

    def upload(self, path, content, name="t.csv", **data):
        from django.core.files.uploadedfile import SimpleUploadedFile

        return self.client.post(V1 + path, {"file": SimpleUploadedFile(name, content), **data})

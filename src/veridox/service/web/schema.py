"""How operations appear in the OpenAPI document."""

from typing import Any, Literal

from drf_spectacular.extensions import OpenApiAuthenticationExtension
from drf_spectacular.openapi import AutoSchema
from rest_framework import serializers


class TokenScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """Bearer tokens."""

    target_class = "veridox.service.accounts.authentication.TokenAuthentication"
    name = "token"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """RFC 6750."""
        del auto_schema
        return {"type": "http", "scheme": "bearer"}


class SessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """The console's cookie."""

    target_class = "veridox.service.accounts.authentication.ConsoleSession"
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """Writes also need the X-CSRFToken header."""
        del auto_schema
        return {"type": "apiKey", "in": "cookie", "name": "veridox_session"}


class ProblemSerializer(serializers.Serializer):
    """RFC 9457 problem details."""

    type = serializers.CharField()
    title = serializers.CharField()
    status = serializers.IntegerField()
    detail = serializers.CharField()


class Schema(AutoSchema):
    """Adds the problem document to every operation."""

    def _get_response_bodies(
        self, direction: Literal["request", "response"] = "response"
    ) -> dict[str, Any]:
        bodies = super()._get_response_bodies(direction)
        problem = self._get_response_for_code(  # type: ignore[no-untyped-call]
            ProblemSerializer, "default", media_types=["application/problem+json"]
        )
        bodies.setdefault("default", problem)
        return bodies

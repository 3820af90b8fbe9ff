"""Whether the service is alive and can do its work."""

from typing import Any, ClassVar

from django.db import DatabaseError, connection
from drf_spectacular.utils import extend_schema
from rest_framework import permissions, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response


class HealthSerializer(serializers.Serializer):
    """`good`, and each part on its own."""

    good = serializers.BooleanField()
    parts = serializers.DictField(child=serializers.CharField())


class Health(views.APIView):
    """For supervisors and load balancers; says nothing of the records."""

    permission_classes = [permissions.AllowAny]
    authentication_classes: ClassVar[list[Any]] = []

    @extend_schema(responses={200: HealthSerializer, 503: HealthSerializer})
    def get(self, request: Request) -> Response:
        """200 when the database answers, 503 otherwise."""
        del request
        try:
            with connection.cursor() as cursor:
                cursor.execute("select 1")
            parts = {"database": "good"}
        except DatabaseError:
            parts = {"database": "does not answer"}
        good = all(value == "good" for value in parts.values())
        return Response({"good": good, "parts": parts}, status=200 if good else 503)

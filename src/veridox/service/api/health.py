"""Whether the service is alive and can do its work."""

from typing import Any, ClassVar

from django.db import DatabaseError, connection
from drf_spectacular.utils import extend_schema
from rest_framework import permissions, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.connections.models import Connection, Trouble
from veridox.service.house.actions.held import held
from veridox.service.storage import originals

GOOD = "good"


class HealthSerializer(serializers.Serializer):
    """`good`, and each part on its own."""

    good = serializers.BooleanField()
    parts = serializers.DictField(child=serializers.CharField())


def disk() -> str:
    """Whether originals can be stored."""
    return originals().trouble() or GOOD


def _records() -> dict[str, str]:
    """Parts that the database knows of, without names: anybody may ask."""
    broken = Connection.objects.exclude(last_problem="").count()
    troubles = Trouble.objects.count()
    return {
        "connections": GOOD if not broken else f"{broken} do not work",
        "directories": GOOD if not troubles else f"{troubles} with trouble",
        "outside": GOOD if held() is None else "held: the database was restored elsewhere",
    }


class Health(views.APIView):
    """For supervisors and load balancers; says nothing of the records."""

    permission_classes = [permissions.AllowAny]
    authentication_classes: ClassVar[list[Any]] = []

    @extend_schema(responses={200: HealthSerializer, 503: HealthSerializer})
    def get(self, request: Request) -> Response:
        """200 while the service can answer, 503 when its database does not.

        A part that does not work makes `good` false; the others go on meanwhile.
        """
        del request
        parts = {"database": GOOD, "disk": disk()}
        status = 200
        try:
            with connection.cursor() as cursor:
                cursor.execute("select 1")
            parts |= _records()
        except DatabaseError:
            parts["database"], status = "does not answer", 503
        good = all(value == GOOD for value in parts.values())
        return Response({"good": good, "parts": parts}, status=status)

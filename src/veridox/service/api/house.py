"""REST views of the installation itself: thin."""

from drf_spectacular.utils import extend_schema
from rest_framework import serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.api.shown import IDEMPOTENCY, body_of
from veridox.service.house.actions.held import held, let_go_on
from veridox.service.reports.troubles import troubles
from veridox.service.web.idempotency import once


class TroubleSerializer(serializers.Serializer):
    """A part that does not work now and is no connection: a directory, the disk, a pipeline."""

    part = serializers.CharField()
    problem = serializers.CharField()
    since = serializers.DateTimeField(allow_null=True)


class ServiceSerializer(serializers.Serializer):
    """Whether the installation works on the outside, and what stands in its way."""

    held_since = serializers.DateTimeField(allow_null=True)
    held_reason = serializers.CharField(allow_blank=True)
    troubles = TroubleSerializer(many=True)


class GoOnSerializer(serializers.Serializer):
    """Why it may go on."""

    reason = serializers.CharField(max_length=500)


def service() -> Response:
    """How the installation stands."""
    row = held()
    data = {
        "held_since": row.held_at if row else None,
        "held_reason": row.held_reason if row else "",
        "troubles": troubles(),
    }
    return Response(ServiceSerializer(data).data)


class Service(views.APIView):
    """The installation."""

    @extend_schema(responses=ServiceSerializer)
    def get(self, request: Request) -> Response:
        """Whether it is held because its database was restored elsewhere."""
        del request
        return service()


class ServiceGoOn(views.APIView):
    """An installation that is held."""

    writes = Scope.ADMIN

    @extend_schema(request=GoOnSerializer, responses=ServiceSerializer, parameters=[IDEMPOTENCY])
    def post(self, request: Request) -> Response:
        """Let it collect, post and tell again: nothing else works on its mailboxes and ledgers."""
        form = GoOnSerializer(data=request.data)
        form.is_valid(raise_exception=True)

        def act() -> Response:
            let_go_on(Actor.of(request.user), form.validated_data["reason"])
            return service()

        return once(request, body_of(request), act)

"""REST views of connections. Secrets go in and never come out."""

from drf_spectacular.utils import extend_schema
from rest_framework import generics, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.connections.actions.manage import note_health, put_connection
from veridox.service.connections.models import KINDS, Connection
from veridox.service.errors import NotThereError
from veridox.service.web.pages import KeysetPages


class ConnectionSerializer(serializers.ModelSerializer):
    """A connection; `has_secret` is all that is ever said of the secret."""

    has_secret = serializers.SerializerMethodField()

    class Meta:
        model = Connection
        fields = [
            "name", "kind", "settings", "has_secret", "last_good_at", "last_problem",
            "last_problem_at",
        ]  # fmt: skip

    def get_has_secret(self, connection: Connection) -> bool:
        """Whether one is set."""
        return connection.secret is not None


class ConnectionInputSerializer(serializers.Serializer):
    """A connection to add or change."""

    name = serializers.CharField(max_length=63)
    kind = serializers.ChoiceField(choices=KINDS)
    settings = serializers.DictField()
    secret = serializers.CharField(required=False, write_only=True, trim_whitespace=False)


class StepSerializer(serializers.Serializer):
    """A step of a test."""

    name = serializers.CharField()
    good = serializers.BooleanField()
    detail = serializers.CharField()


class ConnectionTestSerializer(serializers.Serializer):
    """What a test found."""

    name = serializers.CharField()
    good = serializers.BooleanField()
    steps = StepSerializer(many=True)


class ConnectionList(generics.ListAPIView):
    """Connections by name."""

    serializer_class = ConnectionSerializer
    pagination_class = KeysetPages
    orderings = ("id", "name")
    usual_ordering = "name"
    queryset = Connection.objects.all()
    writes = Scope.ADMIN

    @extend_schema(request=ConnectionInputSerializer, responses=ConnectionSerializer)
    def post(self, request: Request) -> Response:
        """Add a connection, or change one of this name."""
        form = ConnectionInputSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        connection = put_connection(
            Actor.of(request.user),
            data["name"],
            data["kind"],
            data["settings"],
            data.get("secret"),
        )
        return Response(ConnectionSerializer(connection).data)


class ConnectionTest(views.APIView):
    """A connection tried step by step."""

    @extend_schema(request=None, responses=ConnectionTestSerializer)
    def post(self, request: Request, name: str) -> Response:
        """Each step with what it found; a failed step is an answer, not an error."""
        del request
        connection = Connection.objects.filter(name=name).first()
        if connection is None:
            raise NotThereError(f"there is no connection {name!r}")
        steps = wiring.test_connection(connection)
        bad = next((step for step in steps if not step.good), None)
        note_health(name, f"{bad.name}: {bad.detail}" if bad else "")
        data = {"name": name, "good": bad is None, "steps": steps}
        return Response(ConnectionTestSerializer(data).data)

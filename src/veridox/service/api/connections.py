"""REST views of connections. Secrets go in and never come out."""

from django.conf import settings
from drf_spectacular.utils import extend_schema
from rest_framework import generics, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.connections.actions.manage import (
    encrypt_anew,
    note_health,
    put_connection,
    set_secret,
)
from veridox.service.connections.models import KINDS, Connection
from veridox.service.errors import NotThereError
from veridox.service.pipelines.queries import sources
from veridox.service.secrets import add_key
from veridox.service.web.pages import KeysetPages


class ConnectionSerializer(serializers.ModelSerializer):
    """A connection; `has_secret` is all that is ever said of the secret."""

    has_secret = serializers.SerializerMethodField()

    class Meta:
        model = Connection
        fields = [
            "name", "kind", "driver", "settings", "has_secret", "secret_at", "last_good_at",
            "last_problem", "last_problem_at",
        ]  # fmt: skip
        read_only_fields = fields

    def get_has_secret(self, connection: Connection) -> bool:
        """Whether one is set."""
        return connection.secret is not None


class ConnectionInputSerializer(serializers.Serializer):
    """A connection to add or change."""

    name = serializers.CharField(max_length=63)
    kind = serializers.ChoiceField(choices=KINDS)
    settings = serializers.DictField()
    driver = serializers.CharField(required=False, help_text="the usual one when none is named")
    secret = serializers.CharField(required=False, write_only=True, trim_whitespace=False)
    refresh_token = serializers.CharField(required=False, write_only=True)


class SecretSerializer(serializers.Serializer):
    """New secrets of a connection; what is not given stays."""

    secret = serializers.CharField(required=False, write_only=True, trim_whitespace=False)
    refresh_token = serializers.CharField(required=False, write_only=True)


class RotatedSerializer(serializers.Serializer):
    """How many connections had secrets that were encrypted anew."""

    connections = serializers.IntegerField()
    new_key = serializers.BooleanField()


class RotateSerializer(serializers.Serializer):
    """Whether a new key is made first."""

    new_key = serializers.BooleanField(default=False)


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
            data.get("refresh_token"),
            data.get("driver", ""),
        )
        return Response(ConnectionSerializer(connection).data)


class ConnectionDetail(generics.RetrieveAPIView):
    """One connection."""

    serializer_class = ConnectionSerializer
    queryset = Connection.objects.all()
    lookup_field = "name"


class ConnectionSecret(views.APIView):
    """A connection's secret: written, never read."""

    writes = Scope.ADMIN

    @extend_schema(request=SecretSerializer, responses=ConnectionSerializer)
    def put(self, request: Request, name: str) -> Response:
        """New secrets in the place of the old ones."""
        form = SecretSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        given = form.validated_data
        actor = Actor.of(request.user)
        connection = set_secret(actor, name, given.get("secret"), given.get("refresh_token"))
        return Response(ConnectionSerializer(connection).data)


class ConnectionRotate(views.APIView):
    """The keys that secrets are encrypted with."""

    writes = Scope.ADMIN

    @extend_schema(request=RotateSerializer, responses=RotatedSerializer)
    def post(self, request: Request) -> Response:
        """Encrypt all secrets with the newest key, which may be made first."""
        form = RotateSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        new_key = form.validated_data["new_key"]
        if new_key:
            add_key(settings.CONFIGURATION.key_file)
        count = encrypt_anew(Actor.of(request.user))
        return Response(RotatedSerializer({"connections": count, "new_key": new_key}).data)


class ConnectionTest(views.APIView):
    """A connection tried step by step."""

    @extend_schema(request=None, responses=ConnectionTestSerializer)
    def post(self, request: Request, name: str) -> Response:
        """Each step with what it found; a failed step is an answer, not an error."""
        del request
        connection = Connection.objects.filter(name=name).first()
        if connection is None:
            raise NotThereError(f"there is no connection {name!r}")
        watched = dict.fromkeys(
            collect.folder for _, collect in sources() if collect.mailbox == connection.name
        )
        steps = wiring.test_connection(connection, tuple(watched))
        bad = next((step for step in steps if not step.good), None)
        note_health(name, f"{bad.name}: {bad.detail}" if bad else "")
        data = {"name": name, "good": bad is None, "steps": steps}
        return Response(ConnectionTestSerializer(data).data)

"""REST views of sign-in, people and tokens."""

from typing import Any

from django.contrib.auth import authenticate, login, logout
from django.middleware.csrf import get_token
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import exceptions, generics, permissions, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Person, Scope, Token
from veridox.service.accounts.permissions import scopes_of
from veridox.service.choices import choices
from veridox.service.errors import NotAllowedError
from veridox.service.people.actions.sign_in import sign_in
from veridox.service.people.actions.tokens import create_token, revoke_token
from veridox.service.web.pages import KeysetPages


class SignInSerializer(serializers.Serializer):
    """Name and password."""

    username = serializers.CharField()
    password = serializers.CharField(trim_whitespace=False, write_only=True)


class SessionSerializer(serializers.Serializer):
    """Who is signed in; `csrf` goes into X-CSRFToken on writes."""

    username = serializers.CharField(allow_null=True)
    role = serializers.CharField(allow_null=True)
    scopes = serializers.ListField(child=serializers.CharField())
    csrf = serializers.CharField()


class TokenSerializer(serializers.ModelSerializer):
    """A token without its text."""

    person = serializers.CharField(source="person.username")

    class Meta:
        model = Token
        fields = [
            "id", "name", "person", "start", "scopes", "created_at", "expires_at", "revoked_at",
            "last_used_at",
        ]  # fmt: skip
        read_only_fields = fields


class TokenInputSerializer(serializers.Serializer):
    """A token to create."""

    name = serializers.CharField(max_length=100)
    scopes = serializers.ListField(child=serializers.ChoiceField(choices=choices(Scope)))
    days = serializers.IntegerField(required=False, min_value=1, max_value=3650)


class NewTokenSerializer(TokenSerializer):
    """A new token: its text is shown this once."""

    token = serializers.CharField()

    class Meta(TokenSerializer.Meta):
        fields = [*TokenSerializer.Meta.fields, "token"]
        read_only_fields = fields


def _session(request: Request) -> Response:
    person = request.user
    known = isinstance(person, Person) and person.is_authenticated
    data = {
        "username": person.username if known else None,
        "role": person.role if known else None,
        "scopes": sorted(scopes_of(request)) if known else [],
        "csrf": get_token(request._request),
    }
    return Response(SessionSerializer(data).data)


class Session(views.APIView):
    """The console's session."""

    permission_classes = [permissions.AllowAny]

    @extend_schema(responses=SessionSerializer)
    def get(self, request: Request) -> Response:
        """Who is signed in, if anybody."""
        return _session(request)

    @extend_schema(request=SignInSerializer, responses=SessionSerializer)
    @method_decorator(csrf_protect)
    def post(self, request: Request) -> Response:
        """Sign in."""
        form = SignInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        given = form.validated_data
        person = sign_in(given["username"], lambda: authenticate(request._request, **given))
        if person is None:
            raise exceptions.AuthenticationFailed("Name or password is not right.")
        login(request._request, person)
        request.user = person
        return _session(request)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        logout(request._request)
        return Response(status=204)


class TokenList(generics.ListAPIView):
    """One's own tokens; an admin sees all."""

    serializer_class = TokenSerializer
    pagination_class = KeysetPages

    def get_queryset(self) -> Any:
        """Own or all."""
        rows = Token.objects.select_related("person")
        if Scope.ADMIN in scopes_of(self.request):
            return rows
        return rows.filter(person_id=self.request.user.pk if self.request.user else None)

    @extend_schema(request=TokenInputSerializer, responses={201: NewTokenSerializer})
    def post(self, request: Request) -> Response:
        """Create a token for oneself, with no more rights than one has oneself."""
        form = TokenInputSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        beyond = sorted(set(data["scopes"]) - scopes_of(request))
        if beyond:
            raise NotAllowedError(f"you do not have {', '.join(beyond)} yourself")
        token, text = create_token(
            Actor.of(request.user), request.user, data["name"], data["scopes"], data.get("days")
        )
        answer = {**TokenSerializer(token).data, "token": text}
        return Response(answer, status=201)


class TokenDetail(views.APIView):
    """One token."""

    @extend_schema(request=None, responses=TokenSerializer)
    def delete(self, request: Request, pk: int) -> Response:
        """Revoke it."""
        owner = None if Scope.ADMIN in scopes_of(request) else request.user
        token = revoke_token(Actor.of(request.user), pk, owner)
        return Response(TokenSerializer(token).data)

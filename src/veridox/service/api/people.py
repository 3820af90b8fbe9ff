"""REST views of people: who they are and what they may do."""

from typing import Any

from django.contrib.auth import update_session_auth_hash
from django.db.models import Count, Q, QuerySet
from drf_spectacular.utils import extend_schema
from rest_framework import generics, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Person, Role, Scope
from veridox.service.accounts.permissions import scopes_of_role
from veridox.service.choices import choices
from veridox.service.errors import NotThereError
from veridox.service.people.actions.people import (
    change_own_password,
    change_person,
    create_person,
)
from veridox.service.web.pages import KeysetPages


class PersonSerializer(serializers.ModelSerializer):
    """A person; passwords go in and never come out."""

    name = serializers.CharField(source="first_name")
    active = serializers.BooleanField(source="is_active")
    may = serializers.SerializerMethodField()
    last_signed_in = serializers.DateTimeField(source="last_login", allow_null=True)
    taken = serializers.IntegerField()
    tokens = serializers.IntegerField(source="valid_tokens")

    class Meta:
        model = Person
        fields = [
            "username", "name", "role", "may", "active", "last_signed_in", "date_joined",
            "taken", "tokens",
        ]  # fmt: skip
        read_only_fields = fields

    def get_may(self, person: Person) -> list[str]:
        """What the role allows."""
        return sorted(scopes_of_role(person.role)) if person.is_active else []


class PersonInputSerializer(serializers.Serializer):
    """A person to create."""

    username = serializers.CharField(max_length=150)
    name = serializers.CharField(required=False, allow_blank=True, max_length=150, default="")
    role = serializers.ChoiceField(choices=choices(Role))
    password = serializers.CharField(trim_whitespace=False, write_only=True)


class PersonChangeSerializer(serializers.Serializer):
    """What is to change; what is left out stays."""

    name = serializers.CharField(required=False, allow_blank=True, max_length=150)
    role = serializers.ChoiceField(choices=choices(Role), required=False)
    active = serializers.BooleanField(required=False)
    password = serializers.CharField(required=False, trim_whitespace=False, write_only=True)


class OwnPasswordSerializer(serializers.Serializer):
    """The present password and the next one."""

    old = serializers.CharField(trim_whitespace=False, write_only=True)
    new = serializers.CharField(trim_whitespace=False, write_only=True)


def people() -> QuerySet[Person]:
    """All people with what a list shows."""
    return Person.objects.annotate(
        taken=Count("taken_documents", distinct=True),
        valid_tokens=Count("tokens", filter=Q(tokens__revoked_at=None), distinct=True),
    )


class PersonList(generics.ListAPIView):
    """People by user name."""

    serializer_class = PersonSerializer
    pagination_class = KeysetPages
    orderings = ("id", "username")
    usual_ordering = "username"
    writes = Scope.ADMIN

    def get_queryset(self) -> Any:
        """All."""
        return people()

    @extend_schema(request=PersonInputSerializer, responses={201: PersonSerializer})
    def post(self, request: Request) -> Response:
        """Create a person who can sign in."""
        form = PersonInputSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        person = create_person(Actor.of(request.user), **form.validated_data)
        return Response(PersonSerializer(people().get(pk=person.pk)).data, status=201)


class PersonDetail(views.APIView):
    """One person."""

    writes = Scope.ADMIN

    @extend_schema(responses=PersonSerializer)
    def get(self, request: Request, username: str) -> Response:
        """With role and rights."""
        del request
        person = people().filter(username=username).first()
        if person is None:
            raise NotThereError(f"there is no person {username!r}")
        return Response(PersonSerializer(person).data)

    @extend_schema(request=PersonChangeSerializer, responses=PersonSerializer)
    def patch(self, request: Request, username: str) -> Response:
        """Change role, name, password, or whether they may sign in at all."""
        form = PersonChangeSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        person = change_person(Actor.of(request.user), username, dict(form.validated_data))
        return Response(PersonSerializer(people().get(pk=person.pk)).data)


class OwnPassword(views.APIView):
    """One's own password."""

    writes = Scope.READ

    @extend_schema(request=OwnPasswordSerializer, responses={204: None})
    def put(self, request: Request) -> Response:
        """Set it anew; other sessions and all tokens of the person end."""
        form = OwnPasswordSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        person = change_own_password(Actor.of(request.user), **form.validated_data)
        if request.auth is None:  # a session and no token: this one goes on
            update_session_auth_hash(request._request, person)
        return Response(status=204)

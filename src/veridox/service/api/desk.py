"""REST views of the desk: thin."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.api.desk_shapes import (
    AgainSerializer,
    CodeSerializer,
    CommentSerializer,
    HoldSerializer,
    LetterSerializer,
    ProveSerializer,
    ReasonSerializer,
    TakeSerializer,
    WaitingSerializer,
)
from veridox.service.api.document_shapes import DocumentSerializer, EventSerializer
from veridox.service.api.documents import DocumentList
from veridox.service.api.shown import IDEMPOTENCY, IF_MATCH, body_of, document_of, shown
from veridox.service.desk.actions.again import again
from veridox.service.desk.actions.code import code_lines
from veridox.service.desk.actions.comment import comment
from veridox.service.desk.actions.discard import discard
from veridox.service.desk.actions.hold import hold
from veridox.service.desk.actions.post import post
from veridox.service.desk.actions.prove import prove
from veridox.service.desk.actions.reopen import reopen
from veridox.service.desk.actions.send_back import send_back
from veridox.service.desk.actions.take import release, take
from veridox.service.desk.queries import waiting
from veridox.service.documents.models import State
from veridox.service.flow.actions.waiting import call, let_wait
from veridox.service.notices.letter import draft
from veridox.service.web.idempotency import once
from veridox.service.web.versions import wanted_version


class DeskList(DocumentList):
    """Documents that wait at the desk, oldest first."""

    usual_ordering = "id"

    def get_queryset(self) -> Any:
        """Only those at the desk."""
        return super().get_queryset().filter(state=State.AT_DESK)


class DeskWaiting(views.APIView):
    """What waits at the desk, counted."""

    @extend_schema(responses=WaitingSerializer)
    def get(self, request: Request) -> Response:
        """By queue, by reason and by person."""
        del request
        return Response(WaitingSerializer(waiting()).data)


class _Act(views.APIView):
    """An act on a document that is answered with the document as it stands then."""

    form: type[serializers.Serializer] = ReasonSerializer
    versioned = True

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        raise NotImplementedError

    def _post(self, request: Request, pk: int) -> Response:
        form = self.form(data=request.data)
        form.is_valid(raise_exception=True)
        version = wanted_version(request) if self.versioned else 0

        def act() -> Response:
            self.run(Actor.of(request.user), pk, version, form.validated_data)
            return shown(request, pk)

        return once(request, body_of(request), act)


def described(form: type[serializers.Serializer], *, versioned: bool = True) -> Any:
    """The description of an act's POST."""
    parameters = [IF_MATCH, IDEMPOTENCY] if versioned else [IDEMPOTENCY]
    return extend_schema(request=form, responses=DocumentSerializer, parameters=parameters)


class DocumentPost(_Act):
    """Let a document through although something was found."""

    @described(ReasonSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Clear it; blocking findings are accepted with a reason."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        post(actor, pk, version, data["reason"])


class DocumentProve(_Act):
    """Say how a finding was proven that only a second person accepts."""

    form = ProveSerializer

    @described(ProveSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Keep it; another person then posts the document with a reason."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        prove(actor, pk, version, data["code"], data["how"])


class DocumentDiscard(_Act):
    """End a document without posting."""

    @described(ReasonSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Discard it, with a reason."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        discard(actor, pk, version, data["reason"])


class DocumentAgain(_Act):
    """Process a document again."""

    form = AgainSerializer

    @described(AgainSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """From a stage; one that failed goes on where it stopped when none is named."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        again(
            actor, pk, version, stage=data["stage"], newest_version=data["newest_version"],
            reason=data["reason"],
        )  # fmt: skip


class DocumentReopen(_Act):
    """Bring a discarded document back."""

    @described(ReasonSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Check it anew; it goes where the checks send it."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        del data
        reopen(actor, pk, version)


class DocumentHold(_Act):
    """Keep a document out of the desk's list until a day."""

    form = HoldSerializer

    @described(HoldSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Hold it, or end its hold."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        hold(actor, pk, version, data["until"], data["reason"])


class DocumentCode(_Act):
    """Say under what lines are booked."""

    form = CodeSerializer

    @described(CodeSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Codes of lines, and how they are split; then the checks again."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        code_lines(actor, pk, version, data["lines"])


class DocumentCall(_Act):
    """Call a document that waits to the desk."""

    @described(ReasonSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """It waits no more, with a reason, until somebody lets it wait again."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        call(actor, pk, version, data["reason"])


class DocumentLetWait(_Act):
    """Let a document that was called to the desk wait again."""

    @described(ReasonSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """It goes on by itself once what it waits for has come."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        del data
        let_wait(actor, pk, version)


class DocumentTake(_Act):
    """Work on a document alone."""

    form = TakeSerializer
    versioned = False

    @described(TakeSerializer, versioned=False)
    def post(self, request: Request, pk: int) -> Response:
        """Take it, give it to a colleague, or take it over."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        del version
        take(actor, pk, person=data["person"], over=data["over"])


class DocumentRelease(_Act):
    """Give a document free."""

    versioned = False

    @described(ReasonSerializer, versioned=False)
    def post(self, request: Request, pk: int) -> Response:
        """Give it free."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        del version, data
        release(actor, pk)


class DocumentReturn(_Act):
    """Send a document back to its vendor."""

    form = LetterSerializer

    @described(LetterSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Send the letter; it is returned once the mail server has taken it."""
        return self._post(request, pk)

    def run(self, actor: Actor, pk: int, version: int, data: dict[str, Any]) -> None:
        """See the action."""
        send_back(actor, pk, version, data["to"], data["subject"], data["text"])


class DocumentLetter(views.APIView):
    """The letter that would go to the vendor."""

    @extend_schema(responses=LetterSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """A draft from the findings; nothing is sent."""
        del request
        return Response(LetterSerializer(draft(document_of(pk))).data)


class DocumentComments(views.APIView):
    """Comments on a document."""

    writes = Scope.COMMENT

    @extend_schema(
        request=CommentSerializer, responses={201: EventSerializer}, parameters=[IDEMPOTENCY]
    )
    def post(self, request: Request, pk: int) -> Response:
        """Add one; its story shows them all."""
        form = CommentSerializer(data=request.data)
        form.is_valid(raise_exception=True)

        def act() -> Response:
            entry = comment(Actor.of(request.user), pk, form.validated_data["text"])
            return Response(EventSerializer(entry).data, status=201)

        return once(request, body_of(request), act)

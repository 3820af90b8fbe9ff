"""REST views of notices: what went out, what did not, and once more."""

from typing import Any

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.api.shown import IDEMPOTENCY, body_of
from veridox.service.errors import BadInputError
from veridox.service.notices.actions.sent import send_again
from veridox.service.notices.models import NOTICE_STATES, Notice, NoticeState
from veridox.service.web.idempotency import once
from veridox.service.web.pages import KeysetPages


class NoticeSerializer(serializers.ModelSerializer):
    """A mail or chat message about an event."""

    state = serializers.ChoiceField(choices=NOTICE_STATES)
    document = serializers.IntegerField(source="document_id", allow_null=True)
    document_number = serializers.CharField(source="document.number", default="")
    mail = serializers.IntegerField(source="mail_id", allow_null=True)

    class Meta:
        model = Notice
        fields = [
            "id", "event", "state", "recipient", "channel", "subject", "text", "problem",
            "document", "document_number", "mail", "prepared_at", "sent_at",
        ]  # fmt: skip
        read_only_fields = fields


def notices() -> Any:
    """All notices with what a list shows."""
    return Notice.objects.select_related("document")


@extend_schema(parameters=[OpenApiParameter("state", str, description="prepared, sent or failed")])
class NoticeList(generics.ListAPIView):
    """Notices, newest first."""

    serializer_class = NoticeSerializer
    pagination_class = KeysetPages

    def get_queryset(self) -> Any:
        """Of one state, if asked."""
        state = self.request.query_params.get("state")
        if state and state not in list(NoticeState):
            raise BadInputError(f"state is one of {', '.join(NoticeState)}, not {state!r}")
        return notices().filter(state=state) if state else notices()


class NoticeAgain(views.APIView):
    """A notice that was refused, sent again."""

    writes = Scope.WORK

    @extend_schema(request=None, responses=NoticeSerializer, parameters=[IDEMPOTENCY])
    def post(self, request: Request, pk: int) -> Response:
        """Send it once more; a letter takes its document along."""

        def act() -> Response:
            send_again(Actor.of(request.user), pk)
            return Response(NoticeSerializer(notices().get(pk=pk)).data)

        return once(request, body_of(request), act)

"""REST views of expressions: thin."""

from drf_spectacular.utils import extend_schema
from rest_framework import serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.core.language.trial import try_expression
from veridox.service.accounts.models import Scope
from veridox.service.api.shown import document_of
from veridox.service.flow.trying import try_on


class TrialInputSerializer(serializers.Serializer):
    """An expression, and the document that it is tried on."""

    expression = serializers.CharField(max_length=10_000)
    document = serializers.IntegerField(required=False, allow_null=True)


class TrialSerializer(serializers.Serializer):
    """What came of it; of a wrong one, what is wrong and where."""

    type = serializers.CharField(help_text="what it yields; empty when it is wrong")
    value = serializers.CharField(help_text="empty when it is wrong or cannot be evaluated")
    said = serializers.CharField(help_text="the expression with the values that it looked at")
    why = serializers.CharField(help_text="why it cannot be evaluated")
    problem = serializers.CharField()
    hint = serializers.CharField()
    at = serializers.IntegerField(allow_null=True, help_text="offset of what is wrong")


class RuleTry(views.APIView):
    """An expression tried."""

    writes = Scope.READ

    @extend_schema(request=TrialInputSerializer, responses=TrialSerializer)
    def post(self, request: Request) -> Response:
        """On a document as it stands, or its check alone; nothing is changed."""
        form = TrialInputSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        source, number = form.validated_data["expression"], form.validated_data.get("document")
        found = try_expression(source) if number is None else try_on(document_of(number), source)
        return Response(TrialSerializer(found).data)

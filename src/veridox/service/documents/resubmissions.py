"""Find the returned document that a new one replaces. Reads only."""

import re

from django.db.models import Q

from veridox.service.documents.models import Document, State


def returned_before(document: Document) -> Document | None:
    """The newest returned document that this one answers, None if there is none.

    It answers when its mail replies to our letter (RFC 5322, 3.6.4), or when it
    is of the same vendor and bears the same number and kind.
    """
    answers = Q(notices__event="returned", notices__message_id__in=_replied_to(document))
    if document.number_key:
        same = Q(number_key=document.number_key, kind=document.kind)
        if document.vendor_id:
            answers |= same & Q(vendor_id=document.vendor_id)
        elif document.seller_name:
            answers |= same & Q(vendor=None, seller_name__iexact=document.seller_name)
    return (
        Document.objects.filter(answers, state=State.RETURNED, pk__lt=document.pk)
        .order_by("-pk")
        .first()
    )


def _replied_to(document: Document) -> list[str]:
    message = document.file.message
    if message is None:
        return []
    named = f"{message.headers.get('in-reply-to', '')} {message.headers.get('references', '')}"
    return re.findall(r"<([^<>\s]{3,200})>", named)

"""What lies in an S/MIME message that was signed as a whole (RFC 8551, RFC 5652)."""

from pyasn1.codec.ber import decoder
from pyasn1.error import PyAsn1Error
from pyasn1.type.univ import ObjectIdentifier
from pyasn1_modules import rfc5652

_ENCIPHERED = (rfc5652.id_envelopedData, ObjectIdentifier("1.2.840.113549.1.9.16.1.23"))
"""EnvelopedData and AuthEnvelopedData (RFC 5083)."""


class EncipheredError(ValueError):
    """The content is enciphered; only the receiver's private key opens it."""


def signed_content(content: bytes) -> bytes:
    """The MIME part within a signature. The signature itself is not checked here.

    Raises:
        EncipheredError: it is enciphered.
        ValueError: damaged, or without content (a signature that stands beside it).
    """
    try:
        info, _ = decoder.decode(content, asn1Spec=rfc5652.ContentInfo())
        kind = info["contentType"]
        if kind in _ENCIPHERED:
            raise EncipheredError("the mail is enciphered for somebody's private key")
        if kind != rfc5652.id_signedData:
            raise ValueError("it is neither signed nor enciphered")
        signed, _ = decoder.decode(bytes(info["content"]), asn1Spec=rfc5652.SignedData())
        inner = signed["encapContentInfo"]["eContent"]
        if not inner.hasValue():
            raise ValueError("the signature holds no content")
        return bytes(inner)
    except (PyAsn1Error, RecursionError, AttributeError, KeyError, IndexError) as error:
        raise ValueError(f"the signature is damaged ({type(error).__name__})") from error

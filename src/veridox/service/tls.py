"""TLS contexts, made once a process: reading all trusted authorities takes long."""

import ssl
from functools import lru_cache


@lru_cache(maxsize=32)
def tls_context(ca_file: str) -> ssl.SSLContext:
    """A context that checks certificates and names.

    Args:
        ca_file: an authority to trust besides the system's; empty for none. A file that
            changes is read anew only by a new process.
    """
    return ssl.create_default_context(cafile=ca_file or None)

"""The service's own settings, but for how long it takes to check a password.

That is meant to be slow, and is asked for at every sign-in of every test of the console.
"""

from django.contrib.auth.hashers import PBKDF2PasswordHasher

from veridox.service.settings import *  # noqa: F403


class QuickHasher(PBKDF2PasswordHasher):
    iterations = 1000


PASSWORD_HASHERS = ["tests.stack.settings.QuickHasher"]

"""Django settings, from the environment by way of `configuration`."""

import hashlib
from pathlib import Path
from urllib.parse import urlsplit

from veridox.service.configuration import configuration

CONFIGURATION = configuration()
_database = CONFIGURATION.database
_package = Path(__file__).parent


def _secret() -> str:
    # Sessions are signed with a key of their own, derived from the newest key.
    file = CONFIGURATION.key_file
    seed = file.read_bytes() if file.exists() else b"not set up yet"
    return hashlib.sha256(b"sessions" + seed).hexdigest()


SECRET_KEY = _secret()
DEBUG = CONFIGURATION.debug
# The name that people type, and loopback for probes on the machine itself.
ALLOWED_HOSTS = ["*"] if DEBUG else [CONFIGURATION.host, "127.0.0.1", "localhost", "[::1]"]
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"
USE_I18N = False

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "django.contrib.postgres",
    "rest_framework",
    "drf_spectacular",
    "drf_spectacular_sidecar",
    "procrastinate.contrib.django",
    "veridox.service.accounts",
    "veridox.service.trail",
    "veridox.service.connections",
    "veridox.service.masterdata",
    "veridox.service.pipelines",
    "veridox.service.intake",
    "veridox.service.documents",
    "veridox.service.ledgers",
    "veridox.service.notices",
    "veridox.service.flow",
    "veridox.service.house",
    "veridox.service.reports",
    "veridox.service.upkeep",
]
AUTH_USER_MODEL = "accounts.Person"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "veridox.service.web.headers.content_policy",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "veridox.service.urls"
WSGI_APPLICATION = "veridox.service.wsgi.application"
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": _database.name,
        "USER": _database.user,
        "PASSWORD": _database.password,
        "HOST": _database.host,
        "PORT": _database.port,
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
    }
}
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 10},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"user_attributes": ("username", "first_name", "email")},
    },
]
SESSION_COOKIE_NAME = "veridox_session"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 12 * 3600
CSRF_COOKIE_NAME = "veridox_csrf"
_parts = urlsplit(CONFIGURATION.url)
CSRF_TRUSTED_ORIGINS = [f"{_parts.scheme}://{_parts.netloc}"]
if CONFIGURATION.secure:
    # A proxy in front of it speaks HTTPS with people, and says so in this header.
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_HSTS_SECONDS = 365 * 24 * 3600
X_FRAME_OPTIONS = "DENY"
DATA_UPLOAD_MAX_MEMORY_SIZE = 5 * 2**20
FILE_UPLOAD_MAX_MEMORY_SIZE = 2 * 2**20

STATIC_URL = "/static/"
STATIC_ROOT = CONFIGURATION.data / "static"
CONSOLE = _package / "console_build"
STATICFILES_DIRS = [("console", CONSOLE)] if CONSOLE.exists() else []
WHITENOISE_USE_FINDERS = True

TEMPLATES = [
    {"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True, "DIRS": []}
]

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [
        "veridox.service.accounts.authentication.TokenAuthentication",
        "veridox.service.accounts.authentication.ConsoleSession",
    ],
    "DEFAULT_PERMISSION_CLASSES": ["veridox.service.accounts.permissions.SignedIn"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["rest_framework.parsers.JSONParser"],
    "DEFAULT_SCHEMA_CLASS": "veridox.service.web.schema.Schema",
    "EXCEPTION_HANDLER": "veridox.service.web.problems.handle",
    "COERCE_DECIMAL_TO_STRING": True,
    "UNAUTHENTICATED_USER": None,
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Veridox",
    "DESCRIPTION": "Pipelines that take supplier invoices from mailboxes to the ledger.",
    "VERSION": "1",
    "OAS_VERSION": "3.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "SWAGGER_UI_DIST": "SIDECAR",
    "SWAGGER_UI_FAVICON_HREF": "SIDECAR",
    "REDOC_DIST": "SIDECAR",
    "COMPONENT_SPLIT_REQUEST": True,
    "ENUM_NAME_OVERRIDES": {
        "DocumentState": "veridox.service.documents.models.STATES",
        "FileState": "veridox.service.intake.models.FILE_STATES",
        "ConnectionKind": "veridox.service.connections.models.KINDS",
        "MailPlace": "veridox.service.intake.models.PLACES",
        "RunKind": "veridox.service.reports.models.RUN_KINDS",
        "RunState": "veridox.service.reports.models.RUN_STATES",
        "RunHow": "veridox.service.pipelines.models.RUN_HOW",
        "VersionState": "veridox.service.pipelines.models.VERSION_STATES",
        "NoticeState": "veridox.service.notices.models.NOTICE_STATES",
    },
    "SERVE_PERMISSIONS": ["rest_framework.permissions.AllowAny"],
}

PROCRASTINATE_AUTODISCOVER_MODULE_NAME = "jobs"
PROCRASTINATE_WORKER_DEFAULTS = {
    "update_heartbeat_interval": CONFIGURATION.heartbeat,
    "stalled_worker_timeout": CONFIGURATION.stalled,
    "fetch_job_polling_interval": 1.0,
}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"json": {"()": "veridox.service.logs.JsonFormatter"}},
    "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "json"}},
    "root": {"handlers": ["stderr"], "level": "INFO"},
    "loggers": {"procrastinate": {"level": "WARNING"}, "httpx": {"level": "WARNING"}},
}

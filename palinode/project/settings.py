"""Settings. All come from environment variables, listed in docs/settings.md; safe when unset."""

import os
import secrets
from pathlib import Path
from urllib.parse import unquote, urlsplit

BASE_DIR = Path(__file__).resolve().parent.parent.parent
DATA_DIR = Path(os.environ.get("PALINODE_DATA", BASE_DIR / "var"))


def _secret_key() -> str:
    if given := os.environ.get("PALINODE_SECRET_KEY"):
        return given
    kept = DATA_DIR / "secret-key"
    if not kept.exists():
        DATA_DIR.mkdir(parents=True, exist_ok=True)
        descriptor = os.open(kept, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "w") as file:
            file.write(secrets.token_urlsafe(50))
    return kept.read_text()


def _words(name: str, default: str = "") -> list[str]:
    return os.environ.get(name, default).replace(",", " ").split()


def _database() -> dict[str, object]:
    url = urlsplit(os.environ.get("PALINODE_DATABASE", "postgresql://palinode@127.0.0.1:5432/palinode"))
    return {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": url.hostname or "127.0.0.1",
        "PORT": url.port or 5432,
        "USER": unquote(url.username or "palinode"),
        "PASSWORD": unquote(url.password or ""),
        "NAME": url.path.strip("/") or "palinode",
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {
            "options": "-c jit=off -c work_mem=64MB -c max_parallel_workers_per_gather=0 -c random_page_cost=1.1",
            "pool": {"min_size": 2, "max_size": 16, "timeout": 20},
        },
    }


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = _words("PALINODE_HOSTS", "127.0.0.1 localhost [::1]")
CSRF_TRUSTED_ORIGINS = _words("PALINODE_ORIGINS")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "procrastinate.contrib.django",
    "rest_framework",
    "drf_spectacular",
    "palinode.records",
    "palinode.work",
    "palinode.api",
    "palinode.project",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "palinode.project.static.FrontEnd",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "palinode.project.headers.content_policy",
]
ROOT_URLCONF = "palinode.project.urls"
ASGI_APPLICATION = "palinode.project.asgi.application"
DATABASES = {"default": _database()}
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"
APPEND_SLASH = False

SECURE_COOKIES = os.environ.get("PALINODE_HTTPS", "") == "1"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_COOKIES
SESSION_COOKIE_NAME = "palinode_session"
CSRF_COOKIE_NAME = "palinode_csrf"
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
DATA_UPLOAD_MAX_MEMORY_SIZE = 2_000_000

STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "evidence": {
        "BACKEND": "django.core.files.storage.FileSystemStorage",
        "OPTIONS": {
            "location": os.environ.get("PALINODE_EVIDENCE", DATA_DIR / "evidence"),
            # What was captured may be a site that only some people may see.
            "file_permissions_mode": 0o600,
            "directory_permissions_mode": 0o700,
        },
    },
    "staticfiles": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
}
WEB_DIR = BASE_DIR / "web" / "dist"
WHITENOISE_ALLOW_ALL_ORIGINS = False

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [
        "palinode.api.authentication.TokenAuthentication",
        "rest_framework.authentication.SessionAuthentication",
    ],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["rest_framework.parsers.JSONParser"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "palinode.api.errors.handle",
    "DEFAULT_THROTTLE_RATES": {
        "sign_in": os.environ.get("PALINODE_SIGN_IN_RATE", "20/min"),
        "sign_in_account": os.environ.get("PALINODE_SIGN_IN_RATE", "20/min"),
        "drafts": "120/min",
        "outward": os.environ.get("PALINODE_OUTWARD_RATE", "60/min"),
    },
    # Proxies that stand before the server, and write X-Forwarded-For; without one the header is anybody's.
    "NUM_PROXIES": int(os.environ.get("PALINODE_PROXIES", "0")),
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Palinode",
    "DESCRIPTION": "Verify a migrated or restored site against its source.",
    "VERSION": "1",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    "ENUM_NAME_OVERRIDES": {
        "OptionKindEnum": "palinode.core.options.KINDS",
        "FindingStateEnum": "palinode.api.serializers.finding.STATES",
        "DecisionKindEnum": "palinode.records.models.Decision.Kind",
    },
}

PALINODE_ALLOW_NETWORKS = _words("PALINODE_ALLOW_NETWORKS")
"""Networks with a port, as 127.0.0.1/32:8101, that the outbound guard lets through besides public ones."""
PALINODE_AUTHORITIES = os.environ.get("PALINODE_AUTHORITIES", "")
"""PEM file with certificates of authorities to trust when hosts are asked, say a private one, and the system's."""
PALINODE_CONTACT = os.environ.get("PALINODE_CONTACT", "")
"""Address of a person, sent with the user agent."""
PALINODE_SETUP_TOKEN = os.environ.get("PALINODE_SETUP_TOKEN", "")
"""What the first account is made with, from another machine; the start command makes one and prints it."""
PALINODE_DISK_RESERVE = int(os.environ.get("PALINODE_DISK_RESERVE_MB", "500")) * 1_000_000
"""Bytes of disk that captures leave free."""
PALINODE_DATABASE_FOLDER = os.environ.get("PALINODE_DATABASE_FOLDER", "")
"""Where the database lies, if that is this machine; its disk is watched like that of the evidence."""
PALINODE_SEAL_SECONDS = float(os.environ.get("PALINODE_SEAL_SECONDS", "15"))
PALINODE_LEASE_SECONDS = float(os.environ.get("PALINODE_LEASE_SECONDS", "20"))
PALINODE_READERS = int(os.environ.get("PALINODE_READERS", "2"))
"""Processes of a worker that read and store what was fetched."""

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": os.environ.get("PALINODE_LOG", "WARNING")},
}

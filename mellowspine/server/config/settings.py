"""Settings. The environment may set MELLOW_DATA, MELLOW_HOSTS, MELLOW_DEMONSTRATION and MELLOW_SECRET."""

from __future__ import annotations

import os
from pathlib import Path

from csp.constants import NONE, SELF, UNSAFE_INLINE
from django.core.management.utils import get_random_secret_key

PROJECT = Path(__file__).resolve().parents[3]
DATA = Path(os.environ.get("MELLOW_DATA", PROJECT / "var"))
DATA.mkdir(parents=True, exist_ok=True)


def _secret() -> str:
    """The signing key: from the environment, or made once and kept beside the database."""
    if given := os.environ.get("MELLOW_SECRET"):
        return given
    kept = DATA / "secret"
    if not kept.exists():
        kept.touch(mode=0o600)
        kept.write_text(get_random_secret_key())
    return kept.read_text()


SECRET_KEY = _secret()
DEBUG = False
DEMONSTRATION = os.environ.get("MELLOW_DEMONSTRATION") == "1"
ALLOWED_HOSTS = ["127.0.0.1", "localhost", *filter(None, os.environ.get("MELLOW_HOSTS", "").split(","))]
WEB_BUILD = PROJECT / "web" / "dist"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "channels",
    "csp",
    "mellowspine.server.shelf",
    "mellowspine.server.rooms",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
]
# A page of this application loads its own files, and nothing else (Content Security Policy, level 3).
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "style-src": [SELF, UNSAFE_INLINE],
        "connect-src": [SELF, "ws:", "wss:"],
        "object-src": [NONE],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
        "form-action": [SELF],
    }
}
ROOT_URLCONF = "mellowspine.server.config.urls"
ASGI_APPLICATION = "mellowspine.server.config.asgi.application"
TEMPLATES: list[dict[str, object]] = []
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "mellowspine.sqlite3",
        "OPTIONS": {
            # "Saved" on screen means on disk: FULL makes every commit wait for the disk.
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL;",
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
        },
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}

AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

LANGUAGE_CODE = "en-gb"
USE_TZ = True
TIME_ZONE = "UTC"

STATIC_URL = "/static/"
STATICFILES_DIRS = [*([WEB_BUILD] if WEB_BUILD.exists() else []), ("fonts", PROJECT / "mellowspine/core/pages/fonts")]
WHITENOISE_USE_FINDERS = True
FILE_UPLOAD_MAX_MEMORY_SIZE = 5 * 1024 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 5 * 1024 * 1024

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}

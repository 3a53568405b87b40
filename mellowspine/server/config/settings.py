"""Settings. The environment may set MELLOW_DATA, MELLOW_HOSTS, MELLOW_HTTPS, MELLOW_DEMONSTRATION and MELLOW_SECRET."""

from __future__ import annotations

import os
from pathlib import Path

from csp.constants import NONE, SELF, UNSAFE_INLINE
from django.core.management.utils import get_random_secret_key

PROJECT = Path(__file__).resolve().parents[3]
DATA = Path(os.environ.get("MELLOW_DATA", PROJECT / "var"))
DATA.mkdir(parents=True, exist_ok=True)


def _private(file: Path) -> Path:
    """A file that nobody but the owner may read; made if there is none."""
    file.touch(mode=0o600)
    if file.stat().st_mode & 0o077:
        file.chmod(0o600)
    return file


def _secret() -> str:
    """The signing key: from the environment, or made once and kept beside the database."""
    if given := os.environ.get("MELLOW_SECRET"):
        return given
    kept = _private(DATA / "secret")
    if not kept.read_text():
        kept.write_text(get_random_secret_key())
    return kept.read_text()


SECRET_KEY = _secret()
DEBUG = False
DEMONSTRATION = os.environ.get("MELLOW_DEMONSTRATION") == "1"
ALLOWED_HOSTS = ["127.0.0.1", "localhost", *filter(None, os.environ.get("MELLOW_HOSTS", "").split(","))]
HTTPS = os.environ.get("MELLOW_HTTPS") == "1"
"""Whether browsers reach it over TLS alone, which a proxy before it ends."""
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
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
# A page of this application loads its own files, and nothing else (Content Security Policy, level 3).
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "style-src": [SELF, UNSAFE_INLINE],
        "connect-src": [SELF],
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

COLLECTED_AFTER = 20_000
"""Objects that are new since the last look for garbage before the next one (``gc.set_threshold``)."""

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": _private(DATA / "mellowspine.sqlite3"),  # SQLite gives what it keeps beside it the same rights
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
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
SECURE_HSTS_SECONDS = 60 * 60 * 24 * 30 if HTTPS else 0
# Other names of the same domain, and lists that browsers ship with, are not for this application to speak for.
SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021"]
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

# Wrong passwords are counted here: where there is room for few, other names drive out the one that is locked.
CACHES = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache", "OPTIONS": {"MAX_ENTRIES": 100_000}}}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}

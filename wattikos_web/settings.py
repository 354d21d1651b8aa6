"""Django settings. Everything that differs between installations comes from the environment, with working defaults.

WATTIKOS_DATA      folder of the database and the secret key (default: data/ in the repository)
WATTIKOS_HOSTS     comma-separated host names that may be asked for
WATTIKOS_TLS       1 where a proxy serves it over TLS: cookies are for TLS alone, and browsers are told to keep to it
WATTIKOS_SCHEDULER address of a Dask scheduler; local processes when empty
"""

import os
import secrets
from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF, UNSAFE_INLINE

BASE_DIR = Path(__file__).resolve().parent.parent
DATA_DIR = Path(os.environ.get("WATTIKOS_DATA", BASE_DIR / "data"))
DATABASE = DATA_DIR / "wattikos.sqlite3"


def _secret_key() -> str:
    """The installation's own key, made once and kept beside the database; both are their owner's alone to read."""
    path = DATA_DIR / "secret_key"
    try:
        DATA_DIR.mkdir(mode=0o700, parents=True, exist_ok=True)
        if not path.exists():
            path.touch(mode=0o600)
            path.write_text(secrets.token_urlsafe(50))
        if not DATABASE.exists():
            DATABASE.touch(mode=0o600)
        elif DATABASE.stat().st_mode & 0o077:
            DATABASE.chmod(0o600)
        return path.read_text().strip()
    except OSError as error:
        raise SystemExit(f"{DATA_DIR} cannot be used ({error}); make room, let this user write it, or set WATTIKOS_DATA") from error


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", *filter(None, os.environ.get("WATTIKOS_HOSTS", "").split(","))]
# Set where the application is served over TLS, by a proxy that says so.
TLS = os.environ.get("WATTIKOS_TLS", "") not in ("", "0")
SCHEDULER = os.environ.get("WATTIKOS_SCHEDULER", "")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "ninja",
    "csp",
    "axes",
    "wattikos_web",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
# Eight wrong passwords for a name from one address close that door for ten minutes.
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_ENABLE_ADMIN = False
AXES_DISABLE_ACCESS_LOG = True
AXES_VERBOSE = False
ROOT_URLCONF = "wattikos_web.urls"
WSGI_APPLICATION = "wattikos_web.wsgi.application"
# The page that describes the API is the only one made from a template.
TEMPLATES: list[dict[str, object]] = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATABASE,
        # Two processes write (web and worker): with these options none waits in vain.
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            "init_command": "PRAGMA journal_mode=WAL;PRAGMA synchronous=NORMAL;PRAGMA foreign_keys=ON;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"

DIST_DIR = BASE_DIR / "frontend" / "dist"
STATIC_URL = "/static/"
# Filled and compressed by `make build`.
STATIC_ROOT = BASE_DIR / "frontend" / "collected"
STATIC_ROOT.mkdir(parents=True, exist_ok=True)
STATICFILES_DIRS = [DIST_DIR] if DIST_DIR.exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
# Vite names built files by their content.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^.+[.-][A-Za-z0-9_-]{8}\.(?:js|css|woff2?)$"

# Everything ships with the application. Vuetify writes its theme into a style element.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "style-src": [SELF, UNSAFE_INLINE],
        "img-src": [SELF, "data:", "blob:"],
        "font-src": [SELF, "data:"],
        "object-src": [NONE],
        "base-uri": [SELF],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "wattikos_web.trouble.refused"
if TLS:
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_HSTS_SECONDS = 365 * 24 * 3600
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
DATA_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024
TEST_RUNNER = "django.test.runner.DiscoverRunner"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}

"""
Settings of one installation: one kitchen, one database.

Everything that differs between installations comes from the environment:
NORTHFOLD_DEMO, NORTHFOLD_DATA (folder of database and secret), NORTHFOLD_HOSTS, NORTHFOLD_ORIGINS, NORTHFOLD_HTTPS,
NORTHFOLD_TIME_ZONE, NORTHFOLD_DEBUG.
"""

import os
import secrets
from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF

BASE_DIR = Path(__file__).resolve().parents[2]


def _flag(name: str) -> bool:
    return os.environ.get(name, "") in ("1", "true", "yes")


def _list(name: str, default: str = "") -> list[str]:
    return [item.strip() for item in os.environ.get(name, default).split(",") if item.strip()]


DEMO = _flag("NORTHFOLD_DEMO")
DEBUG = _flag("NORTHFOLD_DEBUG")
DATA_DIR = Path(os.environ.get("NORTHFOLD_DATA", BASE_DIR / "var"))
DATA_DIR.mkdir(parents=True, exist_ok=True)


def _secret() -> str:
    """A secret of this installation's own, made at its first start."""
    file = DATA_DIR / "secret-key"
    if not file.exists():
        file.write_text(secrets.token_urlsafe(50))
        file.chmod(0o600)
    return file.read_text()


SECRET_KEY = _secret()
ALLOWED_HOSTS = _list("NORTHFOLD_HOSTS", "127.0.0.1,localhost,[::1]")
CSRF_TRUSTED_ORIGINS = _list("NORTHFOLD_ORIGINS")
if _flag("NORTHFOLD_HTTPS"):
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True

INSTALLED_APPS = [
    "northfold.config",
    "northfold.demo",
    "northfold.records",
    "northfold.bench",
    "northfold.makes",
    "northfold.stock",
    "northfold.dough",
    "northfold.kitchen",
    "northfold.web",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "django.forms",
    "django_htmx",
    "simple_history",
    "axes",
    "csp",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "northfold.kitchen.middleware.ShownUnitsMiddleware",
    "northfold.web.middleware.FirstRunMiddleware",
    "northfold.web.middleware.SignedOutMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "simple_history.middleware.HistoryRequestMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "northfold.config.urls"
WSGI_APPLICATION = "northfold.config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "northfold.web.context.chrome",
            ],
            "builtins": ["northfold.web.templatetags.figures"],
        },
    }
]
FORM_RENDERER = "northfold.web.forms.Renderer"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / "northfold.sqlite3",
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA foreign_keys=ON;",
        },
        # Browser tests serve from a second thread, which an in-memory database cannot.
        "TEST": {"NAME": DATA_DIR / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "web.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
CSRF_FAILURE_VIEW = "northfold.web.views.outdated"
LOGIN_URL = "web:sign_in"
LOGIN_REDIRECT_URL = "makes:list"
LOGOUT_REDIRECT_URL = "web:sign_in"
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "northfold.web.views.locked_out"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False

LANGUAGE_CODE = "en-gb"
TIME_ZONE = os.environ.get("NORTHFOLD_TIME_ZONE", "Europe/London")
USE_I18N = True
USE_TZ = True

STATIC_URL = "static/"
STATIC_ROOT = BASE_DIR / "staticfiles"
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {
        "BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"
        if DEBUG
        else "whitenoise.storage.CompressedManifestStaticFilesStorage"
    },
}
WHITENOISE_USE_FINDERS = DEBUG

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
MESSAGE_STORAGE = "django.contrib.messages.storage.session.SessionStorage"
SIMPLE_HISTORY_ENABLED = True
# A refused paste comes back with its message; only more than this is turned away by the server itself.
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 5_000

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}

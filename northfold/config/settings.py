"""
Settings of one installation: one kitchen, one database.

Everything that differs between installations comes from the environment:
NORTHFOLD_DEMO, NORTHFOLD_DATA (folder of database and secret), NORTHFOLD_HOSTS, NORTHFOLD_ORIGINS, NORTHFOLD_HTTPS,
NORTHFOLD_PROXY (the address that the proxy comes from), NORTHFOLD_IDLE_HOURS, NORTHFOLD_TIME_ZONE, NORTHFOLD_DEBUG.
"""

import os
from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF

from northfold.config import data_folder

BASE_DIR = Path(__file__).resolve().parents[2]


def _flag(name: str) -> bool:
    return os.environ.get(name, "") in ("1", "true", "yes")


def _list(name: str, default: str = "") -> list[str]:
    return [item.strip() for item in os.environ.get(name, default).split(",") if item.strip()]


def _hours(name: str, usual: float) -> float:
    text = os.environ.get(name) or str(usual)
    try:
        hours = float(text)
    except ValueError:
        hours = 0.0
    if not 0.1 <= hours <= 720:
        raise data_folder.DataFault(f"{name} is {text}: write hours from 0.1 to 720, such as {usual:g}.")
    return hours


DEMO = _flag("NORTHFOLD_DEMO")
DEBUG = _flag("NORTHFOLD_DEBUG")
DATA_DIR = data_folder.folder(Path(os.environ.get("NORTHFOLD_DATA", BASE_DIR / "var")))
SECRET_KEY = data_folder.secret(DATA_DIR / "secret-key")

# Who reaches it, and how. What a proxy forwards of a visitor's address and scheme is believed of this address alone;
# the server takes it from there and drops what anybody else sends (config/management/commands/serve.py).
LOOPBACK = ["127.0.0.1", "localhost", "[::1]"]
ALLOWED_HOSTS = _list("NORTHFOLD_HOSTS", ",".join(LOOPBACK))
CSRF_TRUSTED_ORIGINS = _list("NORTHFOLD_ORIGINS")
TRUSTED_PROXY = os.environ.get("NORTHFOLD_PROXY", "").strip()
HTTPS = _flag("NORTHFOLD_HTTPS")
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
SECURE_REDIRECT_EXEMPT = [r"^health/$"]
# The prefix makes a browser refuse a cookie that did not come over HTTPS from this very host.
_PREFIX = "__Host-" if HTTPS else ""
SESSION_COOKIE_NAME, CSRF_COOKIE_NAME = f"{_PREFIX}sessionid", f"{_PREFIX}csrftoken"
DEVICE_COOKIE_NAME = f"{_PREFIX}device"
if HTTPS:
    SECURE_HSTS_SECONDS = 365 * 24 * 60 * 60
    SECURE_HSTS_INCLUDE_SUBDOMAINS = True
    # Whether a name goes onto the list that browsers ship is for its owner to say, once and for good.
    SILENCED_SYSTEM_CHECKS = ["security.W021"]
# The first account of a new installation asks for a printed code, unless nothing but this machine can reach it; `serve`
# asks for it, too, where it listens to more than this machine.
FIRST_CODE_ASKED = HTTPS or bool(TRUSTED_PROXY) or not set(ALLOWED_HOSTS) <= set(LOOPBACK)

INSTALLED_APPS = [
    "northfold.config",
    "northfold.demo",
    "northfold.exchange",
    "northfold.records",
    "northfold.day",
    "northfold.bench",
    "northfold.makes",
    "northfold.stock",
    "northfold.dough",
    "northfold.devices",
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
    "csp",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "northfold.web.parts.PartsMiddleware",
    "northfold.web.middleware.OutgoingMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "northfold.web.audit.AuditMiddleware",
    "northfold.web.once.ReadOnceMiddleware",
    "northfold.kitchen.middleware.ShownUnitsMiddleware",
    "northfold.web.middleware.FirstRunMiddleware",
    "northfold.web.middleware.SignedOutMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "northfold.web.accounts.sessions.SessionLimitsMiddleware",
    "northfold.web.middleware.GivenPasswordMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "simple_history.middleware.HistoryRequestMiddleware",
]
ROOT_URLCONF = "northfold.config.urls"
WSGI_APPLICATION = "northfold.config.wsgi.application"
CACHED = "django.template.loaders.cached.Loader"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        # While somebody works on them, templates keep their lines, so that what is wrong is told by its line.
        "APP_DIRS": DEBUG,
        "OPTIONS": {
            **({} if DEBUG else {"loaders": [(CACHED, ["northfold.web.loaders.Loader"])]}),
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
        "NAME": data_folder.private_file(DATA_DIR / "northfold.sqlite3"),
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            # FULL: what was acknowledged outlives a power cut, too, at the cost of one flush for each write.
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        # Browser tests serve from a second thread, which an in-memory database cannot.
        "TEST": {"NAME": DATA_DIR / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "web.User"
AUTHENTICATION_BACKENDS = ["django.contrib.auth.backends.ModelBackend"]
PASSWORD_HASHERS = ["northfold.web.accounts.hashing.SingleFilePBKDF2"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "northfold.web.accounts.passwords.MaximumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
CSRF_FAILURE_VIEW = "northfold.web.views.outdated"
LOGIN_URL = "web:sign_in"
LOGIN_REDIRECT_URL = "makes:list"
LOGOUT_REDIRECT_URL = "web:sign_in"

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
# However busy, somebody signs in anew each month; untouched, after half a day.
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
IDLE_LIMIT = timedelta(hours=_hours("NORTHFOLD_IDLE_HOURS", 12.0))
MESSAGE_STORAGE = "django.contrib.messages.storage.session.SessionStorage"
SIMPLE_HISTORY_ENABLED = True
# A refused paste comes back with its message; only more than this is turned away by the server itself.
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 5_000

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"not_of_the_data": {"()": "northfold.web.faults.NotOfTheData"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["not_of_the_data"]}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # That requests queue for a moment is nothing to tell anybody.
    "loggers": {"waitress.queue": {"level": "ERROR"}},
}

# Whether a day is searched before the answer, and not beside it: for commands and tests.
DAY_IN_TURN = False
# How long a day is searched, what is left of one, each thing that might save one; and a late one with other ways. [s]
DAY_SECONDS, REPLAN_SECONDS, SAVING_SECONDS, WAYS_SECONDS = 12.0, 1.2, 2.5, 6.0

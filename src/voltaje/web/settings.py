"""Settings, all from the environment; see README, "Deploy"."""

from __future__ import annotations

import os
from datetime import timedelta
from pathlib import Path

import environ
from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured

env = environ.Env()
HERE = Path(__file__).parent

DEBUG = env.bool("VOLTAJE_DEBUG", default=False)
DEMO = env.bool("VOLTAJE_DEMO", default=False)
SIGN_UP = env.bool("VOLTAJE_SIGN_UP", default=True)
# Loopback without TLS, as the demo and the tests run: cookies may then go over plain HTTP.
INSECURE_LOOPBACK = env.bool("VOLTAJE_INSECURE_LOOPBACK", default=False)

SECRET_KEY = env.str("VOLTAJE_SECRET_KEY", default="")
if len(SECRET_KEY) < 32:
    raise ImproperlyConfigured("VOLTAJE_SECRET_KEY: set a random text of 32 characters or more.")
ALLOWED_HOSTS = env.list("VOLTAJE_ALLOWED_HOSTS", default=[])
CSRF_TRUSTED_ORIGINS = env.list("VOLTAJE_TRUSTED_ORIGINS", default=[])

# Whether a pool of connections that changes them with every transaction (PgBouncer) stands between.
POOLED = env.bool("VOLTAJE_POOLED", default=False)
DATABASES = {
    "default": {
        **env.db_url("VOLTAJE_DATABASE_URL"),
        "DISABLE_SERVER_SIDE_CURSORS": POOLED,
        "CONN_MAX_AGE": env.int("VOLTAJE_CONN_MAX_AGE", default=60),
        "CONN_HEALTH_CHECKS": True,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.humanize",
    "django.contrib.messages",
    "django.contrib.postgres",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "django_htmx",
    "knox",
    "rest_framework",
    "drf_spectacular",
    "procrastinate.contrib.django",
    "voltaje.web.accounts.apps.AccountsConfig",
    "voltaje.web.kinds.apps.KindsConfig",
    "voltaje.web.practice.apps.PracticeConfig",
    "voltaje.web.documents.apps.DocumentsConfig",
    "voltaje.web.materials.apps.MaterialsConfig",
    "voltaje.web.nameplates.apps.NameplatesConfig",
    "voltaje.web.firm.apps.FirmConfig",
    "voltaje.web.work_schedule.apps.WorkScheduleConfig",
    "voltaje.web.jobs",
    "voltaje.web.parts",
    "voltaje.web.background.apps.BackgroundConfig",
    "voltaje.web.operations.apps.OperationsConfig",
]
MIDDLEWARE = [
    "voltaje.web.http.logs.Requests",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "voltaje.web.http.intake.Intake",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.locale.LocaleMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "voltaje.web.http.no_store.NoStore",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "axes.middleware.AxesMiddleware",
    "voltaje.web.http.saved_forms.Saved",
]
ROOT_URLCONF = "voltaje.web.urls"
WSGI_APPLICATION = "voltaje.web.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [HERE / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "django.template.context_processors.i18n",
                "voltaje.web.http.context.everywhere",
            ],
            "builtins": ["django.templatetags.i18n", "voltaje.web.parts.templatetags.voltaje"],
        },
    }
]

# Accounts
AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.Argon2PasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in (
        "UserAttributeSimilarityValidator",
        "MinimumLengthValidator",
        "CommonPasswordValidator",
        "NumericPasswordValidator",
    )
] + [{"NAME": "voltaje.web.accounts.passwords.NotBlankValidator"}]
LOGIN_URL = "accounts:sign_in"
LOGIN_REDIRECT_URL = "jobs:list"
LOGOUT_REDIRECT_URL = "front"
AXES_FAILURE_LIMIT = env.int("VOLTAJE_SIGN_IN_TRIES", default=6)
# Where a whole firm comes from one address, what is counted by address may be this much more.
TRIES_FACTOR = env.int("VOLTAJE_TRIES_FACTOR", default=1)
AXES_COOLOFF_TIME = 0.25
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
# The sign-in form names its field so, whatever the account’s own field is called; with another
# name here the throttle counts tries that it never looks up again.
AXES_USERNAME_FORM_FIELD = "username"
AXES_USERNAME_CALLABLE = "voltaje.web.accounts.throttle.username"
AXES_LOCKOUT_TEMPLATE = "accounts/locked.html"
AXES_RESET_ON_SUCCESS = True
AXES_ENABLE_ACCESS_FAILURE_LOG = False
AXES_VERBOSE = False
AXES_CLIENT_IP_CALLABLE = "voltaje.web.accounts.address.client_address"
# How many proxies of the operator's own stand in front; 0: none, the peer is the client.
TRUSTED_PROXIES = env.int("VOLTAJE_TRUSTED_PROXIES", default=0)

EMAIL_SET_UP = "VOLTAJE_EMAIL_URL" in env.ENVIRON
vars().update(env.email_url("VOLTAJE_EMAIL_URL", default="consolemail://"))
# Whether an account begins with the link of a letter; without letters nobody could read it.
CONFIRM_ADDRESS = env.bool("VOLTAJE_CONFIRM_ADDRESS", default=EMAIL_SET_UP)
DEFAULT_FROM_EMAIL = env.str("VOLTAJE_FROM_EMAIL", default="voltaje@localhost")

# Program access
REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [
        "knox.auth.TokenAuthentication",
        "rest_framework.authentication.SessionAuthentication",
    ],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["voltaje.web.api.parser.EntriesParser"],
    "DEFAULT_THROTTLE_CLASSES": ["rest_framework.throttling.UserRateThrottle"],
    "DEFAULT_THROTTLE_RATES": {"user": "600/min"},
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Voltaje",
    "DESCRIPTION": "Sheets as JSON: entries in, the worksheet out. A calculation aid: the adopted"
    " code with its local amendments, the manufacturer and the authority having jurisdiction"
    " prevail.",
    "VERSION": "1",
    "OAS_VERSION": "3.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "POSTPROCESSING_HOOKS": ["voltaje.web.api.reference.kinds_told"],
}
REST_KNOX = {
    "TOKEN_TTL": timedelta(days=env.int("VOLTAJE_TOKEN_DAYS", default=90)),
    "AUTH_HEADER_PREFIX": "Token",
}

# Safety
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_HTTPONLY = True
CSRF_FAILURE_VIEW = "voltaje.web.http.errors.csrf"
if not INSECURE_LOOPBACK:
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_SSL_REDIRECT = env.bool("VOLTAJE_SSL_REDIRECT", default=True)
    SECURE_HSTS_SECONDS = env.int("VOLTAJE_HSTS_SECONDS", default=31_536_000)
    SECURE_HSTS_INCLUDE_SUBDOMAINS = env.bool("VOLTAJE_HSTS_SUBDOMAINS", default=False)
    SECURE_HSTS_PRELOAD = env.bool("VOLTAJE_HSTS_PRELOAD", default=False)
    SECURE_REDIRECT_EXEMPT = [r"^health/$"]
    if TRUSTED_PROXIES:
        SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
DATA_UPLOAD_MAX_MEMORY_SIZE = 1_000_000
# a board of 84 circuits sends some 2,000 with what they replace; parsing more costs seconds
DATA_UPLOAD_MAX_NUMBER_FIELDS = 5_000
# bodies are refused by their length before they are read; a backup may be larger, once signed in
MOST_BODY = 2_000_000
MOST_BACKUP = 66_000_000

# Words and figures
LANGUAGE_CODE = "en"
LANGUAGES = [("en", "English")]
# a catalogue comes from `./voltaje words`, and with its language stands above
LOCALE_PATHS = [HERE / "locale"]
USE_TZ = True
TIME_ZONE = env.str("VOLTAJE_TIME_ZONE", default="UTC")

# Files
STATIC_URL = "static/"
STATIC_ROOT = env.str("VOLTAJE_STATIC_ROOT", default="static-collected")
STATICFILES_DIRS = [HERE / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "voltaje.web.http.static_files.HashedFiles"},
}

# How many items' results a process keeps, about 10 kB each; what it does not keep it works again.
KEPT_ITEMS = env.int("VOLTAJE_KEPT_ITEMS", default=20_000)

# Operations
BACKUP_DIR = env.str("VOLTAJE_BACKUP_DIR", default="")
# a file with the passphrase that backups are encrypted with
BACKUP_KEY_FILE = env.str("VOLTAJE_BACKUP_KEY_FILE", default="")
# processes of one machine share what they measure in this directory
if METRICS_DIR := env.str("VOLTAJE_METRICS_DIR", default=""):
    Path(METRICS_DIR).mkdir(parents=True, exist_ok=True)
    os.environ["PROMETHEUS_MULTIPROC_DIR"] = METRICS_DIR

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"lines": {"()": "voltaje.web.http.logs.Lines"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "lines"}},
    # what the queue's package says of each step is in the lines of our own
    "loggers": {"procrastinate": {"level": "WARNING"}},
    "root": {"handlers": ["console"], "level": env.str("VOLTAJE_LOG_LEVEL", default="WARNING")},
}
SILENCED_SYSTEM_CHECKS: list[str] = []

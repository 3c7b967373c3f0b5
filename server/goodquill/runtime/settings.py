"""Settings, all from the environment; see docs/operations.md for what each means."""

from __future__ import annotations

from pathlib import Path

import environ
from csp.constants import NONCE, NONE, SELF

env = environ.Env()
ROOT = Path(__file__).resolve().parents[3]

DEBUG = env.bool("QUILL_DEBUG", default=False)
SECRET_KEY = env("QUILL_SECRET_KEY")
ALLOWED_HOSTS = env.list("QUILL_HOSTS", default=["127.0.0.1", "localhost"])
SECURE = env.bool("QUILL_SECURE", default=True)
"""Whether the site is reached by HTTPS.  Only the demo on loopback turns it off."""

INSTALLED_APPS = [
    *(["goodquill.demo"] if env.bool("QUILL_DEMO", default=False) else []),
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "rest_framework",
    "drf_spectacular",
    "axes",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "csp",
    "django_tasks_db",
    *(
        f"goodquill.{room}"
        for room in (
            "mail",
            "offices",
            "forms",
            "papers",
            "templates",
            "packs",
            "contacts",
            "changelog",
            "clauses",
            "deals",
            "offers",
            "clients",
            "drafting",
            "tasks",
            "proofreading",
            "sources",
            "assembly",
            "signing",
            "delivering",
            "timekeeping",
        )
    ),
]
MIDDLEWARE = [  # from the outside in
    "goodquill.http.middleware.DrainMiddleware",
    "goodquill.http.middleware.HeadersMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "goodquill.http.problems.ProblemsMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "goodquill.http.middleware.ClientAddressMiddleware",
    "goodquill.http.middleware.TimeZoneMiddleware",
    "goodquill.http.middleware.StaticFilesMiddleware",
    "goodquill.http.middleware.BodyLimitMiddleware",
    "goodquill.http.middleware.FairShareMiddleware",
    "goodquill.offices.sessions.Sessions",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "goodquill.runtime.urls"
WSGI_APPLICATION = "goodquill.runtime.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [ROOT / "web" / "dist"],
        "OPTIONS": {"context_processors": []},
    }
]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.mysql",
        "NAME": env("QUILL_DB_NAME", default="goodquill"),
        "USER": env("QUILL_DB_USER", default="goodquill"),
        "PASSWORD": env("QUILL_DB_PASSWORD", default=""),
        "HOST": env("QUILL_DB_HOST", default="127.0.0.1"),
        "PORT": env("QUILL_DB_PORT", default="3306"),
        "CONN_MAX_AGE": 300,
        "CONN_HEALTH_CHECKS": True,  # a restarted database is noticed at the next request
        "OPTIONS": {
            "charset": "utf8mb4",
            "sql_mode": "STRICT_TRANS_TABLES,NO_ENGINE_SUBSTITUTION",
            "isolation_level": "read committed",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "offices.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "goodquill.offices.signing_in.Members"]
PASSWORD_HASHERS = ["goodquill.offices.passwords.Argon2"]
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"user_attributes": ("name", "email", "phone")},
    },
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = 0.25  # hours
AXES_RESET_ON_SUCCESS = True
SILENCED_SYSTEM_CHECKS = [
    "axes.W006",  # it asks for what AXES_LOCKOUT_PARAMETERS does otherwise
    "models.W037",  # the task table's partial index, which MariaDB does without
    "models.W043",  # and its order by expression
]
AXES_LOCKOUT_PARAMETERS = ["username"]  # the address is counted apart, in offices/signing_in.py
AXES_USERNAME_CALLABLE = "goodquill.offices.signing_in.counted_as"
AXES_LOCKOUT_CALLABLE = "goodquill.offices.signing_in.as_answered"
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False  # or a stranger could keep an account locked for good
AXES_USERNAME_FORM_FIELD = "username"  # as authenticate() is called
AXES_ENABLE_ADMIN = False
AXES_VERBOSE = False

# A cookie of this name is taken from our own host alone, over HTTPS; without HTTPS (the demo on loopback)
# there is no such.
SESSION_COOKIE_NAME = "__Host-session" if SECURE else "sessionid"
CSRF_COOKIE_NAME = "__Host-csrf" if SECURE else "csrftoken"
SESSION_COOKIE_AGE = env.int("QUILL_IDLE_HOURS", default=12) * 3600
"""Seconds after which a session without its user ends."""
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE
SESSION_ENGINE = "goodquill.offices.sessions"
SESSION_SECRET = env("QUILL_SESSION_SECRET", default=SECRET_KEY)
"""The secret that tags session keys; the proxy knows it, too (ops/nginx.conf)."""
CSRF_FAILURE_VIEW = "goodquill.http.problems.forbidden"
BEHIND_PROXY = env.bool("QUILL_BEHIND_PROXY", default=False)
"""Whether every request comes through our own proxy, which says whose it is (ops/nginx.conf)."""
SECURE_SSL_REDIRECT = env.bool("QUILL_SSL_REDIRECT", default=SECURE)
SECURE_HSTS_SECONDS = 31_536_000 if SECURE else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = SECURE
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if BEHIND_PROXY else None
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF, NONCE],
        "style-src": [SELF, NONCE],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["goodquill.http.endpoints.SignedIn"],
    "DEFAULT_PERMISSION_CLASSES": [
        "rest_framework.permissions.IsAuthenticated",
        "goodquill.offices.two_steps.SetUp",
    ],
    "DEFAULT_RENDERER_CLASSES": ["goodquill.http.endpoints.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["goodquill.http.endpoints.JSONParser"],
    "DEFAULT_SCHEMA_CLASS": "goodquill.http.schema.AutoSchema",
    "EXCEPTION_HANDLER": "goodquill.http.problems.problem",
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Good Quill",
    "VERSION": "1",
    "DESCRIPTION": "The interface between Good Quill's server and its screens.",
    "SCHEMA_PATH_PREFIX": "/api",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    "PATH_CONVERTER_OVERRIDES": {"row": {"type": "integer", "minimum": 0, "maximum": 10**18 - 1}},
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "goodquill.http.schema.with_problems",
    ],
    "ENUM_NAME_OVERRIDES": {
        "ClauseReachEnum": "goodquill.clauses.models.ClauseReach",
        "SideEnum": "goodquill.http.choices.SIDES",
        "MemberRoleEnum": "goodquill.offices.models.MemberRole",
        "SpotKindEnum": "goodquill.deals.markup.shapes.SPOT_KINDS",
        "ReachEnum": "goodquill.templates.models.TemplateReach",
        "OwnReachEnum": "goodquill.templates.models.OWN_REACH",
        "FindingWeightEnum": "goodquill.deals.shapes.WEIGHTS",
        "TemplateWeightEnum": "goodquill.templates.models.TemplateWeight",
        "RemarkWeightEnum": "goodquill.proofreading.shapes.WEIGHTS",
        "ProgressEnum": "goodquill.tasks.shapes.PROGRESS",
        "UrgencyEnum": "goodquill.tasks.shapes.URGENCY",
        "ResponsibleEnum": "goodquill.tasks.shapes.WHO",
        "RoundStateEnum": "goodquill.signing.models.STATES",
        "SentStateEnum": "goodquill.signing.signer.shapes.SENT_STATES",
        "HowFarEnum": "goodquill.signing.models.HOW_FAR",
        "MarkEnum": "goodquill.signing.shapes.MARKS",
        "DeliveredHowEnum": "goodquill.delivering.models.HOW",
        "ContactKindEnum": "goodquill.http.choices.CONTACT_KINDS",
        "HomeKindEnum": "goodquill.contacts.models.HOME_CHOICES",
    },
}

LANGUAGE_CODE = "en-us"
TIME_ZONE = "UTC"
USE_TZ = True
USE_I18N = False

STATIC_URL = "/static/"

WHITENOISE_ROOT = ROOT / "web" / "dist"
WHITENOISE_INDEX_FILE = False
WHITENOISE_ALLOW_ALL_ORIGINS = False
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[\w-]{8}\.\w+$"

FILES_FOLDER = Path(env("QUILL_FILES", default=str(ROOT / ".local" / "files")))
STORAGES = {
    "default": {
        "BACKEND": "goodquill.storage.files.WholeFiles",
        "OPTIONS": {
            "location": str(FILES_FOLDER),
            "allow_overwrite": True,  # by the same bytes: a file's name is said by what is in it
            "file_permissions_mode": 0o600,
            "directory_permissions_mode": 0o700,
        },
    },
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}

LISTING_SERVICE = {
    "url": env("LISTING_URL", default="http://127.0.0.1:9201"),
    "token": env("LISTING_TOKEN", default="demo-token"),
}
COUNTY_ROLL = {"url": env("ROLL_URL", default="http://127.0.0.1:9202")}
MEMBER_REGISTRY = {"url": env("REGISTRY_URL", default="http://127.0.0.1:9203")}
SOURCE_TIMEOUT = env.float("QUILL_SOURCE_TIMEOUT", default=4.0)
"""Seconds an outside service gets before the deal goes on without it."""

SEAL_FOLDER = Path(env("QUILL_SEAL", default=str(ROOT / ".local" / "seal")))
"""The folder of the seal's key and certificate, and that of the authority above them: see
docs/operations.md."""
TIME_STAMPS = {"url": env("STAMPS_URL", default="http://127.0.0.1:9204")}

TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
SITE_URL = env("QUILL_URL", default="http://127.0.0.1:8000").rstrip("/")
"""The address at which people reach the product: links in letters begin with it."""
MAIL_DOMAIN = env("QUILL_MAIL_DOMAIN", default="goodquill.example")
DEFAULT_FROM_EMAIL = env("QUILL_MAIL_FROM", default=f"Good Quill <letters@{MAIL_DOMAIN}>")
EMAIL_HOST = env("QUILL_SMTP_HOST", default="127.0.0.1")
EMAIL_PORT = env.int("QUILL_SMTP_PORT", default=25)
EMAIL_HOST_USER = env("QUILL_SMTP_USER", default="")
EMAIL_HOST_PASSWORD = env("QUILL_SMTP_PASSWORD", default="")
EMAIL_USE_TLS = env.bool("QUILL_SMTP_TLS", default=False)
EMAIL_TIMEOUT = 20

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"without_addresses": {"()": "goodquill.http.problems.WithoutAddresses"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["without_addresses"]}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # These write who tried to sign in, and what people sent.
    "loggers": {
        "axes": {"level": "CRITICAL"},
        "vobject": {"level": "CRITICAL"},
        "httpx": {"level": "CRITICAL"},
    },
}

MADE_READY = env.bool("QUILL_MADE_READY", default=True)
"""Whether a worker reads catalog, forms and fonts before its first visitor; tests have no database then."""

"""Settings: everything that differs between copies comes from the environment the launcher sets."""

from __future__ import annotations

import logging
import os
from pathlib import Path
from typing import Any

from common import request_log

ROOT = Path(__file__).resolve().parents[2]
VAR = Path(os.environ.get("EMBER_VAR", ROOT / "var" / "test"))
DEMO = os.environ.get("EMBER_DEMO") == "1"
DEBUG = False
# A key of its own is made by the launcher for each copy; commands that serve nothing run without one.
SECRET_KEY = os.environ.get("EMBER_SECRET_KEY", "no-copy-no-sessions")
# Loopback only: whoever serves this to others puts a proxy with TLS in front and names its host here.
ALLOWED_HOSTS = ["127.0.0.1", "localhost", *filter(None, os.environ.get("EMBER_HOSTS", "").split(","))]
BEHIND_TLS = os.environ.get("EMBER_BEHIND_TLS") == "1"
if BEHIND_TLS:
    # Said by the proxy on this machine, which overwrites what a stranger sends.
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_HSTS_SECONDS = 365 * 24 * 3600
    CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "rest_framework",
    "drf_spectacular",
    "django_filters",
    "axes",
    "csp",
    "django_tasks",
    "django_tasks_db",
    "wording",
    "accounts",
    "audit",
    "sites",
    "staff",
    "parts",
    "loops",
    "judging",
    "judgements",
    "bench",
    "jobs",
    "standins",
    "survey",
    "work",
    "fitting",
    "visits",
    "proving",
    "setup",
    "handover",
    "demo",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "common.request_log.RequestLog",
    "django.middleware.gzip.GZipMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.locale.LocaleMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "staff.sign_ins.IdleMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "ember_server.urls"
WSGI_APPLICATION = "ember_server.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {"context_processors": ["django.template.context_processors.request"]},
    }
]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.mysql",
        "NAME": "ember",
        "USER": os.environ.get("EMBER_DB_USER", "ember"),
        "PASSWORD": os.environ.get("EMBER_DB_PASSWORD", ""),
        "HOST": "127.0.0.1",
        "PORT": os.environ.get("EMBER_DB_PORT", "3420"),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {
            "charset": "utf8mb4",
            "isolation_level": "read committed",
            "init_command": "SET sql_mode='STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,"
            "NO_ENGINE_SUBSTITUTION'",
        },
        "TEST": {"CHARSET": "utf8mb4", "COLLATION": "utf8mb4_unicode_520_ci"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
]
# Ten wrong passwords for one name lock that name for a quarter of an hour.
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = 0.25
AXES_LOCKOUT_PARAMETERS = ["username"]
AXES_LOCKOUT_CALLABLE = "common.problems.locked_out"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
SILENCED_SYSTEM_CHECKS = ["axes.W006"]  # proxies are the business of whoever puts one in front

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = BEHIND_TLS
SESSION_COOKIE_NAME = f"ember_session_{os.environ.get('EMBER_APP_PORT', '0')}"
CSRF_COOKIE_NAME = f"ember_csrf_{os.environ.get('EMBER_APP_PORT', '0')}"
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY: dict[str, Any] = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "script-src": ["'self'"],
        # The form library writes its styles at run time.
        "style-src": ["'self'", "'unsafe-inline'"],
        "img-src": ["'self'", "data:"],
        "object-src": ["'none'"],
        "frame-ancestors": ["'none'"],
        "base-uri": ["'self'"],
        "form-action": ["'self'"],
    }
}

LANGUAGE_CODE = "en"
LANGUAGES = [("en", "English"), ("de", "Deutsch")]
# The page reads it too, before it shows a first word.
LANGUAGE_COOKIE_NAME = "ember_language"
LANGUAGE_COOKIE_AGE = 365 * 24 * 3600
USE_I18N = True
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "/static/"
STATIC_ROOT = VAR / "static"
WEB_DIST = ROOT / "web" / "dist"
STATICFILES_DIRS = [("app", WEB_DIST)] if WEB_DIST.exists() else []
# The interface lies there compressed as well, by its build.
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
# The build puts a hash of the content into every file name below assets/.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/app/assets/"
CSRF_FAILURE_VIEW = "common.problems.csrf_failure"
MEDIA_ROOT = VAR / "media"
# What answers where no real device is named.
STAND_INS = {"meter": "standins.meter", "hub": "standins.hub_server"}
# host:port of a bench meter that speaks SCPI over TCP; empty means the stand-in that ships with this.
METER_ADDRESS = os.environ.get("EMBER_METER", "")
# The most that any address reads; most read far less (`parsing.MOST_BYTES`).
DATA_UPLOAD_MAX_MEMORY_SIZE = 6_000_000

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [
        "accounts.authentication.SessionAuthentication",
        "accounts.authentication.TokenAuthentication",
    ],
    "DEFAULT_PERMISSION_CLASSES": ["sites.access.Member"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["common.parsing.StrictJSONParser"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "DEFAULT_PAGINATION_CLASS": "common.paging.Page",
    "DEFAULT_FILTER_BACKENDS": ["django_filters.rest_framework.DjangoFilterBackend"],
    "EXCEPTION_HANDLER": "common.problems.as_problem",
    # Who asks is told by the one proxy in front, where there is one.
    "NUM_PROXIES": 1 if BEHIND_TLS else 0,
    "DEFAULT_THROTTLE_RATES": {"sign_in": "30/min", "judge": "600/min"},
    "TEST_REQUEST_DEFAULT_FORMAT": "json",
    "COERCE_DECIMAL_TO_STRING": False,
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Ember Thread",
    "DESCRIPTION": "Judges two-wire switch loops. SI units; unit and kind of value are in each name.",
    "VERSION": "1",
    "COMPONENT_SPLIT_REQUEST": True,
    "SERVE_INCLUDE_SCHEMA": False,
    "SERVE_PERMISSIONS": ["rest_framework.permissions.IsAuthenticated"],
    "SCHEMA_PATH_PREFIX": r"/api/v1",
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "common.shapes.with_problems",
    ],
    "ENUM_NAME_OVERRIDES": {
        "TokenScopeEnum": "accounts.models.TokenScope.choices",
        "WayEnum": "work.api.shapes.WAYS",
        "AtEnum": "work.api.shapes.AT",
        "WhoseEnum": "work.api.shapes.WHOSE",
        "VerdictEnum": "judging.verdicts.VerdictWord.choices",
        "FitStatusEnum": "loops.models.FitStatus.choices",
        "RoleEnum": "accounts.models.Role.choices",
        "RegionEnum": "sites.models.Region.choices",
        "CategoryEnum": "parts.models.Category.choices",
        "OutcomeEnum": "fitting.api.shapes.OUTCOMES",
        "ProveOutcomeEnum": "proving.api.shapes.OUTCOMES",
        "HeardEnum": "proving.models.Heard.choices",
        "ReachEnum": "setup.api.shapes.REACHES",
        "RadioVerdictEnum": "setup.api.shapes.LINKS",
        "BandEnum": "setup.api.shapes.BANDS",
        "RadioKindEnum": "setup.api.shapes.KINDS",
        "FailureEnum": "setup.api.shapes.FAILURES",
        "StillWorksEnum": "setup.api.shapes.WORKS",
        "TryActEnum": "setup.api.shapes.TRY_ACTS",
        "CameEnum": "setup.models.Came.choices",
        "SignerEnum": "handover.models.Signer.choices",
        "SignWayEnum": "handover.models.Way.choices",
        "NextStepEnum": "loops.models.NextStep.choices",
        "WorksEnum": "judging.verdicts.WorksWord.choices",
        "NextActionEnum": "judging.api.shapes_overall.ACTIONS",
        "AspectEnum": "judging.api.shapes_overall.ASPECTS",
        "HealthEnum": "ember_server.health.HEALTH_WORDS",
        "KindCategoryEnum": "judging.api.shapes.KIND_CATEGORIES",
        "StandbyStateEnum": "judging.api.shapes.STANDBY_STATES",
        "LampStateEnum": "judging.api.shapes.LAMP_STATES",
        "SourceEnum": "judging.api.shapes.SOURCES",
        "SeverityEnum": "judging.api.shapes.SEVERITIES",
        "FormEnum": "judging.api.shapes.FORMS",
        "LoadStateEnum": "judging.api.shapes_lit.LOAD_STATES",
        "PartsFormatEnum": "parts.api.shapes.FORMATS",
        "GoesEnum": "judging.api.shapes_lit.GOES",
        "LitViewEnum": "judging.api.shapes_lit.VIEWS",
        "CycleMarkEnum": "judging.api.shapes_lit.MARKS",
        "LoadSideEnum": "judging.api.shapes_lit.LOAD_SIDES",
        "LoadOriginEnum": "judging.api.shapes_lit.LOAD_ORIGINS",
        "EdgeEnum": "judging.api.shapes_lit.EDGES",
        "JobKindEnum": "jobs.models.Kind.choices",
        "JobStateEnum": "jobs.models.State.choices",
        "PlaceEnum": "bench.api.shapes.PLACES",
        "SchoolEnum": "judging.api.shapes_bypass.SCHOOLS",
        "SaidEnum": "judging.api.shapes_bypass.SAID",
        "BypassVerdictEnum": "judging.api.shapes_bypass.BYPASS_VERDICTS",
        "MeasurementKindEnum": "judging.api.shapes_spread.MEASUREMENT_KINDS",
        "PresenceEnum": "survey.api.shapes.PRESENCE",
        "CertaintyEnum": "survey.api.shapes.CERTAINTY",
        "FitEnum": "survey.api.shapes.FITS",
        "MeterFaultEnum": "standins.meter_server.FAULTS",
        "SwitchPositionEnum": "survey.api.shapes.POSITIONS",
        "OriginEnum": "survey.models.Origin.choices",
        "MomentEnum": "survey.models.Moment.choices",
        "SurveyStepEnum": "survey.api.shapes.STEPS",
        "OccasionEnum": "loops.models.Occasion.choices",
        "ScopeEnum": "survey.api.shapes.SCOPES",
        "ProofEventEnum": "survey.api.shapes.EVENT_KINDS",
        "ProofStateEnum": "survey.api.shapes.PROOF_STATES",
        "WhyEnum": "survey.api.shapes.WHYS",
        "ChargeEnum": "survey.api.shapes.CHARGES",
        "MeterFunctionEnum": "survey.services.metering.FUNCTIONS",
    },
}
# Entries of what is to be done; `jobs` says who does them.
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
CACHES = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}}
request_log.configure()
# Only where a server serves: commands and tests speak on standard error.
LOGGING = request_log.logging_of(VAR / "served", to_file=os.environ.get("EMBER_SERVES") == "1")
DJANGO_STRUCTLOG_USER_ID_FIELD = None
DJANGO_STRUCTLOG_IP_LOGGING_ENABLED = False
DJANGO_STRUCTLOG_TRUST_UPSTREAM_REQUEST_ID = False
DJANGO_STRUCTLOG_STATUS_START_LOG_LEVEL = logging.DEBUG
DJANGO_STRUCTLOG_STATUS_4XX_LOG_LEVEL = logging.INFO
DJANGO_STRUCTLOG_STATUS_5XX_LOG_LEVEL = logging.WARNING

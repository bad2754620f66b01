"""Settings. Everything that differs between machines comes from the environment; the defaults serve one person."""

from pathlib import Path

import environ
from django.core.management.utils import get_random_secret_key

from darre import where
from darre.network.addresses import own_addresses, own_names
from darre.network.kept import read_kept

BASE_DIR, PAGE_DIR, VAR_DIR = where.BASE_DIR, where.PAGE_DIR, where.VAR_DIR
VAR_DIR.mkdir(mode=0o700, parents=True, exist_ok=True)

env = environ.Env()


def kept_secret(path: Path) -> str:
    """A secret made at the first start and kept beside the database, so that none stands in the code."""
    if not path.exists():
        path.write_text(get_random_secret_key(), "utf-8")
        path.chmod(0o600)
    return path.read_text("utf-8")


SECRET_KEY = env("DARRE_SECRET_KEY", default="") or kept_secret(VAR_DIR / "secret_key")
DEBUG = env.bool("DARRE_DEBUG", default=False)
DATABASE = Path(env("DARRE_DB", default=str(VAR_DIR / "darre.sqlite3")))

# Only names of this machine are answered, so that no other site can pose as this one; those by which other devices
# know it come to them once they are let in (DARRE_NETWORK=0 shuts them out, whatever Settings says).
OWN_NAMES = ["127.0.0.1", "localhost", "[::1]"]
_KEPT = read_kept(DATABASE)
NETWORK_OPEN = env.bool("DARRE_NETWORK", default=_KEPT.open)
NETWORK_NAMES = [*own_names(), *_KEPT.names, *env.list("DARRE_HOSTS", default=[])]
TLS_CERTIFICATE, TLS_KEY = env("DARRE_TLS_CERTIFICATE", default=""), env("DARRE_TLS_KEY", default="")
ALLOWED_HOSTS = [*OWN_NAMES, *NETWORK_NAMES, *own_addresses()] if NETWORK_OPEN else list(OWN_NAMES)

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "rest_framework",
    "drf_spectacular",
    "darre.common",
    "darre.accounts",
    "darre.backup",
    "darre.history",
    "darre.inventory",
    "darre.places",
    "darre.equipment",
    "darre.runs",
    "darre.moisture",
    "darre.planning",
    "darre.schedule",
    "darre.trials",
    "darre.devices",
    "darre.diagnosis",
    "darre.exchange",
    "darre.demo",
]

MIDDLEWARE = [
    "darre.common.front_door.FrontDoor",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "darre.accounts.gate.Gate",
    "darre.inventory.middleware.OfThisWorkshop",
    "darre.history.middleware.ActingPerson",
    "darre.history.middleware.DoneOnce",
]

ROOT_URLCONF = "darre.urls"
WSGI_APPLICATION = "darre.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": str(DATABASE),
        # A connection for each thread, kept: the write-ahead log then stays, and reading goes on when the disk is full.
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            # FULL, not NORMAL: a weigh-in is on the disk before its answer is out, even if the power goes.
            "init_command": "PRAGMA journal_mode=WAL;PRAGMA synchronous=FULL;PRAGMA foreign_keys=ON;",
        },
        # A file, since the browser tests' server thread needs its own connection.
        # Made from the models at once: that the migrations come to the same is looked at by itself.
        "TEST": {"NAME": str(VAR_DIR / "test.sqlite3"), "MIGRATE": False},
    }
}
PHOTO_DIR = Path(env("DARRE_PHOTOS", default=str(VAR_DIR / "photos")))
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"

# Accounts and sessions matter only where other devices are let in. What they bear goes over TLS, or stays on this
# machine: its own plain door is bound to the loopback.
AUTH_USER_MODEL = "accounts.Account"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}Validator", "OPTIONS": options}
    for name, options in (
        ("MinimumLength", {"min_length": 10}),
        ("CommonPassword", {}),
        ("NumericPassword", {}),
        ("UserAttributeSimilarity", {"user_attributes": ["name"]}),
    )
]
PASSWORD_RESET_TIMEOUT = 2 * 24 * 3600  # how long an invitation holds
SESSION_COOKIE_NAME, SESSION_COOKIE_AGE = "darre_session", 60 * 24 * 3600
SESSION_COOKIE_HTTPONLY, SESSION_COOKIE_SAMESITE = True, "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = NETWORK_OPEN
CSRF_COOKIE_NAME, CSRF_COOKIE_SAMESITE = "darre_token", "Lax"
SILENCED_SYSTEM_CHECKS = [
    "security.W002",  # the front door says it on every answer
    "security.W004",  # a browser that is told to insist takes no certificate that was made here
    "security.W008",  # plain HTTP is bound to this machine alone
]

STATIC_URL = "/static/"
WHITENOISE_ROOT = PAGE_DIR
WHITENOISE_USE_FINDERS = False
WHITENOISE_ALLOW_ALL_ORIGINS = False
WHITENOISE_AUTOREFRESH = DEBUG
WHITENOISE_MIMETYPES = {".webmanifest": "application/manifest+json"}


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:  # noqa: N802  the name is WhiteNoise's
    """Files that the page's build names by their content may be kept for ever."""
    return url.startswith("/assets/")


REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [],
    "DEFAULT_PERMISSION_CLASSES": [],
    "UNAUTHENTICATED_USER": None,
    "NUM_PROXIES": 0,  # who counts the tries to sign in trusts no header
    # JSON alone, in and out: a page of another site cannot send JSON here without asking first, and is not answered.
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["darre.common.parser.BoundedJSONParser"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "darre.common.errors.answer_error",
    "TEST_REQUEST_DEFAULT_FORMAT": "json",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Darre",
    "DESCRIPTION": "Spools, drying runs and weighings. Units stand in the names; moisture is percent of the dry mass.",
    "VERSION": "0.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    "ENUM_GENERATE_CHOICE_DESCRIPTION": False,
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "darre.common.schema.answers_are_whole",
    ],
    "ENUM_NAME_OVERRIDES": {
        "TareMethodEnum": "drying.weighing.tare.TareMethod",
        "RunStateEnum": "drying.runs.verdict.RunState",
        "MoistureLevelEnum": "drying.materials.thresholds.MoistureLevel",
        "LimitKindEnum": "drying.dryers.limits.LimitKind",
        "CautionKindEnum": "drying.planning.cautions.CautionKind",
        "AlternativeKindEnum": "drying.planning.alternatives.AlternativeKind",
        "OutcomeEnum": "drying.planning.alternatives.Outcome",
        "RiskEnum": "drying.planning.alternatives.Risk",
        "SpoolColumnEnum": "darre.runs.spool_table.MEANINGS",
        "WeighingColumnEnum": "darre.runs.weighing_table.MEANINGS",
        "EmptyColumnEnum": "darre.runs.empty_table.MEANINGS",
        "PastRunColumnEnum": "darre.planning.past_table.MEANINGS",
        "TrialKindEnum": "darre.trials.api.serializers.KINDS",
        "WhatIfKindEnum": "darre.schedule.api.serializers.WHAT_IFS",
        "DryerKindEnum": "darre.equipment.api.serializers.DRYER_KINDS",
        "EventKindEnum": "darre.runs.models.EventKind",
        "EmptySpoolKindEnum": "darre.inventory.api.spool_serializers.EMPTY_SPOOL_KINDS",
        "DesiccantKindEnum": "darre.places.api.serializers.DESICCANT_KINDS",
        "IndicatorEnum": "darre.places.api.serializers.INDICATORS",
        "PouchEnum": "darre.places.api.serializers.POUCHES",
        "BasisEnum": "darre.inventory.models.MoistureReading.Basis",
        "ActionEnum": "drying.moisture.next_action.Action",
        "WeighedObjectEnum": "darre.runs.models.Weighing.Object",
        "DeviceKindEnum": "darre.devices.models.DeviceKind",
        "AirStateEnum": "drying.air.box_air.AirState",
        "MethodEnum": "drying.planning.choose.METHODS",
        "ProgrammeMethodEnum": "drying.planning.choose.PROGRAMME_METHODS",
        "ProgrammeNameEnum": "drying.materials.own_values.PROGRAMME_NAMES",
        "CalibrationKindEnum": "darre.equipment.api.serializers.CALIBRATION_KINDS",
        "FormEnum": "darre.inventory.models.Spool.Form",
        "SideEnum": "darre.diagnosis.models.Side",
        "FeatureEnum": "darre.diagnosis.models.Feature",
        "VerdictKindEnum": "darre.diagnosis.api.serializers.VERDICTS",
        "StrengthMethodEnum": "darre.diagnosis.models.StrengthTest.Method",
        "ChanceInWordsEnum": "drying.diagnosis.bayes.ChanceInWords",
        "SpreadFindingEnum": "drying.diagnosis.comparison.SpreadFinding",
        "SignEnum": "darre.diagnosis.api.serializers.SIGNS",
        "CauseEnum": "darre.diagnosis.api.serializers.CAUSES",
        "CheckEnum": "darre.diagnosis.api.serializers.CHECKS",
        "PlaceKindEnum": "darre.places.api.serializers.PLACE_KINDS",
    },
}

TEST_RUNNER = "darre.demo.tests.runner.RunnerWithWorld"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {
        "django.request": {"level": "ERROR"},
        "django.security.DisallowedHost": {"level": "CRITICAL"},
    },  # a refusal is an answer, not a fault of the server
    "root": {"handlers": ["console"], "level": "WARNING"},
}

"""Django settings. Everything that differs between machines comes from the environment."""

import os
import secrets
from contextlib import suppress
from datetime import timedelta
from pathlib import Path

BASE = Path(__file__).resolve().parent
VAR = Path(os.environ.get("ASHFELL_VAR", Path.cwd() / "var"))
"""Where the database, pictures and keys are kept."""
os.umask(0o077)  # what is written there is for nobody else


def _secret_key() -> str:
    """From the environment, else made once and kept."""
    if "ASHFELL_SECRET_KEY" in os.environ:
        return os.environ["ASHFELL_SECRET_KEY"]
    kept = VAR / "secret-key"
    if not kept.exists():
        VAR.mkdir(mode=0o700, parents=True, exist_ok=True)
        part = VAR / f"secret-key.{os.getpid()}"
        part.write_text(secrets.token_urlsafe(50))
        # Whole or not at all, and the same for all who start at once.
        with suppress(FileExistsError):
            os.link(part, kept)
        part.unlink()
    return kept.read_text()


SECRET_KEY = _secret_key()
SCHEDULER = os.environ.get("ASHFELL_SCHEDULER", "")
COUNTERS_KEY = os.environ.get("ASHFELL_COUNTERS_KEY", "")
COUNTED = VAR / "counters"
"""Where the processes of the server count."""
COUNTED.mkdir(parents=True, exist_ok=True)
os.environ["PROMETHEUS_MULTIPROC_DIR"] = str(COUNTED)
DEBUG = os.environ.get("ASHFELL_DEBUG") == "1"
ALLOWED_HOSTS = os.environ.get("ASHFELL_HOSTS", "localhost 127.0.0.1 [::1]").split()
CSRF_TRUSTED_ORIGINS = os.environ.get("ASHFELL_ORIGINS", "").split()

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "csp",
    "django_tasks",
    "django_tasks_db",
    "ashfell.services.kept",
    "ashfell.studio.projects",
    "ashfell.studio.units",
    "ashfell.studio.finishes",
    "ashfell.studio.pictures",
    "ashfell.studio.handover",
    "ashfell.studio.intake",
    "ashfell.studio.people",
    "ashfell.studio.keeping",
    "axes",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "ashfell.studio.api",
]
MIDDLEWARE = [
    "ashfell.studio.keeping.telling.Telling",
    "ashfell.studio.keeping.turns.Turns",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django_otp.middleware.OTPMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "ashfell.studio.people.places.Places",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "csp.middleware.CSPMiddleware",
    "ashfell.studio.answers.Refusals",
    "ashfell.studio.people.roles.Roles",
    "axes.middleware.AxesMiddleware",
]
PROXIED = os.environ.get("ASHFELL_PROXY") == "1"
if PROXIED:
    MIDDLEWARE.insert(0, "ashfell.studio.keeping.proxy.Proxy")
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
ROOT_URLCONF = "ashfell.studio.urls"
WSGI_APPLICATION = "ashfell.studio.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [BASE / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ]
        },
    }
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": VAR / "ashfell.sqlite3",
        "CONN_MAX_AGE": 60,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        "TEST": {"NAME": VAR / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
STORED = int(float(os.environ.get("ASHFELL_STORED_GIB", "20")) * 2**30)
"""How many bytes of pictures and files one person may have."""
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}

LOGIN_URL, LOGIN_REDIRECT_URL, LOGOUT_REDIRECT_URL = "sign-in", "projects", "sign-in"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]

AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "ashfell.studio.people.sessions.Known"]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_TEMPLATE = "429.html"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
PASSWORD_RESET_TIMEOUT = 3600

EMAIL_BACKEND = os.environ.get("ASHFELL_MAIL", "django.core.mail.backends.filebased.EmailBackend")
EMAIL_FILE_PATH = VAR / "mail"
"""Mail that is not sent is written there."""
EMAIL_HOST, EMAIL_PORT = (
    os.environ.get("ASHFELL_MAIL_HOST", "localhost"),
    int(os.environ.get("ASHFELL_MAIL_PORT", "25")),
)
DEFAULT_FROM_EMAIL = os.environ.get("ASHFELL_MAIL_FROM", "ashfell@localhost")

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"bare": {"format": "%(message)s"}},
    "handlers": {"told": {"class": "logging.StreamHandler", "formatter": "bare"}},
    "loggers": {
        "ashfell.requests": {"handlers": ["told"], "level": os.environ.get("ASHFELL_LOG", "INFO"), "propagate": False},
        "ashfell.faults": {"handlers": ["told"], "level": "ERROR", "propagate": False},
    },
}

LANGUAGE_CODE, USE_I18N = "en", False
TIME_ZONE, USE_TZ = "UTC", True
STATIC_URL = "/static/"
STATICFILES_DIRS = [BASE / "static"]
WHITENOISE_USE_FINDERS = True
WHITENOISE_MAX_AGE = 0 if DEBUG else 300

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'none'"],
        "script-src": ["'self'"],
        "style-src": ["'self'"],
        "font-src": ["'self'"],
        "img-src": ["'self'", "data:", "blob:"],
        "connect-src": ["'self'", "blob:"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
        "base-uri": ["'none'"],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
SESSION_ENGINE = "ashfell.studio.people.sessions"
SESSION_COOKIE_HTTPONLY = True
SECURE = os.environ.get("ASHFELL_HTTPS") == "1"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE
SECURE_SSL_REDIRECT = SECURE
SECURE_HSTS_SECONDS = 31_536_000 if SECURE else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = SECURE
if SECURE:
    SESSION_COOKIE_NAME, CSRF_COOKIE_NAME = "__Host-session", "__Host-csrf"
SESSION_COOKIE_AGE = 7 * 24 * 3600
IDLE = timedelta(hours=float(os.environ.get("ASHFELL_IDLE_HOURS", "12")))
"""After how long without a request somebody is signed out."""
OTP_TOTP_ISSUER = "Ashfell"
SESSION_SAVE_EVERY_REQUEST = False
DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024

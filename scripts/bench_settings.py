"""Settings of `make bench`: as the tests', with Django's own admin beside the application to hold its lists against."""

from tests.settings import *  # noqa: F403
from tests.settings import INSTALLED_APPS

INSTALLED_APPS = [*INSTALLED_APPS, "django.contrib.admin"]
ROOT_URLCONF = "scripts.bench_admin"

"""All checks. No test depends on how fast the machine is: examples have no deadline."""

import logging

from hypothesis import settings

settings.register_profile("unhurried", deadline=None)
settings.load_profile("unhurried")

# Requests that are refused are what many tests are about.
logging.getLogger("django.request").setLevel(logging.ERROR)
logging.getLogger("django.security.csrf").setLevel(logging.ERROR)

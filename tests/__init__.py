"""All checks. No test depends on how fast the machine is: examples have no deadline."""

from hypothesis import settings

settings.register_profile("unhurried", deadline=None)
settings.load_profile("unhurried")

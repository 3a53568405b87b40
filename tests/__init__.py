"""All checks. No test depends on how fast the machine is: examples have no deadline.

Examples are the same in each run, so that what was green stays green; ``make explore`` draws new ones.
"""

import os

from hypothesis import settings

settings.register_profile("the same each time", deadline=None, derandomize=True)
settings.register_profile("new ones", deadline=None)
settings.load_profile("new ones" if "EXPLORE" in os.environ else "the same each time")

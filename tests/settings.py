"""Settings for tests: the product's own, with a private database and stand-ins on free loopback ports."""

import os
import tempfile
from pathlib import Path

from ops.processes import free_port, owner

os.environ.setdefault("QUILL_SECRET_KEY", "only-for-tests")
os.environ["QUILL_SECURE"] = "0"
os.environ["QUILL_DEMO"] = "1"
os.environ["QUILL_MADE_READY"] = "0"
os.environ["QUILL_SOURCE_TIMEOUT"] = "1.5"
os.environ["QUILL_DB_PORT"] = str(free_port())
os.environ["LISTING_URL"] = f"http://127.0.0.1:{free_port()}"
os.environ["ROLL_URL"] = f"http://127.0.0.1:{free_port()}"
os.environ["REGISTRY_URL"] = f"http://127.0.0.1:{free_port()}"
os.environ["STAMPS_URL"] = f"http://127.0.0.1:{free_port()}"
os.environ["QUILL_SMTP_PORT"] = str(free_port())
MAIL_PAGE = f"http://127.0.0.1:{free_port()}"
FOLDER = Path(tempfile.mkdtemp(prefix="quill-test-"))
os.environ.update(owner(FOLDER / "db"))
os.environ["QUILL_SEAL"] = str(FOLDER / "seal")
os.environ["QUILL_FILES"] = tempfile.mkdtemp(prefix="quill-test-files-")

from goodquill.runtime.settings import *  # noqa: F403

DATABASES["default"]["CONN_MAX_AGE"] = 0  # noqa: F405
DATABASES["default"]["TEST"] = {"NAME": DATABASES["default"]["NAME"]}  # noqa: F405
# The product's own takes a third of a second on purpose, some hundred times; journeys and faults have it.
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

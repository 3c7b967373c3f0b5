"""What tests share: a private MariaDB and the stand-ins, each started once, only where a test asks for it."""

from __future__ import annotations

import fcntl
import gc
import os
import shutil
import subprocess
import tempfile
from collections.abc import Callable, Iterator
from contextlib import ExitStack
from pathlib import Path
from urllib.parse import urlsplit

import goodquill
import httpx
import hypothesis
import pytest
import quillcore
from django.conf import settings

from ops.processes import (
    database_client,
    make_seal,
    owner,
    start_database,
    start_mail,
    start_stamps,
    start_stand_in,
)
from tests.running import LOOPBACK, Running, fill_world, migrate
from tests.settings import FOLDER

# A machine may pause: a law holds or not, however long an example took.
hypothesis.settings.register_profile("quill", deadline=None)
hypothesis.settings.load_profile("quill")


SHARED = "QUILL_TEST_SHARED"
ROOT = Path(__file__).resolve().parents[1]


def pytest_configure(config: pytest.Config) -> None:
    """Where a run's workers find what one of them has made for all; whoever starts several runs may name a
    folder for them.  A run tests the tree that it stands in, and no other."""
    for package in (quillcore, goodquill):
        if not Path(package.__file__ or "").is_relative_to(ROOT):
            pytest.exit(
                f"{package.__name__} comes from {package.__file__}, not from {ROOT}: unset PYTHONPATH", 3
            )
    if SHARED not in os.environ:
        os.environ[SHARED] = tempfile.mkdtemp(prefix="quill-test-shared-")
        config.add_cleanup(lambda: shutil.rmtree(os.environ[SHARED], ignore_errors=True))


MUCH_IN_LITTLE = {"test_fuzz.py", "test_demo.py"}


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Files that take long first, or one of them keeps a single worker busy at the end while the others have
    nothing left.  A file's size says about how long it takes; the faults wait for restarts."""
    orders: dict[Path, tuple[bool, int]] = {}
    for path in {item.path for item in items}:
        is_long = path.parent.name == "faults" or path.name in MUCH_IN_LITTLE
        orders[path] = not is_long, -path.stat().st_size
    items.sort(key=lambda item: orders[item.path])


def pytest_collection_finish() -> None:
    """What all tests use stays to the end: looking through it for what may go took a twentieth of them."""
    gc.collect()
    gc.freeze()


def made_once(name: str, make: Callable[[Path], None]) -> Path:
    """A folder that the first worker makes which asks for it, and the others wait for."""
    made, lock = (Path(os.environ[SHARED]) / part for part in (name, f"{name}.lock"))
    with lock.open("w") as turn:
        fcntl.flock(turn, fcntl.LOCK_EX)
        if not made.exists():
            making = made.with_suffix(".making")
            shutil.rmtree(making, ignore_errors=True)  # by a worker that failed
            make(making)
            making.rename(made)
    return made


@pytest.fixture(scope="session")
def empty_database() -> Path:
    """A database at rest with its tables, in a folder that can be copied."""
    return made_once("empty", migrate)


@pytest.fixture(scope="session")
def folder() -> Iterator[Path]:
    """A folder of this run's own, removed afterwards."""
    yield FOLDER
    shutil.rmtree(FOLDER, ignore_errors=True)


@pytest.fixture(scope="session")
def django_db_keepdb() -> bool:
    """The database has its tables already, and goes with its folder."""
    return True


@pytest.fixture(scope="session")
def django_db_modify_db_settings(folder: Path, empty_database: Path) -> Iterator[None]:
    """pytest-django's hook before the test database is made: the server has to be there."""
    own = shutil.ignore_patterns("*password")  # which the settings know already
    shutil.copytree(empty_database, folder, ignore=own, dirs_exist_ok=True)
    port = int(settings.DATABASES["default"]["PORT"])
    with start_database(folder / "db", port):
        # A test that commits is cleared up after, which the product's own account can't do.
        forget = "DROP TRIGGER IF EXISTS signing_happening_stays"
        command = [*database_client(folder / "db", port, whose=owner), "goodquill", "-e", forget]
        subprocess.run(command, check=True)
        yield


def stand_in_addresses() -> dict[str, str]:
    return {
        "listing": settings.LISTING_SERVICE["url"],
        "roll": settings.COUNTY_ROLL["url"],
        "registry": settings.MEMBER_REGISTRY["url"],
    }


@pytest.fixture(scope="session")
def stand_ins(folder: Path) -> Iterator[None]:
    """All of them."""
    with ExitStack() as running:
        for name, url in stand_in_addresses().items():
            running.enter_context(start_stand_in(name, urlsplit(url).port or 0, folder))
        yield


@pytest.fixture(scope="session")
def seal(folder: Path) -> Path:
    """A folder with an authority of the tests' own."""
    make_seal(settings.SEAL_FOLDER)
    return Path(settings.SEAL_FOLDER)


@pytest.fixture(scope="session")
def stamps(folder: Path, seal: Path) -> Iterator[None]:
    """The time stamp stand-in."""
    with start_stamps(urlsplit(settings.TIME_STAMPS["url"]).port or 0, seal, folder):
        yield


@pytest.fixture(scope="session")
def post_office(folder: Path) -> Iterator[None]:
    """The mail stand-in."""
    port, smtp = urlsplit(settings.MAIL_PAGE).port or 0, settings.EMAIL_PORT
    with start_mail(port, smtp, folder / "mail", folder):
        yield


@pytest.fixture(scope="session")
def demo_world(empty_database: Path, stand_ins: None) -> Path:
    """The demo world at rest, made once."""

    def make(folder: Path) -> None:
        shutil.copytree(empty_database, folder)
        fill_world(folder)

    return made_once("world", make)


@pytest.fixture(scope="module")
def web_workers() -> int:
    """How many serve the product."""
    return 2


@pytest.fixture(scope="session")
def kept_running() -> Iterator[dict[int, Running]]:
    """The products of this run's worker, by how many web workers they have."""
    kept: dict[int, Running] = {}
    yield kept
    for product in kept.values():
        product.web.stop()


@pytest.fixture(scope="module")
def running(
    folder: Path, demo_world: Path, web_workers: int, kept_running: dict[int, Running]
) -> Iterator[Running]:
    """The running product, with a world of its own for each file of tests: what one file does to a deal is
    never met by another, however the files are handed out."""
    product = kept_running.get(web_workers)
    if product is None:
        product = Running(folder / f"product-{web_workers}", demo_world, web_workers)
        kept_running[web_workers] = product
    else:
        product.begin_anew(demo_world)
    yield product
    product.database.stop()


@pytest.fixture
def mood(stand_ins: None) -> Iterator[object]:
    """Makes a stand-in slow, down or wrong for one test."""

    def put(url: str, mood: str, seconds: float = 3) -> None:
        httpx.post(f"{url}/_mood", json={"mood": mood, "seconds": seconds}, **LOOPBACK).raise_for_status()

    yield put
    for url in stand_in_addresses().values():
        put(url, "well")

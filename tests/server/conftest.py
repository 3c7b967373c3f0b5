"""Fixtures of the server's tests."""

from __future__ import annotations

import pytest

from tests.server.world import Speaker, World, make_world


@pytest.fixture
def world(db: None) -> World:
    """A small world, rolled back after the test."""
    return make_world()


@pytest.fixture
def ines(world: World) -> Speaker:
    """Inês, speaking of her deal."""
    return Speaker(world.ines, world.deal)

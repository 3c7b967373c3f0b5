"""Hashing of passwords."""

from __future__ import annotations

from django.contrib.auth.hashers import Argon2PasswordHasher


class Argon2(Argon2PasswordHasher):
    """Argon2id with 46 MiB, one pass and one lane, as OWASP's Password Storage Cheat Sheet recommends.

    Django's own settings (100 MiB, two passes, eight lanes) take 0.35 seconds of computing and every core:
    eight addresses that guess passwords keep everybody else out."""

    time_cost = 1
    memory_cost = 47_104
    parallelism = 1

"""What a limited child is given to do in tests."""

import json
import os
import time


def computing(_content: bytes) -> bytes:
    while True:
        pass


def pausing(_content: bytes) -> bytes:
    time.sleep(2.5)
    return b"done"


def told(content: bytes) -> bytes:
    return content


def surroundings(content: bytes, argument: str) -> bytes:
    said = {
        "content": content.decode(),
        "argument": argument,
        "environment": list(os.environ),
        "open": len(os.listdir("/proc/self/fd")) - 1,
    }
    return json.dumps(said).encode()


def hoarding(_content: bytes) -> bytes:
    return b"x" * 900_000_000


def ending(_content: bytes) -> bytes:
    raise SystemExit(9)

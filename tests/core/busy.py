"""What a limited child is given to do in tests: a module that imports nothing, so that its own start costs
nothing."""

import time


def computing(_content: bytes) -> bytes:
    while True:
        pass


def pausing(_content: bytes) -> bytes:
    time.sleep(2.5)
    return b"done"

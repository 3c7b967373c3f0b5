"""``python -m standins NAME --port N``: run one of them on loopback until it is ended."""

from __future__ import annotations

import argparse
from importlib import import_module

from werkzeug.serving import make_server

NAMES = ("listing", "mail", "registry", "roll", "stamps")


def main() -> None:
    """Parse the command line and serve.  Only what the one asked for needs is imported: what time stamps are
    made with takes five times as long as the rest."""
    parser = argparse.ArgumentParser(prog="standins")
    parser.add_argument("name", choices=NAMES)
    parser.add_argument("--port", type=int, required=True)
    options = parser.parse_args()
    app = import_module(f"standins.{options.name}").make_app()
    make_server("127.0.0.1", options.port, app, threaded=True).serve_forever()


main()

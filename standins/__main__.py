"""``python -m standins NAME --port N``: run one of them on loopback until it is ended."""

from __future__ import annotations

import argparse

from werkzeug.serving import make_server

from standins import listing, mail, registry, roll, stamps

APPS = {
    "listing": listing.make_app,
    "roll": roll.make_app,
    "registry": registry.make_app,
    "mail": mail.make_app,
    "stamps": stamps.make_app,
}


def main() -> None:
    """Parse the command line and serve."""
    parser = argparse.ArgumentParser(prog="standins")
    parser.add_argument("name", choices=sorted(APPS))
    parser.add_argument("--port", type=int, required=True)
    options = parser.parse_args()
    make_server("127.0.0.1", options.port, APPS[options.name](), threaded=True).serve_forever()


main()

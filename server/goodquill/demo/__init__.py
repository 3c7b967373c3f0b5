"""The demo world: two made-up brokerages and their deals.  Installed only where QUILL_DEMO is set."""

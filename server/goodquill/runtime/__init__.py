"""The server as it runs: settings, addresses, processes, and the outside services."""

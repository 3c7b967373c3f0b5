"""Papers from elsewhere made forms of the brokerage's own."""

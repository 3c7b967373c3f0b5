"""Rounds as the agent makes, sends and follows them."""

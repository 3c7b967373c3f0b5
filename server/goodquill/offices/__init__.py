"""Brokerages, offices and the people in them; who may see what."""

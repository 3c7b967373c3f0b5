"""Deals: opening them, changing them, and what the screens are told."""

"""Requests and answers: checking, errors, limits, headers, and the types of the API."""

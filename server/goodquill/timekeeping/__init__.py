"""The clock: what has to be looked at from time to time, whatever room it is in."""

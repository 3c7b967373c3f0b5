"""What is due in a deal, and when."""

from quillcore.schedule.dates import KeyDate, key_dates, next_date

__all__ = ["KeyDate", "key_dates", "next_date"]

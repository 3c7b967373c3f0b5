"""Business days, deadlines and lease terms."""

from quillcore.calendars.deadlines import FURTHEST, Calendar, Deadline
from quillcore.calendars.leases import lease_end, lease_months, months_after

__all__ = ["FURTHEST", "Calendar", "Deadline", "lease_end", "lease_months", "months_after"]

"""Tasks and key dates: changed in a deal, seen over all of them, as calendars, and reminded of."""

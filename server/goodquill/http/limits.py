"""Limits of sizes and counts: one table, with the reason beside each figure.

What reading one file may take stands in ``quillcore.sandbox``, since that is where files are read.
"""

from __future__ import annotations

from quillcore.sandbox import CARDS, PDF, TABLE

MOST_BEFORE_SIGN_IN = 16_000
"""Bytes of a request by nobody: an e-mail, a password and a code have some hundred."""
MOST_BY_LINK = 300_000
"""Bytes of a request by a signer: a drawn signature of 4,000 points has 100,000."""
MOST_JSON = 5_000_000
"""Bytes of a request with JSON: a paper with 2,500 placed blanks has 1.2 million."""
MOST_UPLOAD = max(CARDS.most_bytes, PDF.most_bytes, TABLE.most_bytes) + 1_000_000
"""Bytes of a request with a file: the largest file that is read, and what is wrapped around it."""
MOST_FETCHED = 40_000_000
"""Bytes of a paper fetched from an outside service."""
MOST_ANSWERED = 8_000_000
"""Bytes of an outside service's answer in JSON: forty listings have 200,000."""

MOST_LISTED_DEALS = 50
MOST_LISTED_CONTACTS = 200
MOST_CONTACTS = 20_000
"""Of one member: the largest address book seen has some 6,000."""
MOST_ROUNDS_MADE = 20
"""Rounds of signing in one deal that are begun and not sent."""
MOST_COPIED = 20
"""People who get a copy of what was signed: both sides' agents, lenders, title officers, attorneys."""
MOST_RECIPIENTS = 20
"""People who get one delivery."""
MOST_ATTACHED = 15_000_000
"""Bytes attached to one letter: mailboxes take 20 to 25 MB, and attachments grow by a third on the way."""
MOST_INCOMING = 40
"""Files that wait to be put into one package: a closing brings some twenty."""
MOST_CLAUSES = 500
"""Of one member, and listed: an office's collection of many years had some 200."""
MOST_CLIENTS = 12
"""Of one deal, as many as a side has parties."""
MOST_TEMPLATES = 8
"""The most templates that a deal starts with: two or three are usual."""
MOST_OFFERS = 40
MOST_DOCUMENTS = 250
"""Of one deal's package, what was taken out included in no figure: the longest commercial file had 90."""

DEAR_AT_ONCE = 2
"""Long requests (a package made, a file read, a deal compared) that one member may have at work at the same
time: a second window's, and no more."""
AT_ONCE, AT_ONCE_OF_MANY = 6, 2
"""Requests of one caller that one worker answers at the same time: as many as a browser opens connections, so
that one window is never refused; and of a caller who has just used more than ``LITTLE``."""
LITTLE = 1.0
"""Seconds of computing, not worn off: a screen takes a third of that."""
THREADS = 16
"""Requests that one worker answers at the same time, of all callers."""
SIGN_INS_AT_ONCE = 1
"""Passwords that one worker hashes at the same time: each takes a core for a tenth of a second, on
purpose."""
SIGN_INS_WAITING, SIGN_IN_TURN = 5, 3.0
"""Sign-ins that wait in one worker for their turn, one of an address, and for how many seconds: the only
ones that wait in a thread, a third of those that serve strangers."""
SHARE = 0.2
"""Of a worker's computing that one caller may have for long: five who do nothing but ask for packages fill
it."""
BURST = 3.0
"""Seconds of computing that a caller may take at once beyond its share: opening a deal takes 0.3, a package
of sixty pages 1."""
LATELY = 2.0
"""Seconds after which a caller that asks for nothing is taken to wait for nothing: what one screen needs is
asked for within them, an open deal asks whether something changed more rarely."""
FAILURES_AN_HOUR = 150
"""Failed attempts of one address at one thing: an office of fifty behind one router mistypes some passwords
at nine."""
DEAR_A_MINUTE = 60
"""Long requests of one member in a minute: nobody reads papers faster."""

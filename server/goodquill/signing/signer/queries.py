"""A round as one of its signers sees it: the own places, everybody's progress, and nothing of the deal."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from quillcore.facts.parties import initials_of
from quillcore.signing.asking import QuestionState, from_rows, printed, standing
from quillcore.signing.marks import Drawing, adopted, as_svg
from quillcore.signing.puts import Put
from quillcore.signing.record_check import IN_DOUBT
from quillcore.signing.rounds import At, RoundState, over
from quillcore.values import Fault

from goodquill.signing.kept import RoundRows, date_on
from goodquill.signing.letters import sender_of
from goodquill.signing.links import has_ended
from goodquill.signing.models import Paper, Round, Signer

if TYPE_CHECKING:
    from goodquill.http import wire


def seen_by(rows: RoundRows, key: str, known: bool = True) -> wire.SignersRound:
    """Return all that a signer's page shows; before the second step nothing but who asks."""
    row, me, machine = rows.row, rows.people[key], rows.as_machine()
    mine = machine.signer(me.key)
    shown = known and may_see_papers(row, me)
    fault = IN_DOUBT if row.doubt else None
    if row.state not in (RoundState.OUT, RoundState.FINISHED):
        fault = over(machine)
    is_ended = has_ended(me)
    if is_ended:
        known, shown = False, False
        fault = fault or Fault("ended", "This link has expired.", "Ask for a new one by e-mail.")
    return {
        "state": row.state,
        "over": None if fault is None else {"message": fault.message, "mend": fault.mend},
        "ended": is_ended,
        "wants_code": not known and fault is None,
        "code_to": "" if known or row.question else _hidden(me.email),
        "question": "" if known else row.question,
        "subject": row.subject,
        "message": row.message if known else "",
        "sender": sender_of(row.by),
        "ends": row.ends,
        "zone": row.zone,
        "name": me.name,
        "signs_as": me.signs_as,
        "letters": initials_of(me.name),
        "role": me.role,
        "at": me.at,
        "copied": me.is_copied,
        "in_person": me.in_person,
        "party": "." in me.key,
        "signature": _mark(me.signature) if known else None,
        "initials": _mark(me.initials) if known else None,
        "papers": [_paper(paper, me, bool(row.sealed)) for paper in rows.papers] if shown else [],
        "others": [
            {"name": s.name, "role": s.role, "done": s.at == At.DONE}
            for s in rows.people.values()
            if known and s.pk != me.pk and not s.is_copied
        ],
        "left": len(mine.left) if mine is not None else 0,
        "sealed": row.sealed,
    }


def _hidden(email: str) -> str:
    """Return an address that its owner knows again, and nobody else learns."""
    name, _, place = email.partition("@")
    return f"{name[:1]}…@{place}"


def may_see_papers(row: Round, signer: Signer) -> bool:
    """Return whether the papers are shown: those who sign from when it is their turn, others when all is
    sealed; and nothing of a round that was recalled, declined or ran out, or that differs from its
    record."""
    if row.doubt:
        return False
    if row.state == RoundState.FINISHED:
        return not signer.is_copied or row.sealed is not None
    return row.state == RoundState.OUT and not signer.is_copied and signer.at != At.WAITS


def mark_row(drawing: Drawing) -> wire.MarkShape:
    """Return a signature or initials as they are drawn on the screen."""
    svg = as_svg(drawing)
    return {"box": svg["box"], "path": svg["path"], "pen": svg["pen"]}


def _mark(said: dict[str, Any] | None) -> wire.MarkShape | None:
    drawing = adopted(said) if said is not None else None
    return None if drawing is None or isinstance(drawing, Fault) else mark_row(drawing)


def _written(put: Put) -> wire.WrittenShape:
    size = put.frame.size if put.frame is not None else 10.0
    return {"page": put.page, "rect": list(put.rect), "text": put.text, "mark": put.is_mark, "size": size}


def _question(one: QuestionState, paper: Paper) -> wire.QuestionShape:
    q = one.question
    return {
        "key": q.key,
        "asked": q.asked,
        "help": q.help,
        "kind": q.kind,
        "options": list(q.options) or (["yes", "no"] if q.kind == "yes_no" else []),
        "lines": max(p.lines for p in q.printed),
        "page": q.printed[0].page,
        "rect": list(q.printed[0].rect),
        "text": paper.texts.get(q.key, ""),
        "wrong": "" if one.fault is None else f"{one.fault.message} {one.fault.mend}",
        "applies": one.applies,
        "must": one.required,
        "open": one.is_open,
    }


def _paper(paper: Paper, me: Signer, is_sealed: bool) -> wire.SignersPaperShape:
    own = [place for place in paper.places if place["who"] == me.key]
    stands = standing(from_rows(paper.asks), paper.texts)
    return {
        "id": paper.pk,
        "title": paper.named,
        "pages": paper.pages,
        "places": [
            {
                "id": place["id"],
                "page": place["page"],
                "rect": place["rect"],
                "sign": place["sign"],
                "put": me.put.get(place["id"]),
                "text": date_on(paper, me) if place["sign"] == "date" else "",
            }
            for place in own
        ],
        "written": [_written(put) for put in printed(stands)],
        "questions": [_question(one, paper) for one in stands if one.question.who == me.key],
        "sealed": is_sealed,
    }

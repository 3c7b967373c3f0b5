"""A signer's actions by the own link: each kept as it is done."""

from __future__ import annotations

from collections.abc import Container, Iterable
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.db import transaction
from django.http import Http404
from django.utils import timezone
from quillcore.signing.asking import MOST_ANSWERED, Question, as_text, from_rows, read, standing
from quillcore.signing.marks import adopted, typed
from quillcore.signing.record_check import IN_DOUBT
from quillcore.signing.rounds import At, Event, Happened, RoundState
from quillcore.signing.script_faces import FACES
from quillcore.values import Fault

from goodquill.http.endpoints import Refusal
from goodquill.signing import letters
from goodquill.signing.effects import send
from goodquill.signing.kept import RoundRows, rows_of
from goodquill.signing.links import has_ended
from goodquill.signing.models import Paper, Signer
from goodquill.signing.rounds.transitions import happen_to
from goodquill.signing.signer.queries import mark_row
from goodquill.storage.locks import hold

if TYPE_CHECKING:
    from goodquill.http import wire


def act(signer: Signer, kind: Happened, source: str, said: str = "") -> RoundRows:
    """Let one event of the signer's own happen; gives the round as it then is."""
    if signer.is_copied:
        raise Refusal(
            "You get a copy of these papers. You don't sign them.",
            "You don't have to do anything.",
            "copy",
            409,
        )
    with transaction.atomic():
        rows = rows_of(signer.round_id, lock=True)
        me = rows.people[signer.key]
        if kind is Happened.DONE and me.at == At.AGREED:
            _sign(rows, me, rows.papers, (), source)
        return happen_to(rows, Event(kind, me.key, said=said), said={"from": source})


@transaction.atomic
def renew_link(signer: Signer) -> None:
    """Send a new link to somebody whose link has ended; the old one then leads nowhere.
    Nothing happens while it still works."""
    hold(Signer, signer.pk)
    row = Signer.objects.select_related("round__deal", "round__by__brokerage").get(pk=signer.pk)
    if not has_ended(row):
        return
    row.link, row.renewed = row.link + 1, timezone.now()
    row.save(update_fields=["link", "renewed"])
    send(row.round, row, letters.new_link(row.round, row))


def adopt(signer: Signer, given: dict[str, Any]) -> RoundRows:
    """Keep the signature or the initials that the signer signs with from now on."""
    drawing = adopted(given["mark"])
    if isinstance(drawing, Fault):
        raise Refusal.of(drawing)
    with transaction.atomic():
        rows = rows_of(signer.round_id, lock=True)
        me = rows.people[signer.key]
        if me.put:
            raise Refusal(
                "You already signed with another one.",
                "It stays the same in these papers.",
                "mark",
                409,
            )
        setattr(me, given["sign"], given["mark"])
        me.save(update_fields=[given["sign"]])
        return rows


def answer(signer: Signer, paper_id: UUID, key: str, text: str) -> RoundRows:
    """Keep an answer as it is given.  What can't be read is kept, too, and still wanted."""
    with transaction.atomic():
        rows = rows_of(signer.round_id, lock=True)
        me = rows.people[signer.key]
        paper = next((p for p in rows.papers if p.pk == paper_id), None)
        if paper is None:
            raise Http404
        question = next((q for q in questions_for(me, paper) if q.key == key), None)
        if question is None:
            raise Refusal("This question is not for you.", "Continue with your next one.", "question", 404)
        may = may_answer(me, paper)
        if may is not None:
            raise may
        value = read(question, text)
        said = text.strip() if value is None or isinstance(value, Fault) else as_text(question, value)
        kept = {"text": said[:MOST_ANSWERED], "by": me.key, "at": timezone.now().isoformat()}
        paper.answers = {k: v for k, v in paper.answers.items() if k != key} | ({key: kept} if said else {})
        paper.save(update_fields=["answers"])
        return rows


def may_answer(signer: Signer, paper: Paper) -> Refusal | None:
    """Return why a signer's answers on a paper can't be changed now; None where they can."""
    if signer.round.doubt:
        return Refusal.of(IN_DOUBT, 409)
    if signer.round.state != RoundState.OUT or signer.at != At.AGREED:
        return Refusal("You can't answer here now.", "Open the link again.", "round", 409)
    if signer.put.keys() & {paper.given, *(place["id"] for place in paper.places)}:
        return Refusal(
            "You already signed this paper. Its answers can't change.",
            "Ask the agent to recall it if one of them is wrong.",
            "signed",
            409,
        )
    return None


def questions_for(signer: Signer, paper: Paper) -> list[Question]:
    """Return what a paper asks of this signer alone."""
    return [q for q in from_rows(paper.asks) if q.who == signer.key]


def put(signer: Signer, places: list[str], source: str) -> RoundRows:
    """Sign places, all or none, with the marks that were adopted.  The answers on their papers are given
    first, whole."""
    with transaction.atomic():
        rows = rows_of(signer.round_id, lock=True)
        me = rows.people[signer.key]
        on_them = [(paper, place) for paper in rows.papers for place in paper.places if place["id"] in places]
        wanted = {place["sign"] for _, place in on_them if getattr(me, place["sign"], "") is None}
        if wanted:
            raise Refusal(
                f"There is no {' and no '.join(sorted(wanted))} to sign with yet.",
                "Create it first.",
                "mark",
                409,
            )
        papers = list({paper.pk: paper for paper, _ in on_them}.values())
        for paper in papers:
            _after_those_asked(rows, me, paper)
        return _sign(rows, me, papers, places, source)


def _after_those_asked(rows: RoundRows, me: Signer, paper: Paper) -> None:
    """Refuse to sign a paper on which somebody of the same turn has still to answer: nobody signs what is
    filled in afterwards.  Of two who are both asked neither waits, or both would."""
    asked = {ask["who"] for ask in paper.asks}
    if me.key in asked:
        return
    for other in _same_turn(rows, me, asked):
        if paper.given not in other.put:
            raise Refusal(
                f"{other.name} answers first what {paper.named} asks.",
                "You will get an e-mail when you can sign it. Sign your other papers in the meantime.",
                "answers",
                409,
            )


def _same_turn(rows: RoundRows, me: Signer, keys: Container[str]) -> list[Signer]:
    return [s for s in rows.people.values() if s.turn == me.turn and s.key in keys]


def _sign(
    rows: RoundRows, me: Signer, papers: Iterable[Paper], places: Iterable[str], source: str
) -> RoundRows:
    """Let the answers on papers stand, and sign places; refused while an answer is wanted that isn't
    there.  Those who couldn't sign a paper before it was answered are told."""
    answered = [p for p in papers if questions_for(me, p) and p.given not in me.put]
    for paper in answered:
        _refuse_unanswered(me, paper)
    signed = [Event(Happened.PUT, me.key, spot=place) for place in (*(p.given for p in answered), *places)]
    happen_to(rows, *signed, said={"from": source})
    on_them = [{p["who"] for p in paper.places} - {a["who"] for a in paper.asks} for paper in answered]
    waited = [s for keys in on_them for s in _same_turn(rows, me, keys) if s.at in (At.OPENED, At.AGREED)]
    return happen_to(rows, *(Event(Happened.REMINDED, other.key) for other in waited))


def _refuse_unanswered(me: Signer, paper: Paper) -> None:
    every = standing(from_rows(paper.asks), paper.texts)
    left = [s for s in every if s.question.who == me.key and s.is_open]
    if left:
        count = "One question is" if len(left) == 1 else f"{len(left)} questions are"
        raise Refusal(
            f"{count} still to be answered in {paper.named}.",
            "Answer the questions, then sign.",
            "answers",
            409,
        )


def faces_of(name: str, initials: str) -> list[wire.FaceShape]:
    """Return a name and initials in every script face, to choose from; a face that can't set them says
    why."""
    return [_in_face(face, name, initials) for face in FACES]


def _in_face(face: str, name: str, initials: str) -> wire.FaceShape:
    found = [typed(text, face) for text in (name, initials)]
    fault = next((f for f in found if isinstance(f, Fault)), None)
    shown = [None if isinstance(f, Fault) else mark_row(f) for f in found]
    return {
        "face": face,
        "signature": shown[0],
        "initials": shown[1],
        "trouble": "" if fault is None else f"{fault.message} {fault.mend}",
    }


@transaction.atomic
def has_opened(signer: Signer, paper: UUID) -> None:
    """Note that the signer has a paper before the eyes."""
    row = Signer.objects.select_for_update().get(pk=signer.pk)
    if str(paper) not in row.read:
        row.read = [*row.read, str(paper)]
        row.save(update_fields=["read"])

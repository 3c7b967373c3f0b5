"""Endpoints for whoever has a link to papers: the own round, and nothing else. No account, no session."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.signing.rounds import At, Happened, RoundState
from rest_framework.request import Request
from rest_framework.response import Response

from goodquill.forms.pages import SHARPNESS, page_picture, page_words
from goodquill.http.anybody import ForAnybody
from goodquill.http.endpoints import Refusal, as_file, checked
from goodquill.offices.attempts import counts_attempts
from goodquill.signing.kept import rows_of
from goodquill.signing.links import has_ended, is_known, keep, keep_known, link_of, open_by, signer_of
from goodquill.signing.models import Paper, Signer
from goodquill.signing.shapes import OpenLinkSerializer
from goodquill.signing.signer import acting
from goodquill.signing.signer import shapes as signer_shapes
from goodquill.signing.signer.codes import check_step, send_code
from goodquill.signing.signer.queries import may_see_papers, seen_by
from goodquill.storage import files


class ByLink(ForAnybody):
    """An address of one signer's: known by the cookie of the opened link, which no other site can send
    (SameSite=Strict)."""

    def from_where(self, request: Request) -> str:
        """Return the address that goes on record."""
        return str(request.META.get("REMOTE_ADDR", ""))

    def shown(self, request: Request, found: Signer) -> Response:
        """Return the round, for whoever has come to it; before a second step only that one is wanted."""
        if not is_known(request, found) and not has_ended(found):
            if found.round.code:
                send_code(found)
            return Response(seen_by(rows_of(found.round_id), found.key, known=False))
        return self.come(request, found)

    def come(self, request: Request, found: Signer) -> Response:
        """Return the round to a signer who may see it, and note the first time."""
        is_first = found.round.state == RoundState.OUT and found.at == At.ASKED and not found.round.doubt
        rows = (
            acting.act(found, Happened.OPENED, self.from_where(request))
            if is_first
            else rows_of(found.round_id)
        )
        return Response(seen_by(rows, found.key))


class OpenLinkView(ByLink):
    """A link that is opened."""

    @extend_schema(
        operation_id="open_signing_link",
        request=OpenLinkSerializer,
        responses=signer_shapes.SignersRoundSerializer,
    )
    @counts_attempts("signing link")
    def post(self, request: Request, signer: UUID) -> Response:
        """Let this browser go on as that signer."""
        found = open_by(signer, checked(OpenLinkSerializer, request)["secret"])
        answer = self.shown(request, found)
        keep(answer, found)
        return answer


class SignersRoundView(ByLink):
    """The round."""

    @extend_schema(operation_id="signers_round", responses=signer_shapes.SignersRoundSerializer)
    def get(self, request: Request, signer: UUID) -> Response:
        """Return the round as the signer sees it."""
        return self.shown(request, link_of(request, signer))


class NewLinkView(ByLink):
    """A link that has ended."""

    @extend_schema(operation_id="ask_for_new_link", request=None, responses={204: None})
    @counts_attempts("new link", always=True)
    def post(self, request: Request, signer: UUID) -> Response:
        """Send a new one to the address of the old one."""
        acting.renew_link(link_of(request, signer))
        return Response(status=204)


class CodeView(ByLink):
    """The second step."""

    @extend_schema(
        operation_id="signer_says_code",
        request=signer_shapes.CodeSerializer,
        responses=signer_shapes.SignersRoundSerializer,
    )
    @counts_attempts("signing code")
    def post(self, request: Request, signer: UUID) -> Response:
        """Check the code that came by mail, where an empty one asks for another; or the answer to the
        question."""
        found = link_of(request, signer)
        said = checked(signer_shapes.CodeSerializer, request)["code"]
        if has_ended(found):
            return Response(seen_by(rows_of(found.round_id), found.key, known=False))
        if not said.strip():
            if found.round.code:
                send_code(found, anew=True)
            return Response(seen_by(rows_of(found.round_id), found.key, known=False))
        check_step(found, said)
        answer = self.come(request, found)
        keep_known(answer, found)
        return answer


class SignersStepView(ByLink):
    """An event of the signer's own."""

    kind = Happened.AGREED

    def happens(self, request: Request, signer: UUID) -> Response:
        """Let it happen."""
        found = signer_of(request, signer)
        said = checked(signer_shapes.SaidSerializer, request)["said"]
        rows = acting.act(found, self.kind, self.from_where(request), said)
        return Response(seen_by(rows, found.key))


class AgreeView(SignersStepView):
    """Electronic records and signatures."""

    @extend_schema(
        operation_id="signer_agrees",
        request=signer_shapes.SaidSerializer,
        responses=signer_shapes.SignersRoundSerializer,
    )
    def post(self, request: Request, signer: UUID) -> Response:
        """Agree to them."""
        return self.happens(request, signer)


class FinishView(SignersStepView):
    """A signer who is through."""

    kind = Happened.DONE

    @extend_schema(
        operation_id="signer_finishes",
        request=signer_shapes.SaidSerializer,
        responses=signer_shapes.SignersRoundSerializer,
    )
    def post(self, request: Request, signer: UUID) -> Response:
        """Finish: all places are signed."""
        return self.happens(request, signer)


class DeclineView(SignersStepView):
    """A signer who doesn't sign."""

    kind = Happened.DECLINED

    @extend_schema(
        operation_id="signer_declines",
        request=signer_shapes.SaidSerializer,
        responses=signer_shapes.SignersRoundSerializer,
    )
    def post(self, request: Request, signer: UUID) -> Response:
        """Decline for a reason, which the agent and the others read."""
        return self.happens(request, signer)


class WantPaperView(SignersStepView):
    """A signer with a pen."""

    kind = Happened.WANTS_PAPER

    @extend_schema(
        operation_id="signer_wants_paper",
        request=signer_shapes.SaidSerializer,
        responses=signer_shapes.SignersRoundSerializer,
    )
    def post(self, request: Request, signer: UUID) -> Response:
        """Ask for paper: the agent is told; the signer may still agree to sign electronically."""
        return self.happens(request, signer)


class FacesView(ByLink):
    """Names in script faces."""

    @extend_schema(
        operation_id="script_faces",
        request=signer_shapes.FacesQuerySerializer,
        responses=signer_shapes.FaceShape(many=True),
    )
    def post(self, request: Request, signer: UUID) -> Response:
        """Draw a name and initials in each face, to choose from."""
        signer_of(request, signer)
        given = checked(signer_shapes.FacesQuerySerializer, request)
        return Response(acting.faces_of(given["name"], given["initials"]))


class AdoptView(ByLink):
    """The signature or initials that one signs with."""

    @extend_schema(
        operation_id="adopt_mark",
        request=signer_shapes.AdoptSerializer,
        responses=signer_shapes.SignersRoundSerializer,
    )
    def post(self, request: Request, signer: UUID) -> Response:
        """Keep it."""
        found = signer_of(request, signer)
        rows = acting.adopt(found, checked(signer_shapes.AdoptSerializer, request))
        return Response(seen_by(rows, found.key))


class AnswerView(ByLink):
    """A question of the signer's own."""

    @extend_schema(
        operation_id="answer_question",
        request=signer_shapes.AnswerSerializer,
        responses=signer_shapes.SignersRoundSerializer,
    )
    def post(self, request: Request, signer: UUID) -> Response:
        """Keep the answer; what can't be read is kept, too, and says why."""
        found = signer_of(request, signer)
        given = checked(signer_shapes.AnswerSerializer, request)
        rows = acting.answer(found, given["paper"], given["key"], given["text"])
        return Response(seen_by(rows, found.key))


class PutView(ByLink):
    """Places signed."""

    @extend_schema(
        operation_id="sign_places",
        request=signer_shapes.PutSerializer,
        responses=signer_shapes.SignersRoundSerializer,
    )
    def post(self, request: Request, signer: UUID) -> Response:
        """Sign them."""
        found = signer_of(request, signer)
        places = checked(signer_shapes.PutSerializer, request)["places"]
        return Response(seen_by(acting.put(found, places, self.from_where(request)), found.key))


class SignersPaperView(ByLink):
    """A paper as a file."""

    @extend_schema(operation_id="signers_paper", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, signer: UUID, paper_id: UUID) -> HttpResponse:
        """Return the finished file once all is sealed, before that the file as it was sent."""
        found, row = _paper_of(signer_of(request, signer), paper_id)
        acting.has_opened(found, row.pk)
        content = files.fetch(row.finished if row.round.sealed else row.frozen)
        return as_file(content, "application/pdf", f"{row.named}.pdf")


class SignersPictureView(ByLink):
    """A page as a picture."""

    @extend_schema(operation_id="signers_picture", responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(self, request: Request, signer: UUID, paper_id: UUID, page: int, sharpness: int) -> HttpResponse:
        """Return the page as it was sent; marks are drawn over it by the screen."""
        found, row = _paper_of(signer_of(request, signer), paper_id)
        if sharpness not in SHARPNESS or not 1 <= page <= len(row.sizes):
            raise Refusal("This page doesn't exist.", "Reload the paper and try again.", "page", 404)
        if page == 1 and str(row.pk) not in found.read:
            acting.has_opened(found, row.pk)
        return page_picture(row.frozen, page, sharpness, foreign=True)


class SignersWordsView(ByLink):
    """The words of a paper, as text: for whoever doesn't see pictures."""

    @extend_schema(operation_id="signers_words", responses={(200, "application/json"): OpenApiTypes.OBJECT})
    def get(self, request: Request, signer: UUID, paper_id: UUID) -> HttpResponse:
        """Return its words with their places, by page."""
        _, row = _paper_of(signer_of(request, signer), paper_id)
        return page_words(row.frozen, foreign=True)


def _paper_of(signer: Signer, paper_id: UUID) -> tuple[Signer, Paper]:
    """Return a paper of the signer's round, while it may be seen."""
    row = get_object_or_404(Paper.objects.select_related("round"), pk=paper_id, round=signer.round_id)
    if not may_see_papers(row.round, signer):
        raise Refusal("This link can't show these papers now.", "Open the link again.", "papers", 409)
    return signer, row

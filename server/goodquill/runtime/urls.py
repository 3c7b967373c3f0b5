"""All addresses.  Whatever isn't the API is the web application."""

from django.urls import path, re_path, register_converter
from quillcore.facts import Side

from goodquill.assembly import api as assembly
from goodquill.clauses import api as clauses
from goodquill.clients import api as clients
from goodquill.contacts import api as contacts
from goodquill.deals import api as deals
from goodquill.deals.incoming import api as incoming
from goodquill.deals.markup import api as by_hand
from goodquill.delivering import api as delivering
from goodquill.drafting import api as drafting
from goodquill.estimates import api as estimates
from goodquill.forms import api as forms
from goodquill.http import problems, web
from goodquill.offers import api as offers
from goodquill.offices import api as offices
from goodquill.offices import letters_api as letters
from goodquill.offices import links_api as links
from goodquill.offices import members_api as members
from goodquill.offices import profile_api as profile
from goodquill.packs import api as releases
from goodquill.packs import memberships_api as memberships
from goodquill.papers import api as papers
from goodquill.proofreading import api as proofreading
from goodquill.signing.rounds import api as signing
from goodquill.signing.sealing import api as verifying
from goodquill.signing.signer import api as signer
from goodquill.sources import api as sources
from goodquill.sources import exports_api as exports
from goodquill.sources import report_api as reports
from goodquill.tasks import api as schedule


class _Text:
    """A part of an address that is one of our own names: what doesn't look like one leads nowhere."""

    regex = ""

    def to_python(self, value: str) -> str:
        """Return it as it is."""
        return value

    def to_url(self, value: str) -> str:
        """Return it as it is."""
        return value


class Code(_Text):
    """A document's code."""

    regex = "[a-z0-9]{1,12}"


class Hash(_Text):
    """A SHA-256."""

    regex = "[0-9a-f]{64}"


class Key(_Text):
    """A fact's or blank's key."""

    regex = "[A-Za-z0-9_.@-]{1,160}"


class SideOfDeal(_Text):
    """A side of a deal, its blank written as a hyphen."""

    regex = "|".join(side.replace(" ", "-") for side in Side)

    def to_python(self, value: str) -> str:
        """Return the side."""
        return value.replace("-", " ")

    def to_url(self, value: str) -> str:
        """Return the other way round."""
        return value.replace(" ", "-")


class RowConverter(_Text):
    """A number that the database counted."""

    regex = "[0-9]{1,18}"

    def to_python(self, value: str) -> int:  # type: ignore[override]
        """Return the number."""
        return int(value)


for name, converter in (
    ("code", Code),
    ("hash", Hash),
    ("key", Key),
    ("row", RowConverter),
    ("side", SideOfDeal),
):
    register_converter(converter, name)

handler400, handler403, handler404, handler500 = (
    problems.bad_request,
    problems.forbidden,
    problems.not_found,
    problems.failed,
)

urlpatterns = [
    path("api/session", offices.SessionView.as_view()),
    path("api/session/signed-in", offices.SignedInView.as_view()),
    path("api/sessions", offices.SessionsView.as_view()),
    path("api/password", offices.PasswordView.as_view()),
    path("api/second-step", offices.TwoStepsView.as_view()),
    path("api/password/forgotten", links.ForgottenView.as_view()),
    path("api/password/link", links.LinkView.as_view()),
    path("api/password/new", links.NewPasswordView.as_view()),
    path("api/letters", letters.LettersView.as_view()),
    path("api/letters/<uuid:letter>", letters.LetterView.as_view()),
    path("api/members/invitations", members.InvitationsView.as_view()),
    path("api/members/agents", members.AgentsView.as_view()),
    path("api/members/<uuid:member>/leave", clients.LeaveView.as_view()),
    path("api/members", members.MembersView.as_view()),
    path("api/members/<uuid:member>", members.MemberView.as_view()),
    path("api/profile", profile.ProfileView.as_view()),
    path("api/brokerage", profile.BrokerageView.as_view()),
    path("api/forms", forms.FormsView.as_view()),
    path("api/forms/<hash:edition>", forms.FormView.as_view()),
    path("api/favourites", forms.FavouritesView.as_view()),
    path("api/catalog/<hash:digest>", forms.CatalogView.as_view()),
    path("api/bindable", forms.BindableView.as_view()),
    path("api/memberships", memberships.MembershipsView.as_view()),
    path("api/memberships/forgotten", memberships.ForgetMembershipView.as_view()),
    path("api/papers", papers.ReadingsView.as_view()),
    path("api/papers/<uuid:reading>", papers.ReadingView.as_view()),
    path("api/papers/<uuid:reading>/share", papers.ShareReadingView.as_view()),
    path("api/papers/<uuid:reading>/form", papers.SaveReadingView.as_view()),
    path(
        "api/papers/<uuid:reading>/pages/<row:page>/<row:sharpness>.png", papers.ReadingPictureView.as_view()
    ),
    path("api/releases", releases.ReleasesView.as_view()),
    path("api/releases/<uuid:release>/changes", releases.ReleaseChangesView.as_view()),
    path("api/releases/<uuid:release>/use", releases.ReleaseUseView.as_view()),
    path("api/releases/<uuid:release>.zip", releases.ReleaseFileView.as_view()),
    path("api/editions/<hash:edition>/pages/<row:page>/<row:sharpness>.png", forms.PagePictureView.as_view()),
    path("api/editions/<hash:edition>/words", forms.PageWordsView.as_view()),
    path("api/layouts/<hash:edition>/<hash:mapping>/<side:side>", forms.LayoutView.as_view()),
    path("api/clauses", clauses.ClausesView.as_view()),
    path("api/clauses/<uuid:clause>", clauses.ClauseView.as_view()),
    path("api/clauses/<uuid:clause>/restore", clauses.RestoreClauseView.as_view()),
    path("api/contacts", contacts.ContactsView.as_view()),
    path("api/contacts/cards", contacts.CardsView.as_view()),
    path("api/contacts/<uuid:contact>", contacts.ContactView.as_view()),
    path("api/contacts/<uuid:contact>/restore", contacts.RestoreContactView.as_view()),
    path("api/contacts/<uuid:contact>/history", contacts.ContactHistoryView.as_view()),
    path("api/contacts/<uuid:contact>/merge", contacts.MergeView.as_view()),
    path("api/contacts/<uuid:contact>/homes", contacts.HomesView.as_view()),
    path("api/contacts/<uuid:contact>/homes/<row:home>", contacts.HomeView.as_view()),
    path("api/contacts/<uuid:contact>/record", clients.RecordView.as_view()),
    path("api/client-papers/<row:paper>", clients.ClientPaperView.as_view()),
    path("api/templates", drafting.TemplatesView.as_view()),
    path("api/templates/file", drafting.TemplateFilesView.as_view()),
    path("api/templates/<uuid:template>", drafting.TemplateView.as_view()),
    path("api/templates/<uuid:template>/restore", drafting.RestoreTemplateView.as_view()),
    path("api/templates/<uuid:template>/publish", drafting.PublishView.as_view()),
    path("api/templates/<uuid:template>/newest", drafting.MoveOnView.as_view()),
    path("api/templates/<uuid:template>/rule", drafting.TryRuleView.as_view()),
    path("api/templates/newest", drafting.MoveManyOnView.as_view()),
    path("api/templates/<uuid:template>/upstream", drafting.UpstreamView.as_view()),
    path("api/templates/<uuid:template>/sample", drafting.SampleView.as_view()),
    path("api/templates/<uuid:template>/sample.pdf", drafting.SampleFileView.as_view()),
    path("api/templates/<uuid:template>.yaml", drafting.TemplateFileView.as_view()),
    path("api/properties", sources.SearchView.as_view()),
    path("api/properties/report", reports.ReportView.as_view()),
    path("api/properties/report.pdf", reports.ReportFileView.as_view()),
    path("api/property-files", exports.SourceFilesView.as_view()),
    path("api/property-files/<uuid:file>", exports.SourceFileView.as_view()),
    path("api/counties", sources.CountiesView.as_view()),
    path("api/deals", clients.DealsView.as_view()),
    path("api/deals/<uuid:deal>", deals.DealView.as_view()),
    path("api/deals/<uuid:deal>/name", deals.NameView.as_view()),
    path("api/deals/<uuid:deal>/looks", deals.LooksView.as_view()),
    path("api/deals/<uuid:deal>/changes", deals.ChangesView.as_view()),
    path("api/deals/<uuid:deal>/undo", deals.UndoView.as_view()),
    path("api/deals/<uuid:deal>/history", deals.HistoryView.as_view()),
    path("api/deals/<uuid:deal>/facts/<key:key>", deals.LensView.as_view()),
    path("api/deals/<uuid:deal>/holidays", deals.HolidaysView.as_view()),
    path("api/deals/<uuid:deal>/earlier", deals.EarlierView.as_view()),
    path("api/deals/<uuid:deal>/templates", deals.ApplyTemplateView.as_view()),
    path("api/deals/<uuid:deal>/package", deals.PackageView.as_view()),
    path("api/deals/<uuid:deal>/continuation-pages", assembly.ContinuationPagesView.as_view()),
    path("api/deals/<uuid:deal>/package.pdf", assembly.PackageFileView.as_view()),
    path("api/deals/<uuid:deal>/incoming", incoming.IncomingView.as_view()),
    path("api/deals/<uuid:deal>/incoming/place", incoming.PutInPlaceView.as_view()),
    path("api/deals/<uuid:deal>/incoming/<uuid:incoming_file>", incoming.OneIncomingView.as_view()),
    path(
        "api/deals/<uuid:deal>/incoming/<uuid:incoming_file>/pages/<row:page>/<row:sharpness>.png",
        incoming.IncomingPictureView.as_view(),
    ),
    path("api/deals/<uuid:deal>/documents/<code:document>/by-hand", by_hand.ByHandView.as_view()),
    path("api/deals/<uuid:deal>/documents/<code:document>/spots", by_hand.SpotsView.as_view()),
    path("api/deals/<uuid:deal>/documents/<code:document>/returned", signing.ReturnedView.as_view()),
    path("api/deals/<uuid:deal>/documents/<code:document>/signed", signing.SignedOnPaperView.as_view()),
    path("api/deals/<uuid:deal>/documents/<code:document>.pdf", assembly.DocumentFileView.as_view()),
    path("api/deals/<uuid:deal>/contacts", clients.UseContactView.as_view()),
    path("api/deals/<uuid:deal>/contacts/keep", clients.KeepContactView.as_view()),
    path("api/deals/<uuid:deal>/documents/<code:document>/keep", clients.KeepWithClientView.as_view()),
    path("api/deals/<uuid:deal>/hand-on", clients.HandOnView.as_view()),
    path("api/deals/<uuid:deal>/stage", clients.StageView.as_view()),
    path("api/deals/<uuid:deal>/as-template", drafting.AsTemplateView.as_view()),
    path("api/deals/<uuid:deal>/goes-with", drafting.GoesWithView.as_view()),
    path("api/deals/<uuid:deal>/estimates", estimates.EstimatesView.as_view()),
    path("api/deals/<uuid:deal>/estimates/solve", estimates.SolveView.as_view()),
    path("api/deals/<uuid:deal>/proof", proofreading.ProofView.as_view()),
    path("api/deals/<uuid:deal>/signers", signing.WhoSignsView.as_view()),
    path("api/deals/<uuid:deal>/rounds", signing.RoundsView.as_view()),
    path("api/deals/<uuid:deal>/deliveries", delivering.DeliveriesView.as_view()),
    path("api/deliveries/<uuid:delivery>/again", delivering.DeliverAgainView.as_view()),
    path("api/papers-for/<uuid:recipient>", delivering.PapersForYouView.as_view()),
    path("api/papers-for/<uuid:recipient>/open", delivering.OpenPapersView.as_view()),
    path("api/papers-for/<uuid:recipient>/<uuid:delivered_file>", delivering.PaperForYouView.as_view()),
    path("api/rounds", signing.RoundsOutView.as_view()),
    path("api/rounds/news", signing.NewsView.as_view()),
    path("api/rounds/told", signing.ToldView.as_view()),
    path("api/rounds/<uuid:round_id>", signing.RoundView.as_view()),
    path("api/rounds/<uuid:round_id>/look", signing.LookAtRoundView.as_view()),
    path("api/rounds/<uuid:round_id>/send", signing.SendRoundView.as_view()),
    path("api/rounds/<uuid:round_id>/recall", signing.RecallView.as_view()),
    path("api/rounds/<uuid:round_id>/signers/<uuid:signer>/remind", signing.RemindView.as_view()),
    path("api/rounds/<uuid:round_id>/signers/<uuid:signer>/address", signing.ReaddressView.as_view()),
    path("api/rounds/<uuid:round_id>/signers/<uuid:signer>/link", signing.OwnLinkView.as_view()),
    path("api/rounds/<uuid:round_id>/signers/<uuid:signer>/by-pen", signing.ByPenView.as_view()),
    path("api/rounds/<uuid:round_id>/signers/<uuid:signer>/in-person", signing.HandOverView.as_view()),
    path("api/rounds/<uuid:round_id>/papers/<uuid:paper_id>", signing.RoundPaperView.as_view()),
    path(
        "api/rounds/<uuid:round_id>/papers/<uuid:paper_id>/<row:page>/<row:sharpness>.png",
        signing.RoundPictureView.as_view(),
    ),
    path("api/sign/<uuid:signer>", signer.SignersRoundView.as_view()),
    path("api/sign/<uuid:signer>/open", signer.OpenLinkView.as_view()),
    path("api/sign/<uuid:signer>/new-link", signer.NewLinkView.as_view()),
    path("api/sign/<uuid:signer>/code", signer.CodeView.as_view()),
    path("api/sign/<uuid:signer>/agree", signer.AgreeView.as_view()),
    path("api/sign/<uuid:signer>/finish", signer.FinishView.as_view()),
    path("api/sign/<uuid:signer>/decline", signer.DeclineView.as_view()),
    path("api/sign/<uuid:signer>/paper", signer.WantPaperView.as_view()),
    path("api/sign/<uuid:signer>/faces", signer.FacesView.as_view()),
    path("api/sign/<uuid:signer>/mark", signer.AdoptView.as_view()),
    path("api/sign/<uuid:signer>/answer", signer.AnswerView.as_view()),
    path("api/sign/<uuid:signer>/put", signer.PutView.as_view()),
    path("api/sign/<uuid:signer>/papers/<uuid:paper_id>", signer.SignersPaperView.as_view()),
    path("api/sign/<uuid:signer>/papers/<uuid:paper_id>/words", signer.SignersWordsView.as_view()),
    path(
        "api/sign/<uuid:signer>/papers/<uuid:paper_id>/<row:page>/<row:sharpness>.png",
        signer.SignersPictureView.as_view(),
    ),
    path("api/verify", verifying.VerifyView.as_view()),
    path("api/deals/<uuid:deal>/tasks", schedule.TasksView.as_view()),
    path("api/deals/<uuid:deal>/tasks.ics", schedule.DealCalendarView.as_view()),
    path("api/tasks", schedule.DuesView.as_view()),
    path("api/tasks.ics", schedule.CalendarView.as_view()),
    path("api/tasks/feed", schedule.FeedView.as_view()),
    path("api/calendar/<uuid:user>/<hash:secret>.ics", schedule.ReadFeedView.as_view()),
    path("api/deals/<uuid:deal>/offers", offers.OffersView.as_view()),
    path("api/deals/<uuid:deal>/offers/<row:offer>", offers.OfferView.as_view()),
    path("api/deals/<uuid:deal>/offers/<row:offer>/acceptance", offers.AcceptanceView.as_view()),
    path("api/deals/<uuid:deal>/offers/<row:offer>/turns", offers.TurnsView.as_view()),
    path("api/deals/<uuid:deal>/offers/<row:offer>/turns/<row:turn>", offers.TurnView.as_view()),
    path("api/deals/<uuid:deal>/comparison", sources.LookView.as_view()),
    path("api/deals/<uuid:deal>/bring-in", sources.AcceptView.as_view()),
    path("api/alive", web.alive),
    re_path(r"^api/", web.no_such_endpoint),
    re_path(r"^(?!api/).*$", web.index),
]

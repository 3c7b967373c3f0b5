"""All addresses.  Whatever isn't the API is the web application."""

from django.urls import path, re_path

from goodquill import web
from goodquill.assembly import api as assembly
from goodquill.contacts import api as contacts
from goodquill.deals import api as deals
from goodquill.deals import clients_api as clients
from goodquill.forms import api as forms
from goodquill.forms import memberships_api as memberships
from goodquill.forms import papers_api as papers
from goodquill.offices import api as offices
from goodquill.offices import profile_api as profile
from goodquill.sources import api as sources
from goodquill.sources import exports_api as exports
from goodquill.sources import report_api as reports
from goodquill.templates import api as templates
from goodquill.templates import releases_api as releases

urlpatterns = [
    path("api/session", offices.SessionView.as_view()),
    path("api/profile", profile.ProfileView.as_view()),
    path("api/brokerage", profile.BrokerageView.as_view()),
    path("api/forms", forms.FormsView.as_view()),
    path("api/forms/<str:edition>", forms.FormView.as_view()),
    path("api/favourites", forms.FavouritesView.as_view()),
    path("api/catalog", forms.CatalogView.as_view()),
    path("api/memberships", memberships.MembershipsView.as_view()),
    path("api/memberships/forgotten", memberships.ForgottenView.as_view()),
    path("api/papers", papers.ReadingsView.as_view()),
    path("api/papers/<uuid:reading>", papers.ReadingView.as_view()),
    path("api/papers/<uuid:reading>/form", papers.SaveReadingView.as_view()),
    path("api/papers/<uuid:reading>/pages/<int:page>/<int:sharpness>.png", papers.ReadingPictureView.as_view()),
    path("api/releases", releases.ReleasesView.as_view()),
    path("api/releases/<uuid:release>/changes", releases.ReleaseChangesView.as_view()),
    path("api/releases/<uuid:release>.zip", releases.ReleaseFileView.as_view()),
    path("api/editions/<str:edition>/pages/<int:page>/<int:sharpness>.png", forms.PagePictureView.as_view()),
    path("api/contacts", contacts.ContactsView.as_view()),
    path("api/contacts/cards", contacts.CardsView.as_view()),
    path("api/contacts/<uuid:contact>", contacts.ContactView.as_view()),
    path("api/contacts/<uuid:contact>/restore", contacts.RestoreContactView.as_view()),
    path("api/contacts/<uuid:contact>/merge", contacts.MergeView.as_view()),
    path("api/contacts/<uuid:contact>/homes", contacts.HomesView.as_view()),
    path("api/contacts/<uuid:contact>/homes/<int:home>", contacts.HomeView.as_view()),
    path("api/contacts/<uuid:contact>/record", clients.RecordView.as_view()),
    path("api/client-papers/<int:paper>", clients.ClientPaperView.as_view()),
    path("api/templates", templates.TemplatesView.as_view()),
    path("api/properties", sources.SearchView.as_view()),
    path("api/properties/report", reports.ReportView.as_view()),
    path("api/properties/report.pdf", reports.ReportFileView.as_view()),
    path("api/property-files", exports.SourceFilesView.as_view()),
    path("api/property-files/<uuid:file>", exports.SourceFileView.as_view()),
    path("api/counties", sources.CountiesView.as_view()),
    path("api/deals", deals.DealsView.as_view()),
    path("api/deals/<uuid:deal>", deals.DealView.as_view()),
    path("api/deals/<uuid:deal>/changes", deals.ChangesView.as_view()),
    path("api/deals/<uuid:deal>/undo", deals.UndoView.as_view()),
    path("api/deals/<uuid:deal>/history", deals.HistoryView.as_view()),
    path("api/deals/<uuid:deal>/facts/<str:key>", deals.LensView.as_view()),
    path("api/deals/<uuid:deal>/templates", deals.TemplatesView.as_view()),
    path("api/deals/<uuid:deal>/package", deals.PackageView.as_view()),
    path("api/deals/<uuid:deal>/package.pdf", assembly.PackageFileView.as_view()),
    path("api/deals/<uuid:deal>/documents/<str:document>.pdf", assembly.DocumentFileView.as_view()),
    path("api/deals/<uuid:deal>/contacts", clients.UseContactView.as_view()),
    path("api/deals/<uuid:deal>/documents/<str:document>/keep", clients.KeepWithClientView.as_view()),
    path("api/deals/<uuid:deal>/hand-on", clients.HandOnView.as_view()),
    path("api/deals/<uuid:deal>/stage", clients.StageView.as_view()),
    path("api/deals/<uuid:deal>/offers", deals.OffersView.as_view()),
    path("api/deals/<uuid:deal>/offers/<int:offer>", deals.OfferView.as_view()),
    path("api/deals/<uuid:deal>/comparison", sources.LookView.as_view()),
    path("api/deals/<uuid:deal>/bring-in", sources.AcceptView.as_view()),
    path("api/alive", web.alive),
    re_path(r"^api/", web.no_such_endpoint),
    re_path(r"^(?!api/).*$", web.index),
]

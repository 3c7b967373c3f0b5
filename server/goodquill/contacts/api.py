"""Contacts: finding, keeping, merging, in and out as files; homes seen."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.db.models import QuerySet
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.contacts import FIELDS, write_csv, write_vcards
from quillcore.sandbox import CARDS
from rest_framework.parsers import JSONParser, MultiPartParser
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.contacts import actions
from goodquill.contacts.models import Contact, ContactChange, HomeSeen
from goodquill.contacts.shapes import (
    CardsSerializer,
    ContactChangeSerializer,
    ContactSerializer,
    ContactsQuery,
    FileQuery,
    HomeSerializer,
    MergeSerializer,
    SaveContactSerializer,
    TakenInSerializer,
    UndoChangeSerializer,
    UndoneSerializer,
)
from goodquill.http.endpoints import as_file, asked, checked, uploaded
from goodquill.http.limits import MOST_LISTED_CONTACTS
from goodquill.offices.access import may_see_contacts
from goodquill.offices.models import MemberRole, User
from goodquill.offices.once import expensive, once
from goodquill.offices.requests import MemberRequest

if TYPE_CHECKING:
    from goodquill.http import wire


def contact_row(
    request: MemberRequest,
    contact: Contact,
    twins: list[tuple[Contact, str]],
    merged: bool = False,
    recent: list[wire.Recent] | None = None,
) -> wire.Contact:
    """Return a contact as screens get it.  ``recent`` are the changes that are told, where they were looked
    up for a whole list."""
    told = actions.recent([contact]).get(contact.pk, []) if recent is None else recent
    user = request.user
    return {
        "id": contact.pk,
        "kind": contact.kind,
        "name": contact.name,
        "fields_said": contact.fields,
        "shared": contact.shared,
        "mine": contact.owner_id == user.pk,
        "merged": merged,
        "twins": [{"id": other.pk, "name": other.name, "why": why} for other, why in twins],
        "recent": told,
        "may_merge": contact.owner_id == user.pk or user.role == MemberRole.BROKER,
    }


def _found(user: User, given: dict[str, Any]) -> QuerySet[Contact]:
    rows = Contact.objects.standing(may_see_contacts(user))
    if given["kind"]:
        rows = rows.filter(kind=given["kind"])
    for word in given["find"].lower().split()[:6]:
        rows = rows.filter(words__contains=word)
    return rows


class ContactsView(APIView):
    """Contacts that one may see."""

    @extend_schema(
        operation_id="contacts", parameters=[ContactsQuery], responses=ContactSerializer(many=True)
    )
    def get(self, request: MemberRequest) -> Response:
        """List contacts by surname: those of a kind, those with every word of ``find`` in name, company,
        e-mail, phone, address or kind; two hundred at a time."""
        given = asked(ContactsQuery, request)
        rows = list(_found(request.user, given)[given["skip"] :][:MOST_LISTED_CONTACTS])
        twins = actions.suspects(rows)
        into = set(Contact.objects.filter(merged_into__in=rows).values_list("merged_into", flat=True))
        recent = actions.recent(rows)
        return Response(
            [contact_row(request, c, twins.get(c.pk, []), c.pk in into, recent.get(c.pk, [])) for c in rows]
        )

    @extend_schema(
        operation_id="add_contact", request=SaveContactSerializer, responses={201: ContactSerializer}
    )
    @once
    def post(self, request: MemberRequest) -> Response:
        """Keep a new one; those that are probably the same are named."""
        given = checked(SaveContactSerializer, request)
        keep = actions.keep_or_add_to if given["unless_known"] else actions.save_contact
        contact = keep(request.user, given["kind"], given["fields_said"], given["shared"])
        return Response(
            contact_row(request, contact, actions.twins(contact, actions.near(request.user, contact.core))),
            201,
        )


class ContactView(APIView):
    """One contact."""

    @extend_schema(operation_id="contact", responses=ContactSerializer)
    def get(self, request: MemberRequest, contact: UUID) -> Response:
        """Return the contact, and those that are probably the same."""
        found = actions.find_contact(request.user, contact)
        return Response(
            contact_row(
                request,
                found,
                actions.twins(found, actions.near(request.user, found.core)),
                found.merged.exists(),
            )
        )

    @extend_schema(operation_id="save_contact", request=SaveContactSerializer, responses=ContactSerializer)
    @once
    def post(self, request: MemberRequest, contact: UUID) -> Response:
        """Change it."""
        given = checked(SaveContactSerializer, request)
        over = given["over"]
        saved = actions.save_contact(
            request.user,
            given["kind"],
            given["fields_said"],
            given["shared"],
            actions.find_contact(request.user, contact),
            actions.ContactText(over["kind"], over["fields_said"], over["shared"]) if over else None,
        )
        return Response(
            contact_row(
                request,
                saved,
                actions.twins(saved, actions.near(request.user, saved.core)),
                saved.merged.exists(),
            )
        )

    @extend_schema(operation_id="drop_contact", responses={204: None})
    def delete(self, request: MemberRequest, contact: UUID) -> Response:
        """Take it off the list; it can be put back, and deals keep what they have."""
        actions.remove(request.user, contact, removed=True)
        return Response(status=204)


class RestoreContactView(APIView):
    """A contact that was taken off the list."""

    @extend_schema(operation_id="restore_contact", request=None, responses={204: None})
    def post(self, request: MemberRequest, contact: UUID) -> Response:
        """Put it back."""
        actions.remove(request.user, contact, removed=False)
        return Response(status=204)


class ContactHistoryView(APIView):
    """A contact's changes."""

    @extend_schema(operation_id="contact_history", responses=ContactChangeSerializer(many=True))
    def get(self, request: MemberRequest, contact: UUID) -> Response:
        """Return the newest first."""
        rows = actions.history(request.user, contact)
        return Response(
            [{"id": r.pk, "at": r.at, "by": r.by.name, "what": r.what, "moves": _moves(r)} for r in rows]
        )

    @extend_schema(
        operation_id="undo_contact_change", request=UndoChangeSerializer, responses=UndoneSerializer
    )
    @once
    def post(self, request: MemberRequest, contact: UUID) -> Response:
        """Take one back."""
        found, left = actions.undo(request.user, contact, checked(UndoChangeSerializer, request)["change"])
        return Response({"contact": contact_row(request, found, []), "left": left})


def _moves(row: ContactChange) -> list[dict[str, str]]:
    old, new = row.before.get("fields", {}), row.after.get("fields", {})
    moved = [n for n in FIELDS if old.get(n, "") != new.get(n, "")]
    return [{"label": FIELDS[n], "before": old.get(n, ""), "after": new.get(n, "")} for n in moved]


class MergeView(APIView):
    """Two contacts as one."""

    @extend_schema(operation_id="merge_contacts", request=MergeSerializer, responses=ContactSerializer)
    @once
    def post(self, request: MemberRequest, contact: UUID) -> Response:
        """Merge another into it, or take the last merging back."""
        other = checked(MergeSerializer, request)["other"]
        kept = actions.merge(request.user, contact, other) if other else actions.part(request.user, contact)
        return Response(
            contact_row(
                request, kept, actions.twins(kept, actions.near(request.user, kept.core)), bool(other)
            )
        )


class CardsView(APIView):
    """Contacts as files."""

    parser_classes = (MultiPartParser, JSONParser)

    @extend_schema(
        operation_id="contacts_file",
        parameters=[FileQuery],
        responses={(200, "text/vcard"): OpenApiTypes.STR, (200, "text/csv"): OpenApiTypes.STR},
    )
    @expensive
    def get(self, request: MemberRequest) -> HttpResponse:
        """Return those that are found, as vCard or CSV."""
        given = asked(FileQuery, request)
        cards = [c.core for c in _found(request.user, given)]
        csv = given["as"] == "csv"
        # Sheets take a CSV for UTF-8 only when it begins with the mark of it.
        content = "\ufeff" + write_csv(cards) if csv else write_vcards(cards)
        return as_file(
            content, f"text/{'csv' if csv else 'vcard'}; charset=utf-8", f"contacts.{'csv' if csv else 'vcf'}"
        )

    @extend_schema(
        operation_id="take_in_contacts",
        request={"multipart/form-data": CardsSerializer},
        responses=TakenInSerializer,
    )
    @once
    @expensive
    def post(self, request: MemberRequest) -> Response:
        """Take a vCard or CSV file in."""
        file = checked(CardsSerializer, request)["file"]
        return Response(actions.take_in(request.user, uploaded(file, CARDS.most_bytes)))


class HomesView(APIView):
    """Homes a client has seen."""

    @extend_schema(operation_id="add_home", request=HomeSerializer, responses={201: HomeSerializer})
    @once
    def post(self, request: MemberRequest, contact: UUID) -> Response:
        """Add a contact."""
        home = HomeSeen.objects.create(
            contact=actions.find_contact(request.user, contact), **checked(HomeSerializer, request)
        )
        return Response(HomeSerializer(home).data, 201)


class HomeView(APIView):
    """One home."""

    @extend_schema(operation_id="save_home", request=HomeSerializer, responses=HomeSerializer)
    def post(self, request: MemberRequest, contact: UUID, home: int) -> Response:
        """Change when it was seen, or the note."""
        row = get_object_or_404(HomeSeen, pk=home, contact=actions.find_contact(request.user, contact))
        for name, value in checked(HomeSerializer, request).items():
            setattr(row, name, value)
        row.save()
        return Response(HomeSerializer(row).data)

    @extend_schema(operation_id="drop_home", responses={204: None})
    def delete(self, request: MemberRequest, contact: UUID, home: int) -> Response:
        """Take it off the list."""
        get_object_or_404(HomeSeen, pk=home, contact=actions.find_contact(request.user, contact)).delete()
        return Response(status=204)

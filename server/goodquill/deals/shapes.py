"""The shapes of what the deal endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from quillcore.assembly.blanks import STATES
from quillcore.facts.edits import MOST_TEXT, Op
from quillcore.values import FindingWeight
from rest_framework import serializers as s
from rest_framework.request import Request

from goodquill.deals.markup.shapes import HandChangeSerializer, SpottedSerializer
from goodquill.deals.models import Looked, Offer
from goodquill.http.choices import SIDES
from goodquill.http.endpoints import asked

WEIGHTS = [(w.value, w.value) for w in FindingWeight]
MOST_ADDED = 40
"""Forms that are added at once: more than any package has."""
MOST_ID = 2**62
"""Ids and numbers of changes are counted by the database; what is beyond is none of them."""


class OfferQuery(s.Serializer):
    """The offer at hand; the one in force without it."""

    offer = s.IntegerField(required=False, allow_null=True, default=None, min_value=1, max_value=MOST_ID)


def offer_at_hand(request: Request) -> int | None:
    """Return the offer that a request speaks of, by its id; None for the one in force."""
    found: int | None = asked(OfferQuery, request)["offer"]
    return found


class SinceQuery(OfferQuery):
    """The number of a change; 0 for everything."""

    since = s.IntegerField(min_value=0, max_value=MOST_ID)


class DealsQuery(s.Serializer):
    """The search for deals: words, one ``agent``'s deals, those touched ``before`` the last one of a list."""

    find = s.CharField(required=False, allow_blank=True, default="", max_length=200)
    thrown_away = s.BooleanField(required=False, default=False)
    agent = s.UUIDField(required=False, allow_null=True, default=None)
    before = s.DateTimeField(required=False, allow_null=True, default=None)


class NextDateSerializer(s.Serializer):
    """The next thing that is due."""

    label = s.CharField()
    date = s.DateField()


class DealRowSerializer(s.Serializer):
    """A deal in a list.  ``map``: a string a page, four characters a blank; see ``blank_status.page_map``.
    ``priced`` is what the price is called; ``touched_by`` who changed it last."""

    id = s.UUIDField()
    name = s.CharField()
    side = s.ChoiceField(choices=SIDES)
    stage = s.CharField()
    agent = s.CharField()
    address = s.CharField()
    price = s.CharField()
    priced = s.CharField()
    open = s.IntegerField()
    blanks = s.IntegerField()
    map = s.ListField(child=s.CharField(allow_blank=True))
    next = NextDateSerializer(allow_null=True)
    touched = s.DateTimeField()
    touched_by = s.CharField()


class LinkSerializer(s.Serializer):
    """Something elsewhere, by id and name."""

    id = s.UUIDField()
    name = s.CharField()


class OfferSerializer(s.Serializer):
    """One set of terms; ``parties`` are the other side's names."""

    id = s.IntegerField()
    name = s.CharField()
    parties = s.CharField(allow_blank=True)
    outcome = s.ChoiceField(choices=Offer.OUTCOMES)
    in_force = s.BooleanField()


class StepSerializer(s.Serializer):
    """A step that undo or redo would take, and what it did."""

    id = s.UUIDField()
    said = s.CharField(allow_blank=True)


class WaitingSerializer(s.Serializer):
    """A text that waits for somebody: one that can't be read (draft), or one typed while somebody else
    changed the value (clash). ``prints`` is what the paper says meanwhile."""

    what = s.ChoiceField(choices=["draft", "clash"])
    key = s.CharField()
    label = s.CharField()
    typed = s.CharField(allow_blank=True)
    by = s.CharField(allow_blank=True)
    prints = s.CharField(allow_blank=True)


class HeadSerializer(s.Serializer):
    """The deal's header.  ``catalog`` is the digest of the facts' catalog, ``client_group`` the group of
    parties that is the client; ``seq`` is the number of its newest change, ``offer`` the one at hand;
    ``open`` counts what waits too; ``next`` is what is due next, ``late`` how many tasks should have been
    done before today; ``undo`` and ``redo`` are the reader's own next steps back and forth."""

    catalog = s.CharField()
    client_group = s.CharField()
    undo = StepSerializer(allow_null=True)
    redo = StepSerializer(allow_null=True)
    waiting = WaitingSerializer(many=True)
    name_typed = s.BooleanField()

    id = s.UUIDField()
    name = s.CharField()
    side = s.ChoiceField(choices=SIDES)
    stage = s.CharField()
    seq = s.IntegerField()
    open = s.IntegerField()
    agent = s.CharField()
    association = s.CharField()
    released = s.DateField()
    next = NextDateSerializer(allow_null=True)
    late = s.IntegerField()
    offer = s.IntegerField()
    offers = OfferSerializer(many=True)


class DocumentSerializer(s.Serializer):
    """One item of the package; without an ``edition`` it is a paper expected from somebody.

    ``mapping`` says with the edition what its blanks are (see the layouts), ``prefix`` what their own keys
    begin with, ``states`` how they stand: a letter each, in reading order (o open, f filled, p optional, i
    idle, t theirs, s sign spot, w where what was typed waits; a capital where the value is too long).
    ``clients_own`` says that it is between client and agent alone.  ``ours`` is whether it is ours to fill on
    this side; ``sizes`` are its pages' widths and heights in points where they aren't all letter pages;
    ``continued`` whether continuation pages follow it.
    """

    id = s.CharField()
    number = s.CharField(allow_blank=True)
    title = s.CharField()
    section = s.CharField(allow_blank=True)
    pages = s.IntegerField()
    open = s.IntegerField()
    blanks = s.IntegerField()
    edition = s.CharField(allow_blank=True)
    mapping = s.CharField(allow_blank=True)
    prefix = s.CharField()
    states = s.CharField(allow_blank=True)
    released = s.CharField(allow_blank=True)
    why = s.CharField(allow_blank=True)
    expected_from = s.CharField(allow_blank=True)
    set_aside = s.BooleanField()
    ours = s.BooleanField()
    clients_own = s.BooleanField()
    audience = s.ListField(child=s.CharField())
    sizes = s.ListField(child=s.ListField(child=s.FloatField()))
    continued = s.BooleanField()
    by_hand = HandChangeSerializer(many=True)
    spots = SpottedSerializer(many=True)


class FindingSerializer(s.Serializer):
    """One thing that is remarked on: ``place`` is the key that it speaks of (see
    ``quillcore.values.findings``)."""

    rule = s.CharField()
    weight = s.ChoiceField(choices=WEIGHTS)
    place = s.CharField()
    message = s.CharField()
    mend = s.CharField(allow_blank=True)


class DraftSerializer(s.Serializer):
    """A typed text that can't be read, with the reason."""

    text = s.CharField()
    message = s.CharField()
    mend = s.CharField(allow_blank=True)


class ClashSerializer(s.Serializer):
    """A text that somebody typed while somebody else changed the value; ``mine`` where the reader did."""

    text = s.CharField(allow_blank=True)
    by = s.CharField()
    mine = s.BooleanField()


class BlankSerializer(s.Serializer):
    """One blank, beyond the parts that its form fixes (``LayoutBlank``, by ``place``): a missing member is as
    usual, no text, no source, version 0, the usual size. ``set`` holds [x, baseline y, text] lines in points
    from the lower left; a line's text is left out where it is all of the blank's. ``quiet`` says why it
    prints nothing of its fact."""

    document = s.CharField()
    place = s.IntegerField()
    state = s.ChoiceField(choices=list(STATES))
    text = s.CharField(required=False)
    marked = s.BooleanField(required=False)
    source = s.CharField(required=False)
    only_here = s.BooleanField(required=False)
    overflow = s.BooleanField(required=False)
    version = s.IntegerField(required=False)
    size = s.FloatField(required=False)
    set = s.ListField(child=s.ListField(child=s.JSONField()), required=False)
    waits_for = s.ListField(child=s.CharField(), required=False)
    findings = FindingSerializer(many=True, required=False)
    draft = DraftSerializer(required=False)
    clashes = ClashSerializer(many=True, required=False)
    explained = s.DictField(child=s.CharField(), required=False)
    quiet = s.CharField(required=False)


class BesideSerializer(s.Serializer):
    """One source's value."""

    source = s.CharField()
    shown = s.CharField()
    origin = s.CharField(allow_blank=True)


class FactSerializer(s.Serializer):
    """One fact as it stands, beyond what the catalog says of it; what isn't there is as usual: nothing shown,
    no source, version 0, no places.  ``edit`` is how the value is typed over, where that isn't as it is
    shown; ``replaced`` what would be worked out.
    """

    key = s.CharField()
    shown = s.CharField(required=False)
    edit = s.CharField(required=False)
    source = s.CharField(required=False)
    version = s.IntegerField(required=False)
    places = s.IntegerField(required=False)
    missing = s.ListField(child=s.CharField(), required=False)
    differs = s.BooleanField(required=False)
    locked = s.BooleanField(required=False)
    left = s.BooleanField(required=False)
    findings = FindingSerializer(many=True, required=False)
    beside = BesideSerializer(many=True, required=False)
    replaced = s.CharField(required=False)
    draft = DraftSerializer(required=False)
    clashes = ClashSerializer(many=True, required=False)


class PartySerializer(s.Serializer):
    """A party's stable id, printed name and initials."""

    id = s.CharField()
    name = s.CharField(allow_blank=True)
    initials = s.CharField(allow_blank=True)
    is_entity = s.BooleanField()
    findings = FindingSerializer(many=True)


class SuggestedSerializer(s.Serializer):
    """A recorded owner read from the roll: ``fields`` is what confirming would type; without a name somebody
    unnamed."""

    group = s.CharField()
    recorded = s.CharField()
    name = s.CharField(allow_blank=True)
    capacity = s.CharField(allow_blank=True)
    confidence = s.FloatField()
    findings = FindingSerializer(many=True)
    fields = s.DictField(child=s.CharField())


class DealSerializer(s.Serializer):
    """A deal, whole; of its blanks those that say more than the letter of their state.  ``findings``
    speak of its documents; ``clients`` are its clients' records,
    ``earlier`` the deal that handed on to it."""

    head = HeadSerializer()
    clients = LinkSerializer(many=True)
    earlier = LinkSerializer(allow_null=True)
    documents = DocumentSerializer(many=True)
    blanks = BlankSerializer(many=True)
    facts = FactSerializer(many=True)
    parties = s.DictField(child=PartySerializer(many=True))
    suggested = SuggestedSerializer(many=True)
    findings = FindingSerializer(many=True)


class DeltaSerializer(s.Serializer):
    """The effects of a change. With ``whole`` facts and blanks are all there are, else only the stale ones.
    ``left`` names what an undo could not take back, ``late`` days that this made known and that have passed
    already. It speaks of the steps behind ``after`` up to ``until``; what it says of them is at least as new
    as ``head.seq``, and steps made between two deltas are to be asked for."""

    after = s.IntegerField()
    until = s.IntegerField()
    head = HeadSerializer()
    documents = DocumentSerializer(many=True)
    blanks = BlankSerializer(many=True)
    facts = FactSerializer(many=True)
    parties = s.DictField(child=PartySerializer(many=True))
    suggested = SuggestedSerializer(many=True)
    whole = s.BooleanField()
    left = s.ListField(child=s.CharField())
    late = FindingSerializer(many=True)
    change = s.UUIDField(allow_null=True)
    said = s.CharField(allow_blank=True)


class EditSerializer(s.Serializer):
    """One edit.  ``key`` as the screen knows it (a party group for party edits); ``based_on`` the version it
    was made from; ``text`` what was typed or pasted (which may state several facts), or the wanted order of
    party ids; for a wording to be inserted that, ``before`` and ``behind`` what stands around it in the
    blank, and ``clause`` which one it is of.
    """

    op = s.ChoiceField(choices=[op.value for op in Op])
    key = s.CharField(max_length=160)
    text = s.CharField(max_length=MOST_TEXT, allow_blank=True, required=False, trim_whitespace=False)
    source = s.CharField(max_length=12, required=False, allow_blank=True)
    party = s.CharField(max_length=12, required=False)
    before = s.CharField(max_length=MOST_TEXT, allow_blank=True, required=False, trim_whitespace=False)
    behind = s.CharField(max_length=MOST_TEXT, allow_blank=True, required=False, trim_whitespace=False)
    clause = s.CharField(max_length=40, required=False, allow_blank=True)
    based_on = s.IntegerField(required=False, allow_null=True, min_value=0, max_value=MOST_ID)


class EditsSerializer(s.Serializer):
    """A batch of edits under the client's change id; sending it again does nothing twice."""

    change = s.UUIDField()
    edits = EditSerializer(many=True, max_length=200)


class UndoSerializer(s.Serializer):
    """The change to take back."""

    change = s.UUIDField()
    target = s.UUIDField()


class ApplySerializer(s.Serializer):
    """The template to apply."""

    change = s.UUIDField()
    template = s.UUIDField()


class PackageEditSerializer(s.Serializer):
    """One change to the package.  Forms are added by ``number`` (in this ``edition``), or several by their
    ``numbers``; a paper is ``expected`` from somebody; a document is put under the heading ``section``; in a
    new ``order`` the ``document`` that was moved takes the heading of its place."""

    change = s.UUIDField()
    op = s.ChoiceField(choices=["add", "expect", "remove", "aside", "take_up", "order", "section"])
    number = s.CharField(max_length=20, required=False)
    numbers = s.ListField(child=s.CharField(max_length=20), required=False, max_length=MOST_ADDED)
    edition = s.CharField(max_length=64, required=False)
    expected = s.CharField(max_length=200, required=False)
    expected_from = s.CharField(max_length=80, required=False, allow_blank=True)
    document = s.CharField(max_length=12, required=False)
    section = s.CharField(max_length=80, required=False)
    order = s.ListField(child=s.CharField(max_length=12), required=False, max_length=300)


class HistorySerializer(s.Serializer):
    """One line of a fact's history."""

    at = s.DateTimeField()
    by = s.CharField()
    source = s.CharField(allow_blank=True)
    act = s.CharField()
    shown = s.CharField(allow_blank=True)
    origin = s.CharField(allow_blank=True)


class LensSerializer(s.Serializer):
    """The further data of one fact or blank: ``why`` it was worked out so, its value at every source, the
    keys that it is worked out from, and its history."""

    why = s.CharField(allow_blank=True)
    beside = BesideSerializer(many=True)
    reads = s.ListField(child=s.CharField())
    history = HistorySerializer(many=True)


class EarlierAnswerSerializer(s.Serializer):
    """An earlier answer as it is typed and as it is shown, and in how many deals it was given."""

    text = s.CharField()
    shown = s.CharField()
    times = s.IntegerField()


class EarlierSerializer(s.Serializer):
    """Earlier answers to one question."""

    key = s.CharField()
    answers = EarlierAnswerSerializer(many=True)


class YearQuery(s.Serializer):
    """A year."""

    year = s.IntegerField(min_value=1900, max_value=2200)


class HolidaySerializer(s.Serializer):
    """A weekday on which no business is done."""

    day = s.DateField()
    name = s.CharField()


class MoveSerializer(s.Serializer):
    """The effect of a step on one value."""

    label = s.CharField()
    before = s.CharField(allow_blank=True)
    after = s.CharField(allow_blank=True)


class NameSerializer(s.Serializer):
    """A deal's name; an empty one follows address and surname."""

    change = s.UUIDField()
    name = s.CharField(max_length=250, allow_blank=True)


class LookedSerializer(s.Serializer):
    """An entry of the access log: who opened or took what; ``content`` is the SHA-256 of the file that
    left."""

    at = s.DateTimeField()
    by = s.CharField()
    what = s.ChoiceField(choices=Looked.WHAT)
    document = s.CharField(allow_blank=True)
    how = s.CharField(allow_blank=True)
    content = s.CharField(allow_blank=True)


class ChangeSerializer(s.Serializer):
    """One undoable step.  ``moves`` are the first facts that it changed, ``more`` counts the rest; ``redo``
    names the undo that took it back, which can itself be taken back."""

    id = s.UUIDField()
    seq = s.IntegerField()
    at = s.DateTimeField()
    by = s.CharField()
    kind = s.CharField()
    said = s.CharField(allow_blank=True)
    moves = MoveSerializer(many=True)
    more = s.IntegerField()
    undone = s.BooleanField()
    redo = s.UUIDField(allow_null=True)

"""Types of the answers: made from server/schema.yaml by ``make schema``, never edited.

Days, moments and ids are such, and become texts as the answer leaves.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, datetime
from decimal import Decimal
from typing import Any, NotRequired, TypedDict
from uuid import UUID


class Acceptance(TypedDict):
    against: str
    mend: str
    needs_paper: str
    rows: Sequence[AcceptedTerm]
    words: Sequence[TurnWords]
    papers: Sequence[TurnPaper]


class AcceptedTerm(TypedDict):
    label: str
    now: str
    then: str
    differs: bool


class AddresseeShape(TypedDict):
    name: str
    email: str
    role: str
    concerns: str


class Against(TypedDict):
    message: str
    mend: str
    who: str
    place: str


class Agent(TypedDict):
    id: UUID
    name: str


class AnswerThere(TypedDict):
    key: str
    label: str
    text: str
    ours: str
    may: bool
    same: bool


class Ask(TypedDict):
    vary: str
    of: str
    says: str


class Attached(TypedDict):
    key: str
    title: str
    place: str


class Begun(TypedDict):
    id: UUID
    name: str
    stayed_out: Sequence[str]


class BegunShape(TypedDict):
    picture: str
    key: str


class Beside(TypedDict):
    source: str
    shown: str
    origin: str


class Blank(TypedDict):
    document: str
    place: int
    state: str
    text: NotRequired[str]
    marked: NotRequired[bool]
    source: NotRequired[str]
    only_here: NotRequired[bool]
    overflow: NotRequired[bool]
    version: NotRequired[int]
    size: NotRequired[Decimal | float]
    set: NotRequired[Sequence[Sequence[Any]]]
    waits_for: NotRequired[Sequence[str]]
    findings: NotRequired[Sequence[Finding]]
    draft: NotRequired[Draft]
    clashes: NotRequired[Sequence[Clash]]
    explained: NotRequired[Mapping[str, str]]
    quiet: NotRequired[str]


class BlankChange(TypedDict):
    id: str
    label: str
    what: str


class Brokerage(TypedDict):
    name: str
    licence: str
    broker: UUID | None
    offices: Sequence[Office]


class Catalog(TypedDict):
    facts: Sequence[FactSheet]
    groups: Mapping[str, str]
    sections: Sequence[WorkSection]
    contact_groups: Sequence[ContactGroup]
    party_groups: Sequence[PartyGroup]
    party_fields: Sequence[PartyField]


class CatalogFact(TypedDict):
    key: str
    label: str
    group: str
    kind: str
    options: Sequence[str]


class Cell(TypedDict):
    key: str
    amount: Decimal | str | None
    shown: str
    edit: str
    source: str | None
    basis: str
    waits: Sequence[str]


class Change(TypedDict):
    id: UUID
    seq: int
    at: datetime
    by: str
    kind: str
    said: str
    moves: Sequence[Move]
    more: int
    undone: bool
    redo: UUID | None


class ChangedShape(TypedDict):
    paper: str
    label: str
    was: str
    now: str


class CheckedShape(TypedDict):
    about: str
    holds: bool
    sentence: str


class ChoiceShape(TypedDict):
    papers: Sequence[ChosenPaperShape]
    people: Sequence[ChosenPersonShape]
    against: Sequence[Against]


class Choices(TypedDict):
    sides: Sequence[SideChoice]
    property_kinds: Sequence[str]
    loan_types: Sequence[str]
    contact_kinds: Sequence[ContactKind]
    contact_fields: Sequence[ContactField]
    recurring: Sequence[Recurring]
    value_kinds: Sequence[str]
    signer_roles: Sequence[SignerRole]
    sign_kinds: Sequence[str]


class ChosenPaperShape(TypedDict):
    document: str
    number: str
    title: str
    signatures: int
    initials: int
    dates: int
    pages: Sequence[int]
    chosen: bool


class ChosenPersonShape(TypedDict):
    key: str
    name: str
    signs_as: str
    role: str
    email: str
    name_key: str
    email_key: str
    turn: int
    places: int


class Clash(TypedDict):
    text: str
    by: str
    mine: bool


class Clause(TypedDict):
    id: UUID
    ref: str
    name: str
    wording: str
    parts: Sequence[WordingPart]
    reach: str
    of: str
    number: int
    approved_by: str
    approved_on: date | None
    used: int
    may_write: bool


class ClauseUse(TypedDict):
    deal: UUID
    name: str
    label: str
    number: int


class ClauseVersion(TypedDict):
    number: int
    name: str
    wording: str
    by: str
    at: datetime


class ClientPaper(TypedDict):
    id: int
    title: str
    number: str
    pages: int
    represents: bool
    begins: date | None
    ends: date | None
    ended: bool
    kept: datetime
    deal: UUID | None


class Column(TypedDict):
    name: str
    sample: str


class ComparedWithShape(TypedDict):
    code: str
    title: str


class Comparison(TypedDict):
    id: UUID
    address: str
    listing: str
    status: str
    parcel: str
    county: str
    file: str
    before: datetime | None
    rows: Sequence[Row]
    papers: Sequence[Attached]
    troubles: Sequence[str]
    remark: str
    unread: Sequence[str]


class Contact(TypedDict):
    may_merge: bool
    recent: Sequence[Recent]
    id: UUID
    kind: str
    name: str
    fields_said: Mapping[str, str]
    shared: bool
    mine: bool
    merged: bool
    twins: Sequence[Twin]


class ContactChange(TypedDict):
    id: int
    at: datetime
    by: str
    what: str
    moves: Sequence[Mapping[str, str]]


class ContactField(TypedDict):
    field: str
    label: str
    of_entity: bool


class ContactGroup(TypedDict):
    group: str
    kind: str


class ContactKind(TypedDict):
    kind: str
    label: str
    fields_asked: Sequence[str]


class ContinuationPage(TypedDict):
    document: str
    number: int
    lines: Sequence[Sequence[Any]]
    rules: Sequence[Sequence[Decimal | float]]
    spots: Sequence[ContinuationSpot]


class ContinuationSpot(TypedDict):
    role: str
    sign: str
    rect: Sequence[Decimal | float]


class Copied(TypedDict):
    name: str
    email: str


class Deal(TypedDict):
    head: Head
    clients: Sequence[Link]
    earlier: Link | None
    documents: Sequence[Document]
    blanks: Sequence[Blank]
    facts: Sequence[Fact]
    parties: Mapping[str, Sequence[Party]]
    suggested: Sequence[Suggested]
    findings: Sequence[Finding]


class DealRow(TypedDict):
    id: UUID
    name: str
    side: str
    stage: str
    agent: str
    address: str
    price: str
    priced: str
    open: int
    blanks: int
    map: Sequence[str]
    next: NextDate | None
    touched: datetime
    touched_by: str


class Delivered(TypedDict):
    id: UUID
    made: datetime
    by: str
    how: str
    subject: str
    ends: datetime | None
    files: Sequence[DeliveredFileShape]
    to: Sequence[RecipientShape]


class DeliveredFileShape(TypedDict):
    name: str
    hash: str
    size: int


class Deliveries(TypedDict):
    papers: Sequence[MayLeaveShape]
    people: Sequence[AddresseeShape]
    sent: Sequence[Delivered]


class Delta(TypedDict):
    after: int
    until: int
    head: Head
    documents: Sequence[Document]
    blanks: Sequence[Blank]
    facts: Sequence[Fact]
    parties: Mapping[str, Sequence[Party]]
    suggested: Sequence[Suggested]
    whole: bool
    left: Sequence[str]
    late: Sequence[Finding]
    change: UUID | None
    said: str


class Difference(TypedDict):
    what: str
    was: str
    now: str


class DifferenceShape(TypedDict):
    kind: str
    page: int
    their_page: int
    label: str
    option: str
    was: str
    now: str


class Document(TypedDict):
    id: str
    number: str
    title: str
    section: str
    pages: int
    open: int
    blanks: int
    edition: str
    mapping: str
    prefix: str
    states: str
    released: str
    why: str
    expected_from: str
    set_aside: bool
    ours: bool
    clients_own: bool
    audience: Sequence[str]
    sizes: Sequence[Sequence[Decimal | float]]
    continued: bool
    by_hand: Sequence[HandChange]
    spots: Sequence[Spotted]


class Draft(TypedDict):
    text: str
    message: str
    mend: str


class DueRow(TypedDict):
    deal: UUID
    deal_name: str
    address: str
    agent: str
    code: str
    what: str
    who: str
    named: str
    day: date | None
    why: str
    note: str
    progress: str
    urgency: str


class Earlier(TypedDict):
    key: str
    answers: Sequence[EarlierAnswer]


class EarlierAnswer(TypedDict):
    text: str
    shown: str
    times: int


class FaceShape(TypedDict):
    face: str
    signature: MarkShape | None
    initials: MarkShape | None
    trouble: str


class Fact(TypedDict):
    key: str
    shown: NotRequired[str]
    edit: NotRequired[str]
    source: NotRequired[str]
    version: NotRequired[int]
    places: NotRequired[int]
    missing: NotRequired[Sequence[str]]
    differs: NotRequired[bool]
    locked: NotRequired[bool]
    left: NotRequired[bool]
    findings: NotRequired[Sequence[Finding]]
    beside: NotRequired[Sequence[Beside]]
    replaced: NotRequired[str]
    draft: NotRequired[Draft]
    clashes: NotRequired[Sequence[Clash]]


class FactSheet(TypedDict):
    key: str
    group: str
    label: str
    kind: str
    options: Sequence[str]
    also: str
    help: str
    example: str
    worked_out: bool
    reads: Sequence[str]
    ask: str
    section: str
    states_parts: bool


class Fault(TypedDict):
    message: str
    mend: str
    place: str


class Feed(TypedDict):
    address: str


class FileForYouShape(TypedDict):
    id: UUID
    name: str
    size: int


class Finding(TypedDict):
    rule: str
    weight: str
    place: str
    message: str
    mend: str


class ForYou(TypedDict):
    name: str
    subject: str
    message: str
    sender: SenderShape
    ends: datetime | None
    files: Sequence[FileForYouShape]


class Forgotten(TypedDict):
    numbers: Sequence[str]


class Form(TypedDict):
    number: str
    title: str
    topic: str
    purpose: str
    sides: Sequence[str]
    kinds: Sequence[str]
    audience: Sequence[str]
    filled_by: Sequence[str]
    pages: int
    blanks: int
    edition: str
    released: date
    association: str
    own: bool
    favourite: bool
    found: str


class FormBlank(TypedDict):
    id: str
    page: int
    rect: Sequence[Decimal | float]
    shape: str
    label: str
    key: str
    who: str


class FormChange(TypedDict):
    number: str
    title: str
    what: str
    blanks: Sequence[BlankChange]
    wording: Sequence[str]


class FormMoves(TypedDict):
    number: str
    title: str
    retired: bool
    blanks: Sequence[str]
    wording: Sequence[str]
    answers_lost: Sequence[str]


class FormSheet(TypedDict):
    number: str
    title: str
    topic: str
    purpose: str
    sides: Sequence[str]
    kinds: Sequence[str]
    audience: Sequence[str]
    filled_by: Sequence[str]
    pages: int
    blanks: int
    edition: str
    released: date
    association: str
    own: bool
    favourite: bool
    found: str
    sizes: Sequence[Sequence[Decimal | float]]
    fields_on_pages: Sequence[FormBlank]


class Found(TypedDict):
    listing: str
    parcel: str
    county: str
    address: str
    status: str
    price: str
    owner: str
    kind: str
    category: str


class FoundPaper(TypedDict):
    first: int
    last: int
    title: str
    number: str
    released: date | None
    place: str
    section: str
    audience: Sequence[str]
    answers: Sequence[AnswerThere]
    open: Sequence[str]


class FromDeal(TypedDict):
    kept: Sequence[KeptAnswer]
    left: Sequence[str]
    tasks: Sequence[str]


class GoesWith(TypedDict):
    number: str
    title: str
    why: str


class Habit(TypedDict):
    text: str
    shown: str
    times: int
    of: int


class HandChange(TypedDict):
    id: str
    page: int
    words: str
    text: str
    rules: Sequence[Sequence[Decimal | float]]
    size: Decimal | float
    lines: Sequence[Sequence[Any]]
    initials: Sequence[Initials]


class HandSpot(TypedDict):
    id: str
    page: int
    rect: Sequence[Decimal | float]
    what: str
    who: str
    label: NotRequired[str]
    required: NotRequired[bool]


class Head(TypedDict):
    catalog: str
    client_group: str
    undo: Step | None
    redo: Step | None
    waiting: Sequence[Waiting]
    name_typed: bool
    id: UUID
    name: str
    side: str
    stage: str
    seq: int
    open: int
    agent: str
    association: str
    released: date
    next: NextDate | None
    late: int
    offer: int
    offers: Sequence[Offer]


class History(TypedDict):
    at: datetime
    by: str
    source: str
    act: str
    shown: str
    origin: str


class Holiday(TypedDict):
    day: date
    name: str


class Home(TypedDict):
    id: int
    listing: str
    parcel: str
    county: str
    address: str
    price: str
    kind: str
    category: str
    seen_on: date
    note: str


class Incoming(TypedDict):
    id: UUID
    name: str
    at: datetime
    left_out: Sequence[str]
    pages: Sequence[IncomingPage]
    found: Sequence[FoundPaper]


class IncomingPage(TypedDict):
    width: Decimal | float
    height: Decimal | float
    scan: bool


class Initials(TypedDict):
    name: str
    rect: Sequence[Decimal | float]


class KeptAnswer(TypedDict):
    key: str
    label: str
    of: str
    text: str


class KeyDate(TypedDict):
    key: str
    label: str


class LayoutBlank(TypedDict):
    field: str
    page: int
    rect: Sequence[Decimal | float]
    shape: str
    lines: int
    line: Decimal | float
    beside: str
    align: str
    size: Decimal | float
    fact: str
    own: str
    kind: str
    options: Sequence[str]
    value: str
    label: str
    help: str
    ask: str
    role: str
    role_group: str
    role_position: int
    sign: str
    editable: bool
    reads: Sequence[str]


class Left(TypedDict):
    number: str
    document: str
    key: str
    field: str
    label: str
    by: str
    habit: Habit | None


class LeftWithReason(TypedDict):
    reason: str
    by: str
    at: datetime


class Lens(TypedDict):
    why: str
    beside: Sequence[Beside]
    reads: Sequence[str]
    history: Sequence[History]


class LetterShape(TypedDict):
    id: UUID
    to: str
    subject: str
    about: str
    state: str
    said: str
    tries: int
    next_try: datetime | None
    made: datetime


class Line(TypedDict):
    label: str
    text: str


class Link(TypedDict):
    id: UUID
    name: str


class LinkedShape(TypedDict):
    name: str
    email: str
    brokerage: str
    invited: bool


class Looked(TypedDict):
    at: datetime
    by: str
    what: str
    document: str
    how: str
    content: str


class LookedScan(TypedDict):
    paper: UUID
    title: str
    places: int
    document: str
    inked: int


class MarkShape(TypedDict):
    box: Sequence[Decimal | float]
    path: str
    pen: Decimal | float


class MayBeScan(TypedDict):
    document: str
    title: str


class MayLeaveShape(TypedDict):
    document: str
    title: str
    pages: int
    audience: Sequence[str]
    usually_for: Sequence[str]


class MaySign(TypedDict):
    key: str
    name: str
    initials: str
    role: str


class MemberShape(TypedDict):
    id: UUID
    name: str
    email: str
    role: str
    office: str
    office_id: UUID
    licence: str
    confirmed: bool
    saves_papers: bool
    second_step: bool
    active: bool
    invited: datetime | None
    me: bool


class MembersShape(TypedDict):
    two_steps: bool
    offices: Sequence[Person]
    roles: Sequence[str]
    members: Sequence[MemberShape]


class Membership(TypedDict):
    association: str
    number: str
    active: bool
    expires: date
    open: bool


class Mend(TypedDict):
    says: str
    key: str
    text: str
    add: str
    aside: str
    clause: str


class Move(TypedDict):
    label: str
    before: str
    after: str


class Moved(TypedDict):
    id: UUID
    name: str
    said: str


class Named(TypedDict):
    id: str
    name: str


class NewsShape(TypedDict):
    upto: int
    news: Sequence[OneNewsShape]


class NextDate(TypedDict):
    label: str
    date: date


class Offer(TypedDict):
    id: int
    name: str
    parties: str
    outcome: str
    in_force: bool


class OfferCell(TypedDict):
    shown: str
    source: str | None


class OfferColumn(TypedDict):
    id: int
    name: str
    parties: str
    outcome: str
    in_force: bool
    came: str
    agent: str
    firm: str
    documents: int
    turns: int


class OfferRow(TypedDict):
    key: str
    label: str
    kind: str
    apart: bool
    cells: Sequence[OfferCell]


class Offers(TypedDict):
    offers: Sequence[OfferColumn]
    rows: Sequence[OfferRow]
    other: str


class Office(TypedDict):
    id: UUID | None
    name: str
    address: str
    phone: str
    code: str
    supervisor: UUID | None


class OneNewsShape(TypedDict):
    id: int
    deal: UUID
    round: UUID
    wrong: bool
    said: str


class OtherSignerShape(TypedDict):
    name: str
    role: str
    done: bool


class OverShape(TypedDict):
    message: str
    mend: str


class OwnLink(TypedDict):
    address: str


class OwnSessionShape(TypedDict):
    device: str
    address: str
    began: datetime | None
    seen: datetime
    here: bool


class PageSizeShape(TypedDict):
    width: Decimal | float
    height: Decimal | float


class PageWords(TypedDict):
    pages: Sequence[Sequence[Sequence[Any]]]


class Paper(TypedDict):
    number: str
    title: str
    topic: NotRequired[str]
    purpose: NotRequired[str]
    sides: NotRequired[Sequence[str]]


class Party(TypedDict):
    id: str
    name: str
    initials: str
    is_entity: bool
    findings: Sequence[Finding]


class PartyField(TypedDict):
    field: str
    kind: str
    label: str
    options: Sequence[str]
    example: str
    worked_out: bool
    of: str


class PartyGroup(TypedDict):
    group: str
    one: str


class Passed(TypedDict):
    passed: int


class PenShape(TypedDict):
    key: str
    name: str
    signed: bool


class Person(TypedDict):
    id: UUID
    name: str


class PlaceShape(TypedDict):
    id: str
    page: int
    rect: Sequence[Decimal | float]
    sign: str
    put: str | None
    text: str


class Placed(TypedDict):
    id: str
    page: int
    rect: Sequence[Decimal | float]
    shape: str
    lines: int
    label: str
    fact: str
    kind: str
    group: str
    value: str
    role: str
    sign: str
    who: str
    required: bool
    confirmed: bool
    confidence: Decimal | float
    others: Sequence[str]


class Profile(TypedDict):
    name: str
    email: str
    phone: str
    licence: str
    licences: Mapping[str, str]
    listing_code: str
    office: str
    memberships: Sequence[str]
    brokerage: Brokerage
    may_change_brokerage: bool
    may_manage_members: bool
    confirmed: bool
    members: Sequence[Person]


class Proof(TypedDict):
    ready: bool
    remarks: Sequence[Remark]


class QuestionShape(TypedDict):
    key: str
    asked: str
    help: str
    kind: str
    options: Sequence[str]
    lines: int
    page: int
    rect: Sequence[Decimal | float]
    text: str
    wrong: str
    applies: bool
    must: bool
    open: bool


class Reading(TypedDict):
    id: UUID
    name: str
    title: str
    by: str
    pages: int
    blanks: int
    confirmed: int
    made: datetime
    proposed_by: str
    mine: bool
    shared: bool
    sizes: Sequence[Sequence[Decimal | float]]
    removed: Sequence[str]
    paper: Paper
    told: Told | None
    placed: Sequence[Placed]
    faults: Sequence[Fault]
    version: int
    may_save: bool
    line_height: int


class ReadingRow(TypedDict):
    id: UUID
    name: str
    title: str
    by: str
    pages: int
    blanks: int
    confirmed: int
    made: datetime
    proposed_by: str
    mine: bool
    shared: bool


class Recent(TypedDict):
    field: str
    label: str
    by: str
    at: datetime
    before: str


class RecipientShape(TypedDict):
    name: str
    email: str
    opened: datetime | None
    refused: str


class Reckoned(TypedDict):
    sheets: Sequence[SheetName]
    sheet: str
    result: str
    result_label: str
    lines: Sequence[SheetLine]
    set_by: Sequence[SetBy]
    asks: Sequence[Ask]
    columns: Sequence[ReckonedColumn]


class ReckonedColumn(TypedDict):
    name: str
    offer: int
    cells: Sequence[Cell]
    wrong: Sequence[Wrong]


class Record(TypedDict):
    papers: Sequence[ClientPaper]
    homes: Sequence[Home]
    deals: Sequence[DealRow]
    advice: str


class RecoveryShape(TypedDict):
    codes: Sequence[str]
    begun: BegunShape | None


class Recurring(TypedDict):
    group: str
    kind: str
    label: str


class Release(TypedDict):
    id: UUID
    association: str
    released: date
    forms: int
    own: bool
    newest: bool
    left: bool
    may_change: bool


class ReleaseRead(TypedDict):
    association: str
    released: date | None
    faults: Sequence[Fault]
    changes: Sequence[FormChange]
    same: int
    sheet: Sequence[Difference]
    templates: Sequence[TemplateChange]
    taken: bool


class Remark(TypedDict):
    mark: str
    rule: str
    weight: str
    message: str
    mend: str
    key: str
    document: str
    field: str
    place: str
    does: Mend | None
    left: LeftWithReason | None


class RememberedSpots(TypedDict):
    spots: Sequence[HandSpot]
    by: str
    at: datetime


class Report(TypedDict):
    address: str
    parcel: str
    county: str
    sections: Sequence[Section]
    owners: Sequence[ReportOwner]
    years: Sequence[Year]
    sales: Sequence[Sale]


class ReportOwner(TypedDict):
    name: str
    capacity: str
    ask: str


class ReturnedShape(TypedDict):
    against: str
    sent: datetime | None
    choices: Sequence[ComparedWithShape]
    differences: Sequence[DifferenceShape]
    terms: Sequence[SaidTermShape]
    people: Sequence[PenShape]


class Round(TypedDict):
    id: UUID
    deal: UUID
    offer: int | None
    state: str
    subject: str
    message: str
    by: str
    ends: datetime | None
    zone: str
    remind_every: int
    code: bool
    question: str
    has_answer: bool
    must: Sequence[str]
    reason: str
    said: str
    made: datetime
    sent: datetime | None
    ended: datetime | None
    sealed: datetime | None
    doubt: str
    done: str
    looked: bool
    copied: Sequence[Copied]
    papers: Sequence[RoundPaperShape]
    signers: Sequence[RoundSignerShape]


class RoundEventShape(TypedDict):
    at: str
    said: str
    source: str


class RoundOut(TypedDict):
    id: UUID
    deal: UUID
    offer: int | None
    state: str
    subject: str
    message: str
    by: str
    ends: datetime | None
    zone: str
    remind_every: int
    code: bool
    question: str
    has_answer: bool
    must: Sequence[str]
    reason: str
    said: str
    made: datetime
    sent: datetime | None
    ended: datetime | None
    sealed: datetime | None
    doubt: str
    done: str
    looked: bool
    copied: Sequence[Copied]
    papers: Sequence[RoundPaperShape]
    signers: Sequence[RoundSignerShape]
    deal_name: str


class RoundPaperShape(TypedDict):
    id: UUID
    document: str
    title: str
    pages: Sequence[PageSizeShape]
    places: Sequence[SpotShape]
    finished: bool
    progress: str


class RoundSignerShape(TypedDict):
    id: UUID
    key: str
    turn: int
    name: str
    role: str
    email: str
    at: str
    waited_on: bool
    in_person: bool
    by_pen: str
    asked: datetime | None
    reminded: datetime | None
    put: int
    places: int
    asked_of: int
    answered: int
    read: Sequence[str]
    refused: str


class Row(TypedDict):
    key: str
    label: str
    group: str
    now: str
    now_source: str | None
    listing: str
    roll: str
    becomes: str
    becomes_source: str | None
    status: str
    heavy: bool
    was: Mapping[str, str]


class RowFound(TypedDict):
    listing: str
    parcel: str
    county: str
    address: str
    status: str
    price: str
    owner: str
    kind: str
    category: str
    row: int


class SaidTermShape(TypedDict):
    key: str
    label: str
    text: str


class Sale(TypedDict):
    on: str
    price: str
    per_foot: str
    deed: str


class Sample(TypedDict):
    deal: UUID
    filled: int
    open: int
    deals: Sequence[Named]
    formulas: Sequence[TriedFormula]


class Saved(TypedDict):
    form: Form | None
    proposed: bool


class Scans(TypedDict):
    came: Sequence[MayBeScan]
    papers: Sequence[LookedScan]


class Search(TypedDict):
    found: Sequence[Found]
    more: int
    troubles: Sequence[str]


class Section(TypedDict):
    title: str
    rows: Sequence[Line]


class SenderShape(TypedDict):
    name: str
    firm: str
    phone: str
    email: str


class Session(TypedDict):
    id: UUID
    name: str
    email: str
    role: str
    brokerage: str
    office: str
    owes_second_step: bool
    may_keep_clauses: bool
    may_approve_clauses: bool
    choices: Choices


class SetBy(TypedDict):
    key: str
    label: str


class SettlingPaper(TypedDict):
    name: str
    title: str


class SheetLine(TypedDict):
    key: str
    label: str
    sign: int
    level: int
    is_sum: bool


class SheetName(TypedDict):
    name: str
    title: str
    form: str


class SideChoice(TypedDict):
    side: str
    client: str
    clients: str
    others: str
    owners: str
    is_lease: bool
    gets_offers: bool
    price: str
    price_example: str
    brings: Sequence[str]
    ends_well: str
    ends_without: str
    goes_on_to: str


class SignedPaper(TypedDict):
    document: str
    number: str
    title: str
    signatures: int
    initials: int
    dates: int
    pages: Sequence[int]


class Signer(TypedDict):
    key: str
    name: str
    signs_as: str
    role: str
    email: str
    papers: Sequence[SignedPaper]


class SignerRole(TypedDict):
    role: str
    label: str
    is_party: bool


class SignersPaperShape(TypedDict):
    id: UUID
    title: str
    pages: Sequence[PageSizeShape]
    places: Sequence[PlaceShape]
    written: Sequence[WrittenShape]
    questions: Sequence[QuestionShape]
    sealed: bool


class SignersRound(TypedDict):
    state: str
    over: OverShape | None
    ended: bool
    wants_code: bool
    question: str
    code_to: str
    subject: str
    message: str
    sender: SenderShape
    ends: datetime | None
    zone: str
    name: str
    signs_as: str
    letters: str
    role: str
    at: str
    copied: bool
    in_person: bool
    party: bool
    signature: MarkShape | None
    initials: MarkShape | None
    papers: Sequence[SignersPaperShape]
    others: Sequence[OtherSignerShape]
    left: int
    sealed: datetime | None


class Solved(TypedDict):
    text: str
    shown: str
    reached: str
    exact: bool
    message: str
    mend: str


class SourceFile(TypedDict):
    id: UUID
    name: str
    kind: str
    rows: int
    columns: Sequence[Column]
    mapping: Mapping[str, str]
    remembered: bool
    ours: Mapping[str, str]
    found: Sequence[RowFound]


class SpotShape(TypedDict):
    id: str
    page: int
    rect: Sequence[Decimal | float]
    sign: str
    who: str


class Spots(TypedDict):
    people: Sequence[MaySign]
    remembered: RememberedSpots | None


class Spotted(TypedDict):
    id: str
    page: int
    rect: Sequence[Decimal | float]
    what: str
    who: str
    label: NotRequired[str]
    required: NotRequired[bool]
    name: str
    initials: str
    is_there: bool
    size: Decimal | float
    lines: Sequence[Sequence[Any]]


class StatedTerm(TypedDict):
    key: str
    text: str
    before: str


class Step(TypedDict):
    id: UUID
    said: str


class Suggested(TypedDict):
    group: str
    recorded: str
    name: str
    capacity: str
    confidence: Decimal | float
    findings: Sequence[Finding]
    fields: Mapping[str, str]


class TakenIn(TypedDict):
    read: int
    added: int
    known: int


class Task(TypedDict):
    code: str
    what: str
    who: str
    named: str
    group: str
    own: bool
    key: str
    when: str
    day: date | None
    by_hand: bool
    ruled: date | None
    why: str
    progress: str
    urgency: str
    waits_for: Sequence[str]
    fault: str
    settled_by: str
    remind: int | None
    note: str
    done: date | None
    done_by: str
    origin: str


class Tasks(TypedDict):
    tasks: Sequence[Task]
    key_dates: Sequence[KeyDate]
    papers: Sequence[SettlingPaper]
    who: Sequence[str]


class Template(TypedDict):
    id: UUID
    name: str
    side: str
    kinds: Sequence[str]
    about: str
    rule: str
    weight: str
    whose: str
    mine: bool
    reach: str
    version: int
    unpublished: bool
    may_write: bool
    documents: int
    forms: Sequence[str]
    answers: int
    coverage: Mapping[str, int]
    used: int
    retired: Sequence[str]
    fits: bool
    usual: bool
    rank: str | None
    why: str


class TemplateChange(TypedDict):
    name: str
    what: str
    parts: Sequence[Difference]


class Term(TypedDict):
    key: str
    label: str
    kind: str
    options: Sequence[str]
    now: str
    usual: bool


class Told(TypedDict):
    new: Sequence[str]
    gone: Sequence[str]
    moved: Sequence[str]


class ToldShape(TypedDict):
    kind: str
    label: str
    told: bool


class Tried(TypedDict):
    held: int
    of: int
    fault: str


class TriedFormula(TypedDict):
    key: str
    label: str
    shown: str
    waits_for: Sequence[str]
    fault: str


class Turn(TypedDict):
    id: int
    maker: str
    day: date
    amends: bool
    name: str
    agreed: bool
    paper: str
    title: str
    status: str
    may_change: bool
    may_send: bool
    may_agree: bool
    expires: date | None
    expires_at: str
    said: Sequence[StatedTerm]


class TurnPaper(TypedDict):
    code: str
    title: str


class TurnRow(TypedDict):
    key: str
    label: str
    is_result: bool
    is_words: bool
    cells: Sequence[str]


class TurnTaken(TypedDict):
    after: int
    until: int
    head: Head
    documents: Sequence[Document]
    blanks: Sequence[Blank]
    facts: Sequence[Fact]
    parties: Mapping[str, Sequence[Party]]
    suggested: Sequence[Suggested]
    whole: bool
    left: Sequence[str]
    late: Sequence[Finding]
    change: UUID | None
    said: str
    paper: str


class TurnWords(TypedDict):
    label: str
    text: str


class Turns(TypedDict):
    binding: bool
    sides: Sequence[str]
    turns: Sequence[Turn]
    rows: Sequence[TurnRow]
    terms: Sequence[Term]
    papers: Sequence[TurnPaper]


class Twin(TypedDict):
    id: UUID
    name: str
    why: str


class TwoStepsShape(TypedDict):
    on: bool
    asked_for: bool
    recovery_codes: int


class Undone(TypedDict):
    contact: Contact
    left: Sequence[str]


class UnsignedPaper(TypedDict):
    document: str
    number: str
    title: str


class Upstream(TypedDict):
    id: str
    label: str
    was: str
    now: str
    mine: str


class Verdict(TypedDict):
    holds: bool
    said: Sequence[CheckedShape]
    paper: str
    signers: Sequence[str]


class Version(TypedDict):
    number: int
    said: str
    by: str
    at: datetime


class Waiting(TypedDict):
    what: str
    key: str
    label: str
    typed: str
    by: str
    prints: str


class WhoSigns(TypedDict):
    people: Sequence[Signer]
    unsigned: Sequence[UnsignedPaper]
    against: Sequence[Against]


class WholeClause(TypedDict):
    id: UUID
    ref: str
    name: str
    wording: str
    parts: Sequence[WordingPart]
    reach: str
    of: str
    number: int
    approved_by: str
    approved_on: date | None
    used: int
    may_write: bool
    versions: Sequence[ClauseVersion]
    uses: Sequence[ClauseUse]


class WholeRound(TypedDict):
    id: UUID
    deal: UUID
    offer: int | None
    state: str
    subject: str
    message: str
    by: str
    ends: datetime | None
    zone: str
    remind_every: int
    code: bool
    question: str
    has_answer: bool
    must: Sequence[str]
    reason: str
    said: str
    made: datetime
    sent: datetime | None
    ended: datetime | None
    sealed: datetime | None
    doubt: str
    done: str
    looked: bool
    copied: Sequence[Copied]
    papers: Sequence[RoundPaperShape]
    signers: Sequence[RoundSignerShape]
    events: Sequence[RoundEventShape]
    changed: Sequence[ChangedShape]
    choice: ChoiceShape | None
    current: bool


class WordingPart(TypedDict):
    words: str
    key: str
    label: str


class WorkSection(TypedDict):
    name: str
    title: str


class WrittenShape(TypedDict):
    page: int
    rect: Sequence[Decimal | float]
    text: str
    mark: bool
    size: Decimal | float


class WrittenTemplate(TypedDict):
    id: UUID
    name: str
    side: str
    kinds: Sequence[str]
    about: str
    rule: str
    weight: str
    whose: str
    mine: bool
    reach: str
    version: int
    unpublished: bool
    may_write: bool
    documents: int
    forms: Sequence[str]
    answers: int
    coverage: Mapping[str, int]
    used: int
    retired: Sequence[str]
    fits: bool
    usual: bool
    rank: str | None
    why: str
    working_copy: UUID | None
    copied_from: Named | None
    versions: Sequence[Version]
    members: Sequence[str]
    offices: Sequence[str]
    everybody: Sequence[Named]
    branches: Sequence[Named]
    may_publish: bool
    may_lock: bool
    left: Sequence[Left]
    upstream: Sequence[Upstream]
    people: Mapping[str, Named]
    faults: Sequence[str]


class Wrong(TypedDict):
    key: str
    message: str
    mend: str


class Year(TypedDict):
    year: int
    assessed: str
    change: str
    tax: str


class Problem(TypedDict):
    title: str
    status: int
    detail: str
    mend: str
    rule: str
    again: bool
    errors: NotRequired[Mapping[str, Any]]

"""Queries that every opening and every save asks: written by the ORM once, and then asked with other values.

The ORM takes several times as long to write a query, and to find out what its columns are, as the database
takes to answer it.  What is written stays with the process, under its ``shape``: what the query's text
depends on, as the role of whoever asks.  Everything else that differs from one asking to the next is a value.
"""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable, Hashable, Iterable, Iterator, Sequence
from functools import cache
from typing import Any, Generic, NamedTuple, TypeVar
from uuid import UUID

from django.db import DEFAULT_DB_ALIAS, connection
from django.db.models import AutoField, JSONField, Model, QuerySet
from django.db.models.query import ModelIterable, get_related_populators
from django.http import Http404

Row = TypeVar("Row")
_MOMENT = re.compile(r"\d{4}-\d\d-\d\d")
MOST_SHAPES = 100
"""Kept of one query: a few roles on a few days."""


class _Written(NamedTuple):
    """A query as it is sent, and how its rows become models."""

    sql: str
    binders: Sequence[Callable[[Sequence[Any]], Any]]
    """One for each parameter, which takes it from the values asked with."""
    model: type[Model] | None
    names: Sequence[str]
    columns: slice
    converters: Sequence[tuple[int, Sequence[Callable[..., Any]], Any]]
    related: Sequence[Any]
    annotations: Sequence[tuple[str, int]]


class Prepared(Generic[Row]):
    """A query for models, or for some of their values.

    ``write`` is given the values, UUIDs or texts, and then the shape.  It may do nothing with a value but put
    it into a condition: what it is given are stand-ins, in whose place the real ones are sent later.  Of what
    else it puts in, only what never changes, or is of the shape, may stay in the text: a date that is neither
    is refused, since it would be that of the first asking for ever.
    """

    def __init__(self, write: Callable[..., QuerySet[Any, Row]]) -> None:
        self._write = write
        self._written: dict[Hashable, _Written] = {}

    def rows(self, *values: UUID | str, shape: tuple[Hashable, ...] = ()) -> list[Row]:
        """Return what is found, in the query's order; one question to the database."""
        written = self._written.get(shape)
        if written is None:
            if len(self._written) >= MOST_SHAPES:
                self._written.clear()
            written = self._written[shape] = _write(self._write, values, shape)
        with connection.cursor() as cursor:
            cursor.execute(written.sql, [binder(values) for binder in written.binders])
            return list(_read(written, cursor.fetchall()))

    def first(self, *values: UUID | str, shape: tuple[Hashable, ...] = ()) -> Row | None:
        """Return the first of them, if there is any."""
        return next(iter(self.rows(*values, shape=shape)), None)

    def first_or_404(self, *values: UUID | str, shape: tuple[Hashable, ...] = ()) -> Row:
        """Return the first of them; without any, there is nothing at this address for whoever asks."""
        found = self.first(*values, shape=shape)
        if found is None:
            raise Http404
        return found


def insert(rows: Sequence[Model]) -> None:
    """Insert models of one class, in one statement; they have the ids that the database gave them afterwards.
    As with Django's own insertion in bulk, no signals are sent."""
    if not rows:
        return
    sql, fields = _insertion(type(rows[0]))
    values: list[Any] = []
    for row in rows:
        said = row.__dict__
        for name, is_plain, field in fields:
            value = said.get(name)
            if is_plain and type(value) in _AS_IT_IS:
                values.append(value)
            else:
                values.append(field.get_db_prep_save(field.pre_save(row, True), connection))
    places = ", ".join([f"({', '.join(['%s'] * len(fields))})"] * len(rows))
    with connection.cursor() as cursor:
        cursor.execute(sql.format(places=places), values)
        for row, (pk,) in zip(rows, cursor.fetchall(), strict=True):
            row.pk = row._meta.pk.to_python(pk)
            row._state.adding, row._state.db = False, DEFAULT_DB_ALIAS


_AS_IT_IS = (str, int, bool, type(None))
"""Types whose values the database keeps as they are; Django takes its time to find out."""


@cache
def _insertion(model: type[Model]) -> tuple[str, Sequence[Any]]:
    """Return the statement, and the fields that it sets: where each stands in a model, and whether it is
    plain."""
    about, quote = model._meta, connection.ops.quote_name
    fields = [field for field in about.concrete_fields if not isinstance(field, AutoField)]
    columns = ", ".join(quote(field.column or "") for field in fields)
    key = quote(about.pk.column or "")
    # MariaDB gives the ids of all rows, in their order.
    sql = f"INSERT INTO {quote(about.db_table)} ({columns}) VALUES {{places}} RETURNING {key}"
    return sql, [(field.attname, _is_plain(field), field) for field in fields]


def _is_plain(field: Any) -> bool:
    """Return whether what stands in a field is kept as it is, where its type allows."""
    sets_itself = getattr(field, "auto_now", False) or getattr(field, "auto_now_add", False)
    return not isinstance(field, JSONField) and not sets_itself


def _write(
    write: Callable[..., QuerySet[Any, Any]], values: Sequence[UUID | str], shape: tuple[Hashable, ...]
) -> _Written:
    """Have the ORM write the query for stand-ins of these values."""
    stand_ins = [uuid.uuid4() if isinstance(value, UUID) else uuid.uuid4().hex for value in values]
    query = write(*stand_ins, *shape)
    compiler = query.query.get_compiler(DEFAULT_DB_ALIAS)
    sql, parameters = compiler.as_sql()
    binders = [_binder(parameter, stand_ins, shape) for parameter in parameters]
    found = compiler.get_converters([column for column, *_ in compiler.select])
    converters = [(place, convert, column) for place, (convert, column) in found.items()]
    about = compiler.klass_info
    if about is None or query._iterable_class is not ModelIterable:
        return _Written(sql, binders, None, (), slice(0), converters, (), ())
    begin, end = about["select_fields"][0], about["select_fields"][-1] + 1
    return _Written(
        sql,
        binders,
        about["model"],
        [column.target.attname for column, *_ in compiler.select[begin:end]],
        slice(begin, end),
        converters,
        get_related_populators(about, compiler.select, DEFAULT_DB_ALIAS),  # type: ignore[call-arg]
        list(compiler.annotation_col_map.items()),
    )


def _binder(
    parameter: Any, stand_ins: Sequence[UUID | str], shape: tuple[Hashable, ...]
) -> Callable[[Sequence[Any]], Any]:
    """Return how a parameter is taken from the values: as the ORM put that value's stand-in."""
    for place, stand_in in enumerate(stand_ins):
        if parameter == stand_in:
            return lambda values: values[place]
        if parameter == str(stand_in):
            return lambda values: str(values[place])
        if isinstance(stand_in, UUID) and parameter == stand_in.hex:
            return lambda values: values[place].hex
    is_of_shape = str(parameter) in map(str, shape)
    never_changes = isinstance(parameter, str | int | None) and not _MOMENT.match(str(parameter))
    if not is_of_shape and not never_changes:
        raise TypeError(f"{parameter!r} would stay in the query for ever: make it a value, or of the shape")
    return lambda values: parameter


def _read(written: _Written, rows: Iterable[Sequence[Any]]) -> Iterator[Any]:
    """Yield rows as models, with those that are joined to them; or as they are."""
    for row in map(list, rows):
        for place, converters, column in written.converters:
            for convert in converters:
                row[place] = convert(row[place], column, connection)
        if written.model is None:
            yield tuple(row)
            continue
        found = written.model.from_db(DEFAULT_DB_ALIAS, written.names, row[written.columns])
        for populator in written.related:
            populator.populate(row, found)
        for name, place in written.annotations:
            setattr(found, name, row[place])
        yield found

"""Types of formulas, checked when a pack is read: unknown names and wrong types are faults with a column."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date

from quillcore.facts import Catalog
from quillcore.facts.keys import GROUPS
from quillcore.facts.wording import Parts, WordingPart, read_wording
from quillcore.formulas.functions import EAGER
from quillcore.formulas.syntax import Call, Literal, Node, Ref
from quillcore.values import KINDS, Fault

_NUMERIC = ("money", "number", "percent")


def type_of_kind(kind: str) -> str:
    """Return the formula type of a value kind; everything written in letters is text."""
    return KINDS[kind].formula if kind in KINDS else "text"


class _Wrong(Exception):
    def __init__(self, node: Node, message: str, mend: str = "") -> None:
        super().__init__(message)
        self.fault = Fault("formula", message, mend, f"column {node.column}")


@dataclass(frozen=True)
class Checked:
    """A formula that makes sense: ready to be evaluated, and the type it gives."""

    tree: Node
    type: str

    @property
    def stands_on_the_pack(self) -> bool:
        """Whether a pack's holidays or rates have a say in it."""
        return any(name in EAGER and EAGER[name].needs_pack for name in functions_in(self.tree))


def functions_in(tree: Node) -> Iterator[str]:
    """Yield the names of all functions that a tree calls."""
    if isinstance(tree, Call):
        yield tree.name
        for arg in tree.args:
            yield from functions_in(arg)


def check(
    tree: Node, catalog: Catalog, own: Callable[[str], str | None] = lambda key: None
) -> Checked | Fault:
    """Return the checked formula, or its first fault.  ``own`` gives the value kind of keys outside the
    catalog."""
    checker = _Checker(catalog, own)
    try:
        found = checker.type(tree)
        return Checked(checker.lowered(tree), found)
    except _Wrong as wrong:
        return wrong.fault


class _Checker:
    def __init__(self, catalog: Catalog, own: Callable[[str], str | None]) -> None:
        self.catalog = catalog
        self.own = own

    def type(self, node: Node) -> str:
        if isinstance(node, Literal):
            return node.kind
        if isinstance(node, Ref):
            return self.ref(node)
        return self.call(node)

    def ref(self, node: Ref) -> str:
        if node.key in GROUPS:
            return "parties"
        fact = self.catalog.find(node.key)
        kind = fact.kind if fact else self.own(node.key)
        if kind is None:
            raise _Wrong(node, f"There is no fact “{node.key}”.", "Look the key up in the fact catalog.")
        return type_of_kind(kind)

    def call(self, node: Call) -> str:
        name, args = node.name, node.args
        if name in ("and", "or", "not"):
            for arg in args:
                self.want(arg, "yes_no")
            return "yes_no"
        if name == "negative":
            return self.numeric(args[0])
        if name in ("+", "-", "*", "/"):
            return self.arithmetic(node)
        if name in ("=", "!=", "<", "<=", ">", ">="):
            return self.comparison(node)
        if name == "if":
            self.arity(node, 3, 3)
            self.want(args[0], "yes_no")
            return self.common(node, args[1:])
        if name == "coalesce":
            self.arity(node, 1, 50)
            return self.common(node, args)
        if name == "date":
            self.arity(node, 1, 1)
            return self.date_literal(node)
        if name == "says":
            self.arity(node, 1, 1)
            self.wording(node)
            return "text"
        return self.eager(node)

    def wording(self, node: Call) -> Parts:
        """Return what a wording is made of, which has to stand there as it is."""
        arg = node.args[0]
        if not isinstance(arg, Literal) or arg.kind != "text":
            raise _Wrong(node, "says(…) takes a text in quotes.", 'Write says("… {a.fact} …").')
        parts = read_wording(str(arg.value), self.catalog)
        if isinstance(parts, Fault):
            raise _Wrong(node, parts.message, parts.mend)
        return parts

    def worded(self, node: Call) -> Node:
        """Return a wording taken apart, so that evaluation sees the facts in it, each with how its kind is
        shown."""
        at = node.column

        def taken(part: WordingPart) -> Node:
            if not part.key:
                return Literal(at, "text", part.words)
            kind = Literal(at, "text", self.catalog[part.key].kind)
            return Call(at, "shown", (Ref(at, part.key), kind))

        return Call(at, "wording", tuple(taken(part) for part in self.wording(node)))

    def lowered(self, node: Node) -> Node:
        """Return the tree with percents that act as factors marked and wordings taken apart, so that
        evaluation needs no types."""
        if not isinstance(node, Call):
            return node
        if node.name == "says":
            return self.worded(node)
        args = tuple(self.lowered(arg) for arg in node.args)
        if node.name in ("*", "/"):
            left, right = (self.type(arg) == "percent" for arg in node.args)
            if right and not (node.name == "/" and left):
                args = (args[0], Call(node.column, "hundredth", (args[1],)))
            elif left and node.name == "*":
                args = (Call(node.column, "hundredth", (args[0],)), args[1])
        return Call(node.column, node.name, args)

    def eager(self, node: Call) -> str:
        function = EAGER.get(node.name)
        if function is None:
            raise _Wrong(
                node, f"There is no function “{node.name}”.", f"Functions are: {', '.join(sorted(EAGER))}."
            )
        takes = list(function.takes)
        if takes and takes[-1].endswith("*"):
            last = takes.pop()[:-1]
            self.arity(node, len(takes) + 1, 50)
            takes += [last] * (len(node.args) - len(takes))
        self.arity(node, len(takes), len(takes))
        found = [self.want(arg, want) for arg, want in zip(node.args, takes, strict=True)]
        if function.gives != "same":
            return function.gives
        return found[0] if node.name == "round" else self.common(node, node.args)

    def arithmetic(self, node: Call) -> str:
        left, right = (self.numeric(arg) for arg in node.args)
        if node.name in ("+", "-"):
            if "percent" in (left, right) and left != right:
                raise _Wrong(
                    node,
                    f"{left.capitalize()} and {right} can't be added.",
                    "Multiply by the percentage instead.",
                )
            return "money" if "money" in (left, right) else left
        if node.name == "*":
            if left == right == "money":
                raise _Wrong(node, "Money can't be multiplied by money.")
            return (
                "money"
                if "money" in (left, right)
                else "number"
                if left != "percent" or right != "percent"
                else "percent"
            )
        if right == "money" and left != "money":
            raise _Wrong(node, f"A {left} can't be divided by money.")
        return "number" if right == "money" or left == right == "percent" else left

    def comparison(self, node: Call) -> str:
        left, right = self.type(node.args[0]), self.type(node.args[1])
        alike = (
            left == right or {left, right} == {"money", "number"} or {left, right} == {"percent", "number"}
        )
        if not alike or left == "parties":
            raise _Wrong(node, f"A {left} can't be compared with a {right}.")
        if node.name not in ("=", "!=") and left in ("text", "yes_no"):
            raise _Wrong(node, f"“{node.name}” doesn't compare {left}.", "Use = or !=.")
        self.known_choice(*node.args)
        return "yes_no"

    def known_choice(self, a: Node, b: Node) -> None:
        """Find a choice that is compared with a text that it can never be."""
        for ref, literal in ((a, b), (b, a)):
            fact = self.catalog.find(ref.key) if isinstance(ref, Ref) else None
            if (
                fact
                and fact.options
                and isinstance(literal, Literal)
                and literal.value
                and literal.value not in fact.options
            ):
                raise _Wrong(
                    literal,
                    f"{fact.key} is never “{literal.value}”.",
                    f"It is one of: {', '.join(fact.options)}.",
                )

    def date_literal(self, node: Call) -> str:
        arg = node.args[0]
        try:
            date.fromisoformat(str(arg.value) if isinstance(arg, Literal) else "")
        except ValueError:
            raise _Wrong(node, "date(…) takes a day in quotes.", 'Write date("2027-05-28").') from None
        return "date"

    def numeric(self, node: Node) -> str:
        found = self.type(node)
        if found not in _NUMERIC:
            raise _Wrong(node, f"A {found} isn't a number.")
        return found

    def want(self, node: Node, wanted: str) -> str:
        found = self.type(node)
        fits = wanted in ("any", found)
        fits = (
            fits
            or (wanted == "money" and found in _NUMERIC)
            or (wanted == "ordered" and found in (*_NUMERIC, "date"))
        )
        if not fits:
            hint = "Write it with a percent sign, like 6.25%." if wanted == "percent" else ""
            raise _Wrong(node, f"A {wanted} is wanted here, not a {found}.", hint)
        return found

    def common(self, node: Call, args: tuple[Node, ...]) -> str:
        found = [self.type(arg) for arg in args]
        if len(set(found)) == 1:
            return found[0]
        if set(found) <= {"money", "number"}:
            return "money"
        raise _Wrong(
            node,
            f"“{node.name}” would give a {found[0]} here and a {next(f for f in found if f != found[0])}"
            " there.",
            "Make them the same type.",
        )

    def arity(self, node: Call, least: int, most: int) -> None:
        if not least <= len(node.args) <= most:
            wanted = str(least) if least == most else f"{least} or more"
            raise _Wrong(
                node, f"“{node.name}” takes {wanted} value{'s' * (wanted != '1')}, not {len(node.args)}."
            )

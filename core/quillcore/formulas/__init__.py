"""Formulas over facts: parsed, checked, and recomputed from what changed.  Nothing is evaluated as Python."""

from quillcore.formulas.evaluation import Broken, Open, Rates, Result, Setting, evaluate
from quillcore.formulas.sheet import Held, Rule, Sheet, catalog_rules, circles, target_rule
from quillcore.formulas.syntax import Node, parse, references
from quillcore.formulas.typing import Checked, check

__all__ = [
    "Broken",
    "Checked",
    "Held",
    "Node",
    "Open",
    "Rates",
    "Result",
    "Rule",
    "Setting",
    "Sheet",
    "catalog_rules",
    "check",
    "circles",
    "evaluate",
    "parse",
    "references",
    "target_rule",
]

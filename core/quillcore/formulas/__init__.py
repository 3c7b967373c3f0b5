"""Formulas over facts: parsed, checked, and recomputed from what changed.  Nothing is evaluated as Python."""

from quillcore.formulas.evaluation import Broken, Open, Rates, Result, Setting, evaluate
from quillcore.formulas.evaluator import Evaluator, Held, Rule, catalog_rules, circles, target_rule
from quillcore.formulas.syntax import Node, parse, references
from quillcore.formulas.typing import Checked, check

__all__ = [
    "Broken",
    "Checked",
    "Evaluator",
    "Held",
    "Node",
    "Open",
    "Rates",
    "Result",
    "Rule",
    "Setting",
    "catalog_rules",
    "check",
    "circles",
    "evaluate",
    "parse",
    "references",
    "target_rule",
]

"""What goes out: the owner's page, the full record, tables and inventories. Imports documents only."""

from swept_shelf.core.reports.before_after import before_after, report_csv
from swept_shelf.core.reports.comparison import compare, comparison_csv, comparison_cyclonedx
from swept_shelf.core.reports.inventory import inventory_csv, inventory_cyclonedx
from swept_shelf.core.reports.owner import owner_html
from swept_shelf.core.reports.questions import questions_html, questions_markdown, read_sheet
from swept_shelf.core.reports.visit import Report, report_html, report_json
from swept_shelf.core.reports.why_full import UNMISSED, in_words, why_full

__all__ = [
    "UNMISSED",
    "Report",
    "before_after",
    "compare",
    "comparison_csv",
    "comparison_cyclonedx",
    "in_words",
    "inventory_csv",
    "inventory_cyclonedx",
    "owner_html",
    "questions_html",
    "questions_markdown",
    "read_sheet",
    "report_csv",
    "report_html",
    "report_json",
    "why_full",
]

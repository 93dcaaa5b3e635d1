"""What goes out: the owner's sheet as HTML, the whole visit as JSON. Imports documents only."""

from swept_shelf.core.reports.comparison import compare, comparison_csv, comparison_cyclonedx
from swept_shelf.core.reports.inventory import inventory_csv, inventory_cyclonedx
from swept_shelf.core.reports.visit import Report, report_html, report_json
from swept_shelf.core.reports.why_full import UNMISSED, in_words, why_full

__all__ = [
    "UNMISSED",
    "Report",
    "compare",
    "comparison_csv",
    "comparison_cyclonedx",
    "in_words",
    "inventory_csv",
    "inventory_cyclonedx",
    "report_html",
    "report_json",
    "why_full",
]

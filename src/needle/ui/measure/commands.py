"""What can be done in Measure, whether or not it was made yet."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from needle.ui.commands import Command, showing
from needle.ui.language import tr

if TYPE_CHECKING:
    from needle.ui.measure.stage import MeasureStage

__all__ = ["PARTS", "measure_commands"]

PARTS = ("Journey", "Split tests", "Pages", "Goals", "Leads", "Orders")


def measure_commands(measure: Callable[[], "MeasureStage"]) -> list[Command]:
    """Return what can be done in Measure; `measure` gives the stage, and makes it if need be."""
    return [
        Command(id="measure.export", menu="Measure", title=tr("Export the leads as CSV…"),
                run=lambda: measure().leads.ask_export(), keywords="csv spreadsheet"),
        Command(id="measure.events", menu="Measure",
                title=tr("Export visits and conversions…"),
                run=lambda: measure().pages.ask_export(), keywords="csv parquet raw events goals"),
        Command(id="measure.week", menu="Measure", title=tr("Report of the week…"),
                run=lambda: measure().week_report().exec(),
                keywords="pdf png print weekly summary"),
        Command(id="measure.choose", menu="Measure", title=tr("What counts on a page…"),
                run=lambda: measure().goals.choose_on_page(),
                keywords="goals conversion tick links buttons"),
        Command(id="measure.touches", menu="Measure", title=tr("Clicks and depth on a page…"),
                run=lambda: measure().show_touches(),
                keywords="heat map scroll where people click"),
        Command(id="measure.call", menu="Measure", title=tr("New outside call…"),
                run=lambda: measure().new_call(),
                keywords="conversion elsewhere shop pixel goal"),
        Command(id="measure.plan", menu="Measure", title=tr("Plan a split test…"),
                run=lambda: measure().splits.plan(),
                keywords="sample size days how long power"),
        Command(id="measure.meant", menu="Measure", title=tr("How the test is meant…"),
                run=lambda: measure().splits.mean(),
                keywords="hypothesis sources devices begin end date goal"),
        Command(id="measure.diary", menu="Measure", title=tr("Diary of split tests…"),
                run=lambda: measure().splits.show_diary(),
                keywords="history archive believed hypothesis learnt"),
        Command(id="measure.practise", menu="Measure", title=tr("Practice visitors…"),
                run=lambda: measure().practise(),
                keywords="simulate test traffic made-up people"),
        *showing("Measure", PARTS, lambda name: measure().show_part(name))]

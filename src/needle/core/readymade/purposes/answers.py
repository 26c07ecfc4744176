"""Questions and their answers."""

from needle.core.kinds.questions import KIND as QUESTIONS
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Questions", 9


def folded_questions(p: Parts, stock: Stock) -> Section:
    """Questions that fold, in one column."""
    return p.section("Questions", p.row(p.heading("What people ask before they come")),
                     p.row(p.fresh(QUESTIONS)), inner=760)


def questions_beside(p: Parts, stock: Stock) -> Section:
    """A heading at the left, the questions at the right."""
    return p.section("Questions", p.row(
        p.column(p.heading("Asked before"),
                 p.passage("Is yours not here? Write to us, and it will be.", style="small"),
                 share=4),
        p.column(p.fresh(QUESTIONS), share=8), gap=48, phone={"gap": 20}))


def two_by_two(p: Parts, stock: Stock) -> Section:
    """Four answers that stand open."""
    cells = [p.column(p.heading(question, rank=3, style="minor"),
                      p.passage("The answer, in two sentences.", style="small"), gap=6)
             for question in ("What if it rains?", "How do I get there?", "May children come?",
                              "What if I cannot come?")]
    return p.section("Questions", p.row(p.heading("Four things to know")),
                     p.row(*cells, cells=2, gap=36))


SECTIONS = (("Folded", "faq answers accordion", folded_questions),
            ("Beside a heading", "faq answers", questions_beside),
            ("Four that stand open", "faq answers grid", two_by_two))

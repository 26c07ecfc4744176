"""Steps: how it goes, from the click to the end."""

from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Column, Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Steps", 3
_STEPS = (("You say when", "Two clicks, and you know at once whether there is room."),
          ("We write to you", "What to bring, how to get there, and what if it rains."),
          ("You arrive", "Somebody knows your name and the kettle is on."))


def _step(p: Parts, number: int, title: str, words: str) -> Column:
    return p.column(p.heading(str(number), rank=3, style="title", colour="accent"),
                    p.heading(title, rank=4, style="minor"), p.passage(words, style="small"),
                    gap=4)


def three_steps(p: Parts, stock: Stock) -> Section:
    """Three numbered steps side by side."""
    return p.section("Steps", p.row(p.heading("How it goes")),
                     p.row(*(_step(p, n, *step) for n, step in enumerate(_STEPS, 1)), gap=40))


def steps_down(p: Parts, stock: Stock) -> Section:
    """Steps one below the other, the number at the side."""
    rows = [p.row(p.column(p.heading(f"{n}", rank=3, style="title", colour="main"), share=1),
                  p.column(p.heading(title, rank=4, style="minor"), p.passage(words), share=9,
                           gap=4), stack="never", gap=20)
            for n, (title, words) in enumerate((*_STEPS, ("You go home", "With something in your "
                                                          "hands, and a date for the next one.")),
                                               1)]
    return p.section("Steps", p.row(p.heading("From here to there in four steps")), *rows,
                     inner=760)


def plan_of_the_day(p: Parts, stock: Stock) -> Section:
    """Times at the left, what happens at the right."""
    plan = (("18:30", "Doors", "Tea, and somebody who shows you round."),
            ("19:00", "The first half", "What you will see and do, with your own hands."),
            ("21:00", "The second half", "What the first half was for."))
    rows = [p.row(p.column(p.passage(time, weight=600, colour="accent"), share=2),
                  p.column(p.heading(title, rank=3, style="minor"),
                           p.passage(words, style="small"), share=10, gap=2),
                  stack="never", gap=16) for time, title, words in plan]
    return p.section("Plan", p.row(p.heading("What happens when")), *rows, inner=720, gap=20)


SECTIONS = (
    ("Three side by side", "how it works process numbers", three_steps),
    ("One below the other", "how it works process numbers list", steps_down),
    ("Plan with times", "schedule agenda programme timetable", plan_of_the_day),
)

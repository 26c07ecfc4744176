"""What is left to do in each stage, in a few words."""

from dataclasses import dataclass

from needle.core.edit.invented import placeholders
from needle.core.site.site import Site
from needle.core.tables.expanding import expanded
from needle.core.values.counting import counted

__all__ = ["STAGES", "Results", "StageStatus", "brief_gaps", "just_begun", "stage_statuses",
           "unconnected_forms"]

STAGES = ("Brief", "Build", "Connect", "Publish", "Measure")


_PARTS_OF_BRIEF = 4
# A section, its row and column, and one heading.
_NODES_OF_EMPTY = 4


@dataclass(frozen=True, slots=True)
class StageStatus:
    """The line under a stage's name.

    Attributes:
        waiting: Something there waits for the person.
    """

    words: str
    waiting: bool = False


@dataclass(frozen=True, slots=True)
class Results:
    """What the site has brought so far, over all its pages.

    Attributes:
        known: It has been counted.
    """

    leads: int = 0
    visitors: int = 0
    conversions: int = 0
    known: bool = True


def brief_gaps(site: Site) -> list[str]:
    """Return the parts of the brief that are still empty, by the names on screen."""
    parts = {"what it is for": site.brief.idea, "the call to action": site.brief.call_to_action,
             "who it is for": site.brief.audience, "what visitors come to find out":
             site.brief.facts}
    return [name for name, words in parts.items() if not words.strip()]


def just_begun(site: Site) -> bool:
    """Return whether nobody has done anything to a new site yet, so that it begins in Brief."""
    return (len(site.pages) == 1 and len(brief_gaps(site)) == _PARTS_OF_BRIEF
            and sum(1 for _ in site.pages[0].variants[0].nodes()) <= _NODES_OF_EMPTY)


def unconnected_forms(site: Site) -> list[str]:
    """Return the names of forms whose leads go nowhere but into the lead book."""
    return [form.name for form in site.forms if not form.routes]


def stage_statuses(site: Site, to_send: int | None, results: Results,
                   ) -> dict[str, StageStatus]:
    """Return the status line of each stage.

    Args:
        to_send: How many pages differ from what is live; `None` while that is looked at.
    """
    gaps, loose = len(brief_gaps(site)), len(unconnected_forms(site))
    invented = sum(1 for _ in placeholders(site))
    rate = results.conversions / results.visitors if results.visitors else 0
    tests = sum(page.tested for page in site.pages)
    pages = counted(len(expanded(site).pages), "page")
    build = pages + (f", {counted(tests, 'split test')}" if tests else "")
    return {
        "Brief": StageStatus(f"{counted(gaps, 'gap')}" if gaps else "complete", bool(gaps)),
        "Build": StageStatus(f"{pages}, {invented} invented"
                             if invented else build, bool(invented)),
        "Connect": StageStatus(f"{counted(loose, 'form')} unconnected" if loose else (
            "every form connected" if site.forms else "no form yet"), bool(loose)),
        "Publish": StageStatus(f"{counted(to_send, 'page')} to send" if to_send
                               else "all sent" if to_send == 0 else "looking…", bool(to_send)),
        "Measure": StageStatus(f"{counted(results.leads, 'lead')} · {rate:.1%}".replace("%", " %")
                               if results.visitors else
                               "no visitors yet" if results.known else "counting…"),
    }

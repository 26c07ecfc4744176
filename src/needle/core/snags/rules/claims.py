"""Claims without proof beside them."""

import re
from collections.abc import Iterator

from needle.core.kinds.guarantee import Guarantee
from needle.core.kinds.heading import Heading
from needle.core.kinds.logos import Logos
from needle.core.kinds.passage import Passage
from needle.core.kinds.testimonial import Testimonial
from needle.core.render.texts import plain_lines, read_lines, texts_of
from needle.core.site.tree import walk
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.node import Node

__all__ = ["RULES"]

_CLAIMS = {
    "en": r"\b(?:no\. ?1|number one|world[’']?s (?:best|leading|largest)|market leader"
          r"|award[- ]winning|the (?:best|leading|most trusted)\b.{0,40}\b(?:in|on|of) the (?:world"
          r"|country|market|town)|clinically proven|scientifically proven|trusted by"
          r"|\d[\d,.]* ?%? of (?:our )?(?:customers|clients|users|guests|visitors))",
    "de": r"\b(?:nr\. ?1|nummer eins|marktführer|weltbeste|preisgekrönt|wissenschaftlich bewiesen"
          r"|\d[\d.,]* ?%? (?:unserer|aller) (?:kunden|gäste|nutzer))",
}
_SIGNS = re.compile(r"#1\b")
_PROOFS = (Testimonial, Logos, Guarantee)


def _claimed(at: ItemAt, words: str) -> str:
    """Return the claim in some words, in the language of the site."""
    pattern = _CLAIMS.get(str(at.site.language).split("-")[0].lower(), "")
    found = (re.search(pattern, words, re.IGNORECASE) if pattern else None) or (
        _SIGNS.search(words))
    return found.group(0) if found else ""


def _has_link(node: Node) -> bool:
    return any(run.link for path in texts_of(node) for line in read_lines(node, path)
               for run in line)


def _unproved(at: ItemAt) -> Iterator[Spot]:
    if not isinstance(at.node, Heading | Passage) or _has_link(at.node):
        return
    claim = _claimed(at, " ".join(plain_lines(at.node)))
    if claim and not any(isinstance(near, _PROOFS) for near in walk(at.path[0])):
        yield Spot(f"A claim without proof: “{claim[:48]}”")


RULES = (
    Rule(id="claim-without-proof", weight=3, scope="item", look=_unproved,
         reads=frozenset({Area.LANGUAGE}),
         source="Directive 2006/114/EC, art. 7; Directive 2005/29/EC, art. 12",
         reason="Who says it has to be able to show it; a source, a customer's words or a logo "
                "beside it is also what makes visitors believe it."),
)

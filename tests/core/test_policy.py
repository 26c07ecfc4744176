"""What a page may load and run, worked out from what stands on it."""

import base64
import hashlib
import unittest

import msgspec

from needle.core.images.vector import clean_svg
from needle.core.kinds.embed import Embed
from needle.core.kinds.video import Video
from needle.core.render.context import Context
from needle.core.render.ownrules import css_faults, sound_css
from needle.core.render.policy import named_hosts, open_host, page_policy, reaching
from needle.core.site.site import Code
from needle.core.values.tracking import TrackingCode
from needle.store.media import PublishedPictures
from tests.sites import small_site


def _policy(page_code: Code = Code(), tracking: tuple[TrackingCode, ...] = (), items=(),  # type: ignore[no-untyped-def]
            open_to: tuple[str, ...] = ()) -> dict[str, list[str]]:
    site = small_site()
    page = site.pages[0]
    variant = page.variants[0]
    if items:
        section = variant.children[0]
        row = section.children[0]
        column = msgspec.structs.replace(row.children[0], children=items)
        row = msgspec.structs.replace(row, children=(column,))
        variant = msgspec.structs.replace(variant, children=(
            msgspec.structs.replace(section, children=(row,)),))
    page = msgspec.structs.replace(page, code=page_code, variants=(variant,))
    site = msgspec.structs.replace(site, tracking=tracking, open_to=open_to,
                                   pages=(page, *site.pages[1:]))
    told = page_policy(Context(site, page, variant, "live", PublishedPictures(""), ""))
    return {name: values for name, *values in (part.split(" ") for part in told.split(";"))}


class PolicyTest(unittest.TestCase):
    def test_a_page_without_codes_reaches_nothing_but_its_site(self) -> None:
        policy = _policy()
        self.assertEqual(policy["script-src"], ["'self'"])
        self.assertEqual(policy["connect-src"], ["'self'"])
        self.assertEqual((policy["frame-src"], policy["object-src"], policy["base-uri"]),
                         (["'none'"], ["'none'"], ["'none'"]))

    def test_scripts_handlers_and_hosts_of_codes_are_let_through(self) -> None:
        source = "load('//tags.example/t.js');\r\nnew Function('x')"
        code = Code(head=f"<script>{source}</script>", body='<img src="https://px.example:8443/p?a"'
                                                            ' onload="seen(&quot;1&quot;)">')
        policy = _policy(code)
        digest = hashlib.sha256(source.replace("\r\n", "\n").encode()).digest()
        self.assertIn(f"'sha256-{base64.b64encode(digest).decode()}'", policy["script-src"])
        handler = base64.b64encode(hashlib.sha256(b'seen("1")').digest()).decode()
        self.assertIn(f"'sha256-{handler}'", policy["script-src"])
        for word in ("'unsafe-hashes'", "'unsafe-eval'", "tags.example"):
            self.assertIn(word, policy["script-src"])
        self.assertIn("https://px.example:8443", policy["img-src"])
        self.assertNotIn("'unsafe-inline'", policy["script-src"])

    def test_embeds_tracking_videos_and_hosts_by_hand(self) -> None:
        policy = _policy(
            tracking=(TrackingCode(id="t", name="T", html="<script src=https://t.example/a.js>"
                                                          "</script>"),),
            items=(Embed(id="e", code='<iframe src="https://maps.example/x"></iframe>'),
                   Video(id="v", address="https://films.example/watch")),
            open_to=("*.cdn.example", "no host;"))
        self.assertIn("https://t.example", policy["script-src"])
        self.assertIn("https://maps.example", policy["frame-src"])
        self.assertIn("https://films.example", policy["frame-src"])
        self.assertIn("*.cdn.example", policy["connect-src"])
        self.assertNotIn("no", policy["connect-src"])

    def test_nothing_in_a_code_can_add_to_the_policy(self) -> None:
        for code in ("https://a.example;script-src *", "//b.example'unsafe-inline'",
                     "https://c.example\n*", "<script>;</script> https://x"):
            policy = _policy(Code(body=code))
            self.assertNotIn("*", policy["script-src"])
            self.assertNotIn("'unsafe-inline'", policy["script-src"])

    def test_hosts_are_hosts(self) -> None:
        self.assertEqual(named_hosts(["see https://a.example/x and //b.example:90/ // a comment"]),
                         ["b.example:90", "https://a.example"])
        self.assertEqual(open_host(" https://A.example/ "), "https://a.example")
        for words in ("*", "a b", "a;b", "'self'", "javascript:"):
            self.assertEqual(open_host(words), "")

    def test_a_trial_lets_one_more_origin_in(self) -> None:
        self.assertEqual(reaching("script-src 'self';frame-src 'none';base-uri 'none'", "http://r"),
                         "script-src 'self' http://r;frame-src http://r;base-uri 'none'")


class OwnCssTest(unittest.TestCase):
    def test_brackets_without_end_are_a_fault_in_words_and_not_sent(self) -> None:
        for css in ("a{" * 3000, "(" * 5000, "a{color:red}" + "[" * 4000 + "b{}"):
            self.assertIn("deeper", css_faults(css)[0].words)
            self.assertEqual(sound_css(css), "")
        clean, _, _ = clean_svg(b'<svg xmlns="http://www.w3.org/2000/svg"><style>' + b"a{" * 4000
                                + b'</style><g style="' + b"(" * 4000 + b'"/></svg>', "x.svg")
        self.assertNotIn(b"{", clean)

"""What searches read of a whole site: its map and what they may look at."""

from xml.sax.saxutils import escape

from needle.core.readymade.lostpage import LOST_SLUG
from needle.core.render.structured import page_address
from needle.publish.release import Live

__all__ = ["search_files"]


def search_files(live: Live) -> dict[str, str]:
    """Return `robots.txt` (RFC 9309) and, where the site has a domain, `sitemap.xml` (sitemaps.org
    protocol 0.9), by their names."""
    lines = ["User-agent: *", "Disallow: /_needle/"]
    if not live.domain:
        return {"robots.txt": "\n".join([*lines, ""])}
    listed = sorted((page for page in live.pages if not page.unlisted and page.slug != LOST_SLUG),
                    key=lambda one: one.slug)
    entries = "".join(
        f"<url><loc>{escape(page_address(live.domain, page.slug))}</loc>"
        + (f"<lastmod>{escape(page.sent_at)}</lastmod>" if page.sent_at else "") + "</url>\n"
        for page in listed)
    sitemap = ('<?xml version="1.0" encoding="UTF-8"?>\n'
               '<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">\n'
               f"{entries}</urlset>\n")
    return {"robots.txt": "\n".join([
        *lines, f"Sitemap: {page_address(live.domain, 'sitemap.xml')}", ""]),
        "sitemap.xml": sitemap}

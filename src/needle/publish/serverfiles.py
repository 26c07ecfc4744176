"""What another server has to be told of a published site, as files for nginx and for Apache:
headers, addresses of before, and the page for wrong addresses."""

from collections.abc import Iterator, Mapping

from needle.core.readymade.lostpage import LOST_SLUG
from needle.publish.headers import COMMON, FRAMES, HSTS, SVG_POLICY
from needle.publish.release import Live

__all__ = ["APACHE_FILE", "MOVED_FILE", "NGINX_FILE", "server_files"]

NGINX_FILE = "needle.nginx.conf"
APACHE_FILE = ".htaccess"
MOVED_FILE = "redirects.txt"

# Where an address of before leads: to a slug, or `None` for what is gone for good.
_Moved = Mapping[str, str | None]


def server_files(live: Live) -> dict[str, str]:
    """Return the files by their names; the list of addresses of before only where there are any."""
    moved = _moved(live)
    lost = live.page_at(LOST_SLUG) is not None
    files = {NGINX_FILE: _nginx(moved, lost), APACHE_FILE: _apache(moved, lost)}
    if moved:
        files[MOVED_FILE] = "".join(
            f"/{slug} {'410' if to is None else f'/{to} 301'}\n" for slug, to in moved.items())
    return files


def _moved(live: Live) -> _Moved:
    found: dict[str, str | None] = {}
    for one in live.moved:
        page = live.page(one.page)
        found[one.slug] = page.slug if page else None
    return found


def _nginx(moved: _Moved, lost: bool) -> str:
    lines = [f'add_header {name} "{value}" always;' for name, value in COMMON.items()]
    return "\n".join([
        "# Put this line into the server block of the site, below its root:",
        f"#   include {NGINX_FILE};",
        "# What each page may load and run stands in the page itself.",
        f"location = /{NGINX_FILE} {{ return 404; }}",
        "location ~ /\\.(?!well-known/) { return 404; }",
        *lines, f'add_header Content-Security-Policy "{FRAMES}" always;',
        "# Only where the site is served by https, and for good:",
        f'#   add_header Strict-Transport-Security "{HSTS}" always;',
        r"location ~ ^/assets/.*\.svg$ {",
        *(f"  {line}" for line in lines),
        f'  add_header Content-Security-Policy "{SVG_POLICY}" always;', "}",
        *_nginx_moved(moved), *([f"error_page 404 /{LOST_SLUG}/index.html;"] if lost else []), ""])


def _nginx_moved(moved: _Moved) -> Iterator[str]:
    for slug, to in moved.items():
        for address in (slug, f"{slug}/"):
            what = "410" if to is None else f"301 /{to}$is_args$args"
            yield f"location = /{address} {{ return {what}; }}"


def _apache(moved: _Moved, lost: bool) -> str:
    lines = [f'  Header always set {name} "{value}"' for name, value in COMMON.items()]
    return "\n".join([
        "# Read by Apache where AllowOverride FileInfo is on. What each page may load and run",
        "# stands in the page itself.",
        "<IfModule mod_headers.c>", *lines,
        f'  Header always set Content-Security-Policy "{FRAMES}"',
        f"  Header always set Strict-Transport-Security \"{HSTS}\" \"expr=%{{HTTPS}} == 'on'\"",
        r'  <FilesMatch "\.svg$">',
        f'    Header always set Content-Security-Policy "{SVG_POLICY}"', "  </FilesMatch>",
        "</IfModule>", f'<Files "{NGINX_FILE}">', "  Require all denied", "</Files>",
        '<Files ".needle.json">', "  Require all denied", "</Files>",
        *(["<IfModule mod_alias.c>", *_apache_moved(moved), "</IfModule>"] if moved else []),
        *([f"ErrorDocument 404 /{LOST_SLUG}/index.html"] if lost else []), ""])


def _apache_moved(moved: _Moved) -> Iterator[str]:
    for slug, to in moved.items():
        yield (f"  RedirectMatch 410 ^/{slug}/?$" if to is None
               else f"  RedirectMatch 301 ^/{slug}/?$ /{to}")

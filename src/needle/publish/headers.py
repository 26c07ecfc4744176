"""The headers that go with a published site: for our own host, and as files for other servers."""

from collections.abc import Mapping

__all__ = ["APACHE_FILE", "COMMON", "MOVED_FILE", "NGINX_FILE", "SVG_POLICY", "WORD_POLICY",
           "moved_files", "server_files"]

COMMON: Mapping[str, str] = {
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "strict-origin-when-cross-origin",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), payment=(), usb=()",
    "Cross-Origin-Opener-Policy": "same-origin-allow-popups"}
# A drawing that is opened by itself fetches and runs nothing.
SVG_POLICY = "default-src 'none';style-src 'unsafe-inline';img-src data:;sandbox"
# Small pages of the host's own: words, and forms that post to it.
WORD_POLICY = ("default-src 'none';style-src 'unsafe-inline';form-action 'self';base-uri 'none';"
               "frame-ancestors 'none'")
FRAMES = "frame-ancestors 'self'"
HSTS = "max-age=31536000"
NGINX_FILE = "needle-headers.nginx.conf"
APACHE_FILE = ".htaccess"
MOVED_FILE = "redirects.txt"
_NGINX_MOVED = "needle-redirects.nginx.conf"


def server_files() -> dict[str, str]:
    """Return the files by which nginx and Apache send these headers, by their names."""
    return {NGINX_FILE: _nginx(), APACHE_FILE: _apache()}


def _nginx() -> str:
    lines = [f'add_header {name} "{value}" always;' for name, value in COMMON.items()]
    return "\n".join([
        "# Put this line into the server block of the site, below its root:",
        f"#   include {NGINX_FILE};",
        "# What each page may load and run stands in the page itself.",
        f"location = /{NGINX_FILE} {{ return 404; }}",
        *lines, f'add_header Content-Security-Policy "{FRAMES}" always;',
        "# Only where the site is served by https, and for good:",
        f'#   add_header Strict-Transport-Security "{HSTS}" always;',
        r"location ~ ^/assets/.*\.svg$ {",
        *(f"  {line}" for line in lines),
        f'  add_header Content-Security-Policy "{SVG_POLICY}" always;', "}", ""])


def _apache() -> str:
    lines = [f'  Header always set {name} "{value}"' for name, value in COMMON.items()]
    return "\n".join([
        "# Read by Apache where AllowOverride FileInfo is on. What each page may load and run",
        "# stands in the page itself.",
        "<IfModule mod_headers.c>", *lines,
        f'  Header always set Content-Security-Policy "{FRAMES}"',
        f"  Header always set Strict-Transport-Security \"{HSTS}\" \"expr=%{{HTTPS}} == 'on'\"",
        r'  <FilesMatch "\.svg$">',
        f'    Header always set Content-Security-Policy "{SVG_POLICY}"', "  </FilesMatch>",
        "</IfModule>", f'<Files "{NGINX_FILE}">', "  Require all denied", "</Files>", ""])


def moved_files(moved: Mapping[str, str | None]) -> dict[str, str]:
    """Return the files by which addresses of before lead on: for nginx, for Apache (in the file
    of its headers) and as a plain list, by their names.

    Args:
        moved: Where each slug leads: to another one, or `None` for what is gone for good.
    """
    if not moved:
        return {}
    nginx = [f"location = /{slug} {{ return 301 /{to}$is_args$args; }}\n"
             f"location = /{slug}/ {{ return 301 /{to}$is_args$args; }}" if to is not None
             else f"location ~ ^/{slug}/?$ {{ return 410; }}" for slug, to in moved.items()]
    apache = [f"RedirectMatch 301 ^/{slug}/?$ /{to}" if to is not None
              else f"RedirectMatch 410 ^/{slug}/?$" for slug, to in moved.items()]
    plain = [f"/{slug} {'410' if to is None else f'/{to} 301'}" for slug, to in moved.items()]
    head = [f"# In the server block of the site: include {_NGINX_MOVED};"]
    return {_NGINX_MOVED: "\n".join([*head, *nginx, ""]),
            APACHE_FILE: "\n".join([_apache(), "<IfModule mod_alias.c>",
                                    *(f"  {line}" for line in apache), "</IfModule>", ""]),
            MOVED_FILE: "\n".join([*plain, ""])}

"""A release as files for a server that is not Needle's host.

What our host says beside a page (what it may load and run, where an address leads now) stands in
files there.
"""

import hashlib

from markupsafe import escape

from needle.core.site.site import Site
from needle.publish.release import Release, ReleasedFile
from needle.publish.releases import Releases
from needle.publish.searchfiles import search_files
from needle.publish.serverfiles import server_files
from needle.publish.targets.sending import Outside

__all__ = ["outside_files", "standing_alone"]

_CHARSET = '<meta charset="utf-8">'


def standing_alone(html: str, policy: str, hosted: bool) -> str:
    """Return a page that says itself what it may load, and counts no visits where nobody listens.

    Args:
        policy: Content Security Policy, level 3, without what only headers may say.
        hosted: A Needle host answers beside it.
    """
    if policy:
        meta = f'<meta http-equiv="Content-Security-Policy" content="{escape(policy)}">'
        html = html.replace(_CHARSET, _CHARSET + meta, 1)
    return html if hosted else html.replace("<body ", '<body data-alone="" ', 1)


def outside_files(site: Site, release: Release, store: Releases, hosted: bool = False) -> Outside:
    """Return the files of a release for a server.

    Raises:
        PublishError: A file of the release is gone.
    """
    policies = {variant.file: variant.policy for page in release.live.pages
                for variant in page.variants}
    made: dict[str, bytes] = {
        path: words.encode() for path, words in {**server_files(release.live),
                                                 **search_files(release.live)}.items()}
    for path, policy in policies.items():
        if path in release.files:
            html = store.bytes_of(release.files[path]).decode("utf-8")
            made[path] = standing_alone(html, policy, hosted).encode()
    files = {path: ReleasedFile(hashlib.sha256(data).hexdigest(), len(data))
             for path, data in made.items()}
    kept = {path: file for path, file in release.files.items() if path not in made}

    def read(path: str) -> bytes:
        return made[path] if path in made else store.bytes_of(kept[path])

    return Outside(site.id, release.id, {**kept, **files}, read)


"""Where a site is sent to besides its test address."""

from collections.abc import Mapping
from typing import Annotated

from needle.core.values.ids import OwnId
from needle.core.values.strict import Strict, one_of, strict_meta

__all__ = ["TARGET_KINDS", "Target"]

# Kinds of places, with what each is called.
TARGET_KINDS: Mapping[str, str] = {
    "folder": "Folder on this machine", "zip": "Zip file", "sftp": "Server over SFTP",
    "webdav": "Server over WebDAV", "bucket": "S3-compatible storage", "git": "Git repository"}

_Line = Annotated[str, strict_meta("one-line", r"[^\x00-\x1f\x7f]{0,400}")]
# A fingerprint as OpenSSH writes it.
_Pinned = Annotated[str, strict_meta("host-key", r"(?:SHA256:[A-Za-z0-9+/]{43})?")]


class Target(Strict, frozen=True, omit_defaults=True):
    """A place that a site is sent to.

    Attributes:
        name: What the person calls it.
        place: A path on this machine; a server's name, with its port if it is an odd one; or an
            address.
        folder: Below the place: the folder of a server, or what names in a bucket begin with.
        user: Who signs in there; of a bucket the id of the key. Passwords are never in a project.
        key_file: The private key for SFTP; empty for an agent's or a password.
        pinned: The host key that the server showed when the target was first tried.
        bucket: Its name.
        region: That of the bucket, where its service asks for one.
        branch: That of the repository.
        hosted: A Needle host answers beside the pages: visits are counted there.
        files_alone: Never switches a whole folder at once, though the server could.
        together: It is sent to with each send.
    """

    id: OwnId
    name: _Line
    kind: Annotated[str, one_of(*TARGET_KINDS)]
    place: _Line
    folder: _Line = ""
    user: _Line = ""
    key_file: _Line = ""
    pinned: _Pinned = ""
    bucket: _Line = ""
    region: _Line = ""
    branch: _Line = ""
    hosted: bool = False
    files_alone: bool = False
    together: bool = True

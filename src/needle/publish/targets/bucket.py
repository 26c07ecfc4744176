"""S3-compatible storage. Each file is whole or not there; nothing switches several at once."""

import mimetypes
from typing import Any

import boto3
from botocore.config import Config
from botocore.exceptions import BotoCoreError, ClientError

from needle.publish.targets.place import MANIFEST, PlaceError, Switching

__all__ = ["BucketPlace"]

_GONE = ("404", "NoSuchKey", "NotFound")
_REFUSED = ("403", "AccessDenied", "SignatureDoesNotMatch", "InvalidAccessKeyId", "401")
_MISSING = ("NoSuchBucket",)


class BucketPlace:
    """Files of a bucket that begin with a folder's name."""

    switching: Switching = "files"
    threads = 6

    def __init__(self, address: str, bucket: str, folder: str, key: tuple[str, str],
                 region: str, name: str) -> None:
        """Get ready.

        Args:
            address: Of the service; empty for the one that the region stands for.
            key: Its id, and the secret.

        Raises:
            PlaceError: The address is none, or the bucket has no name.
        """
        self.name = name
        self._user = key[0]
        self._bucket, self._folder = bucket, folder.strip("/")
        self._etag: str | None = None
        try:
            self._s3: Any = boto3.client(
                "s3", endpoint_url=address or None, region_name=region or "us-east-1",
                aws_access_key_id=key[0] or "none", aws_secret_access_key=key[1] or "none",
                config=Config(connect_timeout=10, read_timeout=30, retries={"max_attempts": 2},
                              max_pool_connections=self.threads + 2,
                              s3={"addressing_style": "path" if address else "auto"}))
        except (BotoCoreError, ValueError) as error:
            raise PlaceError("target-address", target=name, address=address[:200]) from error

    def _key(self, path: str) -> str:
        return f"{self._folder}/{path}" if self._folder else path

    def _ask(self, call: str, path: str, missing: bool = False, **given: Any) -> Any:
        """Ask the service something; `None` for a file that is not there, if that is fine."""
        try:
            return getattr(self._s3, call)(Bucket=self._bucket, Key=self._key(path), **given)
        except ClientError as error:
            code = str(error.response.get("Error", {}).get("Code", ""))
            status = error.response.get("ResponseMetadata", {}).get("HTTPStatusCode", 0)
            if code in _MISSING:
                raise PlaceError("target-no-bucket", target=self.name,
                                 bucket=self._bucket) from error
            if missing and code in _GONE:
                return None
            if code in _REFUSED:
                raise PlaceError("target-sign-in", target=self.name, user=self._user) from error
            if code == "PreconditionFailed":
                raise PlaceError("target-taken", target=self.name) from error
            raise PlaceError("target-answered", target=self.name, status=status,
                             what=f"{code} {path}"[:120]) from error
        except BotoCoreError as error:
            raise PlaceError("target-away", target=self.name, place=self._bucket,
                             why=str(error)[:200]) from error

    def get(self, path: str) -> bytes | None:
        """As every place."""
        found = self._ask("get_object", path, missing=True)
        if found is None:
            return None
        if path == MANIFEST:
            self._etag = found["ETag"]
        data: bytes = found["Body"].read()
        return data

    def size(self, path: str) -> int | None:
        """As every place."""
        found = self._ask("head_object", path, missing=True)
        return None if found is None else int(found["ContentLength"])

    def put(self, path: str, data: bytes) -> None:
        """As every place."""
        kind = mimetypes.guess_type(path)[0] or "application/octet-stream"
        if kind.startswith("text/"):
            kind += "; charset=utf-8"
        age = "public, max-age=31536000, immutable" if path.startswith("assets/") else "no-cache"
        self._ask("put_object", path, Body=data, ContentType=kind, CacheControl=age)

    def remove(self, path: str) -> None:
        """As every place."""
        self._ask("delete_object", path)

    def switch(self, manifest: bytes) -> None:
        """As every place; refused where somebody else has sent meanwhile."""
        # Needle's own note, for nobody but Needle; a bucket that knows no conditions ignores this.
        given: dict[str, Any] = {"IfMatch": self._etag} if self._etag else {"IfNoneMatch": "*"}
        self._ask("put_object", MANIFEST, Body=manifest, ContentType="application/json",
                  CacheControl="no-cache", **given)

    def close(self) -> None:
        """As every place."""
        self._s3.close()

"""Publishing to a folder."""

from collections.abc import Callable
from pathlib import Path

from needle.core.site.site import Site
from needle.publish.rendering import Rendered, Renderer

__all__ = ["Progress", "PublishError", "publish_folder", "write_rendered"]

Progress = Callable[[int, int], bool]


class PublishError(Exception):
    """A publish that did not happen or not wholly; the message says why and what to do."""


def publish_folder(site: Site, project: Path, out: Path, progress: Progress | None = None,
                   ) -> list[Path]:
    """Write the whole site to a folder and return the pages written.

    Args:
        progress: Called with files done and files in all; returns whether to go on.

    Raises:
        PublishError: The folder cannot be written.
    """
    renderer = Renderer(site, project)
    done = renderer.render()
    write_rendered(renderer, done, out, progress)
    return [out / name for name in done.pages]


def write_rendered(renderer: Renderer, done: Rendered, out: Path,
                   progress: Progress | None = None) -> None:
    """Write rendered files below a folder: assets first, so that no page lacks one.

    Raises:
        PublishError: A file cannot be written, or the person stopped it.
    """
    names = [f"assets/{name}" for name in (*done.assets, *done.pictures)] + list(done.pages)
    for count, name in enumerate(names):
        if progress and not progress(count, len(names)):
            raise PublishError("Stopped. The pages that were not reached are as they were.")
        path = out / name
        if name.startswith("assets/"):
            if path.exists():
                continue  # An asset is named by its content.
            data = renderer.asset_bytes(done, name.removeprefix("assets/"))
        else:
            data = done.pages[name].encode()
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            part = path.with_name(f".new-{path.name}")
            part.write_bytes(data)
            part.replace(path)
        except OSError as error:
            raise PublishError(f"{path} cannot be written: {error.strerror}.") from error
    if progress:
        progress(len(names), len(names))

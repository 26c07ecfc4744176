"""Publishing to a folder."""

import os
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from itertools import chain
from pathlib import Path

from fontTools.ttLib import TTLibError

from needle.core.site.site import Site
from needle.core.values.ids import Id
from needle.publish.planning import as_live
from needle.publish.refusing import PublishError
from needle.publish.rendering import Rendered, Renderer
from needle.publish.searchfiles import search_files
from needle.publish.serverfiles import server_files

__all__ = ["Progress", "publish_folder", "rendered", "unmade", "write_rendered"]

Progress = Callable[[int, int], bool]


def publish_folder(site: Site, project: Path, out: Path, progress: Progress | None = None,
                   counted: bool = False) -> list[Path]:
    """Write the whole site to a folder and return the pages written.

    Args:
        counted: A Needle host will stand behind the folder and count visits.
        progress: Called with files done and files in all; returns whether to go on.

    Raises:
        PublishError: The folder cannot be written.
    """
    renderer = Renderer(site, project, counted=counted, hosted=False)
    done = rendered(renderer)
    write_rendered(renderer, done, out, progress)
    live = as_live(site)
    for name, words in {**server_files(live), **search_files(live)}.items():
        _write(out / name, words.encode())
    return [out / name for name in done.pages]


def rendered(renderer: Renderer, pages: Iterable[Id] | None = None) -> Rendered:
    """Return the files for some pages, or for all.

    Raises:
        PublishError: A font or picture that they need is missing or damaged.
    """
    try:
        return renderer.render(pages)
    except (OSError, TTLibError) as error:
        raise unmade(error, "a page") from error


def unmade(error: Exception, what: str) -> PublishError:
    """Return the fault of a file that cannot be made, naming the one that is to blame."""
    name = Path(str(getattr(error, "filename", None) or "")).name
    return PublishError("publish-medium-missing", name=name or what)


def write_rendered(renderer: Renderer, done: Rendered, out: Path,
                   progress: Progress | None = None) -> None:
    """Write rendered files below a folder: assets first, so that no page lacks one.

    Raises:
        PublishError: A file cannot be written, or the person stopped it.
    """
    wanted = [name for name in done.asset_names
              if not (out / "assets" / name).exists()]  # An asset is named by its content.
    whole = len(wanted) + len(done.pages)
    def asset(name: str) -> bytes:
        try:
            return renderer.asset_bytes(done, name)
        except (OSError, ValueError, SyntaxError) as error:
            raise unmade(error, name) from error

    with ThreadPoolExecutor(os.cpu_count()) as pool:
        made = pool.map(asset, wanted)
        files = chain(((f"assets/{name}", data) for name, data in zip(wanted, made, strict=True)),
                      ((name, page.encode()) for name, page in done.pages.items()))
        for count, (name, data) in enumerate(files):
            if progress and not progress(count, whole):
                pool.shutdown(cancel_futures=True)
                raise PublishError("publish-stopped")
            _write(out / name, data)
    if progress:
        progress(whole, whole)


def _write(path: Path, data: bytes) -> None:
    try:
        # What stands there already is left as it is: replacing a file costs more than reading it.
        if path.is_file() and path.stat().st_size == len(data) and path.read_bytes() == data:
            return
        path.parent.mkdir(parents=True, exist_ok=True)
        part = path.with_name(f".new-{path.name}")
        part.write_bytes(data)
        part.replace(path)
    except OSError as error:
        raise PublishError("cannot-write", path=path, why=error.strerror) from error

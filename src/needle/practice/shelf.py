"""The practice file: no process, only a file, which can be put out of reach."""

from pathlib import Path

from needle.running.addresses import shelf_file

__all__ = ["SHELF_FAULTS", "is_away", "put_away"]

SHELF_FAULTS = {"none": "works", "down": "cannot be written"}


def is_away(folder: Path) -> bool:
    """Return whether the file is out of reach."""
    return shelf_file(folder).is_dir()


def put_away(folder: Path, away: bool) -> None:
    """Put the file out of reach (a folder stands in its place), or back with all its lines."""
    file = shelf_file(folder)
    aside = file.with_suffix(".aside")
    if away == is_away(folder):
        return
    folder.mkdir(parents=True, exist_ok=True)
    if away:
        if file.exists():
            file.rename(aside)
        file.mkdir()
    else:
        file.rmdir()
        if aside.exists():
            aside.rename(file)

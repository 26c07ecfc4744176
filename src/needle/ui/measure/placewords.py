"""What places on the way of visitors are called."""

from needle.core.measure.journey import OTHERS, Place
from needle.ui.language import tr

__all__ = ["device_words", "place_words"]


def place_words(place: Place) -> str:
    """Return what a place is called."""
    others = place.key.endswith(f":{OTHERS}")
    match place.kind:
        case "source":
            if others:
                return tr("Other sources")
            return tr("No source") if place.name in ("", "direct") else place.name
        case "page":
            return tr("Other pages") if others else place.name or tr("A page that is gone")
        case "popup":
            return tr("Popup {name}", name=place.name) if place.name else tr("A popup that is gone")
        case "form":
            return tr("Form {name}", name=place.name) if place.name else tr("A form that is gone")
        case "step":
            return tr("Step {number} of {name}", number=place.number, name=place.name or "–")
    return tr("Converted")


def device_words(device: str) -> str:
    """Return what a kind of device is called."""
    return {"phone": tr("phone"), "tablet": tr("tablet"), "desktop": tr("desktop")}.get(
        device, tr("unknown device"))

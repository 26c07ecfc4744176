"""What a new site starts with: a brand, text styles and the practice services."""

from needle.core.site.site import Brand, Service, Site, Swatch, TextStyle
from needle.core.values.ids import IdSource, new_id
from needle.core.values.look import Look
from needle.core.values.theme import Theme

__all__ = ["starter_brand", "starter_services", "starter_site", "starter_styles"]


def starter_brand() -> Brand:
    """Return a sober palette whose text pairs all have a contrast of at least 4.5 : 1."""
    return Brand(palette=(
        Swatch(role="ink", name="Ink", value="#14211d"),
        Swatch(role="paper", name="Paper", value="#ffffff"),
        Swatch(role="main", name="Main action", value="#0e6b54"),
        Swatch(role="on_main", name="Words on main", value="#ffffff"),
        Swatch(role="accent", name="Accent", value="#2a62a8"),
        Swatch(role="mist", name="Mist", value="#eef2f0"),
        Swatch(role="quiet", name="Quiet ink", value="#566660"),
    ), theme=Theme(decoration="bar", grounds="turns"))


def starter_styles() -> tuple[TextStyle, ...]:
    """Return the text styles of a new site, phone sizes set apart."""
    return (
        TextStyle(key="title", name="Title", look=Look(
            base={"face": "heading", "weight": 600, "size": 56, "line_height": 1.1},
            phone={"size": 37}, tablet={"size": 46})),
        TextStyle(key="subtitle", name="Subtitle", look=Look(
            base={"size": 21, "line_height": 1.5}, phone={"size": 18})),
        TextStyle(key="heading", name="Heading", look=Look(
            base={"face": "heading", "weight": 600, "size": 36, "line_height": 1.2},
            phone={"size": 28})),
        TextStyle(key="minor", name="Minor heading", look=Look(
            base={"weight": 600, "size": 19, "line_height": 1.4})),
        TextStyle(key="body", name="Body", look=Look(base={"size": 17, "line_height": 1.6})),
        TextStyle(key="small", name="Small", look=Look(base={"size": 15, "line_height": 1.5})),
        TextStyle(key="button", name="Button", look=Look(
            base={"weight": 600, "size": 17, "line_height": 1.2})),
    )


def starter_services(ids: IdSource) -> tuple[Service, ...]:
    """Return the practice mailbox and the practice mailing list."""
    return (
        Service(id=ids(), name="Barn desk mailbox", does="mail", practice=True),
        Service(id=ids(), name="Night Post", does="list", practice=True),
    )


def starter_site(name: str, address: str) -> Site:
    """Return a new site without pages."""
    return Site(id=new_id(), name=name, address=address, brand=starter_brand(),
                styles=starter_styles(), services=starter_services(new_id))

"""How a node looks: values by property, for every width and for single ones."""

from collections.abc import Mapping

import msgspec

from needle.core.values.widths import Width

__all__ = ["PLAIN", "Look", "Value"]

Value = int | float | str


class Look(msgspec.Struct, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """The values set on one node. A property that is absent is inherited.

    Attributes:
        base: Values that hold at every width.
        phone: Values that hold on the phone only; `tablet` and `desktop` alike.
    """

    base: Mapping[str, Value] = {}
    phone: Mapping[str, Value] = {}
    tablet: Mapping[str, Value] = {}
    desktop: Mapping[str, Value] = {}

    def at(self, width: Width | None) -> Mapping[str, Value]:
        """Return the values set for one width, or for every width with `None`."""
        match width:  # By name alone: this is asked for every node at every width.
            case None:
                return self.base
            case Width.PHONE:
                return self.phone
            case Width.TABLET:
                return self.tablet
            case Width.DESKTOP:
                return self.desktop

    def value(self, name: str, width: Width) -> Value | None:
        """Return what is set here for `name` as seen at `width`, or `None`."""
        own = self.at(width)
        return own[name] if name in own else self.base.get(name)

    def differs(self, name: str) -> tuple[Width, ...]:
        """Return the widths at which `name` has a value of its own."""
        return tuple(w for w in Width if name in self.at(w))

    def with_value(self, name: str, value: Value | None, width: Width | None) -> "Look":
        """Return this look with one value set, or taken away with `None`."""
        values = dict(self.at(width))
        if value is None:
            values.pop(name, None)
        else:
            values[name] = value
        field = "base" if width is None else width.value
        return msgspec.structs.replace(self, **{field: values})


PLAIN = Look()

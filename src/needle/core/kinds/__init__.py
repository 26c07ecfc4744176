"""The kinds of item, one module each. A new module is found by itself."""

import importlib
import pkgutil
from collections.abc import Mapping

from needle.core.kinds.kind import Kind
from needle.core.values.node import Node

__all__ = ["ITEM_KINDS", "item_kind"]


def _found() -> Mapping[str, Kind]:
    kinds = [
        importlib.import_module(f"{__name__}.{module.name}").KIND
        for module in pkgutil.iter_modules(__path__) if module.name != "kind"
    ]
    return {kind.key: kind for kind in kinds}


ITEM_KINDS: Mapping[str, Kind] = _found()
_BY_TYPE: Mapping[type[Node], Kind] = {kind.type: kind for kind in ITEM_KINDS.values()}


def item_kind(node_type: type[Node]) -> Kind | None:
    """Return the kind of a type of item, or `None` for a section, row, column or popup."""
    return _BY_TYPE.get(node_type)

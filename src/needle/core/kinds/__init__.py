"""The kinds of item, one module each. A new module is found by itself."""

import importlib
import pkgutil
from collections.abc import Mapping

from needle.core.kinds.kind import Kind

__all__ = ["ITEM_KINDS"]


def _found() -> Mapping[str, Kind]:
    kinds = [
        importlib.import_module(f"{__name__}.{module.name}").KIND
        for module in pkgutil.iter_modules(__path__) if module.name != "kind"
    ]
    return {kind.key: kind for kind in kinds}


ITEM_KINDS: Mapping[str, Kind] = _found()

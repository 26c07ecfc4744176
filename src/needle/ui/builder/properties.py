"""Editors made from rows of the style table."""

from needle.core.site.site import Brand
from needle.core.type.faces import families
from needle.core.values.look import Value
from needle.core.values.styletable import Property
from needle.core.values.widths import Width
from needle.ui.editors import ChoiceEdit, ColourEdit, FaceEdit, NumberEdit
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import set_tip

__all__ = ["WIDTH_WORDS", "PropertyEditor", "property_editor", "show_property"]

PropertyEditor = NumberEdit | ChoiceEdit | ColourEdit

WIDTH_WORDS = {None: tr("all"), Width.DESKTOP: tr("desk"), Width.TABLET: tr("tablet"),
               Width.PHONE: tr("phone")}


def _offered(prop: Property) -> dict[Value, str]:
    return {key: tr(words) for key, (words, _) in prop.choices.items()}


def property_editor(prop: Property, session: Session) -> PropertyEditor:
    """Return the editor that a row asks for; what it refuses is said to the person."""
    editor = _editor(prop, session)
    if prop.tip:
        unit = f", {prop.unit}" if prop.unit else ""
        set_tip(editor, f"{tr(prop.label)}: {tr(prop.tip)}{unit}")
    return editor


def _editor(prop: Property, session: Session) -> PropertyEditor:
    if prop.editor == "number":
        number = NumberEdit(tr(prop.label), prop.low, prop.high, prop.step, prop.unit)
        number.refused.connect(lambda words: session.said.emit(words, True))
        return number
    if prop.editor == "choice":
        return ChoiceEdit(tr(prop.label),
                          _offered(prop))
    if prop.editor == "face":
        return FaceEdit(tr(prop.label),
                        _offered(prop),
                        lambda: families(session.site))
    return ColourEdit(tr(prop.label), compact=prop.column == "state")


def show_property(editor: PropertyEditor, own: Value | None, inherited: Value | None,
                  brand: Brand) -> None:
    """Show the value that is set, or else the one that holds without it."""
    if isinstance(editor, ColourEdit):
        editor.show_value(None if own is None else str(own), brand,
                          None if inherited is None else str(inherited))
    elif isinstance(editor, NumberEdit):
        editor.show_value(None if own is None else float(own),
                          None if inherited is None else float(inherited))
    else:
        editor.show_value(own, inherited)

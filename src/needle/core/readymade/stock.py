"""What a ready-made part can show from the start, and what it brings along for the rest."""

from collections.abc import Iterable, Mapping

import msgspec

from needle.core.kinds.goods import GoodsBox
from needle.core.kinds.rowlist import OF_ITS_OWN, RowList
from needle.core.readymade.drawn import StandIns
from needle.core.readymade.forms import FORM_KINDS, form_of
from needle.core.readymade.rowparts import RowParts, own_table
from needle.core.render.texts import runs_of
from needle.core.site.fresh import menu_pages
from needle.core.site.site import Medium, Site
from needle.core.site.tree import walk
from needle.core.tables.editing import add_table
from needle.core.tables.samples import sample_table
from needle.core.values.form import Form, Role
from needle.core.values.ids import Id, IdSource
from needle.core.values.node import Node
from needle.core.values.tables import NO_MASTER, Master, Table

__all__ = ["Stock"]

_LEAST_WIDTH = 500
# So many pictures sample rows show.
_SAMPLES = 6
_FIRST_CALL = "Find out more"


class Stock:
    """What a site has for its ready-made parts; what it lacks is drawn or made on being asked for.

    Attributes:
        call: The words of the call to action.
        name: What the site is called.
        pages: Those that a menu is for.
        sure: Words of the person's own, which are no placeholders.
        files: Files below the media folder that what was brought needs, by name.
    """

    def __init__(self, site: Site, ids: IdSource, whole_page: bool = False, asks: str = "",
                 ) -> None:
        """Look at what `site` has.

        Args:
            whole_page: A form is for a page of its own, so only one of its kind will do.
            asks: The kind of form that the page is for, whatever its sections were made for.
        """
        self._site, self._ids, self._whole_page, self._asks = site, ids, whole_page, asks
        self._pictures = [m.id for m in site.media if not m.is_video and m.width >= _LEAST_WIDTH
                          and m.width >= m.height]
        self._drawn = StandIns(site, ids, site.name)
        self._forms: list[Form] = []
        self._rows: dict[str, RowParts] = {}
        self._tables: list[Table] = []
        own_call = site.brief.call_to_action.strip()
        self.call = own_call or _FIRST_CALL
        self.name = site.name
        self.pages = menu_pages(site)
        self.sure = frozenset({site.name, *([own_call] if own_call else ())})
        self.files: Mapping[str, bytes] = self._drawn.files

    def picture(self, number: int) -> Id:
        """Return a picture by number: one of the site's, or a drawing that stands in for it."""
        if self._pictures:
            return self._pictures[number % len(self._pictures)]
        while len(self._drawn.media) <= number:
            self._drawn.draw()
        return self._drawn.media[number].id

    def form(self, kind: str) -> Id:
        """Return a form: the site's of this kind, the only one that it has, or a fresh one."""
        kind = self._asks or kind
        name = FORM_KINDS[kind].name
        known = (*self._forms, *self._site.forms)
        only = len(known) == 1 and not self._whole_page
        for form in known:
            if form.name == name or (only and form.with_role(Role.EMAIL)):
                return form.id
        made = form_of(kind, self._site, self._ids)
        self._forms.append(made)
        return made.id

    def rows(self, kind: str) -> RowParts:
        """Return what makes parts that show rows: of the site's table of a kind, or of samples.

        Args:
            kind: "goods", "groups" or "places".
        """
        if kind not in self._rows:
            table = own_table(self._site, kind)
            if table is None:
                names = [self._named(self.picture(number)) for number in range(_SAMPLES)]
                of = self.rows("groups").table.id if kind == "goods" else ""
                table = sample_table(kind, self._ids, names, of)
                self._tables.append(table)
            self._rows[kind] = RowParts(table, self._called)
        return self._rows[kind]

    def master_of(self, top: Node, title: str = "") -> Master:
        """Return what of a section follows a row where each has a page; nothing if it shows none.

        Args:
            title: What a page's title says before what its row is called.
        """
        shown = {run.column for node in walk(top) for run in runs_of(node) if run.column
                 if not isinstance(node, RowList)}
        boxes = any(isinstance(node, GoodsBox) or (isinstance(node, RowList)
                    and node.choose in OF_ITS_OWN) for node in walk(top))
        for kind, rows in self._rows.items():
            master = rows.master(title)
            columns = {column.id for column in rows.table.columns}
            if shown & columns or (boxes and kind != "groups"):
                return master
        return NO_MASTER

    def _media(self) -> Iterable[Medium]:
        return (*self._site.media, *self._drawn.media)

    def _named(self, medium_id: Id) -> str:
        return next(medium.name for medium in self._media() if medium.id == medium_id)

    def _called(self, name: str) -> Id:
        return next((medium.id for medium in self._media()
                     if name.casefold() in (medium.name.casefold(), medium.file.casefold())), "")

    def brought(self, site: Site) -> Site:
        """Return a site with the forms, pictures and tables that were made."""
        known = {medium.id for medium in site.media} | {form.id for form in site.forms}
        for table in self._tables:
            if site.table(table.id) is None:
                site = add_table(site, table)
        return msgspec.structs.replace(
            site, forms=(*site.forms, *(f for f in self._forms if f.id not in known)),
            media=(*site.media, *(m for m in self._drawn.media if m.id not in known)))

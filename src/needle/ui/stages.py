"""The five stages of a window; each is made, and its code read in, when it is first asked for."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from needle.core.progress import STAGES
from needle.core.snags.snag import Snag
from needle.core.values.ids import Id
from needle.ui.brief.commands import brief_commands
from needle.ui.builder.stage import BuildStage
from needle.ui.commands import Command
from needle.ui.connect.commands import connect_commands
from needle.ui.measure.commands import measure_commands
from needle.ui.outcomes import Outcomes
from needle.ui.publish.commands import publish_commands
from needle.ui.session import Session

if TYPE_CHECKING:
    from needle.ui.brief.stage import BriefStage
    from needle.ui.connect.stage import ConnectStage
    from needle.ui.measure.stage import MeasureStage
    from needle.ui.publish.stage import PublishStage

__all__ = ["Stages", "Ways"]


@dataclass(frozen=True, slots=True)
class Ways:
    """How one stage leads to what another shows.

    Attributes:
        node: To an item in Build, by its id.
        page: To a page in Build, by its id.
        snag: To where a snag is put right.
        stage: To a stage, by its name.
    """

    node: Callable[[Id], object]
    page: Callable[[Id], object]
    snag: Callable[[Snag], object]
    stage: Callable[[str], object]


class Stages:
    """The stages by name, or by the attribute of that name where its type matters."""

    def __init__(self, session: Session, outcomes: Outcomes, ways: Ways,
                 add: Callable[[QWidget], object]) -> None:
        """Make Build, which a window opens with.

        Args:
            add: Gets each stage once it was made.
        """
        self._session, self._outcomes, self._ways, self._add = session, outcomes, ways, add
        self.build = BuildStage(session)
        add(self.build)

    @cached_property
    def brief(self) -> "BriefStage":
        """What is gathered before the first section."""
        from needle.ui.brief.stage import BriefStage

        made = BriefStage(self._session, self.build.stills)
        made.node_asked.connect(self._ways.node)
        made.page_asked.connect(self._ways.page)
        self._add(made)
        return made

    @cached_property
    def connect(self) -> "ConnectStage":
        """Forms and services."""
        from needle.ui.connect.stage import ConnectStage

        made = ConnectStage(self._session, self._outcomes)
        made.shop.table_asked.connect(self._read_table)
        self._add(made)
        return made

    def _read_table(self) -> None:
        self._ways.stage("Build")
        self.build.tabling.files.ask_file()

    @cached_property
    def publish(self) -> "PublishStage":
        """Snags, and what goes where."""
        from needle.ui.publish.stage import PublishStage

        made = PublishStage(self._session, self._outcomes, self.build.canvas.engine)
        made.asked.connect(self._ways.snag)
        self._add(made)
        return made

    @cached_property
    def measure(self) -> "MeasureStage":
        """What came of it."""
        from needle.ui.measure.stage import MeasureStage

        made = MeasureStage(self._session, self._outcomes, self.build.canvas.engine)
        made.goals.node_asked.connect(self._ways.node)
        for part in (made.journey, made.pages):
            part.publish_asked.connect(lambda: self._ways.stage("Publish"))
        self._add(made)
        return made

    def __getitem__(self, name: str) -> QWidget:
        return self.make(name)

    def __iter__(self) -> Iterator[str]:
        return iter(STAGES)

    def make(self, name: str) -> QWidget:
        """Return a stage by the name in its tab; it is made if need be."""
        stage: QWidget = getattr(self, name.lower())
        return stage

    def made(self, name: str) -> bool:
        """Return whether a stage was asked for before."""
        return name.lower() in self.__dict__

    def commands(self) -> dict[str, list[Command]]:
        """Return what can be done in each stage; none is made for that."""
        return {"Build": self.build.commands(), "Brief": brief_commands(lambda: self.brief),
                "Connect": connect_commands(lambda: self.connect, self._session),
                "Publish": publish_commands(lambda: self.publish),
                "Measure": measure_commands(lambda: self.measure)}

    def end(self) -> None:
        """Stop what is under way in them before the window goes."""
        if self.made("Brief"):
            self.brief.end()
        if self.made("Publish"):
            self.publish.end()
        if self.made("Measure"):
            self.measure.end()
        self.build.end()

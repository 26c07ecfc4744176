"""Asking for a new site: its name, where it is kept, and what it begins as."""

from pathlib import Path

from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.pages import add_page, slug_for
from needle.core.edit.place import EditError
from needle.core.site.starter import starter_site
from needle.store.packages import PackageError
from needle.store.project import Project, ProjectError
from needle.store.sites import KnownSite, copy_site, site_of_package
from needle.ui.cards import PACKAGES, button, foot, label
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr

__all__ = ["FROM_PACKAGE", "NewSiteDialog", "home_of_sites"]

# What stands for "of a package" where else the folder of a site stands.
FROM_PACKAGE = "*"


def home_of_sites() -> Path:
    """Return where new sites are kept unless somebody says otherwise."""
    return Path.home() / "Needle"


class NewSiteDialog(QDialog):
    """Asks, and makes the project.

    Attributes:
        folder: Where the new site is, once it was made.
        package: The package whose page it begins with, if one was chosen.
    """

    def __init__(self, known: list[KnownSite], begins_as: str, parent: QWidget | None) -> None:
        """Ask.

        Args:
            begins_as: The folder of the site that it is a copy of, `FROM_PACKAGE`, or empty.
        """
        super().__init__(parent)
        self.setWindowTitle(tr("New site"))
        self.setMinimumWidth(520)
        self.folder: Path | None = None
        self._own_folder = False
        self.name = QLineEdit()
        self.name.setAccessibleName(tr("Name of the site"))
        self.name.setPlaceholderText(tr("Quillmoor Dark Sky"))
        self.name.setMaxLength(80)
        self.name.textChanged.connect(self._follow)
        self.where = QLineEdit(str(home_of_sites()))
        self.where.setAccessibleName(tr("Folder"))
        self.where.textEdited.connect(self._take_folder)
        self.begins = ChoiceEdit(tr("Begins as"), {
            "": tr("Nothing yet: an idea, a template, a picture or an empty page"),
            FROM_PACKAGE: tr("The page of a package…"),
            **{one.folder: tr("A copy of {name}", name=one.name or one.folder) for one in known}},
            inherit=False)
        self.begins.show_value(begins_as)
        self.begins.chosen.connect(lambda value: self._begin_as(str(value)))
        self.package: Path | None = None
        self.said = label("", "fault", wrap=True)
        self._lay_out()

    def _lay_out(self) -> None:
        folder = QHBoxLayout()
        folder.addWidget(self.where, 1)
        folder.addWidget(button(tr("Choose…"), self._choose))
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        form.addRow(tr("Name"), self.name)
        form.addRow(tr("Folder"), folder)
        form.addRow(tr("Begins as"), self.begins)
        column = QVBoxLayout(self)
        column.addLayout(form)
        column.addWidget(label(tr("A site is one folder. Of a copy, leads and what is live stay "
                                  "behind."), "small", wrap=True))
        column.addWidget(self.said)
        column.addLayout(foot(button(tr("Cancel"), self.reject),
                              button(tr("Make it"), self.make, main=True)))

    def _follow(self, name: str) -> None:
        if not self._own_folder:
            self.where.setText(str(home_of_sites() / slug_for(name)))

    def _take_folder(self, _: str) -> None:
        self._own_folder = True

    def _choose(self) -> None:
        chosen = QFileDialog.getExistingDirectory(self, tr("Folder for the new site"),
                                                  str(Path.home()))
        if chosen:
            self._own_folder = True
            self.where.setText(str(Path(chosen) / (slug_for(self.name.text()) or "site")))

    def _begin_as(self, value: str) -> None:
        """Ask for the package, if the site is to begin with one."""
        if value != FROM_PACKAGE:
            self.package = None
            return
        path, _ = QFileDialog.getOpenFileName(self, tr("Open a page package"), "", PACKAGES)
        if path:
            self.take_package(Path(path))
        elif self.package is None:
            self.begins.show_value("")

    def take_package(self, path: Path) -> None:
        """Begin with the page of this package."""
        self.package = path
        self.begins.show_value(FROM_PACKAGE)
        self.begins.setItemText(self.begins.currentIndex(),
                                tr("The page of “{name}”", name=path.name))

    def make(self) -> None:
        """Make the project, or say why it cannot be."""
        name = " ".join(self.name.text().split())
        folder = Path(self.where.text().strip()).expanduser()
        if not name:
            self.said.setText(tr("Give the site a name."))
            return
        if not self.where.text().strip() or folder == home_of_sites():
            self.said.setText(tr("Choose a folder of its own for the site."))
            return
        try:
            begins = str(self.begins.currentData() or "")
            fresh = starter_site(name, slug_for(name) or "site")
            if begins == FROM_PACKAGE and self.package is None:
                self.said.setText(tr("Choose the package first."))
                return
            if begins == FROM_PACKAGE and self.package is not None:
                site_of_package(fresh, folder, self.package)
            elif begins:
                copy_site(Path(begins), folder, name)
            else:
                site, _ = add_page(fresh, "Home")
                Project.create(folder, site).close()
        except (ProjectError, PackageError, EditError) as error:
            self.said.setText(str(error))
        except OSError as error:
            self.said.setText(tr("{path} cannot be written: {strerror}.", path=folder,
                                 strerror=error.strerror))
        else:
            self.folder = folder
            self.accept()

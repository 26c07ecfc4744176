"""The command line: one command for each way to start Needle."""

import argparse
import json
import os
import sys
import tempfile
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from needle.host.arguments import add_host_arguments

if TYPE_CHECKING:
    from needle.core.site.site import Site
    from needle.core.snags.laid import LaidPage

__all__ = ["main"]


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command that `arguments` (by default the process's own) ask for."""
    asked = _parser().parse_args(arguments)
    if asked.log:  # The processes that this one starts keep to it as well.
        os.environ["NEEDLE_LOG"] = asked.log
    try:
        return int(asked.run(asked))
    except KeyboardInterrupt:
        return 130
    except Exception as error:  # The fence: whatever it is, the person gets words and a log.
        return _unforeseen(error)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="needle", description="Design, build, connect, publish and measure landing pages.")
    parser.add_argument("--log", choices=("debug", "info", "warning", "error"), default="",
                        help="how much the log tells")
    parser.set_defaults(run=_desk)
    commands = parser.add_subparsers(metavar="COMMAND", title="commands",
                                     description="without one, all your sites are shown")

    demo = commands.add_parser("demo", help="open a fresh copy of the demo project")
    demo.add_argument("--make", metavar="DIR", type=Path, help="only write the copy, no window")
    demo.set_defaults(run=_demo)

    new = commands.add_parser("new", help="make an empty project and open it")
    new.add_argument("project", type=Path)
    new.add_argument("--name", default="")
    new.set_defaults(run=_new)

    draft = commands.add_parser("draft", help="make a project with a first draft, no window")
    draft.add_argument("project", type=Path)
    draft.add_argument("idea", help="what it is and for whom, in a sentence or two")
    draft.add_argument("--seed", type=int, default=0, help="another number, another draft")
    draft.set_defaults(run=_draft)

    open_ = commands.add_parser("open", help="open a project")
    open_.add_argument("project", type=Path)
    open_.set_defaults(run=_open)

    publish = commands.add_parser("publish", help="write a project's site to a folder, no window")
    publish.add_argument("project", type=Path)
    publish.add_argument("--to", metavar="DIR", type=Path, required=True)
    publish.add_argument("--with-host", action="store_true",
                         help="a Needle host will serve /_needle/ beside the files: count visits")
    publish.set_defaults(run=_publish)

    release = commands.add_parser(
        "release", help="send what changed, no window; or list, or put back")
    release.add_argument("project", type=Path)
    release.add_argument("--to", metavar="TARGET", default="test",
                         help="a target of the site by its name, a folder, a .zip file, or test")
    release.add_argument("--name", default="", help="what the release is called")
    release.add_argument("--list", action="store_true", help="list the releases, the last first")
    release.add_argument("--back", metavar="N", type=int, help="bring back number N of the list")
    release.set_defaults(run=_release)

    check = commands.add_parser("check", help="print what is wrong with a project, worst first")
    check.add_argument("project", type=Path, nargs="?")
    check.add_argument("--json", action="store_true")
    check.add_argument("--quick", action="store_true",
                       help="do not lay the pages out to see what fits and can be read")
    check.add_argument("--links", action="store_true",
                       help="ask whether outside links still lead somewhere")
    check.add_argument("--rules", action="store_true", help="print every rule, one a line")
    check.set_defaults(run=_check)

    host = commands.add_parser("host", help="serve a project's live pages")
    add_host_arguments(host)
    host.set_defaults(run=_host)

    results = commands.add_parser(
        "results", help="say where the results are, or move them to another database")
    results.add_argument("project", type=Path)
    results.add_argument("--move-to", metavar="ADDRESS",
                         help="of an empty PostgreSQL database; 'file' for the one in the project")
    results.set_defaults(run=_results)

    repair = commands.add_parser("repair", help="keep both of two things that have one id")
    repair.add_argument("project", type=Path)
    repair.set_defaults(run=_repair)

    code = commands.add_parser("code", help="list the outside code that waits to be allowed")
    code.add_argument("project", type=Path)
    code.add_argument("--allow", action="store_true", help="allow all of it")
    code.set_defaults(run=_code)

    schema = commands.add_parser("schema", help="print the JSON Schema of project files")
    schema.set_defaults(run=_schema)

    shots = commands.add_parser("shots", help="make docs/screenshots afresh from the demo")
    shots.add_argument("--to", metavar="DIR", type=Path, default=Path("docs/screenshots"))
    shots.set_defaults(run=_shots)
    return parser


def _unheard() -> int:
    """End quietly: whoever read what is printed, like `head`, has had enough of it."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 141  # As a shell tells of SIGPIPE.


def _unforeseen(error: Exception) -> int:
    if isinstance(error, BrokenPipeError):
        return _unheard()
    import logging

    from needle.store.logs import log_file, set_up_log

    set_up_log("command")
    logging.getLogger(__name__).error("a command ended in a fault", exc_info=error)
    print(f"Something went wrong in Needle itself ({type(error).__name__}: {error}).\n"
          f"Nothing that was saved is changed. The log tells more: {log_file('command')}",
          file=sys.stderr)
    return 3


def _fail(error: Exception) -> int:
    print(error, file=sys.stderr)
    return 2


# Each command imports what it needs when it runs: writing a site needs no Qt, and the
# window should not wait for what it does not use.


def _desk(_: argparse.Namespace) -> int:
    from needle.app import run_desk

    return run_desk()


def _demo(asked: argparse.Namespace) -> int:
    from needle.demo.make import make_demo
    from needle.store.project import ProjectError

    if asked.make is not None:
        try:
            make_demo(asked.make).close()
        except ProjectError as error:
            return _fail(error)
        print(f"The demo is in {asked.make}")
        return 0
    from needle.app import run_window
    from needle.store.sites import DEMO_FOLDER

    folder = Path(tempfile.mkdtemp(prefix=DEMO_FOLDER)) / "quillmoor"
    print(f"A fresh copy of the demo: {folder}\nOpen it again with: ./needle open {folder}",
          flush=True)
    return run_window(lambda: make_demo(folder))


def _new(asked: argparse.Namespace) -> int:
    from needle.app import run_window
    from needle.core.edit.pages import add_page, slug_for
    from needle.core.site.starter import starter_site
    from needle.store.project import Project

    name = asked.name or asked.project.name
    site, _ = add_page(starter_site(name, slug_for(name) or "site"), "Home")
    return run_window(lambda: Project.create(asked.project, site))


def _draft(asked: argparse.Namespace) -> int:
    from needle.core.draft.copy import Wish
    from needle.core.draft.drafter import Drafter
    from needle.core.draft.drafting import Picks, draft_site
    from needle.core.draft.looks import look_choices
    from needle.core.edit.invented import placeholders
    from needle.core.edit.pages import slug_for
    from needle.core.site.starter import starter_site
    from needle.core.values.brief import Brief
    from needle.core.values.ids import new_id
    from needle.store.files import write_atomically
    from needle.store.project import Project, ProjectError

    drafter = Drafter()
    slots = drafter.understand(asked.idea)
    if not slots.idea:
        return _fail(ValueError("There are no words in this idea. Say what it is and for whom."))
    copy = drafter.write(Wish(slots, Brief(), asked.seed))
    name = copy.names[0]
    done = draft_site(starter_site(name, slug_for(name) or "site"), slots, copy,
                      look_choices(slots, name, asked.seed), Picks(name), new_id, replacing=True)
    try:
        Project.create(asked.project, done.site).close()
        for file, data in done.files.items():
            write_atomically(asked.project / "media" / file, data)
    except (ProjectError, OSError) as error:
        return _fail(error)
    count = sum(1 for _ in placeholders(done.site))
    print(f"“{done.site.name}” is in {asked.project}: {len(done.site.pages)} pages, "
          f"{count} placeholders to confirm.")
    return 0


def _open(asked: argparse.Namespace) -> int:
    from needle.app import run_window
    from needle.store.project import Project

    return run_window(lambda: Project(asked.project))


def _publish(asked: argparse.Namespace) -> int:
    from needle.core.edit.invented import placeholders
    from needle.publish.folder import publish_folder
    from needle.publish.refusing import PublishError
    from needle.store.project import ProjectError, read_site
    from needle.store.trust import waiting_codes

    try:
        site = read_site(asked.project)
        pages = publish_folder(site, asked.project, asked.to, counted=asked.with_host)
    except (ProjectError, PublishError) as error:
        return _fail(error)
    print(f"{len(pages)} pages written to {asked.to}")
    if waiting := waiting_codes(site):
        print(f"{len(waiting)} pieces of outside code were left out, since you have not allowed "
              f"them. ./needle code {asked.project} lists them.")
    if left := sum(1 for _ in placeholders(site)):
        print(f"{left} placeholders are left on them. ./needle check {asked.project} lists them.")
    if site.forms and not asked.with_host:
        print("Their forms post to /_needle/ beside the pages: let a Needle host answer there.")
    return 0


def _release(asked: argparse.Namespace) -> int:
    from needle.publish.commandline import list_releases, put_back, release
    from needle.publish.refusing import PublishError
    from needle.store.project import ProjectError

    try:
        if asked.list:
            lines = list(list_releases(asked.project))
        elif asked.back is not None:
            lines = list(put_back(asked.project, asked.back))
        else:
            lines = list(release(asked.project, asked.to, asked.name))
    except (ProjectError, PublishError) as error:
        return _fail(error)
    for line in lines:
        print(line)
    return 0


def _check(asked: argparse.Namespace) -> int:
    from dataclasses import asdict

    from needle.core.snags.beyond import LinkAnswer, outside_addresses
    from needle.core.snags.finding import RULES, find_snags
    from needle.core.snags.passing import sorted_out
    from needle.core.values.counting import counted
    from needle.publish.beyond import beyond_of
    from needle.services.links import ask_links
    from needle.store.project import ProjectError, read_site

    if asked.rules:
        return _print_rules(asked.json)
    if asked.project is None:
        print("Name the folder of a project, or ask for --rules.", file=sys.stderr)
        return 2
    try:
        site = read_site(asked.project)
    except ProjectError as error:
        return _fail(error)
    laid, failed = ([], 0) if asked.quick else _laid_out(site, asked.project)
    answers: dict[str, LinkAnswer] = {}
    if asked.links:
        ask_links(outside_addresses(site), lambda address, answer: (
            answers.update({address: answer}), True)[1])
    snags, passed = sorted_out(site, find_snags(
        site, laid, beyond_of(asked.project, site, answers, [page.id for page in site.pages])))
    if asked.json:
        print(json.dumps([asdict(snag) | {"passed": word} | {
            name: getattr(RULES[snag.rule], name) for name in ("reason", "source")}
            for snag, word in [*((snag, "") for snag in snags),
                               *((snag, one.reason) for one, snag in passed)]],
                         indent=1, ensure_ascii=False))
    for number, snag in enumerate(snags if not asked.json else (), 1):
        print(f"{number:3}  {snag.words}  ({snag.where})")
    if not snags and not asked.json:
        print("No snags.")
    if passed and not asked.json:
        print(f"{counted(len(passed), 'snag')} let pass.")
    if failed:
        print(f"{failed} pages could not be laid out, so what fits on them is not known.",
              file=sys.stderr)
    return int(any(snag.weight == 1 for snag in snags))


def _print_rules(as_json: bool) -> int:
    from needle.core.snags.finding import RULES

    rows = [rule.told() for rule in sorted(RULES.values(), key=lambda rule: rule.id)]
    if as_json:
        print(json.dumps(rows, indent=1, ensure_ascii=False))
    for row in rows if not as_json else ():
        mends = "  (mends itself)" if row["mends"] else ""
        print(f"{row['id']:26} {row['weight']}  {row['scope']:9}  {row['reason']}  "
              f"[{row['source']}]{mends}")
    return 0


def _laid_out(site: "Site", folder: Path) -> tuple[list["LaidPage"], int]:
    from needle.windowless import measure_site

    def told(left: int) -> None:
        if sys.stderr.isatty():
            print(f"\r{left} pages still to be laid out   ", end="" if left else "\n",
                  file=sys.stderr, flush=True)

    return measure_site(site, folder, told)


def _host(asked: argparse.Namespace) -> int:
    from needle.host.__main__ import run_host, setting_of
    from needle.host.setting import SettingError
    from needle.store.project import ProjectError, read_site

    try:
        site = read_site(asked.project)
        setting = setting_of(asked)
    except (ProjectError, SettingError) as error:
        return _fail(error)
    print(f"Serving http://{site.address}.localhost:{asked.port}/ (Ctrl+C ends it)", flush=True)
    return run_host(asked.project, asked.port, watched=False, database=asked.database,
                    setting=setting)


def _results(asked: argparse.Namespace) -> int:
    from sqlalchemy.exc import SQLAlchemyError

    from needle.store.project import ProjectError, read_site
    from needle.store.results.moving import move_results
    from needle.store.results.place import database_of, hidden, remember_database

    try:
        read_site(asked.project)
    except ProjectError as error:
        return _fail(error)
    here = database_of(asked.project)
    if asked.move_to is None:
        print(f"The results are in {hidden(here)}.")
        return 0
    to = "" if asked.move_to == "file" else asked.move_to
    there = to or asked.project / "results.db"
    if str(there) == str(here):
        return _fail(ValueError("The results are there already."))
    try:
        count = move_results(asked.project, here, there)
        remember_database(asked.project, to)
    except SQLAlchemyError as error:
        return _fail(ValueError(f"Nothing was moved. {hidden(str(error).splitlines()[0])}"))
    print(f"{count:,} rows are in {hidden(there)} now, and window and hosts use it from their next "
          f"start on. What is in {hidden(here)} was left as it is.")
    return 0


def _repair(asked: argparse.Namespace) -> int:
    from needle.store.project import ProjectError
    from needle.store.repairing import repair_project

    try:
        count = repair_project(asked.project)
    except ProjectError as error:
        return _fail(error)
    print(f"{count} ids stood twice; every second one has an id of its own now. The files as they "
          f"were are in {asked.project / 'versions'}." if count else "No id stands twice.")
    return 0


def _code(asked: argparse.Namespace) -> int:
    from needle.store.project import ProjectError, read_site
    from needle.store.trust import allow, waiting_codes

    try:
        waiting = waiting_codes(read_site(asked.project))
    except ProjectError as error:
        return _fail(error)
    for code in waiting:
        print(f"{code.where}\n    {' '.join(code.code.split())[:200]}")
    if asked.allow:
        allow(waiting)
    print(f"{len(waiting)} pieces of code {'are allowed now' if asked.allow else 'wait'}.")
    return 0


def _schema(_: argparse.Namespace) -> int:
    from needle.store.project import json_schema

    print(json.dumps(json_schema(), indent=1, sort_keys=True))
    return 0


def _shots(asked: argparse.Namespace) -> int:
    from needle.demo.shots import make_shots

    return make_shots(asked.to)


if __name__ == "__main__":
    sys.exit(main())

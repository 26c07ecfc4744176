"""How a host is told on the command line what it shall do."""

import argparse
from pathlib import Path

__all__ = ["add_host_arguments"]


def add_host_arguments(parser: argparse.ArgumentParser) -> None:
    """Add everything that a host can be told."""
    parser.add_argument("project", type=Path)
    for name, words in (("--public", "where visitors reach it, like https://www.hill.example"),
                        ("--database", "a SQLAlchemy address; by default the project's")):
        parser.add_argument(name, default="", metavar="ADDRESS", help=words)
    parser.add_argument("--port", type=int, default=8420)
    parser.add_argument("--behind", action="append", default=[], metavar="PROXY",
                        help="a proxy (address or network) whose word about visitors is taken")
    parser.add_argument("--certificate", type=Path, metavar="FILE", help="for https, with --key")
    parser.add_argument("--key", type=Path, metavar="FILE")
    parser.add_argument("--tls-port", type=int, metavar="PORT",
                        help="serve the own domain over https there")
    parser.add_argument("--authority", default="", metavar="ADDRESS",
                        help="get and renew its certificate from this ACME directory, whose "
                             "terms you agree to")

"""`./run backup FILE` and `./run restore FILE`: the whole yard, out and in."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

import psycopg

from stirrup.store.backup import BackupError, back_up, bring_back
from stirrup.store.cluster import Cluster, ClusterError, data_folder, ensure_database


def _arguments(argv: list[str] | None) -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="./run")
    ways = parser.add_subparsers(dest="way", required=True)
    for name, told in (("backup", "write the yard into FILE"), ("restore", "bring the yard back")):
        way = ways.add_parser(name, help=told)
        way.add_argument("file", type=Path, metavar="FILE")
        way.add_argument("--demo", action="store_true", help="the demo's yard")
    ways.choices["restore"].add_argument(
        "--over", action="store_true", help="put a yard that is there aside and take its place"
    )
    return parser.parse_args(argv)


def _backup(file: Path, folder: Path) -> str:
    given = os.environ.get("STIRRUP_DATABASE_URL")
    if given:
        return f"{back_up(given, file)}"
    if not (folder / "cluster" / "postgres").exists():
        raise BackupError(f"there is no yard in {folder}")
    cluster = Cluster(folder / "cluster")
    try:
        # joins the running server, or starts it for as long as this takes
        url = ensure_database(cluster, cluster.start(), "stirrup")
        return f"{back_up(url, file)}"
    finally:
        cluster.stop()


def main(argv: list[str] | None = None) -> int:
    """Back up or restore; returns the exit code."""
    args = _arguments(argv)
    folder = data_folder()
    if args.demo and "STIRRUP_DATA" not in os.environ:
        folder = folder / "demo"
    try:
        if args.way == "backup":
            print(f"{args.file}: {_backup(args.file, folder)}.")
            return 0
        if os.environ.get("STIRRUP_DATABASE_URL"):
            raise BackupError(
                "restore makes a private database; for a server of your own use pg_restore with the "
                "file database.dump in the backup"
            )
        counted, aside = bring_back(args.file, folder, args.over)
        print(f"Brought back: {counted}." + (f" What was there is now {aside}." if aside else ""))
        return 0
    except (BackupError, ClusterError, psycopg.Error) as error:
        print(f"Stirrup: {str(error).strip()}", file=sys.stderr)
        return 1


if __name__ == "__main__":
    sys.exit(main())

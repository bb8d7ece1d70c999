"""``python -m leadline``: serve, load the demo parts, build without a server."""

from __future__ import annotations

import json
import logging
import sys
from dataclasses import replace
from pathlib import Path

import click

from leadline.core.problems import MessageShown
from leadline.limits import COARSEST_ANGLE, COARSEST_CHORD, FINEST_ANGLE, FINEST_CHORD


@click.group()
def main() -> None:
    """Constrained sketches swept into exact solids."""


def said(message: MessageShown) -> str:
    """A message in one line."""
    return f"{message['text']} {message['way_out']}".rstrip()


@main.command()
def serve() -> None:
    """Serve the application on loopback, with the settings of the environment."""
    from leadline.server.serving import Serving
    from leadline.server.settings import Settings

    logging.basicConfig(level=logging.INFO, format="%(asctime)s %(levelname)s %(name)s %(message)s")
    Serving(Settings.from_environment()).run()


@main.command()
@click.option(
    "--at-once",
    type=click.IntRange(1),
    help="Jobs at a time, of which each has a core; as many as there are, if not said.",
)
def work(at_once: int | None) -> None:
    """Take jobs from the database of the environment until it is told to end."""
    from leadline.server.jobs import work
    from leadline.server.settings import Settings

    logging.basicConfig(level=logging.INFO, format="%(asctime)s %(levelname)s %(name)s %(message)s")
    settings = Settings.from_environment()
    work(replace(settings, builders=at_once or settings.builders))


@main.command()
@click.argument("part", type=click.Path(path_type=Path))
@click.option("--out", type=click.Path(path_type=Path, file_okay=False), required=True, help="Folder for the files.")
@click.option(
    "--chord",
    type=click.FloatRange(FINEST_CHORD, COARSEST_CHORD),
    help="How far triangles of mesh files may be from the surface, mm; as displayed, if neither is said.",
)
@click.option(
    "--angle", type=click.FloatRange(FINEST_ANGLE, COARSEST_ANGLE), help="The angle between two of them, degrees."
)
def build(part: Path, out: Path, chord: float | None, angle: float | None) -> None:
    """Build PART (a part file) without server or database; write STEP, GLB, STL and report.json to OUT."""
    from threadpoolctl import threadpool_limits

    from leadline.exports.files import build_file
    from leadline.exports.meshing import fineness_of

    logging.basicConfig(
        handlers=[logging.FileHandler(out / "build.log", delay=True)],
        format="%(asctime)s %(levelname)s %(name)s %(message)s",
    )
    threadpool_limits(1)
    try:
        result = build_file(part, out, fineness_of(chord, angle))
    except OSError as error:
        raise click.ClickException(f"{error.filename}: {error.strerror}") from None
    failed = False
    for report in result.reports.values():
        click.echo(f"{report.state:8} {report.id:12} {report.figure}")
        for message in report.messages:
            click.echo(f"         {message.level}: {said(message.as_dict(result.units))}")
        failed = failed or report.state == "failed"
    for message in result.messages:
        click.echo(f"{message.level}: {said(message.as_dict(result.units))}")
    click.echo(f"{len(result.bodies)} bodies, files in {out}")
    sys.exit(1 if failed or result.messages else 0)


@main.command()
def describe() -> None:
    """Print what the front end and the documents are generated from: the OpenAPI document, what the steps of each kind
    have in them, the formats that bodies are saved in, the JSON Schema of the part file.
    """
    from leadline.server.api import blueprint

    blueprint.described = True
    from leadline.exports.formats import described_formats
    from leadline.recipe.part import part_schema
    from leadline.recipe.registry import described_kinds
    from leadline.server.app import openapi_document

    click.echo(
        json.dumps(
            {
                "openapi": openapi_document(),
                "kinds": described_kinds(),
                "formats": described_formats(),
                "schema": part_schema(),
            }
        )
    )


if __name__ == "__main__":
    main()

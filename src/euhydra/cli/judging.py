"""Commands that judge a garden: `euhydra answers`, and `euhydra cure`."""

from datetime import datetime
from functools import partial
from pathlib import Path

import click

from euhydra.cli import options, reading
from euhydra.formats import answers_json
from euhydra.garden import changes, document
from euhydra.planner import chain
from euhydra.planner.judgement import assumed, trying
from euhydra.planner.judgement.answer import Judgement, judge
from euhydra.planner.judgement.finding import STATIONS, Finding
from euhydra.planner.judgement.keep_findings import with_log
from euhydra.web.answers_file import answers_of

STATION = click.option("--station", type=click.Choice(STATIONS), help="One station only.")


@click.command()
@click.argument("garden_file", metavar="GARDEN.json", type=click.Path(path_type=Path))
@options.WEATHER
@options.UNITS
@options.FILL
@STATION
@click.option("--cures/--no-cures", default=True, help="Whether cures are sought too.")
@click.option(
    "--log", "log_file", type=options.LOG_FILE, help="The log as CSV: Keep tells what it shows."
)
@options.UNTIL
@options.AS_JSON
def answers(
    garden_file: Path,
    weather_file: Path,
    units: tuple[str, ...],
    fill_gaps: bool,
    station: str | None,
    cures: bool,
    log_file: Path | None,
    until: datetime | None,
    as_json: bool,
) -> None:
    """How every station stands, what is wrong, and the cures that were tried."""
    judged = _judged(garden_file, weather_file, units, fill_gaps)
    if log_file is not None:
        log = reading.log(log_file, judged.chain.garden)
        judged = with_log(judged, log, reading.last_day(log, until))
    weighed = assumed.weighed(judged) if cures and station is None else ()
    sought = partial(trying.cures_of, judged) if cures else None
    found = answers_of(judged, station, sought, weighed)
    if as_json:
        click.echo(answers_json.write(found), nl=False)
        return
    for key, each in found.stations.items():
        click.echo(f"{key}: {each.mark}. {each.summary}")
        for finding in each.findings:
            click.echo(f"  {finding.severity} ({finding.code}): {finding.text}")
            for number, cure in enumerate(finding.cures, 1):
                click.echo(f"    {number}. {cure.text} {cure.outcome}")


@click.command()
@click.argument("garden_file", metavar="GARDEN.json", type=click.Path(path_type=Path))
@options.WEATHER
@options.UNITS
@options.FILL
@click.option("--station", type=click.Choice(STATIONS), required=True)
@click.option("--finding", "code", required=True, help="Its code, as answers prints it.")
@click.option("--cure", "number", default=1, show_default=True, type=click.IntRange(1, 9))
def cure(
    garden_file: Path,
    weather_file: Path,
    units: tuple[str, ...],
    fill_gaps: bool,
    station: str,
    code: str,
    number: int,
) -> None:
    """The garden with one of a finding's cures done to it."""
    judged = _judged(garden_file, weather_file, units, fill_gaps)
    finding = _finding(judged, station, code)
    found = list(trying.cures_of(judged, finding, most=number))
    if len(found) < number:
        raise click.ClickException(f"{code} has {len(found)} cures, and no number {number}.")
    cured = changes.done_to(judged.chain.garden, found[-1].edits)
    click.echo(document.dumps(cured), nl=False)


def _judged(
    garden_file: Path, weather_file: Path, units: tuple[str, ...], fill_gaps: bool
) -> Judgement:
    garden = reading.garden(garden_file)
    record = reading.record(weather_file, units, fill_gaps)
    return judge(chain.run_chain(garden, record))


def _finding(judged: Judgement, station: str, code: str) -> Finding:
    here = judged.at(station)
    found = next((each for each in here if each.code == code), None)
    if found is None:
        known = ", ".join(dict.fromkeys(each.code for each in here)) or "nothing"
        raise click.ClickException(f"{station} does not find {code}; it finds {known}.")
    return found

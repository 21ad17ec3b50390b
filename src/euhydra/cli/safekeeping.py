"""What keeps a data folder safe: its passphrase, its backups."""

from pathlib import Path

import click

from euhydra.cli import options, printing
from euhydra.records import backup as backups
from euhydra.records import database
from euhydra.records import passphrase as passphrases
from euhydra.records.database import DatabaseError


@click.command()
@options.DATA
@click.password_option(
    "--phrase", prompt="Passphrase for the home network", help="Asked for if not given."
)
def passphrase(data: Path, phrase: str) -> None:
    """Choose the passphrase that stands before your gardens on the home network."""
    try:
        passphrases.put(data, phrase)
    except (passphrases.PassphraseError, OSError) as error:
        raise click.ClickException(str(error)) from None
    click.echo("Kept, as a hash; every session has ended. Serve with: euhydra serve --home-network")
    click.echo(
        "The home network carries it unsealed, readable to who listens there, unless you give "
        "--certificate and --key."
    )


@click.command()
@options.DATA
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
def backup(data: Path, file: Path) -> None:
    """Save everything in a data folder as one FILE."""
    try:
        made = backups.make(database.prepare(data).parent, file)
    except (DatabaseError, OSError) as error:
        raise click.ClickException(str(error)) from None
    click.echo(f"{file}: {printing.contents(made)}.")


@click.command()
@options.DATA
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False, exists=True))
@click.option("--yes", is_flag=True, help="Do not ask.")
def restore(data: Path, file: Path, yes: bool) -> None:
    """Put a backup FILE in the place of everything in a data folder, once it has proved itself."""
    try:
        found = backups.check(file)
        click.echo(f"{file}, of {found.made_at}: {printing.contents(found)}. It is whole.")
        if not yes:
            click.confirm(f"Replace everything in {data} by it?", abort=True)
        backups.restore(data, file)
    except (backups.BackupError, DatabaseError, OSError) as error:
        raise click.ClickException(f"{error} Nothing was changed.") from None
    click.echo(f"Restored. What was there before is kept in {data / 'backups'}.")

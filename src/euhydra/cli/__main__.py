"""`python -m euhydra.cli`."""

from euhydra.cli.commands import main

main()

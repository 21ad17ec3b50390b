"""`python -m euhydra.cli`."""

from euhydra.cli.start import main

main()

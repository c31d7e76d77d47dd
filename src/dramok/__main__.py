"""`python -m dramok` is the command line."""

from dramok.cli import main

main()
